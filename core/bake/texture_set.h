#pragma once

#include "bake/layout.h"
#include "bake/recipe.h"
#include "bake/sampling.h"
#include "bake/store.h"
#include "image/image.h"

#include <cstdint>
#include <string>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::bake {

/// One clip's frames in the textures, and where in the source they come from.
struct BakedClip {
    std::string name;
    std::size_t firstFrame = 0; ///< stored frames before it
    std::size_t frames = 0;     ///< stored
    double fps = 30.0;          ///< rate of the frames that `length` counts
    bool closed = false;
    double sourceFrame = 0.0; ///< frame of the sampled clip that the first kept frame was
    double sourceStep = 1.0;  ///< sampled frames from one frame that `length` counts to the next
    Closing sourceClosing = Closing::drop;
    std::size_t sourceFrames = 0;     ///< sampled frames that it was made from; 0: not known
    std::vector<std::uint32_t> times; ///< stored frames: where in the clip each lies, ascending from 0;
                                      ///< empty: one after another
    std::size_t timesLength = 0;      ///< with `times`: frames that the clip plays

    /// Frames that the clip plays: what readers count.
    std::size_t length() const { return times.empty() ? frames : timesLength; }
    double seconds() const {
        const std::size_t steps = closed || length() == 0 ? length() : length() - 1;
        return fps > 0.0 ? static_cast<double>(steps) / fps : 0.0;
    }
    bool operator==(const BakedClip&) const = default;
};

/// The clips of a plan as they will lie in the texture, one after another.
std::vector<BakedClip> clipsOf(const SamplePlan& plan);

/// What one of the images holds.
enum class Role { position, positionLow, normal, tangent, rotation, rotationLow, weight };

struct Texture {
    Role role = Role::position;
    image::Image image;
    std::size_t channelsUsed = 3; ///< 2 to 4: of an image of three the last may be empty

    /// Bytes in texture memory. Hardware keeps three-channel texels in four channels.
    std::size_t memory() const {
        return image.width * image.height * image::bytesPer(image.pixel) *
               (channelsUsed == 3 ? 4 : channelsUsed);
    }
    bool operator==(const Texture&) const = default;
};

/// The textures and all that is needed to read them.
struct TextureSet {
    Kind kind = Kind::vertices;
    Content content = Content::offset;
    PositionStore positionStore;
    NormalStore normalStore;
    bool normalsInAlpha = false;
    bool tangents = false; ///< Kind::vertices: directions of Mesh::tangents, stored as normals are
    std::vector<Range> ranges = {Range{}}; ///< of positions: one, or one for each clip
    Range normalRange;                     ///< Kind::shapes: of the shapes' normals, stored like positions
    Layout layout;                         ///< Kind::shapes: its frames are the shapes
    std::vector<BakedClip> clips;
    std::vector<Texture> textures;
    std::vector<glm::vec3> pivots; ///< Kind::pieces: columns, in the rest pose

    const Texture* find(Role role) const;
    const image::Image& image(Role role) const { return find(role)->image; }
    /// Frames of all clips.
    std::size_t frameCount() const;
    /// Range of the positions of a stored frame.
    const Range& rangeOf(std::size_t frame) const;
    bool hasNormals() const { return normalStore.stored(); }

    /// Bytes in texture memory.
    std::size_t textureMemory() const;
};

/// What an image of this set is called: in file names ("position-high"), and as a sampler in emitted code
/// ("positions_high").
std::string fileRole(const TextureSet& set, Role role);
std::string samplerName(const TextureSet& set, Role role);
/// ".exr" or ".png"
const char* extensionOf(image::Pixel pixel);
/// The images that a set of this description has, in their order, without pixels.
std::vector<Texture> expectedTextures(const TextureSet& set);

/// Two stored frames (counted in the texture) and how far it is from the one to the other.
struct FramePair {
    std::size_t first = 0;
    std::size_t second = 0;
    float fraction = 0.0f; ///< 0..1
};

/// Which stored frames show `frame` (in frames that the clip plays, fractional): wrapping inside a closed
/// clip, clamping in an open one (docs/definitions.md §5). The emitted code prints this very formula.
FramePair framePair(const BakedClip& clip, float frame);

} // namespace ripple::bake
