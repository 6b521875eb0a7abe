#include "cli/commands.h"
#include "cli/target.h"

#include "bake/kind.h"
#include "base/progress.h"
#include "base/units.h"
#include "bundle/write_bundle.h"
#include "inspect/survey.h"
#include "source/open.h"

#include <algorithm>
#include <iostream>
#include <limits>

#include <nlohmann/json.hpp>

namespace ripple::cli {

namespace {

void print(const bundle::Manifest& manifest, const std::string& out) {
    const bake::BakeFormat& set = manifest.textures;
    std::size_t bytes = 0;
    for (const bundle::FileEntry& file : manifest.files) {
        bytes += file.bytes;
    }
    std::cout << out << ": " << base::plural(set.frameCount(), "frame") << " of "
              << base::countText(manifest.vertices) << " vertices";
    if (set.kind->followsJoints) {
        std::cout << " by " << base::plural(set.joints.joints, "joint") << " as "
                  << (set.joints.matrix ? "matrices" : "place, scale and rotation") << ", "
                  << set.joints.layout.width << " × " << set.joints.layout.height() << " texels, "
                  << set.positionStore.name << ", " << set.joints.influences << " influences in "
                  << (set.joints.inUvs ? "UV sets" : base::plural(set.layout.columns, "column"));
    } else {
        std::cout << " in " << base::countText(set.layout.columns) << " " << set.kind->column << "s, "
                  << (set.kind->framesIn ? base::plural(set.layout.blocks, set.kind->block) + ", " : "")
                  << set.layout.width << " × " << set.layout.height() << " texels, "
                  << bake::name(set.content) << " " << set.positionStore.name << ", normals "
                  << set.normalStore.name;
    }
    std::cout << "\n"
              << "  " << base::sizeText(bytes) << " on disk, " << base::sizeText(set.textureMemory())
              << " texture memory\n"
              << "  maximum error " << base::lengthText(manifest.error.all.max) << " ("
              << base::lengthText(manifest.error.atFrames.max) << " at kept frames), of normals "
              << base::degreesText(manifest.error.normalMaxDegrees) << "\n";
}

/// Of each clip the stretch whose seam shows least.
void chooseWindows(const source::FrameSource& source, bake::Recipe& recipe) {
    base::Progress progress(progressBar("looping"));
    const auto survey = inspect::survey(source, recipe, progress);
    for (std::size_t c = 0; c < survey->clips.size(); ++c) {
        const auto& clip = survey->clips[c];
        const std::string& name = source.clips()[c].name;
        const bool wanted = recipe.clips.empty() ||
                            std::any_of(recipe.clips.begin(), recipe.clips.end(),
                                        [&](const bake::ClipChoice& choice) { return choice.name == name; });
        if (!wanted || clip.extent.closed) {
            continue;
        }
        if (clip.windows.empty()) {
            base::fail("clip \"" + name + "\"", "has no stretch that could loop",
                       "close it with a fade, or leave it as it is");
        }
        const inspect::LoopWindow& best = clip.windows.front().window;
        recipe.clips = bake::withLoop(source, recipe, c, {best.first, best.last});
    }
}

/// The cheapest way to store that stays within the tolerance.
void chooseRung(const source::FrameSource& source, const BakeCall& call, bake::Recipe& recipe) {
    const base::Progress quiet;
    const auto ladder = bake::climbLadder(source, recipe, call.freedom, quiet);
    const double tolerance = call.tolerance->metres(bake::assetSize(source.mesh()));
    const auto rung = bake::cheapest(*ladder, tolerance);
    if (!rung) {
        double best = std::numeric_limits<double>::infinity();
        std::string label = "none is possible";
        for (const bake::Rung& each : ladder->rungs) {
            if (each.error < best) {
                best = each.error;
                label = each.label() + ", has a maximum error of " + base::lengthText(best);
            }
        }
        base::fail("--tolerance",
                   "no way to store stays within " + base::lengthText(tolerance) + "; the best, " + label,
                   "allow a larger error, sample at a higher rate, or leave more of the choice open");
    }
    recipe = ladder->rungs[*rung].recipe;
    std::cerr << "chosen: " << ladder->rungs[*rung].label() << ", "
              << base::sizeText(ladder->rungs[*rung].memory) << ", maximum error "
              << base::lengthText(ladder->rungs[*rung].error) << "\n";
}

} // namespace

Status bakeSource(const BakeCall& call) {
    const bundle::Target target = targetOf(call.target);
    base::Progress reading(progressBar("reading"));
    // The bake takes frame after frame: a large cache would only hold what is not asked for again.
    constexpr std::size_t kCacheBytes = std::size_t{32} << 20;
    const auto opened = source::open(call.source, call.reading, reading, kCacheBytes, call.trust);
    bundle::Origin origin{call.reading, nullptr, false};
    readScore(call.score, opened->mesh(), origin);
    const auto source = moved(opened, origin);
    bake::Recipe recipe = target.fitted(call.recipe);
    if (call.window && recipe.clips.empty()) {
        for (const source::Clip& clip : source->clips()) {
            recipe.clips.push_back({clip.name, call.window, std::nullopt});
        }
    }
    if (call.bestWindow && !call.window) {
        chooseWindows(*source, recipe);
    }
    if (call.tolerance) {
        chooseRung(*source, call, recipe);
    }
    base::Progress baking(progressBar("baking "));
    const bundle::Manifest manifest =
        bundle::writeBundle(*source, recipe, origin, call.out, baking, {target, call.page, call.levels});
    for (const base::Finding& finding : source->findings()) {
        if (finding.severity ==
            base::Severity::look) { // what is left out of a bake, or wrong in what it reads
            std::cerr << "look: " << finding.problem.line() << "\n";
        }
    }
    for (const base::Finding& finding : manifest.findings) {
        std::cerr << (finding.severity == base::Severity::look ? "look: " : "note: ")
                  << finding.problem.line() << "\n";
    }
    if (call.json) {
        std::cout << bundle::manifestText(manifest);
    } else {
        print(manifest, call.out);
    }
    return kDone;
}

} // namespace ripple::cli
