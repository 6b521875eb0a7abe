#include "bake/texture_set.h"

#include <algorithm>
#include <cmath>

namespace ripple::bake {

std::vector<BakedClip> clipsOf(const SamplePlan& plan) {
    std::vector<BakedClip> clips;
    std::size_t first = 0;
    for (const ClipPlan& from : plan.clips) {
        BakedClip clip;
        clip.name = from.name;
        clip.firstFrame = first;
        clip.frames = from.seconds.size();
        clip.fps = from.fps;
        clip.closed = from.closed;
        clip.sourceFrame = from.firstFrame;
        clip.sourceStep = from.frameStep;
        first += clip.frames;
        clips.push_back(std::move(clip));
    }
    return clips;
}

std::size_t TextureSet::textureMemory() const {
    const std::size_t texels = layout.width * layout.height();
    std::size_t bytes = texels * 4 * image::bytesPer(positionStore.pixel);
    if (normalStore.stored()) {
        bytes += texels * 4 * image::bytesPer(normalStore.pixel);
    }
    return bytes;
}

FramePair framePair(const BakedClip& clip, float frame) {
    const auto count = static_cast<float>(clip.frames);
    const float last = count - 1.0f;
    float inside = std::clamp(frame, 0.0f, last);
    if (clip.closed) {
        inside = frame - count * std::floor(frame / count);
        // A tiny negative frame wraps to count itself in floats.
        inside = inside >= count ? 0.0f : inside;
    }
    const float whole = std::min(std::floor(inside), last);
    float next = whole + 1.0f;
    if (next > last) {
        next = clip.closed ? 0.0f : last;
    }
    FramePair pair;
    pair.first = clip.firstFrame + static_cast<std::size_t>(whole);
    pair.second = clip.firstFrame + static_cast<std::size_t>(next);
    pair.fraction = inside - whole;
    return pair;
}

} // namespace ripple::bake
