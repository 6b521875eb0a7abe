#include "bake/layout.h"

#include "base/json_section.h"

#include "base/problem.h"
#include "base/units.h"

#include <algorithm>
#include <bit>
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

LayoutLimits limitsOf(const Recipe& recipe) {
    return {recipe.halfUvs ? std::min(recipe.maxWidth, kWidestForHalfUvs) : recipe.maxWidth,
            recipe.powerOfTwo, recipe.testRow};
}

namespace {

Layout withWidth(std::size_t columns, std::size_t blocks, std::size_t width) {
    Layout layout;
    layout.columns = columns;
    layout.blocks = blocks;
    layout.width = width;
    layout.rowsPerBlock = (columns + width - 1) / width;
    return layout;
}

/// The smallest texture of powers of two; of two as small the wider one, which has fewer rows per frame.
Layout paddedLayout(std::size_t columns, std::size_t blocks, std::size_t maxWidth) {
    Layout best;
    for (std::size_t width = 1; width <= maxWidth; width *= 2) {
        Layout layout = withWidth(columns, blocks, width);
        layout.paddedHeight = std::bit_ceil(layout.usedHeight());
        const bool better = best.width == 0 || layout.width * layout.height() <= best.width * best.height() ||
                            best.height() > kLargestTexture;
        best = better ? layout : best;
        if (width >= columns) {
            break; // wider ones only hold more padding
        }
    }
    return best;
}

} // namespace

Layout makeLayout(std::size_t columns, std::size_t blocks, const LayoutLimits& limits) {
    const std::size_t maxWidth = limits.maxWidth;
    if (maxWidth == 0 || maxWidth > kLargestTexture) {
        base::fail("texture width", std::to_string(maxWidth) + " is not possible",
                   "choose 1 to " + std::to_string(kLargestTexture));
    }
    if (columns == 0 || blocks == 0) {
        base::fail("texture", "has no columns or no frames",
                   "choose at least one clip of a mesh with vertices");
    }
    const std::size_t rows = (columns + maxWidth - 1) / maxWidth;
    Layout layout = limits.powerOfTwo ? paddedLayout(columns, blocks, maxWidth)
                                      : withWidth(columns, blocks, (columns + rows - 1) / rows);
    if (limits.testRow) {
        layout.testRow = true;
        const bool full = layout.usedHeight() == layout.height();
        layout.paddedHeight = !limits.powerOfTwo ? layout.usedHeight() + 1
                              : full             ? 2 * layout.height()
                                                 : layout.height();
    }
    if (layout.height() > kLargestTexture) {
        const bool widest = maxWidth == kLargestTexture;
        base::fail("texture height",
                   base::countText(blocks) + " frames of " + base::plural(layout.rowsPerBlock, "row") +
                       " make " + base::countText(layout.height()) + " texels" +
                       (limits.powerOfTwo ? " (padded)" : "") + ", over the limit of " +
                       base::countText(kLargestTexture),
                   std::string(widest ? "keep" : "allow a wider texture, keep") +
                       " fewer frames, store shared shapes, or bake the clips apart");
    }
    return layout;
}

nlohmann::ordered_json layoutJson(const Layout& layout) {
    nlohmann::ordered_json json = {{"columns", layout.columns},
                                   {"width", layout.width},
                                   {"height", layout.height()},
                                   {"rows_per_frame", layout.rowsPerBlock},
                                   {"frames", layout.blocks}};
    if (layout.paddedHeight) {
        json["padded"] = true;
    }
    if (layout.testRow) {
        json["test_row"] = true;
    }
    return json;
}

Layout parseLayout(const base::JsonSection& section, std::optional<std::size_t> columns) {
    constexpr std::size_t kMostColumns = std::size_t{1} << 40;
    Layout layout;
    layout.columns = columns ? *columns : section.count("columns", kMostColumns);
    layout.width = section.count("width", kLargestTexture);
    layout.rowsPerBlock = section.count("rows_per_frame", kLargestTexture);
    layout.blocks = section.count("frames", kLargestTexture);
    const std::size_t height = section.count("height", kLargestTexture);
    const bool padded = section.has("padded") && section.flag("padded");
    if (layout.width == 0 || layout.rowsPerBlock == 0 || layout.blocks == 0 || layout.columns == 0 ||
        layout.columns > layout.width * layout.rowsPerBlock || height < layout.usedHeight() ||
        (!padded && height != layout.usedHeight())) {
        section.wrong("height", "does not fit columns, width, rows and frames");
    }
    layout.paddedHeight = padded ? height : 0;
    layout.testRow = section.has("test_row") && section.flag("test_row");
    if (layout.testRow && height == layout.usedHeight()) {
        section.wrong("height", "has no room for the test row");
    }
    return layout;
}

} // namespace ripple::bake
