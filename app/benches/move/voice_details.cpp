#include "app/benches/move/voice_details.h"

#include "app/benches/move/curve_editor.h"
#include "app/benches/move/voice_parts.h"
#include "app/look/theme.h"
#include "app/session/score_edits.h"
#include "app/session/words.h"

namespace ripple::app {

namespace {

enum Part { kSwing, kPlace, kHeld, kCopies };

} // namespace

VoiceDetails::VoiceDetails(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      name_(new QLineEdit),
      parts_(new SegmentedChoice({tr("Swing"), tr("Direction"), tr("Masks"), tr("Copies")})),
      rows_(new VoiceRows(session)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 6, 0, 0);
    column->setSpacing(6);
    name_->setObjectName("voiceName");
    name_->setProperty("role", "title");
    name_->setAccessibleName(tr("Name of the voice"));
    name_->setToolTip(tr("Click to rename the voice"));
    name_->setMaxLength(60);
    name_->setFocusPolicy(Qt::ClickFocus);
    parts_->setObjectName("voiceParts");
    parts_->setToolTips({tr("Amplitude, wavelength, turns per loop, and the shape of the wave"),
                         tr("Where the wave runs and which way it pushes"),
                         tr("What holds parts of the mesh still"), tr("How copies are set apart in phase")});
    column->addWidget(name_);
    column->addWidget(parts_);
    column->addWidget(rows_);
    parts_->show(kSwing);
    connect(parts_, &SegmentedChoice::picked, this, &VoiceDetails::refresh);
    connect(name_, &QLineEdit::editingFinished, this, &VoiceDetails::rename);
    connect(&session_.playhead(), &Playhead::moved, this, &VoiceDetails::moveOn);
    refresh();
}

void VoiceDetails::showPartOf(const QString& word) {
    parts_->show(word == "mask" ? kHeld : word == "shape" || word == "turns" ? kSwing : kPlace);
    refresh();
}

void VoiceDetails::rename() {
    const motion::Voice* voice = chosenVoice(session_);
    const std::string name = name_->text().trimmed().toStdString();
    if (voice && !name.empty() && name != voice->name) {
        editVoice(session_, voice->id, tr("Rename %1").arg(text(voice->name)),
                  [&](motion::Voice& v) { v.name = name; });
    }
    refresh();
    name_->clearFocus();
}

void VoiceDetails::moveOn() {
    const motion::Voice* voice = chosenVoice(session_);
    auto* editor = rows_->findChild<CurveEditor*>();
    if (voice && editor) {
        const int rate = session_.document().score.overall.rate;
        editor->setTurn(rate * voice->turns * session_.playhead().turn() + voice->phase);
    }
}

void VoiceDetails::refresh() {
    const motion::Voice* chosen = chosenVoice(session_);
    const auto source = session_.openedSource();
    setVisible(chosen && source);
    if (!chosen || !source) {
        return;
    }
    const motion::Voice voice = *chosen;
    if (!name_->hasFocus()) {
        name_->setText(text(voice.name));
    }
    const auto performance = session_.performance();
    const motion::Model model = performance ? performance->model() : motion::modelOf(source->mesh());
    const motion::Score& score = session_.document().score;
    const VoiceOnModel of{voice, model, score.loopSeconds / score.overall.rate, voiceColour(voiceIndex(score, voice.id))};
    switch (parts_->chosen()) {
    case kSwing:
        rows_->begin(voice, "swing " + swingKinds(of));
        swingRows(*rows_, of);
        moveOn();
        break;
    case kPlace:
        rows_->begin(voice, "place " + placeKinds(of));
        placeRows(*rows_, of);
        break;
    case kHeld:
        rows_->begin(voice, "held " + heldKinds(of));
        heldRows(*rows_, of, [this, id = voice.id] { Q_EMIT choiceWanted(id, "mask"); });
        break;
    case kCopies:
        rows_->begin(voice, "copies " + copiesKinds(of));
        copiesRows(*rows_, of);
        break;
    }
}

} // namespace ripple::app
