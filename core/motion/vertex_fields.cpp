#include "motion/vertex_fields.h"

#include <glm/geometric.hpp>

namespace ripple::motion {

std::vector<glm::vec3> surfaceSlopes(const mesh::Mesh& mesh, std::span<const float> values) {
    std::vector<glm::dvec3> sum(values.size(), glm::dvec3(0.0));
    std::vector<double> weight(values.size(), 0.0);
    for (std::size_t t = 0; t + 2 < mesh.indices.size(); t += 3) {
        const std::uint32_t* i = mesh.indices.data() + t;
        const glm::dvec3 a(mesh.positions[i[0]]);
        const glm::dvec3 along = glm::dvec3(mesh.positions[i[1]]) - a;
        const glm::dvec3 across = glm::dvec3(mesh.positions[i[2]]) - a;
        const glm::dvec3 twiceArea = glm::cross(along, across);
        const double square = glm::dot(twiceArea, twiceArea);
        if (!(square > 0.0)) {
            continue;
        }
        // The gradient lies in the plane: it gives the two differences along the two edges.
        const double d1 = static_cast<double>(values[i[1]]) - static_cast<double>(values[i[0]]);
        const double d2 = static_cast<double>(values[i[2]]) - static_cast<double>(values[i[0]]);
        const glm::dvec3 gradient =
            (glm::cross(across, twiceArea) * d1 + glm::cross(twiceArea, along) * d2) / square;
        const double area = std::sqrt(square);
        for (int k = 0; k < 3; ++k) {
            sum[i[k]] += gradient * area;
            weight[i[k]] += area;
        }
    }
    std::vector<glm::vec3> slopes(values.size(), glm::vec3(0.0f));
    for (std::size_t v = 0; v < slopes.size(); ++v) {
        if (weight[v] > 0.0) {
            slopes[v] = glm::vec3(sum[v] / weight[v]);
        }
    }
    return slopes;
}

} // namespace ripple::motion
