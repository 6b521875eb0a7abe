#include "bundle/imported_mesh.h"

#include "base/srgb.h"
#include "bundle/missampling.h"
#include "mesh/normals.h"
#include "mesh/places.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace ripple::bundle {

namespace {

bool has(std::span<const Fault* const> chosen, Misreading misreading) {
    return std::ranges::any_of(chosen, [&](const Fault* fault) { return fault->misreading == misreading; });
}

/// The mesh of these of its vertices, one after the other, as one part.
mesh::Mesh ofVertices(const mesh::Mesh& mesh, std::span<const std::uint32_t> from,
                      std::vector<std::uint32_t> indices) {
    const auto pick = [&](const auto& values) {
        std::remove_cvref_t<decltype(values)> picked;
        for (const std::uint32_t v : from) {
            if (!values.empty()) {
                picked.push_back(values[v]);
            }
        }
        return picked;
    };
    mesh::Mesh made;
    made.materials = mesh.materials;
    made.positions = pick(mesh.positions);
    made.normals = pick(mesh.normals);
    made.tangents = pick(mesh.tangents);
    made.colours = pick(mesh.colours);
    for (const std::vector<glm::vec2>& set : mesh.uvSets) {
        made.uvSets.push_back(pick(set));
    }
    made.indices = std::move(indices);
    mesh::Part part = mesh.parts.empty() ? mesh::Part() : mesh.parts[0];
    part.firstVertex = part.firstIndex = 0;
    part.vertexCount = static_cast<std::uint32_t>(from.size());
    part.indexCount = static_cast<std::uint32_t>(made.indices.size());
    made.parts = {part};
    return made;
}

mesh::Mesh splitMesh(const mesh::Mesh& mesh) {
    std::vector<std::uint32_t> indices(mesh.indices.size());
    std::iota(indices.begin(), indices.end(), 0u);
    return ofVertices(mesh, mesh.indices, std::move(indices));
}

mesh::Mesh reversedMesh(const mesh::Mesh& mesh) {
    const auto last = static_cast<std::uint32_t>(mesh.vertexCount() - 1);
    std::vector<std::uint32_t> from(mesh.vertexCount());
    std::iota(from.rbegin(), from.rend(), 0u);
    std::vector<std::uint32_t> indices;
    for (const std::uint32_t index : mesh.indices) {
        indices.push_back(last - index);
    }
    return ofVertices(mesh, from, std::move(indices));
}

mesh::Mesh weldedMesh(const mesh::Mesh& mesh) {
    const std::vector<std::uint32_t> places = mesh::placesOf(mesh.positions);
    std::vector<std::uint32_t> from; // of each place the first vertex there
    for (std::uint32_t v = 0; v < places.size(); ++v) {
        if (places[v] == from.size()) {
            from.push_back(v);
        }
    }
    std::vector<std::uint32_t> indices;
    for (const std::uint32_t index : mesh.indices) {
        indices.push_back(places[index]);
    }
    return ofVertices(mesh, from, std::move(indices));
}

} // namespace

bool damagesColours(TextureDamage damage) {
    constexpr std::array kOfColours = {TextureDamage::srgbApplied, TextureDamage::srgbRemoved,
                                       TextureDamage::channelsSwapped, TextureDamage::premultiplied,
                                       TextureDamage::eightBits};
    return std::ranges::find(kOfColours, damage) != kOfColours.end();
}

std::vector<glm::vec4> damagedColours(TextureDamage damage, std::span<const glm::vec4> colours) {
    std::vector<glm::vec4> damaged(colours.begin(), colours.end());
    for (glm::vec4& colour : damaged) {
        for (int c = 0; c < 4; ++c) {
            float& value = colour[c];
            const bool alpha = c == 3;
            if (damage == TextureDamage::eightBits) {
                value = std::round(std::clamp(value, 0.0f, 1.0f) * 255.0f) / 255.0f;
            } else if (damage == TextureDamage::srgbApplied && !alpha) {
                value = base::toSrgb(value);
            } else if (damage == TextureDamage::srgbRemoved && !alpha) {
                value = base::fromSrgb(value);
            } else if (damage == TextureDamage::premultiplied && !alpha) {
                value *= colour[3];
            }
        }
        if (damage == TextureDamage::channelsSwapped) {
            std::swap(colour.r, colour.b);
        }
    }
    return damaged;
}

mesh::AxisMap importedSpace(bool turned, bool scaled) {
    mesh::AxisMap space = turned ? *mesh::axesByLetters({"+X", "-Z", "+Y"}) : mesh::AxisMap();
    space.unit = scaled ? 100.0 : 1.0;
    return space;
}

bool changesMesh(const Fault& fault) {
    constexpr std::array kOfMeshes = {Misreading::otherUvSet, Misreading::halfUvs,     Misreading::vTurned,
                                      Misreading::axesTurned, Misreading::unitChanged, Misreading::normalsNew,
                                      Misreading::welded,     Misreading::split,       Misreading::reordered};
    return fault.bytes ? damagesColours(*fault.bytes)
                       : std::ranges::find(kOfMeshes, *fault.misreading) != kOfMeshes.end();
}

mesh::Mesh importedMesh(const mesh::Mesh& mesh, std::span<const Fault* const> chosen) {
    mesh::Mesh made = mesh;
    if (has(chosen, Misreading::normalsNew)) {
        mesh::NormalBuilder(mesh.indices, mesh.vertexCount(), {}).build(mesh.positions, made.normals);
    }
    const mesh::AxisMap space =
        importedSpace(has(chosen, Misreading::axesTurned), has(chosen, Misreading::unitChanged));
    space.place(made.positions);
    space.turn(made.normals);
    for (std::vector<glm::vec2>& set : made.uvSets) {
        for (glm::vec2& uv : set) {
            uv = has(chosen, Misreading::halfUvs) ? asHalf(uv) : uv;
            uv.y = has(chosen, Misreading::vTurned) ? 1.0f - uv.y : uv.y;
        }
    }
    for (const Fault* fault : chosen) {
        if (fault->bytes && damagesColours(*fault->bytes)) {
            made.colours = damagedColours(*fault->bytes, made.colours);
        }
    }
    return made;
}

mesh::Mesh rebuiltMesh(const mesh::Mesh& mesh, std::size_t uvSet, std::span<const Fault* const> chosen) {
    mesh::Mesh made = importedMesh(mesh, chosen);
    if (has(chosen, Misreading::otherUvSet) && uvSet < made.uvSets.size()) {
        std::swap(made.uvSets[0], made.uvSets[uvSet]);
    }
    made = has(chosen, Misreading::split) ? splitMesh(made) : made;
    made = has(chosen, Misreading::reordered) ? reversedMesh(made) : made;
    return has(chosen, Misreading::welded) ? weldedMesh(made) : made;
}

} // namespace ripple::bundle
