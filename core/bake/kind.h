#pragma once

#include "bake/bake.h"
#include "bake/recipe.h"
#include "bake/texture_set.h"

#include <memory>
#include <span>
#include <string>

#include <nlohmann/json_fwd.hpp>

namespace ripple::base {
class JsonSection;
}

namespace ripple::bake {

class Climb;
class PoseDecoder;
class Poses;
class ReadingCode;
class TextureReader;
struct Rung;

/// A kind of bake: what it keeps of a motion (docs/definitions.md §5). Everything that is particular to it is
/// in its row; to add one, write a file with a row beside kind_vertices.cpp and put it into the table in
/// kind.cpp.
struct Kind {
    const char* id;     ///< as on the command line and in the manifest: "pieces"
    const char* label;  ///< for people: "Pieces"
    const char* about;  ///< one sentence for people: when to take it
    const char* column; ///< what a column of its textures is: "piece"
    const char* block;  ///< what a block of rows holds for each column: "frame"

    bool holdsVertices; ///< every block is a frame, every column a vertex, and frames are blended one by one
    bool hasPivots;     ///< columns turn about pivots, which the mesh carries in UV sets
    bool approximates;  ///< leaves out what the recipe lets it: it is off by what was measured, and has no
                        ///< bound
    bool ownNormals;    ///< stores normals, by the recipe's store of normals
    bool absolute;      ///< may store positions themselves, not only offsets
    bool followsJoints; ///< stores the joints that move the mesh: only for sources with a rig
    bool arcs;          ///< parts travel on arcs between frames, beyond what both show
    bool cubic;         ///< frames may be blended on a curve
    std::size_t oversampling; ///< frames stored for each that the sampling rate gives, unless a recipe says
    bool everySampling;       ///< the ladder tries it at every step and thinning, not at the first alone

    /// Every block is a stored frame.
    bool blocksAreFrames() const { return framesIn == nullptr; }

    /// Throws base::Failure for choices of a recipe that do not go together, saying which do.
    void (*requireFitting)(const Recipe& recipe);
    /// Takes back what of a recipe for another kind this one does not store.
    void (*adapt)(Recipe& recipe);
    /// Blocks that so many stored frames take at most.
    std::size_t (*blocks)(const Recipe& recipe, std::size_t frames);

    /// As bake::encodeFrames().
    Baked (*encode)(const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
                    const Recipe& recipe, const base::Progress& progress, const Baked* earlier);
    /// The textures of a bake of this format, in their order.
    std::vector<TextureFormat> (*textures)(const BakeFormat& format);
    /// The way back; `reader` outlives it.
    std::unique_ptr<PoseDecoder> (*decoder)(const TextureReader& reader);
    /// Largest distance, metres, that storing makes at kept frames, where one position is off by up to
    /// `position` and the pose that is shipped lies in `rest`. Not asked where `approximates`.
    double (*errorBound)(const BakeFormat& format, double position, const mesh::Bounds& rest);

    /// Keys of the manifest beside those that all kinds have; files are named by its writer.
    void (*writeSections)(nlohmann::ordered_json& root, const BakeFormat& format);
    /// Reads them back, and refuses what does not go together.
    void (*readSections)(const base::JsonSection& root, BakeFormat& format);
    /// Frames of all clips, as the manifest says. Null: as many as blocks.
    std::size_t (*framesIn)(const base::JsonSection& root);

    /// Adds NAME_stored_frame and NAME_blended, and what those need.
    void (*addCode)(ReadingCode& code);
    /// A sentence for IMPORT.md that says how to read it, or "".
    std::string (*readingNote)(const BakeFormat& format);

    /// Rungs of the cost ladder that it tries at one way to sample.
    std::size_t (*rungs)(const Climb& climb);
    void (*climb)(Climb& climb);
    /// "12 shapes, 16-bit range"
    std::string (*rungLabel)(const Rung& rung);
};

extern const Kind kVertices;
extern const Kind kPieces;
extern const Kind kShapes;
extern const Kind kJoints;

std::span<const Kind* const> kinds();
/// Adds a row to the table, which must outlive everything. Before any other thread looks at it.
void addKind(const Kind& kind);
/// Null if there is none of this name.
const Kind* kindByName(const std::string& id);

/// The recipe for another kind, without what that kind does not store: tangents, normals in alpha, and for
/// shapes absolute positions and stores of two textures (which become the 16-bit range).
Recipe withKind(Recipe recipe, const Kind& kind);

// For the rows.

/// ", every 2nd", ", 4 × the rate, on curves": how a rung's frames were chosen and are blended; "" where they
/// are those of the rate, blended linearly.
std::string samplingLabel(const Rung& rung);
/// One image for each plane of the store, each `format` but for planes, pixel and size, laid out in blocks.
void addStored(std::vector<TextureFormat>& textures, const BakeFormat& format, const Quantity& quantity,
               std::size_t channels, const std::string& words);
/// An image of directions, as the store of normals has them.
void addDirections(std::vector<TextureFormat>& textures, const BakeFormat& format, const Quantity& quantity,
                   const std::string& words);
/// Throws for choices that only a bake of vertices has.
void requireNoVertexChoices(const Recipe& recipe, const char* tangents);

} // namespace ripple::bake
