#include "source/text_lines.h"

#include "base/problem.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include <fast_float/fast_float.h>

namespace ripple::source {

namespace {

bool startsWithBytes(std::string_view text, std::string_view bytes) {
    return text.substr(0, bytes.size()) == bytes;
}

bool hasLoneReturn(std::string_view text) {
    for (std::size_t at = text.find('\r'); at != std::string_view::npos; at = text.find('\r', at + 1)) {
        if (at + 1 == text.size() || text[at + 1] != '\n') {
            return true;
        }
    }
    return false;
}

} // namespace

TextLines::TextLines(std::span<const std::byte> bytes, const std::string& where)
    : text_(base::asText(bytes)),
      where_(where) {
    if (startsWithBytes(text_, "\xFF\xFE") || startsWithBytes(text_, "\xFE\xFF")) {
        base::fail(where, "is UTF-16 text", "save it as UTF-8 or plain ASCII");
    }
    if (startsWithBytes(text_, "\xEF\xBB\xBF")) {
        text_.remove_prefix(3);
    }
    at_ = text_.data();
    end_ = text_.data() + text_.size();
    loneReturns_ = hasLoneReturn(text_);
}

bool TextLines::next() {
    if (at_ >= end_) {
        return false;
    }
    line_ = at_;
    const auto room = static_cast<std::size_t>(end_ - at_);
    const auto* newline = static_cast<const char*>(std::memchr(at_, '\n', room));
    if (loneReturns_) {
        const auto* ret = static_cast<const char*>(std::memchr(at_, '\r', room));
        const bool lone = ret && (ret + 1 == end_ || ret[1] != '\n');
        newline = lone && (!newline || ret < newline) ? ret : newline;
    }
    lineEnd_ = newline ? newline : end_;
    at_ = newline ? newline + 1 : end_;
    word_ = line_;
    skipBlanks();
    return true;
}

float TextLines::number() {
    float value = 0.0f;
    const auto result = fast_float::from_chars(word_, lineEnd_, value);
    if (result.ec != std::errc() || (result.ptr < lineEnd_ && !isBlank(*result.ptr)) ||
        !std::isfinite(value)) {
        failHere("is not a usable number",
                 "numbers need a decimal point and must be finite; export it again");
    }
    word_ = result.ptr;
    skipBlanks();
    return value;
}

glm::vec3 TextLines::vec3() {
    const float x = number();
    const float y = number();
    const float z = number();
    return {x, y, z};
}

std::int64_t TextLines::whole() {
    const bool minus = word_ < lineEnd_ && *word_ == '-';
    const char* digit = word_ + (minus ? 1 : 0);
    std::int64_t value = 0;
    const char* start = digit;
    while (digit < lineEnd_ && *digit >= '0' && *digit <= '9' && digit - start < 12) {
        value = value * 10 + (*digit++ - '0');
    }
    if (digit == start) {
        failHere("is not a whole number", "export it again");
    }
    word_ = digit;
    return minus ? -value : value;
}

std::string_view TextLines::word() {
    const char* begin = word_;
    while (word_ < lineEnd_ && !isBlank(*word_)) {
        ++word_;
    }
    const std::string_view found(begin, static_cast<std::size_t>(word_ - begin));
    skipBlanks();
    return found;
}

std::string TextLines::rest() const {
    const char* end = lineEnd_;
    while (end > word_ && isBlank(end[-1])) {
        --end;
    }
    return std::string(word_, end);
}

void TextLines::failLine(const std::string& what, const std::string& fix) const {
    std::size_t number = 1;
    for (const char* c = text_.data(); c < line_; ++c) {
        number += *c == '\n' || (loneReturns_ && *c == '\r' && c[1] != '\n');
    }
    base::fail(where_ + ", line " + std::to_string(number), what, fix);
}

void TextLines::failHere(const std::string& what, const std::string& fix) const {
    const char* wordEnd = word_;
    while (wordEnd < lineEnd_ && !isBlank(*wordEnd) && wordEnd - word_ < 24) {
        ++wordEnd;
    }
    const std::string word(word_, wordEnd);
    failLine(word.empty() ? "the line breaks off" : "\"" + word + "\" " + what, fix);
}

} // namespace ripple::source
