#include "bake/sampling.h"

#include "bake/thinning.h"
#include "base/units.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace ripple::bake {

namespace {

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

/// A clip that closes by itself needs no fade as a whole; a part of it does.
bool fades(Closing closing, const ClipExtent& extent, bool whole) {
    return closing == Closing::fade && !(extent.closed && whole) && extent.frames > 1;
}

bool isWhole(const FrameWindow& window, const ClipExtent& extent) {
    return window.first == 0 && window.last + 1 == extent.frames;
}

/// A fade takes the frames before the start, so that a whole clip begins after as many.
FrameWindow checkedWindow(const ClipChoice& choice, const ClipExtent& extent, const Recipe& recipe) {
    const std::string where = "clip \"" + choice.name + "\"";
    const std::size_t last = extent.frames - 1;
    const Closing closing = choice.closing.value_or(recipe.closing);
    const bool needsRoom = fades(closing, extent, true);
    const FrameWindow window =
        choice.window.value_or(FrameWindow{needsRoom ? std::min(recipe.fadeFrames, last) : 0, last});
    const std::size_t fade = fades(closing, extent, isWhole(window, extent)) ? recipe.fadeFrames : 0;
    if (window.first > window.last || window.last >= extent.frames) {
        base::fail(where,
                   "frames " + std::to_string(window.first) + ".." + std::to_string(window.last) +
                       " do not fit: it has " + base::plural(extent.frames, "frame"),
                   "choose within 0.." + std::to_string(last));
    }
    if (fade == 0) {
        return window;
    }
    // Before the start of a clip that closes lies its end.
    if (window.first < fade && !extent.closed) {
        base::fail(where,
                   "a cross-fade over " + base::plural(fade, "frame") + " needs as many before frame " +
                       std::to_string(window.first) + ", where it begins",
                   window.first == 0 ? "begin at frame " + std::to_string(fade) + " or later"
                                     : "cross-fade over " + base::plural(window.first, "frame") +
                                           ", or begin at frame " + std::to_string(fade) + " or later");
    }
    if (window.last - window.first < fade) {
        base::fail(where,
                   "a cross-fade over " + base::plural(fade, "frame") + " leaves nothing of " +
                       base::plural(window.last - window.first + 1, "frame") + " as it was",
                   "cross-fade over fewer frames, or choose a longer range");
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

/// Kept frames of a closed clip that can be asked at any time: cut evenly, so that none is short. One of
/// `step` frames is kept, or `each` for every frame.
void cutEvenly(ClipPlan& plan, double start, double seconds, std::size_t frames, std::size_t step,
               std::size_t each) {
    const double wanted = std::round(static_cast<double>(frames * each) / static_cast<double>(step));
    const auto kept = static_cast<std::size_t>(std::max(1.0, wanted));
    plan.frameStep = static_cast<double>(frames) / static_cast<double>(kept);
    for (std::size_t f = 0; f < kept; ++f) {
        plan.seconds.push_back(start + seconds * static_cast<double>(f) / static_cast<double>(kept));
    }
}

void notePlan(const ClipPlan& plan, const ClipExtent& extent, bool whole, std::size_t step, bool anyTime,
              base::Findings& findings) {
    const std::string where = "clip \"" + plan.name + "\"";
    if (extent.repeatsFirst) {
        findings.push_back({"repeat-dropped",
                            base::Severity::note,
                            {where, "its last frame repeats the first and is not stored",
                             "the loop closes by wrapping to frame 0"}});
    }
    if (plan.leadsRound) {
        findings.push_back({"leads-round",
                            base::Severity::note,
                            {where, "its last frame leads into its first, so it is played round",
                             "leave it open if it should stop at its end"}});
    }
    if (plan.closing == Closing::fade && extent.closed && whole) {
        findings.push_back({"fade-not-needed",
                            base::Severity::note,
                            {where, "it closes by itself", "nothing of it is cross-faded"}});
    }
    if (plan.closed && !anyTime && plan.frames % step != 0) {
        findings.push_back({"step-uneven",
                            base::Severity::look,
                            {where,
                             "a step of " + std::to_string(step) + " does not divide " +
                                 base::plural(plan.frames, "frame") + ": the last step is shorter",
                             "choose a step that divides the number of frames"}});
    }
    if (extent.frames == 1) {
        findings.push_back({"one-frame",
                            base::Severity::look,
                            {where, "it has one frame only: nothing moves",
                             "take another clip, or check that the animation was exported"}});
    }
}

void thin(const source::FrameSource& source, double tolerance, bool anyTime, const base::Progress& progress,
          ClipPlan& plan, base::Findings& findings) {
    const Thinning thinning = framesToKeep(source, plan, anyTime, tolerance, progress);
    keepOnly(plan, thinning, anyTime);
    if (thinning.beyond > 0.0) {
        findings.push_back({"too-quick-to-blend",
                            base::Severity::look,
                            {"clip \"" + plan.name + "\"",
                             "even at eight times its rate blending misses the motion by up to " +
                                 base::lengthText(thinning.beyond) + ", over the " +
                                 base::lengthText(tolerance) + " that were asked for",
                             "allow more, or sample at a higher rate"}});
    }
}

ClipPlan planClip(const source::FrameSource& source, const ClipChoice& choice, const Recipe& recipe,
                  const base::Progress& progress, base::Findings& findings) {
    ClipPlan plan;
    plan.clip = findClip(source, choice.name);
    plan.name = choice.name;
    plan.shippedName = choice.nameShipped();
    plan.ending = choice.ending;
    plan.speed = choice.speed;
    const source::Clip& clip = source.clips()[plan.clip];
    const ClipExtent extent = measureClip(source, plan.clip, recipe);
    const FrameWindow window = checkedWindow(choice, extent, recipe);
    const std::size_t count = window.last - window.first + 1;
    const bool anyTime = askedAtAnyTime(clip, recipe);
    const bool whole = isWhole(window, extent);
    const std::size_t step = recipe.thin > 0.0 ? 1 : recipe.step;
    plan.closing = choice.closing.value_or(recipe.closing);
    const double start = clip.start + static_cast<double>(window.first) * extent.spacing;
    const double seconds = static_cast<double>(count) * extent.spacing;
    const bool faded = fades(plan.closing, extent, whole);
    plan.closed = (extent.closed && whole) || faded || plan.closing == Closing::window;
    if (faded) {
        // One step more than the faded frames: at its ends the blend is all the one and all the other.
        const double length = static_cast<double>(recipe.fadeFrames + 1) * extent.spacing;
        plan.fade = {start + seconds, length, seconds};
    }
    plan.repeatDropped = extent.repeatsFirst && whole;
    plan.leadsRound = extent.leadsRound && whole;
    plan.loop = extent.motion(source, plan.clip).loop;
    if (plan.closed && !whole) {
        plan.loop.start = start;
        plan.loop.seconds = seconds;
    } else if (!plan.closed) {
        plan.loop.seconds = 0.0;
    }
    plan.firstFrame = static_cast<double>(window.first);
    plan.frames = count;
    plan.wholeFrames = extent.frames;
    const std::size_t each = anyTime ? oversamplingOf(recipe) : 1;
    if (plan.closed && anyTime && step * each > 1) {
        cutEvenly(plan, start, seconds, count, step, each);
    } else {
        plan.frameStep = static_cast<double>(step) / static_cast<double>(each);
        for (std::size_t i = 0; i * step <= (window.last - window.first) * each; ++i) {
            const double f = static_cast<double>(window.first) + static_cast<double>(i) * plan.frameStep;
            const double at = clip.start + f * extent.spacing;
            plan.seconds.push_back(std::min(at, clip.start + clip.duration + extent.join));
            if (at >= clip.start + clip.duration + extent.join && !plan.closed) {
                break; // a clip whose last step is short has no more
            }
        }
    }
    notePlan(plan, extent, whole, step, anyTime, findings);
    const double spacing = extent.spacing * plan.frameStep;
    plan.fps = spacing > 0.0 ? 1.0 / spacing : clip.fps;
    plan.length = plan.seconds.size();
    if (anyTime) {
        addMidpoints(plan, spacing);
    } else {
        addSkippedFrames(plan, window.first, window.last, step, count, extent, clip.start);
    }
    if (recipe.thin > 0.0) {
        thin(source, recipe.thin, anyTime, progress, plan, findings);
    }
    return plan;
}

/// Names tell the clips apart in what is shipped.
void requireDifferentNames(const std::vector<ClipChoice>& clips) {
    for (std::size_t c = 0; c < clips.size(); ++c) {
        for (std::size_t other = 0; other < c; ++other) {
            if (clips[c].nameShipped() == clips[other].nameShipped()) {
                base::fail("clip \"" + clips[c].name + "\"",
                           "is shipped under the name of another clip, \"" + clips[other].name + "\"",
                           "give it another name");
            }
        }
    }
}

} // namespace

std::size_t SamplePlan::frameCount() const {
    std::size_t count = 0;
    for (const ClipPlan& clip : clips) {
        count += clip.seconds.size();
    }
    return count;
}

std::vector<ClipChoice> writtenOut(const source::FrameSource& source, const Recipe& recipe) {
    std::vector<ClipChoice> clips = recipe.clips;
    for (const source::Clip& clip : source.clips()) {
        if (recipe.clips.empty()) {
            clips.push_back({clip.name, std::nullopt, std::nullopt});
        }
    }
    return clips;
}

std::vector<ClipChoice> withChoice(const source::FrameSource& source, const Recipe& recipe,
                                   const std::string& name, const std::function<void(ClipChoice&)>& change) {
    std::vector<ClipChoice> clips = writtenOut(source, recipe);
    for (ClipChoice& choice : clips) {
        if (choice.name == name) {
            change(choice);
        }
    }
    return clips;
}

std::vector<ClipChoice> withClosing(const source::FrameSource& source, const Recipe& recipe, std::size_t clip,
                                    Closing closing) {
    return withChoice(source, recipe, source.clips()[clip].name,
                      [closing](ClipChoice& choice) { choice.closing = closing; });
}

std::vector<ClipChoice> withLoop(const source::FrameSource& source, const Recipe& recipe, std::size_t clip,
                                 const FrameWindow& window) {
    Recipe chosen = recipe;
    chosen.clips = withClosing(source, recipe, clip, Closing::window);
    return withWindow(source, chosen, clip, window);
}

std::vector<ClipChoice> withWindow(const source::FrameSource& source, const Recipe& recipe, std::size_t clip,
                                   const FrameWindow& window) {
    std::vector<ClipChoice> clips = writtenOut(source, recipe);
    const std::string& name = source.clips()[clip].name;
    const auto found =
        std::find_if(clips.begin(), clips.end(), [&](const ClipChoice& c) { return c.name == name; });
    // A fade without a window chooses its own; the whole clip is another choice then.
    const bool whole = window.first == 0 && window.last + 1 >= measureClip(source, clip, recipe).frames &&
                       closingOf(recipe, name) != Closing::fade;
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
    if (recipe.oversampling && (*recipe.oversampling == 0 || *recipe.oversampling > kMostOversampling)) {
        base::fail("oversampling", "is " + std::to_string(*recipe.oversampling),
                   "store 1 to " + std::to_string(kMostOversampling) + " frames for each");
    }
    if (recipe.fadeFrames == 0) {
        base::fail("fade", "is over 0 frames",
                   "cross-fade over at least one, or close the loop in another way");
    }
    SamplePlan plan;
    plan.askedRate = recipe.fps;
    plan.oversampling = oversamplingOf(recipe);
    requireDifferentNames(recipe.clips);
    for (const ClipChoice& choice : writtenOut(source, recipe)) {
        plan.clips.push_back(planClip(source, choice, recipe, progress, plan.findings));
    }
    return plan;
}

} // namespace ripple::bake
