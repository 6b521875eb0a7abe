#pragma once

#include "app/session/session.h"

#include <QImage>

namespace ripple::app {

/// Which image of a bake is looked at, and how.
struct SheetChoice {
    const bake::Quantity* quantity = &bake::kPosition;
    std::size_t plane = 0; ///< 1: the low bytes
    int channel = -1;      ///< 0..3: red, green, blue, alpha as grey; -1: all as colours
    bool stored = false;   ///< numbers as they lie in the file; else spread over what occurs
    bool operator==(const SheetChoice&) const = default;
};

/// A texture as a picture, one pixel a texel.
struct TexturePicture {
    QImage image;
    QString warning; ///< that it is empty or constant, in words; empty if it is neither
};

/// Padding is left in `ground`. Runs on several threads; may take some 0.1 s for 16 million texels.
TexturePicture pictureOf(const bake::TextureSet& set, const SheetChoice& choice, const QColor& ground);

/// "Positions", "Rotations, high bytes"
QString textureName(const bake::TextureFormat& texture);

} // namespace ripple::app
