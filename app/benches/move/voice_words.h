#pragma once

#include "motion/compose_score.h"
#include "motion/kinds.h"
#include "mesh/bounds.h"

#include <QString>

#include <functional>
#include <vector>

namespace ripple::app {

// A voice as a sentence, and what each of its words may become.

QString courseWords(const motion::Voice& voice);
QString shapeWords(const motion::Voice& voice);
QString pushWords(const motion::Voice& voice);
QString maskWords(const motion::Voice& voice);
QString turnWords(const motion::Voice& voice);
/// What one term holds: "the bottom", "U", "painted red".
QString termWords(const motion::MaskTerm& term);

/// "runs along <height>, as a <sine>, pushes <up and down>, held by <the low end>; <2 turns>", with the words
/// in brackets as links to "course", "shape", "push", "mask" and "turns".
QString voiceSentence(const motion::Voice& voice, const QString& linkColour);

/// One of the things that a part of a voice may become.
struct Becomes {
    QString words;
    std::function<void(motion::Voice&)> change;
    bool now = false; ///< it is that already
};
/// Lengths and places are taken from the model's rest bounds.
std::vector<Becomes> courseChoices(const motion::Voice& voice, const motion::Model& model,
                                   const mesh::Bounds& rest);
std::vector<Becomes> shapeChoices(const motion::Voice& voice);
std::vector<Becomes> pushChoices(const motion::Voice& voice, const motion::Model& model,
                                 const mesh::Bounds& rest);
/// Terms that can be added, and the last one taken away.
std::vector<Becomes> maskChoices(const motion::Voice& voice, const motion::Model& model,
                                 const mesh::Bounds& rest);
/// Voices to begin with.
std::vector<motion::Voice> newVoices(const mesh::Bounds& rest);

} // namespace ripple::app
