#pragma once

#include "bake/layout.h"
#include "bake/recipe.h"
#include "bake/sampling.h"
#include "bake/store.h"
#include "image/image.h"

#include <cstdint>
#include <string>
#include <vector>

namespace ripple::bake {

/// One clip's frames in the textures, and where in the source they come from.
struct BakedClip {
    std::string name;
    std::size_t firstFrame = 0; ///< in the texture
    std::size_t frames = 0;
    double fps = 30.0;
    bool closed = false;
    double sourceFrame = 0.0; ///< frame of the sampled clip that the first kept frame was
    double sourceStep = 1.0;  ///< sampled frames from one kept frame to the next

    double seconds() const {
        const std::size_t steps = closed || frames == 0 ? frames : frames - 1;
        return fps > 0.0 ? static_cast<double>(steps) / fps : 0.0;
    }
    bool operator==(const BakedClip&) const = default;
};

/// The clips of a plan as they will lie in the texture, one after another.
std::vector<BakedClip> clipsOf(const SamplePlan& plan);

/// The textures and all that is needed to read them.
struct TextureSet {
    Content content = Content::offset;
    PositionStore positionStore;
    NormalStore normalStore;
    Range range;
    Layout layout;
    std::vector<BakedClip> clips;
    image::Image positions;
    image::Image normals; ///< empty when normalStore.stored() is false

    /// Bytes in texture memory. Hardware keeps three-channel texels in four channels.
    std::size_t textureMemory() const;
};

/// Two stored frames (counted in the texture) and how far it is from the one to the other.
struct FramePair {
    std::size_t first = 0;
    std::size_t second = 0;
    float fraction = 0.0f; ///< 0..1
};

/// Which frames show `frame` (in frames of the clip, fractional): wrapping inside a closed clip, clamping in
/// an open one (docs/definitions.md §5). The emitted code prints this very formula.
FramePair framePair(const BakedClip& clip, float frame);

} // namespace ripple::bake
