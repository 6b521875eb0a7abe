#include "app/benches/move/voice_parts.h"

namespace ripple::app {

namespace {

using motion::CourseKind;
using motion::PushKind;

QString tr(const char* words) {
    return VoiceRows::tr(words);
}

VoiceRows::SetWay courseWay(glm::vec3 motion::Course::*member) {
    return [member](motion::Voice& v, const glm::vec3& to) { v.course.*member = to; };
}

VoiceRows::SetWay pushWay(glm::vec3 motion::Push::*member) {
    return [member](motion::Voice& v, const glm::vec3& to) { v.push.*member = to; };
}

void courseRows(VoiceRows& rows, const motion::Course& course) {
    const bool fromPlace = course.kind == CourseKind::point || course.kind == CourseKind::line;
    if (course.kind == CourseKind::unison) {
        rows.words("courseNote", tr("Nothing to place for the wave: all of it swings at once."));
        return;
    }
    if (course.kind == CourseKind::uv) {
        rows.words("courseNote", tr("The wave runs along the texture: it bends where the texture does."));
        return;
    }
    if (fromPlace) {
        rows.point(tr("Runs from, cm"), "course point", course.point, courseWay(&motion::Course::point));
    }
    if (course.kind != CourseKind::point) {
        rows.direction(course.kind == CourseKind::line ? tr("A line along") : tr("Runs along"),
                       "course direction", course.direction, courseWay(&motion::Course::direction));
    }
}

void spanRow(VoiceRows& rows, const VoiceOnModel& of) {
    rows.span({tr("Over a length of"), "span", "", 0.01, 1e6, 2, 1.0, 100.0}, of.voice.push.span,
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
        direction(tr("Pushes along"));
        break;
    case PushKind::orbit:
        direction(tr("Crests run along"));
        rows.number({tr("Rises by"), "rise", "%", 0, 1000, 0, 1.0, 100.0}, 100.0 * push.rise,
                    tr("of the way along"), [](motion::Voice& v, double x) { v.push.rise = 0.01 * x; });
        break;
    case PushKind::point:
        point(tr("Away from, cm"));
        break;
    case PushKind::bend:
        point(tr("Pivot, cm"));
        direction(tr("Hinge along"));
        rows.direction(tr("Bent length"), "bent length", push.length, pushWay(&motion::Push::length));
        spanRow(rows, of);
        break;
    case PushKind::twist:
        point(tr("Pivot, cm"));
        direction(tr("Twists about"));
        spanRow(rows, of);
        break;
    case PushKind::uvSlide:
        rows.uv(tr("Slides along"), "push direction", push.direction, pushWay(&motion::Push::direction));
        break;
    case PushKind::uvTurn:
        rows.uv(tr("Turns about"), "push point", push.point, pushWay(&motion::Push::point));
        break;
    case PushKind::normal:
        rows.words("pushNote", tr("It pushes along the surface's own normal, wherever that points."));
        break;
    case PushKind::cutOut:
        rows.words("pushNote", tr("It eats the alpha wherever its mask is white."));
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
