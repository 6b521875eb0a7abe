#include "bake/texture_reader.h"

#include <algorithm>

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace ripple::bake {

TextureReader::TextureReader(const TextureSet& textures, std::span<const std::uint32_t> columnOfVertex,
                             std::span<const glm::vec3> rest, std::span<const glm::vec3> unposedNormals)
    : textures_(textures),
      columns_(columnOfVertex),
      rest_(rest),
      unposedNormals_(unposedNormals) {}

void TextureReader::frame(std::size_t frame, std::span<glm::vec3> positions,
                          std::span<glm::vec3> normals) const {
    const Layout& layout = textures_.layout;
    std::vector<glm::vec3> values(layout.columns);
    // The rows of a frame follow each other, so its columns are one run of texels.
    const std::size_t row = frame * layout.rowsPerFrame;
    textures_.positionStore.decode(textures_.positions.texel(0, row), textures_.range, values);
    const bool offset = textures_.content == Content::offset;
    for (std::size_t v = 0; v < columns_.size(); ++v) {
        positions[v] = offset ? rest_[v] + values[columns_[v]] : values[columns_[v]];
    }
    if (!textures_.normalStore.stored()) {
        std::copy(unposedNormals_.begin(), unposedNormals_.end(), normals.begin());
        return;
    }
    textures_.normalStore.decode(textures_.normals.texel(0, row), values);
    for (std::size_t v = 0; v < columns_.size(); ++v) {
        normals[v] = values[columns_[v]];
    }
}

void TextureReader::at(const BakedClip& clip, float clipFrame, std::span<glm::vec3> positions,
                       std::span<glm::vec3> normals) const {
    const FramePair pair = framePair(clip, clipFrame);
    frame(pair.first, positions, normals);
    if (pair.fraction == 0.0f || pair.second == pair.first) {
        return;
    }
    std::vector<glm::vec3> nextPositions(positions.size());
    std::vector<glm::vec3> nextNormals(normals.size());
    frame(pair.second, nextPositions, nextNormals);
    for (std::size_t v = 0; v < positions.size(); ++v) {
        positions[v] = glm::mix(positions[v], nextPositions[v], pair.fraction);
        const glm::vec3 n = glm::mix(normals[v], nextNormals[v], pair.fraction);
        const float length = glm::length(n);
        normals[v] = length > 0.0f ? n / length : normals[v];
    }
}

glm::vec3 TextureReader::value(std::size_t frame, std::size_t column) const {
    glm::vec3 result(0.0f);
    const Layout& layout = textures_.layout;
    textures_.positionStore.decode(textures_.positions.texel(layout.x(column), layout.y(frame, column)),
                                   textures_.range, {&result, 1});
    return result;
}

} // namespace ripple::bake
