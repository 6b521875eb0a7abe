#pragma once

#include "base/unfinished.h"

#include <filesystem>
#include <functional>
#include <set>
#include <string>

namespace ripple::bundle {

/// A folder that appears whole or not at all: files are written to path() beside the target, commit() puts it
/// in the target's place in one step. Without commit() everything written disappears again, also when a
/// signal ends the program.
class WholeFolder {
public:
    /// `target` may be a folder that exists or a link to one. `giveUp`: see base::Unfinished. Throws
    /// base::Failure where nothing can be written, or where a file is.
    explicit WholeFolder(const std::filesystem::path& target, std::function<void()> giveUp = {});

    const std::filesystem::path& path() const { return fresh_.path(); }
    /// Where it goes: links are followed.
    const std::filesystem::path& target() const { return target_; }

    /// Entries of the folder that was there which the new one replaces; asked when it is put in place, for
    /// another writer may have put something there since. May throw base::Failure, which ends the commit.
    using Replaced = std::function<std::set<std::string>(const std::filesystem::path& there)>;

    /// Of the folder that was there, the entries that `replaced` names go; all others are kept in the new
    /// one: as the same files (hard links), or as copies where the file system knows no links. Throws
    /// base::Failure, with the old folder as it was, if an entry to be kept is in the way of a new one.
    /// Writers of our own wait for one another here. Returns the path at which the old folder could not be
    /// removed; mostly empty.
    std::filesystem::path commit(const Replaced& replaced);
    std::filesystem::path commit(const std::set<std::string>& replaced = {});

    /// The same where the file system can't exchange folders: the old one is moved aside first. Who dies
    /// between the two steps leaves it there, and the next writer puts it back.
    std::filesystem::path replaceInTwoSteps(const std::set<std::string>& replaced);

private:
    std::filesystem::path target_;
    base::Unfinished fresh_;
};

} // namespace ripple::bundle
