#pragma once

#include "base/files.h"

#include <algorithm>
#include <cstring>
#include <random>
#include <string>

namespace ripple::tests {

/// One of the ways in which files get spoilt: cut, flipped bits, bytes overwritten, lost or put in.
inline base::Bytes spoil(const base::Bytes& whole, std::mt19937& random) {
    base::Bytes bytes = whole;
    const auto place = [&] {
        return static_cast<std::ptrdiff_t>(random() % std::max<std::size_t>(bytes.size(), 1));
    };
    switch (random() % 6) {
    case 0:
        bytes.resize(static_cast<std::size_t>(place()));
        break;
    case 1:
        for (int i = 0; i < 4; ++i) {
            bytes[static_cast<std::size_t>(place())] ^= static_cast<std::byte>(1u << (random() % 8));
        }
        break;
    case 2:
        for (int i = 0; i < 8; ++i) {
            bytes[static_cast<std::size_t>(place())] = static_cast<std::byte>(random());
        }
        break;
    case 3:
        bytes.erase(bytes.begin() + place());
        break;
    case 4:
        bytes.insert(bytes.begin() + place(), static_cast<std::byte>(random()));
        break;
    default: {
        // A whole number in the text made large, small or negative.
        const char digits[] = "0123456789-.e";
        for (int i = 0; i < 3; ++i) {
            const auto at = static_cast<std::size_t>(place());
            for (std::size_t k = at; k < std::min(at + 400, bytes.size()); ++k) {
                const char c = static_cast<char>(bytes[k]);
                if (c >= '0' && c <= '9') {
                    bytes[k] = static_cast<std::byte>(digits[random() % (sizeof digits - 1)]);
                    break;
                }
            }
        }
    }
    }
    return bytes;
}

/// One to three bytes of a file with one bit flipped each.
inline base::Bytes flip(base::Bytes bytes, std::mt19937& random) {
    for (unsigned i = 0; !bytes.empty() && i < 1 + random() % 3; ++i) {
        bytes[random() % bytes.size()] ^= static_cast<std::byte>(1u << (random() % 8));
    }
    return bytes;
}

/// Three corners of the triangle `i` of a long strip.
inline void stripTriangle(std::size_t i, float (&corners)[9]) {
    const auto x = static_cast<float>(i);
    const float values[9] = {x, 0, 0, x + 1, 0, 0, x, 1, static_cast<float>(i % 7)};
    std::copy_n(values, 9, corners);
}

/// A scene file of so many triangles, 50 bytes each (Stereolithography, binary).
inline std::string binaryStl(std::uint32_t triangles) {
    std::string bytes(80, ' ');
    bytes.append(reinterpret_cast<const char*>(&triangles), 4);
    for (std::size_t i = 0; i < triangles; ++i) {
        float corners[9];
        stripTriangle(i, corners);
        const float normal[3] = {0, 0, 1};
        bytes.append(reinterpret_cast<const char*>(normal), sizeof normal);
        bytes.append(reinterpret_cast<const char*>(corners), sizeof corners);
        bytes.append(2, '\0');
    }
    return bytes;
}

/// The same as text, which takes the import library far longer.
inline std::string textStl(std::size_t triangles) {
    std::string text = "solid strip\n";
    for (std::size_t i = 0; i < triangles; ++i) {
        float corners[9];
        stripTriangle(i, corners);
        text += "facet normal 0 0 1\nouter loop\n";
        for (int c = 0; c < 3; ++c) {
            text += "vertex " + std::to_string(corners[3 * c]) + " " + std::to_string(corners[3 * c + 1]) +
                    " " + std::to_string(corners[3 * c + 2]) + "\n";
        }
        text += "endloop\nendfacet\n";
    }
    return text + "endsolid strip\n";
}

} // namespace ripple::tests
