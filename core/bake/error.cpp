#include "bake/error.h"

#include "base/parallel.h"
#include "mesh/bounds.h"

#include <algorithm>
#include <atomic>
#include <bit>
#include <cmath>
#include <iterator>
#include <limits>

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

    double sumSquares = 0.0;
    float max = 0.0f; ///< metres
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

/// Square of the angle between two unit vectors, from the square of their chord c: angle = 2·asin(c/2), whose
/// square is c²·(1 + c²/12 + c⁴/90 + c⁶/560 + …). The series saves the arcsine where it is exact to single
/// precision, which is nearly everywhere.
float squaredAngle(float chord2) {
    if (chord2 > 0.04f) {
        const float angle = 2.0f * std::asin(std::min(0.5f * std::sqrt(chord2), 1.0f));
        return angle * angle;
    }
    return chord2 * (1.0f + chord2 * (1.0f / 12.0f + chord2 * (1.0f / 90.0f)));
}

void comparePositions(Instant& instant, std::span<const glm::vec3> truth, std::span<const glm::vec3> read) {
    float most = -1.0f;
    double sum = 0.0;
    if (truth.empty()) {
        return;
    }
    glm::vec3 low = truth.front();
    glm::vec3 high = truth.front();
    for (std::size_t v = 0; v < truth.size(); ++v) {
        const glm::vec3 off = truth[v] - read[v];
        const float square = glm::dot(off, off);
        sum += static_cast<double>(square);
        if (square > most) {
            most = square;
            instant.worst = v;
        }
        low = glm::min(low, truth[v]);
        high = glm::max(high, truth[v]);
    }
    instant.sumSquares = sum;
    instant.max = std::sqrt(std::max(most, 0.0f));
    instant.bounds.add(low);
    instant.bounds.add(high);
}

void compareNormals(Instant& instant, std::span<const glm::vec3> truth, std::span<const glm::vec3> read) {
    float most = 0.0f;
    double sum = 0.0;
    for (std::size_t v = 0; v < truth.size(); ++v) {
        const glm::vec3 off = truth[v] - read[v];
        const float square = squaredAngle(glm::dot(off, off));
        sum += static_cast<double>(square);
        most = std::max(most, square);
    }
    instant.normalSumSquares = sum;
    instant.normalMax = std::sqrt(most);
}

/// Exact: counts by the upper bits of the numbers first, then looks into one bin only.
double percentile99(std::span<const std::span<const float>> parts) {
    std::size_t count = 0;
    constexpr int kShift = 12;
    std::vector<std::uint32_t> bins(std::size_t{1} << (31 - kShift), 0);
    for (const auto& part : parts) {
        count += part.size();
        for (const float value : part) {
            ++bins[std::bit_cast<std::uint32_t>(value) >> kShift]; // bits of positive floats ascend
        }
    }
    if (count == 0) {
        return 0.0;
    }
    auto rank = static_cast<std::size_t>(std::ceil(0.99 * static_cast<double>(count))) - 1;
    std::uint32_t bin = 0;
    for (; rank >= bins[bin]; ++bin) {
        rank -= bins[bin];
    }
    std::vector<float> inside;
    for (const auto& part : parts) {
        std::copy_if(part.begin(), part.end(), std::back_inserter(inside),
                     [bin](float value) { return std::bit_cast<std::uint32_t>(value) >> kShift == bin; });
    }
    const auto at = inside.begin() + static_cast<std::ptrdiff_t>(rank);
    std::nth_element(inside.begin(), at, inside.end());
    return static_cast<double>(*at);
}

Distances summarise(std::span<const Instant> instants, std::size_t vertices) {
    Distances result;
    double sum = 0.0;
    for (const Instant& instant : instants) {
        sum += instant.sumSquares;
        result.max = std::max(result.max, static_cast<double>(instant.max));
    }
    const double count = static_cast<double>(instants.size() * vertices);
    result.rms = count > 0.0 ? std::sqrt(sum / count) : 0.0;
    return result;
}

constexpr double kDegrees = 180.0 / 3.14159265358979323846;
constexpr std::size_t kMostDistances = std::size_t{1} << 22;

/// Compares all instants. `squares` gets the squared distance of every `stride`-th vertex of each, if it is
/// not empty.
void compareAll(const source::FrameSource& source, const SamplePlan& plan, const KnownPoses& known,
                const TextureReader& reader, std::span<const BakedClip> clips, const base::Progress& progress,
                bool withNormals, std::span<Instant> instants, std::span<float> squares, std::size_t stride) {
    const std::size_t vertices = reader.vertexCount();
    const std::size_t perInstant = instants.empty() ? 0 : squares.size() / instants.size();
    std::atomic<std::size_t> done{0};
    base::parallelFor(instants.size(), 1, [&](std::size_t begin, std::size_t end) {
        std::vector<glm::vec3> truth(vertices);
        std::vector<glm::vec3> truthNormals(withNormals ? vertices : 0);
        std::vector<glm::vec3> read(vertices);
        std::vector<glm::vec3> readNormals(withNormals ? vertices : 0);
        for (std::size_t i = begin; i < end; ++i) {
            Instant& instant = instants[i];
            const Frames* held = instant.kept ? known.kept : known.probes;
            std::span<const glm::vec3> positions = truth;
            std::span<const glm::vec3> normals = truthNormals;
            if (held) {
                positions = held->positionsOf(instant.index);
                normals = held->normalsOf(instant.index);
            } else {
                samplePose(source, plan.clips[instant.clip], instant.seconds, truth, truthNormals);
            }
            reader.at(clips[instant.clip], static_cast<float>(instant.frame), read, readNormals);
            comparePositions(instant, positions, read);
            if (withNormals) {
                compareNormals(instant, normals, readNormals);
            }
            for (std::size_t k = 0; k < perInstant; ++k) {
                // What a damaged file decodes to need not be a number: such a vertex is infinitely far off.
                const glm::vec3 off = positions[k * stride] - read[k * stride];
                const float square = glm::dot(off, off);
                squares[i * perInstant + k] =
                    std::isfinite(square) ? square : std::numeric_limits<float>::infinity();
            }
            progress.report(static_cast<double>(++done) / static_cast<double>(instants.size()));
        }
    });
}

} // namespace

ErrorReport measureError(const source::FrameSource& source, const SamplePlan& plan, const KnownPoses& known,
                         const TextureReader& reader, std::span<const BakedClip> clips,
                         const base::Progress& progress, Detail detail) {
    std::vector<Instant> instants = instantsOf(plan);
    const std::size_t vertices = reader.vertexCount();
    const bool all = detail == Detail::all;
    const std::size_t stride = instants.size() * vertices / kMostDistances + 1;
    std::vector<float> squares(all ? instants.size() * (vertices / stride) : 0);
    compareAll(source, plan, known, reader, clips, progress, all, instants, squares, stride);

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
        }
        report.instants.push_back(
            {instant.clip, instant.frame, instant.kept, instant.max, static_cast<float>(degrees)});
        if (instant.max > worst) {
            worst = instant.max;
            report.worstVertex = instant.worst;
            report.worstClip = plan.clips[instant.clip].name;
            report.worstFrame = instant.frame;
        }
    }
    std::sort(report.instants.begin(), report.instants.end(),
              [](const InstantError& a, const InstantError& b) {
                  return a.clip != b.clip ? a.clip < b.clip : a.frame < b.frame;
              });
    report.diagonal = static_cast<double>(bounds.diagonal());
    const double count = static_cast<double>(instants.size() * vertices);
    report.normalRmsDegrees = count > 0.0 ? std::sqrt(normalSum / count) * kDegrees : 0.0;
    const std::span<const Instant> measured(instants);
    report.atFrames = summarise(measured.first(keptCount), vertices);
    report.betweenFrames = summarise(measured.subspan(keptCount), vertices);
    report.all = summarise(measured, vertices);
    if (all) {
        const std::size_t split = keptCount * (vertices / stride);
        const std::span<const float> parts[] = {std::span<const float>(squares).first(split),
                                                std::span<const float>(squares).subspan(split)};
        report.atFrames.p99 = std::sqrt(percentile99({parts, 1}));
        report.betweenFrames.p99 = std::sqrt(percentile99({parts + 1, 1}));
        report.all.p99 = std::sqrt(percentile99(parts));
    }
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

double seamJump(const SeamPoses& poses) {
    float jump = 0.0f;
    for (std::size_t v = 0; v < poses.start.size(); ++v) {
        jump =
            std::max(jump, glm::distance(poses.last[v] - poses.before[v], poses.second[v] - poses.start[v]));
    }
    return static_cast<double>(jump);
}

Seam measureSeam(const Frames& frames, std::size_t first, std::size_t count, double fps) {
    Seam seam;
    if (count < 2) {
        return seam;
    }
    const auto pose = [&](std::size_t f) { return frames.positionsOf(first + f % count); };
    std::vector<float> steps(count - 1);
    std::vector<float> jumps(count);
    base::parallelFor(count, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t f = begin; f < end; ++f) {
            // The seam as any other place: from frame f − 1 to f, with a step on either side.
            const SeamPoses around{pose(f + count - 2), pose(f + count - 1), pose(f), pose(f + 1)};
            jumps[f] = static_cast<float>(seamJump(around));
            if (f + 1 < count) {
                Motion one;
                one.max.resize(1);
                one.mean.resize(1);
                measureStep(pose(f), pose(f + 1), 0, one);
                steps[f] = one.max[0];
            }
        }
    });
    const auto median = [](std::span<float> values) {
        const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
        std::nth_element(values.begin(), middle, values.end());
        return static_cast<double>(*middle);
    };
    seam.gap = seamGap(frames, first, count);
    seam.velocityBreak = static_cast<double>(jumps[0]) * fps;
    seam.medianStep = median(steps);
    // Beside the seam one of the four poses still lies across it.
    seam.medianBreak = count > 4 ? median(std::span(jumps).subspan(2, count - 3)) * fps : 0.0;
    return seam;
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
