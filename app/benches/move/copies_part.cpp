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
    if (phase.kind == PhaseKind::stored) {
        storedRow(rows, of);
    }
    rows.fields<motion::PhaseRow, motion::CopyPhase>(
        motion::rowOf(phase), phase, [](motion::Voice& v) { return &v.copyPhase; }, "copiesNote");
}

} // namespace ripple::app
