#include "mesh/normals.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::mesh {

NormalBuilder::NormalBuilder(std::span<const std::uint32_t> indices, std::size_t vertexCount,
                             std::span<const std::uint32_t> smoothGroup)
    : indices_(indices.begin(), indices.end()),
      group_(vertexCount) {
    for (std::size_t v = 0; v < vertexCount; ++v) {
        group_[v] = smoothGroup.empty() ? static_cast<std::uint32_t>(v) : smoothGroup[v];
        groups_ = std::max(groups_, std::size_t{group_[v]} + 1);
    }
}

void NormalBuilder::build(std::span<const glm::vec3> positions, std::span<glm::vec3> normals) const {
    // In the order of the triangles, so that sums do not depend on anything else.
    std::vector<glm::vec3> groupNormal(groups_, glm::vec3(0.0f));
    for (std::size_t t = 0; t + 2 < indices_.size(); t += 3) {
        const glm::vec3 p[3] = {positions[indices_[t]], positions[indices_[t + 1]],
                                positions[indices_[t + 2]]};
        const glm::vec3 twiceArea = glm::cross(p[1] - p[0], p[2] - p[0]);
        const float area = glm::length(twiceArea);
        for (std::size_t k = 0; k < 3; ++k) {
            const glm::vec3 a = p[(k + 1) % 3] - p[k];
            const glm::vec3 b = p[(k + 2) % 3] - p[k];
            // atan2 is exact where acos of a rounded cosine is not: thin triangles of cloth.
            groupNormal[group_[indices_[t + k]]] += twiceArea * std::atan2(area, glm::dot(a, b));
        }
    }
    for (glm::vec3& normal : groupNormal) {
        const float length = glm::length(normal);
        normal = length > 0.0f && std::isfinite(length) ? normal / length : glm::vec3(0.0f, 1.0f, 0.0f);
    }
    for (std::size_t v = 0; v < normals.size(); ++v) {
        normals[v] = groupNormal[group_[v]];
    }
}

} // namespace ripple::mesh
