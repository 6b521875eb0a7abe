#include "mesh/faults.h"

#include "mesh/bounds.h"

#include <algorithm>
#include <cstring>
#include <string>
#include <unordered_map>

#include <glm/geometric.hpp>

namespace ripple::mesh {

namespace {

constexpr float kNoHeight = 1e-6f;

void append(std::string& key, const void* bytes, std::size_t count) {
    key.append(static_cast<const char*>(bytes), count);
}

} // namespace

std::vector<std::uint32_t> degenerateTriangles(const Mesh& mesh) {
    std::vector<std::uint32_t> found;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const std::uint32_t* i = mesh.indices.data() + 3 * t;
        const glm::dvec3 a(mesh.positions[i[0]]);
        const glm::dvec3 b(mesh.positions[i[1]]);
        const glm::dvec3 c(mesh.positions[i[2]]);
        const double twiceArea = glm::length(glm::cross(b - a, c - a));
        const double longest = std::max({glm::distance(a, b), glm::distance(b, c), glm::distance(c, a)});
        // Area is height times longest edge: the height is below the limit.
        if (i[0] == i[1] || i[1] == i[2] || i[2] == i[0] ||
            !(twiceArea > static_cast<double>(kNoHeight) * longest * longest)) {
            found.push_back(static_cast<std::uint32_t>(t));
        }
    }
    return found;
}

std::vector<std::uint32_t> unusedVertices(const Mesh& mesh) {
    std::vector<char> used(mesh.vertexCount(), 0);
    for (const std::uint32_t index : mesh.indices) {
        used[index] = 1;
    }
    std::vector<std::uint32_t> unused;
    for (std::size_t v = 0; v < used.size(); ++v) {
        if (!used[v]) {
            unused.push_back(static_cast<std::uint32_t>(v));
        }
    }
    return unused;
}

std::vector<std::uint32_t> firstAlike(const Mesh& mesh) {
    std::vector<std::uint32_t> first(mesh.vertexCount());
    std::unordered_map<std::string, std::uint32_t> seen;
    for (const Part& part : mesh.parts) {
        seen.clear();
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
            std::string key;
            append(key, &mesh.positions[v], sizeof(glm::vec3));
            append(key, &mesh.normals[v], sizeof(glm::vec3));
            for (const auto& set : mesh.uvSets) {
                append(key, &set[v], sizeof(glm::vec2));
            }
            if (!mesh.tangents.empty()) {
                append(key, &mesh.tangents[v], sizeof(glm::vec4));
            }
            for (const StoredValue& stored : mesh.stored) {
                append(key, &stored.values[v], sizeof(float));
            }
            if (!mesh.colours.empty()) {
                append(key, &mesh.colours[v], sizeof(glm::vec4));
            }
            first[v] = seen.try_emplace(std::move(key), v).first->second;
        }
    }
    return first;
}

Mesh without(const Mesh& mesh, const std::vector<char>& triangleDropped,
             const std::vector<std::uint32_t>& replacement, const std::vector<char>& vertexDropped,
             std::vector<std::uint32_t>& kept) {
    Mesh out;
    out.materials = mesh.materials;
    kept.clear();
    constexpr std::uint32_t kGone = 0xFFFFFFFFu;
    std::vector<std::uint32_t> newNumber(mesh.vertexCount(), kGone);
    for (const Part& part : mesh.parts) {
        Part fresh = part;
        fresh.firstVertex = static_cast<std::uint32_t>(kept.size());
        fresh.firstIndex = static_cast<std::uint32_t>(out.indices.size());
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
            if (replacement[v] == v && !vertexDropped[v]) {
                newNumber[v] = static_cast<std::uint32_t>(kept.size());
                kept.push_back(v);
            }
        }
        for (std::uint32_t i = part.firstIndex; i < part.firstIndex + part.indexCount; i += 3) {
            if (triangleDropped[i / 3]) {
                continue;
            }
            for (std::uint32_t k = 0; k < 3; ++k) {
                out.indices.push_back(newNumber[replacement[mesh.indices[i + k]]]);
            }
        }
        fresh.vertexCount = static_cast<std::uint32_t>(kept.size()) - fresh.firstVertex;
        fresh.indexCount = static_cast<std::uint32_t>(out.indices.size()) - fresh.firstIndex;
        if (fresh.indexCount > 0) {
            out.parts.push_back(std::move(fresh));
        } else {
            kept.resize(fresh.firstVertex); // a part of nothing but dropped triangles goes whole
        }
    }
    const auto take = [&kept](const auto& from, auto& to) {
        to.reserve(from.empty() ? 0 : kept.size());
        for (std::size_t v = 0; !from.empty() && v < kept.size(); ++v) {
            to.push_back(from[kept[v]]);
        }
    };
    take(mesh.positions, out.positions);
    take(mesh.normals, out.normals);
    take(mesh.tangents, out.tangents);
    take(mesh.colours, out.colours);
    for (const StoredValue& stored : mesh.stored) {
        out.stored.push_back({stored.name, {}});
        take(stored.values, out.stored.back().values);
    }
    take(mesh.smoothGroup, out.smoothGroup);
    for (const auto& set : mesh.uvSets) {
        out.uvSets.emplace_back();
        take(set, out.uvSets.back());
    }
    return out;
}

std::vector<glm::vec2> projectedUvs(const Mesh& mesh) {
    Bounds bounds;
    bounds.add(mesh.positions);
    const glm::vec3 size = bounds.size();
    const int thin = size.x <= size.y && size.x <= size.z ? 0 : size.y <= size.z ? 1 : 2;
    const int across = thin == 0 ? 2 : 0;
    const int down = thin == 1 ? 2 : 1;
    const float scale = std::max({size[across], size[down], 1e-20f});
    std::vector<glm::vec2> uvs;
    uvs.reserve(mesh.vertexCount());
    for (const glm::vec3& p : mesh.positions) {
        const float u = (p[across] - bounds.min[across]) / scale;
        // V grows downward; seen from above, toward +Z.
        const float v = (down == 1 ? bounds.max[down] - p[down] : p[down] - bounds.min[down]) / scale;
        uvs.emplace_back(u, v);
    }
    return uvs;
}

} // namespace ripple::mesh
