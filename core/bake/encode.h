#pragma once

// Parts that all kinds of bake share; not for use outside this folder.

#include "bake/bake.h"
#include "bake/columns.h"
#include "bake/poses.h"

#include <array>

namespace ripple::bake {

struct SharedMotion;

/// What one clip's frames cover, as positions and as offsets from rest.
struct Extent {
    mesh::Bounds positions;
    mesh::Bounds offsets;

    /// `ways` becomes the offsets.
    void add(std::span<const glm::vec3> own, std::span<const glm::vec3> rest, std::span<glm::vec3> ways);
};

constexpr std::size_t kChunk = 4096; ///< values that are worked on at a time: they stay in the cache

/// The frames' extents as those of the clips.
std::vector<Extent> joinExtents(std::span<const BakedClip> clips, std::span<const Extent> ofFrame);

/// One pass over all frames; one extent for each clip.
std::vector<Extent> measureExtents(std::span<const BakedClip> clips, const Poses& poses,
                                   std::span<const glm::vec3> rest, const base::Progress& progress);

/// One range of the stored values for all clips, or one for each.
std::vector<Range> rangesOf(std::span<const Extent> extents, Content content, bool perClip);
mesh::Bounds boundsOf(std::span<const Extent> extents);

/// Throws base::Failure when values reach beyond what the store holds.
void requireStorable(const PositionStore& store, std::span<const Range> ranges);

/// Room for the texels of `rows` rows of all vertices, with a little more for the layout to come.
Texels roomFor(std::size_t rows, std::size_t vertices, std::size_t bytesPerTexel, const Recipe& recipe);

/// Pointers to the planes' texel of (row, vertex); planes are `texels` from its first on.
std::array<std::byte*, kMostPlanes> planesAt(std::span<Texels> texels, std::size_t row, std::size_t vertex);

/// Lays texels out as `layout` says, in the memory they have. What is left of rows is black, so that a file's
/// bytes are always the same.
image::Image layOut(Texels&& texels, const Columns& columns, const Layout& layout, image::Pixel pixel);

Baked encodeVertices(const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
                     const Recipe& recipe, const base::Progress& progress, const Baked* earlier);
Baked encodePieces(const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
                   const Recipe& recipe, const base::Progress& progress);
/// The first recipe.shapes of `shared` (with normals where the recipe stores them); no bounds.
Baked encodeShared(const SamplePlan& plan, const SharedMotion& shared, const Recipe& recipe);
Baked encodeJoints(const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
                   const Recipe& recipe, const base::Progress& progress);
Baked encodeShapes(const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
                   const Recipe& recipe, const base::Progress& progress);

} // namespace ripple::bake
