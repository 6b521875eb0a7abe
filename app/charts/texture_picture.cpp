#include "app/charts/texture_picture.h"

#include "base/parallel.h"

#include <QObject>

#include <algorithm>
#include <array>
#include <cstring>
#include <limits>

#include <Imath/half.h>

namespace ripple::app {

namespace {

/// The number in a channel: of whole numbers 0..1, of floats itself.
float numberAt(const image::Image& image, std::size_t x, std::size_t y, std::size_t channel) {
    const std::byte* at = image.texel(x, y) + channel * image::bytesPer(image.pixel);
    switch (image.pixel) {
    case image::Pixel::u8:
        return static_cast<float>(std::to_integer<int>(*at)) / 255.0f;
    case image::Pixel::u16: {
        std::uint16_t value = 0;
        std::memcpy(&value, at, sizeof value);
        return static_cast<float>(value) / 65535.0f;
    }
    case image::Pixel::half: {
        Imath::half value;
        std::memcpy(static_cast<void*>(&value), at, sizeof value);
        return static_cast<float>(value);
    }
    case image::Pixel::float32:
        break;
    }
    float value = 0.0f;
    std::memcpy(&value, at, sizeof value);
    return value;
}

/// Rows and columns of the image that hold something.
struct Used {
    std::size_t rows = 0;
    std::size_t frameRows = 1;     ///< rows of one frame
    std::size_t lastRowTexels = 0; ///< used in the last of those

    std::size_t texelsIn(std::size_t y, std::size_t width) const {
        return y % frameRows + 1 == frameRows ? lastRowTexels : width;
    }
};

Used usedPart(const bake::TextureSet& set, const bake::Texture& texture) {
    if (texture.role == bake::Role::weight) {
        return {texture.image.height, 1, texture.image.width};
    }
    const bake::Layout& layout = set.layout;
    return {layout.usedHeight(), layout.rowsPerFrame,
            layout.columns - (layout.rowsPerFrame - 1) * layout.width};
}

struct Spread {
    std::array<float, 4> low{};
    std::array<float, 4> high{};
};

Spread measure(const image::Image& image, const Used& used) {
    std::vector<Spread> rows(used.rows);
    base::parallelFor(used.rows, 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = begin; y < end; ++y) {
            Spread& row = rows[y];
            row.low.fill(std::numeric_limits<float>::infinity());
            row.high.fill(-std::numeric_limits<float>::infinity());
            for (std::size_t x = 0; x < used.texelsIn(y, image.width); ++x) {
                for (std::size_t c = 0; c < image.channels; ++c) {
                    const float value = numberAt(image, x, y, c);
                    row.low[c] = std::min(row.low[c], value);
                    row.high[c] = std::max(row.high[c], value);
                }
            }
        }
    });
    Spread all = rows.front();
    for (const Spread& row : rows) {
        for (std::size_t c = 0; c < 4; ++c) {
            all.low[c] = std::min(all.low[c], row.low[c]);
            all.high[c] = std::max(all.high[c], row.high[c]);
        }
    }
    return all;
}

QString warningFor(const bake::TextureSet& set, const bake::Texture& texture, const Spread& spread) {
    bool constant = true;
    bool zero = true;
    for (std::size_t c = 0; c < texture.image.channels; ++c) {
        constant = constant && spread.low[c] == spread.high[c];
        zero = zero && spread.low[c] == 0.0f && spread.high[c] == 0.0f;
    }
    if (texture.role == bake::Role::position && constant) {
        return set.content == bake::Content::offset ? QObject::tr("Nothing moves: every offset is the same.")
                                                    : QObject::tr("Every vertex is at the same place.");
    }
    if (texture.role == bake::Role::normal && constant) {
        return QObject::tr("Every normal is the same in every frame.");
    }
    if (zero) {
        return texture.role == bake::Role::positionLow
                   ? QObject::tr("The low bytes are all zero: the high bytes suffice.")
                   : QObject::tr("The texture is empty: every number is zero.");
    }
    return {};
}

} // namespace

TexturePicture pictureOf(const bake::TextureSet& set, const SheetChoice& choice, const QColor& ground) {
    TexturePicture picture;
    const bake::Texture* texture = set.find(choice.role);
    if (!texture) {
        return picture;
    }
    const image::Image& image = texture->image;
    const Used used = usedPart(set, *texture);
    const Spread spread = measure(image, used);
    picture.warning = warningFor(set, *texture, spread);
    picture.image =
        QImage(static_cast<int>(image.width), static_cast<int>(image.height), QImage::Format_RGB888);
    picture.image.fill(ground);
    uchar* pixels = picture.image.bits();
    const auto stride = static_cast<std::size_t>(picture.image.bytesPerLine());
    std::array<float, 4> low{};
    std::array<float, 4> scale{};
    for (std::size_t c = 0; c < 4; ++c) {
        const float size = spread.high[c] - spread.low[c];
        const bool directions = choice.role == bake::Role::tangent ||
                                (choice.role == bake::Role::normal && set.kind == bake::Kind::vertices);
        const bool plain = choice.stored || directions || !(size > 0.0f);
        low[c] = plain ? 0.0f : spread.low[c];
        scale[c] = plain ? 1.0f : 1.0f / size;
    }
    const std::size_t most = image.channels - 1;
    base::parallelFor(used.rows, 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = begin; y < end; ++y) {
            uchar* row = pixels + y * stride;
            for (std::size_t x = 0; x < used.texelsIn(y, image.width); ++x) {
                for (std::size_t c = 0; c < 3; ++c) {
                    const std::size_t from =
                        choice.channel < 0 ? c : std::min(static_cast<std::size_t>(choice.channel), most);
                    const float shade = (numberAt(image, x, y, from) - low[from]) * scale[from];
                    row[3 * x + c] = static_cast<uchar>(std::clamp(shade, 0.0f, 1.0f) * 255.0f + 0.5f);
                }
            }
        }
    });
    return picture;
}

QString roleName(const bake::TextureSet& set, bake::Role role) {
    const bool split = set.positionStore.planes == 2;
    switch (role) {
    case bake::Role::position:
        return set.kind == bake::Kind::shapes ? QObject::tr("Shapes")
               : split                        ? QObject::tr("High bytes")
                                              : QObject::tr("Positions");
    case bake::Role::positionLow:
        return QObject::tr("Low bytes");
    case bake::Role::normal:
        return QObject::tr("Normals");
    case bake::Role::tangent:
        return QObject::tr("Tangents");
    case bake::Role::rotation:
        return split ? QObject::tr("Rotations, high bytes") : QObject::tr("Rotations");
    case bake::Role::rotationLow:
        return QObject::tr("Rotations, low bytes");
    case bake::Role::weight:
        break;
    }
    return QObject::tr("Weights");
}

} // namespace ripple::app
