#include "app/benches/move/voice_words.h"

#include "app/session/words.h"

#include <QCoreApplication>
#include <QStringList>

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::app {

/// The words of voices.
struct Voices {
    Q_DECLARE_TR_FUNCTIONS(Voices)
};

namespace {

using motion::CourseKind;
using motion::MaskKind;
using motion::PushKind;
using motion::ShapeKind;

/// 0 X, 1 Y, 2 Z; -1: along none.
int axisOf(const glm::vec3& direction) {
    const float length = glm::length(direction);
    for (int c = 0; c < 3 && length > 0.0f; ++c) {
        if (std::abs(direction[c]) > 0.999f * length) {
            return c;
        }
    }
    return -1;
}

QString extentName(const glm::vec3& direction) {
    const int axis = axisOf(direction);
    return axis < 0 ? Voices::tr("along a custom direction")
                    : std::array{Voices::tr("along the width"), Voices::tr("along the height"),
                                 Voices::tr("along the length")}[static_cast<std::size_t>(axis)];
}

QString alongWorld(const glm::vec3& direction) {
    const int axis = axisOf(direction);
    return axis < 0 ? Voices::tr("along a custom direction of the world")
                    : Voices::tr("along the world's %1").arg(QChar('X' + axis));
}

glm::vec3 unitAxis(int axis) {
    glm::vec3 direction(0.0f);
    direction[axis] = 1.0f;
    return direction;
}

} // namespace

QString termWords(const motion::MaskTerm& term) {
    switch (term.kind) {
    case MaskKind::planes: {
        const std::array<std::array<QString, 2>, 3> ends = {
            {{Voices::tr("at the left"), Voices::tr("at the right")},
             {Voices::tr("at the bottom"), Voices::tr("at the top")},
             {Voices::tr("at the back"), Voices::tr("at the front")}}};
        const int axis = axisOf(term.direction);
        if (axis < 0) {
            return Voices::tr("at a slanted end");
        }
        // What is held is the end where the mask is 0.
        const bool upper = (term.direction[axis] < 0.0f) != (term.low > term.high) ? !term.flip : term.flip;
        return ends[static_cast<std::size_t>(axis)][upper];
    }
    case MaskKind::uv:
        return term.uvAxis == 0 ? Voices::tr("along U") : Voices::tr("along V");
    case MaskKind::point:
        return term.flip ? Voices::tr("everywhere but in the middle") : Voices::tr("in the middle");
    case MaskKind::line:
        return term.flip ? Voices::tr("everywhere but along the spine") : Voices::tr("along the spine");
    case MaskKind::colour:
        return QStringList{Voices::tr("by painted red"), Voices::tr("by painted green"),
                           Voices::tr("by painted blue"), Voices::tr("by painted alpha")}[term.channel];
    case MaskKind::stored:
        break;
    }
    return Voices::tr("by “%1”").arg(text(term.stored));
}

QString axisName(const glm::vec3& direction) {
    const int axis = axisOf(direction);
    return axis < 0 ? Voices::tr("a custom axis") : QString(QChar('X' + axis));
}

QString courseWords(const motion::Voice& voice) {
    const motion::Course& course = voice.course;
    switch (course.kind) {
    case CourseKind::unison:
        return Voices::tr("in unison");
    case CourseKind::direction:
        return extentName(course.direction);
    case CourseKind::world:
        return alongWorld(course.direction);
    case CourseKind::uv:
        return Voices::tr("along %1 of UV set %2").arg(course.uvAxis == 0 ? "U" : "V").arg(course.uvSet);
    case CourseKind::point:
        return Voices::tr("outward from a point");
    case CourseKind::line:
        break;
    }
    return Voices::tr("outward from a line");
}

QString shapeWords(const motion::Voice& voice) {
    for (const auto& row : motion::shapeKinds()) {
        if (row.kind == voice.shape.kind) {
            return Voices::tr(row.words);
        }
    }
    return {};
}

QString pushWords(const motion::Voice& voice) {
    const motion::Push& push = voice.push;
    const int axis = axisOf(push.direction);
    switch (push.kind) {
    case PushKind::direction:
        return axis < 0 ? Voices::tr("pushes in a custom direction")
                        : std::array{Voices::tr("pushes sideways"), Voices::tr("pushes up and down"),
                                     Voices::tr("pushes back and forth")}[static_cast<std::size_t>(axis)];
    case PushKind::world:
        return axis < 0 ? Voices::tr("pushes in a custom direction of the world")
                        : Voices::tr("pushes along the world's %1").arg(axisName(push.direction));
    case PushKind::normal:
        return Voices::tr("pushes along the normal");
    case PushKind::point:
        return Voices::tr("pushes away from a point");
    case PushKind::orbit:
        return Voices::tr("moves in circles, like water");
    case PushKind::bend:
        return Voices::tr("bends about %1").arg(axisName(push.direction));
    case PushKind::twist:
        return Voices::tr("twists about %1").arg(axisName(push.direction));
    case PushKind::uvSlide:
        return Voices::tr("slides the texture");
    case PushKind::uvTurn:
        return Voices::tr("rotates the texture");
    case PushKind::cutOut:
        break;
    }
    return Voices::tr("cuts holes into the alpha");
}

QString maskWords(const motion::Voice& voice) {
    if (voice.heldBy.empty()) {
        return Voices::tr("free everywhere");
    }
    QString words = termWords(voice.heldBy.front());
    for (std::size_t t = 1; t < voice.heldBy.size(); ++t) {
        words = Voices::tr("%1 and %2").arg(words, termWords(voice.heldBy[t]));
    }
    return Voices::tr("held %1").arg(words);
}

QString turnWords(const motion::Voice& voice) {
    const int turns = std::abs(voice.turns);
    return counted(voice.turns < 0 ? Voices::tr("%n turn(s) per loop, backward", nullptr, turns)
                                   : Voices::tr("%n turn(s) per loop", nullptr, turns),
                   static_cast<std::size_t>(turns));
}

QString voiceSentence(const motion::Voice& voice, const QString& colour) {
    const auto link = [&](const char* part, const QString& words) {
        return QString("<a href=\"%1\" style=\"color:%2\">%3</a>").arg(part, colour, words.toHtmlEscaped());
    };
    const QString runs =
        voice.course.kind == CourseKind::unison ? Voices::tr("Swings %1") : Voices::tr("Runs %1");
    return Voices::tr("%1 as %2, %3, %4, %5.")
        .arg(runs.arg(link("course", courseWords(voice))), link("shape", shapeWords(voice)),
             link("push", pushWords(voice)), link("mask", maskWords(voice)), link("turns", turnWords(voice)));
}

std::vector<Becomes> courseChoices(const motion::Voice& voice, const motion::Model& model,
                                   const mesh::Bounds& rest) {
    std::vector<Becomes> all;
    const auto add = [&](const QString& words, const motion::Course& course, double wavelength) {
        const auto change = [course, wavelength](motion::Voice& v) {
            const bool other = (v.course.kind == CourseKind::uv) != (course.kind == CourseKind::uv);
            v.course = course;
            if (other) {
                v.wavelength = {wavelength, false}; // metres and UV units are not alike
            }
        };
        all.push_back({words, change, course == voice.course});
    };
    const double size = model.size;
    motion::Course course;
    course.kind = CourseKind::unison;
    add(Voices::tr("in unison"), course, size);
    course.kind = CourseKind::direction;
    for (int axis = 0; axis < 3; ++axis) {
        course.direction = unitAxis(axis);
        add(extentName(course.direction) + QString(" (%1)").arg(axisName(course.direction)), course, size);
    }
    course.kind = CourseKind::world;
    for (const int axis : {0, 2}) {
        course.direction = unitAxis(axis);
        add(alongWorld(course.direction), course, size);
    }
    course.kind = CourseKind::point;
    course.point = rest.centre();
    add(Voices::tr("outward from the middle"), course, size);
    course.kind = CourseKind::line;
    for (int axis = 0; axis < 3; ++axis) {
        course.direction = unitAxis(axis);
        add(Voices::tr("outward from the line along %1").arg(axisName(course.direction)), course, size);
    }
    for (std::size_t set = 0; set < model.uvSets; ++set) {
        for (int axis = 0; axis < 2; ++axis) {
            course = {};
            course.kind = CourseKind::uv;
            course.uvSet = set;
            course.uvAxis = axis;
            add(Voices::tr("along %1 of UV set %2").arg(axis == 0 ? "U" : "V").arg(set), course, 1.0);
        }
    }
    return all;
}

std::vector<Becomes> shapeChoices(const motion::Voice& voice) {
    std::vector<Becomes> all;
    for (const auto& row : motion::shapeKinds()) {
        all.push_back({Voices::tr(row.words), [kind = row.kind](motion::Voice& v) { v.shape.kind = kind; },
                       row.kind == voice.shape.kind});
    }
    return all;
}

std::vector<Becomes> pushChoices(const motion::Voice& voice, const motion::Model& model,
                                 const mesh::Bounds& rest) {
    std::vector<Becomes> all;
    const auto add = [&](const motion::Push& push) {
        motion::Voice as = voice;
        as.push = push;
        const bool now = push.kind == voice.push.kind && pushWords(as) == pushWords(voice);
        all.push_back({pushWords(as), [push](motion::Voice& v) { v.push = push; }, now});
    };
    motion::Push push;
    for (int axis = 0; axis < 3; ++axis) {
        push.direction = unitAxis(axis);
        add(push);
    }
    push = {};
    push.kind = PushKind::world;
    push.direction = unitAxis(0);
    add(push);
    push.kind = PushKind::normal;
    add(push);
    push.kind = PushKind::point;
    push.point = rest.centre();
    add(push);
    push = {};
    push.kind = PushKind::orbit;
    push.direction = unitAxis(0);
    add(push);
    // Bends and twists start at the foot and take the height, unless the hinge lies along it.
    for (int axis = 0; axis < 3; ++axis) {
        push = {};
        push.kind = PushKind::bend;
        push.direction = unitAxis(axis);
        push.length = axis == 1 ? glm::vec3(0, 0, -1) : glm::vec3(0, 1, 0);
        push.point = axis == 1 ? glm::vec3(rest.centre().x, rest.centre().y, rest.max.z)
                               : glm::vec3(rest.centre().x, rest.min.y, rest.centre().z);
        push.span = {
            std::max(static_cast<double>(axis == 1 ? rest.size().z : rest.size().y), 0.05 * model.size),
            false};
        add(push);
    }
    push = {};
    push.kind = PushKind::twist;
    push.direction = unitAxis(1);
    push.point = glm::vec3(rest.centre().x, rest.min.y, rest.centre().z);
    push.span = {std::max(static_cast<double>(rest.size().y), 0.05 * model.size), false};
    add(push);
    if (model.uvSets > 0) {
        push = {};
        push.kind = PushKind::uvSlide;
        push.direction = unitAxis(0);
        add(push);
        push.kind = PushKind::uvTurn;
        push.point = glm::vec3(0.5f, 0.5f, 0.0f);
        add(push);
    }
    push = {};
    push.kind = PushKind::cutOut;
    add(push);
    return all;
}

std::vector<Becomes> maskChoices(const motion::Voice& voice, const motion::Model& model,
                                 const mesh::Bounds& rest) {
    std::vector<Becomes> all;
    const auto add = [&](const motion::MaskTerm& term) {
        all.push_back({Voices::tr("hold %1").arg(termWords(term)),
                       [term](motion::Voice& v) { v.heldBy.push_back(term); }, false});
    };
    for (int axis = 0; axis < 3; ++axis) {
        for (const bool flip : {false, true}) {
            motion::MaskTerm term;
            term.direction = unitAxis(axis);
            term.low = static_cast<double>(rest.min[axis]);
            term.high = static_cast<double>(rest.max[axis]);
            term.flip = flip;
            add(term);
        }
    }
    motion::MaskTerm term;
    term.point = rest.centre();
    term.direction = unitAxis(2);
    term.high = 0.5 * static_cast<double>(std::max({rest.size().x, rest.size().y, rest.size().z}));
    term.kind = MaskKind::point;
    add(term);
    term.kind = MaskKind::line;
    add(term);
    if (model.uvSets > 0) {
        for (int axis = 0; axis < 2; ++axis) {
            term = {};
            term.kind = MaskKind::uv;
            term.uvAxis = axis;
            add(term);
        }
    }
    for (int channel = 0; channel < 4 && model.colours; ++channel) {
        term = {};
        term.kind = MaskKind::colour;
        term.channel = channel;
        add(term);
    }
    for (const std::string& stored : model.stored) {
        term = {};
        term.kind = MaskKind::stored;
        term.stored = stored;
        add(term);
    }
    if (!voice.heldBy.empty()) {
        all.push_back({Voices::tr("no longer held %1").arg(termWords(voice.heldBy.back())),
                       [](motion::Voice& v) { v.heldBy.pop_back(); }, false});
    }
    return all;
}

std::vector<motion::Voice> newVoices(const mesh::Bounds& rest) {
    const auto longest = [&] {
        const glm::vec3 size = rest.size();
        return size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
    }();
    motion::Voice wave;
    wave.name = Voices::tr("Wave").toStdString();
    wave.course.direction = unitAxis(longest);
    wave.push.direction = unitAxis(longest == 1 ? 0 : 1);
    wave.amplitude = {0.05, true};
    wave.wavelength = {0.6, true};
    wave.turns = 2;
    motion::Voice sway = wave;
    sway.name = Voices::tr("Sway").toStdString();
    sway.course.kind = CourseKind::unison;
    sway.turns = 1;
    sway.push.kind = PushKind::bend;
    sway.push.direction = {0, 0, 1};
    sway.push.length = {0, 1, 0};
    sway.push.point = {rest.centre().x, rest.min.y, rest.centre().z};
    sway.push.span = {std::max(static_cast<double>(rest.size().y), 1e-3), false};
    sway.degrees = 12.0;
    motion::Voice tremble = wave;
    tremble.name = Voices::tr("Tremble").toStdString();
    tremble.shape.kind = ShapeKind::noise;
    tremble.push.kind = PushKind::normal;
    tremble.amplitude = {0.015, true};
    tremble.turns = 4;
    motion::Voice breath = wave;
    breath.name = Voices::tr("Breath").toStdString();
    breath.course.kind = CourseKind::unison;
    breath.push.kind = PushKind::normal;
    breath.amplitude = {0.02, true};
    breath.turns = 1;
    return {wave, sway, tremble, breath};
}

} // namespace ripple::app
