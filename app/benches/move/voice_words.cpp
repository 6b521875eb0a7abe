#include "app/benches/move/voice_words.h"

#include "app/shell/words.h"

#include <QObject>
#include <QStringList>

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::app {

namespace {

using motion::CourseKind;
using motion::MaskKind;
using motion::PushKind;
using motion::ShapeKind;

QString tr(const char* words) {
    return QObject::tr(words);
}

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
    const std::array<const char*, 3> names = {"the width", "the height", "the length"};
    const int axis = axisOf(direction);
    return axis < 0 ? tr("a slant") : tr(names[static_cast<std::size_t>(axis)]);
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
        const std::array<std::array<const char*, 2>, 3> ends = {
            {{"the left", "the right"}, {"the bottom", "the top"}, {"the back", "the front"}}};
        const int axis = axisOf(term.direction);
        if (axis < 0) {
            return tr("a slanted end");
        }
        // What is held is the end where the mask is 0.
        const bool upper = (term.direction[axis] < 0.0f) != (term.low > term.high) ? !term.flip : term.flip;
        return tr(ends[static_cast<std::size_t>(axis)][upper]);
    }
    case MaskKind::uv:
        return term.uvAxis == 0 ? tr("U") : tr("V");
    case MaskKind::point:
        return term.flip ? tr("all but the middle") : tr("the middle");
    case MaskKind::line:
        return term.flip ? tr("all but the spine") : tr("the spine");
    case MaskKind::colour:
        return tr("painted %1")
            .arg(QStringList{tr("red"), tr("green"), tr("blue"), tr("alpha")}[term.channel]);
    case MaskKind::stored:
        break;
    }
    return text(term.stored);
}

QString axisName(const glm::vec3& direction) {
    const int axis = axisOf(direction);
    return axis < 0 ? tr("a slant") : QString(QChar('X' + axis));
}

QString courseWords(const motion::Voice& voice) {
    const motion::Course& course = voice.course;
    switch (course.kind) {
    case CourseKind::unison:
        return tr("nothing: all at once");
    case CourseKind::direction:
        return extentName(course.direction);
    case CourseKind::world:
        return tr("the world's %1").arg(axisName(course.direction));
    case CourseKind::uv:
        return tr("%1 of UV set %2").arg(course.uvAxis == 0 ? "U" : "V").arg(course.uvSet);
    case CourseKind::point:
        return tr("the distance from a point");
    case CourseKind::line:
        break;
    }
    return tr("the distance from a line");
}

QString shapeWords(const motion::Voice& voice) {
    for (const auto& row : motion::shapeKinds()) {
        if (row.kind == voice.shape.kind) {
            return tr(row.words);
        }
    }
    return {};
}

QString pushWords(const motion::Voice& voice) {
    const motion::Push& push = voice.push;
    const int axis = axisOf(push.direction);
    switch (push.kind) {
    case PushKind::direction:
        return axis < 0 ? tr("along a slant")
                        : tr(std::array{"side to side", "up and down",
                                        "fore and aft"}[static_cast<std::size_t>(axis)]);
    case PushKind::world:
        return tr("along the world's %1").arg(axisName(push.direction));
    case PushKind::normal:
        return tr("along the normal");
    case PushKind::point:
        return tr("away from a point");
    case PushKind::orbit:
        return tr("round, as water does");
    case PushKind::bend:
        return tr("a bend about %1").arg(axisName(push.direction));
    case PushKind::twist:
        return tr("a twist about %1").arg(axisName(push.direction));
    case PushKind::uvSlide:
        return tr("the texture along");
    case PushKind::uvTurn:
        return tr("the texture round");
    case PushKind::cutOut:
        break;
    }
    return tr("holes into the alpha");
}

QString maskWords(const motion::Voice& voice) {
    QStringList terms;
    for (const motion::MaskTerm& term : voice.heldBy) {
        terms << termWords(term);
    }
    return terms.isEmpty() ? tr("nothing") : terms.join(tr(" and "));
}

QString turnWords(const motion::Voice& voice) {
    return std::abs(voice.turns) == 1 ? tr("%1 turn").arg(voice.turns) : tr("%1 turns").arg(voice.turns);
}

QString voiceSentence(const motion::Voice& voice, const QString& colour) {
    const auto link = [&](const char* part, const QString& words) {
        return QString("<a href=\"%1\" style=\"color:%2\">%3</a>").arg(part, colour, words.toHtmlEscaped());
    };
    const QString along = voice.course.kind == CourseKind::unison
                              ? link("course", tr("all at once"))
                              : tr("runs along %1").arg(link("course", courseWords(voice)));
    const bool bends = voice.push.kind == PushKind::bend || voice.push.kind == PushKind::twist;
    const QString verb = bends                            ? tr("makes %1")
                         : motion::moves(voice.push.kind) ? tr("pushes %1")
                                                          : tr("moves %1");
    return tr("%1, as a %2, %3, held by %4; %5")
        .arg(along, link("shape", shapeWords(voice)), verb.arg(link("push", pushWords(voice))),
             link("mask", maskWords(voice)), link("turns", turnWords(voice)));
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
    add(tr("nothing: all at once"), course, size);
    course.kind = CourseKind::direction;
    for (int axis = 0; axis < 3; ++axis) {
        course.direction = unitAxis(axis);
        add(extentName(course.direction) + QString(" (%1)").arg(axisName(course.direction)), course, size);
    }
    course.kind = CourseKind::world;
    for (const int axis : {0, 2}) {
        course.direction = unitAxis(axis);
        add(tr("the world's %1").arg(axisName(course.direction)), course, size);
    }
    course.kind = CourseKind::point;
    course.point = rest.centre();
    add(tr("the distance from the middle"), course, size);
    course.kind = CourseKind::line;
    for (int axis = 0; axis < 3; ++axis) {
        course.direction = unitAxis(axis);
        add(tr("the distance from the line along %1").arg(axisName(course.direction)), course, size);
    }
    for (std::size_t set = 0; set < model.uvSets; ++set) {
        for (int axis = 0; axis < 2; ++axis) {
            course = {};
            course.kind = CourseKind::uv;
            course.uvSet = set;
            course.uvAxis = axis;
            add(tr("%1 of UV set %2").arg(axis == 0 ? "U" : "V").arg(set), course, 1.0);
        }
    }
    return all;
}

std::vector<Becomes> shapeChoices(const motion::Voice& voice) {
    std::vector<Becomes> all;
    for (const auto& row : motion::shapeKinds()) {
        all.push_back({tr(row.words), [kind = row.kind](motion::Voice& v) { v.shape.kind = kind; },
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
        all.push_back({tr("hold %1").arg(termWords(term)),
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
        all.push_back({tr("let go of %1").arg(termWords(voice.heldBy.back())),
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
    wave.name = "Wave";
    wave.course.direction = unitAxis(longest);
    wave.push.direction = unitAxis(longest == 1 ? 0 : 1);
    wave.amplitude = {0.05, true};
    wave.wavelength = {0.6, true};
    wave.turns = 2;
    motion::Voice sway = wave;
    sway.name = "Sway";
    sway.course.kind = CourseKind::unison;
    sway.turns = 1;
    sway.push.kind = PushKind::bend;
    sway.push.direction = {0, 0, 1};
    sway.push.length = {0, 1, 0};
    sway.push.point = {rest.centre().x, rest.min.y, rest.centre().z};
    sway.push.span = {std::max(static_cast<double>(rest.size().y), 1e-3), false};
    sway.degrees = 12.0;
    motion::Voice tremble = wave;
    tremble.name = "Tremble";
    tremble.shape.kind = ShapeKind::noise;
    tremble.push.kind = PushKind::normal;
    tremble.amplitude = {0.015, true};
    tremble.turns = 4;
    motion::Voice breath = wave;
    breath.name = "Breath";
    breath.course.kind = CourseKind::unison;
    breath.push.kind = PushKind::normal;
    breath.amplitude = {0.02, true};
    breath.turns = 1;
    return {wave, sway, tremble, breath};
}

} // namespace ripple::app
