#include "inspect/likeness.h"

#include "bake/seam.h"
#include "base/parallel.h"
#include "inspect/gram.h"

#include <algorithm>
#include <array>
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

/// Root of the mean square of the weighted sum of six frames.
class WeightedFrames {
public:
    WeightedFrames(const std::vector<double>& gram, std::size_t frames, double vertices)
        : gram_(gram),
          frames_(frames),
          vertices_(vertices) {}

    float roughness(const std::array<std::size_t, 6>& frames) const {
        double sum = 0.0;
        for (std::size_t i = 0; i < 6; ++i) {
            sum += kOfPair[i][i] * gram_[frames[i] * frames_ + frames[i]];
            for (std::size_t j = 0; j < i; ++j) {
                sum += 2.0 * kOfPair[i][j] * gram_[frames[i] * frames_ + frames[j]];
            }
        }
        return rootMean(sum, vertices_);
    }

private:
    using Pairs = std::array<std::array<double, 6>, 6>;
    static constexpr Pairs kOfPair = [] {
        Pairs pairs{};
        for (std::size_t i = 0; i < 6; ++i) {
            for (std::size_t j = 0; j < 6; ++j) {
                pairs[i][j] = bake::kPlaceWeights[i] * bake::kPlaceWeights[j] +
                              bake::kVelocityWeights[i] * bake::kVelocityWeights[j];
            }
        }
        return pairs;
    }();

    const std::vector<double>& gram_;
    std::size_t frames_;
    double vertices_;
};

void measureSeams(const std::vector<double>& gram, double vertices, Likeness& likeness) {
    const std::size_t n = likeness.frames;
    likeness.roughness.assign(n * n, 0.0f);
    if (n < kShortestWindow) {
        return;
    }
    const WeightedFrames weighted(gram, n, vertices);
    base::parallelFor(n - kShortestWindow + 1, 8, [&](std::size_t begin, std::size_t end) {
        for (std::size_t a = begin; a < end; ++a) {
            for (std::size_t b = a + kShortestWindow - 1; b < n; ++b) {
                likeness.roughness[a * n + b] = weighted.roughness({b - 2, b - 1, b, a, a + 1, a + 2});
            }
        }
    });
    std::vector<float> inside;
    for (std::size_t f = 0; f + 6 <= n; ++f) {
        inside.push_back(weighted.roughness({f, f + 1, f + 2, f + 3, f + 4, f + 5}));
    }
    const auto middle = inside.begin() + static_cast<std::ptrdiff_t>(inside.size() / 2);
    std::nth_element(inside.begin(), middle, inside.end());
    likeness.ordinaryRoughness = *middle;
}

/// reach[first · frames + last]: the largest distance in pose of any frame of the window from its first.
std::vector<float> reachOfWindows(const Likeness& likeness) {
    const std::size_t n = likeness.frames;
    std::vector<float> reach(n * n, 0.0f);
    for (std::size_t a = 0; a < n; ++a) {
        for (std::size_t b = a + 1; b < n; ++b) {
            reach[a * n + b] = std::max(reach[a * n + b - 1], likeness.poseAt(a, b));
        }
    }
    return reach;
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
    measureSeams(gram, count, likeness);
    return likeness;
}

bool loopsBetter(const LoopWindow& a, const LoopWindow& b, double smooth) {
    const double roughA = std::max(static_cast<double>(a.roughness), smooth);
    const double roughB = std::max(static_cast<double>(b.roughness), smooth);
    return roughA != roughB             ? roughA < roughB
           : a.frames() != b.frames()   ? a.frames() > b.frames()
           : a.roughness != b.roughness ? a.roughness < b.roughness
                                        : a.first < b.first;
}

std::vector<LoopWindow> bestWindows(const Likeness& likeness, const WindowWish& wish) {
    constexpr float kReachOfSeam = 1.0f;
    constexpr float kReachOfClip = 0.005f;
    constexpr std::size_t kFewest = 24;
    const std::size_t n = likeness.frames;
    if (n < kShortestWindow) {
        return {};
    }
    // A wanted length may be shorter than what is offered unasked.
    const std::size_t fewest = std::max(wish.length > 0 ? 0
                                        : wish.fewest   ? wish.fewest
                                                        : std::min(n / 3, kFewest),
                                        kShortestWindow);
    const std::vector<float> reach = reachOfWindows(likeness);
    const auto rougher = [&](const LoopWindow& than, std::size_t first, std::size_t last) {
        return first >= n || last >= n || last + 1 < first + fewest ||
               than.roughness <= likeness.roughnessAt(first, last);
    };
    const auto offLength = [&](const LoopWindow& w) {
        return w.frames() > wish.length ? w.frames() - wish.length : wish.length - w.frames();
    };
    // Of a wanted length only shifts are compared: other lengths are other wishes.
    const auto smoothestAround = [&](const LoopWindow& w) {
        for (std::size_t di = 0; di < 3; ++di) {
            for (std::size_t dj = 0; dj < 3; ++dj) {
                const bool compared = wish.length > 0 ? di == dj : true;
                // One less at 0 wraps to the largest number, which is outside too.
                if (compared && (di != 1 || dj != 1) && !rougher(w, w.first + di - 1, w.last + dj - 1)) {
                    return false;
                }
            }
        }
        return true;
    };
    std::vector<LoopWindow> found;
    for (std::size_t a = 0; a + fewest <= n; ++a) {
        for (std::size_t b = a + fewest - 1; b < n; ++b) {
            const LoopWindow window{a, b, likeness.roughnessAt(a, b)};
            const float far = reach[a * n + b];
            // Whoever asks for a length gets the best there is.
            const bool returns = wish.length > 0 || far >= kReachOfSeam * window.roughness;
            const bool moves = far > 0.0f && returns && far >= kReachOfClip * likeness.largestPose;
            const bool asLong = wish.length == 0 || offLength(window) * 10 <= wish.length;
            if (moves && asLong && smoothestAround(window)) {
                found.push_back(window);
            }
        }
    }
    const double smooth = kSmoothSeam * static_cast<double>(likeness.ordinaryRoughness);
    std::stable_sort(found.begin(), found.end(), [&](const LoopWindow& a, const LoopWindow& b) {
        const bool exactA = wish.length > 0 && a.frames() == wish.length;
        const bool exactB = wish.length > 0 && b.frames() == wish.length;
        return exactA != exactB ? exactA : loopsBetter(a, b, smooth);
    });
    // Neighbours of a window show the same loop once more.
    const std::size_t apart = std::max<std::size_t>(2, n / 40);
    std::vector<LoopWindow> best;
    for (const LoopWindow& window : found) {
        const bool near = std::any_of(best.begin(), best.end(), [&](const LoopWindow& other) {
            const auto away = [](std::size_t x, std::size_t y) { return x > y ? x - y : y - x; };
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
