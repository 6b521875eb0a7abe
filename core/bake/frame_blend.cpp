#include "bake/frame_blend.h"

#include <algorithm>

namespace ripple::bake {

void FrameBlend::add(std::size_t frame, float weight, std::size_t nearEntry) {
    if (weight != 0.0f) {
        near[count] = nearEntry;
        frames[count] = frame;
        weights[count] = weight;
        ++count;
    }
}

std::array<float, 4> cubicWeights(float t, bool atStart, bool atEnd) {
    std::array<float, 4> w = {0.5f * t * (t * (2.0f - t) - 1.0f), 0.5f * (2.0f + t * t * (3.0f * t - 5.0f)),
                              0.5f * t * (1.0f + t * (4.0f - 3.0f * t)), 0.5f * t * t * (t - 1.0f)};
    if (atStart) {
        w = {0.0f, w[1] + 3.0f * w[0], w[2] - 3.0f * w[0], w[3] + w[0]};
    }
    if (atEnd) {
        w = {w[0] + w[3], w[1] - 3.0f * w[3], w[2] + 3.0f * w[3], 0.0f};
    }
    return w;
}

FrameBlend blendAt(const BakedClip& clip, float frame, Blend blend) {
    const FramePair pair = framePair(clip, frame);
    FrameBlend sum;
    if (blend == Blend::linear || clip.frames < 4) {
        sum.add(pair.first, 1.0f - pair.fraction);
        sum.add(pair.second, pair.fraction);
        return sum;
    }
    // Within the clip; a closed one goes round.
    const std::size_t first = pair.first - clip.firstFrame;
    const std::size_t second = pair.second - clip.firstFrame;
    const bool atStart = !clip.closed && first == 0;
    const bool atEnd = !clip.closed && second + 1 >= clip.frames;
    const std::size_t before = (first + clip.frames - 1) % clip.frames;
    const std::size_t after = (second + 1) % clip.frames;
    const std::array<float, 4> w = cubicWeights(pair.fraction, atStart, atEnd);
    sum.add(pair.first, w[1]);
    // Where one of the others has a weight, these two have.
    sum.add(pair.second, w[2], kNearOnCurve[1]);
    sum.add(clip.firstFrame + before, w[0], kNearOnCurve[2]);
    sum.add(clip.firstFrame + after, w[3], kNearOnCurve[3]);
    return sum;
}

double easedFade(double progress) {
    const double p = std::clamp(progress, 0.0, 1.0);
    return p * p * (3.0 - 2.0 * p);
}

FrameBlend faded(const FrameBlend& from, const FrameBlend& to, float weight) {
    FrameBlend sum;
    for (std::size_t i = 0; i < from.count; ++i) {
        sum.add(from.frames[i], (1.0f - weight) * from.weights[i], from.near[i]);
    }
    const std::size_t first = sum.count;
    for (std::size_t i = 0; i < to.count; ++i) {
        sum.add(to.frames[i], weight * to.weights[i], nearInFade(i, to.near[i], first));
    }
    return sum;
}

} // namespace ripple::bake
