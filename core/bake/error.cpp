#include "bake/error.h"

#include "base/parallel.h"
#include "mesh/bounds.h"

#include <algorithm>
#include <atomic>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::bake {

namespace {

/// One instant to compare, and what came of it.
struct Instant {
    std::size_t clip = 0;
    double frame = 0.0; ///< kept frames of the clip
    double seconds = 0.0;
    std::size_t stored = 0; ///< kept frame in the texture, when `kept`
    bool kept = true;

    double sumSquares = 0.0;
    float max = 0.0f;
    std::size_t worst = 0;
    double normalSumSquares = 0.0;
    float normalMax = 0.0f; ///< radians
    mesh::Bounds bounds;
};

std::vector<Instant> instantsOf(const SamplePlan& plan) {
    std::vector<Instant> instants;
    std::size_t stored = 0;
    for (std::size_t c = 0; c < plan.clips.size(); ++c) {
        for (std::size_t f = 0; f < plan.clips[c].seconds.size(); ++f) {
            Instant instant;
            instant.clip = c;
            instant.frame = static_cast<double>(f);
            instant.seconds = plan.clips[c].seconds[f];
            instant.stored = stored++;
            instants.push_back(instant);
        }
    }
    for (std::size_t c = 0; c < plan.clips.size(); ++c) {
        for (const Probe& probe : plan.clips[c].probes) {
            Instant instant;
            instant.clip = c;
            instant.frame = static_cast<double>(probe.frame) + probe.fraction;
            instant.seconds = probe.seconds;
            instant.kept = false;
            instants.push_back(instant);
        }
    }
    return instants;
}

/// Angle between unit vectors, precise for small angles where acos is not.
float angle(const glm::vec3& a, const glm::vec3& b) {
    return std::atan2(glm::length(glm::cross(a, b)), glm::dot(a, b));
}

void compare(Instant& instant, std::span<const glm::vec3> truth, std::span<const glm::vec3> truthNormals,
             std::span<const glm::vec3> read, std::span<const glm::vec3> readNormals,
             std::span<float> distances) {
    for (std::size_t v = 0; v < truth.size(); ++v) {
        const float distance = glm::distance(truth[v], read[v]);
        distances[v] = distance;
        instant.sumSquares += static_cast<double>(distance) * static_cast<double>(distance);
        if (distance > instant.max) {
            instant.max = distance;
            instant.worst = v;
        }
        const float turned = angle(truthNormals[v], readNormals[v]);
        instant.normalSumSquares += static_cast<double>(turned) * static_cast<double>(turned);
        instant.normalMax = std::max(instant.normalMax, turned);
    }
    instant.bounds.add(truth);
}

double percentile99(std::span<float> values) {
    if (values.empty()) {
        return 0.0;
    }
    const auto at = static_cast<std::ptrdiff_t>(std::ceil(0.99 * static_cast<double>(values.size()))) - 1;
    std::nth_element(values.begin(), values.begin() + at, values.end());
    return static_cast<double>(values[static_cast<std::size_t>(at)]);
}

Distances summarise(std::span<const Instant> instants, std::span<float> distances) {
    Distances result;
    double sum = 0.0;
    for (const Instant& instant : instants) {
        sum += instant.sumSquares;
        result.max = std::max(result.max, static_cast<double>(instant.max));
    }
    result.rms = distances.empty() ? 0.0 : std::sqrt(sum / static_cast<double>(distances.size()));
    result.p99 = percentile99(distances);
    return result;
}

constexpr double kDegrees = 180.0 / 3.14159265358979323846;

} // namespace

ErrorReport measureError(const source::FrameSource& source, const SamplePlan& plan, const Frames* frames,
                         const TextureReader& reader, std::span<const BakedClip> clips,
                         const base::Progress& progress) {
    std::vector<Instant> instants = instantsOf(plan);
    const std::size_t vertices = reader.vertexCount();
    std::vector<float> distances(instants.size() * vertices);
    std::atomic<std::size_t> done{0};
    base::parallelFor(instants.size(), 1, [&](std::size_t begin, std::size_t end) {
        std::vector<glm::vec3> truth(vertices);
        std::vector<glm::vec3> truthNormals(vertices);
        std::vector<glm::vec3> read(vertices);
        std::vector<glm::vec3> readNormals(vertices);
        for (std::size_t i = begin; i < end; ++i) {
            Instant& instant = instants[i];
            std::span<const glm::vec3> positions = truth;
            std::span<const glm::vec3> normals = truthNormals;
            if (instant.kept && frames) {
                positions = frames->positionsOf(instant.stored);
                normals = frames->normalsOf(instant.stored);
            } else {
                source.sample(plan.clips[instant.clip].clip, instant.seconds, truth, truthNormals);
            }
            reader.at(clips[instant.clip], static_cast<float>(instant.frame), read, readNormals);
            compare(instant, positions, normals, read, readNormals,
                    std::span(distances).subspan(i * vertices, vertices));
            progress.report(static_cast<double>(++done) / static_cast<double>(instants.size()));
        }
    });

    ErrorReport report;
    const auto keptCount = static_cast<std::size_t>(
        std::count_if(instants.begin(), instants.end(), [](const Instant& i) { return i.kept; }));
    mesh::Bounds bounds;
    double normalSum = 0.0;
    float worst = -1.0f;
    for (const Instant& instant : instants) {
        bounds.add(instant.bounds);
        normalSum += instant.normalSumSquares;
        const double degrees = static_cast<double>(instant.normalMax) * kDegrees;
        report.normalMaxDegrees = std::max(report.normalMaxDegrees, degrees);
        if (instant.kept) {
            report.normalAtFramesMaxDegrees = std::max(report.normalAtFramesMaxDegrees, degrees);
            report.maxPerFrame.push_back(instant.max);
        }
        if (instant.max > worst) {
            worst = instant.max;
            report.worstVertex = instant.worst;
            report.worstClip = plan.clips[instant.clip].name;
            report.worstFrame = instant.frame;
        }
    }
    report.diagonal = static_cast<double>(bounds.diagonal());
    report.normalRmsDegrees =
        distances.empty() ? 0.0 : std::sqrt(normalSum / static_cast<double>(distances.size())) * kDegrees;
    const std::span<float> all(distances);
    report.atFrames = summarise(std::span(instants).first(keptCount), all.first(keptCount * vertices));
    report.betweenFrames =
        summarise(std::span(instants).subspan(keptCount), all.subspan(keptCount * vertices));
    report.all = summarise(instants, all);
    return report;
}

double seamGap(const SeamPoses& poses) {
    float gap = 0.0f;
    for (std::size_t v = 0; v < poses.start.size(); ++v) {
        const float seam = glm::distance(poses.last[v], poses.start[v]);
        const float neighbours = 0.5f * (glm::distance(poses.before[v], poses.last[v]) +
                                         glm::distance(poses.start[v], poses.second[v]));
        gap = std::max(gap, seam - neighbours);
    }
    return static_cast<double>(gap);
}

double seamGap(const Frames& frames, std::size_t first, std::size_t count) {
    return count < 2 ? 0.0
                     : seamGap(SeamPoses{frames.positionsOf(first + count - 2),
                                         frames.positionsOf(first + count - 1), frames.positionsOf(first),
                                         frames.positionsOf(first + 1)});
}

void measureStep(std::span<const glm::vec3> from, std::span<const glm::vec3> to, std::size_t step,
                 Motion& motion) {
    double sum = 0.0;
    float most = 0.0f;
    for (std::size_t v = 0; v < from.size(); ++v) {
        const float way = glm::distance(from[v], to[v]);
        most = std::max(most, way);
        sum += static_cast<double>(way);
    }
    motion.max[step] = most;
    motion.mean[step] = static_cast<float>(sum / static_cast<double>(std::max<std::size_t>(from.size(), 1)));
}

void summarise(Motion& motion) {
    motion.largest = motion.max.empty() ? 0.0f : *std::max_element(motion.max.begin(), motion.max.end());
    if (motion.max.size() > 1) {
        std::vector<float> steps(motion.max.begin(), motion.max.end() - 1);
        const auto middle = steps.begin() + static_cast<std::ptrdiff_t>(steps.size() / 2);
        std::nth_element(steps.begin(), middle, steps.end());
        motion.medianMax = *middle;
    }
}

Motion measureMotion(const Frames& frames, std::size_t first, std::size_t count) {
    Motion motion;
    motion.max.resize(count);
    motion.mean.resize(count);
    base::parallelFor(count, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t f = begin; f < end; ++f) {
            measureStep(frames.positionsOf(first + f), frames.positionsOf(first + (f + 1) % count), f,
                        motion);
        }
    });
    summarise(motion);
    return motion;
}

} // namespace ripple::bake
