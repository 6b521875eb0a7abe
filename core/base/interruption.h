#pragma once

#include <filesystem>
#include <functional>

namespace ripple::base {

/// From here on SIGINT, SIGTERM and SIGHUP first let unfinished files and folders be removed: their writers
/// are asked to give up and get two seconds for it, then what is left is removed from under them; then the
/// signal does what it does by default, so that the exit status tells of it. A second signal does not wait.
/// Signals that were ignored when the program began stay so (nohup). Call it once, early in main().
void tidyUpOnSignals();

/// For the signal that came: ends the program as that signal does. Returns if none came.
void endAsInterrupted();

// What Unfinished tells this file of; from any thread.

/// `make` makes it, in an instant, and says whether it did: no signal comes between that and knowing of it.
bool makeUnfinished(const std::filesystem::path& path, const std::function<bool()>& make,
                    std::function<void()> giveUp);
void forgetUnfinished(const std::filesystem::path& path);
/// Does `step`, which takes an instant, while nothing is being removed; never after that has begun.
void whileNothingIsRemoved(const std::function<void()>& step);

} // namespace ripple::base
