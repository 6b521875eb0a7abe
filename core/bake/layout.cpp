#include "bake/layout.h"

#include "base/problem.h"
#include "base/units.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace ripple::bake {

std::size_t Layout::columnAt(glm::vec2 uv) const {
    if (!(uv.x >= 0.0f && uv.x < 1.0f && uv.y >= 0.0f && uv.y < 1.0f)) {
        return std::numeric_limits<std::size_t>::max();
    }
    const auto cx =
        static_cast<std::size_t>(std::floor(static_cast<double>(uv.x) * static_cast<double>(width)));
    const auto cy =
        static_cast<std::size_t>(std::floor(static_cast<double>(uv.y) * static_cast<double>(height())));
    return cy * width + cx;
}

glm::vec2 Layout::lookupUv(std::size_t column) const {
    return {static_cast<float>((static_cast<double>(x(column)) + 0.5) / static_cast<double>(width)),
            static_cast<float>((static_cast<double>(y(0, column)) + 0.5) / static_cast<double>(height()))};
}

Layout makeLayout(std::size_t columns, std::size_t frames, std::size_t maxWidth) {
    if (maxWidth == 0 || maxWidth > kLargestTexture) {
        base::fail("texture width", std::to_string(maxWidth) + " is not possible",
                   "choose 1 to " + std::to_string(kLargestTexture));
    }
    if (columns == 0 || frames == 0) {
        base::fail("texture", "has no columns or no frames",
                   "choose at least one clip of a mesh with vertices");
    }
    Layout layout;
    layout.columns = columns;
    layout.frames = frames;
    layout.rowsPerFrame = (columns + maxWidth - 1) / maxWidth;
    layout.width = (columns + layout.rowsPerFrame - 1) / layout.rowsPerFrame;
    if (layout.height() > kLargestTexture) {
        base::fail("texture height",
                   base::countText(frames) + " frames of " + base::plural(layout.rowsPerFrame, "row") +
                       " make " + base::countText(layout.height()) + " texels, over the limit of " +
                       base::countText(kLargestTexture),
                   "allow a wider texture, keep fewer frames, or bake the clips apart");
    }
    return layout;
}

} // namespace ripple::bake
