#include "motion/interpolation_loss.h"

#include "base/progress.h"
#include "mesh/bounds.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

/// Weights of a triangle's corners at its middle and at the middles of its edges.
constexpr std::array<std::array<float, 3>, 4> kPlaces = {
    {{1.0f / 3.0f, 1.0f / 3.0f, 1.0f / 3.0f}, {0.5f, 0.5f, 0.0f}, {0.0f, 0.5f, 0.5f}, {0.5f, 0.0f, 0.5f}}};

/// The fields between the vertices.
class Between {
public:
    Between(const VertexFields& at, const std::vector<std::uint32_t>& indices) : indices_(indices) {
        keep(at.positions, vectors_, fields_.positions);
        keep(at.normals, vectors_, fields_.normals);
        lists(at.uvs, numbers_, fields_.uvs);
        lists(at.colours, numbers_, fields_.colours);
        lists(at.stored, numbers_, fields_.stored);
        lists(at.uvSlopes, vectors_, fields_.uvSlopes);
        lists(at.colourSlopes, vectors_, fields_.colourSlopes);
        lists(at.storedSlopes, vectors_, fields_.storedSlopes);
    }
    const VertexFields& fields() const { return fields_; }

    /// Of values at the vertices: interpolated, as many as there are places.
    template <typename T>
    std::vector<T> of(std::span<const T> values) const {
        std::vector<T> made;
        made.reserve(indices_.size() / 3 * kPlaces.size());
        for (std::size_t t = 0; t + 2 < indices_.size(); t += 3) {
            for (const auto& w : kPlaces) {
                made.push_back(values[indices_[t]] * w[0] + values[indices_[t + 1]] * w[1] +
                               values[indices_[t + 2]] * w[2]);
            }
        }
        return made;
    }

private:
    template <typename T>
    void keep(std::span<const T> from, std::vector<std::unique_ptr<std::vector<T>>>& kept,
              std::span<const T>& into) {
        if (!from.empty()) {
            kept.push_back(std::make_unique<std::vector<T>>(of(from)));
            into = *kept.back();
        }
    }
    template <typename T>
    void lists(const std::vector<std::span<const T>>& from,
               std::vector<std::unique_ptr<std::vector<T>>>& kept, std::vector<std::span<const T>>& into) {
        for (const std::span<const T>& each : from) {
            keep(each, kept, into.emplace_back());
        }
    }

    const std::vector<std::uint32_t>& indices_;
    std::vector<std::unique_ptr<std::vector<glm::vec3>>> vectors_;
    std::vector<std::unique_ptr<std::vector<float>>> numbers_;
    VertexFields fields_;
};

} // namespace

InterpolationLoss interpolationLoss(const Performance& performance, const mesh::Mesh& mesh,
                                    const base::Progress& progress) {
    constexpr int kInstants = 16;
    InterpolationLoss loss;
    const Composition& composition = performance.composition();
    if (mesh.indices.size() < 3 || (!composition.uvShift && !composition.alpha)) {
        return loss;
    }
    const Between between(performance.fields(), mesh.indices);
    const std::size_t places = mesh.indices.size() / 3 * kPlaces.size();
    std::vector<NodeId> roots;
    std::vector<glm::vec3> shift(composition.uvShift ? performance.vertexCount() : 0);
    std::vector<glm::vec3> rightShift(composition.uvShift ? places : 0);
    std::vector<float> alpha(composition.alpha ? performance.vertexCount() : 0);
    std::vector<float> rightAlpha(composition.alpha ? places : 0);
    std::vector<Evaluator::Target> own;
    std::vector<Evaluator::Target> right;
    if (composition.uvShift) {
        roots.push_back(*composition.uvShift);
        own.push_back({{}, shift});
        right.push_back({{}, rightShift});
        loss.uvAt.assign(performance.vertexCount(), 0.0f);
    }
    if (composition.alpha) {
        roots.push_back(*composition.alpha);
        own.push_back({alpha, {}});
        right.push_back({rightAlpha, {}});
        loss.alphaAt.assign(performance.vertexCount(), 0.0f);
    }
    const Evaluator evaluator(composition.graph, roots);
    const auto spread = [&](std::vector<float>& at, std::size_t place, float off) {
        for (std::size_t c = 0; c < 3; ++c) {
            float& worst = at[mesh.indices[3 * (place / kPlaces.size()) + c]];
            worst = std::max(worst, off);
        }
    };
    for (int i = 0; i < kInstants; ++i) {
        progress.checkpoint();
        const float turn = (static_cast<float>(i) + 0.5f) / kInstants;
        evaluator.run(performance.fields(), {}, turn, own);
        evaluator.run(between.fields(), {}, turn, right);
        if (composition.uvShift) {
            const std::vector<glm::vec3> got = between.of(std::span<const glm::vec3>(shift));
            for (std::size_t p = 0; p < places; ++p) {
                spread(loss.uvAt, p, glm::distance(got[p], rightShift[p]));
            }
        }
        if (composition.alpha) {
            const std::vector<float> got = between.of(std::span<const float>(alpha));
            for (std::size_t p = 0; p < places; ++p) {
                spread(loss.alphaAt, p, std::abs(got[p] - rightAlpha[p]));
            }
        }
    }
    const auto most = [](const std::vector<float>& at) {
        return at.empty() ? 0.0 : static_cast<double>(*std::max_element(at.begin(), at.end()));
    };
    loss.uv = most(loss.uvAt);
    loss.alpha = most(loss.alphaAt);
    return loss;
}

double coveredPixels(const mesh::Mesh& mesh, double pixelsHigh) {
    mesh::Bounds rest;
    rest.add(mesh.positions);
    const auto height = static_cast<double>(std::max(rest.size().y, 1e-6f));
    double area = 0.0;
    for (std::size_t t = 0; t + 2 < mesh.indices.size(); t += 3) {
        const glm::vec3& a = mesh.positions[mesh.indices[t]];
        const glm::vec3 way =
            glm::cross(mesh.positions[mesh.indices[t + 1]] - a, mesh.positions[mesh.indices[t + 2]] - a);
        const bool twoSided = !mesh.materials.empty() && mesh.materials.front().doubleSided;
        area += static_cast<double>(twoSided ? std::abs(way.z) : std::max(way.z, 0.0f)) / 2.0;
    }
    return area * (pixelsHigh / height) * (pixelsHigh / height);
}

} // namespace ripple::motion
