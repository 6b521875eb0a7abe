#include "source/file_sequence.h"

#include "base/problem.h"

#include <algorithm>
#include <charconv>
#include <optional>
#include <utility>

namespace ripple::source {

namespace {

bool isDigit(char c) {
    return c >= '0' && c <= '9';
}

/// A file name cut around its frame digits.
struct NameParts {
    std::string before;
    std::string digits; ///< or a run of '#'
    std::string after;  ///< with the extension
};

template <typename IsFrame>
std::optional<NameParts> cut(const std::string& name, std::size_t searchEnd, const IsFrame& isFrame) {
    std::size_t end = searchEnd;
    while (end > 0 && !isFrame(name[end - 1])) {
        --end;
    }
    std::size_t begin = end;
    while (begin > 0 && isFrame(name[begin - 1])) {
        --begin;
    }
    if (begin == end) {
        return std::nullopt;
    }
    return NameParts{name.substr(0, begin), name.substr(begin, end - begin), name.substr(end)};
}

std::optional<long long> frameNumber(const std::string& name, const NameParts& parts) {
    if (name.size() <= parts.before.size() + parts.after.size() || name.rfind(parts.before, 0) != 0 ||
        name.compare(name.size() - parts.after.size(), parts.after.size(), parts.after) != 0) {
        return std::nullopt;
    }
    const char* begin = name.data() + parts.before.size();
    const char* end = name.data() + name.size() - parts.after.size();
    if (!std::all_of(begin, end, isDigit)) {
        return std::nullopt;
    }
    long long number = 0;
    const auto result = std::from_chars(begin, end, number);
    return result.ec == std::errc() ? std::optional(number) : std::nullopt;
}

void refuseGaps(const FileSequence& sequence) {
    for (std::size_t i = 1; i < sequence.numbers.size(); ++i) {
        const long long before = sequence.numbers[i - 1];
        const long long here = sequence.numbers[i];
        if (here == before) {
            base::fail(sequence.files[i].string(), "frame " + std::to_string(here) + " is there twice",
                       "remove one; the other is " + sequence.files[i - 1].filename().string());
        }
        if (here != before + 1) {
            const bool one = here == before + 2;
            base::fail(sequence.pattern,
                       one ? "frame " + std::to_string(before + 1) + " is missing"
                           : "frames " + std::to_string(before + 1) + " to " + std::to_string(here - 1) +
                                 " are missing",
                       "write the missing frames, or number the files without gaps");
        }
    }
}

} // namespace

FileSequence findSequence(const std::filesystem::path& path) {
    const std::string name = path.filename().string();
    const std::size_t stem = name.size() - path.extension().string().size();
    auto parts = cut(name, stem, [](char c) { return c == '#'; });
    const bool isPattern = parts.has_value();
    if (!isPattern) {
        parts = cut(name, stem, isDigit);
        if (!std::filesystem::exists(path)) {
            base::fail(path.string(), "there is no such file", "check the name and the folder");
        }
    }
    FileSequence sequence;
    if (!parts) {
        sequence.pattern = name;
        sequence.files.push_back(path);
        sequence.numbers.push_back(0);
        return sequence;
    }
    sequence.pattern = parts->before + std::string(parts->digits.size(), '#') + parts->after;
    const std::filesystem::path folder = path.has_parent_path() ? path.parent_path() : ".";
    std::error_code error;
    std::vector<std::pair<long long, std::filesystem::path>> found;
    for (std::filesystem::directory_iterator it(folder, error), end; !error && it != end;
         it.increment(error)) {
        if (const auto number = frameNumber(it->path().filename().string(), *parts)) {
            found.emplace_back(*number, it->path());
        }
    }
    std::sort(found.begin(), found.end());
    if (found.empty()) {
        base::fail(path.string(), "no file fits this pattern",
                   "'#' stands for the frame's digits; check the folder");
    }
    for (auto& [number, file] : found) {
        sequence.numbers.push_back(number);
        sequence.files.push_back(std::move(file));
    }
    refuseGaps(sequence);
    return sequence;
}

} // namespace ripple::source
