#pragma once

#include "bake/texture_set.h"

#include <cstdint>
#include <span>
#include <vector>

#include <glm/vec2.hpp>

namespace ripple::bundle {

/// UVs that a mesh keeps as half floats.
glm::vec2 asHalf(const glm::vec2& uv);

/// How a client samples the textures that a lookup UV points into. All false: as it should.
struct Sampling {
    bool atEdges = false; ///< at the corner of a texel instead of its centre
    bool halfUvs = false; ///< the mesh keeps UVs as half floats
    bool vTurned = false; ///< V of the mesh is 1 − V, and the code does not know
    bool linear = false;  ///< filtered over the four texels around, with weights of 1/256
    bool differs() const { return atEdges || halfUvs || vTurned || linear; }
};

/// What a renderer that samples so gets for each texel of a texture whose blocks are `rowsPerBlock` high: the
/// arithmetic of UVs is done in single precision, as a graphics card does it; addresses are clamped.
image::Image sampledSo(const Sampling& sampling, const image::Image& image, std::size_t rowsPerBlock);

/// The same of all textures of a bake that are sampled by a lookup, and of the numbers that lie in UV sets.
void sampleSo(const Sampling& sampling, bake::TextureSet& set);

} // namespace ripple::bundle
