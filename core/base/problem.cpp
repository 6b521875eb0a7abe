#include "base/problem.h"

#include <utility>

namespace ripple::base {

namespace {

/// Names and words out of files may hold anything; on a terminal, control characters would act.
std::string harmless(std::string text) {
    for (char& c : text) {
        c = static_cast<unsigned char>(c) < 0x20 || c == 0x7F ? ' ' : c;
    }
    return text;
}

} // namespace

std::string Problem::line() const {
    std::string text = where.empty() ? what : where + ": " + what;
    if (!fix.empty()) {
        text += "; " + fix;
    }
    return harmless(text);
}

Failure::Failure(Problem problem) : std::runtime_error(problem.line()), problem_(std::move(problem)) {}

void fail(std::string where, std::string what, std::string fix) {
    throw Failure({std::move(where), std::move(what), std::move(fix)});
}

const char* name(Severity severity) {
    switch (severity) {
    case Severity::note:
        return "note";
    case Severity::look:
        return "look";
    case Severity::broken:
        return "broken";
    }
    return "note";
}

} // namespace ripple::base
