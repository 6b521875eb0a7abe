#include "source/scene_shape.h"

#include "base/units.h"
#include "mesh/subdivide.h"

#include <algorithm>
#include <utility>

namespace ripple::source {

namespace {

/// The joints that move one vertex, each once, strongest first.
using Influences = std::vector<std::pair<std::uint16_t, float>>;

void add(Influences& influences, const SkinWeights& weights, std::size_t vertex, float factor) {
    for (std::size_t i = 0; i < weights.influences; ++i) {
        const std::size_t slot = vertex * weights.influences + i;
        if (weights.weights[slot] <= 0.0f) {
            continue;
        }
        const auto same = std::find_if(influences.begin(), influences.end(), [&](const auto& influence) {
            return influence.first == weights.joints[slot];
        });
        if (same != influences.end()) {
            same->second += factor * weights.weights[slot];
        } else {
            influences.emplace_back(weights.joints[slot], factor * weights.weights[slot]);
        }
    }
}

/// Slots of one width for all vertices: 4, 8, or as many as the fullest needs.
SkinWeights pack(const std::vector<Influences>& vertices) {
    std::size_t most = 1;
    for (const Influences& influences : vertices) {
        most = std::max(most, influences.size());
    }
    SkinWeights packed;
    packed.influences = most <= 4 ? 4 : most <= 8 ? 8 : most;
    packed.joints.assign(vertices.size() * packed.influences, 0);
    packed.weights.assign(vertices.size() * packed.influences, 0.0f);
    for (std::size_t v = 0; v < vertices.size(); ++v) {
        for (std::size_t i = 0; i < vertices[v].size(); ++i) {
            packed.joints[v * packed.influences + i] = vertices[v][i].first;
            packed.weights[v * packed.influences + i] = vertices[v][i].second;
        }
    }
    return packed;
}

void strongestFirst(Influences& influences) {
    std::stable_sort(influences.begin(), influences.end(),
                     [](const auto& a, const auto& b) { return a.second > b.second; });
}

std::vector<glm::vec3> means(const std::vector<glm::vec3>& old, const mesh::Midpoints& midpoints,
                             const ScenePart& part, std::size_t first, std::size_t count) {
    if (old.empty()) {
        return {};
    }
    std::vector<glm::vec3> fresh(count);
    for (std::size_t v = 0; v < count; ++v) {
        const auto [a, b] = midpoints.parents[first + v];
        fresh[v] = 0.5f * (old[a - part.firstVertex] + old[b - part.firstVertex]);
    }
    return fresh;
}

} // namespace

std::size_t mostInfluences(const SceneGeometry& geometry) {
    std::size_t most = 0;
    for (const ScenePart& part : geometry.parts) {
        for (std::size_t v = 0; part.skin >= 0 && v < part.weights.vertexCount(); ++v) {
            const auto begin =
                part.weights.weights.begin() + static_cast<std::ptrdiff_t>(v * part.weights.influences);
            const auto used =
                std::count_if(begin, begin + static_cast<std::ptrdiff_t>(part.weights.influences),
                              [](float w) { return w > 0.0f; });
            most = std::max(most, static_cast<std::size_t>(used));
        }
    }
    return most;
}

void limitInfluences(SceneGeometry& geometry, std::size_t most) {
    for (ScenePart& part : geometry.parts) {
        if (most == 0 || part.skin < 0) {
            continue;
        }
        std::vector<Influences> vertices(part.weights.vertexCount());
        for (std::size_t v = 0; v < vertices.size(); ++v) {
            add(vertices[v], part.weights, v, 1.0f);
            strongestFirst(vertices[v]);
            vertices[v].resize(std::min(vertices[v].size(), most));
        }
        part.weights = pack(vertices);
        normaliseWeights(part.weights);
    }
}

SceneGeometry subdivideScene(const SceneGeometry& geometry) {
    SceneGeometry out = geometry;
    mesh::Midpoints midpoints;
    out.mesh = mesh::subdivide(geometry.mesh, midpoints);
    for (std::size_t p = 0; p < out.parts.size(); ++p) {
        const ScenePart& from = geometry.parts[p];
        ScenePart& part = out.parts[p];
        part.firstVertex = out.mesh.parts[p].firstVertex;
        part.vertexCount = out.mesh.parts[p].vertexCount;
        for (MorphTarget& target : part.morphs) {
            target.positions = means(target.positions, midpoints, from, part.firstVertex, part.vertexCount);
            target.normals = means(target.normals, midpoints, from, part.firstVertex, part.vertexCount);
        }
        if (part.skin < 0) {
            continue;
        }
        std::vector<Influences> vertices(part.vertexCount);
        for (std::size_t v = 0; v < vertices.size(); ++v) {
            const auto [a, b] = midpoints.parents[part.firstVertex + v];
            add(vertices[v], from.weights, a - from.firstVertex, 0.5f);
            add(vertices[v], from.weights, b - from.firstVertex, 0.5f);
        }
        part.weights = pack(vertices);
    }
    return out;
}

void reportWeights(const WeightRepair& repair, const std::string& file, base::Findings& findings) {
    if (repair.vertices > 0) {
        findings.push_back(
            {"weights-off",
             base::Severity::note,
             {file,
              "the skin weights of " + base::countText(repair.vertices) +
                  " vertices do not add up to 1 (off by up to " + base::floatLiteral(repair.largestError) +
                  ")",
              "they were scaled to 1; normalise weights before export to keep them as they are"}});
    }
    if (repair.unweighted > 0) {
        findings.push_back(
            {"weights-none",
             base::Severity::look,
             {file, base::countText(repair.unweighted) + " skinned vertices have no weight at all",
              "they follow their first joint; paint weights for them"}});
    }
}

} // namespace ripple::source
