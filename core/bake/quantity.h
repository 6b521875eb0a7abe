#pragma once

#include <string_view>

namespace ripple::bake {

/// What a texture holds of each column.
struct Quantity {
    const char* id;      ///< in file names: "position"
    const char* sampler; ///< as a parameter of emitted code: "positions"
    const char* label;   ///< for people: "Positions"
    const char* section; ///< of the manifest, that names its files
    bool directions;     ///< unit vectors, by a normal store

    /// Shapes call "position" what they add to positions.
    bool operator==(const Quantity& other) const { return std::string_view(id) == other.id; }
};

inline constexpr Quantity kPosition = {"position", "positions", "Positions", "position", false};
inline constexpr Quantity kNormal = {"normal", "normals", "Normals", "normal", true};
inline constexpr Quantity kTangent = {"tangent", "tangents", "Tangents", "tangent", true};
inline constexpr Quantity kRotation = {"rotation", "rotations", "Rotations", "pieces", false};
inline constexpr Quantity kJoint = {"joints", "joints", "Joints", "joints", false};
inline constexpr Quantity kInfluence = {"influences", "influences", "Influences", "influences", false};
inline constexpr Quantity kWeight = {"weights", "weights", "Weights", "weights", false};

} // namespace ripple::bake
