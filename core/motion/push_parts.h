#pragma once

// What the rows of pushes are made of; not for use outside this folder.

#include "motion/kinds.h"
#include "motion/voice_build.h"

#include <algorithm>

namespace ripple::motion {

// How far a push goes.
constexpr double kFurthest = 1e4; // in percent of the model's size, a hundred times that
constexpr Field<Voice> kAmplitude{"amplitude", "Amplitude", FieldUnit::length, &Voice::amplitude, -kFurthest,
                                  kFurthest,   0.1};
constexpr Field<Voice> kAngle{"angle", "Maximum angle", FieldUnit::degrees, &Voice::degrees, -3600.0, 3600.0,
                              20.0};

// Where it goes.
constexpr Field<Push> point(const char* label, const char* caption) {
    return {"push point", label, FieldUnit::point, &Push::point, 0, 0, 0, "", "pivot", caption};
}
/// Runs along the direction that stands before it in the row.
constexpr Field<Push> kSpan{"span", "Bent length", FieldUnit::length, &Push::span, 1e-4, 1e4, 1.0,
                            "",     "span",        "bent length"};
constexpr Field<Push> kBentLength{
    "bent length", "Bends along", FieldUnit::direction, &Push::length, 0, 0, 0, "", "length",
    "bends along", true};

inline Push ofKind(PushKind kind, const glm::vec3& direction = {0.0f, 0.0f, 1.0f}) {
    Push push;
    push.kind = kind;
    push.direction = direction;
    return push;
}

inline Start<Push> startOf(const Push& push) {
    return {push, rowOf(push).phrase(push)};
}

/// At least a twentieth of the model's size: a flat model has no height to bend.
inline Length spanOf(const Model& model, float extent) {
    return {std::max(static_cast<double>(extent), 0.05 * model.size), false};
}

inline Setting amplitude(const BuildContext& at, const Voice& voice) {
    return at.setting("amplitude", voice.amplitude) * at.strength();
}

// Rows: movers.cpp
PushRow shoveRow();
PushRow asideRow();

} // namespace ripple::motion
