#include "app/benches/move/voice_parts.h"
#include "app/session/words.h"

#include <algorithm>

namespace ripple::app {

namespace {

using motion::PhaseKind;

void kindRow(VoiceRows& rows, const VoiceOnModel& of) {
    QStringList words;
    int chosen = 0;
    for (const auto& row : motion::phaseKinds()) {
        if (row.kind == PhaseKind::stored && of.model.stored.empty() &&
            of.voice.copyPhase.kind != PhaseKind::stored) {
            continue; // the mesh stores nothing; it is the last row
        }
        chosen = row.kind == of.voice.copyPhase.kind ? static_cast<int>(words.size()) : chosen;
        words << VoiceRows::tr(row.words);
    }
    const std::string first = of.model.stored.empty() ? std::string() : of.model.stored.front();
    rows.choice(VoiceRows::tr("Phase of copies"), "copies", words, chosen, [first](motion::Voice& v, int to) {
        v.copyPhase.kind = motion::phaseKinds()[static_cast<std::size_t>(to)].kind;
        if (v.copyPhase.kind == PhaseKind::stored && v.copyPhase.stored.empty()) {
            v.copyPhase.stored = first;
        }
    });
}

void storedRow(VoiceRows& rows, const VoiceOnModel& of) {
    QStringList names;
    for (const std::string& stored : of.model.stored) {
        names << text(stored);
    }
    const std::vector<std::string> all = of.model.stored;
    const auto at = std::find(all.begin(), all.end(), of.voice.copyPhase.stored);
    rows.choice(VoiceRows::tr("Stored value"), "copies stored", names,
                at == all.end() ? -1 : static_cast<int>(at - all.begin()),
                [all](motion::Voice& v, int to) { v.copyPhase.stored = all[static_cast<std::size_t>(to)]; });
}

} // namespace

QString copiesKinds(const VoiceOnModel& of) {
    // Another mesh stores other values.
    QString kinds = QString::number(static_cast<int>(of.voice.copyPhase.kind));
    for (const std::string& stored : of.model.stored) {
        kinds += " " + text(stored);
    }
    return kinds;
}

void copiesRows(VoiceRows& rows, const VoiceOnModel& of) {
    const motion::CopyPhase& phase = of.voice.copyPhase;
    kindRow(rows, of);
    const auto turns = [](motion::Voice& v, double x) { v.copyPhase.turns = x; };
    switch (phase.kind) {
    case PhaseKind::none:
        rows.words("copiesNote",
                   VoiceRows::tr("All copies move in unison. Give each a phase of its own by its number or "
                                 "by where it stands."));
        break;
    case PhaseKind::id:
        rows.number({VoiceRows::tr("Phase spread"), "copies turns", "turns", -1e4, 1e4, 2, 0.05, 1.0},
                    phase.turns, {}, turns);
        rows.words(
            "copiesNote",
            VoiceRows::tr("The phase grows by this from the copy with number 0 to the one with number 1."));
        break;
    case PhaseKind::world:
        rows.direction(VoiceRows::tr("Gust direction"), "copies direction", phase.direction,
                       [](motion::Voice& v, const glm::vec3& to) { v.copyPhase.direction = to; });
        rows.number({VoiceRows::tr("Gust wavelength"), "copies wavelength", "m", 0.001, 1e6, 2, 0.1, 10.0},
                    phase.wavelength, {}, [](motion::Voice& v, double x) { v.copyPhase.wavelength = x; });
        rows.words(
            "copiesNote",
            VoiceRows::tr("The phase runs over the ground from copy to copy, one turn in each wavelength."));
        break;
    case PhaseKind::stored:
        storedRow(rows, of);
        rows.number({VoiceRows::tr("Phase at value 1"), "copies turns", "turns", -1e4, 1e4, 2, 0.05, 1.0},
                    phase.turns, {}, turns);
        rows.words("copiesNote", VoiceRows::tr("Parts of one mesh move apart, as the stems of a clump do."));
        break;
    }
}

} // namespace ripple::app
