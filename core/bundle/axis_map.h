#pragma once

#include <array>
#include <string>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::bundle {

/// What a client may have made of axes and unit: a signed permutation of the axes, times a factor.
struct AxisMap {
    double unit = 1.0;                   ///< of the client's, to a metre
    std::array<int, 3> order{{0, 1, 2}}; ///< which of the bundle's axes the client's X, Y and Z are
    std::array<bool, 3> negative{};      ///< and whether they point the other way

    glm::dvec3 of(const glm::dvec3& point) const;
    /// Of a direction: without the unit.
    glm::dvec3 turned(const glm::dvec3& direction) const;
    bool turns() const;        ///< axes are not the bundle's
    bool mirrors() const;      ///< left and right change places
    std::string words() const; ///< "its X is +X, its Y is -Z, …"; empty when it changes nothing
};

/// All 48 maps of the axes in the units that are common, the unchanged one first and those in metres before
/// all others.
std::vector<AxisMap> axisMaps();

} // namespace ripple::bundle
