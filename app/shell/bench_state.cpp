#include "app/shell/bench_state.h"
#include "app/shell/words.h"

#include "base/units.h"

#include <QFileInfo>
#include <QRegularExpression>

#include <algorithm>
#include <cmath>

namespace ripple::app {

const std::array<BenchInfo, 5> kBenches = {
    {{"gather", "Gather"}, {"bake", "Bake"}, {"move", "Move"}, {"scatter", "Scatter"}, {"ship", "Ship"}}};

int benchIndex(const std::string& id) {
    for (std::size_t i = 0; i < kBenches.size(); ++i) {
        if (id == kBenches[i].id) {
            return static_cast<int>(i);
        }
    }
    return 0;
}

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

OpenFinding fromProblem(const QString& bench, const base::Problem& problem) {
    return {Lamp::broken,
            bench,
            sentence(problem.what, false),
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
        OpenFinding open;
        open.lamp = finding.severity == base::Severity::note   ? Lamp::fine
                    : finding.severity == base::Severity::look ? Lamp::look
                                                               : Lamp::broken;
        open.bench = "gather";
        open.title = sentence(finding.problem.what, false);
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

/// "2nd", "3rd", "4th", …
QString ordinal(std::size_t number) {
    const std::size_t tens = number % 100;
    const char* ending = tens > 10 && tens < 14 ? "th"
                         : number % 10 == 1     ? "st"
                         : number % 10 == 2     ? "nd"
                         : number % 10 == 3     ? "rd"
                                                : "th";
    return QString::number(number) + ending;
}

/// Fading is offered where there are frames before the start to fade into.
void addFade(Session& session, std::size_t clip, const bake::BakedClip& baked, OpenFinding& open) {
    const std::size_t fade = session.document().recipe.fadeFrames;
    const auto first = static_cast<std::size_t>(baked.sourceFrame);
    if (baked.sourceClosing == bake::Closing::fade || first < fade || baked.sourceFrames < 3 * fade) {
        return;
    }
    open.fixes.push_back({QString("Fade %1 frames").arg(fade), [&session, clip] {
                              session.edit("Fade the end into the start", [&](project::Document& d) {
                                  d.recipe.clips = bake::withClosing(*session.source(), d.recipe, clip,
                                                                     bake::Closing::fade);
                              });
                          }});
}

void addBakeFindings(Session& session, std::vector<OpenFinding>& all) {
    const BakeState& state = *session.bake();
    for (const base::Finding& finding : state.baked.findings) {
        OpenFinding open{finding.severity == base::Severity::note ? Lamp::fine : Lamp::look,
                         "bake",
                         sentence(finding.problem.what, false),
                         sentence(finding.problem.fix),
                         {},
                         {}};
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
        open.title = QString("The kept ends of %1 do not meet").arg(text(clip.name));
        open.words = QString("Frame %1 to frame 0 is a gap of %2; ordinary steps are %3. %4")
                         .arg(clip.length() - 1)
                         .arg(text(base::lengthText(gap)), text(base::lengthText(step)),
                              clip.closed ? "It is played round all the same."
                                          : "It plays once and stops at its last frame.");
        addFade(session, of, clip, open);
        all.push_back(open);
    }
    const bake::ErrorReport& error = state.error;
    const double between = error.betweenFrames.max;
    const std::size_t step = session.document().recipe.step;
    if (step > 1 && error.diagonal > 0.0 && between > 0.01 * error.diagonal) {
        OpenFinding open;
        open.lamp = Lamp::look;
        open.bench = "bake";
        open.title = QString("Keeping every %1 frame cuts corners").arg(ordinal(step));
        open.words = QString("Between kept frames the motion is off by up to %1, against %2 at them.")
                         .arg(text(base::lengthText(between)), text(base::lengthText(error.atFrames.max)));
        const std::size_t less = step / 2 ? step / 2 : 1;
        open.fixes.push_back(
            {less == 1 ? QString("Keep every frame") : QString("Keep every %1").arg(ordinal(less)),
             [&session, less] {
                 session.edit("Keep more frames", [less](project::Document& d) { d.recipe.step = less; });
             }});
        all.push_back(open);
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
    }
}

BenchState gatherState(Session& session) {
    if (session.sourceProblem()) {
        return {Lamp::broken, "can't be read"};
    }
    const auto source = session.source();
    if (!source) {
        return {Lamp::untouched, session.sourceJob().running() ? "reading…" : "nothing open"};
    }
    const auto clips = source->clips();
    const QString what = session.document().source.shape ? QString("test shape")
                         : clips.size() == 1 && clips[0].isSequence()
                             ? text(base::plural(clips[0].frames, "frame"))
                             : text(base::plural(clips.size(), "clip"));
    const auto survey = session.survey();
    const bool reading = session.surveyJob().running() && survey && survey->framesTotal > 1;
    return {
        Lamp::fine,
        text(base::countText(source->mesh().vertexCount())) + "\nvertices\n" +
            (reading ? QString("reading %1 %").arg(100 * survey->framesRead / survey->framesTotal) : what)};
}

BenchState bakeState(Session& session) {
    if (session.bakeProblem()) {
        return {Lamp::broken, "can't be baked"};
    }
    const auto bake = session.bake();
    if (!bake) {
        return {session.bakeHeld() ? Lamp::look : Lamp::untouched, session.bakeJob().running() ? "baking…"
                                                                   : session.bakeHeld() ? "large: when\nasked"
                                                                                        : "not yet"};
    }
    return {Lamp::fine, text(base::sizeText(bake->baked.textures.textureMemory())) + "\n" +
                            text(base::lengthText(bake->error.all.max)) + "\noff at most"};
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
        open.title = QString("%1 is finer than the mesh").arg(text(voice.name));
        open.words = QString("A wave has %1 edges at worst; below 6 its crests become corners.")
                         .arg(1.0f / density.worst, 0, 'f', 1);
        const std::size_t now = session.document().source.reading.subdivisions;
        const std::size_t wanted = std::min(now + density.subdivisionsWanted(), source::kMostSubdivisions);
        if (wanted > now) {
            open.fixes.push_back({"Subdivide", [&session, wanted] {
                                      session.edit("Subdivide", [wanted](project::Document& d) {
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
        add(QString("The score folds the surface over itself"),
            QString("%1 of it face away from their normals, by up to %2° at turn %3. Push along a direction "
                    "instead "
                    "of the normal, make waves longer, or tone them down.")
                .arg(text(base::plural(folds->triangles, "triangle")))
                .arg(folds->normalOff, 0, 'f', 0)
                .arg(folds->turn, 0, 'f', 2),
            folds->vertex, folds->turn);
    } else if (folds && folds->stretchedMuch()) {
        add(QString("The score changes the length of edges by up to %1 %")
                .arg(100.0 * folds->stretch, 0, 'f', 0),
            QString(
                "Textures and thin parts show it, at turn %1. A bend keeps lengths where a push does not.")
                .arg(folds->stretchTurn, 0, 'f', 2),
            folds->stretched, folds->stretchTurn);
    }
}

BenchState moveState(Session& session) {
    if (session.scoreProblem()) {
        return {Lamp::broken, "does not\nplay"};
    }
    const std::size_t voices = session.document().score.voices.size();
    if (voices == 0) {
        return {Lamp::untouched, "no voices"};
    }
    return {Lamp::fine, text(base::plural(voices, "voice")) + "\nloop closes"};
}

BenchState shipState(Session& session) {
    if (session.shipProblem()) {
        return {Lamp::broken, "not written"};
    }
    if (const auto check = session.lastCheck()) {
        return {check->ok() ? Lamp::fine : Lamp::broken, check->ok() ? "written,\nchecked" : "check failed"};
    }
    if (session.changedSinceWritten()) {
        return {Lamp::look, "written,\nthen changed"};
    }
    return {Lamp::untouched, "nothing\nwritten"};
}

} // namespace

namespace {

/// What a person can allow a source that was not trusted with it.
void addTrustFixes(Session& session, const std::string& words, std::vector<OpenFix>& fixes) {
    if (words == source::kFollowOutsideFix) {
        fixes.push_back({"Follow it", [&session] {
                             session.edit("Follow files outside the model's folder",
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
        allow(QString("Allow it %1 GiB").arg(trust.import.gigabytes), trust);
    }
    if (words == source::kMoreTimeFix) {
        trust.import.seconds *= kMore;
        allow(QString("Allow it %1").arg(text(base::secondsText(trust.import.seconds))), trust);
    }
}

} // namespace

std::vector<OpenFinding> openFindings(Session& session) {
    std::vector<OpenFinding> all;
    if (session.sourceProblem()) {
        all.push_back(fromProblem("gather", *session.sourceProblem()));
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
        held.title =
            QString("%1 of frames: not baked unasked").arg(text(base::sizeText(session.bakeBytes())));
        held.words = "Choose a window or a step first, or bake it as it is.";
        held.fixes.push_back({"Bake it as it is", [&session] { session.rebake(); }});
        all.push_back(std::move(held));
    }
    addShipFindings(session, all);
    std::stable_sort(all.begin(), all.end(), [](const OpenFinding& a, const OpenFinding& b) {
        return static_cast<int>(a.lamp) > static_cast<int>(b.lamp);
    });
    return all;
}

std::array<BenchState, 5> benchStates(Session& session) {
    std::array<BenchState, 5> states = {gatherState(session), bakeState(session), moveState(session),
                                        BenchState{Lamp::untouched, "no copies"}, shipState(session)};
    for (const OpenFinding& finding : openFindings(session)) {
        BenchState& state = states[static_cast<std::size_t>(benchIndex(finding.bench.toStdString()))];
        if (state.lamp == Lamp::fine && finding.lamp == Lamp::look) {
            state.lamp = Lamp::look;
        }
    }
    return states;
}

} // namespace ripple::app
