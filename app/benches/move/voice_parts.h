#pragma once

#include "app/benches/move/voice_rows.h"
#include "motion/compose_score.h"

namespace ripple::app {

/// What the rows of a voice are made from.
struct VoiceOnModel {
    const motion::Voice& voice;
    const motion::Model& model;
    double loopSeconds = 1.0;
    QColor colour;
};

/// The parts of a voice's numbers, each the rows of one page. `kinds()` says what a page's rows depend on.

QString swingKinds(const VoiceOnModel& of);
/// How far, how long, how often, and the shape.
void swingRows(VoiceRows& rows, const VoiceOnModel& of);

QString placeKinds(const VoiceOnModel& of);
/// Where the wave runs and which way it pushes: directions, points, pivots.
void placeRows(VoiceRows& rows, const VoiceOnModel& of);

QString heldKinds(const VoiceOnModel& of);
/// Every term of what holds it. `more` asks for another.
void heldRows(VoiceRows& rows, const VoiceOnModel& of, const std::function<void()>& more);

QString copiesKinds(const VoiceOnModel& of);
/// What sets copies apart.
void copiesRows(VoiceRows& rows, const VoiceOnModel& of);

} // namespace ripple::app
