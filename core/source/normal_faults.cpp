#include "source/normal_faults.h"

#include "base/units.h"

namespace ripple::source {

void reportNormals(const mesh::NormalFaults& faults, const std::string& file, base::Findings& findings) {
    if (faults.missing > 0) {
        findings.push_back(
            {"normals-missing",
             base::Severity::look,
             {file, base::plural(faults.missing, "normal") + " without a direction (of no length)",
              "lighting is wrong there; make them from the triangles, or repair the export"}});
    }
    if (faults.length > 0) {
        findings.push_back({"normals-length",
                            base::Severity::note,
                            {file, base::plural(faults.length, "normal") + " that are not of unit length",
                             "they were made so; the direction stays"}});
    }
}

} // namespace ripple::source
