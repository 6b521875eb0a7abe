#include "bundle/whole_folder.h"

#include "base/problem.h"

#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <system_error>

#include <fcntl.h>
#include <sys/stat.h>

namespace ripple::bundle {

namespace {

std::string reason() {
    return std::generic_category().message(errno);
}

constexpr const char* kAdvice = "check that the folder above it may be written to and is on a disk with room";

/// "out/awning/" and "out/awning" both mean the folder awning.
std::filesystem::path plain(const std::filesystem::path& path) {
    const std::filesystem::path whole = std::filesystem::absolute(path).lexically_normal();
    return whole.has_filename() ? whole : whole.parent_path();
}

} // namespace

WholeFolder::WholeFolder(const std::filesystem::path& target,
                         const std::function<bool(const std::filesystem::path&)>& mayReplace)
    : target_(plain(target)) {
    std::error_code error;
    if (std::filesystem::exists(target_, error) && !mayReplace(target_)) {
        base::fail(target_.string(), "exists already and is not a bundle",
                   "choose another folder; this one is left as it is");
    }
    std::filesystem::create_directories(target_.parent_path(), error);
    std::string name = (target_.parent_path() / ("." + target_.filename().string() + ".XXXXXX")).string();
    if (error || !mkdtemp(name.data())) {
        base::fail(target_.string(), "cannot be written (" + (error ? error.message() : reason()) + ")",
                   kAdvice);
    }
    staging_ = name;
    chmod(staging_.c_str(), 0755); // mkdtemp's 0700 would keep a build server's other users out
}

WholeFolder::~WholeFolder() {
    std::error_code ignored;
    if (!staging_.empty()) {
        std::filesystem::remove_all(staging_, ignored);
    }
}

void WholeFolder::commit() {
    std::error_code error;
    if (std::filesystem::exists(target_, error)) {
        // Exchanging is one step: there is no instant without a whole folder under the name.
        if (renameat2(AT_FDCWD, staging_.c_str(), AT_FDCWD, target_.c_str(), RENAME_EXCHANGE) == 0) {
            return; // staging_ now holds the old one, which the destructor removes
        }
        const std::filesystem::path old = staging_.string() + ".old";
        std::filesystem::rename(target_, old, error);
        if (!error) {
            std::filesystem::rename(staging_, target_, error);
            std::error_code ignored;
            if (error) {
                std::filesystem::rename(old, target_, ignored);
            } else {
                std::filesystem::remove_all(old, ignored);
            }
        }
    } else {
        std::filesystem::rename(staging_, target_, error);
    }
    if (error) {
        base::fail(target_.string(), "cannot be put in place (" + error.message() + ")", kAdvice);
    }
    staging_.clear();
}

} // namespace ripple::bundle
