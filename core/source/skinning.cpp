#include "source/skinning.h"

#include "base/lanes.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include <glm/geometric.hpp>
#include <glm/mat3x3.hpp>

namespace ripple::source {

namespace {

using Lane = base::Lanes;

struct Columns {
    Lane c[4];
};

Lane load(const glm::vec4& value) {
    Lane lane;
    std::memcpy(&lane, &value, sizeof lane);
    return lane;
}

/// y, z, x.
Lane turnedAxes(Lane v) {
    return __builtin_shufflevector(v, v, 1, 2, 0, 3);
}

void store(Lane value, glm::vec3& target) {
    target = {value[0], value[1], value[2]};
}

glm::vec3 unitOr(Lane value, const glm::vec3& otherwise) {
    const Lane square = value * value;
    const float length2 = square[0] + square[1] + square[2];
    if (!(length2 > 1e-30f)) {
        return otherwise;
    }
    const Lane unit = value * base::lanes(1.0f / std::sqrt(length2));
    return {unit[0], unit[1], unit[2]};
}

std::vector<Columns> columnsOf(std::span<const glm::mat4> palette) {
    std::vector<Columns> columns(palette.size());
    for (std::size_t j = 0; j < palette.size(); ++j) {
        for (int c = 0; c < 4; ++c) {
            columns[j].c[c] = load(palette[j][c]);
        }
    }
    return columns;
}

void place(const Columns& m, const glm::vec3& restPosition, glm::vec3& position) {
    const Lane p = m.c[0] * base::lanes(restPosition.x) + m.c[1] * base::lanes(restPosition.y) +
                   m.c[2] * base::lanes(restPosition.z) + m.c[3];
    store(p, position);
}

void orient(const Columns& m, const glm::vec3& restNormal, glm::vec3& normal) {
    // Columns of the cofactor matrix of (a b c) are b×c, c×a, a×b; their sum x(b×c) + y(c×a) + z(a×b) is the
    // sum of only two products, a×(z·b − y·c) + b×(x·c).
    const Lane u = m.c[1] * base::lanes(restNormal.z) - m.c[2] * base::lanes(restNormal.y);
    const Lane w = m.c[2] * base::lanes(restNormal.x);
    const Lane turned =
        (m.c[0] * turnedAxes(u) - turnedAxes(m.c[0]) * u) + (m.c[1] * turnedAxes(w) - turnedAxes(m.c[1]) * w);
    normal = unitOr(turnedAxes(turned), restNormal);
}

/// `Influences`: known when compiling, or 0 for the number in `weights`.
template <std::size_t Influences>
void skinBy(const SkinWeights& weights, std::span<const Columns> palette,
            std::span<const glm::vec3> restPositions, std::span<const glm::vec3> unposedNormals,
            std::span<glm::vec3> positions, std::span<glm::vec3> normals) {
    const std::size_t count = restPositions.size();
    const std::uint16_t* joint = weights.joints.data();
    const float* weight = weights.weights.data();
    const std::size_t influences = Influences ? Influences : weights.influences;
    for (std::size_t v = 0; v < count; ++v, joint += influences, weight += influences) {
        const Columns& first = palette[joint[0]];
        Lane w = base::lanes(weight[0]);
        Columns blended = {{first.c[0] * w, first.c[1] * w, first.c[2] * w, first.c[3] * w}};
        for (std::size_t i = 1; i < influences; ++i) {
            const Columns& m = palette[joint[i]];
            w = base::lanes(weight[i]);
            blended.c[0] += m.c[0] * w;
            blended.c[1] += m.c[1] * w;
            blended.c[2] += m.c[2] * w;
            blended.c[3] += m.c[3] * w;
        }
        place(blended, restPositions[v], positions[v]);
        if (!normals.empty()) {
            orient(blended, unposedNormals[v], normals[v]);
        }
    }
}

} // namespace

void WeightRepair::add(const WeightRepair& other) {
    vertices += other.vertices;
    unweighted += other.unweighted;
    largestError = std::max(largestError, other.largestError);
}

WeightRepair normaliseWeights(SkinWeights& weights) {
    WeightRepair repair;
    for (std::size_t v = 0; v < weights.vertexCount(); ++v) {
        float* w = weights.weights.data() + v * weights.influences;
        double sum = 0.0;
        for (std::size_t i = 0; i < weights.influences; ++i) {
            w[i] = std::isfinite(w[i]) && w[i] > 0.0f ? w[i] : 0.0f;
            sum += static_cast<double>(w[i]);
        }
        if (sum <= 0.0) {
            ++repair.unweighted;
            w[0] = 1.0f;
            continue;
        }
        const auto error = static_cast<float>(std::abs(sum - 1.0));
        if (error > 1e-4f) {
            ++repair.vertices;
            repair.largestError = std::max(repair.largestError, error);
        }
        for (std::size_t i = 0; i < weights.influences; ++i) {
            w[i] = static_cast<float>(static_cast<double>(w[i]) / sum);
        }
    }
    return repair;
}

void skin(const SkinWeights& weights, std::span<const glm::mat4> palette,
          std::span<const glm::vec3> restPositions, std::span<const glm::vec3> unposedNormals,
          std::span<glm::vec3> positions, std::span<glm::vec3> normals) {
    const std::vector<Columns> columns = columnsOf(palette);
    if (weights.influences == 8) {
        skinBy<8>(weights, columns, restPositions, unposedNormals, positions, normals);
    } else if (weights.influences != 4) {
        skinBy<0>(weights, columns, restPositions, unposedNormals, positions, normals);
    } else {
        skinBy<4>(weights, columns, restPositions, unposedNormals, positions, normals);
    }
}

void transform(const glm::mat4& matrix, std::span<const glm::vec3> restPositions,
               std::span<const glm::vec3> unposedNormals, std::span<glm::vec3> positions,
               std::span<glm::vec3> normals) {
    const std::vector<Columns> columns = columnsOf({&matrix, 1});
    for (std::size_t v = 0; v < restPositions.size(); ++v) {
        place(columns[0], restPositions[v], positions[v]);
        if (!normals.empty()) {
            orient(columns[0], unposedNormals[v], normals[v]);
        }
    }
}

} // namespace ripple::source
