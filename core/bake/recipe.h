#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

namespace ripple::bake {

/// What a bake keeps of a motion (bake/kind.h).
struct Kind;
extern const Kind kVertices;

/// What the position texture holds: the position itself, or its difference from the rest pose.
enum class Content { absolute, offset };

/// "absolute", "offset"
const char* name(Content content);
std::optional<Content> contentByName(const std::string& text);

/// How the ends of a clip are made to meet (docs/definitions.md §1).
enum class Closing {
    asIs,   ///< nothing is done
    drop,   ///< a sequence whose last frame repeats its first is stored without the repeat
    window, ///< the window was chosen so that its last frame leads into its first: it is played round
    fade,   ///< the last frames are blended into those before the first
};

/// "as-is", "drop", "window", "fade"
const char* name(Closing closing);
std::optional<Closing> closingByName(const std::string& text);

/// Sampled frames first..last of a clip, both kept, counted from 0.
struct FrameWindow {
    std::size_t first = 0;
    std::size_t last = 0;
    bool operator==(const FrameWindow&) const = default;
};

/// What a player does at the end of a clip; data for it, which moves no texel.
enum class Ending {
    loop, ///< plays it round
    once, ///< goes back to what played before
    hold, ///< stays at its last frame
};

/// "loop", "once", "hold"
const char* name(Ending ending);
std::optional<Ending> endingByName(const std::string& text);

/// Metres a second at which a clip is to be played.
struct SpeedRange {
    double least = 0.0;
    double most = 0.0;
    bool operator==(const SpeedRange&) const = default;
};

/// How long a cross-fade from one clip to another takes; data for players, as SpeedRange is.
struct Transition {
    std::string from; ///< names of clips as they are shipped
    std::string to;
    double seconds = 0.0; ///< 0: at once
    bool operator==(const Transition&) const = default;
};

constexpr double kUsualFade = 0.3; ///< seconds of a transition that nobody chose
constexpr double kLongestFade = 60.0;

struct ClipChoice {
    std::string name;
    std::optional<FrameWindow> window; ///< none: the whole clip
    std::optional<Closing> closing;    ///< none: as the recipe says
    std::string shippedName{};         ///< empty: its own
    double fps = 0.0;                  ///< sampling rate; 0: as the recipe says
    std::optional<Ending> ending{};    ///< none: loop where it is closed, else hold
    std::optional<SpeedRange> speed{}; ///< none: it is no gait

    const std::string& nameShipped() const { return shippedName.empty() ? name : shippedName; }
    bool operator==(const ClipChoice&) const = default;
};

/// How what lies between stored frames is made of them.
enum class Blend {
    linear, ///< of the two beside it
    cubic,  ///< of four, on a curve (frame_blend.h)
};

/// "linear", "cubic"
const char* name(Blend blend);
std::optional<Blend> blendByName(const std::string& text);

/// How a joint's transform is stored (docs/definitions.md §11).
enum class JointForm {
    automatic, ///< rigid, unless a joint is scaled unevenly or sheared
    rigid,     ///< place, uniform scale and quaternion: two texels
    matrix,    ///< the rows of its matrix: three
};

/// "automatic", "rigid", "matrix"
const char* name(JointForm form);
std::optional<JointForm> jointFormByName(const std::string& text);

constexpr std::size_t kMostOversampling = 8;

/// Everything that decides the bytes of a bake, beside the source.
struct Recipe {
    // When the source is asked. A change here means other poses; see samplesAlike().
    std::vector<ClipChoice> clips; ///< in the order in which they are stored; empty: all, whole
    std::size_t step = 1;          ///< keep every step-th frame, at least 1
    double thin = 0.0; ///< metres; over 0: keep as few frames as blend to within this, at uneven times;
                       ///< `step` is not looked at then
    double fps = 0.0;  ///< sampling rate; 0: the clip's own suggestion, a sequence's own frames
    std::optional<std::size_t> oversampling; ///< frames stored for each that the rate gives, 1 to
                                             ///< kMostOversampling; none: as the kind does. Not looked at
                                             ///< where clips are thinned, nor of a sequence's own frames
    Closing closing = Closing::drop;         ///< of clips that do not say it themselves
    std::size_t fadeFrames = 12;             ///< sampled frames that Closing::fade blends, at least 1

    // How the poses are stored.
    const Kind* kind = &kVertices; ///< a row of kinds()
    std::size_t shapes = 16;       ///< of a bake of shapes, at least 1
    JointForm jointForm = JointForm::automatic;
    std::size_t influences = 4;   ///< joints that a vertex of a bake of joints follows at most: 4 or 8
    bool influencesInUvs = false; ///< of a bake of joints: in UV sets of the mesh, instead of a texture
    Blend blend = Blend::linear;
    std::vector<Transition> transitions; ///< those that somebody chose; the others take kUsualFade
    Content content = Content::offset;
    std::string positionStore = "half"; ///< a name in positionStores()
    std::string normalStore = "unorm8"; ///< a name in normalStores()
    bool normalsInAlpha = false;        ///< oct16 normals ride in the position texture's alpha
    bool tangents = false;              ///< of a bake of vertices: the mesh's, posed, stored as normals are
    bool rangePerClip = false;          ///< each clip has its own range
    std::size_t maxWidth = 2048;        ///< texels, 1 to kLargestTexture
    bool powerOfTwo = false;            ///< both sides padded to powers of two
    bool testRow = false;               ///< textures have a row of known values (test_row.h)
    std::optional<std::size_t>
        lookupUvSet;      ///< that the lookup is written to, 0-based; none: the first free one
    bool halfUvs = false; ///< the target keeps UVs as half floats: no wider than those tell columns apart

    bool operator==(const Recipe&) const = default;
};

/// Frames stored for each that the sampling rate gives.
std::size_t oversamplingOf(const Recipe& recipe);
/// The sampling rate of a clip; 0: its own suggestion.
double rateOf(const Recipe& recipe, const std::string& clip);

/// How a clip of the source is closed.
Closing closingOf(const Recipe& recipe, const std::string& clip);

/// True when both ask the source for the same poses, so that sampled frames can be used again.
bool samplesAlike(const Recipe& a, const Recipe& b);

/// Largest texture side that we write; what current desktop hardware reads at least.
constexpr std::size_t kLargestTexture = 16384;

/// Widest texture whose columns a half float tells apart: in 0.5..1 halves lie 2^-11 apart and are off by up
/// to 2^-12, a quarter of a texel at this width, so that nearest sampling still hits.
constexpr std::size_t kWidestForHalfUvs = 1024;

} // namespace ripple::bake
