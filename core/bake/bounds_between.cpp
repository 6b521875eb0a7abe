// What is decoded between stored frames where that may lie outside the box of the frames themselves.

#include "bake/bounds_between.h"

#include "base/parallel.h"
#include "base/progress.h"
#include "bake/error.h"
#include "bake/kind.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <tuple>
#include <utility>
#include <vector>

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace ripple::bake {

void widen(mesh::Bounds& bounds, float by) {
    if (!bounds.empty()) {
        const glm::vec3 largest = glm::max(glm::abs(bounds.min), glm::abs(bounds.max));
        const glm::vec3 room = largest * (4.0f * std::numeric_limits<float>::epsilon()) + by;
        bounds.min -= room;
        bounds.max += room;
    }
}

namespace {

/// How far one coordinate goes on the cubic curve from b to c, whose neighbours are a and d: the values at both ends
/// and where its derivative is 0.
std::pair<float, float> reachOfCurve(float a, float b, float c, float d) {
    const float cube = 0.5f * (3.0f * (b - c) + d - a);
    const float square = a - 2.5f * b + 2.0f * c - 0.5f * d;
    const float linear = 0.5f * (c - a);
    std::pair<float, float> reach = std::minmax(b, c);
    const auto add = [&](float t) {
        if (t > 0.0f && t < 1.0f) {
            const float value = b + t * (linear + t * (square + t * cube));
            reach = {std::min(reach.first, value), std::max(reach.second, value)};
        }
    };
    const float inside = square * square - 3.0f * cube * linear;
    if (inside > 0.0f) {
        // The larger root first, so that nothing cancels.
        const float sum = -square - std::copysign(std::sqrt(inside), square);
        add(sum / (3.0f * cube));
        add(linear / sum);
    }
    return reach;
}

/// Bounds of all that a clip of four frames or more shows on cubic curves through positions.
mesh::Bounds boundsOfCurves(const TextureReader& reader, const BakedClip& clip,
                            const base::Progress& progress) {
    const std::size_t frames = clip.frames;
    const std::size_t steps = clip.closed ? frames : frames - 1;
    std::vector<mesh::Bounds> ofStep(steps);
    base::parallelFor(steps, 16, [&](std::size_t begin, std::size_t end) {
        std::array<std::vector<glm::vec3>, 4> poses; // before, at, next, after
        const auto read = [&](std::size_t frame, std::size_t k) {
            poses[k].resize(reader.vertexCount());
            reader.frame(clip.firstFrame + frame % frames, poses[k], {});
        };
        for (std::size_t s = begin; s < end; ++s) {
            progress.checkpoint();
            if (s > begin) {
                std::rotate(poses.begin(), poses.begin() + 1, poses.end());
            }
            for (std::size_t k = s > begin ? 3 : 0; k < 4; ++k) {
                read(s + frames + k - 1, k);
            }
            const bool atStart = !clip.closed && s == 0;
            const bool atEnd = !clip.closed && s + 2 == frames;
            for (std::size_t v = 0; v < poses[0].size(); ++v) {
                const glm::vec3& at = poses[1][v];
                const glm::vec3& next = poses[2][v];
                const glm::vec3 before = atStart ? 3.0f * (at - next) + poses[3][v] : poses[0][v];
                const glm::vec3 after = atEnd ? 3.0f * (next - at) + poses[0][v] : poses[3][v];
                glm::vec3 least(0.0f);
                glm::vec3 most(0.0f);
                for (int axis = 0; axis < 3; ++axis) {
                    std::tie(least[axis], most[axis]) =
                        reachOfCurve(before[axis], at[axis], next[axis], after[axis]);
                }
                ofStep[s].add(least);
                ofStep[s].add(most);
            }
        }
    });
    mesh::Bounds bounds;
    for (const mesh::Bounds& own : ofStep) {
        bounds.add(own);
    }
    widen(bounds, 0.0f);
    return bounds;
}

} // namespace

std::vector<mesh::Bounds> boundsBetween(const TextureReader& reader, std::span<const BakedClip> clips,
                                        const base::Progress& progress) {
    constexpr std::size_t kInstants = 4; // a step
    const bool arcs = reader.textures().kind->arcs;
    const bool curves = reader.textures().blend == Blend::cubic;
    std::vector<mesh::Bounds> all;
    for (const BakedClip& clip : clips) {
        if (!arcs && clip.frames >= 4) {
            all.push_back(boundsOfCurves(reader, clip, progress));
            continue;
        }
        const std::size_t count = (clip.closed ? clip.length() : clip.length() - 1) * kInstants + 1;
        std::vector<mesh::Bounds> ofInstant(count);
        std::vector<float> arc(count, 0.0f);
        base::parallelFor(count, 8, [&](std::size_t begin, std::size_t end) {
            std::array<std::vector<glm::vec3>, 3> poses;
            for (auto& pose : poses) {
                pose.resize(reader.vertexCount());
            }
            const auto read = [&](std::size_t i, std::vector<glm::vec3>& pose) {
                reader.at(clip, static_cast<float>(i) / static_cast<float>(kInstants), pose, {});
            };
            for (std::size_t i = begin; i < end; ++i) {
                progress.checkpoint();
                read(i, poses[1]);
                ofInstant[i].add(poses[1]);
                if (i == 0 || i + 1 == count || (i % kInstants == 0 && !curves)) {
                    continue; // frames are corners, but for curves
                }
                read(i - 1, poses[0]);
                read(i + 1, poses[2]);
                for (std::size_t v = 0; v < poses[1].size(); ++v) {
                    // An arc leaves its chord by an eighth of the second difference.
                    arc[i] =
                        std::max(arc[i], glm::length(poses[0][v] - 2.0f * poses[1][v] + poses[2][v]) / 8.0f);
                }
            }
        });
        mesh::Bounds& bounds = all.emplace_back();
        for (const mesh::Bounds& own : ofInstant) {
            bounds.add(own);
        }
        widen(bounds, 1.05f * *std::max_element(arc.begin(), arc.end()));
    }
    return all;
}

} // namespace ripple::bake
