#include "bundle/clip_section.h"

#include "bake/transitions.h"
#include "base/json_section.h"

namespace ripple::bundle {

using Json = nlohmann::ordered_json;

namespace {

/// Frames that a clip may play: what single precision still counts.
constexpr std::size_t kMostPlayed = std::size_t{1} << 24;

void parseTimes(const base::JsonSection& from, bake::BakedClip& clip) {
    clip.timesLength = from.count("length", kMostPlayed);
    for (const base::JsonSection& time : from.list("times")) {
        clip.times.push_back(static_cast<std::uint32_t>(time.count(kMostPlayed)));
    }
    bool ascends = clip.times.size() == clip.frames && clip.times.front() == 0 &&
                   clip.times.back() < clip.timesLength &&
                   (clip.closed || clip.times.back() + 1 == clip.timesLength);
    for (std::size_t f = 1; ascends && f < clip.times.size(); ++f) {
        ascends = clip.times[f] > clip.times[f - 1];
    }
    if (!ascends) {
        from.wrong("times", "does not ascend from 0 through the clip, a number for each frame");
    }
}

} // namespace

Json boundsJson(const mesh::Bounds& bounds) {
    return {{"min", base::json(bounds.min)}, {"max", base::json(bounds.max)}};
}

mesh::Bounds parseBounds(const base::JsonSection& from) {
    return {from.vector("min"), from.vector("max")};
}

Json transitionsJson(const std::vector<bake::Transition>& transitions) {
    Json all = Json::array();
    for (const bake::Transition& each : transitions) {
        all.push_back({{"from", each.from}, {"to", each.to}, {"seconds", each.seconds}});
    }
    return all;
}

std::vector<bake::Transition> parseTransitions(const base::JsonSection& root,
                                               std::span<const bake::BakedClip> clips) {
    std::vector<bake::Transition> said;
    if (root.has("transitions")) {
        for (const base::JsonSection& each : root.list("transitions")) {
            said.push_back({each.text("from"), each.text("to"), each.number("seconds")});
            if (!(said.back().seconds >= 0.0 && said.back().seconds <= bake::kLongestFade)) {
                each.wrong("seconds", "is not from 0 to 60");
            }
        }
    }
    return bake::transitionsOf(clips, said);
}

bake::BakedClip parseClip(const base::JsonSection& from, std::size_t frames) {
    bake::BakedClip clip;
    clip.name = from.text("name");
    clip.firstFrame = from.count("first_frame", frames);
    clip.frames = from.count("frames", frames);
    clip.fps = from.number("fps");
    clip.closed = from.flag("closed");
    clip.sourceName = from.has("source_name") ? from.text("source_name") : clip.name;
    const auto ending = bake::endingByName(from.has("play") ? from.text("play")
                                           : clip.closed    ? "loop"
                                                            : "hold");
    if (!ending) {
        from.wrong("play", "is none of loop, once and hold");
    }
    clip.ending = *ending;
    if (from.has("speed_min") && from.has("speed_max")) {
        clip.speed = bake::SpeedRange{from.number("speed_min"), from.number("speed_max")};
    }
    if (clip.frames == 0 || clip.firstFrame + clip.frames > frames || clip.fps <= 0.0) {
        from.wrong("frames", "does not fit the texture");
    }
    if (from.has("times")) {
        parseTimes(from, clip);
    }
    if (from.has("source_frame")) {
        clip.sourceFrame = from.number("source_frame");
        clip.sourceStep = from.number("source_step");
        clip.sourceFrames = from.has("source_frames") ? from.count("source_frames", kMostPlayed) : 0;
        const auto closing =
            bake::closingByName(from.has("source_closing") ? from.text("source_closing") : "drop");
        if (!closing) {
            from.wrong("source_closing", "is no way to close a loop");
        }
        clip.sourceClosing = *closing;
    }
    return clip;
}

Json clipJson(const Manifest& manifest, std::size_t index) {
    const bake::BakeFormat& set = manifest.textures;
    const bake::BakedClip& clip = set.clips[index];
    Json json = {{"name", clip.name},
                 {"first_frame", clip.firstFrame},
                 {"frames", clip.frames},
                 {"fps", clip.fps},
                 {"closed", clip.closed},
                 {"play", bake::name(clip.ending)},
                 {"source_frame", clip.sourceFrame},
                 {"source_step", clip.sourceStep},
                 {"source_frames", clip.sourceFrames},
                 {"source_closing", bake::name(clip.sourceClosing)}};
    if (!clip.sourceName.empty() && clip.sourceName != clip.name) {
        json["source_name"] = clip.sourceName;
    }
    if (index < manifest.clipRates.size() && manifest.clipRates[index] > 0.0) {
        json["source_fps"] = manifest.clipRates[index];
    }
    if (clip.speed) {
        json["speed_min"] = clip.speed->least;
        json["speed_max"] = clip.speed->most;
    }
    if (index < manifest.clipBounds.size()) {
        json["bounds"] = boundsJson(manifest.clipBounds[index]);
    }
    if (!clip.times.empty()) {
        json["length"] = clip.timesLength;
        json["times"] = clip.times;
    }
    if (set.positionStore.usesRange && set.ranges.size() > 1) {
        json["min"] = base::json(set.ranges[index].min);
        json["max"] = base::json(set.ranges[index].max);
    }
    return json;
}

} // namespace ripple::bundle
