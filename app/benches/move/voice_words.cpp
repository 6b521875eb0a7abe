#include "app/benches/move/voice_words.h"

#include "app/session/words.h"

#include <QCoreApplication>
#include <QStringList>

#include <algorithm>

namespace ripple::app {

/// The words of voices.
struct Voices {
    Q_DECLARE_TR_FUNCTIONS(Voices)
};

namespace {

QString said(const motion::Phrase& phrase) {
    const QString words = Voices::tr(phrase.words);
    return phrase.argument.empty() ? words : words.arg(text(phrase.argument));
}

} // namespace

QString termWords(const motion::MaskTerm& term) {
    return said(motion::rowOf(term).phrase(term));
}

QString courseWords(const motion::Voice& voice) {
    return said(motion::rowOf(voice.course).phrase(voice.course));
}

QString shapeWords(const motion::Voice& voice) {
    return Voices::tr(motion::rowOf(voice.shape).words);
}

QString pushWords(const motion::Voice& voice) {
    return said(motion::rowOf(voice.push).phrase(voice.push));
}

QString maskWords(const motion::Voice& voice) {
    if (voice.heldBy.empty()) {
        return Voices::tr("free everywhere");
    }
    QString words = termWords(voice.heldBy.front());
    for (std::size_t t = 1; t < voice.heldBy.size(); ++t) {
        words = Voices::tr("%1 and %2").arg(words, termWords(voice.heldBy[t]));
    }
    return Voices::tr("held %1").arg(words);
}

QString turnWords(const motion::Voice& voice) {
    const int turns = std::abs(voice.turns);
    return counted(voice.turns < 0 ? Voices::tr("%n turn(s) per loop, backward", nullptr, turns)
                                   : Voices::tr("%n turn(s) per loop", nullptr, turns),
                   static_cast<std::size_t>(turns));
}

QString voiceSentence(const motion::Voice& voice, const QString& colour) {
    const auto link = [&](const char* part, const QString& words) {
        return QString("<a href=\"%1\" style=\"color:%2\">%3</a>").arg(part, colour, words.toHtmlEscaped());
    };
    if (motion::rowOf(voice.push).followsMover) { // it has no wave
        return Voices::tr("It %1, %2.").arg(link("push", pushWords(voice)), link("mask", maskWords(voice)));
    }
    const QString runs =
        !motion::rowOf(voice.course).wavelength ? Voices::tr("Swings %1") : Voices::tr("Runs %1");
    return Voices::tr("%1 as %2, %3, %4, %5.")
        .arg(runs.arg(link("course", courseWords(voice))), link("shape", shapeWords(voice)),
             link("push", pushWords(voice)), link("mask", maskWords(voice)), link("turns", turnWords(voice)));
}

std::vector<Becomes> courseChoices(const motion::Voice& voice, const motion::Model& model,
                                   const mesh::Bounds& rest) {
    const auto inUv = [](const motion::Course& course) {
        const auto& wavelength = motion::rowOf(course).wavelength;
        return wavelength && wavelength->unit == motion::FieldUnit::uvLength;
    };
    std::vector<Becomes> all;
    for (const motion::CourseRow& row : motion::courseKinds()) {
        for (const auto& start : row.starts(model, rest)) {
            const auto change = [course = start.part, inUv, size = model.size](motion::Voice& v) {
                const bool other = inUv(v.course) != inUv(course);
                v.course = course;
                if (other) {
                    v.wavelength = {inUv(course) ? 1.0 : size, false}; // metres and UV units are not alike
                }
            };
            all.push_back({said(start.words), change, start.part == voice.course});
        }
    }
    return all;
}

std::vector<Becomes> shapeChoices(const motion::Voice& voice) {
    std::vector<Becomes> all;
    for (const motion::ShapeRow& row : motion::shapeKinds()) {
        all.push_back({Voices::tr(row.words), [kind = row.kind](motion::Voice& v) { v.shape.kind = kind; },
                       row.kind == voice.shape.kind});
    }
    return all;
}

std::vector<Becomes> pushChoices(const motion::Voice& voice, const motion::Model& model,
                                 const mesh::Bounds& rest) {
    std::vector<Becomes> all;
    for (const motion::PushRow& row : motion::pushKinds()) {
        for (const auto& start : row.starts(model, rest)) {
            const QString words = said(start.words);
            all.push_back({words, [push = start.part](motion::Voice& v) { v.push = push; },
                           row.kind == voice.push.kind && words == pushWords(voice)});
        }
    }
    return all;
}

std::vector<Becomes> maskChoices(const motion::Voice& voice, const motion::Model& model,
                                 const mesh::Bounds& rest) {
    std::vector<Becomes> all;
    for (const motion::MaskRow& row : motion::maskKinds()) {
        for (const auto& start : row.starts(model, rest)) {
            all.push_back({Voices::tr("hold %1").arg(said(start.words)),
                           [term = start.part](motion::Voice& v) { v.heldBy.push_back(term); }, false});
        }
    }
    if (!voice.heldBy.empty()) {
        all.push_back({Voices::tr("no longer held %1").arg(termWords(voice.heldBy.back())),
                       [](motion::Voice& v) { v.heldBy.pop_back(); }, false});
    }
    return all;
}

std::vector<motion::Voice> newVoices(const mesh::Bounds& rest) {
    const auto longest = [&] {
        const glm::vec3 size = rest.size();
        return size.x >= size.y && size.x >= size.z ? std::size_t(0) : size.y >= size.z ? 1 : 2;
    }();
    motion::Voice wave;
    wave.name = Voices::tr("Wave").toStdString();
    wave.course.direction = motion::unitAxis(longest);
    wave.push.direction = motion::unitAxis(longest == 1 ? 0 : 1);
    wave.amplitude = {0.05, true};
    wave.wavelength = {0.6, true};
    wave.turns = 2;
    motion::Voice sway = wave;
    sway.name = Voices::tr("Sway").toStdString();
    sway.course.kind = motion::CourseKind::unison;
    sway.turns = 1;
    sway.push.kind = motion::PushKind::bend;
    sway.push.direction = {0, 0, 1};
    sway.push.length = {0, 1, 0};
    sway.push.point = {rest.centre().x, rest.min.y, rest.centre().z};
    sway.push.span = {std::max(static_cast<double>(rest.size().y), 1e-3), false};
    sway.degrees = 12.0;
    motion::Voice tremble = wave;
    tremble.name = Voices::tr("Tremble").toStdString();
    tremble.shape.kind = motion::ShapeKind::noise;
    tremble.push.kind = motion::PushKind::normal;
    tremble.amplitude = {0.015, true};
    tremble.turns = 4;
    motion::Voice breath = wave;
    breath.name = Voices::tr("Breath").toStdString();
    breath.course.kind = motion::CourseKind::unison;
    breath.push.kind = motion::PushKind::normal;
    breath.amplitude = {0.02, true};
    breath.turns = 1;
    return {wave, sway, tremble, breath};
}

} // namespace ripple::app
