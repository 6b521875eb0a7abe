#include "bake/sampling.h"

#include "bake/thinning.h"
#include "base/parallel.h"
#include "base/units.h"
#include "mesh/bounds.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <map>
#include <optional>
#include <tuple>

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace ripple::bake {

namespace {

/// Ends that differ by less than this part of the model's diagonal are the same pose.
constexpr float kSamePose = 1e-4f;

/// A clip of a whole number of frames must not gain one by rounding (D·X = 90.000000001).
double slack(double frames) {
    return 1e-6 * std::max(1.0, frames);
}

bool posesMeet(const source::FrameSource& source, std::size_t clip, double a, double b) {
    const std::size_t vertices = source.mesh().vertexCount();
    std::vector<glm::vec3> first(vertices);
    std::vector<glm::vec3> last(vertices);
    source.sample(clip, a, first, {});
    source.sample(clip, b, last, {});
    mesh::Bounds bounds;
    bounds.add(first);
    const float limit = kSamePose * bounds.diagonal();
    for (std::size_t v = 0; v < vertices; ++v) {
        if (glm::distance(first[v], last[v]) > limit) {
            return false;
        }
    }
    return true;
}

std::size_t findClip(const source::FrameSource& source, const std::string& name) {
    const auto clips = source.clips();
    std::string names;
    for (std::size_t i = 0; i < clips.size(); ++i) {
        if (clips[i].name == name) {
            return i;
        }
        names += (names.empty() ? "" : ", ") + clips[i].name;
    }
    base::fail("clip \"" + name + "\"", "the source has no such clip", "it has: " + names);
}

bool fades(Closing closing, const ClipExtent& extent) {
    return closing == Closing::fade && !extent.closed;
}

/// A fade takes the frames before the start, so that a whole clip begins after as many.
FrameWindow checkedWindow(const ClipChoice& choice, const ClipExtent& extent, const Recipe& recipe) {
    const std::string where = "clip \"" + choice.name + "\"";
    const std::size_t last = extent.frames - 1;
    const std::size_t fade =
        fades(choice.closing.value_or(recipe.closing), extent) ? recipe.fadeFrames : 0;
    const FrameWindow window = choice.window.value_or(FrameWindow{std::min(fade, last), last});
    if (window.first > window.last || window.last >= extent.frames) {
        base::fail(where,
                   "frames " + std::to_string(window.first) + ".." + std::to_string(window.last) +
                       " do not fit: it has " + base::plural(extent.frames, "frame"),
                   "choose within 0.." + std::to_string(last));
    }
    if (fade == 0) {
        return window;
    }
    if (window.first < fade) {
        base::fail(where,
                   "a fade over " + base::plural(fade, "frame") + " needs as many before frame " +
                       std::to_string(window.first) + ", where it begins",
                   window.first == 0 ? "begin at frame " + std::to_string(fade) + " or later"
                                     : "fade over " + base::plural(window.first, "frame") +
                                           ", or begin at frame " + std::to_string(fade) + " or later");
    }
    if (window.last - window.first < fade) {
        base::fail(where,
                   "a fade over " + base::plural(fade, "frame") + " leaves nothing of " +
                       base::plural(window.last - window.first + 1, "frame") + " as it was",
                   "fade over fewer frames, or take a longer window");
    }
    return window;
}

/// Frames left out of a sequence between kept ones.
void addSkippedFrames(ClipPlan& plan, std::size_t first, std::size_t last, std::size_t step,
                      std::size_t count, const ClipExtent& extent, double start) {
    for (std::size_t f = first; f <= last; ++f) {
        const std::size_t kept = (f - first) / step;
        const std::size_t into = (f - first) % step;
        if (into == 0) {
            continue;
        }
        const std::size_t keptAt = first + kept * step;
        // The last stretch of a closed sequence ends at the seam, which may come sooner than a whole step.
        const std::size_t stretch = std::min(step, plan.closed ? first + count - keptAt : last - keptAt);
        if (!plan.closed && keptAt + step > last) {
            continue; // behind the last kept frame: not played
        }
        plan.probes.push_back({kept, static_cast<double>(into) / static_cast<double>(stretch),
                               start + static_cast<double>(f) * extent.spacing});
    }
}

void addMidpoints(ClipPlan& plan, double spacing) {
    const std::size_t gaps = plan.closed ? plan.seconds.size() : plan.seconds.size() - 1;
    for (std::size_t f = 0; f < gaps && plan.seconds.size() > 1; ++f) {
        // The last step of an open clip may be shorter than the others.
        const double next = f + 1 < plan.seconds.size() ? plan.seconds[f + 1] : plan.seconds[f] + spacing;
        plan.probes.push_back({f, 0.5, 0.5 * (plan.seconds[f] + next)});
    }
}

bool asked(const source::Clip& clip, const Recipe& recipe) {
    return !clip.isSequence() || (recipe.fps > 0.0 && std::abs(recipe.fps - clip.fps) > 1e-9 * clip.fps);
}

/// Kept frames of a closed clip that can be asked at any time: cut evenly, so that none is short.
void cutEvenly(ClipPlan& plan, double start, double seconds, std::size_t frames, std::size_t step) {
    const double wanted = std::round(static_cast<double>(frames) / static_cast<double>(step));
    const auto kept = static_cast<std::size_t>(std::max(1.0, wanted));
    plan.frameStep = static_cast<double>(frames) / static_cast<double>(kept);
    for (std::size_t f = 0; f < kept; ++f) {
        plan.seconds.push_back(start + seconds * static_cast<double>(f) / static_cast<double>(kept));
    }
}

void notePlan(const ClipPlan& plan, const ClipExtent& extent, std::size_t count, std::size_t step,
              bool anyTime, base::Findings& findings) {
    const std::string where = "clip \"" + plan.name + "\"";
    if (extent.repeatsFirst) {
        findings.push_back({"repeat-dropped",
                            base::Severity::note,
                            {where, "its last frame repeats the first and is not stored",
                             "the loop closes by wrapping to frame 0"}});
    }
    if (plan.closing == Closing::fade && extent.closed) {
        findings.push_back({"fade-not-needed",
                            base::Severity::note,
                            {where, "it closes by itself", "nothing of it is faded"}});
    }
    if (plan.closed && !anyTime && count % step != 0) {
        findings.push_back(
            {"step-uneven",
             base::Severity::look,
             {where,
              "a step of " + std::to_string(step) + " does not divide " + base::plural(count, "frame") +
                  ": the last step is shorter",
              "choose a step that divides the number of frames"}});
    }
    if (extent.frames == 1) {
        findings.push_back({"one-frame",
                            base::Severity::look,
                            {where, "it has one frame only: nothing moves",
                             "take another clip, or check that the animation was exported"}});
    }
}

ClipPlan planClip(const source::FrameSource& source, const ClipChoice& choice, const Recipe& recipe,
                  const base::Progress& progress, base::Findings& findings) {
    ClipPlan plan;
    plan.clip = findClip(source, choice.name);
    plan.name = choice.name;
    const source::Clip& clip = source.clips()[plan.clip];
    const ClipExtent extent = measureClip(source, plan.clip, recipe);
    const FrameWindow window = checkedWindow(choice, extent, recipe);
    const std::size_t count = window.last - window.first + 1;
    const bool anyTime = asked(clip, recipe);
    const bool whole = count == extent.frames;
    const std::size_t step = recipe.thin > 0.0 ? 1 : recipe.step;
    plan.closing = choice.closing.value_or(recipe.closing);
    const double start = clip.start + static_cast<double>(window.first) * extent.spacing;
    const double seconds = static_cast<double>(count) * extent.spacing;
    plan.closed = (extent.closed && whole) || fades(plan.closing, extent) || plan.closing == Closing::window;
    if (fades(plan.closing, extent)) {
        // One step more than the faded frames: at its ends the blend is all the one and all the other.
        const double length = static_cast<double>(recipe.fadeFrames + 1) * extent.spacing;
        plan.fade = {start + seconds, length, seconds};
    }
    plan.firstFrame = static_cast<double>(window.first);
    plan.frames = count;
    if (plan.closed && anyTime && step > 1) {
        cutEvenly(plan, start, seconds, count, step);
    } else {
        plan.frameStep = static_cast<double>(step);
        for (std::size_t f = window.first; f <= window.last; f += step) {
            const double at = clip.start + static_cast<double>(f) * extent.spacing;
            plan.seconds.push_back(std::min(at, clip.start + clip.duration));
        }
    }
    notePlan(plan, extent, count, step, anyTime, findings);
    const double spacing = extent.spacing * plan.frameStep;
    plan.fps = spacing > 0.0 ? 1.0 / spacing : clip.fps;
    plan.length = plan.seconds.size();
    if (anyTime) {
        addMidpoints(plan, spacing);
    } else {
        addSkippedFrames(plan, window.first, window.last, step, count, extent, clip.start);
    }
    if (recipe.thin > 0.0) {
        keepOnly(plan, framesToKeep(source, plan, recipe.thin, progress));
    }
    return plan;
}

} // namespace

std::size_t SamplePlan::frameCount() const {
    std::size_t count = 0;
    for (const ClipPlan& clip : clips) {
        count += clip.seconds.size();
    }
    return count;
}

ClipExtent measureClip(const source::FrameSource& source, std::size_t clip, const Recipe& recipe) {
    const source::Clip& of = source.clips()[clip];
    ClipExtent extent;
    const bool drops = closingOf(recipe, of.name) != Closing::asIs;
    if (!asked(of, recipe)) {
        extent.frames = of.frames;
        extent.spacing = 1.0 / of.fps;
        extent.repeatsFirst =
            drops && of.frames > 2 && posesMeet(source, clip, of.start, of.start + of.duration);
        extent.closed = extent.repeatsFirst;
        extent.frames -= extent.repeatsFirst ? 1 : 0;
        return extent;
    }
    if (of.duration <= 0.0) {
        return extent;
    }
    const double rate = recipe.fps > 0.0 ? recipe.fps : of.fps;
    const double frames = of.duration * rate;
    constexpr double kMostFrames = 1e6;
    if (!(frames < kMostFrames)) {
        base::fail("clip \"" + of.name + "\"", "would have more than a million frames",
                   "choose a lower rate or check the clip's key times");
    }
    extent.closed = (drops || !of.isSequence()) && posesMeet(source, clip, of.start, of.start + of.duration);
    if (extent.closed) {
        extent.frames = static_cast<std::size_t>(std::max(1.0, std::round(frames)));
        extent.spacing = of.duration / static_cast<double>(extent.frames);
    } else {
        extent.frames = static_cast<std::size_t>(std::ceil(frames - slack(frames))) + 1;
        extent.spacing = 1.0 / rate;
    }
    return extent;
}

std::vector<ClipChoice> withClosing(const source::FrameSource& source, const Recipe& recipe, std::size_t clip,
                                    Closing closing) {
    std::vector<ClipChoice> clips = recipe.clips;
    if (clips.empty()) {
        for (const source::Clip& each : source.clips()) {
            clips.push_back({each.name, std::nullopt, std::nullopt});
        }
    }
    for (ClipChoice& choice : clips) {
        if (choice.name == source.clips()[clip].name) {
            choice.closing = closing;
        }
    }
    return clips;
}

std::vector<ClipChoice> withLoop(const source::FrameSource& source, const Recipe& recipe, std::size_t clip,
                                 const FrameWindow& window) {
    Recipe chosen = recipe;
    chosen.clips = withClosing(source, recipe, clip, Closing::window);
    return withWindow(source, chosen, clip, window);
}

std::vector<ClipChoice> withWindow(const source::FrameSource& source, const Recipe& recipe, std::size_t clip,
                                   const FrameWindow& window) {
    std::vector<ClipChoice> clips = recipe.clips;
    if (clips.empty()) {
        for (const source::Clip& each : source.clips()) {
            clips.push_back({each.name, std::nullopt, std::nullopt});
        }
    }
    const std::string& name = source.clips()[clip].name;
    const auto found =
        std::find_if(clips.begin(), clips.end(), [&](const ClipChoice& c) { return c.name == name; });
    const bool whole = window.first == 0 && window.last + 1 >= measureClip(source, clip, recipe).frames;
    const auto wanted = whole ? std::nullopt : std::optional(window);
    if (found == clips.end()) {
        clips.push_back({name, wanted, std::nullopt});
    } else {
        found->window = wanted;
    }
    return clips;
}

SamplePlan planSampling(const source::FrameSource& source, const Recipe& recipe,
                        const base::Progress& progress) {
    if (recipe.step == 0) {
        base::fail("step", "is 0", "keep every 1st, 2nd, … frame");
    }
    if (recipe.fadeFrames == 0) {
        base::fail("fade", "is over 0 frames", "fade over at least one, or close the loop in another way");
    }
    std::vector<ClipChoice> choices = recipe.clips;
    if (choices.empty()) {
        for (const source::Clip& clip : source.clips()) {
            choices.push_back({clip.name, std::nullopt, std::nullopt});
        }
    }
    SamplePlan plan;
    for (const ClipChoice& choice : choices) {
        plan.clips.push_back(planClip(source, choice, recipe, progress, plan.findings));
    }
    return plan;
}

void keepOnly(ClipPlan& plan, std::span<const std::uint32_t> kept) {
    if (kept.size() == plan.seconds.size()) {
        return;
    }
    const std::vector<double> all = std::move(plan.seconds);
    plan.seconds.clear();
    plan.times.assign(kept.begin(), kept.end());
    auto next = kept.begin();
    for (std::size_t f = 0; f < all.size(); ++f) {
        if (next != kept.end() && *next == f) {
            plan.seconds.push_back(all[f]);
            ++next;
        } else {
            plan.probes.push_back({f, 0.0, all[f]});
        }
    }
}

void samplePose(const source::FrameSource& source, const ClipPlan& clip, double seconds,
                std::span<glm::vec3> positions, std::span<glm::vec3> normals) {
    source.sample(clip.clip, seconds, positions, normals);
    const double into = seconds - (clip.fade.end - clip.fade.length);
    if (clip.fade.length <= 0.0 || into <= 0.0) {
        return;
    }
    const double u = std::min(into / clip.fade.length, 1.0);
    const auto weight = static_cast<float>(u * u * (3.0 - 2.0 * u)); // no break of velocity at either end
    std::vector<glm::vec3> before(positions.size());
    std::vector<glm::vec3> beforeNormals(normals.size());
    source.sample(clip.clip, seconds - clip.fade.loop, before, beforeNormals);
    for (std::size_t v = 0; v < positions.size(); ++v) {
        positions[v] = glm::mix(positions[v], before[v], weight);
    }
    for (std::size_t v = 0; v < normals.size(); ++v) {
        const glm::vec3 n = glm::mix(normals[v], beforeNormals[v], weight);
        const float length = glm::length(n);
        normals[v] = length > 0.0f ? n / length : normals[v];
    }
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
