#include "bake/sampling.h"

#include "base/parallel.h"
#include "base/units.h"
#include "mesh/bounds.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <mutex>

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

FrameWindow checkedWindow(const ClipChoice& choice, const ClipExtent& extent) {
    const FrameWindow window = choice.window.value_or(FrameWindow{0, extent.frames - 1});
    if (window.first > window.last || window.last >= extent.frames) {
        base::fail("clip \"" + choice.name + "\"",
                   "frames " + std::to_string(window.first) + ".." + std::to_string(window.last) +
                       " do not fit: it has " + base::plural(extent.frames, "frame"),
                   "choose within 0.." + std::to_string(extent.frames - 1));
    }
    return window;
}

/// Frames left out of a sequence between kept ones.
void addSkippedFrames(ClipPlan& plan, std::size_t first, std::size_t last, std::size_t step,
                      const ClipExtent& extent, double start) {
    for (std::size_t f = first; f <= last; ++f) {
        const std::size_t kept = (f - first) / step;
        const std::size_t into = (f - first) % step;
        if (into == 0) {
            continue;
        }
        const std::size_t keptAt = first + kept * step;
        // The last stretch of a closed sequence ends at the seam, which may come sooner than a whole step.
        const std::size_t stretch = std::min(step, plan.closed ? extent.frames - keptAt : last - keptAt);
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

ClipPlan planClip(const source::FrameSource& source, const ClipChoice& choice, const Recipe& recipe,
                  base::Findings& findings) {
    ClipPlan plan;
    plan.clip = findClip(source, choice.name);
    plan.name = choice.name;
    const source::Clip& clip = source.clips()[plan.clip];
    ClipExtent extent = measureClip(source, plan.clip, recipe);
    if (extent.repeatsFirst) {
        findings.push_back(
            {"repeat-dropped",
             base::Severity::note,
             {"clip \"" + choice.name + "\"", "its last frame repeats the first and is not stored",
              "the loop closes by wrapping to frame 0"}});
    }
    const FrameWindow window = checkedWindow(choice, extent);
    const bool whole = window.first == 0 && window.last + 1 == extent.frames;
    plan.closed = extent.closed && whole;
    std::size_t step = recipe.step;
    if (plan.closed && !clip.isSequence() && step > 1) {
        // A clip that can be asked at any time is cut evenly: no short step at the seam.
        const double kept = std::round(static_cast<double>(extent.frames) / static_cast<double>(step));
        const auto frames = static_cast<std::size_t>(std::max(1.0, kept));
        plan.frameStep = static_cast<double>(extent.frames) / static_cast<double>(frames);
        for (std::size_t f = 0; f < frames; ++f) {
            plan.seconds.push_back(clip.start +
                                   clip.duration * static_cast<double>(f) / static_cast<double>(frames));
        }
    } else {
        plan.frameStep = static_cast<double>(step);
        plan.firstFrame = static_cast<double>(window.first);
        for (std::size_t f = window.first; f <= window.last; f += step) {
            const double at = clip.start + static_cast<double>(f) * extent.spacing;
            plan.seconds.push_back(std::min(at, clip.start + clip.duration));
        }
        if (plan.closed && extent.frames % step != 0) {
            findings.push_back({"step-uneven",
                                base::Severity::look,
                                {"clip \"" + choice.name + "\"",
                                 "a step of " + std::to_string(step) + " does not divide " +
                                     base::plural(extent.frames, "frame") + ": the last step is shorter",
                                 "choose a step that divides the number of frames"}});
        }
    }
    const double spacing = extent.spacing * plan.frameStep;
    plan.fps = spacing > 0.0 ? 1.0 / spacing : clip.fps;
    if (clip.isSequence()) {
        addSkippedFrames(plan, window.first, window.last, step, extent, clip.start);
    } else {
        addMidpoints(plan, spacing);
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
    if (of.isSequence()) {
        extent.frames = of.frames;
        extent.spacing = 1.0 / of.fps;
        extent.repeatsFirst =
            recipe.dropRepeated && of.frames > 2 && posesMeet(source, clip, of.start, of.start + of.duration);
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
    extent.closed = posesMeet(source, clip, of.start, of.start + of.duration);
    if (extent.closed) {
        extent.frames = static_cast<std::size_t>(std::max(1.0, std::round(frames)));
        extent.spacing = of.duration / static_cast<double>(extent.frames);
    } else {
        extent.frames = static_cast<std::size_t>(std::ceil(frames - slack(frames))) + 1;
        extent.spacing = 1.0 / rate;
    }
    return extent;
}

std::vector<ClipChoice> withWindow(const source::FrameSource& source, const Recipe& recipe, std::size_t clip,
                                   const FrameWindow& window) {
    std::vector<ClipChoice> clips = recipe.clips;
    if (clips.empty()) {
        for (const source::Clip& each : source.clips()) {
            clips.push_back({each.name, std::nullopt});
        }
    }
    const std::string& name = source.clips()[clip].name;
    const auto found =
        std::find_if(clips.begin(), clips.end(), [&](const ClipChoice& c) { return c.name == name; });
    const bool whole = window.first == 0 && window.last + 1 >= measureClip(source, clip, recipe).frames;
    const ClipChoice choice{name, whole ? std::nullopt : std::optional(window)};
    if (found == clips.end()) {
        clips.push_back(choice);
    } else {
        *found = choice;
    }
    return clips;
}

SamplePlan planSampling(const source::FrameSource& source, const Recipe& recipe) {
    if (recipe.step == 0) {
        base::fail("step", "is 0", "keep every 1st, 2nd, … frame");
    }
    std::vector<ClipChoice> choices = recipe.clips;
    if (choices.empty()) {
        for (const source::Clip& clip : source.clips()) {
            choices.push_back({clip.name, std::nullopt});
        }
    }
    SamplePlan plan;
    for (const ClipChoice& choice : choices) {
        plan.clips.push_back(planClip(source, choice, recipe, plan.findings));
    }
    return plan;
}

Frames sampleFrames(const source::FrameSource& source, const SamplePlan& plan,
                    const base::Progress& progress) {
    Frames frames;
    frames.vertices = source.mesh().vertexCount();
    frames.frames = plan.frameCount();
    frames.positions.resize(frames.vertices * frames.frames);
    frames.normals.resize(frames.vertices * frames.frames);
    struct Slot {
        const ClipPlan* clip;
        std::size_t frame;
    };
    std::vector<Slot> slots;
    for (const ClipPlan& clip : plan.clips) {
        for (std::size_t f = 0; f < clip.seconds.size(); ++f) {
            slots.push_back({&clip, f});
        }
    }
    constexpr std::size_t kNone = static_cast<std::size_t>(-1);
    std::vector<std::size_t> badVertex(slots.size(), kNone);
    std::atomic<std::size_t> done{0};
    base::parallelFor(slots.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t s = begin; s < end; ++s) {
            const std::span<glm::vec3> positions(frames.positions.data() + s * frames.vertices,
                                                 frames.vertices);
            const std::span<glm::vec3> normals(frames.normals.data() + s * frames.vertices, frames.vertices);
            source.sample(slots[s].clip->clip, slots[s].clip->seconds[slots[s].frame], positions, normals);
            for (std::size_t v = 0; v < positions.size(); ++v) {
                const float sum = positions[v].x + positions[v].y + positions[v].z;
                if (!std::isfinite(sum)) {
                    badVertex[s] = v;
                    break;
                }
            }
            progress.report(static_cast<double>(++done) / static_cast<double>(slots.size()));
        }
    });
    for (std::size_t s = 0; s < slots.size(); ++s) {
        if (badVertex[s] != kNone) {
            base::fail("clip \"" + slots[s].clip->name + "\", frame " + std::to_string(slots[s].frame),
                       "vertex " + std::to_string(badVertex[s]) + " has no finite position",
                       "repair the animation where it was made (a joint scaled to zero, a bad key)");
        }
    }
    return frames;
}

} // namespace ripple::bake
