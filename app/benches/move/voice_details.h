#pragma once

#include "app/benches/move/voice_rows.h"
#include "app/look/segmented_choice.h"
#include "app/session/session.h"

#include <QLineEdit>

namespace ripple::app {

/// The voice that is being worked on: its name, and its numbers in four parts of which one is shown.
class VoiceDetails : public QWidget {
    Q_OBJECT
public:
    explicit VoiceDetails(Session& session, QWidget* parent = nullptr);
    void refresh();
    /// The part in which a word of its sentence ("course", "shape", "push", "mask", "turns") has its numbers.
    void showPartOf(const QString& word);

Q_SIGNALS:
    /// Another choice for a word of the sentence is asked for.
    void choiceWanted(unsigned voice, const QString& word);

private:
    void rename();
    void moveOn();

    Session& session_;
    QLineEdit* name_;
    SegmentedChoice* parts_;
    VoiceRows* rows_;
};

} // namespace ripple::app
