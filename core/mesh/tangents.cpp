#include "mesh/tangents.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::mesh {

glm::vec3 perpendicular(const glm::vec3& v, const glm::vec3& normal) {
    const glm::vec3 flat = v - normal * glm::dot(normal, v);
    const float length = glm::length(flat);
    if (length > 1e-6f * glm::length(v) && std::isfinite(length)) {
        return flat / length;
    }
    const glm::vec3 axis = std::abs(normal.x) < 0.7f ? glm::vec3(1, 0, 0) : glm::vec3(0, 1, 0);
    return glm::normalize(axis - normal * glm::dot(normal, axis));
}

TangentBuilder::TangentBuilder(const Mesh& mesh)
    : indices_(mesh.indices),
      share_(mesh.indices.size(), glm::vec2(0.0f)),
      turn_(mesh.vertexCount(), glm::vec2(1.0f, 0.0f)) {
    for (std::size_t t = 0; t + 2 < indices_.size(); t += 3) {
        for (std::size_t k = 0; k < 3; ++k) {
            const std::uint32_t v = indices_[t + k];
            const glm::dvec3 at(mesh.positions[v]);
            const glm::dvec3 a = glm::dvec3(mesh.positions[indices_[t + (k + 1) % 3]]) - at;
            const glm::dvec3 b = glm::dvec3(mesh.positions[indices_[t + (k + 2) % 3]]) - at;
            const glm::dvec3 twiceArea = glm::cross(a, b);
            const double square = glm::dot(twiceArea, twiceArea);
            if (!(square > 0.0)) {
                continue;
            }
            // The tangent's part in the triangle's plane is x·a + y·b (Cramer's rule with the normal).
            const glm::dvec3 own(mesh.tangents[v]);
            const double weight = std::sqrt(square) * std::atan2(std::sqrt(square), glm::dot(a, b));
            const double x = glm::dot(glm::cross(own, b), twiceArea) / square;
            const double y = glm::dot(glm::cross(a, own), twiceArea) / square;
            share_[t + k] = glm::vec2(weight * x, weight * y);
        }
    }
    // Triangles that lean differently pull the sum aside a little at rest already; that turn is taken back.
    std::vector<glm::vec3> sums(mesh.vertexCount());
    build(mesh.positions, mesh.normals, sums);
    for (std::size_t v = 0; v < sums.size(); ++v) {
        const glm::vec3 own = perpendicular(glm::vec3(mesh.tangents[v]), mesh.normals[v]);
        const float cosine = glm::dot(sums[v], own);
        const float sine = glm::dot(glm::cross(mesh.normals[v], sums[v]), own);
        const float length = std::hypot(cosine, sine);
        turn_[v] = length > 0.0f ? glm::vec2(cosine, sine) / length : glm::vec2(1.0f, 0.0f);
    }
}

void TangentBuilder::build(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals,
                           std::span<glm::vec3> tangents) const {
    std::fill(tangents.begin(), tangents.end(), glm::vec3(0.0f));
    for (std::size_t t = 0; t + 2 < indices_.size(); t += 3) {
        for (std::size_t k = 0; k < 3; ++k) {
            const glm::vec3& at = positions[indices_[t + k]];
            tangents[indices_[t + k]] += share_[t + k].x * (positions[indices_[t + (k + 1) % 3]] - at) +
                                         share_[t + k].y * (positions[indices_[t + (k + 2) % 3]] - at);
        }
    }
    for (std::size_t v = 0; v < tangents.size(); ++v) {
        const glm::vec3 sum = perpendicular(tangents[v], normals[v]);
        tangents[v] = turn_[v].x * sum + turn_[v].y * glm::cross(normals[v], sum);
    }
}

std::vector<glm::vec4> tangentsFromUvs(std::span<const glm::vec3> positions,
                                       std::span<const glm::vec3> normals, std::span<const glm::vec2> uvs,
                                       std::span<const std::uint32_t> indices) {
    std::vector<glm::dvec3> alongU(positions.size(), glm::dvec3(0.0));
    std::vector<glm::dvec3> alongV(positions.size(), glm::dvec3(0.0));
    const auto unit = [](const glm::dvec3& v) {
        const double length = glm::length(v);
        return length > 0.0 ? v / length : v;
    };
    for (std::size_t t = 0; t + 2 < indices.size(); t += 3) {
        for (std::size_t k = 0; k < 3; ++k) {
            const std::uint32_t v = indices[t + k];
            const std::uint32_t next = indices[t + (k + 1) % 3];
            const std::uint32_t last = indices[t + (k + 2) % 3];
            const glm::dvec3 a = glm::dvec3(positions[next]) - glm::dvec3(positions[v]);
            const glm::dvec3 b = glm::dvec3(positions[last]) - glm::dvec3(positions[v]);
            const glm::dvec2 ua = glm::dvec2(uvs[next]) - glm::dvec2(uvs[v]);
            const glm::dvec2 ub = glm::dvec2(uvs[last]) - glm::dvec2(uvs[v]);
            const double area = ua.x * ub.y - ub.x * ua.y;
            if (area == 0.0 || !std::isfinite(area)) {
                continue;
            }
            const double angle = std::atan2(glm::length(glm::cross(a, b)), glm::dot(a, b));
            alongU[v] += angle * unit((a * ub.y - b * ua.y) / area);
            alongV[v] += angle * unit((b * ua.x - a * ub.x) / area);
        }
    }
    std::vector<glm::vec4> tangents;
    tangents.reserve(positions.size());
    for (std::size_t v = 0; v < positions.size(); ++v) {
        const glm::vec3 tangent = perpendicular(glm::vec3(alongU[v]), normals[v]);
        const double side = glm::dot(glm::dvec3(glm::cross(normals[v], tangent)), alongV[v]);
        tangents.emplace_back(tangent, side > 0.0 ? -1.0f : 1.0f);
    }
    return tangents;
}

void requireWholeTangents(Mesh& mesh) {
    if (mesh.tangents.size() != mesh.vertexCount()) {
        mesh.tangents.clear();
    }
}

} // namespace ripple::mesh
