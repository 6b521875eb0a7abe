#include "bake/encode.h"
#include "bake/joint_texels.h"
#include "bake/kind.h"
#include "bake/ladder_climb.h"
#include "bake/reading_code.h"
#include "bake/texture_reader.h"
#include "base/json_section.h"
#include "base/units.h"
#include "source/skinning.h"

#include <algorithm>
#include <cmath>
#include <memory>

#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <nlohmann/json.hpp>

namespace ripple::bake {

namespace {

using Json = nlohmann::ordered_json;

constexpr const char* kFormOfMatrices = "matrix";
constexpr const char* kFormOfRigid = "rigid";

/// Transforms of joints are blended, then carry the vertices.
class JointDecoder : public PoseDecoder {
public:
    explicit JointDecoder(const TextureReader& reader) : PoseDecoder(reader) {
        const TextureSet& set = reader.textures();
        if (set.images.empty()) {
            return;
        }
        const std::vector<JointInfluences> columns = reader.storedInfluences();
        weights_.influences = set.joints.influences;
        for (const std::uint32_t column : reader.columnOfVertex()) {
            const JointInfluences& own = columns[column];
            weights_.joints.insert(weights_.joints.end(), own.joints.begin(),
                                   own.joints.begin() + static_cast<std::ptrdiff_t>(weights_.influences));
            weights_.weights.insert(weights_.weights.end(), own.weights.begin(),
                                    own.weights.begin() + static_cast<std::ptrdiff_t>(weights_.influences));
        }
    }

    void blend(const FrameBlend& moment, std::span<glm::vec3> positions,
               std::span<glm::vec3> normals) const override {
        const JointFormat& joints = reader_.textures().joints;
        std::vector<std::vector<glm::vec4>> frames(moment.count);
        for (std::size_t i = 0; i < moment.count; ++i) {
            frames[i].resize(joints.joints * joints.texels());
            reader_.storedJoints(moment.frames[i], frames[i]);
        }
        std::vector<glm::mat4> transforms(joints.joints);
        blendJoints(joints, frames, moment, transforms);
        source::skin(weights_, transforms, reader_.rest(), reader_.unposedNormals(), positions, normals);
    }

private:
    source::SkinWeights weights_;
};

void requireChoices(const Recipe& recipe) {
    requireNoVertexChoices(recipe, "moves the mesh's own");
    const PositionStore& store = positionStore(recipe.positionStore);
    if (store.planes > 1) {
        base::fail("joints", std::string("are not stored as ") + store.name,
                   "store them as half, unorm16 or float32");
    }
    if (recipe.influences != 4 && recipe.influences != 8) {
        base::fail("influences", "are " + std::to_string(recipe.influences), "store 4 or 8 for each vertex");
    }
    if (recipe.influencesInUvs && recipe.halfUvs) {
        base::fail("influences", "do not fit into UVs of half precision, which can't tell joints apart",
                   "keep the influences in a texture");
    }
}

void adapt(Recipe& recipe) {
    recipe.tangents = recipe.normalsInAlpha = false;
    if (positionStore(recipe.positionStore).planes > 1) {
        recipe.positionStore = "unorm16";
    }
}

std::vector<TextureFormat> texturesOf(const BakeFormat& format) {
    const std::string store = format.positionStore.name;
    const JointFormat& joints = format.joints;
    TextureFormat transforms;
    transforms.quantity = &kJoint;
    transforms.width = joints.layout.width;
    transforms.height = joints.layout.height();
    transforms.pixel = format.positionStore.pixel;
    transforms.channels = transforms.channelsUsed = 4;
    transforms.inBlocks = false;
    transforms.words =
        joints.matrix ? "transforms of joints as " + store + ": three texels a joint, the rows of its matrix"
                      : "transforms of joints as " + store +
                            ": two texels a joint, its place and scale, then its rotation as a quaternion";
    std::vector<TextureFormat> textures = {transforms};
    if (!joints.inUvs) {
        TextureFormat& influences = textures.emplace_back();
        influences.quantity = &kInfluence;
        influences.width = format.layout.width;
        influences.height = format.layout.height();
        influences.pixel =
            format.positionStore.pixel == image::Pixel::float32 ? image::Pixel::float32 : image::Pixel::u16;
        influences.channels = influences.channelsUsed = 4;
        influences.words = std::string("joints and weights of vertices as ") +
                           (influences.pixel == image::Pixel::u16 ? "16-bit whole numbers" : "float32") +
                           ": red joint, green its weight, blue and alpha the next";
    }
    return textures;
}

/// Rotations, scales and the rest of matrices act at the arm's length from the origin.
double errorBound(const BakeFormat& format, double position, const mesh::Bounds& rest) {
    const Range unit{glm::vec3(-1.0f), glm::vec3(1.0f)};
    const glm::vec2& others = format.joints.range;
    const double arm = static_cast<double>(glm::length(glm::max(glm::abs(rest.min), glm::abs(rest.max))));
    const auto of = [&](const Range& range) {
        return static_cast<double>(format.positionStore.errorBound(range).x);
    };
    const double other = of({glm::vec3(others.x), glm::vec3(others.y)});
    const double largest = static_cast<double>(std::max(std::abs(others.x), std::abs(others.y)));
    constexpr double kWeightSteps = 8.0 * 0.5 / 65535.0; // of eight influences, each up to half a step off
    const double weights = format.positionStore.pixel == image::Pixel::float32 ? 0.0 : kWeightSteps;
    const double rotation = format.joints.matrix ? 3.0 * other : 4.0 * of(unit) * largest + other;
    return position + rotation * arm + weights * 2.0 * largest * arm;
}

void writeSections(Json& root, const BakeFormat& format) {
    const JointFormat& joints = format.joints;
    Json& section = root["joints"];
    section = {{"form", joints.matrix ? kFormOfMatrices : kFormOfRigid},
               {"joints", joints.joints},
               {"names", joints.names}};
    section.update(layoutJson(joints.layout));
    if (format.positionStore.usesRange) {
        section["other_min"] = static_cast<double>(joints.range.x);
        section["other_max"] = static_cast<double>(joints.range.y);
    }
    root["influences"] = {{"per_vertex", joints.influences}, {"place", joints.inUvs ? "uv_sets" : "texture"}};
    if (joints.inUvs) {
        root["influences"]["uv_set"] = format.pivotUvSet;
    }
}

void readSections(const base::JsonSection& root, BakeFormat& format) {
    const base::JsonSection section = root.object("joints");
    JointFormat& joints = format.joints;
    if (format.positionStore.planes != 1) {
        root.object("position").wrong("store", "does not hold joints");
    }
    const std::string form = section.text("form");
    if (form != kFormOfMatrices && form != kFormOfRigid) {
        section.wrong("form", "is neither rigid nor matrix");
    }
    joints.matrix = form == kFormOfMatrices;
    constexpr std::size_t kMostJoints = 65536;
    joints.joints = section.count("joints", kMostJoints);
    for (const base::JsonSection& name : section.list("names")) {
        joints.names.push_back(name.text());
    }
    if (joints.joints == 0 || joints.names.size() != joints.joints) {
        section.wrong("names", "are not one for each joint");
    }
    joints.layout = parseLayout(section, joints.joints * joints.texels());
    if (format.positionStore.usesRange) {
        joints.range = {static_cast<float>(section.number("other_min")),
                        static_cast<float>(section.number("other_max"))};
    }
    const base::JsonSection influences = root.object("influences");
    joints.influences = influences.count("per_vertex", JointInfluences::kMost);
    if (joints.influences != 4 && joints.influences != 8) {
        influences.wrong("per_vertex", "is neither 4 nor 8");
    }
    const std::string place = influences.text("place");
    if (place != "texture" && place != "uv_sets") {
        influences.wrong("place", "is neither texture nor uv_sets");
    }
    joints.inUvs = place == "uv_sets";
    if (joints.inUvs) {
        format.pivotUvSet = influences.count("uv_set", 64);
    } else if (format.layout.blocks != joints.influences / 2) {
        root.object("texture").wrong("frames", "does not fit the influences");
    }
}

bool storesJoints(const Climb& climb, const std::string& store) {
    return positionStore(store).planes == 1 && (climb.stores().size() == 1 || store != kFloat32Store.name);
}

std::size_t rungs(const Climb& climb) {
    return static_cast<std::size_t>(
        std::count_if(climb.stores().begin(), climb.stores().end(),
                      [&](const std::string& store) { return storesJoints(climb, store); }));
}

void climbRungs(Climb& climb) {
    for (const std::string& store : climb.stores()) {
        if (!storesJoints(climb, store)) {
            continue;
        }
        if (climb.recipe().thin > 0.0 || !climb.refused(kJoints).empty()) {
            climb.skip(1);
            continue;
        }
        Recipe own = withKind(climb.recipe(), kJoints);
        own.positionStore = store;
        climb.attempt(own);
    }
}

} // namespace

const Kind kJoints = {
    .id = "joints",
    .label = "Joints",
    .about = "Stores a transform for each joint, and the joints that each vertex follows: characters",
    .column = "column",
    .block = "pair of influences",
    .holdsVertices = false,
    .hasPivots = false,
    .approximates = true, // influences that are left out, and what a rigid form can't hold
    .ownNormals = false,  // the joints carry the mesh's
    .absolute = false,
    .followsJoints = true,
    .arcs = true,
    .cubic = true,
    // A joint's frame takes a few texels, a mesh's thousands: four times the rate costs little, and leaves a
    // sixteenth of what blending loses. At the same rate joints lose about as much as vertices do.
    .oversampling = 4,
    .everySampling = true,
    .requireFitting = &requireChoices,
    .adapt = &adapt,
    .blocks = [](const Recipe&, std::size_t frames) { return frames; },
    .encode = [](const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
                 const Recipe& recipe, const base::Progress& progress,
                 const Baked*) { return encodeJoints(source, plan, poses, recipe, progress); },
    .textures = &texturesOf,
    .decoder = [](const TextureReader& reader) -> std::unique_ptr<PoseDecoder> {
        return std::make_unique<JointDecoder>(reader);
    },
    .errorBound = &errorBound,
    .writeSections = &writeSections,
    .readSections = &readSections,
    .framesIn =
        [](const base::JsonSection& root) { return root.object("joints").count("frames", kLargestTexture); },
    .addCode = &addJointCode,
    .readingNote =
        [](const BakeFormat& format) {
            const std::string each = std::to_string(format.joints.texels());
            return "Joint `j` of frame `f` lies in texels `" + each + " j` to `" + each + " j + " +
                   std::to_string(format.joints.texels() - 1) + "` of the frame's " +
                   base::plural(format.joints.layout.rowsPerBlock, "row") +
                   "; a vertex is moved by the sum of its joints' transforms, each by its weight. ";
        },
    .rungs = &rungs,
    .climb = &climbRungs,
    .rungLabel =
        [](const Rung& rung) {
            return base::plural(rung.columns, "joint") + ", " +
                   positionStore(rung.recipe.positionStore).label + samplingLabel(rung);
        },
};

} // namespace ripple::bake
