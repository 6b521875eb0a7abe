// Transforms of joints and the influences of vertices as textures.

#include "bake/encode.h"
#include "bake/joint_texels.h"
#include "bake/kind.h"
#include "base/parallel.h"
#include "base/progress.h"
#include "base/text.h"
#include "base/units.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ripple::bake {

namespace {

/// A joint that is off by more can't be stored as place, scale and rotation: at arm's length of the model's
/// size that would lose a hundred-thousandth of it, which is what single precision keeps.
constexpr double kUneven = 1e-5;

/// frames × joints.
std::vector<glm::dmat4> transformsOf(const source::FrameSource& source, const SamplePlan& plan,
                                     const source::Rig& rig, const base::Progress& progress) {
    struct Instant {
        const ClipPlan* clip;
        double seconds;
    };
    std::vector<Instant> instants;
    for (const ClipPlan& clip : plan.clips) {
        for (const double seconds : clip.seconds) {
            instants.push_back({&clip, seconds});
        }
    }
    const std::size_t joints = rig.joints.size();
    std::vector<glm::dmat4> transforms(instants.size() * joints);
    base::parallelFor(instants.size(), 8, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            sampleTransforms(source, *instants[i].clip, instants[i].seconds,
                             std::span(transforms).subspan(i * joints, joints));
            progress.checkpoint();
        }
    });
    for (std::size_t i = 0; i < transforms.size(); ++i) {
        const glm::dmat4& m = transforms[i];
        const glm::dvec4 sum = m[0] + m[1] + m[2] + m[3];
        if (!std::isfinite(sum.x + sum.y + sum.z + sum.w)) {
            base::fail("joint \"" + rig.joints[i % joints] + "\"",
                       "frame " + std::to_string(i / joints) + " has no finite transform",
                       "repair the animation where it was made (a joint scaled to zero, a bad key)");
        }
    }
    return transforms;
}

bool fades(const SamplePlan& plan) {
    return std::any_of(plan.clips.begin(), plan.clips.end(),
                       [](const ClipPlan& clip) { return clip.fade.length > 0.0 || clip.loop.join > 0.0; });
}

/// Whether matrices are stored, with a finding that says why, or what rigid ones lose.
bool takesMatrices(const SamplePlan& plan, const source::Rig& rig, std::span<const glm::dmat4> transforms,
                   const Recipe& recipe, base::Findings& findings) {
    if (recipe.jointForm == JointForm::matrix) {
        return true;
    }
    const std::size_t joints = rig.joints.size();
    std::vector<std::string> uneven;
    for (std::size_t j = 0; j < joints; ++j) {
        double most = 0.0;
        for (std::size_t i = j; i < transforms.size(); i += joints) {
            most = std::max(most, unevenness(transforms[i]));
        }
        if (most > kUneven) {
            uneven.push_back(rig.joints[j]);
        }
    }
    if (uneven.empty()) {
        return false;
    }
    const bool forced = recipe.jointForm == JointForm::rigid;
    const std::string what =
        base::plural(uneven.size(), "joint") + (uneven.size() == 1 ? " is" : " are") +
        (fades(plan) ? " blended where clips are cross-faded, sheared or" : " sheared or") +
        " scaled unevenly: " + base::listed(uneven);
    findings.push_back({forced ? "joints-bent" : "joints-as-matrices",
                        forced ? base::Severity::look : base::Severity::note,
                        {"joints", what,
                         forced ? "store matrices: place, uniform scale and rotation do not hold that"
                                : "joints are stored as matrices, three texels instead of two"}});
    return !forced;
}

/// The strongest few of each vertex, with weights that sum to 1; a finding says what is left out.
std::vector<JointInfluences> influencesOf(const source::Rig& rig, std::size_t most, bool inSteps,
                                          base::Findings& findings) {
    const source::SkinWeights& weights = rig.weights;
    std::vector<JointInfluences> vertices(weights.vertexCount());
    std::size_t cut = 0;
    float largest = 0.0f;
    for (std::size_t v = 0; v < vertices.size(); ++v) {
        const std::size_t first = v * weights.influences;
        float kept = 0.0f;
        for (std::size_t i = 0; i < std::min(most, weights.influences); ++i) {
            vertices[v].joints[i] = weights.joints[first + i];
            vertices[v].weights[i] = weights.weights[first + i];
            kept += weights.weights[first + i];
        }
        float dropped = 0.0f;
        for (std::size_t i = most; i < weights.influences; ++i) {
            dropped += weights.weights[first + i];
        }
        cut += dropped > 0.0f ? 1 : 0;
        largest = std::max(largest, dropped);
        for (float& weight : vertices[v].weights) {
            weight /= kept;
        }
        vertices[v] = inSteps ? rounded(vertices[v]) : vertices[v];
    }
    if (cut > 0) {
        findings.push_back(
            {"influences-dropped",
             base::Severity::look,
             {"influences",
              base::countText(cut) + (cut == 1 ? " vertex follows" : " vertices follow") + " more than " +
                  std::to_string(most) + " joints; up to " +
                  base::floatLiteral(std::round(largest * 1000.0f) / 10.0f) + " % of its weight is left out",
              most < JointInfluences::kMost ? "store 8 influences, or let the measured error decide"
                                            : "the measured error tells what that costs"}});
    }
    return vertices;
}

/// Equal influences share a column.
Columns shareInfluences(std::span<const JointInfluences> vertices, const base::Progress& progress) {
    Texels all;
    all.vertices = vertices.size();
    all.frames = 1;
    all.bytesPerTexel = sizeof(JointInfluences);
    const auto bytes = std::as_bytes(vertices);
    all.data.assign(bytes.begin(), bytes.end());
    const Texels* const only = &all;
    return shareColumns({&only, 1}, progress);
}

void measureRanges(std::span<const glm::vec4> texels, TextureSet& set) {
    mesh::Bounds places;
    glm::vec2 others(std::numeric_limits<float>::max(), std::numeric_limits<float>::lowest());
    const auto widen = [&](float value) {
        others.x = std::min(others.x, value);
        others.y = std::max(others.y, value);
    };
    const std::size_t each = set.joints.texels();
    for (std::size_t i = 0; i < texels.size(); i += each) {
        if (set.joints.matrix) {
            places.add(glm::vec3(texels[i].w, texels[i + 1].w, texels[i + 2].w));
            for (std::size_t k = 0; k < 9; ++k) {
                widen(texels[i + k / 3][static_cast<int>(k % 3)]);
            }
        } else {
            places.add(glm::vec3(texels[i]));
            widen(texels[i].w);
        }
    }
    set.ranges = {{places.min, places.max}};
    set.joints.range = others;
}

image::Image jointImage(std::span<const glm::vec4> texels, const TextureSet& set, const Recipe& recipe) {
    const Layout& layout = set.joints.layout;
    const std::size_t size = 4 * image::bytesPer(set.positionStore.pixel);
    Texels packed = roomFor(layout.blocks, layout.columns, size, recipe);
    for (std::size_t f = 0; f < layout.blocks; ++f) {
        encodeJoints(set, texels.subspan(f * layout.columns, layout.columns),
                     packed.data.data() + f * layout.columns * size);
    }
    Columns columns;
    columns.first.resize(layout.columns);
    std::iota(columns.first.begin(), columns.first.end(), 0u);
    return layOut(std::move(packed), columns, layout, set.positionStore.pixel);
}

image::Image influenceImage(std::span<const JointInfluences> columns, const TextureSet& set,
                            image::Pixel pixel) {
    image::Image picture(set.layout.width, set.layout.height(), 4, pixel);
    std::fill(picture.data.begin(), picture.data.end(), std::byte{0});
    for (std::size_t pair = 0; pair < set.layout.blocks; ++pair) {
        // The rows of a block follow each other, so its columns are one run of texels.
        encodeInfluences(columns, 2 * pair, pixel, picture.texel(0, pair * set.layout.rowsPerBlock));
    }
    return picture;
}

} // namespace

Baked encodeJoints(const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
                   const Recipe& recipe, const base::Progress& progress) {
    Baked baked;
    baked.findings = plan.findings;
    baked.rig = source.rig();
    const std::vector<glm::dmat4> transforms = transformsOf(source, plan, *baked.rig, progress);
    TextureSet& set = baked.textures;
    set.kind = &kJoints;
    set.content = Content::absolute;
    set.positionStore = positionStore(recipe.positionStore);
    set.normalStore = kNoNormals; // the joints carry them
    set.blend = recipe.blend;
    set.clips = clipsOf(plan);
    JointFormat& joints = set.joints;
    joints.joints = baked.rig->joints.size();
    joints.names = baked.rig->joints;
    joints.matrix = takesMatrices(plan, *baked.rig, transforms, recipe, baked.findings);
    joints.influences = recipe.influences;
    joints.inUvs = recipe.influencesInUvs;
    if (joints.inUvs && joints.joints > kMostJointsInUvs) {
        base::fail("joints", "are " + base::countText(joints.joints) + ", UV sets tell 4 096 apart",
                   "keep the influences in a texture");
    }
    joints.layout = makeLayout(joints.joints * joints.texels(), plan.frameCount(), limitsOf(recipe));

    std::vector<glm::vec4> texels(transforms.size() * joints.texels());
    for (std::size_t i = 0; i < transforms.size(); ++i) {
        makeTexels(transforms[i], joints.matrix,
                   std::span(texels).subspan(i * joints.texels(), joints.texels()));
    }
    measureRanges(texels, set);
    requireStorable(set.positionStore, set.ranges);

    const bool whole = set.positionStore.pixel != image::Pixel::float32;
    const std::vector<JointInfluences> vertices =
        influencesOf(*baked.rig, recipe.influences, whole && !joints.inUvs, baked.findings);
    Columns columns = shareInfluences(vertices, progress);
    for (const std::uint32_t v : columns.first) {
        set.influences.push_back(vertices[v]);
    }
    set.layout =
        joints.inUvs ? joints.layout : makeLayout(columns.count(), recipe.influences / 2, limitsOf(recipe));
    set.textures = kJoints.textures(set);
    set.images.push_back(jointImage(texels, set, recipe));
    if (!joints.inUvs) {
        set.images.push_back(influenceImage(set.influences, set, set.textures.back().pixel));
    }
    baked.columnOfVertex = std::move(columns.ofVertex);
    baked.bounds = boundsOf(measureExtents(set.clips, poses, source.mesh().positions, progress));
    return baked;
}

} // namespace ripple::bake
