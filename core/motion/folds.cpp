#include "motion/folds.h"

#include "mesh/normals.h"

#include "base/progress.h"
#include "motion/density.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

constexpr float kRightAngle = 90.0f;

glm::vec3 faceOf(const mesh::Mesh& mesh, std::size_t t, std::span<const glm::vec3> positions) {
    const glm::vec3& a = positions[mesh.indices[t]];
    return glm::cross(positions[mesh.indices[t + 1]] - a, positions[mesh.indices[t + 2]] - a);
}

} // namespace

Folds measureFolds(const Performance& performance, const mesh::Mesh& mesh, int turns,
                   const base::Progress& progress) {
    Folds folds;
    std::vector<glm::vec3> positions(mesh.vertexCount());
    std::vector<glm::vec3> normals(mesh.vertexCount());
    std::vector<char> folded(mesh.triangleCount(), 0);
    // What a triangle's corners are off at rest, at a rim or a hard crease, is not the score's doing.
    std::vector<float> atRest(mesh.indices.size());
    for (std::size_t t = 0; t < mesh.indices.size(); t += 3) {
        const glm::vec3 face = faceOf(mesh, t, mesh.positions);
        const bool area = glm::dot(face, face) > 0.0f;
        for (std::size_t k = 0; k < 3; ++k) {
            atRest[t + k] = area ? mesh::degreesBetween(face, mesh.normals[mesh.indices[t + k]]) : 180.0f;
        }
    }
    for (int i = 0; i < turns; ++i) {
        progress.checkpoint();
        const double turn = static_cast<double>(i) / turns;
        performance.pose(turn, {}, positions, normals);
        for (std::size_t t = 0; t < mesh.indices.size(); t += 3) {
            const glm::vec3 face = faceOf(mesh, t, positions);
            for (std::size_t k = 0; k < 3; ++k) {
                const std::uint32_t v = mesh.indices[t + k];
                const float off = mesh::degreesBetween(face, normals[v]);
                if (off <= std::max(kRightAngle, atRest[t + k] + 0.5f * kRightAngle)) {
                    continue;
                }
                folded[t / 3] = 1;
                if (static_cast<double>(off) > folds.normalOff) {
                    folds.normalOff = static_cast<double>(off);
                    folds.vertex = v;
                    folds.turn = turn;
                }
            }
        }
        const std::vector<float> strain = edgeStrain(mesh, positions);
        const auto most = std::max_element(strain.begin(), strain.end());
        if (most != strain.end() && static_cast<double>(*most) > folds.stretch) {
            folds.stretch = static_cast<double>(*most);
            folds.stretched = static_cast<std::size_t>(most - strain.begin());
            folds.stretchTurn = turn;
        }
    }
    folds.triangles = static_cast<std::size_t>(std::count(folded.begin(), folded.end(), 1));
    return folds;
}

} // namespace ripple::motion
