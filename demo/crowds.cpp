#include "demo/crowds.h"

#include "bake/kind.h"
#include "motion/parameter.h"
#include "motion/ready_scores.h"
#include "project/document.h"
#include "source/open.h"

namespace ripple::demo {

namespace {

std::string sourceIn(const std::filesystem::path& folder, const std::string& file) {
    return (std::filesystem::absolute(folder) / file).lexically_normal().string();
}

project::Document onScatter(const std::filesystem::path& folder, const std::string& file) {
    project::Document document;
    document.source.path = sourceIn(folder, file);
    document.view.bench = "scatter";
    document.recipe.positionStore = "unorm16";
    document.scatter.placement.pattern = "even";
    document.scatter.differences.leastSize = 0.85f;
    document.scatter.differences.mostSize = 1.15f;
    return document;
}

motion::Score readyScore(const std::string& id, const mesh::Mesh& mesh) {
    for (const motion::ReadyScore& row : motion::readyScores()) {
        if (row.id == id) {
            return motion::makeReady(row, mesh);
        }
    }
    return {};
}

project::Document herons(const std::filesystem::path& folder) {
    project::Document document = onScatter(folder, "heron.glb");
    document.recipe = bake::withKind(document.recipe, bake::kJoints);
    scatter::Choices& choices = document.scatter;
    choices.placement.count = 120;
    choices.placement.size = {14.0f, 3.0f, 14.0f};
    choices.differences.rateSpread = 0.08f;
    choices.travel = scatter::Travel::wander;
    choices.mix = {{"stroll", 0.62}, {"peck", 0.23}, {"preen", 0.15}};
    choices.fade = 0.4;
    choices.tints = {glm::vec3(1.0f), glm::vec3(0.86f, 0.87f, 0.92f)};
    choices.levels = 2;
    choices.farRate = 15.0;
    return document;
}

project::Document crabs(const std::filesystem::path& folder) {
    project::Document document = onScatter(folder, "crab.glb");
    document.recipe = bake::withKind(document.recipe, bake::kJoints);
    scatter::Choices& choices = document.scatter;
    choices.placement.count = 2000;
    choices.placement.size = {22.0f, 2.0f, 22.0f};
    choices.differences.leastSize = 0.7f;
    choices.differences.mostSize = 1.4f;
    choices.travel = scatter::Travel::gaits;
    choices.mix = {{"walk", 0.5}, {"run", 0.2}, {"wait", 0.3}};
    choices.tints = {glm::vec3(1.0f), glm::vec3(0.80f, 0.86f, 0.72f)};
    choices.levels = 1;
    return document;
}

project::Document bulrushes(const std::filesystem::path& folder) {
    project::Document document = onScatter(folder, "bulrush.glb");
    const auto source = source::open(document.source.path);
    motion::Score& score = document.score;
    score = readyScore("stalk", source->mesh());
    score.name = "Gust over the reeds";
    score.words = "A gust runs over the bed, and stems make way for a ball.";
    // The first voice leans with the gust, which comes from place to place.
    score.voices[0].copyPhase = {motion::PhaseKind::world, 1.0, {1.0f, 0.0f, 0.25f}, 7.0, {}};
    score.voices[0].degrees = 20.0;
    motion::Voice aside = score.voices[0];
    aside.id = 0;
    aside.name = "Make way";
    aside.copyPhase = {};
    aside.push.kind = motion::PushKind::aside;
    aside.push.reach = 1.3;
    aside.degrees = 62.0;
    score.voices.push_back(aside);
    motion::giveIds(score);
    score.parameters.push_back(motion::parameterOf(score, *motion::adjustableAt(score, 0, "heading")));
    motion::settleParameters(score);
    scatter::Choices& choices = document.scatter;
    choices.placement.count = 150;
    choices.placement.size = {14.0f, 3.0f, 14.0f};
    choices.differences.leastSize = 0.8f;
    choices.differences.mostSize = 1.25f;
    choices.differences.startSpread = 0.0f; // the gust tells copies apart
    choices.ground = "uneven";
    choices.tints = {glm::vec3(1.0f), glm::vec3(0.92f, 0.88f, 0.66f)};
    choices.ball = true;
    return document;
}

project::Document gulls(const std::filesystem::path& folder) {
    project::Document document = onScatter(folder, "gull.glb");
    const auto source = source::open(document.source.path);
    document.score = readyScore("beat", source->mesh());
    scatter::Choices& choices = document.scatter;
    choices.placement.pattern = "volume";
    choices.placement.count = 70;
    choices.placement.size = {26.0f, 9.0f, 26.0f};
    choices.travel = scatter::Travel::fly;
    choices.speed = 6.0;
    choices.differences.rateSpread = 0.2f;
    return document;
}

project::Document bunting(const std::filesystem::path& folder) {
    project::Document document = onScatter(folder, "bunting.glb");
    constexpr float kRope = 2.2f; // metres up
    constexpr double kLong = 0.46;
    motion::Score& score = document.score;
    score.name = "Bunting";
    score.words = "Pennants swing from the rope, turn in the wind, and flutter.";
    score.loopSeconds = 4.0;
    motion::Voice swing;
    swing.name = "Swing";
    swing.course.kind = motion::CourseKind::unison;
    swing.push.kind = motion::PushKind::bend;
    swing.push.direction = {1.0f, 0.0f, 0.0f};
    swing.push.length = {0.0f, -1.0f, 0.0f};
    swing.push.point = {0.0f, kRope, 0.0f};
    swing.push.span = {kLong, false};
    swing.degrees = 22.0;
    swing.turns = 2;
    swing.copyPhase.kind = motion::PhaseKind::id;
    motion::Voice spin = swing; // about the same place
    spin.name = "Spin";
    spin.push.kind = motion::PushKind::twist;
    spin.push.direction = {0.0f, -1.0f, 0.0f};
    spin.degrees = 40.0;
    spin.turns = 1;
    motion::Voice flutter;
    flutter.name = "Flutter";
    flutter.course.direction = {0.4f, -1.0f, 0.0f};
    flutter.wavelength = {0.3, false};
    flutter.push.kind = motion::PushKind::normal;
    flutter.amplitude = {0.022, false};
    flutter.turns = 5;
    flutter.copyPhase.kind = motion::PhaseKind::id;
    motion::MaskTerm held;
    held.direction = {0.0f, -1.0f, 0.0f};
    held.point = {0.0f, kRope, 0.0f};
    held.low = 0.02;
    held.high = kLong;
    flutter.heldBy = {held};
    score.voices = {swing, spin, flutter};
    motion::giveIds(score);
    scatter::Choices& choices = document.scatter;
    choices.placement.pattern = "grid";
    choices.placement.count = 72; // three strings of 24
    choices.placement.size = {9.6f, 3.0f, 1.2f};
    choices.differences = {};
    choices.differences.turnSpread = 0.0f;
    choices.differences.startSpread = 0.0f;
    choices.merged = true;
    choices.keeps = scatter::Keeps::uvs;
    return document;
}

} // namespace

void writeCrowds(const std::filesystem::path& folder) {
    project::saveDocument(herons(folder), folder / "herons.curly");
    project::saveDocument(crabs(folder), folder / "crabs.curly");
    project::saveDocument(bulrushes(folder), folder / "bulrushes.curly");
    project::saveDocument(gulls(folder), folder / "gulls.curly");
    project::saveDocument(bunting(folder), folder / "bunting.curly");
}

} // namespace ripple::demo
