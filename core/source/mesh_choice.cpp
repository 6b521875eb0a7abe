#include "source/mesh_choice.h"

namespace ripple::source {

bool MeshChoice::takes(const std::string& name, const std::string& other) {
    bool taken = wanted_.empty();
    for (const std::string& candidate : {name, other}) {
        if (wanted_.contains(candidate)) {
            met_.insert(candidate);
            taken = true;
        }
    }
    return taken;
}

void MeshChoice::requireAllFound(std::span<const MeshEntry> entries, const std::string& file) const {
    for (const std::string& name : wanted_) {
        if (met_.contains(name)) {
            continue;
        }
        std::string names;
        for (const MeshEntry& entry : entries) {
            names += (names.empty() ? "" : ", ") + entry.name;
        }
        base::fail(file, "has no mesh called \"" + name + "\"",
                   names.empty() ? "it has no meshes" : "it has: " + names);
    }
}

} // namespace ripple::source
