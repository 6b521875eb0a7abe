#include "bake/encode.h"
#include "bake/kind.h"
#include "bake/ladder_climb.h"
#include "bake/reading_code.h"
#include "bake/texture_reader.h"
#include "base/json_section.h"
#include "base/units.h"
#include "bake/shared_motion.h"

#include <algorithm>
#include <array>
#include <memory>

#include <glm/geometric.hpp>
#include <nlohmann/json.hpp>

namespace ripple::bake {

namespace {

using Json = nlohmann::ordered_json;

// What shapes add to positions and to normals; both are stored by the store of positions.
constexpr Quantity kShapeOffsets = {"position", "positions", "Shapes", "position", false};
constexpr Quantity kShapeNormals = {"normal", "normals", "Normals", "normal", false};

constexpr std::array<std::size_t, 8> kShapeCounts = {3, 5, 8, 12, 16, 24, 32, 48};
/// Memory for sharing shapes, beyond which none are tried.
constexpr std::size_t kMostForSharing = std::size_t{4} << 30;

/// Adds the shapes up by their weights. They are decoded once, for all frames.
class ShapeDecoder : public PoseDecoder {
public:
    explicit ShapeDecoder(const TextureReader& reader) : PoseDecoder(reader) {
        const TextureSet& set = reader.textures();
        const std::size_t columns = set.layout.columns;
        if (set.images.empty()) {
            return;
        }
        shapes_.resize(set.layout.blocks * columns);
        normals_.resize(set.hasNormals() ? shapes_.size() : 0);
        for (std::size_t s = 0; s < set.layout.blocks; ++s) {
            reader.storedPositions(s, std::span(shapes_).subspan(s * columns, columns));
            if (!normals_.empty()) {
                reader.storedNormals(s, std::span(normals_).subspan(s * columns, columns));
            }
        }
    }

    void blend(const FrameBlend& moment, std::span<glm::vec3> positions,
               std::span<glm::vec3> normals) const override {
        const TextureSet& set = reader_.textures();
        const auto columnOf = reader_.columnOfVertex();
        const auto rest = reader_.rest();
        const auto unposed = reader_.unposedNormals();
        const std::size_t shapes = set.layout.blocks;
        std::vector<float> weights(shapes);
        std::vector<float> stored(shapes);
        for (std::size_t i = 0; i < moment.count; ++i) {
            reader_.storedWeights(moment.frames[i], stored);
            for (std::size_t s = 0; s < shapes; ++s) {
                weights[s] += stored[s] * moment.weights[i];
            }
        }
        const std::size_t columns = set.layout.columns;
        std::copy(rest.begin(), rest.end(), positions.begin());
        std::copy_n(unposed.begin(), normals.size(), normals.begin());
        for (std::size_t s = 0; s < shapes; ++s) {
            const glm::vec3* shape = shapes_.data() + s * columns;
            for (std::size_t v = 0; v < columnOf.size(); ++v) {
                positions[v] += weights[s] * shape[columnOf[v]];
            }
            if (!normals.empty() && !normals_.empty()) {
                const glm::vec3* own = normals_.data() + s * columns;
                for (std::size_t v = 0; v < columnOf.size(); ++v) {
                    normals[v] += weights[s] * own[columnOf[v]];
                }
            }
        }
        for (std::size_t v = 0; v < normals.size(); ++v) {
            normals[v] = unitOr(normals[v], unposed[v]);
        }
    }

private:
    std::vector<glm::vec3> shapes_;  ///< shapes × columns
    std::vector<glm::vec3> normals_; ///< the same; empty when they are not stored
};

void requireChoices(const Recipe& recipe) {
    requireNoVertexChoices(recipe, "does not hold them");
    const PositionStore& store = positionStore(recipe.positionStore);
    if (recipe.content == Content::absolute) {
        base::fail("absolute positions", "are no sum of shared shapes", "store offsets");
    }
    if (recipe.shapes == 0) {
        base::fail("shapes", "are 0", "take at least one");
    }
    if (store.planes > 1) {
        base::fail("shared shapes", std::string("are not stored as ") + store.name,
                   "store them as half, unorm16 or float32");
    }
}

void adapt(Recipe& recipe) {
    recipe.tangents = recipe.normalsInAlpha = false;
    recipe.content = Content::offset;
    if (positionStore(recipe.positionStore).planes > 1) {
        recipe.positionStore = "unorm16";
    }
}

std::vector<TextureFormat> texturesOf(const BakeFormat& format) {
    std::vector<TextureFormat> textures;
    const std::string store = format.positionStore.name;
    addStored(textures, format, kShapeOffsets, 3, "offset shapes as " + store + ", red green blue are x y z");
    if (format.hasNormals()) {
        addStored(textures, format, kShapeNormals, 3, "normals of the shapes as " + store);
    }
    TextureFormat& weights = textures.emplace_back();
    weights.quantity = &kWeight;
    weights.width = (format.layout.blocks + 3) / 4;
    weights.height = format.frameCount();
    weights.pixel = image::Pixel::float32;
    weights.channels = weights.channelsUsed = 4;
    weights.inBlocks = false;
    weights.words = "weights of the shapes as float32: row f is frame f, four shapes to a texel";
    return textures;
}

void writeSections(Json& root, const BakeFormat& format) {
    if (format.hasNormals() && format.positionStore.usesRange) {
        root["normal"]["min"] = base::json(format.normalRange.min);
        root["normal"]["max"] = base::json(format.normalRange.max);
    }
    root["weights"] = {{"shapes", format.layout.blocks}, {"frames", format.frameCount()}};
}

void readSections(const base::JsonSection& root, BakeFormat& format) {
    if (format.positionStore.planes != 1) {
        root.object("position").wrong("store", "does not hold shapes");
    }
    if (format.hasNormals() && format.positionStore.usesRange) {
        const base::JsonSection normal = root.object("normal");
        format.normalRange = {normal.vector("min"), normal.vector("max")};
    }
}

/// What few shapes leave out is far more than 16 bits lose: full floats are tried only where asked for.
bool storesShapes(const Climb& climb, const std::string& store) {
    return positionStore(store).planes == 1 && (climb.stores().size() == 1 || store != kFloat32Store.name);
}

std::size_t rungs(const Climb& climb) {
    const auto stores = std::count_if(climb.stores().begin(), climb.stores().end(),
                                      [&](const std::string& store) { return storesShapes(climb, store); });
    return static_cast<std::size_t>(stores) * kShapeCounts.size();
}

void climbRungs(Climb& climb) {
    const Poses poses = climb.poses();
    const bool normals = normalStore(climb.recipe().normalStore).stored();
    if (poses.frames() > kLargestTexture ||
        sharingMemory(poses.vertices(), poses.frames(), kShapeCounts.back(), normals) > kMostForSharing) {
        climb.skip(rungs(climb));
        return;
    }
    std::shared_ptr<const SharedMotion> shared;
    climb.work([&](const base::Progress& progress) {
        shared = std::make_shared<const SharedMotion>(
            shareMotion(climb.source().mesh(), poses, kShapeCounts.back(), normals, progress));
    });
    std::size_t before = 0;
    for (const std::size_t wanted : kShapeCounts) {
        const std::size_t shapes = std::min(wanted, shared->shapes);
        for (const std::string& store : climb.stores()) {
            if (!storesShapes(climb, store)) {
                continue;
            }
            // As many shapes as frames would be a dearer way to store the frames.
            if (shapes == before || shapes * 2 > climb.plan().frameCount()) {
                climb.skip(1);
                continue;
            }
            Recipe own = withKind(climb.recipe(), kShapes);
            own.shapes = shapes;
            own.positionStore = store;
            climb.attempt(own,
                          [&](const base::Progress&) { return encodeShared(climb.plan(), *shared, own); });
        }
        before = shapes;
        climb.tell();
    }
}

} // namespace

const Kind kShapes = {
    .id = "shapes",
    .label = "Shared shapes",
    .about = "Stores a few shapes that all frames share, and their weights in each frame",
    .column = "column",
    .block = "shape",
    .holdsVertices = false,
    .hasPivots = false,
    .approximates = true,
    .ownNormals = true,
    .absolute = false,
    .followsJoints = false,
    .arcs = false,
    .cubic = false,
    .oversampling = 1,
    .everySampling = false,
    .requireFitting = &requireChoices,
    .adapt = &adapt,
    .blocks = [](const Recipe& recipe, std::size_t frames) { return std::min(recipe.shapes, frames); },
    .encode = [](const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
                 const Recipe& recipe, const base::Progress& progress,
                 const Baked*) { return encodeShapes(source, plan, poses, recipe, progress); },
    .textures = &texturesOf,
    .decoder = [](const TextureReader& reader) -> std::unique_ptr<PoseDecoder> {
        return std::make_unique<ShapeDecoder>(reader);
    },
    .errorBound = [](const BakeFormat&, double position, const mesh::Bounds&) { return position; },
    .writeSections = &writeSections,
    .readSections = &readSections,
    .framesIn =
        [](const base::JsonSection& root) { return root.object("weights").count("frames", kLargestTexture); },
    .addCode = &addShapeCode,
    .readingNote =
        [](const BakeFormat& format) {
            return "Every frame is the rest pose and " + base::plural(format.layout.blocks, "shape") +
                   ", each added by its weight in that frame; read `shape` for `frame` below. ";
        },
    .rungs = &rungs,
    .climb = &climbRungs,
    .rungLabel =
        [](const Rung& rung) {
            return base::plural(rung.rows, "shape") + ", " + positionStore(rung.recipe.positionStore).label;
        },
};

} // namespace ripple::bake
