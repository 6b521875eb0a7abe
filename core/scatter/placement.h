#pragma once

#include "scatter/copies.h"
#include "scatter/ground.h"

#include <cstddef>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include <glm/gtc/quaternion.hpp>

namespace ripple::scatter {

constexpr std::size_t kMostCopies = 20000;

/// How many copies stand where.
struct Placement {
    std::string pattern = "grid";       ///< a row of patterns()
    std::size_t count = 100;            ///< 1 to kMostCopies
    glm::vec3 size{10.0f, 3.0f, 10.0f}; ///< metres: what they are spread over; of a volume its height as well
    std::uint32_t seed = 1;
    bool alongSurface = false; ///< up is the ground's normal; else +Y
    bool operator==(const Placement&) const = default;
};

/// A way to spread copies. To add one, write its function and a row in placement.cpp.
struct Pattern {
    const char* id;    ///< as on the command line: "even"
    const char* label; ///< for people
    const char* about; ///< one sentence for people
    bool inAir;        ///< copies hang in the volume, not on the ground
    /// Where they are to be about the middle, in −½ … ½ of the size; as many as `placement` says. The middle
    /// one is the height, which only patterns in the air use.
    std::vector<glm::vec3> (*spread)(const Placement& placement);
};

std::span<const Pattern> patterns();
/// Null if there is none of this name.
const Pattern* patternByName(const std::string& id);

/// One copy, as an instance: the model is scaled, then turned, then moved.
struct Copy {
    std::uint32_t index = 0; ///< among all that were to be placed
    glm::vec3 origin{0.0f};  ///< metres
    glm::quat rotation{1.0f, 0.0f, 0.0f, 0.0f};
    Difference own;
};

/// x, y, z and w, as code and textures have them.
inline glm::vec4 components(const glm::quat& rotation) {
    return {rotation.x, rotation.y, rotation.z, rotation.w};
}

/// Turns +Y to `up`, of unit length, by the shortest way.
glm::quat uprightTo(const glm::vec3& up);

/// All copies, in the order of their index. Those that the pattern puts beside the ground are left out;
/// throws base::Failure where all are, for no copies or too many, and for a size that is not above 0.
std::vector<Copy> placeCopies(const Placement& placement, const Differences& differences,
                              const Ground& ground);

} // namespace ripple::scatter
