#include "bundle/texture_damage.h"

#include "base/srgb.h"
#include "image/texels.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include <glm/geometric.hpp>
#include <glm/vec3.hpp>

namespace ripple::bundle {

namespace {

using image::Image;

constexpr std::array kDamages = {
    DamageWords{TextureDamage::srgbApplied, "srgb-applied",
                "values were saved as sRGB colours",
                "the mesh is blown up toward one corner", "import as linear data, not as a colour"},
    DamageWords{TextureDamage::srgbRemoved, "srgb-removed", "values are read as sRGB colours",
                "the mesh is drawn toward one corner", "import as linear data, not as a colour"},
    DamageWords{TextureDamage::rowsFlipped, "rows-flipped", "rows are turned upside down",
                "the mesh bursts into spikes, or plays backwards",
                "switch turning images off, or set NAME_rows_from_below in the code"},
    DamageWords{TextureDamage::columnsFlipped, "columns-flipped", "columns are turned left to right",
                "the mesh bursts into spikes", "switch mirroring off"},
    DamageWords{TextureDamage::channelsSwapped, "channels-swapped", "red and blue changed places",
                "sideways motion goes forward", "load the channels as red, green, blue"},
    DamageWords{TextureDamage::premultiplied, "premultiplied", "colours are multiplied with alpha",
                "parts shrink toward one corner", "switch premultiplied alpha off"},
    DamageWords{TextureDamage::eightBits, "eight-bits", "values are rounded to 8 bits",
                "surfaces move in steps and look faceted",
                "keep the file's own depth of 16 bits, half or float; a canvas holds 8"},
    DamageWords{TextureDamage::halfSize, "half-size", "the image is half as large", "neighbours move as one",
                "switch mip maps and size limits off"},
    DamageWords{TextureDamage::blockCompressed, "block-compressed", "blocks of 4 × 4 texels are compressed",
                "the surface crumples and flickers", "switch compression off"},
    DamageWords{TextureDamage::firstFrameMissing, "first-frame-missing", "the first frame is missing",
                "the mesh bursts, or plays a frame late", "keep all frames, and the image's size"},
    DamageWords{TextureDamage::lastFrameMissing, "last-frame-missing", "the last frame is missing",
                "the mesh bursts, or jumps at the seam", "keep all frames, and the image's size"},
};

/// Every texel made anew by `of(x, y, channel)`.
template <typename Of>
Image made(std::size_t width, std::size_t height, const Image& like, const Of& of) {
    Image image(width, height, like.channels, like.pixel);
    for (std::size_t y = 0; y < height; ++y) {
        for (std::size_t x = 0; x < width; ++x) {
            for (std::size_t c = 0; c < like.channels; ++c) {
                setValue(image, x, y, c, of(x, y, c));
            }
        }
    }
    return image;
}

/// The same with each colour's value, alpha left alone.
template <typename Of>
Image curved(const Image& from, const Of& of) {
    return made(from.width, from.height, from, [&](std::size_t x, std::size_t y, std::size_t c) {
        const float value = valueAt(from, x, y, c);
        return c < 3 ? of(value) : value;
    });
}

Image withoutRows(const Image& from, std::size_t first, std::size_t rows) {
    Image image(from.width, rows, from.channels, from.pixel);
    const std::size_t row = from.width * from.bytesPerTexel();
    std::copy_n(from.data.begin() + static_cast<std::ptrdiff_t>(first * row), rows * row, image.data.begin());
    return image;
}

Image halved(const Image& from) {
    const auto side = [](std::size_t texels) { return std::max<std::size_t>(texels / 2, 1); };
    return made(side(from.width), side(from.height), from, [&](std::size_t x, std::size_t y, std::size_t c) {
        float sum = 0.0f;
        for (std::size_t k = 0; k < 4; ++k) {
            sum += valueAt(from, std::min(2 * x + k % 2, from.width - 1),
                           std::min(2 * y + k / 2, from.height - 1), c);
        }
        return 0.25f * sum;
    });
}

/// Four colours on the diagonal of each block's bounding box, evenly apart.
void compressBlock(Image& image, std::size_t left, std::size_t top) {
    const std::size_t right = std::min(left + 4, image.width);
    const std::size_t bottom = std::min(top + 4, image.height);
    const auto colourAt = [&](std::size_t x, std::size_t y) {
        return glm::vec3(valueAt(image, x, y, 0), valueAt(image, x, y, 1), valueAt(image, x, y, 2));
    };
    glm::vec3 low = colourAt(left, top);
    glm::vec3 high = low;
    for (std::size_t y = top; y < bottom; ++y) {
        for (std::size_t x = left; x < right; ++x) {
            low = glm::min(low, colourAt(x, y));
            high = glm::max(high, colourAt(x, y));
        }
    }
    const bool whole = image.pixel == image::Pixel::u8 || image.pixel == image::Pixel::u16;
    for (int c = 0; c < 3 && whole; ++c) { // 5, 6 and 5 bits
        const float most = c == 1 ? 63.0f : 31.0f;
        low[c] = std::round(low[c] * most) / most;
        high[c] = std::round(high[c] * most) / most;
    }
    const glm::vec3 along = high - low;
    const float length = glm::dot(along, along);
    for (std::size_t y = top; y < bottom; ++y) {
        for (std::size_t x = left; x < right; ++x) {
            const float at = length > 0.0f ? glm::dot(colourAt(x, y) - low, along) / length : 0.0f;
            const glm::vec3 colour = low + along * (std::round(3.0f * std::clamp(at, 0.0f, 1.0f)) / 3.0f);
            for (std::size_t c = 0; c < 3; ++c) {
                setValue(image, x, y, c, colour[static_cast<int>(c)]);
            }
        }
    }
}

bool isPlain(const Image& image, std::size_t left, std::size_t top) {
    std::set<std::array<float, 3>> colours;
    for (std::size_t k = 0; k < 16; ++k) {
        const std::size_t x = left + k % 4;
        const std::size_t y = top + k / 4;
        colours.insert({valueAt(image, x, y, 0), valueAt(image, x, y, 1), valueAt(image, x, y, 2)});
    }
    constexpr std::size_t kColoursOfBlock = 4;
    return colours.size() <= kColoursOfBlock;
}

} // namespace

bool looksCompressed(const Image& given, const Image& original) {
    const std::size_t across = std::min(given.width, original.width) / 4;
    const std::size_t down = std::min(given.height, original.height) / 4;
    constexpr std::size_t kBlocks = 400;
    const std::size_t count = std::min(across * down, kBlocks);
    std::size_t plain = 0;
    std::size_t plainBefore = 0;
    for (std::size_t k = 0; k < count; ++k) {
        const std::size_t block = k * across * down / count;
        const std::size_t x = block % across * 4;
        const std::size_t y = block / across * 4;
        plain += isPlain(given, x, y) ? 1 : 0;
        plainBefore += isPlain(original, x, y) ? 1 : 0;
    }
    constexpr std::size_t kEnough = 4;
    return count >= kEnough && plain * 100 >= count * 95 && plainBefore * 2 <= count;
}

std::span<const DamageWords> textureDamages() {
    return kDamages;
}

std::string withNames(const std::string& words, const std::string& identifier) {
    const std::size_t at = words.find("NAME_");
    return at == std::string::npos ? words : std::string(words).replace(at, 4, identifier);
}

const DamageWords& wordsOf(TextureDamage damage) {
    return *std::ranges::find(kDamages, damage, &DamageWords::damage);
}

std::size_t rowsPerFrame(const bake::TextureSet& set, std::size_t texture) {
    return set.textures[texture].inBlocks ? std::max<std::size_t>(set.layout.rowsPerBlock, 1) : 1;
}

Image damagedBy(TextureDamage damage, const Image& image, std::size_t rowsPerFrame) {
    const std::size_t width = image.width;
    const std::size_t height = image.height;
    const std::size_t kept = height > rowsPerFrame ? height - rowsPerFrame : height;
    switch (damage) {
    case TextureDamage::srgbApplied:
        return curved(image, base::toSrgb<float>);
    case TextureDamage::srgbRemoved:
        return curved(image, base::fromSrgb<float>);
    case TextureDamage::rowsFlipped:
        return made(width, height, image, [&](std::size_t x, std::size_t y, std::size_t c) {
            return valueAt(image, x, height - 1 - y, c);
        });
    case TextureDamage::columnsFlipped:
        return made(width, height, image, [&](std::size_t x, std::size_t y, std::size_t c) {
            return valueAt(image, width - 1 - x, y, c);
        });
    case TextureDamage::channelsSwapped:
        return made(width, height, image, [&](std::size_t x, std::size_t y, std::size_t c) {
            return valueAt(image, x, y, c < 3 ? 2 - c : c);
        });
    case TextureDamage::premultiplied:
        return made(width, height, image, [&](std::size_t x, std::size_t y, std::size_t c) {
            const float alpha = c < 3 && image.channels == 4 ? valueAt(image, x, y, 3) : 1.0f;
            return valueAt(image, x, y, c) * alpha;
        });
    case TextureDamage::eightBits: {
        return made(width, height, image, [&](std::size_t x, std::size_t y, std::size_t c) {
            return std::round(std::clamp(valueAt(image, x, y, c), 0.0f, 1.0f) * 255.0f) / 255.0f;
        });
    }
    case TextureDamage::halfSize:
        return halved(image);
    case TextureDamage::blockCompressed: {
        Image compressed = image;
        for (std::size_t y = 0; y < height; y += 4) {
            for (std::size_t x = 0; x < width; x += 4) {
                compressBlock(compressed, x, y);
            }
        }
        return compressed;
    }
    case TextureDamage::firstFrameMissing:
        return withoutRows(image, height - kept, kept);
    case TextureDamage::lastFrameMissing:
        return withoutRows(image, 0, kept);
    }
    return image;
}

Image asSampled(const Image& given, const Image& expected) {
    const auto nearest = [](std::size_t at, std::size_t of, std::size_t texels) {
        return (2 * at + 1) * texels / (2 * of);
    };
    return made(expected.width, expected.height, expected, [&](std::size_t x, std::size_t y, std::size_t c) {
        return c < given.channels ? valueAt(given, nearest(x, expected.width, given.width),
                                            nearest(y, expected.height, given.height), c)
                                  : 1.0f;
    });
}

} // namespace ripple::bundle
