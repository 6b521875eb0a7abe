#include "app/benches/move/curve_editor.h"
#include "app/benches/move/voice_parts.h"
#include "app/session/score_edits.h"
#include "motion/fit.h"
#include "motion/noise.h"

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

/// A number of the shape that is one of its members, in `scale` of what is shown.
template <typename Member>
VoiceRows::Set shapeSetter(Member member) {
    return [member](motion::Voice& v, double x) {
        using Kept = std::remove_reference_t<decltype(v.shape.*member)>;
        v.shape.*member = static_cast<Kept>(std::lround(x));
    };
}

void pulseRows(VoiceRows& rows, const motion::Shape& shape) {
    const auto keepEdges = [](motion::Shape& of, double wanted) {
        of.softness = std::min(wanted, std::min(of.duty, 1.0 - of.duty));
    };
    rows.number({VoiceRows::tr("Duty cycle"), "duty", "%", 5, 95, 0, 1.0, 50.0}, 100.0 * shape.duty,
                VoiceRows::tr("of one turn"), [keepEdges](motion::Voice& v, double x) {
                    v.shape.duty = 0.01 * x;
                    keepEdges(v.shape, v.shape.softness);
                });
    rows.number({VoiceRows::tr("Edge softness"), "softness", "%", 1, 50, 0, 1.0, 10.0},
                100.0 * shape.softness, VoiceRows::tr("of one turn"),
                [keepEdges](motion::Voice& v, double x) { keepEdges(v.shape, 0.01 * x); });
}

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
    switch (shape.kind) {
    case motion::ShapeKind::sine:
    case motion::ShapeKind::triangle:
        break;
    case motion::ShapeKind::pulse:
        pulseRows(rows, shape);
        break;
    case motion::ShapeKind::crested:
        rows.number({VoiceRows::tr("Sharpness"), "sharpness", "", 1, 8, 0, 1.0, 3.0}, shape.sharpness, {},
                    shapeSetter(&motion::Shape::sharpness));
        break;
    case motion::ShapeKind::noise:
        rows.number({VoiceRows::tr("Detail"), "detail", "", 1, 64, 0, 1.0, 4.0}, shape.detail,
                    VoiceRows::tr("cells per wave"), shapeSetter(&motion::Shape::detail));
        rows.number({VoiceRows::tr("Seed"), "seed", "", 0, 9999, 0, 1.0, 1.0}, shape.seed, {},
                    shapeSetter(&motion::Shape::seed));
        break;
    case motion::ShapeKind::curve:
        curveRows(rows, of);
        break;
    }
    const auto range = motion::shapeRange(shape);
    const auto figure = [](double value) { return QString::number(value, 'f', 2).replace('-', "−"); };
    rows.words(
        "range",
        VoiceRows::tr("Swings from %1 to %2 with a mean of 0.").arg(figure(range[0]), figure(range[1])));
}

void sizeRows(VoiceRows& rows, const VoiceOnModel& of) {
    const motion::Voice& voice = of.voice;
    if (motion::isAngle(voice.push.kind)) {
        rows.number({VoiceRows::tr("Maximum angle"), "degrees", "°", -3600, 3600, 1, 1.0, 20.0},
                    voice.degrees, {}, [](motion::Voice& v, double x) { v.degrees = x; });
    } else if (voice.push.kind == motion::PushKind::cutOut) {
        rows.number({VoiceRows::tr("Alpha removed"), "amount", "%", 0, 100, 0, 1.0, 100.0},
                    100.0 * voice.amount, {}, [](motion::Voice& v, double x) { v.amount = 0.01 * x; });
    } else if (voice.push.kind == motion::PushKind::uvSlide) {
        rows.number({VoiceRows::tr("Amplitude"), "amplitude", "%", -1e5, 1e5, 2, 0.5, 5.0},
                    100.0 * voice.amplitude.value, VoiceRows::tr("of the UV range"),
                    [](motion::Voice& v, double x) {
                        v.amplitude = {0.01 * x, false};
                    });
    } else {
        rows.length({VoiceRows::tr("Amplitude"), "amplitude", "", -1e5, 1e5, 2, 1.0, 10.0}, voice.amplitude,
                    of.model.size, &motion::Voice::amplitude);
    }
    if (voice.course.kind == motion::CourseKind::uv) {
        rows.number({VoiceRows::tr("Wavelength"), "wavelength", "%", 0.01, 1e6, 1, 1.0, 100.0},
                    100.0 * voice.wavelength.value, VoiceRows::tr("of the UV range"),
                    [](motion::Voice& v, double x) {
                        v.wavelength = {0.01 * x, false};
                    });
    } else if (voice.course.kind != motion::CourseKind::unison) {
        rows.length({VoiceRows::tr("Wavelength"), "wavelength", "", 0.01, 1e6, 1, 1.0, 100.0},
                    voice.wavelength, of.model.size, &motion::Voice::wavelength);
    }
}

void paceRows(VoiceRows& rows, const VoiceOnModel& of) {
    const motion::Voice& voice = of.voice;
    const double seconds = of.loopSeconds;
    const double rate = voice.turns / seconds;
    rows.number({VoiceRows::tr("Turns per loop"),
                 "turns",
                 "turns",
                 -1000,
                 1000,
                 0,
                 1.0,
                 1.0,
                 {},
                 VoiceRows::tr("%1 turns per loop do not close; %2 or %3 do.")},
                voice.turns, VoiceRows::tr("%1 per second").arg(rate, 0, 'f', 2),
                [](motion::Voice& v, double x) {
                    v.turns = static_cast<int>(std::lround(x));
                    v.wishedRate = 0.0;
                });
    // What a person thinks in becomes whole turns, and what that changed stands beside it.
    const motion::Fit fit = motion::fitRate(voice.wishedRate, seconds);
    const bool fits = voice.wishedRate != 0.0 && fit.turns == voice.turns;
    const QString change =
        fits ? VoiceRows::tr("%1 % off, to close").arg(100.0 * fit.change(), 0, 'f', 1) : QString();
    rows.number(
        {VoiceRows::tr("Target rate"), "wishedRate", "Hz", -1000, 1000, 2, 0.05, 0.0, VoiceRows::tr("none")},
        voice.wishedRate, change, [seconds](motion::Voice& v, double x) {
            v.wishedRate = x;
            v.turns = x == 0.0 ? v.turns : motion::fitRate(x, seconds).turns;
        });
    if (voice.course.kind != motion::CourseKind::unison && voice.course.kind != motion::CourseKind::uv) {
        // A speed is a rate times a wavelength; typed, it becomes the rate that is wished for.
        const double wave = voice.wavelength.metres(of.model.size);
        rows.number({VoiceRows::tr("Wave speed"), "waveSpeed", "m/s", -1000, 1000, 2, 0.05, 0.0}, rate * wave,
                    {}, [seconds, wave](motion::Voice& v, double x) {
                        v.wishedRate = x / wave;
                        v.turns = x == 0.0 ? v.turns : motion::fitSpeed(x, wave, seconds).turns;
                    });
    }
    rows.number({VoiceRows::tr("Phase"), "phase", "turns", -1000, 1000, 2, 0.02, 0.0}, voice.phase, {},
                [](motion::Voice& v, double x) { v.phase = x; });
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
