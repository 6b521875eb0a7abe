#pragma once

#include "app/session/session.h"
#include "motion/parameter.h"

#include <functional>

namespace ripple::app {

// Changes to the score, each one undo step; voices go by their ids.

const motion::Voice* voiceById(const motion::Score& score, unsigned id);
/// The voice that is being worked on: the one chosen, else the first; null without voices.
const motion::Voice* chosenVoice(const Session& session);
const motion::Voice* chosenVoice(const project::Document& document);
std::size_t voiceIndex(const motion::Score& score, unsigned id);
void chooseVoice(Session& session, unsigned id);

void editVoice(Session& session, unsigned id, const QString& text,
               const std::function<void(motion::Voice&)>& change, int gesture = 0);
/// Makes numbers of a voice (0: what all voices follow) parameters, or plain numbers again. `name`: what a
/// person calls them.
void setParameters(Session& session, unsigned voice, const std::vector<std::string>& fields, bool on,
                   const QString& name);
/// Changes the parameter of this name.
void editParameter(Session& session, const std::string& name, const QString& text,
                   const std::function<void(motion::Parameter&)>& change, int gesture = 0);
/// To another place among the parameters, counted without itself.
void moveParameter(Session& session, const std::string& name, std::size_t place);
/// Gives a number another value.
void setScoreNumber(Session& session, const motion::Adjustable& number, double value, const QString& text,
                    int gesture);
/// Turns the wind's heading by so many degrees.
void turnWind(Session& session, double degrees, int gesture);
/// Adds a voice after the others, with a number of its own, and chooses it.
void addVoice(Session& session, motion::Voice voice);
void duplicateVoice(Session& session, unsigned id);
void removeVoice(Session& session, unsigned id);
/// Before the voice that is at `place` now; its size: to the end.
void moveVoice(Session& session, unsigned id, std::size_t place);
/// Replaces the score.
void takeScore(Session& session, motion::Score score);
/// Replaces the score by a ready-made one, made to the opened model's measure.
void takeReady(Session& session, const char* id);

/// Changes to the voice that is worked on, as single keys make them.
void flipMask(Session& session);
void nextCourseAxis(Session& session);
void nextPushAxis(Session& session);
void toggleSolo(Session& session);
void toggleMute(Session& session);
void nextVoice(Session& session);

} // namespace ripple::app
