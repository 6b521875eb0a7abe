#pragma once

#include "bake/recipe.h"

#include <cstddef>
#include <optional>

#include <glm/vec2.hpp>
#include <nlohmann/json_fwd.hpp>

namespace ripple::base {
class JsonSection;
}

namespace ripple::bake {

/// Where in the textures a column lies (docs/definitions.md §5). A block of R = rowsPerBlock rows holds one
/// texel for each column; blocks follow each other, one for each frame, or for each shape that frames share.
/// The texel of column c in block b is x = c mod width, y = b·R + ⌊c / width⌋, row 0 at the top.
struct Layout {
    std::size_t columns = 0;
    std::size_t width = 0;
    std::size_t rowsPerBlock = 0;
    std::size_t blocks = 0;
    std::size_t paddedHeight = 0; ///< rows of the texture; 0: just those of its blocks
    bool testRow = false;         ///< the row below the blocks is that of test_row.h

    std::size_t usedHeight() const { return blocks * rowsPerBlock; }
    std::size_t height() const { return paddedHeight ? paddedHeight : usedHeight(); }
    std::size_t x(std::size_t column) const { return column % width; }
    std::size_t y(std::size_t block, std::size_t column) const {
        return block * rowsPerBlock + column / width;
    }
    /// The column whose lookup UV is `uv`; columns or more when it points outside.
    std::size_t columnAt(glm::vec2 uv) const;
    /// Centre of the column's texel in block 0, origin at the top left.
    glm::vec2 lookupUv(std::size_t column) const;

    bool operator==(const Layout&) const = default;
};

/// The layout as a section of the manifest: columns, width, height, rows_per_frame, frames, padded and
/// test_row where they are. The other way throws base::Failure for numbers that do not go together;
/// `columns`: those that it has where the section does not say them.
nlohmann::ordered_json layoutJson(const Layout& layout);
Layout parseLayout(const base::JsonSection& section, std::optional<std::size_t> columns = {});

/// What a texture may be.
struct LayoutLimits {
    std::size_t maxWidth = 2048; ///< texels
    bool powerOfTwo = false;     ///< both sides
    bool testRow = false;        ///< one more row than the blocks take
};
/// The limits of a recipe, that of half-float UVs among them.
LayoutLimits limitsOf(const Recipe& recipe);

/// As few rows as the width allows, and then no wider than those rows need: 4 225 columns within 2 048 lie in
/// 3 rows of 1 409. With powers of two, of all widths that which makes the smallest texture. Throws
/// base::Failure if the height would exceed kLargestTexture.
Layout makeLayout(std::size_t columns, std::size_t blocks, const LayoutLimits& limits);

} // namespace ripple::bake
