#pragma once

#include <stdexcept>
#include <string>
#include <vector>

namespace ripple::base {

/// What is wrong, in words that a person can act on.
struct Problem {
    std::string where; ///< file, and line or element where that is known
    std::string what;  ///< what is wrong there, with the value that was wrong
    std::string fix;   ///< what to do about it

    /// "where: what; fix", on one line.
    std::string line() const;
    bool operator==(const Problem&) const = default;
};

/// Carries a Problem up to whoever can show it.
class Failure : public std::runtime_error {
public:
    explicit Failure(Problem problem);
    const Problem& problem() const { return problem_; }

private:
    Problem problem_;
};

/// What to say of an exception that is none of ours: the path and the system's reason where it has them,
/// never a library's own words.
Problem unexpected(const std::exception& error);

/// Throws Failure.
[[noreturn]] void fail(std::string where, std::string what, std::string fix);

/// How much a finding matters: `note` informs, `look` works but should be looked at, `broken` does not work.
enum class Severity { note, look, broken };

/// Something noticed about an input that could still be read. `id` is stable, for tests and for `--json`.
struct Finding {
    std::string id;
    Severity severity = Severity::note;
    Problem problem;
    bool operator==(const Finding&) const = default;
};

using Findings = std::vector<Finding>;

/// "note", "look" or "broken".
const char* name(Severity severity);

} // namespace ripple::base
