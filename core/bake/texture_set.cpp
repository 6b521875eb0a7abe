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
        clip.sourceFrames = from.frames;
        clip.sourceClosing = from.closing;
        clip.times = from.times;
        clip.timesLength = from.times.empty() ? 0 : from.length;
        first += clip.frames;
        clips.push_back(std::move(clip));
    }
    return clips;
}

const Texture* TextureSet::find(Role role) const {
    const auto found = std::find_if(textures.begin(), textures.end(),
                                    [role](const Texture& texture) { return texture.role == role; });
    return found == textures.end() ? nullptr : &*found;
}

std::size_t TextureSet::frameCount() const {
    std::size_t count = 0;
    for (const BakedClip& clip : clips) {
        count += clip.frames;
    }
    return count;
}

const Range& TextureSet::rangeOf(std::size_t frame) const {
    if (ranges.size() == clips.size()) {
        for (std::size_t c = 0; c < clips.size(); ++c) {
            if (frame < clips[c].firstFrame + clips[c].frames) {
                return ranges[c];
            }
        }
    }
    return ranges.front();
}

std::size_t TextureSet::textureMemory() const {
    std::size_t bytes = 0;
    for (const Texture& texture : textures) {
        bytes += texture.memory();
    }
    return bytes;
}

std::string fileRole(const TextureSet& set, Role role) {
    const bool split = set.positionStore.planes == 2;
    switch (role) {
    case Role::position:
        return split ? "position-high" : "position";
    case Role::positionLow:
        return "position-low";
    case Role::normal:
        return "normal";
    case Role::tangent:
        return "tangent";
    case Role::rotation:
        return split ? "rotation-high" : "rotation";
    case Role::rotationLow:
        return "rotation-low";
    case Role::weight:
        break;
    }
    return "weights";
}

std::string samplerName(const TextureSet& set, Role role) {
    const bool split = set.positionStore.planes == 2;
    switch (role) {
    case Role::position:
        return split ? "positions_high" : "positions";
    case Role::positionLow:
        return "positions_low";
    case Role::normal:
        return "normals";
    case Role::tangent:
        return "tangents";
    case Role::rotation:
        return split ? "rotations_high" : "rotations";
    case Role::rotationLow:
        return "rotations_low";
    case Role::weight:
        break;
    }
    return "weights";
}

const char* extensionOf(image::Pixel pixel) {
    return pixel == image::Pixel::half || pixel == image::Pixel::float32 ? ".exr" : ".png";
}

std::vector<Texture> expectedTextures(const TextureSet& set) {
    std::vector<Texture> textures;
    const auto add = [&](Role role, image::Pixel pixel, std::size_t channels, std::size_t used) {
        Texture texture;
        texture.role = role;
        texture.image.width = set.layout.width;
        texture.image.height = set.layout.height();
        texture.image.channels = channels;
        texture.image.pixel = pixel;
        texture.channelsUsed = used;
        textures.push_back(std::move(texture));
    };
    const bool split = set.positionStore.planes == 2;
    const std::size_t positionChannels = set.normalsInAlpha ? 4 : 3;
    const image::Pixel pixel = set.positionStore.pixel;
    add(Role::position, pixel, positionChannels, positionChannels);
    if (split) {
        add(Role::positionLow, pixel, positionChannels, positionChannels);
    }
    if (set.kind == Kind::pieces) {
        add(Role::rotation, pixel, 4, 4);
        if (split) {
            add(Role::rotationLow, pixel, 4, 4);
        }
    } else if (set.kind == Kind::shapes) {
        if (set.hasNormals()) {
            add(Role::normal, pixel, 3, 3);
        }
        add(Role::weight, image::Pixel::float32, 4, 4);
        textures.back().image.width = (set.layout.frames + 3) / 4;
        textures.back().image.height = set.frameCount();
    } else if (set.hasNormals() && !set.normalsInAlpha) {
        add(Role::normal, set.normalStore.pixel, 3, set.normalStore.channels);
    }
    if (set.tangents) {
        add(Role::tangent, set.normalStore.pixel, 3, set.normalStore.channels);
    }
    return textures;
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
