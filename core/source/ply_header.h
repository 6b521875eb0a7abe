#pragma once

#include "base/files.h"

#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace ripple::source {

constexpr const char* kDamagedPly = "the file is damaged or was cut short; export it again";

enum class PlyType { int8, uint8, int16, uint16, int32, uint32, float32, float64 };
enum class PlyFormat { ascii, littleEndian, bigEndian };

/// Bytes of one value.
std::size_t sizeOf(PlyType type);

struct PlyProperty {
    std::string name;
    PlyType type = PlyType::float32;
    bool list = false;
    PlyType countType = PlyType::uint8; ///< of a list
};

struct PlyElement {
    std::string name;
    std::size_t count = 0;
    std::vector<PlyProperty> properties;
};

struct PlyHeader {
    PlyFormat format = PlyFormat::ascii;
    std::vector<PlyElement> elements;
    std::size_t bodyOffset = 0; ///< bytes
};

/// Parses the header (Turk, "The PLY Polygon File Format", 1994) and checks that the body can be as large as
/// it says. Throws base::Failure with `where` and the line.
PlyHeader parsePlyHeader(std::span<const std::byte> bytes, const std::string& where);

} // namespace ripple::source
