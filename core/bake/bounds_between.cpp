// What is decoded between stored frames where that may lie outside the box of the frames themselves.

#include "bake/bounds_between.h"

#include "base/parallel.h"
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

constexpr std::size_t kInstants = 4; // a step

/// How far a cubic goes between 0 and 1: the values at both ends and where its derivative is 0. It is given
/// by its values at 0, 1/4, 3/4 and 1.
std::pair<float, float> reachOfCubic(double at, double quarter, double threeQuarters, double next) {
    const double a = quarter - at;
    const double b = threeQuarters - at;
    const double c = next - at;
    const double linear = 8.0 * a + c - 8.0 / 3.0 * b;
    const double square = (40.0 * b - 56.0 * a - 16.0 * c) / 3.0;
    const double cube = c - linear - square;
    std::pair<double, double> reach = std::minmax(at, next);
    const auto add = [&](double t) {
        if (t > 0.0 && t < 1.0) {
            const double value = at + t * (linear + t * (square + t * cube));
            reach = {std::min(reach.first, value), std::max(reach.second, value)};
        }
    };
    const double inside = square * square - 3.0 * cube * linear;
    if (inside > 0.0) {
        const double sum = -square - std::copysign(std::sqrt(inside), square); // so that nothing cancels
        add(sum / (3.0 * cube));
        add(linear / sum);
    }
    return reach;
}

/// Positions that are sums of stored ones by cubic weights: a cubic from each of the clip's frames to the
/// next.
mesh::Bounds boundsOfCurves(const TextureReader& reader, const BakedClip& clip,
                            const base::Progress& progress) {
    std::vector<mesh::Bounds> ofStep(clip.closed ? clip.length() : clip.length() - 1);
    base::parallelFor(ofStep.size(), 8, [&](std::size_t begin, std::size_t end) {
        std::array<std::vector<glm::vec3>, 4> poses;
        for (std::size_t s = begin; s < end; ++s) {
            progress.checkpoint();
            for (std::size_t k = 0; k < poses.size(); ++k) {
                constexpr std::array kParts = {0.0f, 0.25f, 0.75f, 1.0f}; // exact however late the frame
                poses[k].resize(reader.vertexCount());
                reader.at(clip, static_cast<float>(s) + kParts[k], poses[k], {});
            }
            for (std::size_t v = 0; v < poses[0].size(); ++v) {
                glm::vec3 least(0.0f);
                glm::vec3 most(0.0f);
                for (int axis = 0; axis < 3; ++axis) {
                    const auto value = [&](std::size_t k) { return static_cast<double>(poses[k][v][axis]); };
                    std::tie(least[axis], most[axis]) = reachOfCubic(value(0), value(1), value(2), value(3));
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
    const bool arcs = reader.textures().kind->arcs;
    const bool curves = reader.textures().blend == Blend::cubic;
    std::vector<mesh::Bounds> all;
    for (const BakedClip& clip : clips) {
        if (!arcs && clip.length() > 1) {
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
