// Poses at the instants of a plan.

#include "bake/frame_blend.h"
#include "bake/sampling.h"

#include "base/parallel.h"
#include "base/progress.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <map>
#include <optional>
#include <tuple>

#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <glm/mat4x4.hpp>

namespace ripple::bake {

namespace {

/// Towards another pose by `weight`; normals are renormalised.
void blendTowards(std::span<const glm::vec3> otherPositions, std::span<const glm::vec3> otherNormals,
                  float weight, std::span<glm::vec3> positions, std::span<glm::vec3> normals) {
    for (std::size_t v = 0; v < positions.size(); ++v) {
        positions[v] = glm::mix(positions[v], otherPositions[v], weight);
    }
    for (std::size_t v = 0; v < normals.size(); ++v) {
        const glm::vec3 n = glm::mix(normals[v], otherNormals[v], weight);
        const float length = glm::length(n);
        normals[v] = length > 0.0f ? n / length : normals[v];
    }
}

/// Where a motion is in its source: at one instant, or at two with the weight of the second.
struct Mixture {
    double seconds = 0.0;
    double other = 0.0;
    double weight = 0.0; ///< of `other`
};

/// The motion without its fade: behind the end of a clip that leads round, the way back to its first frame.
Mixture unfaded(const source::FrameSource& source, const ClipMotion& motion, double seconds) {
    const source::Clip& clip = source.clips()[motion.clip];
    const double behind = seconds - (clip.start + clip.duration);
    if (motion.loop.join <= 0.0 || behind <= 1e-9 * motion.loop.join) {
        return {seconds, 0.0, 0.0};
    }
    return {seconds, clip.start, std::min(behind / motion.loop.join, 1.0)};
}

Mixture fadeOf(const source::FrameSource& source, const ClipMotion& motion, double seconds) {
    const double into = seconds - (motion.fade.end - motion.fade.length);
    if (motion.fade.length <= 0.0 || into <= 0.0) {
        return {seconds, 0.0, 0.0};
    }
    double earlier = seconds - motion.fade.loop;
    if (earlier < source.clips()[motion.clip].start) {
        earlier += motion.loop.own; // before the start of a clip that closes lies its end
    }
    return {seconds, earlier, easedFade(into / motion.fade.length)}; // no break of velocity at either end
}

void sampleUnfaded(const source::FrameSource& source, const ClipMotion& motion, double seconds,
                   std::span<glm::vec3> positions, std::span<glm::vec3> normals) {
    const source::LoopSpan span{motion.loop.start, motion.loop.seconds};
    const Mixture mixture = unfaded(source, motion, seconds);
    source.sampleLoop(motion.clip, span, mixture.seconds, positions, normals);
    if (mixture.weight > 0.0) {
        std::vector<glm::vec3> first(positions.size());
        std::vector<glm::vec3> firstNormals(normals.size());
        source.sampleLoop(motion.clip, span, mixture.other, first, firstNormals);
        blendTowards(first, firstNormals, static_cast<float>(mixture.weight), positions, normals);
    }
}

/// `sample` fills transforms at an instant.
template <typename Sample>
void sampleMixture(const Mixture& mixture, std::span<glm::dmat4> transforms, const Sample& sample) {
    sample(mixture.seconds, transforms);
    if (mixture.weight <= 0.0) {
        return;
    }
    std::vector<glm::dmat4> other(transforms.size());
    sample(mixture.other, other);
    for (std::size_t j = 0; j < other.size(); ++j) {
        transforms[j] = transforms[j] * (1.0 - mixture.weight) + other[j] * mixture.weight;
    }
}

} // namespace

void samplePose(const source::FrameSource& source, const ClipMotion& motion, double seconds,
                std::span<glm::vec3> positions, std::span<glm::vec3> normals) {
    const Mixture fade = fadeOf(source, motion, seconds);
    sampleUnfaded(source, motion, fade.seconds, positions, normals);
    if (fade.weight > 0.0) {
        std::vector<glm::vec3> before(positions.size());
        std::vector<glm::vec3> beforeNormals(normals.size());
        sampleUnfaded(source, motion, fade.other, before, beforeNormals);
        blendTowards(before, beforeNormals, static_cast<float>(fade.weight), positions, normals);
    }
}

void sampleTransforms(const source::FrameSource& source, const ClipMotion& motion, double seconds,
                      std::span<glm::dmat4> transforms) {
    const auto own = [&](double at, std::span<glm::dmat4> into) {
        sampleMixture(unfaded(source, motion, at), into, [&](double instant, std::span<glm::dmat4> result) {
            source.sampleRig(motion.clip, instant, result);
        });
    };
    sampleMixture(fadeOf(source, motion, seconds), transforms, own);
}

void requireFinite(std::span<const glm::vec3> positions, const ClipPlan& clip, std::size_t frame) {
    for (std::size_t v = 0; v < positions.size(); ++v) {
        const float sum = positions[v].x + positions[v].y + positions[v].z;
        if (!std::isfinite(sum)) {
            base::fail("clip \"" + clip.name + "\", frame " + std::to_string(frame),
                       "vertex " + std::to_string(v) + " has no finite position",
                       "repair the animation where it was made (a joint scaled to zero, a bad key)");
        }
    }
}

namespace {

struct Slot {
    const ClipPlan* clip = nullptr;
    double seconds = 0.0;
    std::size_t frame = 0;
};

/// Where an earlier plan's poses lie, by clip and time; fades differ where the earlier one had none.
class Lookup {
public:
    explicit Lookup(const EarlierPoses& earlier) : frames_(earlier.frames) {
        std::size_t at = 0;
        for (std::size_t c = 0; earlier.plan && c < earlier.plan->clips.size(); ++c) {
            const ClipPlan& clip = earlier.plan->clips[c];
            for (const double seconds : clip.seconds) {
                places_.emplace(std::tuple(clip.clip, seconds, clip.fade.length), at++);
            }
        }
    }
    std::optional<std::size_t> find(const Slot& slot) const {
        const auto found = places_.find({slot.clip->clip, slot.seconds, slot.clip->fade.length});
        return found == places_.end() ? std::nullopt : std::optional(found->second);
    }
    const Frames& frames() const { return *frames_; }

private:
    std::map<std::tuple<std::size_t, double, double>, std::size_t> places_;
    const Frames* frames_;
};

/// Of several faults the first is reported, whichever thread met it.
Frames sampleSlots(const source::FrameSource& source, std::span<const Slot> slots, const Lookup& lookup,
                   bool withNormals, const base::Progress& progress) {
    Frames frames;
    frames.vertices = source.mesh().vertexCount();
    frames.frames = slots.size();
    frames.positions.resize(frames.vertices * frames.frames);
    frames.normals.resize(frames.vertices * frames.frames);
    std::vector<std::optional<base::Problem>> problems(slots.size());
    std::atomic<std::size_t> done{0};
    base::parallelFor(slots.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t s = begin; s < end; ++s) {
            const std::span<glm::vec3> positions(frames.positions.data() + s * frames.vertices,
                                                 frames.vertices);
            const std::span<glm::vec3> normals(frames.normals.data() + s * frames.vertices, frames.vertices);
            if (const auto place = lookup.find(slots[s])) {
                std::ranges::copy(lookup.frames().positionsOf(*place), positions.begin());
                std::ranges::copy(lookup.frames().normalsOf(*place), normals.begin());
            } else {
                samplePose(source, *slots[s].clip, slots[s].seconds, positions,
                           withNormals ? normals : std::span<glm::vec3>());
            }
            try {
                requireFinite(positions, *slots[s].clip, slots[s].frame);
            } catch (const base::Failure& failure) {
                problems[s] = failure.problem();
            }
            progress.report(static_cast<double>(++done) / static_cast<double>(slots.size()));
        }
    });
    for (const auto& problem : problems) {
        if (problem) {
            throw base::Failure(*problem);
        }
    }
    return frames;
}

std::vector<Slot> keptSlots(const SamplePlan& plan) {
    std::vector<Slot> slots;
    for (const ClipPlan& clip : plan.clips) {
        for (std::size_t f = 0; f < clip.seconds.size(); ++f) {
            slots.push_back({&clip, clip.seconds[f], f});
        }
    }
    return slots;
}

std::vector<Slot> probeSlots(const SamplePlan& plan) {
    std::vector<Slot> slots;
    for (const ClipPlan& clip : plan.clips) {
        for (const Probe& probe : clip.probes) {
            slots.push_back({&clip, probe.seconds, probe.frame});
        }
    }
    return slots;
}

} // namespace

Frames sampleFrames(const source::FrameSource& source, const SamplePlan& plan,
                    const base::Progress& progress) {
    return sampleSlots(source, keptSlots(plan), Lookup({}), true, progress);
}

Frames sampleProbes(const source::FrameSource& source, const SamplePlan& plan,
                    const base::Progress& progress) {
    return sampleSlots(source, probeSlots(plan), Lookup({}), true, progress);
}

Frames sampleFrames(const source::FrameSource& source, const SamplePlan& plan, const EarlierPoses& earlier,
                    const base::Progress& progress) {
    return sampleSlots(source, keptSlots(plan), Lookup(earlier), true, progress);
}

Frames sampleProbes(const source::FrameSource& source, const SamplePlan& plan, const EarlierPoses& earlier,
                    const base::Progress& progress) {
    return sampleSlots(source, probeSlots(plan), Lookup(earlier), false, progress);
}

} // namespace ripple::bake
