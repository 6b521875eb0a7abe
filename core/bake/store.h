#pragma once

#include "image/image.h"

#include <span>
#include <string>

#include <glm/vec3.hpp>

namespace ripple::bake {

/// Per-axis smallest and largest stored value.
struct Range {
    glm::vec3 min{0.0f};
    glm::vec3 max{0.0f};
    bool operator==(const Range&) const = default;
};

/// A way to store positions. The one place that knows how: the writer, the check, the error measurement and
/// the emitted code all go through these rows. To add one, write a file beside half.cpp and put a row into
/// the table in store.cpp.
struct PositionStore {
    const char* name;      ///< as on the command line and in the manifest
    const char* label;     ///< for people
    const char* about;     ///< one sentence for people: when to take it
    image::Pixel pixel;    ///< three channels of this
    const char* extension; ///< of its file, with the dot
    bool usesRange;        ///< false: Range is not needed to decode
    float largest;         ///< largest magnitude that can be stored; infinite if the range adapts

    /// values.size() texels of 3 × bytesPer(pixel) bytes, packed. Values must be finite.
    void (*encode)(std::span<const glm::vec3> values, const Range& range, std::byte* texels);
    void (*decode)(const std::byte* texels, const Range& range, std::span<glm::vec3> values);
    /// Largest error per axis that encode and decode together can make for values inside `range`.
    glm::vec3 (*errorBound)(const Range& range);
    /// GLSL expression for the decoded vec3 from `texel` (vec4 as sampled), `range_min` and `range_size`
    /// (vec3).
    const char* glsl;
};

/// A way to store normals. `encode` is null for the row "none": readers then use the rest pose's normals.
struct NormalStore {
    const char* name;
    const char* label;
    const char* about;
    image::Pixel pixel;
    void (*encode)(std::span<const glm::vec3> normals, std::byte* texels);
    void (*decode)(const std::byte* texels, std::span<glm::vec3> normals);
    float errorBoundDegrees; ///< largest angle between a unit normal and what is read back
    const char* glsl;        ///< GLSL expression for the decoded unit vec3 from `texel`

    bool stored() const { return encode != nullptr; }
};

std::span<const PositionStore> positionStores();
std::span<const NormalStore> normalStores();

/// By name. Throws base::Failure that lists the names there are.
const PositionStore& positionStore(const std::string& name);
const NormalStore& normalStore(const std::string& name);

extern const PositionStore kFloat32Store;
extern const PositionStore kHalfStore;
extern const PositionStore kUnorm16Store;
extern const NormalStore kUnorm8Normals;
extern const NormalStore kNoNormals;

} // namespace ripple::bake
