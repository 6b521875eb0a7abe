#include "app/stage/looks.h"

#include "app/session/bench_state.h"
#include "app/session/score_edits.h"
#include "bake/texture_reader.h"
#include "motion/density.h"
#include "motion/interpolation_loss.h"
#include "motion/compose_score.h"

#include <QCoreApplication>

#include <algorithm>
#include <array>
#include <cmath>

namespace ripple::app {

/// The words of looks.
struct Looks {
    Q_DECLARE_TR_FUNCTIONS(Looks)
};

namespace {

bool onMove(const Session& session) {
    return benchOf(session.document().view).voices;
}

bool hasVoices(const Session& session) {
    return onMove(session) && session.performance();
}

// What each look measures.

Shades wireShades(const Seen& seen) {
    return edgeShades(seen.source->mesh(), seen.pose->positions);
}

Shades gridShades(const Seen& seen) {
    const auto& sets = seen.source->mesh().uvSets;
    Shades shades;
    if (!sets.empty()) {
        shades.uvSet = std::min(seen.document.view.uvSet, sets.size() - 1);
        shades.title = Looks::tr("UV set %1 of %n (counted from 0)", nullptr, static_cast<int>(sets.size()))
                           .arg(*shades.uvSet);
    }
    return shades;
}

Shades channelShades(const Seen& seen) {
    return colourShades(seen.source->mesh(), seen.document.view.channel);
}

Shades jointShades(const Seen& seen) {
    const auto& source = seen.source;
    if (source->joints().empty()) {
        return {};
    }
    const auto joint = static_cast<std::size_t>(std::max(seen.shownJoint, 0));
    return weightShades(source->jointWeights(joint), QString::fromStdString(source->joints()[joint]));
}

/// The ramp ends at the largest speed of any clip, so that the same colour is the same speed in all frames.
Shades movementShades(const Seen& seen) {
    double largest = 0.0;
    const auto& survey = seen.survey;
    for (std::size_t c = 0; survey && c < survey->clips.size(); ++c) {
        const inspect::ClipSurvey& clip = survey->clips[c];
        // The step over the seam of an open clip is no speed.
        const std::size_t steps = clip.motion.max.size() - (clip.extent.closed ? 0 : 1);
        for (std::size_t f = 0; clip.extent.spacing > 0.0 && f < steps && f < clip.motion.max.size(); ++f) {
            largest = std::max(largest, static_cast<double>(clip.motion.max[f]) / clip.extent.spacing);
        }
    }
    return speedShades(*seen.pose, largest);
}

Shades maskShades(const Seen& seen) {
    const auto& performance = seen.performance;
    const motion::Voice* voice = chosenVoice(seen.document);
    if (!performance || !voice) {
        return {};
    }
    const project::View& view = seen.document.view;
    const std::size_t index = voiceIndex(seen.document.score, voice->id);
    const motion::VoiceNodes& nodes = performance->composition().voices[index];
    const bool shape = view.probe == "shape";
    const bool place = view.probe == "place";
    std::vector<float> values = performance->values(shape   ? nodes.shape
                                                    : place ? nodes.place
                                                            : nodes.mask,
                                                    seen.turn, {});
    for (float& value : values) {
        value = place ? value - std::floor(value) : value;
    }
    const auto range = motion::shapeRange(voice->shape);
    const QString name = QString::fromStdString(voice->name);
    const QString title = (shape   ? Looks::tr("%1: shape now")
                           : place ? Looks::tr("%1: phase now")
                                   : Looks::tr("%1: mask, black is held"))
                              .arg(name);
    return probeShades(values, title, shape ? static_cast<float>(range[0]) : 0.0f,
                       shape ? static_cast<float>(range[1]) : 1.0f, seen.pickedVertex);
}

Shades voiceDensityShades(const Seen& seen) {
    const auto& performance = seen.performance;
    const motion::Voice* voice = chosenVoice(seen.document);
    if (!performance || !voice) {
        return {};
    }
    const std::size_t index = voiceIndex(seen.document.score, voice->id);
    return densityShades(motion::measureDensity(*performance, seen.source->mesh(), *voice, index),
                         QString::fromStdString(voice->name));
}

Shades stretchShades(const Seen& seen) {
    const bool plays = seen.performance && chosenVoice(seen.document);
    return plays ? strainShades(motion::edgeStrain(seen.source->mesh(), seen.pose->positions)) : Shades();
}

Shades bakeErrorShades(const Seen& seen) {
    const auto& bake = seen.bake;
    const std::size_t clip = seen.clip;
    if (!bake || clip >= bake->baked.textures.clips.size() ||
        seen.pose->normals.size() != seen.pose->positions.size()) {
        return {};
    }
    std::vector<glm::vec3> read(seen.pose->positions.size());
    std::vector<glm::vec3> normals(seen.pose->positions.size());
    const bake::TextureReader reader = bake->reader(seen.source->mesh());
    reader.at(bake->baked.textures.clips[clip], static_cast<float>(seen.frame), read, normals);
    return seen.document.view.error == "normal"
               ? normalErrorShades(seen.pose->normals, normals, bake->error.normalMaxDegrees)
               : errorShades(seen.pose->positions, read, bake->error.all.max);
}

// Where each look has something to show.

bool hasUvs(const Session& session) {
    return !session.source()->mesh().uvSets.empty();
}

bool hasColours(const Session& session) {
    return !session.source()->mesh().colours.empty();
}

bool hasJoints(const Session& session) {
    return !onMove(session) && !session.source()->joints().empty();
}

bool hasMotion(const Session& session) {
    const source::Clip& clip = session.source()->clips()[0];
    return !onMove(session) && (clip.frames > 1 || clip.duration > 0.0);
}

bool hasBake(const Session& session) {
    return !onMove(session) && session.bake() != nullptr;
}

// What taking a look again does.

void nextUvSet(Session& session) {
    const std::size_t sets = session.source()->mesh().uvSets.size();
    session.look([sets](project::View& view) { view.uvSet = sets ? (view.uvSet + 1) % sets : 0; });
}

void nextChannel(Session& session) {
    static const std::array<std::string, 5> kChannels = {"rgb", "r", "g", "b", "a"};
    session.look([](project::View& view) {
        const auto now = std::find(kChannels.begin(), kChannels.end(), view.channel);
        const auto next = now == kChannels.end() ? 1 : now - kChannels.begin() + 1;
        view.channel = kChannels[static_cast<std::size_t>(next) % kChannels.size()];
    });
}

void nextJoint(Session& session) {
    const auto joints = static_cast<int>(session.source()->joints().size());
    if (joints > 0) {
        session.showJoint((std::max(session.shownJoint(), 0) + 1) % joints);
    }
}

bool worksInEitherStage(const Session& session) {
    const auto performance = session.performance();
    return performance && (performance->composition().uvShift || performance->composition().alpha);
}

Shades perVertexShades(const Seen& seen) {
    if (!seen.performance || seen.performance->vertexCount() != seen.source->mesh().vertexCount()) {
        return {};
    }
    return interpolationShades(motion::interpolationLoss(*seen.performance, seen.source->mesh()));
}

void nextProbe(Session& session) {
    session.look([](project::View& view) {
        view.probe = view.probe == "mask" ? "shape" : view.probe == "shape" ? "place" : "mask";
    });
}

void otherError(Session& session) {
    session.look([](project::View& view) { view.error = view.error == "position" ? "normal" : "position"; });
}

std::vector<LookRow>& table() {
    static std::vector<LookRow> rows = {
        {.id = "lit",
         .text = QT_TRANSLATE_NOOP("Looks", "Lit"),
         .key = "L",
         .words = QT_TRANSLATE_NOOP("Looks", "As it will look, roughly: base colour, light and shadow")},
        {.id = "wire",
         .text = QT_TRANSLATE_NOOP("Looks", "Wire"),
         .key = "W",
         .words = QT_TRANSLATE_NOOP(
             "Looks", "Edges coloured by their length; pick a vertex to read the lengths of its edges"),
         .drawn = Look::wire,
         .measures = Measures::smallMeshes,
         .needsPose = true,
         .shades = &wireShades},
        {.id = "uv-grid",
         .text = QT_TRANSLATE_NOOP("Looks", "UV"),
         .key = "U",
         .words = QT_TRANSLATE_NOOP("Looks", "A labelled grid on a UV set. Press again for the next set."),
         .drawn = Look::uvGrid,
         .available = &hasUvs,
         .shades = &gridShades,
         .again = &nextUvSet},
        {.id = "normals",
         .text = QT_TRANSLATE_NOOP("Looks", "Normals"),
         .key = "N",
         .words = QT_TRANSLATE_NOOP("Looks", "Directions of the normals as colours"),
         .drawn = Look::normals},
        {.id = "colours",
         .text = QT_TRANSLATE_NOOP("Looks", "Colours"),
         .key = "O",
         .words = QT_TRANSLATE_NOOP("Looks", "Vertex colours. Press again for one channel after another."),
         .drawn = Look::shades,
         .available = &hasColours,
         .shades = &channelShades,
         .again = &nextChannel},
        {.id = "joints",
         .text = QT_TRANSLATE_NOOP("Looks", "Joints"),
         .key = "J",
         .words = QT_TRANSLATE_NOOP(
             "Looks", "Joints as bars, and the weights of one joint. Press again for the next joint."),
         .drawn = Look::shades,
         .needsPose = true,
         .showsJoints = true,
         .available = &hasJoints,
         .shades = &jointShades,
         .again = &nextJoint},
        {.id = "speed",
         .text = QT_TRANSLATE_NOOP("Looks", "Speed"),
         .key = "S",
         .words = QT_TRANSLATE_NOOP("Looks", "Speed of each vertex at this moment"),
         .drawn = Look::shades,
         .measures = Measures::eachPose,
         .needsPose = true,
         .needsSpeed = true,
         .available = &hasMotion,
         .shades = &movementShades},
        {.id = "mask",
         .text = QT_TRANSLATE_NOOP("Looks", "Mask"),
         .key = "H",
         .words =
             QT_TRANSLATE_NOOP("Looks", "Mask of the voice from black (held) to white (free). Press again "
                                        "for its shape and its phase."),
         .drawn = Look::shades,
         .measures = Measures::eachPose,
         .needsPose = true,
         .available = &hasVoices,
         .shades = &maskShades,
         .again = &nextProbe},
        {.id = "density",
         .text = QT_TRANSLATE_NOOP("Looks", "Density"),
         .key = "D",
         .words = QT_TRANSLATE_NOOP("Looks", "Whether the mesh has enough edges for the waves of the voice"),
         .drawn = Look::shades,
         .available = &hasVoices,
         .shades = &voiceDensityShades},
        {.id = "strain",
         .text = QT_TRANSLATE_NOOP("Looks", "Strain"),
         .key = "T",
         .words = QT_TRANSLATE_NOOP("Looks", "How much the edges are stretched at this moment"),
         .drawn = Look::shades,
         .measures = Measures::eachPose,
         .needsPose = true,
         .available = &hasVoices,
         .shades = &stretchShades},
        {.id = "interpolated",
         .text = QT_TRANSLATE_NOOP("Looks", "Per vertex"),
         .key = "I",
         .words =
             QT_TRANSLATE_NOOP("Looks", "What the texture's shift, or the cut-out, loses where it is worked "
                                        "out at the vertices and not at each pixel"),
         .drawn = Look::shades,
         .available = &worksInEitherStage,
         .shades = &perVertexShades},
        {.id = "error",
         .text = QT_TRANSLATE_NOOP("Looks", "Error"),
         .key = "E",
         .words =
             QT_TRANSLATE_NOOP("Looks", "Error of the decoded positions, in millimetres. Press again for "
                                        "the normals, in degrees."),
         .drawn = Look::shades,
         .measures = Measures::eachPose,
         .needsPose = true,
         .available = &hasBake,
         .shades = &bakeErrorShades,
         .again = &otherError},
        {.id = "by-clip",
         .text = QT_TRANSLATE_NOOP("Looks", "By clip"),
         .key = "B",
         .words = QT_TRANSLATE_NOOP("Looks", "Copies coloured by the clip that they play"),
         .drawn = Look::copies,
         .ofCopies = true},
        {.id = "phase",
         .text = QT_TRANSLATE_NOOP("Looks", "Phase"),
         .key = "R",
         .words = QT_TRANSLATE_NOOP("Looks", "Copies from dark to light by where in their loop they are"),
         .drawn = Look::copies,
         .ofCopies = true},
        {.id = "levels",
         .text = QT_TRANSLATE_NOOP("Looks", "Levels"),
         .key = "X",
         .words = QT_TRANSLATE_NOOP("Looks", "Copies coloured by their level of detail"),
         .drawn = Look::copies,
         .ofCopies = true}};
    return rows;
}

} // namespace

Seen seenNow(const Session& session, std::shared_ptr<const Poser::Pose> pose) {
    Seen seen;
    seen.document = session.document();
    seen.source = session.source();
    seen.performance = session.performance();
    seen.bake = session.bake();
    seen.survey = session.survey();
    seen.pose = std::move(pose);
    seen.clip = static_cast<std::size_t>(std::max(session.playhead().clipIndex(), 0));
    seen.frame = session.playhead().frame();
    seen.turn = session.playhead().turn();
    seen.shownJoint = session.shownJoint();
    seen.pickedVertex = session.pickedVertex();
    return seen;
}

const std::vector<LookRow>& looks() {
    return table();
}

void addLook(const LookRow& row) {
    table().push_back(row);
}

const LookRow& lookOf(const project::View& view) {
    const auto& rows = table();
    const auto found =
        std::find_if(rows.begin(), rows.end(), [&](const LookRow& row) { return view.look == row.id; });
    // A look of another bench is none here.
    return found == rows.end() || found->ofCopies != benchOf(view).copies ? rows.front() : *found;
}

QString lookWords(const char* words) {
    return Looks::tr(words);
}

bool isAvailable(const LookRow& row, const Session& session) {
    if (!session.source()) {
        return &row == &table().front();
    }
    const bool first = &row == &table().front();
    const bool copies = benchOf(session.document().view).copies;
    return first || (row.ofCopies == copies && (!row.available || row.available(session)));
}

} // namespace ripple::app
