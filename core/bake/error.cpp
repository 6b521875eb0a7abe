#include "bake/error.h"

#include "bake/bounds_between.h"
#include "bake/compare.h"
#include "base/parallel.h"
#include "base/progress.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstdint>
#include <numeric>

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace ripple::bake {

namespace {

/// One instant to compare, and what came of it.
struct Instant {
    std::size_t clip = 0;
    double frame = 0.0; ///< that the clip plays
    double seconds = 0.0;
    std::size_t index = 0; ///< among the kept frames, or among the probes
    bool kept = true;

    PositionsOff positions;
    NormalsOff normals;
};

std::vector<Instant> instantsOf(const SamplePlan& plan) {
    std::vector<Instant> instants;
    std::size_t stored = 0;
    for (std::size_t c = 0; c < plan.clips.size(); ++c) {
        for (std::size_t f = 0; f < plan.clips[c].seconds.size(); ++f) {
            Instant instant;
            instant.clip = c;
            instant.frame = static_cast<double>(plan.clips[c].played(f));
            instant.seconds = plan.clips[c].seconds[f];
            instant.index = stored++;
            instants.push_back(instant);
        }
    }
    std::size_t probes = 0;
    for (std::size_t c = 0; c < plan.clips.size(); ++c) {
        for (const Probe& probe : plan.clips[c].probes) {
            Instant instant;
            instant.clip = c;
            instant.frame = static_cast<double>(probe.frame) + probe.fraction;
            instant.seconds = probe.seconds;
            instant.index = probes++;
            instant.kept = false;
            instants.push_back(instant);
        }
    }
    return instants;
}

Distances summarise(std::span<const Instant> instants, std::size_t vertices) {
    Distances result;
    double sum = 0.0;
    for (const Instant& instant : instants) {
        sum += instant.positions.sumSquares;
        result.max = std::max(result.max, static_cast<double>(instant.positions.max));
    }
    const double count = static_cast<double>(instants.size() * vertices);
    result.rms = count > 0.0 ? std::sqrt(sum / count) : 0.0;
    return result;
}

constexpr double kDegrees = 180.0 / 3.14159265358979323846;
constexpr std::size_t kMostDistances = std::size_t{1} << 22;

/// Compares all instants. `squares` gets the squared distance of every `stride`-th vertex of each, if it is
/// not empty.
struct Comparison {
    const source::FrameSource& source;
    const SamplePlan& plan;
    const KnownPoses& known;
    const TextureReader& reader;
    std::span<const BakedClip> clips;
    bool positions = true;
    bool normals = true;

    void run(std::span<Instant> instants, std::span<float> squares, std::size_t stride,
             const base::Progress& progress) const {
        const std::size_t perInstant = instants.empty() ? 0 : squares.size() / instants.size();
        // One after the other in time, so that a stored frame is decoded once for what lies around it.
        std::vector<std::uint32_t> order(instants.size());
        std::iota(order.begin(), order.end(), 0u);
        std::sort(order.begin(), order.end(), [&](std::uint32_t x, std::uint32_t y) {
            return instants[x].clip != instants[y].clip ? instants[x].clip < instants[y].clip
                                                        : instants[x].frame < instants[y].frame;
        });
        const std::size_t vertices = reader.vertexCount();
        std::atomic<std::size_t> done{0};
        // Few parts, for each needs room for poses of its own.
        const std::size_t grain = instants.size() / (4 * base::threadCount()) + 1;
        base::parallelFor(instants.size(), grain, [&](std::size_t begin, std::size_t end) {
            PoseReader poses(reader);
            std::vector<glm::vec3> truth;
            std::vector<glm::vec3> truthNormals;
            std::vector<glm::vec3> read(vertices);
            std::vector<glm::vec3> readNormals(normals ? vertices : 0);
            std::vector<float> off(vertices);
            for (std::size_t i = begin; i < end; ++i) {
                Instant& instant = instants[order[i]];
                const Frames* held = instant.kept ? known.kept : known.probes;
                if (!held) {
                    truth.resize(vertices);
                    truthNormals.resize(normals ? vertices : 0);
                    samplePose(source, plan.clips[instant.clip], instant.seconds, truth, truthNormals);
                }
                poses.at(clips[instant.clip], static_cast<float>(instant.frame),
                         positions || !reader.holdsVertices() ? read : std::span<glm::vec3>(), readNormals);
                if (positions) {
                    instant.positions =
                        comparePositions(held ? held->positionsOf(instant.index) : truth, read, off);
                    for (std::size_t k = 0; k < perInstant; ++k) {
                        squares[order[i] * perInstant + k] = off[k * stride];
                    }
                }
                if (normals) {
                    instant.normals =
                        compareNormals(held ? held->normalsOf(instant.index) : truthNormals, readNormals);
                }
                progress.report(static_cast<double>(++done) / static_cast<double>(instants.size()));
            }
        });
    }
};

/// What is said of positions alone.
void reportPositions(std::span<const Instant> instants, std::size_t kept, const SamplePlan& plan,
                     std::size_t vertices, ErrorReport& report) {
    mesh::Bounds bounds;
    float worst = -1.0f;
    report.clipBounds.assign(plan.clips.size(), {});
    for (const Instant& instant : instants) {
        bounds.add(instant.positions.bounds);
        report.clipBounds[instant.clip].add(instant.positions.readBounds);
        if (instant.positions.max > worst) {
            worst = instant.positions.max;
            report.worstVertex = instant.positions.worst;
            report.worstClip = plan.clips[instant.clip].name;
            report.worstFrame = instant.frame;
        }
    }
    for (mesh::Bounds& own : report.clipBounds) {
        widen(own, 0.0f);
    }
    report.diagonal = static_cast<double>(bounds.diagonal());
    report.atFrames = summarise(instants.first(kept), vertices);
    report.betweenFrames = summarise(instants.subspan(kept), vertices);
    report.all = summarise(instants, vertices);
}

void reportNormals(std::span<const Instant> instants, std::size_t vertices, ErrorReport& report) {
    double sum = 0.0;
    report.normalsUndefined = 0;
    for (const Instant& instant : instants) {
        report.normalsUndefined += instant.normals.undefined;
        const double degrees = static_cast<double>(instant.normals.max) * kDegrees;
        sum += instant.normals.sumSquares;
        report.normalMaxDegrees = std::max(report.normalMaxDegrees, degrees);
        if (instant.kept) {
            report.normalAtFramesMaxDegrees = std::max(report.normalAtFramesMaxDegrees, degrees);
        }
    }
    const double count = static_cast<double>(instants.size() * vertices - report.normalsUndefined);
    report.normalRmsDegrees = count > 0.0 ? std::sqrt(sum / count) * kDegrees : 0.0;
}

} // namespace

ErrorReport measureError(const source::FrameSource& source, const SamplePlan& plan, const KnownPoses& known,
                         const TextureReader& reader, std::span<const BakedClip> clips,
                         const base::Progress& progress, Detail detail, const EarlierError& earlier) {
    std::vector<Instant> instants = instantsOf(plan);
    const std::size_t vertices = reader.vertexCount();
    const bool all = detail == Detail::all;
    const Comparison compare{source, plan, known, reader, clips, !earlier.positions, all && !earlier.normals};
    const std::size_t stride = instants.size() * vertices / kMostDistances + 1;
    std::vector<float> squares(all && compare.positions ? instants.size() * (vertices / stride) : 0);
    compare.run(instants, squares, stride, progress);

    const auto kept = static_cast<std::size_t>(
        std::count_if(instants.begin(), instants.end(), [](const Instant& i) { return i.kept; }));
    ErrorReport report = earlier.positions ? *earlier.positions : ErrorReport();
    report.instants.clear();
    if (compare.positions) {
        reportPositions(instants, kept, plan, vertices, report);
    }
    if (!squares.empty()) {
        const std::size_t split = kept * (vertices / stride);
        const std::span<const float> parts[] = {std::span<const float>(squares).first(split),
                                                std::span<const float>(squares).subspan(split)};
        report.atFrames.p99 = std::sqrt(percentile99({parts, 1}));
        report.betweenFrames.p99 = std::sqrt(percentile99({parts + 1, 1}));
        report.all.p99 = std::sqrt(percentile99(parts));
    }
    report.normalMaxDegrees = report.normalRmsDegrees = report.normalAtFramesMaxDegrees = 0.0;
    if (earlier.normals) {
        report.normalMaxDegrees = earlier.normals->normalMaxDegrees;
        report.normalRmsDegrees = earlier.normals->normalRmsDegrees;
        report.normalAtFramesMaxDegrees = earlier.normals->normalAtFramesMaxDegrees;
        report.normalsUndefined = earlier.normals->normalsUndefined;
    } else {
        reportNormals(instants, vertices, report);
    }
    for (const Instant& instant : instants) {
        const double degrees = static_cast<double>(instant.normals.max) * kDegrees;
        report.instants.push_back(
            {instant.clip, instant.frame, instant.kept, instant.positions.max, static_cast<float>(degrees)});
    }
    std::sort(report.instants.begin(), report.instants.end(),
              [](const InstantError& a, const InstantError& b) {
                  return a.clip != b.clip ? a.clip < b.clip : a.frame < b.frame;
              });
    // The same instants in the same order.
    for (std::size_t i = 0; i < report.instants.size(); ++i) {
        InstantError& own = report.instants[i];
        own.max = earlier.positions ? earlier.positions->instants[i].max : own.max;
        own.normalMaxDegrees =
            earlier.normals ? earlier.normals->instants[i].normalMaxDegrees : own.normalMaxDegrees;
    }
    return report;
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
