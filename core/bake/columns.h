#pragma once

#include "base/no_progress.h"
#include "base/raw_vector.h"

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace ripple::bake {

/// Encoded texels of all frames in vertex order: texel (f, v) at data[(f · vertices + v) · bytesPerTexel].
struct Texels {
    std::size_t vertices = 0;
    std::size_t frames = 0;
    std::size_t bytesPerTexel = 0;
    base::RawVector<std::byte> data;

    const std::byte* at(std::size_t frame, std::size_t vertex) const {
        return data.data() + (frame * vertices + vertex) * bytesPerTexel;
    }
};

/// Which column each vertex reads. Columns are numbered by their first vertex.
struct Columns {
    std::vector<std::uint32_t> ofVertex; ///< vertices
    std::vector<std::uint32_t> first;    ///< columns: a vertex that has it

    std::size_t count() const { return first.size(); }
};

/// Vertices whose texels are equal in every frame and every texture share a column (docs/definitions.md §5).
/// Linear in the texels for any motion. Throws base::Cancelled.
Columns shareColumns(std::span<const Texels* const> textures,
                     const base::Progress& progress = base::noProgress());

} // namespace ripple::bake
