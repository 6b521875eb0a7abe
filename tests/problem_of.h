#pragma once

#include "base/problem.h"

#include <QtGlobal>

#include <span>
#include <string>

namespace ripple::tests {

/// The problem that `work` fails with; an empty one if it does not fail.
template <typename Work>
base::Problem problemOf(const Work& work) {
    try {
        work();
    } catch (const base::Failure& failure) {
        return failure.problem();
    }
    return {};
}

/// True if the problem says where, what and what to do, and its line holds all `words`.
template <typename... Words>
bool says(const base::Problem& problem, const Words&... words) {
    const std::string line = problem.line();
    const bool complete = !problem.where.empty() && !problem.what.empty() && !problem.fix.empty();
    const bool all = complete && ((line.find(words) != std::string::npos) && ...);
    if (!all) {
        qWarning("the problem says: %s", line.c_str());
    }
    return all;
}

inline bool has(std::span<const base::Finding> findings, const std::string& id) {
    for (const base::Finding& finding : findings) {
        if (finding.id == id) {
            return true;
        }
    }
    return false;
}

} // namespace ripple::tests
