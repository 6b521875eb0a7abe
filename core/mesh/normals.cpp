#include "mesh/normals.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::mesh {

NormalBuilder::NormalBuilder(std::span<const std::uint32_t> indices, std::size_t vertexCount,
                             std::span<const std::uint32_t> smoothGroup)
    : indices_(indices.begin(), indices.end()),
      group_(vertexCount) {
    std::uint32_t groups = 0;
    for (std::size_t v = 0; v < vertexCount; ++v) {
        group_[v] = smoothGroup.empty() ? static_cast<std::uint32_t>(v) : smoothGroup[v];
        groups = std::max(groups, group_[v] + 1);
    }
    groupStart_.assign(std::size_t{groups} + 1, 0);
    for (const std::uint32_t vertex : indices_) {
        ++groupStart_[group_[vertex] + 1];
    }
    for (std::size_t g = 0; g < groups; ++g) {
        groupStart_[g + 1] += groupStart_[g];
    }
    corners_.resize(indices_.size());
    std::vector<std::uint32_t> next(groupStart_.begin(), groupStart_.end() - 1);
    for (std::size_t corner = 0; corner < indices_.size(); ++corner) {
        corners_[next[group_[indices_[corner]]]++] = static_cast<std::uint32_t>(corner);
    }
}

void NormalBuilder::build(std::span<const glm::vec3> positions, std::span<glm::vec3> normals) const {
    // Corner terms first (one cross product a triangle), then sums in a fixed order.
    std::vector<glm::vec3> cornerTerm(indices_.size());
    for (std::size_t t = 0; t + 2 < indices_.size(); t += 3) {
        const glm::vec3 p[3] = {positions[indices_[t]], positions[indices_[t + 1]],
                                positions[indices_[t + 2]]};
        const glm::vec3 twiceArea = glm::cross(p[1] - p[0], p[2] - p[0]);
        const float area = glm::length(twiceArea);
        for (std::size_t k = 0; k < 3; ++k) {
            const glm::vec3 a = p[(k + 1) % 3] - p[k];
            const glm::vec3 b = p[(k + 2) % 3] - p[k];
            // atan2 is exact where acos of a rounded cosine is not: thin triangles of cloth.
            cornerTerm[t + k] = twiceArea * std::atan2(area, glm::dot(a, b));
        }
    }
    std::vector<glm::vec3> groupNormal(groupStart_.size() - 1, glm::vec3(0.0f, 1.0f, 0.0f));
    for (std::size_t g = 0; g + 1 < groupStart_.size(); ++g) {
        glm::vec3 sum(0.0f);
        for (std::uint32_t i = groupStart_[g]; i < groupStart_[g + 1]; ++i) {
            sum += cornerTerm[corners_[i]];
        }
        const float length = glm::length(sum);
        if (length > 0.0f && std::isfinite(length)) {
            groupNormal[g] = sum / length;
        }
    }
    for (std::size_t v = 0; v < normals.size(); ++v) {
        normals[v] = groupNormal[group_[v]];
    }
}

} // namespace ripple::mesh
