#pragma once

#include <filesystem>
#include <functional>

namespace ripple::bundle {

/// A folder that appears whole or not at all: files are written to path() beside the target, commit() puts it
/// in the target's place in one step. Without commit() everything written disappears again.
class WholeFolder {
public:
    /// `target` may exist if mayReplace(target) says so. Throws base::Failure where nothing can be written.
    WholeFolder(const std::filesystem::path& target,
                const std::function<bool(const std::filesystem::path&)>& mayReplace);
    ~WholeFolder();
    WholeFolder(const WholeFolder&) = delete;
    WholeFolder& operator=(const WholeFolder&) = delete;

    const std::filesystem::path& path() const { return staging_; }
    const std::filesystem::path& target() const { return target_; }
    void commit();

private:
    std::filesystem::path target_;
    std::filesystem::path staging_;
};

} // namespace ripple::bundle
