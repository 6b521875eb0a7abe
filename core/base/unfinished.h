#pragma once

#include <filesystem>
#include <functional>
#include <string>

namespace ripple::base {

/// A file or folder that is being written beside its place, under a hidden name of its own. Whoever dies
/// while writing leaves it behind; it is locked as long as its writer lives, so that a later writer can tell
/// and remove it. Signals that end a program remove it too (interruption.h).
class Unfinished {
public:
    enum class Kind { file, folder };

    /// An empty file or folder in the folder of `target`, named ".TARGET.writing-XXXXXX". First removes what
    /// dead writers left in that folder. `giveUp` is called from another thread when a signal asks the
    /// program to end: it should make the writer stop soon. Throws Failure where nothing can be written.
    Unfinished(const std::filesystem::path& target, Kind kind, std::function<void()> giveUp = {});
    /// Removes what is still at path().
    ~Unfinished();
    Unfinished(const Unfinished&) = delete;
    Unfinished& operator=(const Unfinished&) = delete;

    const std::filesystem::path& path() const { return path_; }
    /// Puts it in the place of `target` in one step; path() is then gone. Returns errno, 0 if it was done.
    int moveTo(const std::filesystem::path& target);
    /// Exchanges it with `target` in one step: path() then holds what was there. Returns errno, EINVAL where
    /// the file system cannot.
    int exchangeWith(const std::filesystem::path& target);
    /// Removes what is at path() now, also where its folders may not be written to. False if it is still
    /// there.
    bool discard();

private:
    std::filesystem::path path_;
    int lock_ = -1;
};

/// Removes the unfinished files and folders in `folder` whose writers are dead. A lock tells, never an age.
void removeAbandoned(const std::filesystem::path& folder);

/// Removes a file, or a folder with all that is in it, also where its folders may not be written to, if they
/// are ours. Links are removed, never followed. False if something is still there.
bool removeAll(const std::filesystem::path& path);

/// The file as a whole or not at all: written beside it, flushed to the disk, then renamed over it. What
/// `path` links to is replaced, not the link. Throws Failure with the path and the system's reason.
void replaceFile(const std::filesystem::path& path, std::string_view text);

/// Where `path` leads: absolute, links followed as far as they exist, without "." and "..". Reads nothing
/// else.
std::filesystem::path resolved(const std::filesystem::path& path);

} // namespace ripple::base
