#include "app/benches/move/curve_editor.h"
#include "app/benches/move/voice_parts.h"
#include "app/session/score_edits.h"
#include "motion/fit.h"
#include "motion/noise.h"

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

void curveRows(VoiceRows& rows, const VoiceOnModel& of) {
    const motion::Voice& voice = of.voice;
    auto* editor = static_cast<CurveEditor*>(rows.own([&rows, id = voice.id] {
        auto* made = new CurveEditor;
        QObject::connect(made, &CurveEditor::edited, &rows,
                         [&rows, id](const std::vector<float>& values, bool continuing) {
                             rows.editVoice(
                                 id, VoiceRows::tr("Draw the curve"),
                                 [&](motion::Voice& v) { v.shape.curve = values; }, continuing);
                         });
        return made;
    }));
    editor->setCurve(voice.shape.curve, of.colour);
    rows.number({VoiceRows::tr("Curve points"), "points", "", 3, 32, 0, 1.0, 8.0},
                static_cast<double>(voice.shape.curve.size()), {}, [](motion::Voice& v, double x) {
                    v.shape.curve =
                        motion::resampledCurve(v.shape.curve, static_cast<std::size_t>(std::lround(x)));
                });
}

void shapeRows(VoiceRows& rows, const VoiceOnModel& of) {
    const motion::Shape& shape = of.voice.shape;
    const motion::ShapeRow& row = motion::rowOf(shape);
    rows.fields<motion::ShapeRow, motion::Shape>(
        row, shape, [](motion::Voice& v) { return &v.shape; }, "shapeNote", row.settle);
    if (shape.kind == motion::ShapeKind::curve) {
        curveRows(rows, of);
    }
    const auto range = row.range(shape);
    const auto figure = [](double value) { return QString::number(value, 'f', 2).replace('-', "−"); };
    rows.words(
        "range",
        VoiceRows::tr("Swings from %1 to %2 with a mean of 0.").arg(figure(range[0]), figure(range[1])));
}

motion::Voice* itself(motion::Voice& voice) {
    return &voice;
}

void sizeRows(VoiceRows& rows, const VoiceOnModel& of) {
    const motion::Voice& voice = of.voice;
    rows.field<motion::Voice>(motion::rowOf(voice.push).size, voice, itself);
    if (const auto& wavelength = motion::rowOf(voice.course).wavelength) {
        rows.field<motion::Voice>(*wavelength, voice, itself);
    }
}

void paceRows(VoiceRows& rows, const VoiceOnModel& of) {
    const motion::Voice& voice = of.voice;
    const double seconds = of.loopSeconds;
    const double rate = voice.turns / seconds;
    const motion::Field<motion::Voice>& turns = motion::turnsField();
    const motion::Field<motion::Voice>& wished = motion::wishedRateField();
    rows.number({VoiceRows::tr(turns.label),
                 turns.id,
                 "turns",
                 turns.least,
                 turns.most,
                 0,
                 1.0,
                 1.0,
                 {},
                 VoiceRows::tr("%1 turns per loop do not close; %2 or %3 do."),
                 turns.id},
                voice.turns, VoiceRows::tr("%1 Hz").arg(rate, 0, 'f', 2), [](motion::Voice& v, double x) {
                    v.turns = static_cast<int>(std::lround(x));
                    v.wishedRate = 0.0;
                });
    // What a person thinks in becomes whole turns, and what that changed stands beside it.
    const motion::Fit fit = motion::fitRate(voice.wishedRate, seconds);
    const bool fits = voice.wishedRate != 0.0 && fit.turns == voice.turns;
    const QString change =
        fits ? VoiceRows::tr("%1 % off, to close").arg(100.0 * fit.change(), 0, 'f', 1) : QString();
    rows.number({VoiceRows::tr(wished.label), "wishedRate", "Hz", wished.least, wished.most, 2, 0.05, 0.0,
                 VoiceRows::tr("none")},
                voice.wishedRate, change, [seconds](motion::Voice& v, double x) {
                    v.wishedRate = x;
                    v.turns = x == 0.0 ? v.turns : motion::fitRate(x, seconds).turns;
                });
    const auto& wavelength = motion::rowOf(voice.course).wavelength;
    if (wavelength && wavelength->unit == motion::FieldUnit::length) {
        // A speed is a rate times a wavelength; typed, it becomes the rate that is wished for.
        const double wave = voice.wavelength.metres(of.model.size);
        rows.number({VoiceRows::tr("Wave speed"), "waveSpeed", "m/s", -1000, 1000, 2, 0.05, 0.0}, rate * wave,
                    {}, [seconds, wave](motion::Voice& v, double x) {
                        const motion::Fit typed = motion::fitSpeed(x, wave, seconds);
                        v.wishedRate = typed.wanted;
                        v.turns = x == 0.0 ? v.turns : typed.turns;
                    });
    }
    rows.field<motion::Voice>(motion::phaseField(), voice, itself);
}

} // namespace

QString swingKinds(const VoiceOnModel& of) {
    return QString("%1 %2 %3 %4 %5")
        .arg(static_cast<int>(of.voice.push.kind))
        .arg(static_cast<int>(of.voice.shape.kind))
        .arg(static_cast<int>(of.voice.course.kind))
        .arg(of.voice.amplitude.ofSize)
        .arg(of.voice.wavelength.ofSize);
}

void swingRows(VoiceRows& rows, const VoiceOnModel& of) {
    sizeRows(rows, of);
    paceRows(rows, of);
    shapeRows(rows, of);
}

} // namespace ripple::app
