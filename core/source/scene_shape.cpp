#include "source/scene_shape.h"

#include "base/units.h"
#include "mesh/subdivide.h"
#include "source/influences.h"

#include <algorithm>
#include <utility>

namespace ripple::source {

namespace {

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
            addInfluences(vertices[v], part.weights, v, 1.0f);
            strongestFirst(vertices[v]);
            vertices[v].resize(std::min(vertices[v].size(), most));
        }
        part.weights = packInfluences(vertices);
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
            addInfluences(vertices[v], from.weights, a - from.firstVertex, 0.5f);
            addInfluences(vertices[v], from.weights, b - from.firstVertex, 0.5f);
        }
        part.weights = packInfluences(vertices);
    }
    return out;
}

void morph(const ScenePart& part, const std::vector<double>& weights, std::span<glm::vec3> positions,
           std::span<glm::vec3> normals) {
    const std::size_t count = std::min(weights.size(), part.morphs.size());
    for (std::size_t m = 0; m < count; ++m) {
        const auto weight = static_cast<float>(weights[m]);
        const MorphTarget& target = part.morphs[m];
        for (std::size_t v = 0; weight != 0.0f && v < target.positions.size(); ++v) {
            positions[v] += weight * target.positions[v];
        }
        for (std::size_t v = 0; weight != 0.0f && v < target.normals.size(); ++v) {
            normals[v] += weight * target.normals[v];
        }
    }
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
