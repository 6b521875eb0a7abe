#include "cli/commands.h"

#include "base/files.h"
#include "base/problem.h"
#include "emit/glsl_score.h"
#include "motion/ready_scores.h"
#include "motion/perform.h"
#include "motion/score_file.h"
#include "motion/score_source.h"
#include "source/open.h"

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
    if (!std::filesystem::exists(call.name)) {
        base::fail("score \"" + call.name + "\"", "is no file and no ready-made score",
                   "name a .score file, or one of: " + known);
    }
    return motion::loadScore(call.name);
}

} // namespace

std::shared_ptr<const source::FrameSource> moved(std::shared_ptr<const source::FrameSource> source,
                                                 const ScoreCall& score) {
    if (score.name.empty()) {
        return source;
    }
    const motion::Score read = scoreOf(score, source->mesh());
    return motion::playScore(std::move(source), read,
                             score.onTop ? motion::Play::onTop : motion::Play::alone);
}

Status score(const std::string& path, const source::Reading& reading, const ScoreCall& call, bool code,
             const std::string& out) {
    const auto source = source::open(path, reading, {});
    const motion::Score score = scoreOf(call, source->mesh());
    // Also where only its text is wanted: it must fit the model.
    const motion::Performance performance(score, source->mesh());
    const std::string text = code ? emit::glslScore(score.name, performance.composition(),
                                                    emit::Numbers::written, motion::boundsOfLoop(performance))
                                        .code
                                  : motion::scoreText(score);
    if (out.empty()) {
        std::cout << text;
    } else {
        base::writeFile(out, text);
    }
    return kDone;
}

} // namespace ripple::cli
