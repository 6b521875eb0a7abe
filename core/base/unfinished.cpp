#include "base/unfinished.h"

#include "base/files.h"
#include "base/interruption.h"
#include "base/problem.h"

#include <cerrno>
#include <cstdio>
#include <random>
#include <string_view>
#include <system_error>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

namespace ripple::base {

namespace {

constexpr std::string_view kMark = ".writing-";
constexpr std::size_t kRandom = 6; // letters behind the mark

/// True for the hidden names that Unfinished gives.
bool isOurs(const std::string& name) {
    const std::size_t mark = name.rfind(kMark);
    return name.size() > 1 && name[0] == '.' && mark != std::string::npos && mark > 1 &&
           name.size() == mark + kMark.size() + kRandom;
}

/// Locked and still the thing at `path`; −1 if another has it, or if no lock can be had there.
int lockOf(const std::filesystem::path& path) {
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NOFOLLOW);
    struct stat held = {};
    struct stat there = {};
    if (file >= 0 && ::flock(file, LOCK_EX | LOCK_NB) == 0 && ::fstat(file, &held) == 0 &&
        ::lstat(path.c_str(), &there) == 0 && held.st_ino == there.st_ino && held.st_dev == there.st_dev) {
        return file;
    }
    if (file >= 0) {
        ::close(file);
    }
    return -1;
}

std::string randomLetters() {
    constexpr char kLetters[] = "abcdefghijklmnopqrstuvwxyz0123456789";
    std::random_device random;
    std::string text;
    for (std::size_t i = 0; i < kRandom; ++i) {
        text += kLetters[random() % (sizeof kLetters - 1)];
    }
    return text;
}

/// New and empty, with the rights that any new file or folder gets. False, with errno, if it can't be made.
bool make(const std::filesystem::path& path, Unfinished::Kind kind) {
    if (kind == Unfinished::Kind::folder) {
        return ::mkdir(path.c_str(), 0777) == 0;
    }
    const int file = ::open(path.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
    return file >= 0 && ::close(file) == 0;
}

/// Gives its owner back the right to empty it. Folders only: a file's rights do not matter for that.
void openUp(const std::filesystem::path& folder) {
    struct stat state = {};
    if (::lstat(folder.c_str(), &state) != 0 || !S_ISDIR(state.st_mode)) {
        return;
    }
    ::chmod(folder.c_str(), (state.st_mode & 07777) | S_IRWXU);
    std::error_code error;
    for (std::filesystem::directory_iterator it(folder, error), end; !error && it != end;
         it.increment(error)) {
        openUp(it->path());
    }
}

} // namespace

bool removeAll(const std::filesystem::path& path) {
    std::error_code error;
    std::filesystem::remove_all(path, error);
    if (error) {
        openUp(path);
        std::filesystem::remove_all(path, error);
    }
    struct stat state = {};
    return ::lstat(path.c_str(), &state) != 0;
}

void removeAbandoned(const std::filesystem::path& folder) {
    std::error_code error;
    for (std::filesystem::directory_iterator it(folder, error), end; !error && it != end;
         it.increment(error)) {
        struct stat state = {};
        if (!isOurs(it->path().filename().string()) || ::lstat(it->path().c_str(), &state) != 0 ||
            state.st_uid != ::geteuid() || !(S_ISDIR(state.st_mode) || S_ISREG(state.st_mode))) {
            continue;
        }
        const int lock = lockOf(it->path());
        if (lock >= 0) {
            removeAll(it->path());
            ::close(lock);
        }
    }
}

Unfinished::Unfinished(const std::filesystem::path& target, Kind kind, std::function<void()> giveUp) {
    const std::filesystem::path folder = target.parent_path();
    removeAbandoned(folder);
    // A sweeper may lock and remove what was just made, before it is locked: then it is made again.
    for (int attempt = 0; attempt < 100 && lock_ < 0; ++attempt) {
        const auto name = "." + target.filename().string() + std::string(kMark) + randomLetters();
        if (!makeUnfinished(
                folder / name, [&] { return make(folder / name, kind); }, giveUp)) {
            if (errno == EEXIST) {
                continue;
            }
            fail(target.string(), "cannot be written (" + std::generic_category().message(errno) + ")",
                 "check that the folder above it exists, may be written to and is on a disk with room");
        }
        path_ = folder / name;
        lock_ = lockOf(path_);
        struct stat state = {};
        if (lock_ < 0 && ::lstat(path_.c_str(), &state) == 0) {
            break; // a file system without locks: nobody sweeps there either
        }
        if (lock_ < 0) {
            forgetUnfinished(path_);
        }
    }
}

int Unfinished::moveTo(const std::filesystem::path& target) {
    int problem = 0;
    whileNothingIsRemoved([&] { problem = ::rename(path_.c_str(), target.c_str()) == 0 ? 0 : errno; });
    if (problem == 0) {
        forgetUnfinished(path_);
        path_.clear();
    }
    return problem;
}

int Unfinished::exchangeWith(const std::filesystem::path& target) {
    int problem = 0;
    whileNothingIsRemoved([&] {
        const int code = ::renameat2(AT_FDCWD, path_.c_str(), AT_FDCWD, target.c_str(), RENAME_EXCHANGE);
        problem = code == 0 ? 0 : errno;
    });
    return problem;
}

bool Unfinished::discard() {
    if (path_.empty()) {
        return true;
    }
    const bool gone = removeAll(path_);
    forgetUnfinished(path_);
    path_.clear();
    return gone;
}

Unfinished::~Unfinished() {
    discard();
    if (lock_ >= 0) {
        ::close(lock_);
    }
}

std::filesystem::path resolved(const std::filesystem::path& path) {
    std::error_code error;
    std::filesystem::path whole = std::filesystem::absolute(path, error).lexically_normal();
    whole = whole.has_filename() ? whole : whole.parent_path();
    // weakly_canonical() stops at a link whose target is not there yet, so that one is followed by hand.
    for (int links = 0; links < 40 && std::filesystem::is_symlink(whole, error); ++links) {
        const std::filesystem::path next = std::filesystem::read_symlink(whole, error);
        whole = (whole.parent_path() / next).lexically_normal();
        whole = whole.has_filename() ? whole : whole.parent_path();
    }
    const std::filesystem::path real = std::filesystem::weakly_canonical(whole, error);
    return error ? whole : real;
}

void replaceFile(const std::filesystem::path& path, std::string_view text) {
    const std::filesystem::path target = resolved(path);
    const char* advice = "check that the folder exists, may be written to and is on a disk with room";
    std::error_code error;
    if (std::filesystem::is_directory(target, error)) {
        fail(path.string(), "is a folder", "choose another name");
    }
    if (std::filesystem::exists(target, error) && !std::filesystem::is_regular_file(target, error)) {
        writeFile(target, text); // a device or pipe is written to, never replaced
        return;
    }
    Unfinished fresh(target, Unfinished::Kind::file);
    try {
        writeFile(fresh.path(), text);
    } catch (const Failure& failure) {
        fail(path.string(), failure.problem().what, failure.problem().fix); // not under its hidden name
    }
    struct stat before = {};
    if (::stat(target.c_str(), &before) == 0) {
        ::chmod(fresh.path().c_str(), before.st_mode & 07777); // keeps the rights that it had
    }
    const int file = ::open(fresh.path().c_str(), O_RDONLY | O_CLOEXEC);
    const bool flushed = file >= 0 && ::fsync(file) == 0;
    const std::string why = std::generic_category().message(errno);
    if (file >= 0) {
        ::close(file);
    }
    if (!flushed) {
        fail(path.string(), "could not be written whole (" + why + ")", advice);
    }
    if (const int problem = fresh.moveTo(target)) {
        fail(path.string(), "cannot be replaced (" + std::generic_category().message(problem) + ")",
             "save it under another name");
    }
}

} // namespace ripple::base
