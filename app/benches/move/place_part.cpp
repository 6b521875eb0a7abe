#include "app/benches/move/voice_parts.h"

namespace ripple::app {

QString placeKinds(const VoiceOnModel& of) {
    return QString("%1 %2 %3")
        .arg(static_cast<int>(of.voice.course.kind))
        .arg(static_cast<int>(of.voice.push.kind))
        .arg(of.voice.push.span.ofSize);
}

void placeRows(VoiceRows& rows, const VoiceOnModel& of) {
    const motion::Voice& voice = of.voice;
    rows.fields<motion::CourseRow, motion::Course>(
        motion::rowOf(voice.course), voice.course, [](motion::Voice& v) { return &v.course; }, "courseNote");
    rows.fields<motion::PushRow, motion::Push>(
        motion::rowOf(voice.push), voice.push, [](motion::Voice& v) { return &v.push; }, "pushNote");
}

} // namespace ripple::app
