#include "base/problem.h"

#include <filesystem>
#include <new>
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

Problem unexpected(const std::exception& error) {
    if (const auto* file = dynamic_cast<const std::filesystem::filesystem_error*>(&error)) {
        return {file->path1().empty() ? "a file" : file->path1().string(),
                "could not be used (" + file->code().message() + ")",
                "check its name, its folder and its rights"};
    }
    if (dynamic_cast<const std::bad_alloc*>(&error)) {
        return {"memory", "there is not enough for this", "bake fewer clips or frames at a time"};
    }
    return {"the program", "met something unexpected and gave this up",
            "report it as a fault of the program, with the files that led to it"};
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
