#pragma once

#include "image/image.h"

#include <span>
#include <string>

#include <glm/vec3.hpp>

namespace ripple::code {
class Value;
struct Module;
} // namespace ripple::code

namespace ripple::bake {

/// Per-axis smallest and largest stored value.
struct Range {
    glm::vec3 min{0.0f};
    glm::vec3 max{0.0f};
    bool operator==(const Range&) const = default;
};

/// The most images that one quantity is spread over.
constexpr std::size_t kMostPlanes = 2;

/// A way to store positions. The one place that knows how: the writer, the check, the error measurement and
/// the emitted code all go through these rows. To add one, write a file beside half.cpp and put a row into
/// the table in store.cpp.
struct PositionStore {
    const char* name;   ///< as on the command line and in the manifest
    const char* label;  ///< for people
    const char* about;  ///< one sentence for people: when to take it
    image::Pixel pixel; ///< three channels of this
    std::size_t planes; ///< images: 1, or 2 with the high and the low bytes
    bool usesRange;     ///< false: Range is not needed to decode
    float largest;      ///< largest magnitude that can be stored; infinite if the range adapts

    /// values.size() texels of 3 × bytesPer(pixel) bytes, packed, in each of `planes`. Values must be finite.
    void (*encode)(std::span<const glm::vec3> values, const Range& range, std::byte* const* planes);
    void (*decode)(const std::byte* const* planes, const Range& range, std::span<glm::vec3> values);
    /// Largest error per axis that encode and decode together can make for values inside `range`.
    glm::vec3 (*errorBound)(const Range& range);
    /// In shader code: puts the sampled texels (a vec4 of each plane) into 0..1, or into the value itself
    /// where no range is used; a vec4.
    code::Value (*shader)(std::span<const code::Value> planes);
    /// The two octahedral components (vec2 in 0..1) that ride in alpha; null when this store's alpha cannot
    /// hold 16 bits.
    code::Value (*shaderAlpha)(std::span<const code::Value> planes);

    bool holdsNormals() const { return shaderAlpha != nullptr; }
};

/// A way to store normals. `encode` is null for the row "none": readers then use
/// the rest pose's.
struct NormalStore {
    const char* name;
    const char* label;
    const char* about;
    image::Pixel pixel;   ///< three channels of this in the file
    std::size_t channels; ///< that are used: a texture of two needs two in memory
    void (*encode)(std::span<const glm::vec3> normals, std::byte* texels);
    void (*decode)(const std::byte* texels, std::span<glm::vec3> normals);
    float errorBoundDegrees; ///< largest angle between a unit normal and what is read back
    /// In shader code: the unit vec3 that the sampled `texel` holds, or that an octahedral pair (vec2) is.
    code::Value (*shader)(code::Module& module, const code::Value& texel);

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
extern const PositionStore kUnorm8x2Store;
extern const NormalStore kUnorm8Normals;
extern const NormalStore kOct16Normals;
extern const NormalStore kOct32Normals;
extern const NormalStore kNoNormals;

/// 0..65535 over the range, rounded to nearest: what unorm16 and unorm8x2 both store. Flat over 3 × values.
void quantise16(std::span<const glm::vec3> values, const Range& range, std::uint16_t* to);
void restore16(const std::uint16_t* from, const Range& range, std::span<glm::vec3> values);
glm::vec3 errorBound16(const Range& range);

/// In shader code: the texel itself.
code::Value asSampled(std::span<const code::Value> planes);
/// A whole number below 65536 as two components of 8 bits, each in 0..1: the high byte and the low one.
code::Value bytesOf(const code::Value& whole);

} // namespace ripple::bake
