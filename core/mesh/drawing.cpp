#include "mesh/drawing.h"

#include "mesh/bounds.h"

#include <bit>
#include <cmath>

#include <meshoptimizer.h>

namespace ripple::mesh {

namespace {

/// -1..1, the same for vertices at the same place, so that seams stay closed.
float noiseAt(const glm::vec3& place, std::uint32_t axis) {
    std::uint32_t bits = 0x9E3779B9u * (axis + 1);
    for (int k = 0; k < 3; ++k) {
        bits =
            (bits ^ std::bit_cast<std::uint32_t>(place[k] + 0.0f)) * 0x85EBCA6Bu; // +0: -0 is the same place
        bits ^= bits >> 15;
    }
    return static_cast<float>(bits >> 8) / 8388608.0f - 1.0f;
}

/// The simplifier removes what is flat first, but what is flat at rest may be what moves. On a surface that
/// is rough all over by a part of its own edges every vertex matters alike.
std::vector<glm::vec3> roughened(const Mesh& mesh) {
    constexpr float kRoughness = 0.25f; // of an edge
    std::vector<float> edge(mesh.vertexCount(), 0.0f);
    for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
        for (std::size_t k = 0; k < 3; ++k) {
            const std::uint32_t a = mesh.indices[i + k];
            const std::uint32_t b = mesh.indices[i + (k + 1) % 3];
            const glm::vec3 way = mesh.positions[b] - mesh.positions[a];
            edge[a] = std::max(edge[a], std::sqrt(way.x * way.x + way.y * way.y + way.z * way.z));
        }
    }
    std::vector<glm::vec3> rough = mesh.positions;
    for (std::size_t v = 0; v < rough.size(); ++v) {
        const glm::vec3& p = mesh.positions[v];
        rough[v] += kRoughness * edge[v] * glm::vec3(noiseAt(p, 0), noiseAt(p, 1), noiseAt(p, 2));
    }
    return rough;
}

} // namespace

std::vector<std::uint32_t> drawingOrder(const Mesh& mesh) {
    std::vector<std::uint32_t> ordered(mesh.indices.size());
    for (const Part& part : mesh.parts) {
        meshopt_optimizeVertexCache(ordered.data() + part.firstIndex, mesh.indices.data() + part.firstIndex,
                                    part.indexCount, mesh.vertexCount());
    }
    return ordered;
}

Coarse simplified(const Mesh& mesh, std::span<const glm::vec3> shape, double share, Borders borders) {
    const unsigned options =
        borders == Borders::stay ? static_cast<unsigned>(meshopt_SimplifyLockBorder) : 0u;
    Coarse coarse;
    std::vector<std::uint32_t> some;
    for (const Part& part : mesh.parts) {
        some.resize(part.indexCount);
        const std::size_t wanted =
            std::max<std::size_t>(3, static_cast<std::size_t>(share * part.indexCount / 3.0) * 3);
        constexpr float kAnyError = 1e9f;
        const std::size_t count =
            meshopt_simplify(some.data(), mesh.indices.data() + part.firstIndex, part.indexCount,
                             &shape.data()->x, shape.size(), sizeof(glm::vec3),
                             std::min<std::size_t>(wanted, part.indexCount), kAnyError, options, nullptr);
        meshopt_optimizeVertexCache(some.data(), some.data(), count, mesh.vertexCount());
        coarse.parts.push_back(
            {static_cast<std::uint32_t>(coarse.indices.size()), static_cast<std::uint32_t>(count)});
        coarse.indices.insert(coarse.indices.end(), some.begin(),
                              some.begin() + static_cast<std::ptrdiff_t>(count));
    }
    return coarse;
}

Coarse coarsen(const Mesh& mesh, std::size_t triangles, Borders borders) {
    const auto all = static_cast<double>(std::max<std::size_t>(mesh.triangleCount(), 1));
    return simplified(mesh, roughened(mesh), std::min(1.0, static_cast<double>(triangles) / all), borders);
}

} // namespace ripple::mesh
