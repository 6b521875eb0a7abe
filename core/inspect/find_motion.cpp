// What reading every frame showed: faults, strays, what is still, ends, rates.

#include "inspect/finders.h"

#include "base/units.h"

#include <algorithm>
#include <cmath>

namespace ripple::inspect {

namespace {

const Survey* completeOf(const Inspection& inspection) {
    return inspection.survey && inspection.survey->complete ? inspection.survey : nullptr;
}

std::string frameName(const Inspection& inspection, std::size_t clip, std::size_t frame) {
    const auto clips = inspection.source.clips();
    const std::string number = "frame " + std::to_string(frame);
    return clips.size() > 1 ? clips[clip].name + ", " + number : number;
}

/// The longest stretch of a sequence without a faulty frame.
source::FrameRange longestGood(const Survey& survey, std::size_t clip, std::size_t frames) {
    std::vector<char> bad(frames, 0);
    for (const FrameFault& fault : survey.faults) {
        if (fault.clip == clip && fault.frame < frames) {
            bad[fault.frame] = 1;
        }
    }
    source::FrameRange best{0, 0};
    std::size_t length = 0;
    for (std::size_t f = 0, start = 0; f <= frames; ++f) {
        if (f == frames || bad[f]) {
            if (f - start > length) {
                best = {start, f - 1};
                length = f - start;
            }
            start = f + 1;
        }
    }
    return best;
}

} // namespace

void findFrameFaults(const Inspection& inspection, const MeshFacts&, std::vector<Observation>& found) {
    if (!inspection.survey) {
        return;
    }
    const Survey& survey = *inspection.survey;
    constexpr std::size_t kMostCards = 3;
    for (std::size_t i = 0; i < std::min(survey.faults.size(), kMostCards); ++i) {
        const FrameFault& fault = survey.faults[i];
        Observation one;
        one.finding = {"frame-fault", base::Severity::broken, fault.problem};
        if (i + 1 == kMostCards && survey.faults.size() > kMostCards) {
            one.finding.problem.what +=
                " (and " + std::to_string(survey.faults.size() - kMostCards) + " more frames have faults)";
        }
        one.place = FramePlace{fault.clip, fault.frame};
        const source::Clip& clip = inspection.source.clips()[fault.clip];
        if (clip.isSequence() && survey.complete) {
            source::FrameRange good = longestGood(survey, fault.clip, clip.frames);
            Fix fix;
            const bool reversed = inspection.reading.time.reversed;
            const std::size_t shift =
                inspection.reading.time.range ? inspection.reading.time.range->first : 0;
            if (reversed) {
                good = {clip.frames - 1 - good.last, clip.frames - 1 - good.first};
            }
            good = {good.first + shift, good.last + shift};
            fix.label = "Use frames " + std::to_string(good.first) + "–" + std::to_string(good.last);
            fix.reading = inspection.reading;
            fix.reading->time.range = good;
            one.fixes.push_back(std::move(fix));
        }
        found.push_back(std::move(one));
    }
}

void findStrays(const Inspection& inspection, const MeshFacts&, std::vector<Observation>& found) {
    if (!inspection.survey || inspection.survey->strays.empty()) {
        return;
    }
    const auto& all = inspection.survey->strays;
    const Strays& first = all.front();
    Observation one;
    one.finding = {
        first.finite ? "stray-vertices" : "not-finite",
        base::Severity::broken,
        {frameName(inspection, first.clip, first.frame),
         base::plural(first.count, "vertex") +
             (first.finite ? " far away from all others" : " without a finite position (NaN)") +
             (all.size() > 1 ? ", and so in " + std::to_string(all.size() - 1) + " more frames" : ""),
         "repair the simulation there, or let such vertices follow their neighbours"}};
    one.place = FramePlace{first.clip, first.frame};
    one.vertices = first.vertices;
    Fix fix;
    fix.label = "Let them follow their neighbours";
    fix.reading = inspection.reading;
    fix.reading->mending.holdStray = true;
    one.fixes.push_back(std::move(fix));
    found.push_back(std::move(one));
}

void findStill(const Inspection& inspection, const MeshFacts&, std::vector<Observation>& found) {
    const Survey* survey = completeOf(inspection);
    if (!survey || survey->still == 0 || survey->framesTotal < 2) {
        return;
    }
    const bool all = survey->still == survey->moves.size();
    Observation one;
    one.finding = {
        "still",
        all ? base::Severity::look : base::Severity::note,
        {inspection.where,
         all ? "nothing moves in any frame" : base::plural(survey->still, "vertex") + " never move",
         all ? "check that the motion was exported with the mesh" : "an offset bake stores them once"}};
    if (!all && survey->still == 1) {
        one.finding.problem.what = "1 vertex never moves";
    }
    constexpr std::size_t kMostMarked = 4096;
    for (std::size_t v = 0; v < survey->moves.size() && one.vertices.size() < kMostMarked; ++v) {
        if (!survey->moves[v]) {
            one.vertices.push_back(static_cast<std::uint32_t>(v));
        }
    }
    found.push_back(std::move(one));
}

void findOpenEnds(const Inspection& inspection, const MeshFacts&, std::vector<Observation>& found) {
    const Survey* survey = completeOf(inspection);
    for (std::size_t c = 0; survey && c < survey->clips.size(); ++c) {
        const ClipSurvey& clip = survey->clips[c];
        const auto step = static_cast<double>(clip.motion.medianMax);
        // A gap within an ordinary step is not seen.
        const std::string& name = inspection.source.clips()[c].name;
        const auto& chosen = inspection.recipe.clips;
        const bool windowed = std::any_of(chosen.begin(), chosen.end(), [&](const bake::ClipChoice& choice) {
            return choice.name == name && choice.window;
        });
        const bake::Closing closing = bake::closingOf(inspection.recipe, name);
        const bool closes = closing == bake::Closing::fade || closing == bake::Closing::window;
        if (clip.extent.closed || clip.extent.frames < 3 || windowed || closes) {
            continue;
        }
        const bool seen = clip.gap > step;
        // Beside other clips an open one is likely meant so; a sequence alone is likely meant to loop.
        const bool alone = seen && survey->clips.size() == 1;
        Observation one;
        one.finding = {"open-ends",
                       alone ? base::Severity::look : base::Severity::note,
                       {inspection.where,
                        (alone ? "the ends do not meet" : "clip " + name + " is open") +
                            (seen ? std::string(": frame ") + std::to_string(clip.extent.frames - 1) +
                                        " to 0 has a gap of " + base::lengthText(clip.gap) +
                                        ", against steps of " + base::lengthText(step)
                                  : ": its last frame does not lead smoothly into its first"),
                        alone ? "cross-fade its end into its start, choose a loop range, or let it play once"
                              : "it plays once"}};
        one.place = FramePlace{c, clip.extent.frames - 1};
        // A window is offered only where it is better than what there is.
        for (std::size_t w = 0; w < clip.windows.size() && one.fixes.empty(); ++w) {
            if (clip.windows[w].gap < 0.7 * clip.gap) {
                const LoopWindow& window = clip.windows[w].window;
                Fix fix;
                fix.label = "Use frames " + std::to_string(window.first) + "–" + std::to_string(window.last) +
                            " (" + base::lengthText(clip.windows[w].gap) + ")";
                fix.clips =
                    bake::withLoop(inspection.source, inspection.recipe, c, {window.first, window.last});
                one.fixes.push_back(std::move(fix));
            }
        }
        const std::size_t fade = inspection.recipe.fadeFrames;
        if (clip.extent.frames > 3 * fade) {
            Fix fix;
            fix.label = "Cross-fade " + base::plural(fade, "frame");
            fix.clips = bake::withClosing(inspection.source, inspection.recipe, c, bake::Closing::fade);
            one.fixes.push_back(std::move(fix));
        }
        found.push_back(std::move(one));
    }
}

void findRates(const Inspection& inspection, const MeshFacts&, std::vector<Observation>& found) {
    const auto clips = inspection.source.clips();
    const auto off = [](double a, double b) { return std::abs(a - b) > 1e-3 * std::max(a, b); };
    const source::Clip* keyed = nullptr;
    for (const source::Clip& clip : clips) {
        if (clip.keyRate <= 0.0) {
            continue;
        }
        if (keyed && off(keyed->keyRate, clip.keyRate)) {
            Observation one;
            one.finding = {
                "rates-differ",
                base::Severity::look,
                {inspection.where,
                 keyed->name + " was keyed at " + base::numberText(keyed->keyRate) + " frames per second, " +
                     clip.name + " at " + base::numberText(clip.keyRate),
                 "a bake has one rate for each clip, and each keeps its own; check that this is meant"}};
            found.push_back(std::move(one));
            break;
        }
        keyed = &clip;
    }
    const double rate = inspection.recipe.fps;
    const double ratio = keyed && rate > 0.0 ? rate / keyed->keyRate : 1.0;
    if (off(ratio, std::max(1.0, std::round(ratio)))) {
        Observation one;
        one.finding = {"rate-mismatch",
                       base::Severity::look,
                       {inspection.where,
                        "is sampled at " + base::numberText(rate) + " per second, but " + keyed->name +
                            " was keyed at " + base::numberText(keyed->keyRate),
                        "samples fall between keys and cut corners; sample at the rate of the keys"}};
        Fix fix;
        fix.label = "Sample at " + base::numberText(keyed->keyRate) + " / s";
        fix.sampleRate = keyed->keyRate;
        one.fixes.push_back(std::move(fix));
        found.push_back(std::move(one));
    }
    const bool guessed = clips[0].isSequence() && clips[0].frames > 1 && !clips[0].rateKnown;
    if (guessed) {
        Observation one;
        one.finding = {"rate-unknown",
                       base::Severity::note,
                       {inspection.where, "its files do not say their frame rate",
                        base::numberText(clips[0].fps) + " per second is taken; set what it was made at"}};
        found.push_back(std::move(one));
    }
}

} // namespace ripple::inspect
