#include "source/file_sequence.h"

#include "base/files.h"
#include "base/units.h"

#include <algorithm>
#include <charconv>
#include <map>
#include <optional>
#include <tuple>

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

void note(FileSequence& sequence, const char* id, base::Severity severity, const std::string& what,
          const std::string& fix) {
    sequence.findings.push_back({id, severity, {sequence.pattern, what, fix}});
}

struct Numbered {
    long long number = 0;
    std::size_t digits = 0; ///< how the number is padded
    std::filesystem::path file;
};

/// The count that most have; the smallest of several.
template <typename Key>
Key commonest(const std::map<Key, std::size_t>& counts) {
    return std::max_element(counts.begin(), counts.end(),
                            [](const auto& a, const auto& b) { return a.second < b.second; })
        ->first;
}

/// One file for each number.
void takeOnce(std::vector<Numbered>& found, FileSequence& sequence) {
    // A number grown beyond its padding (frame 1000 of name_###) tells nothing.
    const auto least = std::min_element(found.begin(), found.end(), [](const auto& a, const auto& b) {
                           return a.digits < b.digits;
                       })->digits;
    std::map<std::size_t, std::size_t> paddings;
    for (const Numbered& one : found) {
        if (one.digits == least || std::to_string(one.number).size() != one.digits) {
            ++paddings[one.digits];
        }
    }
    const std::size_t usual = commonest(paddings);
    if (paddings.size() > 1) {
        note(sequence, "sequence-padding", base::Severity::note,
             "frame numbers are padded to " + std::to_string(paddings.begin()->first) + " and to " +
                 std::to_string(paddings.rbegin()->first) + " digits",
             "they are ordered by number; files of two exports may be mixed here");
    }
    std::sort(found.begin(), found.end(), [usual](const Numbered& a, const Numbered& b) {
        return std::tuple(a.number, a.digits != usual, a.file) <
               std::tuple(b.number, b.digits != usual, b.file);
    });
    std::vector<std::string> twice;
    for (Numbered& one : found) {
        if (!sequence.numbers.empty() && sequence.numbers.back() == one.number) {
            twice.push_back(one.file.filename().string());
            continue;
        }
        sequence.numbers.push_back(one.number);
        sequence.files.push_back(std::move(one.file));
    }
    if (!twice.empty()) {
        note(sequence, "sequence-duplicate", base::Severity::look,
             base::plural(twice.size(), "frame") + (twice.size() == 1 ? " is" : " are") +
                 " there twice; left out: " + twice.front() + (twice.size() > 1 ? " and others" : ""),
             "remove the files that are not meant");
    }
}

void reportGaps(FileSequence& sequence) {
    std::map<long long, std::size_t> distances;
    for (std::size_t i = 1; i < sequence.numbers.size(); ++i) {
        ++distances[sequence.numbers[i] - sequence.numbers[i - 1]];
    }
    if (distances.empty()) {
        return;
    }
    sequence.step = commonest(distances);
    if (sequence.step > 1) {
        note(sequence, "sequence-step", base::Severity::note,
             "frame numbers go up by " + std::to_string(sequence.step),
             "each file is one frame; if they were left out on purpose, divide the frame rate by " +
                 std::to_string(sequence.step));
    }
    std::string where;
    std::size_t gaps = 0;
    for (std::size_t i = 1; i < sequence.numbers.size(); ++i) {
        const long long from = sequence.numbers[i - 1];
        const long long to = sequence.numbers[i];
        if (to - from != sequence.step && ++gaps <= 3) {
            where +=
                (where.empty() ? "" : ", ") + std::to_string(from) + " is followed by " + std::to_string(to);
        }
    }
    if (gaps > 0) {
        note(sequence, "sequence-gap", base::Severity::look,
             "frames are missing: " + where +
                 (gaps > 3 ? " and " + std::to_string(gaps - 3) + " more gaps" : ""),
             "the motion jumps there; write the missing frames");
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
    }
    const auto absent = [&path] {
        base::fail(path.string(), "there is no such file", "check the name and the folder");
    };
    FileSequence sequence;
    if (!parts && !base::exists(path)) {
        absent();
    }
    if (!parts) {
        sequence.pattern = name;
        sequence.files.push_back(path);
        sequence.numbers.push_back(0);
        return sequence;
    }
    sequence.pattern = parts->before + std::string(parts->digits.size(), '#') + parts->after;
    const std::filesystem::path folder = path.has_parent_path() ? path.parent_path() : ".";
    std::error_code error;
    std::vector<Numbered> found;
    for (std::filesystem::directory_iterator it(folder, error), end; !error && it != end;
         it.increment(error)) {
        const std::string file = it->path().filename().string();
        if (const auto number = frameNumber(file, *parts)) {
            found.push_back({*number, file.size() - parts->before.size() - parts->after.size(), it->path()});
        }
    }
    if (found.empty() && !isPattern) {
        absent();
    }
    if (found.empty()) {
        base::fail(path.string(), "no file fits this pattern",
                   "'#' stands for the frame's digits; check the folder");
    }
    takeOnce(found, sequence);
    reportGaps(sequence);
    return sequence;
}

FileSequence singleFile(const std::filesystem::path& path) {
    if (!base::exists(path)) {
        base::fail(path.string(), "is not there", "check the name");
    }
    FileSequence sequence;
    sequence.pattern = path.filename().string();
    sequence.files = {path};
    sequence.numbers = {0};
    return sequence;
}

std::filesystem::path sequenceInFolder(const std::filesystem::path& folder,
                                       const std::vector<std::string>& extensions) {
    std::map<std::string, std::size_t> counts;
    std::error_code error;
    for (std::filesystem::directory_iterator it(folder, error), end; !error && it != end;
         it.increment(error)) {
        const std::string extension = base::extensionOf(it->path());
        if (std::find(extensions.begin(), extensions.end(), extension) == extensions.end() ||
            !it->is_regular_file()) {
            continue;
        }
        const std::string name = it->path().filename().string();
        const auto parts = cut(name, name.size() - extension.size(), isDigit);
        ++counts[parts ? parts->before + "#" + parts->after : name];
    }
    if (counts.empty()) {
        std::string known;
        for (const std::string& extension : extensions) {
            known += (known.empty() ? "" : " ") + extension;
        }
        base::fail(folder.string(), error ? "cannot be read (" + error.message() + ")" : "holds no source",
                   "what can be read from a folder: " + known);
    }
    return folder / commonest(counts);
}

} // namespace ripple::source
