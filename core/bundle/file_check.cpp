#include "bundle/file_check.h"

#include "base/files.h"
#include "bundle/read_bundle.h"
#include "bundle/test_moments.h"

#include <algorithm>

namespace ripple::bundle {

void checkFiles(const std::filesystem::path& directory, const std::vector<FileEntry>& files,
                CheckReport& report) {
    for (const FileEntry& file : files) {
        try {
            const auto path = directory / std::filesystem::path(file.file).filename();
            const std::string digest = base::sha256OfFile(path);
            std::error_code error;
            const std::size_t bytes = std::filesystem::file_size(path, error);
            report.fileBytes += bytes;
            if (bytes != file.bytes || digest != file.sha256) {
                report.problems.push_back(
                    {file.file, "is no longer what was written: its bytes differ from the manifest",
                     "write the bundle again, and keep other programs from saving over it"});
            }
        } catch (const base::Failure& failure) {
            report.problems.push_back(failure.problem());
        }
    }
}

void checkTestFile(const std::filesystem::path& directory, const ManifestHead& head, const TestVector& own,
                   double size, CheckReport& report) {
    const std::string file = testFileOf(head.name);
    const bool listed =
        std::ranges::any_of(head.files, [&](const FileEntry& entry) { return entry.file == file; });
    if (!listed) {
        return; // of an older version
    }
    const base::Bytes bytes = base::readFile(insideBundle(directory, file));
    const TestVector stated = parseTest(std::string(base::asText(bytes)), file);
    const double unit = head.target.metresPerUnit;
    const ClientCheck check = compareClient(inMetres(own, unit), inMetres(stated, unit), size, {}, 0);
    for (const base::Problem& problem : check.problems) {
        report.problems.push_back({file, problem.what, "write the bundle again"});
    }
}

} // namespace ripple::bundle
