#pragma once

#include "bake/pose_decoder.h"
#include "bake/texture_set.h"

#include <array>
#include <cstdint>
#include <memory>
#include <mutex>
#include <span>
#include <vector>

#include <glm/vec3.hpp>
#include <glm/vec4.hpp>

namespace ripple::bake {

/// The way back from textures to poses: what a shader that reads them gets, on the processor. Textures for a
/// target hold its axes and unit; what the reader takes and gives is in the source's, metres.
class TextureReader {
public:
    /// All must outlive the reader; columns are numbered by their first vertex. What all frames share (the
    /// shapes) is decoded once, when a pose is asked for. `columnOfVertex`, `rest` and `unposedNormals` have
    /// one element per vertex.
    TextureReader(const TextureSet& textures, std::span<const std::uint32_t> columnOfVertex,
                  std::span<const glm::vec3> rest, std::span<const glm::vec3> unposedNormals);
    ~TextureReader();
    TextureReader(const TextureReader&) = delete;
    TextureReader& operator=(const TextureReader&) = delete;

    std::size_t vertexCount() const { return columns_.size(); }
    const TextureSet& textures() const { return textures_; }
    std::span<const std::uint32_t> columnOfVertex() const { return columns_; }
    /// In the space of the textures, as is all below that is stored.
    std::span<const glm::vec3> rest() const { return rest_; }
    std::span<const glm::vec3> unposedNormals() const { return unposedNormals_; }

    /// Every texel is a vertex's, and frames are blended one by one.
    bool holdsVertices() const;

    /// One stored frame, counted over all clips. Spans have vertexCount() elements; either may be empty.
    /// Safe from several threads.
    void frame(std::size_t frame, std::span<glm::vec3> positions, std::span<glm::vec3> normals) const;

    /// `frame` of a clip, fractional: blended as the kind of bake blends (docs/definitions.md §5). `normals`
    /// may be empty, and `positions` where holdsVertices().
    void at(const BakedClip& clip, float frame, std::span<glm::vec3> positions,
            std::span<glm::vec3> normals) const;

    /// Any stored frames by their weights, as of a cross-fade; spans as in at().
    void blended(const FrameBlend& moment, std::span<glm::vec3> positions,
                 std::span<glm::vec3> normals) const;

    /// Directions of the tangents, blended like normals; their sign is the mesh's own. Only if the textures
    /// hold them.
    void tangentsAt(const BakedClip& clip, float frame, std::span<glm::vec3> tangents) const;

    /// What one block of rows holds, as it is stored: layout.columns elements.
    void storedPositions(std::size_t block, std::span<glm::vec3> values) const;
    void storedNormals(std::size_t block, std::span<glm::vec3> values) const;
    void storedTangents(std::size_t block, std::span<glm::vec3> values) const;
    /// kRotation: x y z w, of unit length.
    void storedRotations(std::size_t block, std::span<glm::vec4> values) const;
    /// kWeight, which has a row a frame: as many as layout.blocks.
    void storedWeights(std::size_t frame, std::span<float> values) const;

    /// kJoint: joints × JointFormat::texels() of one stored frame, ranges undone.
    void storedJoints(std::size_t frame, std::span<glm::vec4> values) const;
    /// The influences of each column.
    std::vector<JointInfluences> storedInfluences() const;

    /// Normals, or tangents, of stored frames, blended and of unit length.
    using Stored = void (TextureReader::*)(std::size_t block, std::span<glm::vec3> values) const;
    void blendDirections(const FrameBlend& moment, Stored stored, std::span<glm::vec3> directions) const;
    /// Values of columns at the front become values of vertices.
    void spread(std::span<glm::vec3> values) const;

private:
    /// The texels of one block in each plane of a quantity.
    std::array<const std::byte*, kMostPlanes> planesOf(const Quantity& quantity, std::size_t block) const;
    /// Of a block's texels: planes of positions and, where alpha holds them, normals.
    void splitBlock(std::size_t block, std::vector<std::byte>& planes, std::vector<std::byte>& oct) const;

    const TextureSet& textures_;
    std::span<const std::uint32_t> columns_;
    std::vector<glm::vec3> placedRest_; ///< where the textures' space is another
    std::vector<glm::vec3> turnedNormals_;
    std::span<const glm::vec3> rest_;
    std::span<const glm::vec3> unposedNormals_;
    const PoseDecoder& decoder() const;
    mutable std::once_flag decoderMade_;
    mutable std::unique_ptr<PoseDecoder> decoder_;
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

} // namespace ripple::bake
