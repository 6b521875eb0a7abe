#pragma once

#include "source/companions.h"
#include "source/gltf_library.h"

#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace ripple::source {

/// Answers the library when it asks for the files that a glTF file names, and remembers what it could not
/// give.
class FilesBeside {
public:
    /// The library puts this before names and asks again without it, in the current folder, where nothing of
    /// a source lies.
    static constexpr const char* kBeside = "beside:";

    FilesBeside(const std::filesystem::path& source, bool followOutside)
        : companions_(source, followOutside) {}

    /// Valid as long as this object.
    tinygltf::FsCallbacks callbacks();
    /// After the library gave up: throws base::Failure if it was for a buffer that it could not have, which
    /// it reads before images, with that buffer's name and why.
    void failIfNeeded(const tinygltf::Model& model, const std::string& file) const;
    void report(base::Findings& findings) const { companions_.report(findings); }

private:
    bool read(const std::string& name, std::vector<unsigned char>& out);

    Companions companions_;
    std::vector<std::pair<std::string, std::optional<base::Problem>>> missing_; ///< none: not followed
};

} // namespace ripple::source
