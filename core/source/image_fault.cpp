// Looks encoded images through, so that what is passed on is one.

#include "source/companions.h"
#include "source/material_detail.h"

#include <cstdint>
#include <cstring>

#include <zlib.h>

namespace ripple::source {

namespace {

std::uint32_t bigEndian(std::span<const std::byte> bytes, std::size_t at, std::size_t count) {
    std::uint32_t value = 0;
    for (std::size_t i = 0; i < count; ++i) {
        value = value << 8 | std::to_integer<std::uint32_t>(bytes[at + i]);
    }
    return value;
}

std::uint32_t littleEndian(std::span<const std::byte> bytes, std::size_t at, std::size_t count) {
    std::uint32_t value = 0;
    for (std::size_t i = count; i > 0; --i) {
        value = value << 8 | std::to_integer<std::uint32_t>(bytes[at + i - 1]);
    }
    return value;
}

constexpr const char* kCut = "cut short";
constexpr const char* kDamagedImage = "damaged";

std::string sizeFault(std::size_t width, std::size_t height) {
    if (width == 0 || height == 0) {
        return kDamagedImage;
    }
    if (width > kLargestImageSide || height > kLargestImageSide) {
        return std::to_string(width) + " × " + std::to_string(height) + " pixels, more than " +
               std::to_string(kLargestImageSide) + " on a side";
    }
    return {};
}

/// Portable Network Graphics (ISO/IEC 15948), section 5: a signature, then chunks of length, type, data and
/// CRC.
std::string pngFault(std::span<const std::byte> bytes) {
    std::size_t at = 8;
    bool data = false;
    for (bool first = true; at + 12 <= bytes.size(); first = false) {
        const std::size_t length = bigEndian(bytes, at, 4);
        if (length > bytes.size() - at - 12) {
            return kCut;
        }
        const std::string_view type(reinterpret_cast<const char*>(bytes.data()) + at + 4, 4);
        const auto* covered = reinterpret_cast<const Bytef*>(bytes.data()) + at + 4;
        if (first != (type == "IHDR") || (first && length != 13) ||
            ::crc32(0, covered, static_cast<uInt>(length + 4)) != bigEndian(bytes, at + 8 + length, 4)) {
            return kDamagedImage;
        }
        if (first) {
            if (auto fault = sizeFault(bigEndian(bytes, at + 8, 4), bigEndian(bytes, at + 12, 4));
                !fault.empty()) {
                return fault;
            }
        }
        data = data || type == "IDAT";
        at += 12 + length;
        if (type == "IEND") {
            return data ? "" : kDamagedImage;
        }
    }
    return kCut;
}

/// JPEG (ITU-T T.81), annex B: segments of a marker and a length; behind a scan's header its coded data, in
/// which FF 00 and restart markers are no markers.
std::string jpegFault(std::span<const std::byte> bytes) {
    std::size_t at = 2;
    bool frame = false;
    bool scan = false;
    const auto byte = [&](std::size_t i) { return std::to_integer<unsigned>(bytes[i]); };
    while (at + 2 <= bytes.size()) {
        if (byte(at) != 0xFF) {
            return kDamagedImage;
        }
        const unsigned marker = byte(at + 1);
        if (marker == 0xFF) { // fill
            ++at;
            continue;
        }
        at += 2;
        if (marker == 0xD9) {
            return frame && scan ? "" : kDamagedImage;
        }
        if (at + 2 > bytes.size()) {
            return kCut;
        }
        const std::size_t length = bigEndian(bytes, at, 2);
        if (length < 2 || length > bytes.size() - at) {
            return length < 2 ? kDamagedImage : kCut;
        }
        const bool startsFrame =
            marker >= 0xC0 && marker <= 0xCF && marker != 0xC4 && marker != 0xC8 && marker != 0xCC;
        if (startsFrame) {
            if (length < 8) {
                return kDamagedImage;
            }
            if (auto fault = sizeFault(bigEndian(bytes, at + 5, 2), bigEndian(bytes, at + 3, 2));
                !fault.empty()) {
                return fault;
            }
            frame = true;
        }
        at += length;
        if (marker == 0xDA) {
            scan = true;
            while (at + 2 <= bytes.size() && (byte(at) != 0xFF || byte(at + 1) == 0 ||
                                              (byte(at + 1) >= 0xD0 && byte(at + 1) <= 0xD7))) {
                ++at;
            }
        }
    }
    return kCut;
}

/// WebP's container: the first chunk's kind says where the size stands (RFC 9649, section 2).
std::string webpFault(std::span<const std::byte> bytes) {
    if (bytes.size() < 30 || std::memcmp(bytes.data(), "RIFF", 4) != 0) {
        return kCut;
    }
    if (std::size_t{littleEndian(bytes, 4, 4)} + 8 > bytes.size()) {
        return kCut;
    }
    const std::string_view kind(reinterpret_cast<const char*>(bytes.data()) + 12, 4);
    if (kind == "VP8X") {
        return sizeFault(littleEndian(bytes, 24, 3) + 1, littleEndian(bytes, 27, 3) + 1);
    }
    if (kind == "VP8L") {
        const std::uint32_t bits = littleEndian(bytes, 21, 4);
        return sizeFault((bits & 0x3FFF) + 1, (bits >> 14 & 0x3FFF) + 1);
    }
    if (kind == "VP8 ") {
        return sizeFault(littleEndian(bytes, 26, 2) & 0x3FFF, littleEndian(bytes, 28, 2) & 0x3FFF);
    }
    return kDamagedImage;
}

/// KTX 2.0, section 3: pixelWidth and pixelHeight behind identifier, format and type size.
std::string ktxFault(std::span<const std::byte> bytes) {
    if (bytes.size() < 80) {
        return kCut;
    }
    return sizeFault(littleEndian(bytes, 20, 4), std::max(littleEndian(bytes, 24, 4), 1u));
}

} // namespace

std::string imageFault(std::span<const std::byte> bytes) {
    const std::string type = imageTypeOf(bytes);
    return type == "image/png"    ? pngFault(bytes)
           : type == "image/jpeg" ? jpegFault(bytes)
           : type == "image/webp" ? webpFault(bytes)
           : type == "image/ktx2" ? ktxFault(bytes)
                                  : "no image that is known";
}

} // namespace ripple::source
