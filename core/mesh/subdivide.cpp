#include "mesh/subdivide.h"

#include <algorithm>
#include <unordered_map>

#include <glm/geometric.hpp>

namespace ripple::mesh {

namespace {

std::uint64_t edgeKey(std::uint32_t a, std::uint32_t b) {
    return (std::uint64_t{std::min(a, b)} << 32) | std::max(a, b);
}

/// Splits one part; vertices and indices are appended.
void splitPart(const Mesh& from, const Part& part, Mesh& to, Midpoints& midpoints) {
    Part fresh = part;
    fresh.firstVertex = static_cast<std::uint32_t>(midpoints.parents.size());
    fresh.firstIndex = static_cast<std::uint32_t>(to.indices.size());
    for (std::uint32_t v = 0; v < part.vertexCount; ++v) {
        midpoints.parents.push_back({part.firstVertex + v, part.firstVertex + v});
    }
    std::unordered_map<std::uint64_t, std::uint32_t> middleOf;
    const auto middle = [&](std::uint32_t a, std::uint32_t b) {
        const auto next = static_cast<std::uint32_t>(midpoints.parents.size());
        const auto [at, isNew] = middleOf.try_emplace(edgeKey(a, b), next);
        if (isNew) {
            midpoints.parents.push_back({std::min(a, b), std::max(a, b)});
        }
        return at->second;
    };
    const auto moved = [&](std::uint32_t v) { return v - part.firstVertex + fresh.firstVertex; };
    for (std::uint32_t i = part.firstIndex; i + 2 < part.firstIndex + part.indexCount; i += 3) {
        const std::uint32_t a = from.indices[i];
        const std::uint32_t b = from.indices[i + 1];
        const std::uint32_t c = from.indices[i + 2];
        const std::uint32_t ab = middle(a, b);
        const std::uint32_t bc = middle(b, c);
        const std::uint32_t ca = middle(c, a);
        to.indices.insert(to.indices.end(),
                          {moved(a), ab, ca, ab, moved(b), bc, ca, bc, moved(c), ab, bc, ca});
    }
    fresh.vertexCount = static_cast<std::uint32_t>(midpoints.parents.size()) - fresh.firstVertex;
    fresh.indexCount = static_cast<std::uint32_t>(to.indices.size()) - fresh.firstIndex;
    to.parts.push_back(std::move(fresh));
}

std::vector<std::uint32_t> splitGroups(const Mesh& from, const Midpoints& midpoints) {
    if (from.smoothGroup.empty()) {
        return {};
    }
    std::uint32_t next = *std::max_element(from.smoothGroup.begin(), from.smoothGroup.end()) + 1;
    std::vector<std::uint32_t> groups;
    groups.reserve(midpoints.parents.size());
    std::unordered_map<std::uint64_t, std::uint32_t> groupOf;
    for (const auto& [a, b] : midpoints.parents) {
        if (a == b) {
            groups.push_back(from.smoothGroup[a]);
            continue;
        }
        const auto [at, isNew] = groupOf.try_emplace(edgeKey(from.smoothGroup[a], from.smoothGroup[b]), next);
        next += isNew;
        groups.push_back(at->second);
    }
    return groups;
}

} // namespace

Mesh subdivide(const Mesh& mesh, Midpoints& midpoints) {
    Mesh out;
    out.materials = mesh.materials;
    midpoints.parents.clear();
    out.indices.reserve(mesh.indices.size() * 4);
    for (const Part& part : mesh.parts) {
        splitPart(mesh, part, out, midpoints);
    }
    const std::size_t vertices = midpoints.parents.size();
    out.positions.resize(vertices);
    midpoints.mean(mesh.positions, out.positions);
    out.normals.resize(vertices);
    midpoints.mean(mesh.normals, out.normals);
    for (std::size_t v = 0; v < vertices; ++v) {
        const float length = glm::length(out.normals[v]);
        if (midpoints.parents[v][0] != midpoints.parents[v][1] && length > 0.0f) {
            out.normals[v] /= length;
        }
    }
    for (const auto& set : mesh.uvSets) {
        out.uvSets.emplace_back(vertices);
        midpoints.mean(set, out.uvSets.back());
    }
    if (!mesh.tangents.empty()) {
        out.tangents.resize(vertices);
        midpoints.mean(mesh.tangents, out.tangents);
        for (std::size_t v = 0; v < vertices; ++v) {
            const glm::vec3 direction(out.tangents[v]);
            const float length = glm::length(direction);
            const float sign = mesh.tangents[midpoints.parents[v][0]].w;
            out.tangents[v] = glm::vec4(length > 0.0f ? direction / length : direction, sign);
        }
    }
    for (const StoredValue& stored : mesh.stored) {
        out.stored.push_back({stored.name, std::vector<float>(vertices)});
        midpoints.mean(stored.values, out.stored.back().values);
    }
    if (!mesh.colours.empty()) {
        out.colours.resize(vertices);
        midpoints.mean(mesh.colours, out.colours);
    }
    out.smoothGroup = splitGroups(mesh, midpoints);
    return out;
}

} // namespace ripple::mesh
