#include "bundle/whole_folder.h"

#include "base/problem.h"

#include <cerrno>
#include <system_error>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

namespace ripple::bundle {

namespace {

namespace fs = std::filesystem;

constexpr const char* kFolderAdvice = "check that the folder above it may be written to and is on a disk with room";

/// Where the old folder stays for an instant on file systems that can't exchange two.
fs::path asideOf(const fs::path& target) {
    return target.parent_path() / ("." + target.filename().string() + ".before");
}

/// Makes the folders above the target, and says so if it is something else than a folder.
fs::path prepared(const fs::path& path) {
    const fs::path target = base::resolved(path);
    std::error_code error;
    if (fs::exists(target, error) && !fs::is_directory(target, error)) {
        base::fail(path.string(), "is a file, not a folder",
                   "choose another name; this one is left as it is");
    }
    fs::create_directories(target.parent_path(), error);
    if (!error && !fs::exists(target) && fs::exists(asideOf(target))) {
        fs::rename(asideOf(target), target, error); // a writer died between its two steps
    }
    if (error) {
        base::fail(path.string(), "cannot be written (" + error.message() + ")", kFolderAdvice);
    }
    return target;
}

/// While it is there, no other writer of ours puts a folder in place beside `target`; what it keeps of the
/// folder before would else be another's. File systems that know no locks go without.
class MyTurn {
public:
    explicit MyTurn(const fs::path& target)
        : folder_(::open(target.parent_path().c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC)) {
        while (folder_ >= 0 && ::flock(folder_, LOCK_EX) != 0 && errno == EINTR) {
        }
    }
    ~MyTurn() {
        if (folder_ >= 0) {
            ::close(folder_); // and the lock goes with it
        }
    }
    MyTurn(const MyTurn&) = delete;
    MyTurn& operator=(const MyTurn&) = delete;

private:
    int folder_;
};

void keepIn(const fs::path& from, const fs::path& to);

/// All entries of a folder that is kept.
void keepFolder(const fs::path& from, const fs::path& to) {
    struct stat state = {};
    if (::mkdir(to.c_str(), 0700) != 0 && errno != EEXIST) {
        throw fs::filesystem_error("mkdir", to, std::error_code(errno, std::generic_category()));
    }
    for (const auto& entry : fs::directory_iterator(from)) {
        keepIn(entry.path(), to / entry.path().filename());
    }
    if (::lstat(from.c_str(), &state) == 0) {
        ::chmod(to.c_str(), state.st_mode & 07777);
        const timespec times[] = {state.st_atim, state.st_mtim};
        ::utimensat(AT_FDCWD, to.c_str(), times, 0);
    }
}

/// The same file under a second name, so that it is never missing while folders are exchanged.
void keepIn(const fs::path& from, const fs::path& to) {
    if (fs::symlink_status(from).type() == fs::file_type::directory) {
        keepFolder(from, to);
        return;
    }
    if (::linkat(AT_FDCWD, from.c_str(), AT_FDCWD, to.c_str(), 0) == 0 || errno == EEXIST) {
        return;
    }
    // File systems without hard links.
    fs::copy(from, to, fs::copy_options::copy_symlinks);
    if (!fs::is_symlink(to)) {
        fs::last_write_time(to, fs::last_write_time(from));
    }
}

/// Keeps all but `replaced`, and what is new under the same name. Says what is in the way if `refuse` is set.
void keepOthers(const fs::path& from, const fs::path& to, const std::set<std::string>& replaced,
                bool refuse) {
    for (const auto& entry : fs::directory_iterator(from)) {
        const fs::path name = entry.path().filename();
        if (replaced.contains(name.string())) {
            continue;
        }
        if (refuse && fs::exists(fs::symlink_status(to / name))) {
            base::fail(entry.path().string(),
                       "is in the way: the bundle needs the name, and did not write it",
                       "move it elsewhere, or choose another folder; nothing was changed");
        }
        keepIn(entry.path(), to / name);
    }
}

} // namespace

fs::path WholeFolder::replaceInTwoSteps(const std::set<std::string>& replaced) {
    const fs::path aside = asideOf(target_);
    std::error_code error;
    fs::rename(target_, aside, error);
    if (!error && fresh_.moveTo(target_) != 0) {
        std::error_code ignored;
        fs::rename(aside, target_, ignored);
        error = std::make_error_code(std::errc::io_error);
    }
    if (error) {
        base::fail(target_.string(), "cannot be put in place (" + error.message() + ")", kFolderAdvice);
    }
    try {
        keepOthers(aside, target_, replaced, false);
    } catch (const fs::filesystem_error&) {
        return aside;
    }
    return base::removeAll(aside) ? fs::path() : aside;
}

WholeFolder::WholeFolder(const fs::path& target, std::function<void()> giveUp)
    : target_(prepared(target)),
      fresh_(target_, base::Unfinished::Kind::folder, std::move(giveUp)) {}

fs::path WholeFolder::commit(const std::set<std::string>& replaced) {
    return commit([&](const fs::path&) { return replaced; });
}

fs::path WholeFolder::commit(const Replaced& replacedIn) {
    const MyTurn turn(target_);
    const auto unable = [this](const std::string& why) {
        base::fail(target_.string(), "cannot be put in place (" + why + ")", kFolderAdvice);
    };
    const auto reason = [](int code) { return std::generic_category().message(code); };
    const std::set<std::string> replaced = replacedIn(target_);
    struct stat old = {};
    if (::stat(target_.c_str(), &old) != 0) {
        if (const int problem = fresh_.moveTo(target_)) {
            unable(reason(problem));
        }
        return {};
    }
    try {
        keepOthers(target_, path(), replaced, true);
        ::chmod(path().c_str(), (old.st_mode & 07777) | S_IRWXU); // who could read it still can
    } catch (const fs::filesystem_error& error) {
        unable(error.path1().filename().string() + ": " + error.code().message());
    }
    // Exchanging is one step: there is no instant without a whole folder under the name.
    const int problem = fresh_.exchangeWith(target_);
    if (problem == EINVAL || problem == ENOSYS) {
        return replaceInTwoSteps(replaced);
    }
    if (problem) {
        unable(reason(problem));
    }
    const fs::path left = path(); // holds the old folder now
    try {
        // What came into it between the two steps above.
        keepOthers(left, target_, replaced, false);
    } catch (const fs::filesystem_error&) {
        return left;
    }
    return fresh_.discard() ? fs::path() : left;
}

} // namespace ripple::bundle
