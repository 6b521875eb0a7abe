#include "app/charts/texture_picture.h"

#include "bake/kind.h"
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

Used usedPart(const bake::TextureSet& set, const bake::TextureFormat& texture) {
    if (!texture.inBlocks) {
        return {texture.height, 1, texture.width};
    }
    const bake::Layout& layout = set.layout;
    return {layout.usedHeight(), layout.rowsPerBlock,
            layout.columns - (layout.rowsPerBlock - 1) * layout.width};
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

QString warningFor(const bake::TextureSet& set, const bake::TextureFormat& texture, const Spread& spread) {
    bool constant = true;
    bool zero = true;
    for (std::size_t c = 0; c < texture.channels; ++c) {
        constant = constant && spread.low[c] == spread.high[c];
        zero = zero && spread.low[c] == 0.0f && spread.high[c] == 0.0f;
    }
    if (texture.is(bake::kPosition) && constant) {
        return set.content == bake::Content::offset ? QObject::tr("Nothing moves: every offset is the same.")
                                                    : QObject::tr("Every vertex is at the same place.");
    }
    if (texture.is(bake::kNormal) && constant) {
        return QObject::tr("Every normal is the same in every frame.");
    }
    if (zero) {
        return texture.is(bake::kPosition, 1)
                   ? QObject::tr("The low bytes are all zero: the high bytes suffice.")
                   : QObject::tr("The texture is empty: every number is zero.");
    }
    return {};
}

} // namespace

TexturePicture pictureOf(const bake::TextureSet& set, const SheetChoice& choice, const QColor& ground) {
    TexturePicture picture;
    const bake::TextureFormat* texture = set.find(*choice.quantity, choice.plane);
    if (!texture) {
        return picture;
    }
    const image::Image& image = set.image(*choice.quantity, choice.plane);
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
        const bool plain = choice.stored || texture->quantity->directions || !(size > 0.0f);
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

QString textureName(const bake::TextureFormat& texture) {
    const QString name = texture.quantity->label;
    if (texture.planes > 1 && *texture.quantity == bake::kPosition) {
        return texture.plane == 0 ? QObject::tr("High bytes") : QObject::tr("Low bytes");
    }
    return texture.planes == 1  ? name
           : texture.plane == 0 ? QObject::tr("%1, high bytes").arg(name)
                                : QObject::tr("%1, low bytes").arg(name);
}

} // namespace ripple::app
