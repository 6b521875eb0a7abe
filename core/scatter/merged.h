#pragma once

#include "mesh/bounds.h"
#include "mesh/mesh.h"
#include "scatter/crowd.h"
#include "scatter/placement.h"

#include <span>
#include <vector>

#include <glm/vec2.hpp>
#include <glm/vec4.hpp>

namespace ripple::scatter {

/// What a mesh that many copies were merged into keeps of each (docs/definitions.md §15).
enum class Keeps {
    nothing,
    masks,   ///< masks and courses of a score, as values at the vertices
    uvs,     ///< the pivot, in UV sets of floats
    colours, ///< the pivot, in the vertex colours, 8 bits a channel
};

/// A row for each: its name in files, and words.
struct KeepsRow {
    Keeps keeps;
    const char* id;
    const char* label;
    const char* about; ///< one sentence for people
};
std::span<const KeepsRow> keepsRows();
const KeepsRow& rowOf(Keeps keeps);

/// The place of one copy, as it is stored at its vertices.
struct Pivot {
    glm::vec3 origin{0.0f}; ///< metres, in the merged mesh's space
    float yaw = 0.0f;       ///< turns about the copy's own up direction, 0..1
    glm::vec2 tilt{0.0f};   ///< x and z of that up direction, which is of unit length and points up
    float scale = 1.0f;
    float id = 0.0f; ///< 0..1
    bool operator==(const Pivot&) const = default;

    glm::vec4 rotation() const; ///< unit quaternion x y z w, from the copy to the merged mesh
};
Pivot pivotOf(const Copy& copy);
Pivot pivotOf(const CopyState& state);

/// As UV pairs hold it: (x, y), (z, yaw), (scale, id), and where copies are `tilted` the tilt. Nothing is
/// lost.
std::vector<glm::vec2> inUvs(const Pivot& pivot, bool tilted);
Pivot fromUvs(std::span<const glm::vec2> uvs);
/// Some copy does not stand upright.
bool areTilted(std::span<const Copy> copies);

/// As a colour of 8 bits a channel holds it: the origin within `box` in red, green and blue, the yaw in
/// alpha. Tilt, scale and id are lost. The origin is off by up to 1/510 of the box's size along each axis,
/// the yaw by 1/512 of a turn.
glm::vec4 inColour(const Pivot& pivot, const mesh::Bounds& box);
Pivot fromColour(const glm::vec4& colour, const mesh::Bounds& box);

/// Holds the origins of all.
mesh::Bounds boxOf(std::span<const Copy> copies);

/// Copies of a mesh in one mesh, each where it stands, in the order of the copies.
struct Merged {
    mesh::Mesh mesh;
    std::size_t pivotUvSet = 0; ///< Keeps::uvs: the first of them
    bool tilted = false;        ///< Keeps::uvs: there are four, with the tilt; else three
    mesh::Bounds box;           ///< Keeps::colours
};
/// The most vertices of a merged mesh.
constexpr std::size_t kMostMergedVertices = 4'000'000;
/// Throws base::Failure where that is more than kMostMergedVertices, where the pivot needs UV sets that
/// there is no room for, or for no copies. Keeps::masks: as nothing, for a mesh that has its masks stored.
Merged mergeCopies(const mesh::Mesh& mesh, std::span<const Copy> copies, Keeps keeps);

} // namespace ripple::scatter
