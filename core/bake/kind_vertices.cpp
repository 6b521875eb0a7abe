#include "bake/encode.h"
#include "bake/kind.h"
#include "bake/ladder_climb.h"
#include "bake/reading_code.h"
#include "bake/texture_reader.h"
#include "base/json_section.h"
#include "base/units.h"

#include <algorithm>
#include <memory>

#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <nlohmann/json.hpp>

namespace ripple::bake {

namespace {

using Json = nlohmann::ordered_json;

/// Decodes in place: a large mesh needs no more than one pose beside the one that is asked for.
class VertexDecoder : public PoseDecoder {
public:
    using PoseDecoder::PoseDecoder;

    void blend(const FrameBlend& moment, std::span<glm::vec3> positions,
               std::span<glm::vec3> normals) const override {
        const TextureSet& set = reader_.textures();
        const auto columnOf = reader_.columnOfVertex();
        const auto rest = reader_.rest();
        const auto unposed = reader_.unposedNormals();
        if (!positions.empty()) {
            const std::size_t columns = set.layout.columns;
            const bool blends = moment.count > 1;
            std::vector<glm::vec3> next(blends ? columns : 0);
            reader_.storedPositions(moment.frames[0], positions.first(columns));
            reader_.spread(positions);
            const bool offset = set.content == Content::offset;
            if (offset && !blends) { // over flat numbers
                const auto* from = reinterpret_cast<const float*>(rest.data());
                auto* own = reinterpret_cast<float*>(positions.data());
                for (std::size_t i = 0; i < 3 * columnOf.size(); ++i) {
                    own[i] = from[i] + own[i];
                }
            }
            const auto base = [&](std::size_t v) { return offset ? rest[v] : glm::vec3(0.0f); };
            for (std::size_t v = 0; v < columnOf.size() && blends; ++v) {
                positions[v] = (base(v) + positions[v]) * moment.weights[0];
            }
            for (std::size_t i = 1; i < moment.count; ++i) {
                reader_.storedPositions(moment.frames[i], next);
                for (std::size_t v = 0; v < columnOf.size(); ++v) {
                    positions[v] += (base(v) + next[columnOf[v]]) * moment.weights[i];
                }
            }
        }
        if (normals.empty()) {
            return;
        }
        if (!set.hasNormals()) {
            std::copy(unposed.begin(), unposed.end(), normals.begin());
            return;
        }
        reader_.blendDirections(moment, &TextureReader::storedNormals, normals);
    }
};

void requireChoices(const Recipe& recipe) {
    const PositionStore& store = positionStore(recipe.positionStore);
    const NormalStore& normals = normalStore(recipe.normalStore);
    if (recipe.normalsInAlpha && normals.stored()) {
        if (!store.holdsNormals()) {
            base::fail("normals in alpha",
                       std::string("the alpha of ") + store.name + " holds 11 bits, they take 16",
                       "store positions as unorm16, unorm8x2 or float32, or normals in their own texture");
        }
        if (recipe.normalStore != kOct16Normals.name) {
            base::fail("normals in alpha", "they must be of 16 bits, " + recipe.normalStore + " is not",
                       "store normals as oct16, or in their own texture");
        }
    }
    if (recipe.tangents && !normals.stored()) {
        base::fail("tangents", "are stored as normals are, which are not stored",
                   "choose a store for normals, or bake without tangents");
    }
}

std::vector<TextureFormat> texturesOf(const BakeFormat& format) {
    std::vector<TextureFormat> textures;
    const std::string words = std::string(name(format.content)) + " positions as " +
                              format.positionStore.name + ", red green blue are x y z";
    addStored(textures, format, kPosition, format.normalsInAlpha ? 4 : 3,
              words + (format.normalsInAlpha ? "; alpha holds an octahedral normal" : ""));
    if (format.hasNormals() && !format.normalsInAlpha) {
        addDirections(textures, format, kNormal, "normals");
    }
    if (format.tangents) {
        addDirections(textures, format, kTangent, "tangents; their sign is in the mesh's own,");
    }
    return textures;
}

void writeSections(Json& root, const BakeFormat& format) {
    if (format.normalsInAlpha) {
        root["normal"]["alpha"] = true;
    }
    if (format.tangents) {
        root["tangent"]["store"] = format.normalStore.name;
    }
}

void readSections(const base::JsonSection& root, BakeFormat& format) {
    const base::JsonSection normal = root.object("normal");
    format.normalsInAlpha = normal.has("alpha") && normal.flag("alpha");
    if (format.normalsInAlpha && (!format.positionStore.holdsNormals() ||
                                  format.normalStore.name != std::string(kOct16Normals.name))) {
        normal.wrong("alpha", "does not fit the stores");
    }
    format.tangents = root.has("tangent");
    if (format.tangents && !format.hasNormals()) {
        root.wrong("tangent", "does not fit the store of normals");
    }
}

std::size_t rungs(const Climb& climb) {
    return climb.stores().size() * climb.contents().size();
}

void climbRungs(Climb& climb) {
    for (const std::string& store : climb.stores()) {
        for (const Content content : climb.contents()) {
            // At higher rates the content makes no new difference.
            if (oversamplingOf(climb.recipe()) > 1 && content != climb.contents().front()) {
                climb.skip(1);
                continue;
            }
            Recipe own = withKind(climb.recipe(), kVertices);
            own.positionStore = store;
            own.content = content;
            own.normalsInAlpha = own.normalsInAlpha && positionStore(store).holdsNormals();
            if (climb.fits(own)) {
                climb.attempt(own);
            } else {
                climb.skip(1);
            }
        }
    }
}

std::string rungLabel(const Rung& rung) {
    const Recipe& recipe = rung.recipe;
    std::string text = positionStore(recipe.positionStore).label;
    text += recipe.content == Content::absolute ? " absolute" : "";
    if (recipe.thin > 0.0) {
        return text + ", " + base::plural(rung.rows, "uneven frame");
    }
    return text + samplingLabel(rung);
}

} // namespace

const Kind kVertices = {
    .id = "vertices",
    .label = "Vertices",
    .about = "Stores every vertex in every frame",
    .column = "column",
    .block = "frame",
    .holdsVertices = true,
    .hasPivots = false,
    .approximates = false,
    .ownNormals = true,
    .absolute = true,
    .followsJoints = false,
    .arcs = false,
    .cubic = true,
    .oversampling = 1,
    .everySampling = true,
    .requireFitting = &requireChoices,
    .adapt = [](Recipe&) {},
    .blocks = [](const Recipe&, std::size_t frames) { return frames; },
    .encode = &encodeVertices,
    .textures = &texturesOf,
    .decoder = [](const TextureReader& reader) -> std::unique_ptr<PoseDecoder> {
        return std::make_unique<VertexDecoder>(reader);
    },
    .errorBound = [](const BakeFormat&, double position, const mesh::Bounds&) { return position; },
    .writeSections = &writeSections,
    .readSections = &readSections,
    .framesIn = nullptr,
    .addCode = &addVertexCode,
    .readingNote = [](const BakeFormat&) { return std::string(); },
    .rungs = &rungs,
    .climb = &climbRungs,
    .rungLabel = &rungLabel,
};

} // namespace ripple::bake
