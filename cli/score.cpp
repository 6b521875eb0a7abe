#include "cli/commands.h"
#include "cli/target.h"

#include "base/files.h"
#include "base/unfinished.h"
#include "base/problem.h"
#include "base/progress.h"
#include "base/units.h"
#include "bundle/score_bundle.h"
#include "emit/score_code.h"
#include "motion/loop_bounds.h"
#include "motion/ready_scores.h"
#include "motion/perform.h"
#include "motion/score_file.h"
#include "motion/score_source.h"
#include "source/open.h"

#include <algorithm>
#include <iostream>

namespace ripple::cli {

namespace {

motion::Score scoreOf(const ScoreCall& call, const mesh::Mesh& mesh) {
    std::string known;
    for (const motion::ReadyScore& ready : motion::readyScores()) {
        if (call.name == ready.id) {
            return motion::makeReady(ready, mesh);
        }
        known += (known.empty() ? "" : ", ") + std::string(ready.id);
    }
    if (!base::exists(call.name)) {
        base::fail("score \"" + call.name + "\"", "is no file and no ready-made score",
                   "name a .score file, or one of: " + known);
    }
    return motion::loadScore(call.name);
}

} // namespace

void readScore(const ScoreCall& score, const mesh::Mesh& mesh, bundle::Origin& origin) {
    if (!score.name.empty()) {
        origin.score = std::make_shared<motion::Score>(scoreOf(score, mesh));
        origin.scoreOnTop = score.onTop;
    }
}

std::shared_ptr<const source::FrameSource> moved(std::shared_ptr<const source::FrameSource> source,
                                                 const bundle::Origin& origin) {
    if (!origin.score) {
        return source;
    }
    return motion::playScore(std::move(source), *origin.score,
                             origin.scoreOnTop ? motion::Play::onTop : motion::Play::alone);
}

namespace {

/// A bundle without textures, in a folder.
Status scoreBundle(const source::FrameSource& source, const source::Reading& reading,
                   const motion::Score& score, const CodeCall& call, const std::string& out) {
    bundle::Origin origin;
    origin.reading = reading;
    origin.score = std::make_shared<motion::Score>(score);
    bundle::ScoreChoices choices;
    choices.sine = call.exactSine ? emit::Sine::exact : emit::Sine::own;
    choices.storeMasks = call.storeMasks;
    if (!call.copySizes.empty()) {
        const auto [least, most] = std::ranges::minmax(call.copySizes);
        choices.copySizes = {least, most};
    }
    choices.page = call.page;
    choices.target = targetOf(call.target);
    if (call.halfWithin) {
        choices.halfWithin = call.halfWithin->metres(bake::assetSize(source.mesh()));
    }
    if (!call.languages.empty()) {
        choices.languages.clear();
        for (const std::string& language : call.languages) {
            choices.languages.push_back(emit::dialectByName(language));
        }
    }
    base::Progress progress(progressBar("writing"));
    const bundle::ScoreManifest manifest = bundle::writeScoreBundle(source, origin, out, choices, progress);
    std::cout << out << ": " << base::plural(manifest.files.size() + 1, "file") << ", "
              << base::plural(manifest.parameters.size(), "parameter") << ", "
              << base::plural(manifest.inputs.size(), "input") << "\n";
    return kDone;
}

} // namespace

Status score(const std::string& path, const source::Reading& reading, const source::Trust& trust,
             const ScoreCall& call, const CodeCall& code, const std::string& out) {
    const auto source = source::open(path, reading, {}, source::kFrameCacheBytes, trust);
    const motion::Score score = scoreOf(call, source->mesh());
    const std::string ending = base::extensionOf(out);
    const emit::Dialect* dialect = ending.empty() ? nullptr : emit::dialectByName(ending.substr(1));
    if (!out.empty() && ending != ".score" && !dialect) {
        return scoreBundle(*source, reading, score, code, out);
    }
    if (!code.languages.empty()) {
        if (code.languages.size() > 1 || (dialect && dialect->id() != code.languages[0])) {
            base::fail(
                out.empty() ? "standard output" : out,
                "is to hold code in " + std::to_string(code.languages.size()) +
                    (code.languages.size() > 1 ? " languages" : " language, and its ending says another"),
                "name one language, or a folder for a bundle");
        }
        dialect = emit::dialectByName(code.languages[0]);
    }
    // Also where only its text is wanted: it must fit the model.
    const motion::Performance performance(score, source->mesh());
    const std::string text =
        dialect ? emit::scoreCode(*dialect, score.name, performance.composition(),
                                  {.bounds = motion::boundsOfLoop(performance),
                                   .sine = code.exactSine ? emit::Sine::exact : emit::Sine::own,
                                   .loopSeconds = score.loopSeconds})
                      .code
                : motion::scoreText(score);
    if (out.empty()) {
        std::cout << text;
    } else {
        base::replaceFile(out, text);
    }
    return kDone;
}

} // namespace ripple::cli
