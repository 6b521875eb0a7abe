#pragma once

#include "base/files.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <glm/vec2.hpp>
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>

namespace ripple::mesh {

/// An image as it lies in its file (PNG, JPEG): the core passes it on and never needs its pixels.
struct EncodedImage {
    std::string name;
    std::string mimeType; ///< "image/png" or "image/jpeg"
    base::Bytes bytes;
};

enum class AlphaMode { opaque, mask, blend };
enum class Wrap { repeat, clamp, mirror };

/// Where a texture lies on its UV set: uv' = offset + R(rotation) · (scale · uv) (KHR_texture_transform).
struct UvTransform {
    glm::vec2 offset{0.0f};
    float rotation = 0.0f; ///< radians, counter-clockwise as seen with V downward
    glm::vec2 scale{1.0f};
    bool operator==(const UvTransform&) const = default;
};

/// All that a source says of a material, in glTF 2.0's terms; defined by the source folder, which fills it
/// and writes it on.
struct MaterialDetail;

/// As in glTF 2.0's metallic-roughness material: what is needed to draw it and to lay out its UV sets. The
/// rest is passed on unread in `detail`.
struct Material {
    std::string name;
    bool stated = true; ///< false: the parts that use it name no material, and what is written names none
    glm::vec4 baseColour{1.0f};                          ///< linear factor
    std::shared_ptr<const EncodedImage> baseColourImage; ///< sRGB; may be null
    std::size_t baseColourUvSet = 0;
    UvTransform baseColourTransform;
    Wrap wrapU = Wrap::repeat;
    Wrap wrapV = Wrap::repeat;
    AlphaMode alphaMode = AlphaMode::opaque;
    float alphaCutoff = 0.5f; ///< 0..1, used by AlphaMode::mask
    bool doubleSided = false;
    bool hasNormalMap = false;
    std::vector<std::size_t> uvSetsRead; ///< by any of its textures, ascending; as the mesh has them now
    std::shared_ptr<const MaterialDetail> detail; ///< null: there is no more than the above
    /// Where the UV sets that `detail` names lie now; empty: where it says.
    std::vector<std::size_t> uvSetNow;
};

/// A run of triangles with one material. Its triangles use only its own vertices.
struct Part {
    std::string name;
    std::size_t material = 0; ///< index into Mesh::materials
    std::uint32_t firstVertex = 0;
    std::uint32_t vertexCount = 0;
    std::uint32_t firstIndex = 0;
    std::uint32_t indexCount = 0; ///< a multiple of 3
};

/// A number that was stored at the vertices under a name.
struct StoredValue {
    std::string name;
    std::vector<float> values; ///< vertices
    bool operator==(const StoredValue&) const = default;
};

/// Topology, rest pose and what comes along. All per-vertex arrays have positions.size() elements; metres,
/// right-handed, +Y up, UV origin at the top left.
struct Mesh {
    std::vector<glm::vec3> positions; ///< rest pose
    std::vector<glm::vec3> normals;   ///< rest pose, unit length
    std::vector<glm::vec4> tangents; ///< rest pose; w = ±1: bitangent = w · (normal × tangent), as in glTF;
                                     ///< empty when there are none
    std::vector<std::vector<glm::vec2>> uvSets;
    std::vector<glm::vec4> colours;     ///< linear 0..1; empty when there are none
    std::vector<StoredValue> stored;    ///< as glTF's attributes whose names begin with an underscore
    std::vector<std::uint32_t> indices; ///< triangles, counter-clockwise from the front
    std::vector<Part> parts;            ///< cover all vertices and all indices, in order
    std::vector<Material> materials;    ///< at least one

    /// Vertices with the same value share one normal when normals are made from triangles (a UV seam is no
    /// hard edge). Empty: every vertex is its own group.
    std::vector<std::uint32_t> smoothGroup;

    std::size_t vertexCount() const { return positions.size(); }
    std::size_t triangleCount() const { return indices.size() / 3; }
};

} // namespace ripple::mesh
