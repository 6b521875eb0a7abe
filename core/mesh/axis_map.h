#pragma once

#include "mesh/bounds.h"

#include <array>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include <glm/mat3x3.hpp>
#include <glm/vec3.hpp>

namespace ripple::mesh {

/// From one space to another that differs in axes and unit alone: a signed permutation of the axes, times a
/// factor. The words below call the one "ours" and the other "theirs".
struct AxisMap {
    double unit = 1.0;                   ///< of theirs, to one of ours
    std::array<int, 3> order{{0, 1, 2}}; ///< which of our axes their X, Y and Z are
    std::array<bool, 3> negative{};      ///< and whether they point the other way

    glm::dvec3 of(const glm::dvec3& point) const;
    /// Of a direction: without the unit.
    glm::dvec3 turned(const glm::dvec3& direction) const;

    /// In place, in single precision: positions, and directions.
    void place(std::span<glm::vec3> positions) const;
    void turn(std::span<glm::vec3> directions) const;
    /// The map from theirs to ours.
    AxisMap back() const;
    /// What this one makes of what `first` has made.
    AxisMap after(const AxisMap& first) const;
    /// What turned() does, as a matrix.
    glm::dmat3 matrix() const;
    /// The box that holds what of() makes of all in `bounds`.
    Bounds of(const Bounds& bounds) const;

    bool turns() const;        ///< axes are not ours
    bool mirrors() const;      ///< left and right change places
    bool changes() const;      ///< axes or unit are not ours
    std::string words() const; ///< "its X is +X, its Y is -Z, …"; empty when it changes nothing

    /// "+X", "-Z", "+Y": which of our axes their X, Y and Z are.
    std::array<std::string, 3> letters() const;
    bool operator==(const AxisMap&) const = default;
};

/// The map of such letters, with unit 1; none for letters that are no signed permutation.
std::optional<AxisMap> axesByLetters(const std::array<std::string, 3>& letters);

/// All 48 maps of the axes, the unchanged one first.
std::vector<AxisMap> axisTurns();
/// Those in the units that are common, the ones in metres before all others.
std::vector<AxisMap> axisMaps();

} // namespace ripple::mesh
