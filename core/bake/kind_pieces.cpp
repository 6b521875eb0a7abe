#include "bake/encode.h"
#include "bake/kind.h"
#include "bake/ladder_climb.h"
#include "bake/reading_code.h"
#include "bake/texture_reader.h"
#include "base/json_section.h"
#include "base/units.h"
#include "bake/pieces.h"

#include <algorithm>
#include <array>
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

    void blend(const FrameBlend& moment, std::span<glm::vec3> positions,
               std::span<glm::vec3> normals) const override {
        const TextureSet& set = reader_.textures();
        const auto columnOf = reader_.columnOfVertex();
        const auto rest = reader_.rest();
        const auto unposed = reader_.unposedNormals();
        const std::size_t pieces = set.layout.columns;
        std::vector<glm::vec3> places(pieces);
        std::vector<glm::vec4> turns(pieces);
        reader_.storedPositions(moment.frames[0], places);
        reader_.storedRotations(moment.frames[0], turns);
        if (moment.count > 1) {
            addUp(moment, places, turns);
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

private:
    /// From the first stored frame to the sum of all by their weights.
    void addUp(const FrameBlend& moment, std::span<glm::vec3> places, std::span<glm::vec4> turns) const {
        std::array<std::vector<glm::vec4>, FrameBlend::kMost> each;
        each[0].assign(turns.begin(), turns.end());
        std::vector<glm::vec3> nextPlaces(places.size());
        for (std::size_t p = 0; p < places.size(); ++p) {
            places[p] *= moment.weights[0];
            turns[p] *= moment.weights[0];
        }
        for (std::size_t i = 1; i < moment.count; ++i) {
            reader_.storedPositions(moment.frames[i], nextPlaces);
            each[i].resize(turns.size());
            reader_.storedRotations(moment.frames[i], each[i]);
            for (std::size_t p = 0; p < places.size(); ++p) {
                each[i][p] = nearTo(each[moment.near[i]][p], each[i][p]);
                places[p] += nextPlaces[p] * moment.weights[i];
                turns[p] += each[i][p] * moment.weights[i];
            }
        }
        for (glm::vec4& turn : turns) {
            turn = glm::normalize(turn);
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
double errorBound(const BakeFormat& format, double position, const mesh::Bounds& rest) {
    const Range unit{glm::vec3(-1.0f), glm::vec3(1.0f)};
    const auto rotation = static_cast<double>(format.positionStore.errorBound(unit).x);
    return position + (4.0 * rotation + kStiff) * static_cast<double>(rest.diagonal());
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
    .followsJoints = false,
    .arcs = true,
    .cubic = false,
    .oversampling = 1,
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
