#include "scatter/merge_loss.h"

#include "bake/pose_decoder.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>
#include <glm/gtc/quaternion.hpp>

namespace ripple::scatter {

namespace {

/// What is left of a pivot once it is stored.
Pivot kept(const Pivot& pivot, Keeps keeps, const mesh::Bounds& box) {
    return keeps == Keeps::colours ? fromColour(inColour(pivot, box), box)
           : keeps == Keeps::uvs   ? fromUvs(inUvs(pivot, true))
                                   : Pivot();
}

glm::vec3 placed(const Pivot& pivot, const glm::vec3& p) {
    return pivot.origin + pivot.scale * bake::turned(pivot.rotation(), p);
}

glm::vec4 backOf(const Pivot& pivot) {
    const glm::vec4 q = pivot.rotation();
    return {-glm::vec3(q), q.w};
}

motion::Copy copyOf(const Pivot& pivot) {
    motion::Copy copy;
    copy.id = pivot.id;
    copy.origin = pivot.origin;
    copy.scale = pivot.scale;
    const glm::vec4 q = pivot.rotation();
    copy.axes = glm::mat3(bake::turned(q, {1, 0, 0}), bake::turned(q, {0, 1, 0}), bake::turned(q, {0, 0, 1}));
    return copy;
}

/// Calls `compare` for some of the copies, spread over all.
template <typename Compare>
void forSome(std::span<const Copy> copies, const Compare& compare) {
    const std::size_t step = std::max<std::size_t>(1, copies.size() / kComparedCopies);
    for (std::size_t c = 0; c < copies.size(); c += step) {
        compare(pivotOf(copies[c]));
    }
}

} // namespace

double mergeLoss(const motion::Performance& plain, const motion::Performance& played,
                 std::span<const Copy> copies, Keeps keeps) {
    const mesh::Bounds box = boxOf(copies);
    const std::size_t vertices = plain.vertexCount();
    std::vector<glm::vec3> separate(vertices);
    std::vector<glm::vec3> rest(vertices);
    std::vector<glm::vec3> normals(vertices);
    std::vector<glm::vec3> merged(vertices);
    const motion::NodeId roots[] = {played.composition().position};
    const motion::Evaluator evaluator(played.composition().graph, roots);
    float worst = 0.0f;
    forSome(copies, [&](const Pivot& pivot) {
        const Pivot own = kept(pivot, keeps, box);
        const glm::vec4 back = backOf(own);
        motion::VertexFields fields = played.fields();
        for (std::size_t v = 0; v < vertices; ++v) {
            const glm::vec3 there = placed(pivot, plain.fields().positions[v]);
            rest[v] = bake::turned(back, there - own.origin) / own.scale;
            normals[v] = bake::turned(back, bake::turned(pivot.rotation(), plain.fields().normals[v]));
        }
        fields.positions = rest;
        fields.normals = normals;
        for (std::size_t i = 0; i < kComparedInstants; ++i) {
            const double turn = static_cast<double>(i) / kComparedInstants;
            plain.poseHere(turn, copyOf(pivot), separate, {});
            const motion::Evaluator::Target target{{}, merged};
            evaluator.run(fields, copyOf(own), static_cast<float>(turn), {&target, 1});
            for (std::size_t v = 0; v < vertices; ++v) {
                const glm::vec3 off = placed(own, merged[v]) - placed(pivot, separate[v]);
                worst = std::max(worst, glm::dot(off, off));
            }
        }
    });
    return std::sqrt(static_cast<double>(worst));
}

double mergeLoss(const Asset& asset, std::span<const Copy> copies, Keeps keeps) {
    const mesh::Bounds box = boxOf(copies);
    const std::vector<glm::vec3>& rest = asset.source->mesh().positions;
    const std::size_t frames = asset.frames ? asset.frames->frames : 0;
    const std::size_t step = std::max<std::size_t>(1, frames / kComparedInstants);
    const bool pivots = keeps == Keeps::uvs || keeps == Keeps::colours;
    float worst = 0.0f;
    forSome(copies, [&](const Pivot& pivot) {
        const Pivot own = kept(pivot, keeps, box);
        for (std::size_t f = 0; f < frames; f += step) {
            const auto pose = asset.frames->positionsOf(f);
            for (std::size_t v = 0; v < pose.size(); ++v) {
                // Without a pivot an offset is added that neither turns nor grows with its copy.
                const glm::vec3 there =
                    pivots ? placed(own, pose[v]) : placed(pivot, rest[v]) + (pose[v] - rest[v]);
                const glm::vec3 off = there - placed(pivot, pose[v]);
                worst = std::max(worst, glm::dot(off, off));
            }
        }
    });
    return std::sqrt(static_cast<double>(worst));
}

} // namespace ripple::scatter
