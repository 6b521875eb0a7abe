#pragma once

#include "bake/texture_set.h"

#include <cstdint>
#include <span>
#include <vector>

#include <glm/vec3.hpp>
#include <glm/vec4.hpp>

namespace ripple::bake {

/// The way back from textures to poses: what a shader that reads them gets, on the processor.
class TextureReader {
public:
    /// All must outlive the reader; columns are numbered by their first vertex. Shapes are decoded here, once
    /// for all frames. `columnOfVertex`, `rest` and `unposedNormals` have one element per vertex.
    TextureReader(const TextureSet& textures, std::span<const std::uint32_t> columnOfVertex,
                  std::span<const glm::vec3> rest, std::span<const glm::vec3> unposedNormals);

    std::size_t vertexCount() const { return columns_.size(); }

    /// Every texel is a vertex's, and frames are blended one by one.
    bool holdsVertices() const { return textures_.kind == Kind::vertices; }

    /// One stored frame, counted over all clips. Spans have vertexCount() elements; either may be empty.
    /// Safe from several threads.
    void frame(std::size_t frame, std::span<glm::vec3> positions, std::span<glm::vec3> normals) const;

    /// `frame` of a clip, fractional: blended linearly, normals renormalised, turns of pieces as nearest-sign
    /// quaternions (docs/definitions.md §5). `normals` may be empty, and `positions` where holdsVertices().
    void at(const BakedClip& clip, float frame, std::span<glm::vec3> positions,
            std::span<glm::vec3> normals) const;

    /// Directions of the tangents, blended like normals; their sign is the mesh's own. Only if the textures
    /// hold them.
    void tangentsAt(const BakedClip& clip, float frame, std::span<glm::vec3> tangents) const;

    /// Stored values of one row of columns: frames, or shapes for Kind::shapes. `values` has layout.columns
    /// elements: positions as stored, before the rest pose is added.
    void storedPositions(std::size_t row, std::span<glm::vec3> values) const;
    void storedNormals(std::size_t row, std::span<glm::vec3> values) const;
    void storedTangents(std::size_t row, std::span<glm::vec3> values) const;
    /// Kind::pieces: x y z w, of unit length, as many as columns.
    void storedRotations(std::size_t frame, std::span<glm::vec4> values) const;
    /// Kind::shapes: as many as layout.frames.
    void storedWeights(std::size_t frame, std::span<float> values) const;

private:
    void blendVertices(const FramePair& pair, std::span<glm::vec3> positions,
                       std::span<glm::vec3> normals) const;
    void blendPieces(const FramePair& pair, std::span<glm::vec3> positions,
                     std::span<glm::vec3> normals) const;
    void blendShapes(const FramePair& pair, std::span<glm::vec3> positions,
                     std::span<glm::vec3> normals) const;
    using Stored = void (TextureReader::*)(std::size_t row, std::span<glm::vec3> values) const;
    void blendDirections(const FramePair& pair, Stored stored, std::span<glm::vec3> directions) const;
    /// Values of columns at the front become values of vertices.
    void spread(std::span<glm::vec3> values) const;
    /// Of the rows' texels: planes of positions and, where alpha holds them, normals.
    void splitRow(std::size_t row, std::vector<std::byte>& planes, std::vector<std::byte>& oct) const;

    const TextureSet& textures_;
    std::span<const std::uint32_t> columns_;
    std::span<const glm::vec3> rest_;
    std::span<const glm::vec3> unposedNormals_;
    std::vector<glm::vec3> shapes_;       ///< Kind::shapes, decoded: shapes × columns
    std::vector<glm::vec3> shapeNormals_; ///< the same; empty when they are not stored
};

/// Reads poses that lie near each other in time: the stored frames around the last one stay decoded, where
/// textures hold vertices and the mesh is not so large that this would take much memory. For one thread.
class PoseReader {
public:
    explicit PoseReader(const TextureReader& reader) : reader_(reader) {}

    /// As TextureReader::at(), to the bit; either span may be empty.
    void at(const BakedClip& clip, float frame, std::span<glm::vec3> positions, std::span<glm::vec3> normals);

private:
    struct Decoded {
        std::size_t frame = 0;
        bool positionsMade = false;
        bool normalsMade = false;
        std::vector<glm::vec3> positions;
        std::vector<glm::vec3> normals;
    };
    Decoded& decoded(std::size_t frame, bool positions, bool normals, const Decoded* keep);

    const TextureReader& reader_;
    Decoded held_[2];
};

/// q · v · q⁻¹ for a unit quaternion x y z w. The emitted code prints this formula.
glm::vec3 turned(const glm::vec4& q, const glm::vec3& v);

} // namespace ripple::bake
