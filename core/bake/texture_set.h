#pragma once

#include "bake/layout.h"
#include "bake/quantity.h"
#include "bake/recipe.h"
#include "bake/sampling.h"
#include "bake/store.h"
#include "image/image.h"
#include "mesh/axis_map.h"

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include <glm/vec2.hpp>
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>

namespace ripple::bake {

/// One clip's frames in the textures, and where in the source they come from.
struct BakedClip {
    std::string name;
    std::string sourceName; ///< of the clip in the source; empty: `name`
    Ending ending = Ending::hold;
    std::optional<SpeedRange> speed;
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

/// One texture, without its pixels.
struct TextureFormat {
    const Quantity* quantity = &kPosition;
    std::size_t plane = 0;  ///< of a quantity that is spread over several images: 0 holds the high bytes
    std::size_t planes = 1; ///< 1 or 2
    std::size_t width = 0;  ///< texels
    std::size_t height = 0;
    image::Pixel pixel = image::Pixel::u8;
    std::size_t channels = 3;     ///< in the file
    std::size_t channelsUsed = 3; ///< 2 to 4: of a file of three the last may be empty
    bool inBlocks = true;         ///< as Layout says; else a row is a frame, and all of it is used
    std::string words;            ///< for people: "offset positions, red green blue are x y z"

    /// Bytes in texture memory. Hardware keeps three-channel texels in four channels.
    std::size_t memory() const {
        return width * height * image::bytesPer(pixel) * (channelsUsed == 3 ? 4 : channelsUsed);
    }
    bool is(const Quantity& wanted, std::size_t wantedPlane = 0) const {
        return *quantity == wanted && plane == wantedPlane;
    }
    /// In file names: "position-high"
    std::string fileRole() const;
    /// As a parameter of emitted code: "positions_high"
    std::string sampler() const;
};

/// Of a bake of joints (docs/definitions.md §11): how its transforms and influences are stored.
struct JointFormat {
    bool matrix = false;    ///< three texels, the rows of its matrix; else two: place and scale, quaternion
    std::size_t joints = 0; ///< at least 1
    std::size_t influences = 4; ///< joints that a vertex follows at most: 4 or 8
    bool inUvs = false;         ///< influences lie in UV sets of the mesh, not in a texture
    Layout layout;              ///< of the transforms: texels() columns a joint, a block a frame
    /// Of stores with a range: least and most scale, or of all but places in matrices. Places have
    /// BakeFormat::ranges.
    glm::vec2 range{0.0f};
    std::vector<std::string> names; ///< joints

    std::size_t texels() const { return matrix ? 3 : 2; }
    bool operator==(const JointFormat&) const = default;
};

/// The joints of one vertex with their weights, the strongest first; those without have weight 0.
struct JointInfluences {
    static constexpr std::size_t kMost = 8;
    std::array<std::uint16_t, kMost> joints{};
    std::array<float, kMost> weights{};
    bool operator==(const JointInfluences&) const = default;
};

/// All that is needed to read the textures of a bake, without their pixels.
struct BakeFormat {
    const Kind* kind = &kVertices;
    Content content = Content::offset;
    PositionStore positionStore;
    NormalStore normalStore;
    bool normalsInAlpha = false;
    bool tangents = false;                 ///< directions of Mesh::tangents are stored, as normals are
    std::vector<Range> ranges = {Range{}}; ///< of positions: one, or one for each clip
    Range normalRange;                     ///< of normals that are stored as positions are
    Layout layout;                         ///< of joints: of their influences; in UV sets: of the transforms
    JointFormat joints;
    Blend blend = Blend::linear;
    std::vector<BakedClip> clips;
    std::vector<Transition> transitions; ///< of each clip to each other; empty with one clip
    std::vector<TextureFormat> textures;
    /// From the source's space to the one that textures, ranges and pivots hold: the target's
    /// (docs/bundle-format.md, Targets).
    mesh::AxisMap space;
    bool rowsFromBelow = false; ///< the target counts the rows of images from below; files are as always
    bool vFromBelow = false;    ///< its importer turns V into 1 − V; the mesh's file is as always
    std::size_t pivotUvSet =
        0; ///< kind->hasPivots: pivot x, y; the next set has its z, and the column's number

    /// Index among the textures, or their number.
    std::size_t indexOf(const Quantity& quantity, std::size_t plane = 0) const;
    const TextureFormat* find(const Quantity& quantity, std::size_t plane = 0) const;
    /// Between stored frames positions may lie outside the box of those at frames.
    bool leavesFrames() const;
    /// Frames of all clips.
    std::size_t frameCount() const;
    /// Range of the positions of a stored frame.
    const Range& rangeOf(std::size_t frame) const;
    bool hasNormals() const { return normalStore.stored(); }

    /// Bytes in texture memory.
    std::size_t textureMemory() const;
};

/// The textures and all that is needed to read them.
struct TextureSet : BakeFormat {
    std::vector<image::Image> images;        ///< one for each of `textures`
    std::vector<glm::vec3> pivots;           ///< kind->hasPivots: columns, in the rest pose
    std::vector<JointInfluences> influences; ///< joints.inUvs: columns

    const image::Image& image(const Quantity& quantity, std::size_t plane = 0) const {
        return images[indexOf(quantity, plane)];
    }
};

/// ".exr" or ".png"
const char* extensionOf(image::Pixel pixel);

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
