#include "source/ply_header.h"

#include "base/problem.h"
#include "source/text_lines.h"

#include <algorithm>

namespace ripple::source {

namespace {


struct TypeRow {
    const char* name;
    const char* other;
    PlyType type;
    std::size_t size;
};
constexpr TypeRow kTypes[] = {
    {"char", "int8", PlyType::int8, 1},        {"uchar", "uint8", PlyType::uint8, 1},
    {"short", "int16", PlyType::int16, 2},     {"ushort", "uint16", PlyType::uint16, 2},
    {"int", "int32", PlyType::int32, 4},       {"uint", "uint32", PlyType::uint32, 4},
    {"float", "float32", PlyType::float32, 4}, {"double", "float64", PlyType::float64, 8}};

PlyType typeNamed(TextLines& lines) {
    const std::string name(lines.word());
    for (const TypeRow& row : kTypes) {
        if (name == row.name || name == row.other) {
            return row.type;
        }
    }
    lines.failLine("\"" + name + "\" is not a type that PLY knows", "export it again");
}

/// The least bytes that an element of this kind takes.
std::size_t leastBytes(const PlyElement& element, PlyFormat format) {
    std::size_t bytes = 0;
    for (const PlyProperty& property : element.properties) {
        bytes += format == PlyFormat::ascii ? 2 : sizeOf(property.list ? property.countType : property.type);
    }
    return bytes;
}

} // namespace

std::size_t sizeOf(PlyType type) {
    return kTypes[static_cast<std::size_t>(type)].size;
}

PlyHeader parsePlyHeader(std::span<const std::byte> bytes, const std::string& where) {
    PlyHeader header;
    // What follows may be binary: only the header is text.
    const std::string_view text = base::asText(bytes);
    const std::size_t end = text.find("end_header");
    const std::size_t behind = end == std::string_view::npos ? end : text.find_first_of("\r\n", end);
    const bool pair = behind < text.size() - 1 && text[behind] == '\r' && text[behind + 1] == '\n';
    TextLines lines(bytes.first(behind == std::string_view::npos ? text.size() : behind + (pair ? 2 : 1)),
                    where);
    if (!lines.next() || lines.rest() != "ply") {
        base::fail(where, "does not begin with \"ply\"", "this is no PLY file, or it is damaged");
    }
    bool formatGiven = false;
    while (lines.next()) {
        const std::string word(lines.word());
        if (word == "end_header") {
            header.bodyOffset = lines.offset();
            break;
        }
        if (word == "format") {
            const std::string name(lines.word());
            formatGiven = true;
            header.format = name == "ascii"                  ? PlyFormat::ascii
                            : name == "binary_little_endian" ? PlyFormat::littleEndian
                            : name == "binary_big_endian"
                                ? PlyFormat::bigEndian
                                : (lines.failLine("\"" + name + "\" is not a format that PLY knows",
                                                  "export it as ascii or binary"),
                                   PlyFormat::ascii);
        } else if (word == "element") {
            PlyElement element;
            element.name = lines.word();
            const std::int64_t count = lines.whole();
            if (count < 0) {
                lines.failLine("a count of " + std::to_string(count), "export it again");
            }
            element.count = static_cast<std::size_t>(count);
            header.elements.push_back(std::move(element));
        } else if (word == "property") {
            if (header.elements.empty()) {
                lines.failLine("a property before any element", "export it again");
            }
            PlyProperty property;
            property.list = lines.startsWith("list");
            if (property.list) {
                property.countType = typeNamed(lines);
            }
            property.type = typeNamed(lines);
            property.name = lines.word();
            header.elements.back().properties.push_back(std::move(property));
        }
        // Anything else is a comment, whether it is marked as one or not.
    }
    if (header.bodyOffset == 0 || !formatGiven) {
        base::fail(where, "its header has no end_header or no format", kDamagedPly);
    }
    std::size_t room = bytes.size() - std::min(header.bodyOffset, bytes.size());
    for (const PlyElement& element : header.elements) {
        const std::size_t least = leastBytes(element, header.format);
        if (least > 0 && element.count > room / least + 1) {
            base::fail(where,
                       "says that it holds " + std::to_string(element.count) + " of \"" + element.name +
                           "\", more than its " + std::to_string(bytes.size()) + " bytes can",
                       kDamagedPly);
        }
    }
    return header;
}

} // namespace ripple::source
