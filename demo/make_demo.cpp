#include "bake/kind.h"
#include "demo/crowds.h"
#include "demo/make_demo.h"

#include "base/problem.h"
#include "base/progress.h"
#include "bundle/score_bundle.h"
#include "motion/parameter.h"
#include "motion/ready_scores.h"
#include "project/document.h"
#include "source/open.h"

namespace ripple::demo {

namespace {

constexpr std::size_t kAwningFrames = 120;
constexpr std::size_t kCratesFrames = 90;

void writeProject(const std::filesystem::path& folder, const std::string& source, const std::string& name,
                  const bake::Recipe& recipe) {
    project::Document document;
    document.source.path = (std::filesystem::absolute(folder) / source).lexically_normal().string();
    document.recipe = recipe;
    document.view.bench = "bake";
    project::saveDocument(document, folder / (name + ".curly"));
}

/// A model with the score that it is there for.
void writeMoving(const std::filesystem::path& folder, const std::string& name, const std::string& ready) {
    project::Document document;
    const std::filesystem::path file =
        (std::filesystem::absolute(folder) / (name + ".glb")).lexically_normal();
    document.source.path = file.string();
    const auto source = source::open(file);
    for (const motion::ReadyScore& row : motion::readyScores()) {
        if (row.id == ready) {
            document.score = motion::makeReady(row, source->mesh());
        }
    }
    document.recipe.positionStore = "unorm16";
    document.view.bench = "move";
    project::saveDocument(document, folder / (name + ".curly"));
}

/// Each ready-made score as code on the model that it is made for, with the wind's strength and heading as
/// parameters, in all languages.
void writeScores(const std::filesystem::path& folder, const base::Progress& progress) {
    for (const motion::ReadyScore& ready : motion::readyScores()) {
        progress.checkpoint();
        const std::string model = ready.demoModel;
        const auto source = source::open(folder / (model == "awning" ? "awning_0000.obj" : model + ".glb"));
        motion::Score score = motion::makeReady(ready, source->mesh());
        for (const char* field : {"strength", "heading"}) {
            score.parameters.push_back(motion::parameterOf(score, *motion::adjustableAt(score, 0, field)));
        }
        bundle::Origin origin;
        origin.score = std::make_shared<motion::Score>(std::move(score));
        base::Progress own; // its stages are not those of the whole
        bundle::writeScoreBundle(*source, origin, folder / "scores" / ready.id, {}, own);
    }
}

} // namespace

void makeDemo(const std::filesystem::path& folder, base::Progress& progress) {
    if (folder.empty()) {
        base::fail("the demo's folder", "is not named", "name a folder that may be written to");
    }
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    if (error) {
        base::fail(folder.string(), "cannot be made (" + error.message() + ")",
                   "choose a folder that may be written to");
    }
    progress.stage(0.0, 0.6);
    makeAwning(folder, kAwningFrames, progress);
    progress.stage(0.6, 0.9);
    makeCrates(folder, kCratesFrames, progress);
    progress.stage(0.9, 1.0);
    makeHeron(folder / "heron.glb");
    makeBulrush(folder / "bulrush.glb");
    makeWindsock(folder / "windsock.glb");
    makeSwell(folder / "swell.glb");
    makeSkate(folder / "skate.glb");
    makeGull(folder / "gull.glb");
    makeAnemone(folder / "anemone.glb");
    makeLantern(folder / "lantern.glb");
    makeCrab(folder / "crab.glb");
    makeFender(folder / "fender.glb");
    makeBunting(folder / "bunting.glb");
    for (const auto& [name, ready] :
         {std::pair("bulrush", "stalk"), std::pair("windsock", "tube"), std::pair("swell", "choppy"),
          std::pair("skate", "wings"), std::pair("gull", "beat"), std::pair("anemone", "breath"),
          std::pair("lantern", "lantern")}) {
        writeMoving(folder, name, ready);
    }

    bake::Recipe awning;
    awning.positionStore = "unorm16";
    awning.closing = bake::Closing::fade; // its end and its start are far apart
    writeProject(folder, "awning_####.obj", "awning", awning);
    bake::Recipe heron;
    heron.content = bake::Content::absolute;
    heron.positionStore = "half";
    writeProject(folder, "heron.glb", "heron", heron);
    bake::Recipe crates;
    crates.kind = &bake::kPieces;
    crates.positionStore = "unorm16";
    writeProject(folder, "crates.pc2", "crates", crates);
    bake::Recipe fender;
    fender.positionStore = "unorm16";
    writeProject(folder, "fender.glb", "fender", fender);
    writeCrowds(folder);
    std::filesystem::create_directories(folder / "scores", error);
    writeScores(folder, progress);
    progress.report(1.0);
}

} // namespace ripple::demo
