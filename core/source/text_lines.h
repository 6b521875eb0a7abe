#pragma once

#include "base/files.h"

#include <cstdint>
#include <cstring>
#include <span>
#include <string>
#include <string_view>

#include <glm/vec3.hpp>

namespace ripple::source {

/// Walks over a text line by line and, inside a line, word by word. Lines end in LF, CR LF or CR, also mixed.
/// Failures name the file and the line.
class TextLines {
public:
    /// `bytes` and `where` must outlive it. Throws base::Failure for text that is not UTF-8 or ASCII by its
    /// byte order mark.
    TextLines(std::span<const std::byte> bytes, const std::string& where);

    /// Moves to the next line; false at the end.
    bool next();

    /// True if the line's first word is `keyword` and more follows; then the cursor stands behind it.
    bool startsWith(std::string_view keyword) {
        const auto room = static_cast<std::size_t>(lineEnd_ - word_);
        if (room > keyword.size() && std::memcmp(word_, keyword.data(), keyword.size()) == 0 &&
            isBlank(word_[keyword.size()])) {
            word_ += keyword.size();
            skipBlanks();
            return true;
        }
        return false;
    }
    char first() const { return word_ < lineEnd_ ? *word_ : '\0'; }
    bool atLineEnd() const { return word_ >= lineEnd_; }

    /// A finite number; the cursor moves behind it and the blanks.
    float number();
    glm::vec3 vec3();
    /// A whole number directly at the cursor; does not skip blanks.
    std::int64_t whole();
    bool take(char c) {
        const bool there = first() == c && word_ < lineEnd_;
        word_ += there;
        return there;
    }
    void skipBlanks() {
        while (word_ < lineEnd_ && isBlank(*word_)) {
            ++word_;
        }
    }
    /// The next word; empty at the end of the line.
    std::string_view word();

    std::string_view line() const { return {line_, static_cast<std::size_t>(lineEnd_ - line_)}; }
    /// From the cursor to the end of the line, without blanks at its end.
    std::string rest() const;
    /// Bytes from the text's start to the next line.
    std::size_t offset() const { return static_cast<std::size_t>(at_ - text_.data()); }

    /// About the whole line.
    [[noreturn]] void failLine(const std::string& what, const std::string& fix) const;
    /// About the word at the cursor.
    [[noreturn]] void failHere(const std::string& what, const std::string& fix) const;

private:
    static bool isBlank(char c) { return c == ' ' || c == '\t' || c == '\r'; }

    std::string_view text_;
    const std::string& where_;
    const char* at_;
    const char* end_;
    const char* line_ = nullptr;
    const char* lineEnd_ = nullptr;
    const char* word_ = nullptr;
    bool loneReturns_ = false; ///< some lines end in CR alone
};

} // namespace ripple::source
