#include "app/benches/move/voice_parts.h"

namespace ripple::app {

namespace {

using motion::CourseKind;
using motion::PushKind;

VoiceRows::SetWay courseWay(glm::vec3 motion::Course::*member) {
    return [member](motion::Voice& v, const glm::vec3& to) { v.course.*member = to; };
}

VoiceRows::SetWay pushWay(glm::vec3 motion::Push::*member) {
    return [member](motion::Voice& v, const glm::vec3& to) { v.push.*member = to; };
}

void courseRows(VoiceRows& rows, const motion::Course& course) {
    const bool fromPlace = course.kind == CourseKind::point || course.kind == CourseKind::line;
    if (course.kind == CourseKind::unison) {
        rows.words("courseNote",
                   VoiceRows::tr("In unison the wave has no place: the whole mesh moves at the same time."));
        return;
    }
    if (course.kind == CourseKind::uv) {
        rows.words("courseNote", VoiceRows::tr("The wave runs along the UVs and bends where they do."));
        return;
    }
    if (fromPlace) {
        rows.point(VoiceRows::tr("Runs from"), "course point", course.point,
                   courseWay(&motion::Course::point));
    }
    if (course.kind != CourseKind::point) {
        rows.direction(course.kind == CourseKind::line ? VoiceRows::tr("Line along")
                                                       : VoiceRows::tr("Runs along"),
                       "course direction", course.direction, courseWay(&motion::Course::direction));
    }
}

void spanRow(VoiceRows& rows, const VoiceOnModel& of) {
    rows.span({VoiceRows::tr("Bent length"), "span", "", 0.01, 1e6, 2, 1.0, 100.0}, of.voice.push.span,
              of.model.size);
}

void pushRows(VoiceRows& rows, const VoiceOnModel& of) {
    const motion::Push& push = of.voice.push;
    const auto direction = [&](const QString& name) {
        rows.direction(name, "push direction", push.direction, pushWay(&motion::Push::direction));
    };
    const auto point = [&](const QString& name) {
        rows.point(name, "push point", push.point, pushWay(&motion::Push::point));
    };
    switch (push.kind) {
    case PushKind::direction:
    case PushKind::world:
        direction(VoiceRows::tr("Pushes along"));
        break;
    case PushKind::orbit:
        direction(VoiceRows::tr("Crests run along"));
        rows.number({VoiceRows::tr("Height of circles"), "rise", "%", 0, 1000, 0, 1.0, 100.0},
                    100.0 * push.rise, VoiceRows::tr("of their width"),
                    [](motion::Voice& v, double x) { v.push.rise = 0.01 * x; });
        break;
    case PushKind::point:
        point(VoiceRows::tr("Away from"));
        break;
    case PushKind::bend:
        point(VoiceRows::tr("Pivot"));
        direction(VoiceRows::tr("Hinge axis"));
        rows.direction(VoiceRows::tr("Bends along"), "bent length", push.length,
                       pushWay(&motion::Push::length));
        spanRow(rows, of);
        break;
    case PushKind::twist:
        point(VoiceRows::tr("Pivot"));
        direction(VoiceRows::tr("Twist axis"));
        spanRow(rows, of);
        break;
    case PushKind::uvSlide:
        rows.uv(VoiceRows::tr("Slides along"), "push direction", push.direction,
                pushWay(&motion::Push::direction));
        break;
    case PushKind::uvTurn:
        rows.uv(VoiceRows::tr("Rotates about"), "push point", push.point, pushWay(&motion::Push::point));
        break;
    case PushKind::normal:
        rows.words("pushNote", VoiceRows::tr("Each vertex is pushed along its own normal."));
        break;
    case PushKind::cutOut:
        rows.words("pushNote", VoiceRows::tr("The alpha is lowered where the mask is white."));
        break;
    }
}

} // namespace

QString placeKinds(const VoiceOnModel& of) {
    return QString("%1 %2 %3")
        .arg(static_cast<int>(of.voice.course.kind))
        .arg(static_cast<int>(of.voice.push.kind))
        .arg(of.voice.push.span.ofSize);
}

void placeRows(VoiceRows& rows, const VoiceOnModel& of) {
    courseRows(rows, of.voice.course);
    pushRows(rows, of);
}

} // namespace ripple::app
