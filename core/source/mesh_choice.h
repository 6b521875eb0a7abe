#pragma once

#include "source/frame_source.h"

#include <set>
#include <span>
#include <string>

namespace ripple::source {

/// Which meshes of a file a person wants, by name; none named: all.
class MeshChoice {
public:
    explicit MeshChoice(std::span<const std::string> wanted) : wanted_(wanted.begin(), wanted.end()) {}

    /// True for a wanted mesh; either name may be meant.
    bool takes(const std::string& name, const std::string& other = {});
    /// Throws base::Failure if a wanted name was never met; says which there are.
    void requireAllFound(std::span<const MeshEntry> entries, const std::string& file) const;

private:
    std::set<std::string> wanted_;
    std::set<std::string> met_;
};

} // namespace ripple::source
