#include "app/benches/move/voice_parts.h"
#include "app/benches/move/voice_words.h"

#include <QPushButton>

namespace ripple::app {

namespace {

/// A change of term `t`, if the voice still has it.
template <typename Value, typename Change>
auto termSetter(std::size_t t, Change change) {
    return [t, change](motion::Voice& v, const Value& value) {
        if (t < v.heldBy.size()) {
            change(v.heldBy[t], value);
        }
    };
}

void choiceRows(VoiceRows& rows, const motion::MaskTerm& term, std::size_t t, const VoiceOnModel& of) {
    QStringList words;
    int chosen = 0;
    for (const auto& row : motion::easings()) {
        chosen = row.kind == term.easing ? static_cast<int>(words.size()) : chosen;
        words << VoiceRows::tr(row.words);
    }
    rows.choice(VoiceRows::tr("Transition"), QString("easing %1").arg(t), words, chosen,
                termSetter<int>(t, [](auto& m, int to) {
                    m.easing = motion::easings()[static_cast<std::size_t>(to)].kind;
                }));
    if (term.kind == motion::MaskKind::uv && of.model.uvSets > 1) {
        QStringList sets;
        for (std::size_t set = 0; set < of.model.uvSets; ++set) {
            sets << VoiceRows::tr("UV set %1").arg(set);
        }
        rows.choice(VoiceRows::tr("UV set"), QString("mask set %1").arg(t), sets,
                    static_cast<int>(term.uvSet),
                    termSetter<int>(t, [](auto& m, int to) { m.uvSet = static_cast<std::size_t>(to); }));
    }
    rows.tick(VoiceRows::tr("Flip the mask"), QString("flip %1").arg(t), term.flip,
              termSetter<bool>(t, [](auto& m, bool on) { m.flip = on; }));
}

} // namespace

QString heldKinds(const VoiceOnModel& of) {
    QString kinds = QString("%1 ").arg(of.model.uvSets);
    for (const motion::MaskTerm& term : of.voice.heldBy) {
        // Flipped, its ends change names.
        kinds += QString("%1%2 ").arg(static_cast<int>(term.kind)).arg(term.flip ? "f" : "");
    }
    return kinds;
}

void heldRows(VoiceRows& rows, const VoiceOnModel& of, const std::function<void()>& more) {
    for (std::size_t t = 0; t < of.voice.heldBy.size(); ++t) {
        const motion::MaskTerm& term = of.voice.heldBy[t];
        rows.heading(VoiceRows::tr("Held %1").arg(termWords(term)), VoiceRows::tr("remove"),
                     QString("let go %1").arg(t), [t](motion::Voice& v) {
                         if (t < v.heldBy.size()) {
                             v.heldBy.erase(v.heldBy.begin() + static_cast<std::ptrdiff_t>(t));
                         }
                     });
        const VoiceRows::FindPart<motion::MaskTerm> find = [t](motion::Voice& v) {
            return t < v.heldBy.size() ? &v.heldBy[t] : nullptr;
        };
        const auto fields = [&](const std::vector<motion::Field<motion::MaskTerm>>& all) {
            for (const motion::Field<motion::MaskTerm>& field : all) {
                rows.field<motion::MaskTerm>(field, term, find, nullptr, QString(" %1").arg(t),
                                             "mask " + std::to_string(t + 1) + " ");
            }
        };
        fields(motion::edgeFields(term));
        choiceRows(rows, term, t, of);
        fields(motion::rowOf(term).fields);
    }
    if (of.voice.heldBy.empty()) {
        rows.words("heldNote", VoiceRows::tr("No mask: the whole mesh moves, its root included."));
    } else if (of.voice.heldBy.size() > 1) {
        rows.words("heldNote", VoiceRows::tr("The masks are multiplied: where one holds, nothing moves."));
    }
    rows.own([more] {
        auto* add = new QPushButton(VoiceRows::tr("Add mask"));
        add->setObjectName("addHold");
        QObject::connect(add, &QPushButton::clicked, add, more);
        return add;
    });
}

} // namespace ripple::app
