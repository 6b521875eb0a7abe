#include "scatter/levels.h"

#include "base/parallel.h"
#include "base/progress.h"
#include "mesh/bounds.h"
#include "mesh/places.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>
#include <utility>

#include <glm/geometric.hpp>
#include <meshoptimizer.h>

namespace ripple::scatter {

namespace {

/// The place on a triangle that is nearest to `p` (Ericson, "Real-Time Collision Detection", 5.1.5).
glm::vec3 nearestOn(const glm::vec3& a, const glm::vec3& b, const glm::vec3& c, const glm::vec3& p) {
    const glm::vec3 ab = b - a;
    const glm::vec3 ac = c - a;
    const glm::vec3 ap = p - a;
    const float d1 = glm::dot(ab, ap);
    const float d2 = glm::dot(ac, ap);
    if (d1 <= 0.0f && d2 <= 0.0f) {
        return a;
    }
    const glm::vec3 bp = p - b;
    const float d3 = glm::dot(ab, bp);
    const float d4 = glm::dot(ac, bp);
    if (d3 >= 0.0f && d4 <= d3) {
        return b;
    }
    const float vc = d1 * d4 - d3 * d2;
    if (vc <= 0.0f && d1 >= 0.0f && d3 <= 0.0f) {
        return a + d1 / (d1 - d3) * ab;
    }
    const glm::vec3 cp = p - c;
    const float d5 = glm::dot(ab, cp);
    const float d6 = glm::dot(ac, cp);
    if (d6 >= 0.0f && d5 <= d6) {
        return c;
    }
    const float vb = d5 * d2 - d1 * d6;
    if (vb <= 0.0f && d2 >= 0.0f && d6 <= 0.0f) {
        return a + d2 / (d2 - d6) * ac;
    }
    const float va = d3 * d6 - d5 * d4;
    if (va <= 0.0f && d4 >= d3 && d5 >= d6) {
        return b + (d4 - d3) / ((d4 - d3) + (d5 - d6)) * (c - b);
    }
    const float sum = va + vb + vc;
    if (!(sum > 0.0f)) {
        return a; // without area
    }
    return a + vb / sum * ab + vc / sum * ac;
}

/// For each of `count` things the others that it is linked with, one list after another.
class Links {
public:
    Links(std::size_t count, std::span<const std::pair<std::uint32_t, std::uint32_t>> pairs)
        : first_(count + 1, 0) {
        for (const auto& [from, to] : pairs) {
            ++first_[from + 1];
        }
        std::partial_sum(first_.begin(), first_.end(), first_.begin());
        others_.resize(pairs.size());
        std::vector<std::uint32_t> next(first_.begin(), first_.end() - 1);
        for (const auto& [from, to] : pairs) {
            others_[next[from]++] = to;
        }
    }
    std::span<const std::uint32_t> of(std::uint32_t which) const {
        return {others_.data() + first_[which], first_[which + 1] - first_[which]};
    }

private:
    std::vector<std::uint32_t> first_;
    std::vector<std::uint32_t> others_;
};

/// Where on a level's surface to look for what stood at a vertex that it leaves out: its triangles at the
/// nearest vertices that are kept, found along the mesh's own edges. What is near in space alone, as a folded
/// wing is to the body, does not stay near.
class Neighbourhood {
public:
    Neighbourhood(const mesh::Mesh& mesh, std::span<const std::uint32_t> welded, const mesh::Coarse& level)
        : welded_(welded),
          kept_(mesh.vertexCount(), 0),
          edges_(mesh.vertexCount(), edgesOf(mesh, welded)),
          triangles_(mesh.vertexCount(), cornersOf(level, welded)) {
        for (const std::uint32_t v : level.indices) {
            kept_[welded[v]] = 1;
        }
    }
    bool keeps(std::uint32_t vertex) const { return kept_[welded_[vertex]] != 0; }

    /// First indices of triangles.
    std::vector<std::uint32_t> trianglesNear(std::uint32_t vertex) const {
        constexpr std::size_t kEnough = 10; // kept vertices
        constexpr std::size_t kMostSeen = 400;
        std::vector<std::uint32_t> seen = {welded_[vertex]};
        std::vector<std::uint32_t> found;
        std::size_t kept = 0;
        for (std::size_t at = 0; at < seen.size() && kept < kEnough && seen.size() < kMostSeen; ++at) {
            for (const std::uint32_t next : edges_.of(seen[at])) {
                if (std::ranges::find(seen, next) != seen.end()) {
                    continue;
                }
                seen.push_back(next);
                if (kept_[next]) {
                    ++kept;
                    const auto own = triangles_.of(next);
                    found.insert(found.end(), own.begin(), own.end());
                }
            }
        }
        std::ranges::sort(found);
        found.erase(std::unique(found.begin(), found.end()), found.end());
        return found;
    }

private:
    using Pairs = std::vector<std::pair<std::uint32_t, std::uint32_t>>;
    static Pairs edgesOf(const mesh::Mesh& mesh, std::span<const std::uint32_t> welded) {
        Pairs pairs;
        for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
            for (std::size_t k = 0; k < 3; ++k) {
                const std::uint32_t a = welded[mesh.indices[i + k]];
                const std::uint32_t b = welded[mesh.indices[i + (k + 1) % 3]];
                pairs.emplace_back(a, b);
                pairs.emplace_back(b, a);
            }
        }
        return pairs;
    }
    static Pairs cornersOf(const mesh::Coarse& level, std::span<const std::uint32_t> welded) {
        Pairs pairs;
        for (std::size_t i = 0; i + 2 < level.indices.size(); i += 3) {
            for (std::size_t k = 0; k < 3; ++k) {
                pairs.emplace_back(welded[level.indices[i + k]], static_cast<std::uint32_t>(i));
            }
        }
        return pairs;
    }

    std::span<const std::uint32_t> welded_;
    std::vector<char> kept_;
    Links edges_;
    Links triangles_;
};

/// The furthest that vertices which the level leaves out get from the triangles beside them: at least as far
/// as they get from the surface.
double errorOf(const mesh::Mesh& mesh, const mesh::Coarse& level, std::span<const glm::vec3> poses,
               const base::Progress& progress) {
    const std::size_t vertices = mesh.vertexCount();
    const std::vector<std::uint32_t> welded = mesh::placesOf(mesh.positions);
    const Neighbourhood near(mesh, welded, level);
    std::vector<char> drawn(vertices, 0);
    for (const std::uint32_t v : mesh.indices) {
        drawn[v] = 1;
    }
    std::vector<std::uint32_t> left;
    for (std::uint32_t v = 0; v < vertices; ++v) {
        if (drawn[v] && !near.keeps(v)) {
            left.push_back(v);
        }
    }
    const std::size_t stride =
        std::max<std::size_t>(1, (left.size() + kMeasuredVertices - 1) / kMeasuredVertices);
    const std::size_t measured = (left.size() + stride - 1) / stride;
    const std::size_t count = poses.size() / std::max<std::size_t>(vertices, 1);
    std::vector<float> worst(measured, 0.0f);
    base::parallelFor(measured, 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            progress.checkpoint();
            const std::uint32_t vertex = left[i * stride];
            const std::vector<std::uint32_t> triangles = near.trianglesNear(vertex);
            for (std::size_t pose = 0; pose < count; ++pose) {
                const glm::vec3* at = poses.data() + pose * vertices;
                float nearest = std::numeric_limits<float>::max(); // all of its piece is gone
                for (const std::uint32_t t : triangles) {
                    const glm::vec3 d = at[vertex] - nearestOn(at[level.indices[t]], at[level.indices[t + 1]],
                                                               at[level.indices[t + 2]], at[vertex]);
                    nearest = std::min(nearest, glm::dot(d, d));
                }
                worst[i] = std::max(worst[i], nearest);
            }
        }
    });
    const float most = worst.empty() ? 0.0f : *std::ranges::max_element(worst);
    return std::sqrt(static_cast<double>(most));
}

} // namespace

std::vector<Level> makeLevels(const mesh::Mesh& mesh, std::span<const glm::vec3> poses, std::size_t count,
                              const base::Progress& progress) {
    std::vector<Level> levels;
    const std::size_t vertices = mesh.vertexCount();
    if (vertices == 0 || poses.size() < vertices) {
        return levels;
    }
    constexpr double kUseless = 0.1; // of the size: nobody would know the shape again
    mesh::Bounds bounds;
    bounds.add(mesh.positions);
    const auto size = static_cast<double>(bounds.diagonal());
    std::size_t before = mesh.triangleCount();
    for (std::size_t k = 0; k < count; ++k) {
        progress.report(static_cast<double>(k) / static_cast<double>(count));
        progress.checkpoint();
        const double share = std::pow(0.5, static_cast<double>(k + 1));
        // What is flat in the pose that it is chosen by may bend in the others: the same with every vertex
        // mattering alike is tried too, and the better one is taken.
        // Borders go too, as far as the shape allows; seams are kept by the simplifier.
        Level level{mesh::simplified(mesh, poses.first(vertices), share, mesh::Borders::mayThin), 0.0};
        level.error = errorOf(mesh, level.triangles, poses, progress);
        Level even{mesh::coarsen(mesh,
                                 static_cast<std::size_t>(share * static_cast<double>(mesh.triangleCount())),
                                 mesh::Borders::mayThin),
                   0.0};
        even.error = errorOf(mesh, even.triangles, poses, progress);
        if (even.error < level.error && even.count() <= level.count() + level.count() / 8) {
            level = std::move(even);
        }
        if (level.count() == 0 || 8 * level.count() > 7 * before || level.error > kUseless * size) {
            break; // it can't be made coarser
        }
        before = level.count();
        levels.push_back(std::move(level));
    }
    return levels;
}

double distanceFor(double error, double pixels, double pixelsHigh, double fieldOfView) {
    return error * pixelsHigh / (2.0 * std::tan(0.5 * fieldOfView) * std::max(pixels, 1e-6));
}

} // namespace ripple::scatter
