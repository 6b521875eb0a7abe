#include "bundle/check.h"

#include "bake/kind.h"
#include "bake/pieces.h"
#include "bake/test_row.h"
#include "bake/thinning.h"
#include "base/files.h"
#include "base/parallel.h"
#include "base/progress.h"
#include "base/units.h"
#include "bundle/check_score.h"
#include "bundle/file_check.h"
#include "bundle/read_bundle.h"
#include "bundle/test_moments.h"
#include "mesh/bounds.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include <glm/geometric.hpp>
#include <glm/vector_relational.hpp>

namespace ripple::bundle {

namespace {

/// Decodes every frame once, keeping none.
void checkValues(const Bundle& bundle, const bake::TextureReader& reader, const base::Progress& progress,
                 CheckReport& report) {
    const std::size_t frames = bundle.manifest.textures.frameCount();
    std::vector<mesh::Bounds> ofFrame(frames);
    constexpr std::size_t kNone = static_cast<std::size_t>(-1);
    std::vector<std::size_t> odd(frames, kNone);
    base::parallelFor(frames, 1, [&](std::size_t begin, std::size_t end) {
        std::vector<glm::vec3> positions(reader.vertexCount());
        for (std::size_t f = begin; f < end; ++f) {
            reader.frame(f, positions, {});
            for (std::size_t v = 0; v < positions.size(); ++v) {
                const glm::vec3& p = positions[v];
                odd[f] = odd[f] == kNone && !std::isfinite(p.x + p.y + p.z) ? v : odd[f];
            }
            ofFrame[f].add(positions);
            progress.checkpoint();
        }
    });
    if (bundle.manifest.textures.leavesFrames()) { // at instants that its writer did not look at
        for (const bake::BakedClip& clip : bundle.manifest.textures.clips) {
            std::vector<mesh::Bounds> ofStep(clip.closed ? clip.length() : clip.length() - 1);
            base::parallelFor(ofStep.size(), 4, [&](std::size_t begin, std::size_t end) {
                std::vector<glm::vec3> positions(reader.vertexCount());
                for (std::size_t s = begin; s < end; ++s) {
                    for (const float part : {0.19f, 0.37f, 0.63f, 0.88f}) {
                        reader.at(clip, static_cast<float>(s) + part, positions, {});
                        ofStep[s].add(positions);
                    }
                    progress.checkpoint();
                }
            });
            for (const mesh::Bounds& own : ofStep) {
                ofFrame[clip.firstFrame].add(own);
            }
        }
    }
    mesh::Bounds bounds;
    for (std::size_t f = 0; f < frames; ++f) {
        if (odd[f] != kNone) {
            report.problems.push_back({bundle.manifest.textureFiles.front(),
                                       "frame " + std::to_string(f) + ", vertex " + std::to_string(odd[f]) +
                                           " does not decode to a finite position",
                                       "write the bundle again"});
            return;
        }
        bounds.add(ofFrame[f]);
    }
    const mesh::AxisMap& space = bundle.manifest.textures.space;
    mesh::Bounds said = space.back().of(bundle.manifest.bounds);
    if (space.changes()) { // to the target's unit and back, positions are rounded on both ways
        const float rounding = 4.0f * std::numeric_limits<float>::epsilon() *
                               glm::length(glm::max(glm::abs(said.min), glm::abs(said.max)));
        said.min -= rounding;
        said.max += rounding;
    }
    const bool holds = glm::all(glm::lessThanEqual(said.min, bounds.min)) &&
                       glm::all(glm::greaterThanEqual(said.max, bounds.max));
    // What turns between frames reaches beyond them; a hundredth of the size would be another motion.
    const float slack = 0.01f * bounds.diagonal() + 2.0f * static_cast<float>(bundle.manifest.error.all.max);
    const bool fills =
        glm::distance(bounds.min, said.min) <= slack && glm::distance(bounds.max, said.max) <= slack;
    if (!holds || !fills) {
        report.problems.push_back({bundle.manifest.name,
                                   holds ? "the decoded motion does not fill the bounds in the manifest"
                                         : "the decoded motion leaves the bounds in the manifest",
                                   "the texture was changed, or its range; write the bundle again"});
    }
}

double sizeOf(const mesh::Mesh& mesh) {
    mesh::Bounds rest;
    rest.add(mesh.positions);
    return static_cast<double>(rest.diagonal());
}

double decodedGap(const bake::TextureReader& reader, const bake::BakedClip& clip) {
    if (clip.length() < 2) {
        return 0.0;
    }
    const auto last = static_cast<float>(clip.length() - 1);
    std::array<std::vector<glm::vec3>, 4> poses;
    const std::array<float, 4> at = {last - 1.0f, last, 0.0f, 1.0f};
    for (std::size_t i = 0; i < poses.size(); ++i) {
        poses[i].resize(reader.vertexCount());
        reader.at(clip, at[i], poses[i], {});
    }
    return bake::seamGap(bake::SeamPoses{poses[0], poses[1], poses[2], poses[3]});
}

/// Leaves the instants that a thinned clip kept, if the source still has as many frames.
void keepAsBaked(const bake::BakedClip& clip, const source::FrameSource& source, const bake::Recipe& recipe,
                 bake::ClipPlan& plan) {
    if (clip.times.empty() || clip.sourceStep <= 0.0) {
        return;
    }
    const bake::Thinning thinning{static_cast<std::size_t>(std::max(1.0, std::round(1.0 / clip.sourceStep))),
                                  clip.times, 0.0};
    const std::size_t steps = plan.closed ? plan.seconds.size() : plan.seconds.size() - 1;
    if (steps * thinning.perFrame + (plan.closed ? 0 : 1) == clip.length()) {
        bake::keepOnly(plan, thinning, bake::askedAtAnyTime(source.clips()[plan.clip], recipe));
    }
}

/// The manifest's clips as a plan for sampling the source at the very instants that were kept.
bake::SamplePlan planFromManifest(const Manifest& manifest, const source::FrameSource& source) {
    bake::Recipe recipe;
    recipe.fps = manifest.sourceFps;
    recipe.step = manifest.sourceStep;
    recipe.oversampling = manifest.sourceOversampling;
    recipe.fadeFrames = std::max<std::size_t>(manifest.sourceFade, 1);
    for (const bake::BakedClip& clip : manifest.textures.clips) {
        bake::ClipChoice choice{clip.sourceName, std::nullopt, clip.sourceClosing};
        choice.shippedName = clip.name;
        const std::size_t index = recipe.clips.size();
        choice.fps = index < manifest.clipRates.size() ? manifest.clipRates[index] : 0.0;
        const bool chosen =
            clip.sourceClosing == bake::Closing::window || clip.sourceClosing == bake::Closing::fade;
        if (!clip.closed || chosen) {
            const auto first = static_cast<std::size_t>(std::llround(clip.sourceFrame));
            const double steps = clip.sourceStep * static_cast<double>(clip.length() - 1);
            const std::size_t last = clip.sourceFrames
                                         ? first + clip.sourceFrames - 1
                                         : static_cast<std::size_t>(std::llround(clip.sourceFrame + steps));
            choice.window = {first, last};
        }
        recipe.clips.push_back(choice);
    }
    bake::SamplePlan plan = bake::planSampling(source, recipe);
    for (std::size_t c = 0; c < plan.clips.size(); ++c) {
        const bake::BakedClip& clip = manifest.textures.clips[c];
        keepAsBaked(clip, source, recipe, plan.clips[c]);
        if (plan.clips[c].closed != clip.closed) {
            base::fail("clip \"" + clip.name + "\"",
                       std::string("is ") + (clip.closed ? "closed" : "open") +
                           " in the manifest, but the source gives " +
                           (clip.closed ? "an open" : "a closed") + " one",
                       "the manifest or the source changed since the bake; bake it again");
        }
        if (plan.clips[c].seconds.size() != clip.frames) {
            base::fail("clip \"" + clip.name + "\"",
                       "the source gives " + base::plural(plan.clips[c].seconds.size(), "frame") +
                           ", the bundle has " + std::to_string(clip.frames),
                       "the source changed since the bake; bake it again");
        }
    }
    return plan;
}

/// What the manifest says of its clips' times, against what baking the source anew would write there.
void compareTimes(const Manifest& manifest, const bake::SamplePlan& plan, CheckReport& report) {
    const std::vector<bake::BakedClip> expected = bake::clipsOf(plan);
    for (std::size_t c = 0; c < expected.size(); ++c) {
        const bake::BakedClip& said = manifest.textures.clips[c];
        const auto differ = [&](const char* what, const std::string& now, const std::string& wanted) {
            report.problems.push_back({"clip \"" + said.name + "\"",
                                       std::string("its ") + what + " is " + now +
                                           " in the manifest, but the source gives " + wanted,
                                       "the manifest or the source changed since the bake; bake it again"});
        };
        const auto number = [&](const char* what, double now, double wanted) {
            if (std::abs(now - wanted) > 1e-6 * std::max(1.0, std::abs(wanted))) {
                differ(what, base::floatLiteral(static_cast<float>(now)),
                       base::floatLiteral(static_cast<float>(wanted)));
            }
        };
        number("rate (fps)", said.fps, expected[c].fps);
        number("first frame (source_frame)", said.sourceFrame, expected[c].sourceFrame);
        number("step (source_step)", said.sourceStep, expected[c].sourceStep);
        if (said.times != expected[c].times || said.length() != expected[c].length()) {
            differ("list of times", base::plural(said.length(), "frame"),
                   base::plural(expected[c].length(), "frame"));
        }
        if (said.firstFrame != expected[c].firstFrame) {
            differ("place (first_frame)", std::to_string(said.firstFrame),
                   std::to_string(expected[c].firstFrame));
        }
    }
}

/// What the store may lose at kept frames, metres: its own bound as a distance, and float rounding of rest +
/// offset.
double allowedError(const Bundle& bundle) {
    const bake::BakeFormat& set = bundle.manifest.textures;
    const glm::vec3 most =
        glm::max(glm::abs(bundle.manifest.bounds.min), glm::abs(bundle.manifest.bounds.max));
    mesh::Bounds rest;
    rest.add(bundle.mesh.positions);
    rest = set.space.of(rest); // all here is in the target's space, up to the last line
    const glm::vec3 own = glm::max(glm::abs(rest.min), glm::abs(rest.max));
    float bound = 0.0f;
    for (bake::Range range : set.ranges) {
        if (!set.positionStore.usesRange) {
            // Of stores without a range the bound depends on the largest value, which the bounds limit.
            range.max = set.content == bake::Content::offset ? most + own : most;
            range.min = -range.max;
        }
        bound = std::max(bound, glm::length(set.positionStore.errorBound(range)));
    }
    const double stored = set.kind->errorBound(set, static_cast<double>(bound), rest);
    const double rounding = (set.space.changes() ? 12.0 : 8.0) * static_cast<double>(glm::length(most)) *
                            static_cast<double>(std::numeric_limits<float>::epsilon());
    return (stored + rounding) / set.space.unit;
}

const std::string& fileOfNormals(const Manifest& manifest) {
    const std::size_t t = manifest.textures.indexOf(bake::kNormal);
    // Where they ride in the alpha of positions, that is their file.
    return manifest.textureFiles[t == manifest.textureFiles.size() ? 0 : t];
}

void compareWithSource(const Bundle& bundle, const source::FrameSource& source,
                       const base::Progress& progress, CheckReport& report) {
    if (source.mesh().vertexCount() != bundle.mesh.vertexCount()) {
        base::fail(bundle.manifest.meshFile,
                   "has " + std::to_string(bundle.mesh.vertexCount()) + " vertices, the source has " +
                       std::to_string(source.mesh().vertexCount()),
                   "compare with the source that was baked, or bake this one");
    }
    const bake::SamplePlan plan = planFromManifest(bundle.manifest, source);
    compareTimes(bundle.manifest, plan, report);
    const bake::TextureReader reader = bundle.reader();
    report.error = bake::measureError(source, plan, {}, reader, bundle.manifest.textures.clips, progress);
    // What few shapes cannot show is left out: as much as the manifest says, to its six digits.
    const bool approximates = bundle.manifest.textures.kind->approximates;
    report.allowedAtFrames =
        approximates ? bundle.manifest.error.all.max * (1.0 + 1e-5) + 1e-7 : allowedError(bundle);
    if (report.error->atFrames.max > report.allowedAtFrames) {
        report.problems.push_back({bundle.manifest.textureFiles.front(),
                                   "is off by " + base::lengthText(report.error->atFrames.max) +
                                       " at kept frames (clip " + report.error->worstClip + ", vertex " +
                                       std::to_string(report.error->worstVertex) + "); it may lose at most " +
                                       base::lengthText(report.allowedAtFrames),
                                   "the source or the textures changed since the bake; bake again"});
    }
    const bake::NormalStore& normals = bundle.manifest.textures.normalStore;
    constexpr double kRounding = 0.05; // degrees: normals go through single precision on both ways
    const double allowed = static_cast<double>(normals.errorBoundDegrees) + kRounding;
    if (normals.stored() && !approximates && report.error->normalAtFramesMaxDegrees > allowed) {
        report.problems.push_back({fileOfNormals(bundle.manifest),
                                   "is off by " + base::degreesText(report.error->normalAtFramesMaxDegrees) +
                                       " at kept frames; its store loses at most " +
                                       base::degreesText(allowed),
                                   "the source or the textures changed since the bake; bake again"});
    }
}

} // namespace

CheckReport check(const std::filesystem::path& directory, const source::FrameSource* against,
                  const base::Progress& progress) {
    if (holdsScore(directory)) {
        return checkScore(directory, against, progress);
    }
    CheckReport report;
    try {
        const Manifest manifest = readManifest(directory);
        report.problems = manifest.doubts;
        checkFiles(directory, manifest.files, report);
        const Bundle bundle = readBundle(directory, manifest);
        for (base::Problem& problem :
             problemsOfLevels(insideBundle(directory, manifest.meshFile), manifest.levels)) {
            report.problems.push_back(std::move(problem));
        }
        report.textureMemory = bundle.manifest.textures.textureMemory();
        if (const auto wrong = bake::firstWrongTestRow(bundle.textures)) {
            report.problems.push_back({bundle.manifest.textureFiles[*wrong],
                                       "its test row does not hold what was written there",
                                       "it was turned, converted or rounded; write the bundle again"});
        }
        const bake::TextureReader reader = bundle.reader();
        checkValues(bundle, reader, progress, report);
        for (const bake::BakedClip& clip : bundle.manifest.textures.clips) {
            report.clips.push_back({clip.name, clip.frames, clip.closed, decodedGap(reader, clip)});
        }
        checkTestFile(directory, bundle.manifest, testOf(bundle.manifest, reader, bundle.mesh.positions),
                      sizeOf(bundle.mesh), report);
        if (against) {
            compareWithSource(bundle, *against, progress, report);
        }
    } catch (const base::Failure& failure) {
        // A file that is missing is reported by both passes; once is enough.
        const base::Problem& problem = failure.problem();
        if (std::find(report.problems.begin(), report.problems.end(), problem) == report.problems.end()) {
            report.problems.push_back(problem);
        }
    }
    return report;
}

Origin originOf(const std::filesystem::path& directory) {
    try {
        if (holdsScore(directory)) {
            return readScoreManifest(directory).origin;
        }
        return readManifest(directory).origin;
    } catch (const base::Failure&) {
        return {}; // check() reports what is wrong with the manifest
    }
}

} // namespace ripple::bundle
