#include "scatter/merged.h"

#include "bake/pose_decoder.h"
#include "base/problem.h"
#include "base/units.h"
#include "mesh/uv_sets.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::scatter {

namespace {

constexpr std::array kKeepsRows = {
    KeepsRow{Keeps::nothing, "nothing", "Nothing",
             "The pivot is lost: heights, distances and directions are those of the merged mesh"},
    KeepsRow{Keeps::masks, "masks", "Masks",
             "Each voice's mask and course are stored at the vertices; bends still look for their pivot"},
    KeepsRow{Keeps::uvs, "uvs", "Pivot in UV sets", "Exact; takes three UV sets, four on slopes"},
    KeepsRow{Keeps::colours, "colours", "Pivot in colours",
             "Takes no UV set; 8 bits a channel, and size and tilt are lost"},
};

float rounded(float part) {
    return std::round(255.0f * std::clamp(part, 0.0f, 1.0f)) / 255.0f;
}

template <typename Element>
void repeat(std::vector<Element>& to, const std::vector<Element>& from) {
    to.insert(to.end(), from.begin(), from.end());
}

} // namespace

std::span<const KeepsRow> keepsRows() {
    return kKeepsRows;
}

const KeepsRow& rowOf(Keeps keeps) {
    return kKeepsRows[static_cast<std::size_t>(keeps)]; // in the order of the kinds
}

glm::vec4 Pivot::rotation() const {
    constexpr float kHalfTurn = 3.14159265f;
    const float up = std::sqrt(std::max(0.0f, 1.0f - glm::dot(tilt, tilt)));
    const glm::quat turned(std::cos(kHalfTurn * yaw), 0.0f, std::sin(kHalfTurn * yaw), 0.0f);
    return components(uprightTo({tilt.x, up, tilt.y}) * turned); // merge_code.cpp prints the same
}

Pivot pivotOf(const Copy& copy) {
    Pivot pivot;
    pivot.origin = copy.origin;
    pivot.yaw = copy.own.turn;
    const glm::vec3 up = copy.rotation * glm::vec3(0.0f, 1.0f, 0.0f);
    pivot.tilt = {up.x, up.z};
    pivot.scale = copy.own.size;
    pivot.id = copy.own.id;
    return pivot;
}

Pivot pivotOf(const CopyState& state) {
    Pivot pivot;
    pivot.origin = state.origin;
    const glm::vec3 up = bake::turned(state.rotation, {0.0f, 1.0f, 0.0f});
    pivot.tilt = {up.x, up.z};
    const glm::quat upright = glm::conjugate(uprightTo(up));
    const glm::quat own(state.rotation.w, state.rotation.x, state.rotation.y, state.rotation.z);
    const glm::quat yaw = upright * own;
    const float turns = std::atan2(yaw.y, yaw.w) / 3.14159265f;
    pivot.yaw = turns - std::floor(turns);
    pivot.scale = state.scale;
    pivot.id = state.id;
    return pivot;
}

std::vector<glm::vec2> inUvs(const Pivot& pivot, bool tilted) {
    std::vector<glm::vec2> uvs = {glm::vec2(pivot.origin.x, pivot.origin.y),
                                  glm::vec2(pivot.origin.z, pivot.yaw), glm::vec2(pivot.scale, pivot.id)};
    if (tilted) {
        uvs.push_back(pivot.tilt);
    }
    return uvs;
}

Pivot fromUvs(std::span<const glm::vec2> uvs) {
    return {{uvs[0].x, uvs[0].y, uvs[1].x},
            uvs[1].y,
            uvs.size() > 3 ? uvs[3] : glm::vec2(0.0f),
            uvs[2].x,
            uvs[2].y};
}

bool areTilted(std::span<const Copy> copies) {
    return std::ranges::any_of(
        copies, [](const Copy& copy) { return copy.rotation.x != 0.0f || copy.rotation.z != 0.0f; });
}

glm::vec4 inColour(const Pivot& pivot, const mesh::Bounds& box) {
    const glm::vec3 part = (pivot.origin - box.min) / glm::max(box.size(), glm::vec3(1e-20f));
    // A whole turn is the step after the last, so that it is 0 again.
    const float yaw = std::fmod(std::round(256.0f * pivot.yaw), 256.0f) / 255.0f;
    return {rounded(part.x), rounded(part.y), rounded(part.z), yaw};
}

Pivot fromColour(const glm::vec4& colour, const mesh::Bounds& box) {
    Pivot pivot;
    pivot.origin = box.min + glm::vec3(colour) * box.size();
    pivot.yaw = colour.w * (255.0f / 256.0f);
    return pivot;
}

mesh::Bounds boxOf(std::span<const Copy> copies) {
    mesh::Bounds box;
    for (const Copy& copy : copies) {
        box.add({&copy.origin, 1});
    }
    return box;
}

Merged mergeCopies(const mesh::Mesh& mesh, std::span<const Copy> copies, Keeps keeps) {
    const std::size_t vertices = mesh.vertexCount();
    const std::size_t all = vertices * copies.size();
    if (all == 0) {
        base::fail("merged copies", "are none", "take at least one copy of a mesh that has vertices");
    }
    if (all > kMostMergedVertices) {
        base::fail("merged copies", "would have " + base::countText(all) + " vertices",
                   "merge fewer copies: up to " + base::countText(kMostMergedVertices / vertices) +
                       " of this mesh");
    }
    Merged made;
    made.pivotUvSet = mesh.uvSets.size();
    made.tilted = areTilted(copies);
    const std::size_t added = keeps != Keeps::uvs ? 0 : made.tilted ? 4 : 3;
    if (made.pivotUvSet + added > mesh::kMostLookupUvSet + 1) {
        base::fail("merged copies",
                   "need " + base::countText(added) + " UV sets for their pivots, and the mesh has " +
                       base::countText(mesh.uvSets.size()) + " of the " +
                       base::countText(mesh::kMostLookupUvSet + 1) + " that there may be",
                   "keep the pivot in the colours, or take UV sets away");
    }
    made.box = boxOf(copies);
    mesh::Mesh& to = made.mesh;
    to.materials = mesh.materials;
    to.uvSets.resize(mesh.uvSets.size() + added);
    for (const mesh::StoredValue& stored : mesh.stored) {
        to.stored.push_back({stored.name, {}});
    }
    for (const Copy& copy : copies) {
        const Pivot pivot = pivotOf(copy);
        const glm::vec4 rotation = components(copy.rotation);
        for (std::size_t v = 0; v < vertices; ++v) {
            to.positions.push_back(copy.origin + copy.own.size * bake::turned(rotation, mesh.positions[v]));
            to.normals.push_back(bake::turned(rotation, mesh.normals[v]));
        }
        for (const glm::vec4& tangent : mesh.tangents) {
            to.tangents.push_back(glm::vec4(bake::turned(rotation, glm::vec3(tangent)), tangent.w));
        }
        for (std::size_t set = 0; set < mesh.uvSets.size(); ++set) {
            repeat(to.uvSets[set], mesh.uvSets[set]);
        }
        for (std::size_t s = 0; s < mesh.stored.size(); ++s) {
            repeat(to.stored[s].values, mesh.stored[s].values);
        }
        if (keeps == Keeps::uvs) {
            const auto uvs = inUvs(pivot, made.tilted);
            for (std::size_t k = 0; k < uvs.size(); ++k) {
                to.uvSets[made.pivotUvSet + k].insert(to.uvSets[made.pivotUvSet + k].end(), vertices, uvs[k]);
            }
        }
        if (keeps == Keeps::colours) {
            to.colours.insert(to.colours.end(), vertices, inColour(pivot, made.box));
        } else {
            repeat(to.colours, mesh.colours);
        }
    }
    // A part's vertices lie together, so that each copy brings parts of its own.
    for (std::size_t c = 0; c < copies.size(); ++c) {
        const auto firstVertex = static_cast<std::uint32_t>(c * vertices);
        for (mesh::Part part : mesh.parts) {
            part.firstVertex += firstVertex;
            part.firstIndex += static_cast<std::uint32_t>(c * mesh.indices.size());
            to.parts.push_back(std::move(part));
        }
        for (const std::uint32_t index : mesh.indices) {
            to.indices.push_back(firstVertex + index);
        }
    }
    return made;
}

} // namespace ripple::scatter
