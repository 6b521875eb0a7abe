#pragma once

#include "bake/texture_set.h"

#include <cstdint>
#include <span>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::bake {

/// The way back from textures to poses: what a shader that reads them gets, on the processor.
class TextureReader {
public:
    /// All must outlive the reader. `columnOfVertex`, `rest` and `unposedNormals` have one element per
    /// vertex.
    TextureReader(const TextureSet& textures, std::span<const std::uint32_t> columnOfVertex,
                  std::span<const glm::vec3> rest, std::span<const glm::vec3> unposedNormals);

    std::size_t vertexCount() const { return columns_.size(); }

    /// One stored frame, counted in the texture. Spans have vertexCount() elements. Safe from several
    /// threads.
    void frame(std::size_t frame, std::span<glm::vec3> positions, std::span<glm::vec3> normals) const;

    /// `frame` of a clip, fractional: blended linearly, normals renormalised (docs/definitions.md §5).
    void at(const BakedClip& clip, float frame, std::span<glm::vec3> positions,
            std::span<glm::vec3> normals) const;

    /// The stored value (before the rest pose is added) of one texel: for the texture sheet.
    glm::vec3 value(std::size_t frame, std::size_t column) const;

private:
    const TextureSet& textures_;
    std::span<const std::uint32_t> columns_;
    std::span<const glm::vec3> rest_;
    std::span<const glm::vec3> unposedNormals_;
};

} // namespace ripple::bake
