#include "bake/encode.h"
#include "bake/kind.h"
#include "bake/ladder_climb.h"
#include "bake/reading_code.h"
#include "bake/texture_reader.h"
#include "base/json_section.h"
#include "base/units.h"
#include "bake/pieces.h"

#include <algorithm>
#include <memory>

#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <nlohmann/json.hpp>

namespace ripple::bake {

namespace {

using Json = nlohmann::ordered_json;

/// Positions and rotations of pieces are blended, then carry the vertices.
class PieceDecoder : public PoseDecoder {
public:
    using PoseDecoder::PoseDecoder;

    void blend(const FramePair& pair, std::span<glm::vec3> positions,
               std::span<glm::vec3> normals) const override {
        const TextureSet& set = reader_.textures();
        const auto columnOf = reader_.columnOfVertex();
        const auto rest = reader_.rest();
        const auto unposed = reader_.unposedNormals();
        const std::size_t pieces = set.layout.columns;
        std::vector<glm::vec3> places(pieces);
        std::vector<glm::vec4> turns(pieces);
        reader_.storedPositions(pair.first, places);
        reader_.storedRotations(pair.first, turns);
        if (pair.second != pair.first) {
            std::vector<glm::vec3> nextPlaces(pieces);
            std::vector<glm::vec4> nextTurns(pieces);
            reader_.storedPositions(pair.second, nextPlaces);
            reader_.storedRotations(pair.second, nextTurns);
            for (std::size_t p = 0; p < pieces; ++p) {
                places[p] = glm::mix(places[p], nextPlaces[p], pair.fraction);
                const glm::vec4 near = glm::dot(turns[p], nextTurns[p]) < 0.0f ? -nextTurns[p] : nextTurns[p];
                turns[p] = glm::normalize(glm::mix(turns[p], near, pair.fraction));
            }
        }
        const bool offset = set.content == Content::offset;
        for (std::size_t v = 0; v < columnOf.size(); ++v) {
            const std::size_t p = columnOf[v];
            const glm::vec3& pivot = set.pivots[p];
            const glm::vec3 place = offset ? pivot + places[p] : places[p];
            positions[v] = place + turned(turns[p], rest[v] - pivot);
            if (!normals.empty()) {
                normals[v] = turned(turns[p], unposed[v]);
            }
        }
    }
};

std::vector<TextureFormat> texturesOf(const BakeFormat& format) {
    std::vector<TextureFormat> textures;
    const std::string store = format.positionStore.name;
    addStored(textures, format, kPosition, 3,
              std::string(name(format.content)) + " positions of pieces as " + store +
                  ", red green blue are x y z");
    addStored(textures, format, kRotation, 4,
              "rotations of pieces as quaternions, " + store + ", red green blue alpha are x y z w");
    return textures;
}

/// Rotations are stored too, in −1 … 1: four components' errors act on the length of the longest arm; and the
/// mesh may bend as much as a stiff part may.
double errorBound(const BakeFormat& format, double position, double size) {
    const Range unit{glm::vec3(-1.0f), glm::vec3(1.0f)};
    const auto rotation = static_cast<double>(format.positionStore.errorBound(unit).x);
    return position + (4.0 * rotation + kStiff) * size;
}

void climbRungs(Climb& climb) {
    for (const std::string& store : climb.stores()) {
        if (!climb.refused(kPieces).empty()) {
            climb.skip(1);
            continue;
        }
        Recipe own = withKind(climb.recipe(), kPieces);
        own.positionStore = store;
        climb.attempt(own);
    }
}

} // namespace

const Kind kPieces = {
    .id = "pieces",
    .label = "Rigid pieces",
    .about = "Stores a position and a rotation for each rigid piece: crates, gears, rubble",
    .column = "piece",
    .block = "frame",
    .holdsVertices = false,
    .hasPivots = true,
    .approximates = false,
    .ownNormals = false, // the pieces' rotations carry the mesh's
    .absolute = true,
    .everySampling = false,
    .requireFitting = [](const Recipe& recipe) { requireNoVertexChoices(recipe, "turns the mesh's own"); },
    .adapt = [](Recipe& recipe) { recipe.tangents = recipe.normalsInAlpha = false; },
    .blocks = [](const Recipe&, std::size_t frames) { return frames; },
    .encode = [](const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
                 const Recipe& recipe, const base::Progress& progress,
                 const Baked*) { return encodePieces(source, plan, poses, recipe, progress); },
    .textures = &texturesOf,
    .decoder = [](const TextureReader& reader) -> std::unique_ptr<PoseDecoder> {
        return std::make_unique<PieceDecoder>(reader);
    },
    .errorBound = &errorBound,
    .writeSections = [](Json& root,
                        const BakeFormat& format) { root["pieces"]["pivot_uv_set"] = format.pivotUvSet; },
    .readSections =
        [](const base::JsonSection& root, BakeFormat& format) {
            format.pivotUvSet = root.object("pieces").count("pivot_uv_set", 64);
        },
    .framesIn = nullptr,
    .addCode = &addPieceCode,
    .readingNote = [](const BakeFormat&) { return std::string(); },
    .rungs = [](const Climb& climb) { return climb.stores().size(); },
    .climb = &climbRungs,
    .rungLabel =
        [](const Rung& rung) {
            return base::plural(rung.columns, "piece") + ", " +
                   positionStore(rung.recipe.positionStore).label;
        },
};

} // namespace ripple::bake
