#include "app/session/score_edits.h"

#include "app/session/words.h"
#include "motion/kinds.h"
#include "motion/ready_scores.h"

#include <algorithm>
#include <cmath>

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace ripple::app {

namespace {

unsigned freshId(const motion::Score& score) {
    unsigned most = 0;
    for (const motion::Voice& voice : score.voices) {
        most = std::max(most, voice.id);
    }
    return most + 1;
}

} // namespace

const motion::Voice* voiceById(const motion::Score& score, unsigned id) {
    const std::size_t at = voiceIndex(score, id);
    return at < score.voices.size() ? &score.voices[at] : nullptr;
}

std::size_t voiceIndex(const motion::Score& score, unsigned id) {
    const auto found = std::find_if(score.voices.begin(), score.voices.end(),
                                    [id](const motion::Voice& voice) { return voice.id == id; });
    return static_cast<std::size_t>(found - score.voices.begin());
}

const motion::Voice* chosenVoice(const Session& session) {
    return chosenVoice(session.document());
}

const motion::Voice* chosenVoice(const project::Document& document) {
    const motion::Score& score = document.score;
    const motion::Voice* voice = voiceById(score, document.view.voice);
    return voice ? voice : score.voices.empty() ? nullptr : &score.voices.front();
}

void chooseVoice(Session& session, unsigned id) {
    session.look([id](project::View& view) { view.voice = id; });
}

void editVoice(Session& session, unsigned id, const QString& text,
               const std::function<void(motion::Voice&)>& change, int gesture) {
    session.edit(
        text,
        [&](project::Document& d) {
            const std::size_t at = voiceIndex(d.score, id);
            if (at < d.score.voices.size()) {
                change(d.score.voices[at]);
            }
        },
        gesture);
}

void setParameters(Session& session, unsigned voice, const std::vector<std::string>& fields, bool on,
                   const QString& name) {
    session.edit(on ? QObject::tr("Make %1 a parameter").arg(name)
                    : QObject::tr("Make %1 a plain number").arg(name),
                 [&](project::Document& d) {
                     for (const std::string& field : fields) {
                         const auto number = motion::adjustableAt(d.score, voice, field);
                         if (on && number && !motion::parameterAt(d.score, voice, field)) {
                             d.score.parameters.push_back(motion::parameterOf(d.score, *number));
                         } else if (!on) {
                             std::erase_if(d.score.parameters, [&](const motion::Parameter& each) {
                                 return each.voice == voice && each.field == field;
                             });
                         }
                     }
                 });
}

void editParameter(Session& session, const std::string& name, const QString& text,
                   const std::function<void(motion::Parameter&)>& change, int gesture) {
    session.edit(
        text,
        [&](project::Document& d) {
            for (motion::Parameter& each : d.score.parameters) {
                if (each.name == name) {
                    change(each);
                    return;
                }
            }
        },
        gesture);
}

void moveParameter(Session& session, const std::string& name, std::size_t place) {
    session.edit(QObject::tr("Reorder parameters"), [&](project::Document& d) {
        auto& all = d.score.parameters;
        const auto found = std::find_if(all.begin(), all.end(),
                                        [&](const motion::Parameter& each) { return each.name == name; });
        if (found != all.end()) {
            const motion::Parameter moved = *found;
            all.erase(found);
            all.insert(all.begin() + static_cast<std::ptrdiff_t>(std::min(place, all.size())), moved);
        }
    });
}

void setScoreNumber(Session& session, const motion::Adjustable& number, double value, const QString& text,
                    int gesture) {
    session.edit(
        text,
        [&](project::Document& d) { motion::setAdjustable(d.score, number.voice, number.field, value); },
        gesture);
}

void turnWind(Session& session, double degrees, int gesture) {
    const auto heading = motion::adjustableAt(session.document().score, 0, "heading");
    double to = heading->value + degrees;
    to -= 360.0 * std::floor((to + 180.0) / 360.0); // −180 to 180
    setScoreNumber(session, *heading, std::round(to * 10.0) / 10.0, QObject::tr("Turn the wind"), gesture);
}

void addVoice(Session& session, motion::Voice voice) {
    voice.id = freshId(session.document().score);
    const unsigned id = voice.id;
    session.edit(QObject::tr("Add %1").arg(text(voice.name)), [&](project::Document& d) {
        if (d.score.voices.empty() && d.score.name.empty()) {
            d.score.name = d.assetName() + " motion";
        }
        d.score.voices.push_back(std::move(voice));
    });
    chooseVoice(session, id);
}

void duplicateVoice(Session& session, unsigned id) {
    const motion::Voice* from = voiceById(session.document().score, id);
    if (!from) {
        return;
    }
    motion::Voice copy = *from;
    copy.id = freshId(session.document().score);
    copy.solo = false;
    copy.name += " 2";
    const unsigned own = copy.id;
    session.edit(QObject::tr("Duplicate %1").arg(text(from->name)), [&](project::Document& d) {
        const auto at = static_cast<std::ptrdiff_t>(voiceIndex(d.score, id));
        d.score.voices.insert(d.score.voices.begin() + at + 1, copy);
    });
    chooseVoice(session, own);
}

void removeVoice(Session& session, unsigned id) {
    const motion::Voice* from = voiceById(session.document().score, id);
    if (from) {
        session.edit(QObject::tr("Remove %1").arg(text(from->name)), [id](project::Document& d) {
            std::erase_if(d.score.voices, [id](const motion::Voice& voice) { return voice.id == id; });
        });
    }
}

void moveVoice(Session& session, unsigned id, std::size_t place) {
    const std::size_t from = voiceIndex(session.document().score, id);
    if (from >= session.document().score.voices.size() || place == from || place == from + 1) {
        return;
    }
    session.edit(QObject::tr("Reorder voices"), [&](project::Document& d) {
        auto& voices = d.score.voices;
        const motion::Voice voice = voices[from];
        voices.erase(voices.begin() + static_cast<std::ptrdiff_t>(from));
        const std::size_t to = std::min(place > from ? place - 1 : place, voices.size());
        voices.insert(voices.begin() + static_cast<std::ptrdiff_t>(to), voice);
    });
}

void takeScore(Session& session, motion::Score score) {
    motion::giveIds(score); // a file may repeat them
    session.edit(QObject::tr("Open the score %1").arg(text(score.name)),
                 [&](project::Document& d) { d.score = score; });
}

void takeReady(Session& session, const char* id) {
    const auto source = session.openedSource();
    for (const motion::ReadyScore& ready : motion::readyScores()) {
        if (source && std::string(ready.id) == id) {
            session.edit(QObject::tr("Ready-made score %1").arg(ready.name),
                         [&](project::Document& d) { d.score = motion::makeReady(ready, source->mesh()); });
        }
    }
}

namespace {

/// X, then Y, then Z; slants become X.
glm::vec3 nextAxis(const glm::vec3& direction) {
    const glm::vec3 size = glm::abs(direction);
    const bool x = size.y < 1e-4f * size.x && size.z < 1e-4f * size.x;
    const bool y = size.x < 1e-4f * size.y && size.z < 1e-4f * size.y;
    return x ? glm::vec3(0, 1, 0) : y ? glm::vec3(0, 0, 1) : glm::vec3(1, 0, 0);
}

void editChosen(Session& session, const QString& what, const std::function<void(motion::Voice&)>& change) {
    if (const motion::Voice* voice = chosenVoice(session)) {
        editVoice(session, voice->id, QString("%1: %2").arg(text(voice->name), what), change);
    }
}

} // namespace

void flipMask(Session& session) {
    editChosen(session, QObject::tr("flip the mask"), [](motion::Voice& voice) {
        if (!voice.heldBy.empty()) {
            voice.heldBy.back().flip = !voice.heldBy.back().flip;
        }
    });
}

void nextCourseAxis(Session& session) {
    editChosen(session, QObject::tr("run along the next axis"), [](motion::Voice& voice) {
        const auto& fields = motion::rowOf(voice.course).fields;
        const bool straight = std::ranges::any_of(
            fields, [](const auto& field) { return field.unit == motion::FieldUnit::direction; });
        if (voice.course.kind == motion::CourseKind::uv) {
            voice.course.uvAxis = 1 - voice.course.uvAxis;
        } else if (straight) {
            voice.course.direction = nextAxis(voice.course.direction);
        } else {
            voice.course.kind = motion::CourseKind::direction;
            voice.course.direction = {1, 0, 0};
        }
    });
}

void nextPushAxis(Session& session) {
    editChosen(session, QObject::tr("push along the next axis"), [](motion::Voice& voice) {
        motion::Push& push = voice.push;
        push.direction = nextAxis(push.direction);
        if (push.kind == motion::PushKind::bend &&
            glm::length(glm::cross(push.direction, push.length)) < 1e-3f) {
            push.direction = nextAxis(push.direction); // a hinge lies across what it bends
        }
    });
}

void toggleSolo(Session& session) {
    editChosen(session, QObject::tr("solo"), [](motion::Voice& voice) { voice.solo = !voice.solo; });
}

void toggleMute(Session& session) {
    editChosen(session, QObject::tr("mute"), [](motion::Voice& voice) { voice.muted = !voice.muted; });
}

void nextVoice(Session& session) {
    const auto& voices = session.document().score.voices;
    if (const motion::Voice* voice = chosenVoice(session)) {
        const std::size_t at = voiceIndex(session.document().score, voice->id);
        chooseVoice(session, voices[(at + 1) % voices.size()].id);
    }
}

} // namespace ripple::app
