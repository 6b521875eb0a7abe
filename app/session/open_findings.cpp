// What is open in a session, in words, with what fixes it.

#include "app/session/bench_state.h"

#include "app/session/scatter_findings.h"
#include "app/session/words.h"

#include "base/units.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <QRegularExpression>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

/// In the window what the command's options do is done by a button, which comes along.
QString withoutOptions(const std::string& words) {
    static const QRegularExpression kOption(" \\(--[a-z-]+\\)");
    return text(words).remove(kOption);
}

/// With a capital at its start and, if wanted, a stop at its end.
QString sentence(const std::string& words, bool stop = true) {
    QString result = withoutOptions(words);
    if (!result.isEmpty()) {
        result[0] = result[0].toUpper();
    }
    return stop ? result + "." : result;
}

/// What is said of a source: on a line of the command the file's name stands before it.
QString ofSource(const std::string& words) {
    const QString result = withoutOptions(words);
    static const QRegularExpression kVerb("^(is|has|holds|names|needs|takes|says|was) ");
    return kVerb.match(result).hasMatch() ? Findings::tr("The source %1").arg(result)
                                          : sentence(words, false);
}

OpenFinding fromProblem(const QString& bench, const base::Problem& problem, const QString& title = {}) {
    return {Lamp::broken,
            bench,
            title.isEmpty() ? sentence(problem.what, false) : title,
            text(problem.where) + ": " + withoutOptions(problem.fix) + ".",
            {},
            {}};
}

void addSourceFindings(Session& session, std::vector<OpenFinding>& all) {
    const QString source = QFileInfo(text(session.document().source.path)).fileName();
    for (const inspect::Observation& one : session.observations()) {
        const base::Finding& finding = one.finding;
        const bool still =
            finding.id == "no-animation" || finding.id == "single-frame" || finding.id == "one-frame";
        if (still && session.performance()) {
            continue; // the score moves it
        }
        if (finding.id == "voice-not-baked" && session.document().ship.asCode) {
            continue; // what is shipped has it
        }
        OpenFinding open;
        open.lamp = finding.severity == base::Severity::note   ? Lamp::fine
                    : finding.severity == base::Severity::look ? Lamp::look
                                                               : Lamp::broken;
        open.bench = "gather";
        open.title = ofSource(finding.problem.what);
        // The file is named where it is not the source itself.
        const QString where = QFileInfo(text(finding.problem.where)).fileName();
        const bool other = where != source && finding.problem.where != session.source()->meshes()[0].name &&
                           !session.document().source.shape;
        open.words =
            other ? where + ": " + withoutOptions(finding.problem.fix) + "." : sentence(finding.problem.fix);
        for (const inspect::Fix& fix : one.fixes) {
            open.fixes.push_back({text(fix.label), [&session, fix] { session.applyFix(fix); }});
        }
        if (one.place || !one.vertices.empty()) {
            open.show = [&session, one] { session.showObservation(one); };
        }
        all.push_back(std::move(open));
    }
}

/// Fading is offered where there are frames before the start to fade into.
void addFade(Session& session, std::size_t clip, const bake::BakedClip& baked, OpenFinding& open) {
    const std::size_t fade = session.document().recipe.fadeFrames;
    const auto first = static_cast<std::size_t>(baked.sourceFrame);
    if (baked.sourceClosing == bake::Closing::fade || first < fade || baked.sourceFrames < 3 * fade) {
        return;
    }
    open.fixes.push_back(
        {Findings::tr("Cross-fade %n frame(s)", nullptr, static_cast<int>(fade)), [&session, clip] {
             session.edit(Findings::tr("Cross-fade the end into the start"), [&](project::Document& d) {
                 d.recipe.clips = bake::withClosing(*session.source(), d.recipe, clip, bake::Closing::fade);
             });
         }});
}

/// What brings the maximum error down, the surest first.
void addErrorFixes(Session& session, const bake::ErrorReport& error, OpenFinding& open) {
    const double tolerance = session.tolerance();
    const bake::Recipe& recipe = session.document().recipe;
    if (const auto ladder = session.ladder()) {
        if (const auto rung = bake::cheapest(*ladder, tolerance)) {
            open.fixes.push_back({Findings::tr("Use the cheapest within it"),
                                  [&session, best = ladder->rungs[*rung]] { session.takeRung(best); }});
        }
    }
    const bool between = error.betweenFrames.max > tolerance;
    if (between && recipe.step > 1) {
        open.fixes.push_back({Findings::tr("Keep every frame"), [&session] {
                                  session.edit(Findings::tr("Keep every frame"),
                                               [](project::Document& d) { d.recipe.step = 1; });
                              }});
    } else if (between && recipe.thin == 0.0 && !session.source()->clips()[0].isSequence()) {
        const double now = recipe.fps > 0.0 ? recipe.fps : session.source()->clips()[0].fps;
        open.fixes.push_back({Findings::tr("Sample at %1 / s").arg(2.0 * now), [&session, now] {
                                  session.edit(Findings::tr("Sample rate"),
                                               [now](project::Document& d) { d.recipe.fps = 2.0 * now; });
                              }});
    }
    // Rounded up to two figures.
    const double unit = std::pow(10.0, std::floor(std::log10(error.all.max)) - 1.0);
    const double allowed = std::ceil(error.all.max / unit) * unit;
    open.fixes.push_back({Findings::tr("Allow %1").arg(text(base::lengthText(allowed))), [&session, allowed] {
                              session.edit(Findings::tr("Tolerance"),
                                           [allowed](project::Document& d) { d.tolerance.length = allowed; });
                          }});
}

void addErrorFinding(Session& session, const bake::ErrorReport& error, std::vector<OpenFinding>& all) {
    OpenFinding open;
    open.lamp = Lamp::look;
    open.bench = "bake";
    open.title = Findings::tr("Maximum error %1, over the %2 tolerance")
                     .arg(text(base::lengthText(error.all.max)), text(base::lengthText(session.tolerance())));
    const QString at = text(base::lengthText(error.atFrames.max));
    open.words = error.betweenFrames.max > error.atFrames.max
                     ? Findings::tr("It arises between kept frames; at them it is %1.").arg(at)
                     : Findings::tr("It arises at kept frames: another position store is more precise.");
    addErrorFixes(session, error, open);
    open.show = [&session] { session.showWorst(); };
    all.push_back(std::move(open));
}

void addBakeFindings(Session& session, std::vector<OpenFinding>& all) {
    const BakeState& state = *session.bake();
    for (const base::Finding& finding : state.baked.findings) {
        // What blending misses is in the maximum error; within the tolerance it is as good as asked for.
        const bool good = finding.id == "too-quick-to-blend" && !session.overTolerance();
        const bool note = finding.severity == base::Severity::note || good;
        OpenFinding open;
        open.lamp = note ? Lamp::fine : Lamp::look;
        open.bench = "bake";
        open.title = Findings::tr("%1: %2").arg(sentence(finding.problem.where, false),
                                                withoutOptions(finding.problem.what));
        open.words = sentence(finding.problem.fix);
        all.push_back(open);
    }
    for (std::size_t c = 0; c < state.seams.size(); ++c) {
        const bake::BakedClip& clip = state.baked.textures.clips[c];
        const double step = state.seams[c].medianStep;
        // A gap within an ordinary step is not seen.
        const double gap = state.seams[c].gap;
        if (clip.length() < 3 || gap <= step) {
            continue;
        }
        const auto survey = session.survey();
        const std::size_t of = state.plan.clips[c].clip;
        const bool whole = clip.sourceStep == 1.0 && survey && of < survey->clips.size() &&
                           survey->clips[of].extent.frames == clip.length();
        if (whole && !clip.closed) {
            continue; // the Gather bench says so already
        }
        OpenFinding open;
        open.lamp = clip.closed || state.seams.size() == 1 ? Lamp::look : Lamp::fine;
        open.bench = "bake";
        open.title = state.seams.size() == 1
                         ? Findings::tr("The ends do not meet")
                         : Findings::tr("The ends of %1 do not meet").arg(text(clip.name));
        open.words = Findings::tr("From frame %1 to frame 0 there is a gap of %2, against steps of %3.")
                         .arg(clip.length() - 1)
                         .arg(text(base::lengthText(gap)), text(base::lengthText(step))) +
                     " " +
                     (clip.closed ? Findings::tr("The clip is played round all the same.")
                                  : Findings::tr("The clip plays once and stops at its last frame."));
        addFade(session, of, clip, open);
        all.push_back(open);
    }
    if (session.overTolerance()) {
        addErrorFinding(session, state.error, all);
    }
}

void addShipFindings(Session& session, std::vector<OpenFinding>& all) {
    if (session.shipProblem()) {
        all.push_back(fromProblem("ship", *session.shipProblem()));
    }
    if (const auto check = session.lastCheck()) {
        for (const base::Problem& problem : check->problems) {
            all.push_back(fromProblem("ship", problem));
        }
        if (check->ok() && check->error && !session.withinTolerance(*check->error)) {
            OpenFinding open;
            open.lamp = Lamp::look;
            open.bench = "ship";
            open.title = Findings::tr("The written files have a maximum error of %1, over the %2 tolerance")
                             .arg(text(base::lengthText(check->error->all.max)),
                                  text(base::lengthText(session.tolerance())));
            open.words = Findings::tr("Bake shows what brings it down; then write them again.");
            all.push_back(std::move(open));
        }
    }
}

/// Voices whose waves are too short for the mesh, with subdivision as the way out.
void addDensityFindings(Session& session, std::vector<OpenFinding>& all) {
    const auto performance = session.performance();
    const motion::Score& score = session.document().score;
    for (std::size_t i = 0; performance && i < std::min(score.voices.size(), session.densities().size());
         ++i) {
        const motion::Voice& voice = score.voices[i];
        const motion::Density& density = session.densities()[i];
        if (!motion::isHeard(score, voice) || !density.tooCoarse()) {
            continue;
        }
        OpenFinding open;
        open.lamp = Lamp::look;
        open.bench = "move";
        open.title = Findings::tr("%1 is finer than the mesh").arg(text(voice.name));
        open.words = Findings::tr("At worst a wave spans %1 edges; below 6 its crests become corners.")
                         .arg(1.0f / density.worst, 0, 'f', 1);
        const std::size_t now = session.document().source.reading.subdivisions;
        const std::size_t wanted = std::min(now + density.subdivisionsWanted(), source::kMostSubdivisions);
        if (wanted > now) {
            open.fixes.push_back({Findings::tr("Subdivide"), [&session, wanted] {
                                      session.edit(Findings::tr("Subdivide"), [wanted](project::Document& d) {
                                          d.source.reading.subdivisions = wanted;
                                      });
                                  }});
        }
        open.show = [&session, id = voice.id] {
            session.look([id](project::View& view) {
                view.voice = id;
                view.look = "density";
            });
        };
        all.push_back(std::move(open));
    }
}

/// Where the score folds or stretches the surface.
void addFoldFindings(Session& session, std::vector<OpenFinding>& all) {
    const auto& folds = session.folds();
    const auto add = [&](const QString& title, const QString& words, std::size_t vertex, double turn) {
        OpenFinding open;
        open.lamp = Lamp::look;
        open.bench = "move";
        open.title = title;
        open.words = words;
        open.show = [&session, vertex, turn] {
            session.playhead().setTurn(turn);
            session.pickVertex(static_cast<int>(vertex));
            session.look([](project::View& view) { view.look = "strain"; });
        };
        all.push_back(std::move(open));
    };
    if (folds && folds->folded()) {
        add(Findings::tr("The score folds the surface over itself"),
            counted(Findings::tr("%n triangle(s) face away from their normals, by up to %1° at turn %2. "
                                 "Push along a direction instead of the normal, make waves longer, or "
                                 "lower the amplitude.",
                                 nullptr, static_cast<int>(folds->triangles)),
                    folds->triangles)
                .arg(folds->normalOff, 0, 'f', 0)
                .arg(folds->turn, 0, 'f', 2),
            folds->vertex, folds->turn);
    } else if (folds && folds->stretchedMuch()) {
        add(Findings::tr("The score changes the length of edges by up to %1 %")
                .arg(100.0 * folds->stretch, 0, 'f', 0),
            Findings::tr("Textures and thin parts show it most at turn %1. A bend keeps lengths where a push "
                         "does not.")
                .arg(folds->stretchTurn, 0, 'f', 2),
            folds->stretched, folds->stretchTurn);
    }
}

/// What a person can allow a source that was not trusted with it.
void addTrustFixes(Session& session, const std::string& words, std::vector<OpenFix>& fixes) {
    if (words == source::kFollowOutsideFix) {
        fixes.push_back({Findings::tr("Read it too"), [&session] {
                             session.edit(Findings::tr("Read files outside the model's folder"),
                                          [](project::Document& d) { d.source.followOutside = true; });
                         }});
    }
    constexpr double kMore = 4.0;
    const auto allow = [&](const QString& label, const source::Trust& trust) {
        fixes.push_back({label, [&session, trust] {
                             session.setTrust(trust);
                             session.reloadSource();
                         }});
    };
    source::Trust trust = session.trust();
    if (words == source::kMoreMemoryFix) {
        trust.import.gigabytes *= kMore;
        allow(Findings::tr("Allow %1 GiB for it").arg(trust.import.gigabytes), trust);
    }
    if (words == source::kMoreTimeFix) {
        trust.import.seconds *= kMore;
        allow(Findings::tr("Allow %1 for it").arg(text(base::secondsText(trust.import.seconds))), trust);
    }
}

} // namespace

std::vector<OpenFinding> openFindings(Session& session) {
    std::vector<OpenFinding> all;
    if (session.sourceProblem()) {
        all.push_back(
            fromProblem("gather", *session.sourceProblem(), ofSource(session.sourceProblem()->what)));
        addTrustFixes(session, session.sourceProblem()->fix, all.back().fixes);
    }
    if (session.source()) {
        addSourceFindings(session, all);
    }
    if (session.scoreProblem()) {
        all.push_back(fromProblem("move", *session.scoreProblem()));
    }
    addDensityFindings(session, all);
    addFoldFindings(session, all);
    if (session.bakeProblem()) {
        all.push_back(fromProblem("bake", *session.bakeProblem()));
    }
    if (session.bake() && session.source()) {
        addBakeFindings(session, all);
    }
    if (session.bakeHeld()) {
        OpenFinding held;
        held.lamp = Lamp::look;
        held.bench = "bake";
        held.title = Findings::tr("The frames take %1 of memory: baked only when asked")
                         .arg(text(base::sizeText(session.bakeBytes())));
        held.words = Findings::tr("Choose a frame range, keep fewer frames, or bake it as it is.");
        held.fixes.push_back({Findings::tr("Bake it as it is"), [&session] { session.rebake(); }});
        all.push_back(std::move(held));
    }
    addScatterFindings(session, all);
    addShipFindings(session, all);
    std::stable_sort(all.begin(), all.end(), [](const OpenFinding& a, const OpenFinding& b) {
        return static_cast<int>(a.lamp) > static_cast<int>(b.lamp);
    });
    return all;
}

} // namespace ripple::app
