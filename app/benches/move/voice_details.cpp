#include "app/benches/move/voice_details.h"

#include "app/shell/score_edits.h"
#include "app/benches/move/voice_words.h"
#include "app/shell/panel_parts.h"
#include "app/shell/tick_box.h"
#include "app/shell/words.h"
#include "base/units.h"
#include "motion/fit.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QSignalBlocker>

#include <cmath>

namespace ripple::app {

namespace {

/// A length shown in centimetres, or in percent of the size.
double shown(const motion::Length& length) {
    return length.value * 100.0;
}
QString unitOf(const motion::Length& length) {
    return length.ofSize ? "%" : "cm";
}

} // namespace

VoiceDetails::VoiceDetails(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      column_(new QVBoxLayout(this)) {
    column_->setContentsMargins(0, 4, 0, 0);
    column_->setSpacing(5);
    refresh();
}

QString VoiceDetails::kindOf(const motion::Voice& voice) const {
    QString kind = QString("%1 %2 %3 %4 %5 %6")
                       .arg(voice.id)
                       .arg(static_cast<int>(voice.push.kind))
                       .arg(static_cast<int>(voice.shape.kind))
                       .arg(static_cast<int>(voice.course.kind))
                       .arg(voice.amplitude.ofSize)
                       .arg(voice.wavelength.ofSize);
    for (const motion::MaskTerm& term : voice.heldBy) {
        kind += QString(" m%1").arg(static_cast<int>(term.kind));
    }
    return kind;
}

NumberField* VoiceDetails::row(const QString& name, const char* object, const QString& unit, double low,
                               double high, int decimals, double value, const QString& beside,
                               const Change& change) {
    if (filling_) { // the rows are there: only their numbers are new
        Row& kept = rows_[next_++];
        kept.change = change; // of the loop and the wave as they are now
        kept.field->setValue(value);
        kept.beside->setText(beside);
        return kept.field;
    }
    auto* field = new NumberField;
    field->setObjectName(object);
    field->setFixedWidth(92);
    field->setRange(low, high);
    field->setDecimals(decimals);
    field->setUnit(unit);
    field->setDefault(value);
    field->setValue(value);
    auto* words = quietLabel(beside);
    words->setWordWrap(false);
    auto* both = new QWidget;
    auto* line = new QHBoxLayout(both);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(8);
    line->addWidget(words);
    line->addWidget(field);
    column_->addWidget(labelledRow(name, both));
    const std::size_t index = rows_.size();
    rows_.push_back({field, words, change});
    const motion::Voice* voice = chosenVoice(session_);
    connect(field, &NumberField::edited, this, [this, id = voice->id, name, index](double v, bool more) {
        const Change change = rows_[index].change; // the edit fills the rows anew
        editVoice(
            session_, id, name, [&](motion::Voice& of) { change(of, v); }, session_.gesture(more));
    });
    return field;
}

void VoiceDetails::addShapeRows(const motion::Voice& voice) {
    const motion::Shape& shape = voice.shape;
    if (shape.kind == motion::ShapeKind::pulse) {
        row(tr("Up for"), "duty", "%", 5, 95, 0, 100.0 * shape.duty, tr("of a turn"),
            [](motion::Voice& v, double x) {
                v.shape.duty = 0.01 * x;
                v.shape.softness = std::min(v.shape.softness, std::min(v.shape.duty, 1.0 - v.shape.duty));
            });
        row(tr("Edges"), "softness", "%", 1, 50, 0, 100.0 * shape.softness, tr("of a turn"),
            [](motion::Voice& v, double x) {
                v.shape.softness = std::min(0.01 * x, std::min(v.shape.duty, 1.0 - v.shape.duty));
            });
    }
    if (shape.kind == motion::ShapeKind::crested) {
        row(tr("Sharpness"), "sharpness", "", 1, 8, 0, shape.sharpness, {},
            [](motion::Voice& v, double x) { v.shape.sharpness = static_cast<int>(std::lround(x)); });
    }
    if (shape.kind == motion::ShapeKind::noise) {
        row(tr("Detail"), "detail", "", 1, 64, 0, shape.detail, tr("cells a wave"),
            [](motion::Voice& v, double x) { v.shape.detail = static_cast<int>(std::lround(x)); });
        row(tr("Seed"), "seed", "", 0, 9999, 0, shape.seed, {},
            [](motion::Voice& v, double x) { v.shape.seed = static_cast<std::uint32_t>(std::lround(x)); });
    }
    const auto range = motion::shapeRange(shape);
    const QString words =
        tr("Swings from %1 to %2, its mean is 0").arg(range[0], 0, 'f', 2).arg(range[1], 0, 'f', 2);
    if (!filling_) {
        auto* label = quietLabel(words);
        label->setObjectName("range");
        column_->addWidget(label);
    } else if (auto* label = findChild<QLabel*>("range")) {
        label->setText(words);
    }
}

void VoiceDetails::addMaskRows(const motion::Voice& voice) {
    if (!filling_ && !voice.heldBy.empty()) {
        column_->addWidget(sectionLabel(tr("Held by")));
    }
    for (std::size_t t = 0; t < voice.heldBy.size(); ++t) {
        const motion::MaskTerm& term = voice.heldBy[t];
        const bool metres = term.kind == motion::MaskKind::planes || term.kind == motion::MaskKind::point ||
                            term.kind == motion::MaskKind::line;
        const double scale = metres ? 100.0 : 1.0;
        const QString unit = metres ? "cm" : "";
        const QString number = voice.heldBy.size() > 1 ? QString(" %1").arg(t + 1) : QString();
        const auto change = [t](auto member, double factor) {
            return [t, member, factor](motion::Voice& v, double x) {
                if (t < v.heldBy.size()) {
                    v.heldBy[t].*member = x / factor;
                }
            };
        };
        row(tr("Still at") + number, qPrintable(QString("low %1").arg(t)), unit, -1e5, 1e5, 1,
            scale * term.low, {}, change(&motion::MaskTerm::low, scale));
        row(tr("Free at") + number, qPrintable(QString("high %1").arg(t)), unit, -1e5, 1e5, 1,
            scale * term.high, {}, change(&motion::MaskTerm::high, scale));
        row(tr("Floor") + number, qPrintable(QString("floor %1").arg(t)), "%", 0, 100, 0, 100.0 * term.floor,
            term.flip ? tr("flipped") : QString(), change(&motion::MaskTerm::floor, 100.0));
    }
}

void VoiceDetails::rebuild(const motion::Voice& voice) {
    emptyLayout(column_);
    rows_.clear();
    built_ = kindOf(voice);
    filling_ = false;
    column_->addWidget(sectionLabel(text(voice.name)));
}

void VoiceDetails::refresh() {
    const motion::Voice* chosen = chosenVoice(session_);
    setVisible(chosen != nullptr);
    if (!chosen) {
        built_.clear();
        emptyLayout(column_);
        rows_.clear();
        return;
    }
    const motion::Voice voice = *chosen;
    filling_ = built_ == kindOf(voice);
    next_ = 0;
    if (!filling_) {
        rebuild(voice);
    }
    const auto performance = session_.performance();
    const auto source = session_.openedSource();
    const double size = performance ? performance->model().size
                        : source    ? motion::modelOf(source->mesh()).size
                                    : 1.0;
    if (motion::isAngle(voice.push.kind)) {
        row(tr("Angle"), "degrees", "°", -3600, 3600, 1, voice.degrees, tr("at most"),
            [](motion::Voice& v, double x) { v.degrees = x; });
    } else if (voice.push.kind == motion::PushKind::cutOut) {
        row(tr("Eats"), "amount", "%", 0, 100, 0, 100.0 * voice.amount, tr("at most"),
            [](motion::Voice& v, double x) { v.amount = 0.01 * x; });
    } else {
        const QString percent = voice.amplitude.ofSize
                                    ? text(base::lengthText(voice.amplitude.metres(size)))
                                    : tr("%1 % of size").arg(100.0 * voice.amplitude.value / size, 0, 'f', 1);
        row(tr("Amplitude"), "amplitude", unitOf(voice.amplitude), -1e5, 1e5, 2, shown(voice.amplitude),
            voice.push.kind == motion::PushKind::uvSlide ? tr("of the texture") : percent,
            [](motion::Voice& v, double x) { v.amplitude.value = 0.01 * x; });
    }
    if (voice.course.kind != motion::CourseKind::unison) {
        const bool uv = voice.course.kind == motion::CourseKind::uv;
        row(tr("Wavelength"), "wavelength", uv ? "%" : unitOf(voice.wavelength), 0.01, 1e6, 1,
            shown(voice.wavelength), uv ? tr("of the texture") : QString(),
            [](motion::Voice& v, double x) { v.wavelength.value = 0.01 * x; });
    }
    const double rate = voice.turns / session_.document().score.loopSeconds;
    row(tr("Turns in the loop"), "turns", "", -1000, 1000, 0, voice.turns,
        tr("%1 a second").arg(rate, 0, 'f', 2), [](motion::Voice& v, double x) {
            v.turns = static_cast<int>(std::lround(x));
            v.wishedRate = 0.0;
        });
    // What a person thinks in becomes whole turns, and what that changed stands beside it.
    const double seconds = session_.document().score.loopSeconds;
    const motion::Fit fit = motion::fitRate(voice.wishedRate, seconds);
    const bool fits = voice.wishedRate != 0.0 && fit.turns == voice.turns;
    const QString change = fits ? tr("%1 % to close").arg(100.0 * fit.change(), 0, 'f', 1) : QString();
    row(tr("Wished rate"), "wishedRate", "Hz", -1000, 1000, 2, voice.wishedRate, change,
        [seconds](motion::Voice& v, double x) {
            v.wishedRate = x;
            v.turns = x == 0.0 ? v.turns : motion::fitRate(x, seconds).turns;
        });
    const bool runs =
        voice.course.kind != motion::CourseKind::unison && voice.course.kind != motion::CourseKind::uv;
    if (runs) {
        // A speed is a rate times a wavelength; typed, it becomes the rate that is wished for.
        const double wave = voice.wavelength.metres(size);
        row(tr("Speed"), "waveSpeed", "m/s", -1000, 1000, 2, rate * wave, tr("of the wave"),
            [seconds, wave](motion::Voice& v, double x) {
                const motion::Fit whole = motion::fitSpeed(x, wave, seconds);
                v.wishedRate = x / wave;
                v.turns = x == 0.0 ? v.turns : whole.turns;
            });
    }
    row(tr("Phase"), "phase", "", -1000, 1000, 2, voice.phase, tr("turns"),
        [](motion::Voice& v, double x) { v.phase = x; });
    addShapeRows(voice);
    addMaskRows(voice);
    filling_ = false;
}

} // namespace ripple::app
