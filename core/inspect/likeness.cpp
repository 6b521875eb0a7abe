#include "inspect/likeness.h"

#include "base/parallel.h"
#include "inspect/gram.h"

#include <algorithm>
#include <cmath>

namespace ripple::inspect {

namespace {

/// Takes the mean over all frames from the poses: small numbers, so that differences keep their digits.
void centre(PoseTable& poses) {
    base::parallelFor(poses.vertices, 4096, [&](std::size_t begin, std::size_t end) {
        std::vector<glm::dvec3> mean(end - begin, glm::dvec3(0.0));
        for (std::size_t f = 0; f < poses.frames; ++f) {
            const glm::vec3* from = poses.of(f);
            for (std::size_t v = begin; v < end; ++v) {
                mean[v - begin] += glm::dvec3(from[v]);
            }
        }
        for (glm::dvec3& m : mean) {
            m /= static_cast<double>(poses.frames);
        }
        for (std::size_t f = 0; f < poses.frames; ++f) {
            glm::vec3* at = poses.points.data() + f * poses.vertices;
            for (std::size_t v = begin; v < end; ++v) {
                at[v] = glm::vec3(glm::dvec3(at[v]) - mean[v - begin]);
            }
        }
    });
}

float rootMean(double sum, double count) {
    return static_cast<float>(std::sqrt(std::max(sum, 0.0) / count));
}

} // namespace

float Likeness::unlikeness(std::size_t i, std::size_t j) const {
    return std::hypot(poseAt(i, j), velocityAt(i, j));
}

Likeness measureLikeness(PoseTable poses, const base::Progress& progress) {
    Likeness likeness;
    const std::size_t n = poses.frames;
    likeness.frames = n;
    likeness.pose.assign(n * n, 0.0f);
    likeness.velocity.assign(n * n, 0.0f);
    if (n < 2 || poses.vertices == 0) {
        return likeness;
    }
    centre(poses);
    const std::vector<double> gram = gramMatrix(&poses.points[0].x, n, poses.vertices * 3, progress);
    const auto g = [&](std::size_t i, std::size_t j) { return gram[i * n + j]; };
    // The step from frame i to the next; the last has none of its own.
    const auto s = [&](std::size_t i) { return std::min(i, n - 2); };
    const auto steps = [&](std::size_t i, std::size_t j) {
        const std::size_t a = s(i);
        const std::size_t b = s(j);
        return g(a + 1, b + 1) - g(a + 1, b) - g(a, b + 1) + g(a, b);
    };
    const auto count = static_cast<double>(poses.vertices);
    base::parallelFor(n, 8, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            for (std::size_t j = 0; j < n; ++j) {
                if (i != j) {
                    likeness.pose[i * n + j] = rootMean(g(i, i) + g(j, j) - 2.0 * g(i, j), count);
                    likeness.velocity[i * n + j] =
                        rootMean(steps(i, i) + steps(j, j) - 2.0 * steps(i, j), count);
                }
            }
        }
    });
    likeness.largestPose = *std::max_element(likeness.pose.begin(), likeness.pose.end());
    return likeness;
}

std::vector<LoopWindow> bestWindows(const Likeness& likeness, const WindowWish& wish) {
    const std::size_t n = likeness.frames;
    const std::size_t fewest = std::max<std::size_t>(wish.fewest ? wish.fewest : n / 3, 2);
    std::vector<LoopWindow> found;
    const auto lower = [&](std::size_t i, std::size_t j, std::size_t a, std::size_t b) {
        return a >= n || b >= n || b < a + 2 || (wish.length == 0 && b < a + fewest) ||
               likeness.unlikeness(i, j) <= likeness.unlikeness(a, b);
    };
    const auto offLength = [&](const LoopWindow& w) {
        return w.frames() > wish.length ? w.frames() - wish.length : wish.length - w.frames();
    };
    for (std::size_t i = 0; i < n; ++i) {
        // A wanted length may be shorter than what is offered unasked.
        const std::size_t shortest = wish.length > 0 ? 2 : fewest;
        for (std::size_t j = i + shortest; j < n; ++j) {
            const LoopWindow window{i, j - 1, likeness.unlikeness(i, j)};
            if (wish.length > 0) {
                if (offLength(window) * 10 > wish.length) {
                    continue;
                }
                // Along its diagonal only: other lengths are other wishes.
                if (!lower(i, j, i + 1, j + 1) || (i > 0 && !lower(i, j, i - 1, j - 1))) {
                    continue;
                }
            } else {
                bool minimum = true;
                for (int di = -1; di <= 1 && minimum; ++di) {
                    for (int dj = -1; dj <= 1 && minimum; ++dj) {
                        const std::size_t a = i + static_cast<std::size_t>(di);
                        const std::size_t b = j + static_cast<std::size_t>(dj);
                        minimum = (di == 0 && dj == 0) || lower(i, j, a, b);
                    }
                }
                if (!minimum) {
                    continue;
                }
            }
            found.push_back(window);
        }
    }
    std::stable_sort(found.begin(), found.end(), [&](const LoopWindow& a, const LoopWindow& b) {
        const bool exactA = wish.length > 0 && a.frames() == wish.length;
        const bool exactB = wish.length > 0 && b.frames() == wish.length;
        return exactA != exactB ? exactA : a.unlikeness < b.unlikeness;
    });
    // Neighbours of a window show the same loop once more.
    const std::size_t apart = std::max<std::size_t>(2, n / 40);
    std::vector<LoopWindow> best;
    for (const LoopWindow& window : found) {
        const bool near = std::any_of(best.begin(), best.end(), [&](const LoopWindow& other) {
            const auto away = [](std::size_t a, std::size_t b) { return a > b ? a - b : b - a; };
            return away(window.first, other.first) + away(window.last, other.last) < apart;
        });
        if (!near) {
            best.push_back(window);
        }
        if (best.size() == wish.most) {
            break;
        }
    }
    return best;
}

} // namespace ripple::inspect
