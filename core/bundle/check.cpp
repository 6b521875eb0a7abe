#include "bundle/check.h"

#include "base/files.h"
#include "base/units.h"
#include "bundle/read_bundle.h"
#include "mesh/bounds.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include <glm/geometric.hpp>

namespace ripple::bundle {

namespace {

void checkFiles(const std::filesystem::path& directory, const Manifest& manifest, CheckReport& report) {
    for (const FileEntry& file : manifest.files) {
        try {
            const base::Bytes bytes = base::readFile(directory / std::filesystem::path(file.file).filename());
            report.fileBytes += bytes.size();
            if (bytes.size() != file.bytes || base::sha256(bytes) != file.sha256) {
                report.problems.push_back(
                    {file.file, "is no longer what was written: its bytes differ from the manifest",
                     "write the bundle again, and keep other programs from saving over it"});
            }
        } catch (const base::Failure& failure) {
            report.problems.push_back(failure.problem());
        }
    }
}

bake::Frames decodeAll(const bake::TextureReader& reader, const bake::Layout& layout) {
    bake::Frames frames;
    frames.vertices = reader.vertexCount();
    frames.frames = layout.frames;
    frames.positions.resize(frames.vertices * frames.frames);
    frames.normals.resize(frames.vertices * frames.frames);
    for (std::size_t f = 0; f < frames.frames; ++f) {
        reader.frame(f, {frames.positions.data() + f * frames.vertices, frames.vertices},
                     {frames.normals.data() + f * frames.vertices, frames.vertices});
    }
    return frames;
}

void checkValues(const Bundle& bundle, const bake::Frames& frames, CheckReport& report) {
    mesh::Bounds bounds;
    for (std::size_t i = 0; i < frames.positions.size(); ++i) {
        const glm::vec3& p = frames.positions[i];
        if (!std::isfinite(p.x + p.y + p.z)) {
            report.problems.push_back({bundle.manifest.positionFile,
                                       "frame " + std::to_string(i / frames.vertices) + ", vertex " +
                                           std::to_string(i % frames.vertices) +
                                           " does not decode to a finite position",
                                       "write the bundle again"});
            return;
        }
        bounds.add(p);
    }
    const mesh::Bounds& said = bundle.manifest.bounds;
    const float slack = 0.01f * bounds.diagonal();
    if (glm::distance(bounds.min, said.min) > slack || glm::distance(bounds.max, said.max) > slack) {
        report.problems.push_back({bundle.manifest.name,
                                   "the decoded motion does not fill the bounds in the manifest",
                                   "the texture was changed, or its range; write the bundle again"});
    }
}

/// The manifest's clips as a plan for sampling the source at the very instants that were kept.
bake::SamplePlan planFromManifest(const Manifest& manifest, const source::FrameSource& source) {
    bake::Recipe recipe;
    recipe.fps = manifest.sourceFps;
    recipe.step = manifest.sourceStep;
    recipe.dropRepeated = manifest.textures.clips.front().closed;
    for (const bake::BakedClip& clip : manifest.textures.clips) {
        bake::ClipChoice choice{clip.name, std::nullopt};
        if (!clip.closed) {
            const double last = clip.sourceFrame + clip.sourceStep * static_cast<double>(clip.frames - 1);
            choice.window = {static_cast<std::size_t>(std::llround(clip.sourceFrame)),
                             static_cast<std::size_t>(std::llround(last))};
        }
        recipe.clips.push_back(choice);
    }
    bake::SamplePlan plan = bake::planSampling(source, recipe);
    for (std::size_t c = 0; c < plan.clips.size(); ++c) {
        const bake::BakedClip& clip = manifest.textures.clips[c];
        if (plan.clips[c].seconds.size() != clip.frames || plan.clips[c].closed != clip.closed) {
            base::fail("clip \"" + clip.name + "\"",
                       "the source gives " + base::plural(plan.clips[c].seconds.size(), "frame") +
                           ", the bundle has " + std::to_string(clip.frames),
                       "the source changed since the bake; bake it again");
        }
    }
    return plan;
}

/// What the store may lose at kept frames: its own bound as a distance, and float rounding of rest + offset.
double allowedError(const Bundle& bundle) {
    const bake::TextureSet& set = bundle.manifest.textures;
    bake::Range range = set.range;
    if (!set.positionStore.usesRange) {
        // Of stores without a range the bound depends on the largest value, which the bounds limit.
        const glm::vec3 size =
            glm::max(glm::abs(bundle.manifest.bounds.min), glm::abs(bundle.manifest.bounds.max));
        mesh::Bounds rest;
        rest.add(bundle.mesh.positions);
        const glm::vec3 own = glm::max(glm::abs(rest.min), glm::abs(rest.max));
        range.max = set.content == bake::Content::offset ? size + own : size;
        range.min = -range.max;
    }
    const float bound = glm::length(set.positionStore.errorBound(range));
    const glm::vec3 most =
        glm::max(glm::abs(bundle.manifest.bounds.min), glm::abs(bundle.manifest.bounds.max));
    return static_cast<double>(bound) + 8.0 * static_cast<double>(glm::length(most)) *
                                            static_cast<double>(std::numeric_limits<float>::epsilon());
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
    const bake::TextureReader reader = bundle.reader();
    report.error =
        bake::measureError(source, plan, nullptr, reader, bundle.manifest.textures.clips, progress);
    report.allowedAtFrames = allowedError(bundle);
    if (report.error->atFrames.max > report.allowedAtFrames) {
        report.problems.push_back(
            {bundle.manifest.positionFile,
             "is off by " + base::lengthText(report.error->atFrames.max) + " at kept frames (clip " +
                 report.error->worstClip + ", vertex " + std::to_string(report.error->worstVertex) +
                 "); its store loses at most " + base::lengthText(report.allowedAtFrames),
             "the source or the textures changed since the bake; bake again"});
    }
    const bake::NormalStore& normals = bundle.manifest.textures.normalStore;
    constexpr double kRounding = 0.05; // degrees: normals go through single precision on both ways
    const double allowed = static_cast<double>(normals.errorBoundDegrees) + kRounding;
    if (normals.stored() && report.error->normalAtFramesMaxDegrees > allowed) {
        report.problems.push_back({bundle.manifest.normalFile,
                                   "is off by " + base::degreesText(report.error->normalAtFramesMaxDegrees) +
                                       " at kept frames; its store loses at most " +
                                       base::degreesText(allowed),
                                   "the source or the textures changed since the bake; bake again"});
    }
}

} // namespace

CheckReport check(const std::filesystem::path& directory, const source::FrameSource* against,
                  const base::Progress& progress) {
    CheckReport report;
    try {
        const Manifest manifest = readManifest(directory);
        checkFiles(directory, manifest, report);
        const Bundle bundle = readBundle(directory, manifest);
        report.textureMemory = bundle.manifest.textures.textureMemory();
        const bake::TextureReader reader = bundle.reader();
        const bake::Frames frames = decodeAll(reader, bundle.manifest.textures.layout);
        checkValues(bundle, frames, report);
        for (const bake::BakedClip& clip : bundle.manifest.textures.clips) {
            report.clips.push_back(
                {clip.name, clip.frames, clip.closed, bake::seamGap(frames, clip.firstFrame, clip.frames)});
        }
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

source::Reading readingOf(const std::filesystem::path& directory) {
    try {
        return readManifest(directory).sourceReading;
    } catch (const base::Failure&) {
        return {}; // check() reports what is wrong with the manifest
    }
}

} // namespace ripple::bundle
