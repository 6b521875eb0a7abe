#include "app/session/bench_state.h"
#include "app/session/words.h"

#include "base/units.h"

#include <QFileInfo>

#include <algorithm>

namespace ripple::app {

const BenchRow& benchOf(const project::View& view) {
    return kBenches[static_cast<std::size_t>(benchIndex(view.bench))];
}

QString benchName(std::size_t index) {
    return Findings::tr(kBenches[index].name);
}

int benchIndex(const std::string& id) {
    for (std::size_t i = 0; i < kBenches.size(); ++i) {
        if (id == kBenches[i].id) {
            return static_cast<int>(i);
        }
    }
    return 0;
}

namespace {

BenchState gatherState(Session& session) {
    if (session.sourceProblem()) {
        return {Lamp::broken, Findings::tr("can't be read")};
    }
    const auto source = session.source();
    if (!source) {
        return {Lamp::untouched,
                session.sourceJob().running() ? Findings::tr("reading…") : Findings::tr("nothing open")};
    }
    const auto clips = source->clips();
    const QString what = session.document().source.shape ? Findings::tr("test shape")
                         : clips.size() == 1 && clips[0].isSequence()
                             ? Findings::tr("%n frame(s)", nullptr, static_cast<int>(clips[0].frames))
                             : Findings::tr("%n clip(s)", nullptr, static_cast<int>(clips.size()));
    const auto survey = session.survey();
    const bool reading = session.surveyJob().running() && survey && survey->framesTotal > 1;
    const QString progress =
        reading ? Findings::tr("reading %1 %").arg(100 * survey->framesRead / survey->framesTotal) : what;
    return {Lamp::fine,
            counted(Findings::tr("%n\nvertices", nullptr, static_cast<int>(source->mesh().vertexCount())),
                    source->mesh().vertexCount()) +
                "\n" + progress};
}

BenchState bakeState(Session& session) {
    if (session.bakeProblem()) {
        return {Lamp::broken, Findings::tr("can't be baked")};
    }
    const auto bake = session.bake();
    if (!bake) {
        const bool held = session.bakeHeld();
        return {held ? Lamp::look : Lamp::untouched, session.bakeJob().running() ? Findings::tr("baking…")
                                                     : held ? Findings::tr("large: baked\nwhen asked")
                                                            : Findings::tr("not baked yet")};
    }
    const QString memory = text(base::sizeText(bake->baked.textures.textureMemory()));
    const QString error = text(base::lengthText(bake->error.all.max));
    if (session.overTolerance()) {
        return {Lamp::look, Findings::tr("%1\nmax error\n%2\n> %3")
                                .arg(memory, error, text(base::lengthText(session.tolerance())))};
    }
    return {Lamp::fine, Findings::tr("%1\nmax error\n%2").arg(memory, error)};
}

BenchState moveState(Session& session) {
    if (session.scoreProblem()) {
        return {Lamp::broken, Findings::tr("does not\nplay")};
    }
    const std::size_t voices = session.document().score.voices.size();
    if (voices == 0) {
        return {Lamp::untouched, Findings::tr("no voices")};
    }
    return {Lamp::fine, Findings::tr("%n voice(s),\nloop closes", nullptr, static_cast<int>(voices))};
}

BenchState shipState(Session& session) {
    if (session.shipProblem()) {
        return {Lamp::broken, Findings::tr("not written")};
    }
    if (const auto check = session.lastCheck()) {
        return {check->ok() ? Lamp::fine : Lamp::broken,
                check->ok() ? Findings::tr("written,\nchecked") : Findings::tr("check failed")};
    }
    if (session.changedSinceWritten()) {
        return {Lamp::look, Findings::tr("written,\nthen changed")};
    }
    return {Lamp::untouched, Findings::tr("nothing\nwritten")};
}

BenchState scatterState(Session& session) {
    if (session.scatterProblem()) {
        return {Lamp::broken, Findings::tr("can't be\nscattered")};
    }
    const auto state = session.scatter();
    if (!state) {
        return {Lamp::untouched, session.scatterJob().running() ? Findings::tr("scattering…")
                                                                : Findings::tr("not looked\nat yet")};
    }
    const std::size_t count = state->placed.copies.size();
    QString line = counted(Findings::tr("%n\ncopies", nullptr, static_cast<int>(count)), count);
    if (!state->measured.levels.empty()) {
        const auto levels = static_cast<int>(1 + state->measured.levels.size());
        line += "\n" + Findings::tr("%n level(s)\nof detail", nullptr, levels);
    } else if (state->choices.merged) {
        line += "\n" + Findings::tr("merged");
    }
    return {Lamp::fine, line};
}

} // namespace

const std::array<BenchRow, kBenchCount> kBenches = {
    {{"gather", QT_TRANSLATE_NOOP("Findings", "Gather"), &gatherState, Curtain::compared},
     {"bake", QT_TRANSLATE_NOOP("Findings", "Bake"), &bakeState, Curtain::decoded},
     {"move", QT_TRANSLATE_NOOP("Findings", "Move"), &moveState, Curtain::none, true},
     {"scatter", QT_TRANSLATE_NOOP("Findings", "Scatter"), &scatterState, Curtain::none, false, false, true},
     {"ship", QT_TRANSLATE_NOOP("Findings", "Ship"), &shipState, Curtain::decoded, false, true}}};

bool showsCode(const project::Document& document) {
    const BenchRow& bench = benchOf(document.view);
    const bool code = document.ship.asCode && !document.scoreOnTop && !document.score.voices.empty();
    return bench.voices || (bench.ships && code);
}

std::array<BenchState, kBenchCount> benchStates(Session& session) {
    std::array<BenchState, kBenchCount> states;
    for (std::size_t b = 0; b < kBenches.size(); ++b) {
        states[b] = kBenches[b].state(session);
    }
    for (const OpenFinding& finding : openFindings(session)) {
        BenchState& state = states[static_cast<std::size_t>(benchIndex(finding.bench.toStdString()))];
        if (state.lamp == Lamp::fine && finding.lamp == Lamp::look) {
            state.lamp = Lamp::look;
        }
    }
    return states;
}

} // namespace ripple::app
