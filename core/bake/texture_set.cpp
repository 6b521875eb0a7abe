#include "bake/texture_set.h"

#include <algorithm>
#include <cmath>

namespace ripple::bake {

std::vector<BakedClip> clipsOf(const SamplePlan& plan) {
    std::vector<BakedClip> clips;
    std::size_t first = 0;
    for (const ClipPlan& from : plan.clips) {
        BakedClip clip;
        clip.name = from.shippedName.empty() ? from.name : from.shippedName;
        clip.sourceName = from.name;
        clip.speed = from.speed;
        clip.ending = from.ending.value_or(from.closed ? Ending::loop : Ending::hold);
        clip.firstFrame = first;
        clip.frames = from.seconds.size();
        clip.fps = from.fps;
        clip.closed = from.closed;
        clip.sourceFrame = from.firstFrame;
        clip.sourceStep = from.frameStep;
        clip.sourceFrames = from.frames;
        clip.sourceClosing = from.closing;
        clip.times = from.times;
        clip.timesLength = from.times.empty() ? 0 : from.length;
        first += clip.frames;
        clips.push_back(std::move(clip));
    }
    return clips;
}

std::string TextureFormat::fileRole() const {
    return std::string(quantity->id) + (planes == 1 ? "" : plane == 0 ? "-high" : "-low");
}

std::string TextureFormat::sampler() const {
    return std::string(quantity->sampler) + (planes == 1 ? "" : plane == 0 ? "_high" : "_low");
}

std::size_t BakeFormat::indexOf(const Quantity& quantity, std::size_t plane) const {
    std::size_t t = 0;
    while (t < textures.size() && !textures[t].is(quantity, plane)) {
        ++t;
    }
    return t;
}

const TextureFormat* BakeFormat::find(const Quantity& quantity, std::size_t plane) const {
    const std::size_t t = indexOf(quantity, plane);
    return t < textures.size() ? &textures[t] : nullptr;
}

bool BakeFormat::leavesFrames() const {
    return kind->arcs || blend == Blend::cubic;
}

std::size_t BakeFormat::frameCount() const {
    std::size_t count = 0;
    for (const BakedClip& clip : clips) {
        count += clip.frames;
    }
    return count;
}

const Range& BakeFormat::rangeOf(std::size_t frame) const {
    if (ranges.size() == clips.size()) {
        for (std::size_t c = 0; c < clips.size(); ++c) {
            if (frame < clips[c].firstFrame + clips[c].frames) {
                return ranges[c];
            }
        }
    }
    return ranges.front();
}

std::size_t BakeFormat::textureMemory() const {
    std::size_t bytes = 0;
    for (const TextureFormat& texture : textures) {
        bytes += texture.memory();
    }
    return bytes;
}

const char* extensionOf(image::Pixel pixel) {
    return pixel == image::Pixel::half || pixel == image::Pixel::float32 ? ".exr" : ".png";
}

namespace {

/// The frame inside the clip: wrapped, or held at its ends.
float insideClip(const BakedClip& clip, float frame) {
    const auto count = static_cast<float>(clip.length());
    if (!clip.closed) {
        return std::clamp(frame, 0.0f, count - 1.0f);
    }
    const float inside = frame - count * std::floor(frame / count);
    // In floats a tiny negative frame wraps to count itself, and one of the tiniest does not wrap at all.
    return inside >= count ? 0.0f : std::max(inside, 0.0f);
}

} // namespace

FramePair framePair(const BakedClip& clip, float frame) {
    const float inside = insideClip(clip, frame);
    const float last = static_cast<float>(clip.frames) - 1.0f;
    float stored = std::min(std::floor(inside), last);
    float start = stored;
    float end = stored + 1.0f;
    if (!clip.times.empty()) {
        const auto after = std::upper_bound(
            clip.times.begin(), clip.times.end(), inside,
            [](float value, std::uint32_t time) { return value < static_cast<float>(time); });
        stored = static_cast<float>(after - clip.times.begin() - 1);
        start = static_cast<float>(*(after - 1));
        end = static_cast<float>(after == clip.times.end() ? clip.timesLength : *after);
    }
    float next = stored + 1.0f;
    if (next > last) {
        next = clip.closed ? 0.0f : last;
    }
    FramePair pair;
    pair.first = clip.firstFrame + static_cast<std::size_t>(stored);
    pair.second = clip.firstFrame + static_cast<std::size_t>(next);
    pair.fraction = (inside - start) / (end - start);
    return pair;
}

} // namespace ripple::bake
