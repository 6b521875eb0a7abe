#include "app/benches/move/voice_parts.h"
#include "app/benches/move/voice_words.h"

#include <QPushButton>

namespace ripple::app {

namespace {

using motion::MaskKind;

bool inMetres(MaskKind kind) {
    return kind == MaskKind::planes || kind == MaskKind::point || kind == MaskKind::line;
}

/// A change of term `t`, if the voice still has it.
template <typename Value, typename Change>
auto termSetter(std::size_t t, Change change) {
    return [t, change](motion::Voice& v, const Value& value) {
        if (t < v.heldBy.size()) {
            change(v.heldBy[t], value);
        }
    };
}

void numberRows(VoiceRows& rows, const motion::MaskTerm& term, std::size_t t, const VoiceOnModel& of) {
    const LengthUnit length = rows.unit();
    const double scale = inMetres(term.kind) ? length.perMetre : 1.0;
    const QString unit = inMetres(term.kind) ? length.name : "";
    const double step = inMetres(term.kind) ? VoiceRows::stepFor(scale * of.model.size) : 0.01;
    const int decimals = inMetres(term.kind) ? length.decimals : 3;
    const auto edge = [&](const QString& name, const char* object, double motion::MaskTerm::*member,
                          double reset) {
        rows.number({name, QString("%1 %2").arg(object).arg(t), unit, -1e5, 1e5, decimals, step, reset},
                    scale * term.*member, {},
                    termSetter<double>(t, [member, scale](auto& m, double x) { m.*member = x / scale; }));
    };
    edge(term.flip ? VoiceRows::tr("Full motion at") : VoiceRows::tr("No motion at"), "low",
         &motion::MaskTerm::low, 0.0);
    edge(term.flip ? VoiceRows::tr("No motion at") : VoiceRows::tr("Full motion at"), "high",
         &motion::MaskTerm::high, scale);
    rows.number({VoiceRows::tr("Minimum"), QString("floor %1").arg(t), "%", 0, 100, 0, 1.0, 0.0},
                100.0 * term.floor, term.floor > 0.0 ? VoiceRows::tr("always moves a little") : QString(),
                termSetter<double>(t, [](auto& m, double x) { m.floor = 0.01 * x; }));
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
    if (term.kind == MaskKind::uv && of.model.uvSets > 1) {
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

void placeRows(VoiceRows& rows, const motion::MaskTerm& term, std::size_t t) {
    if (!inMetres(term.kind)) {
        return;
    }
    const auto way = [t](glm::vec3 motion::MaskTerm::*member) {
        return termSetter<glm::vec3>(t, [member](auto& m, const glm::vec3& to) { m.*member = to; });
    };
    rows.point(VoiceRows::tr("From"), QString("mask point %1").arg(t), term.point,
               way(&motion::MaskTerm::point));
    if (term.kind != MaskKind::point) {
        rows.direction(VoiceRows::tr("Along"), QString("mask direction %1").arg(t), term.direction,
                       way(&motion::MaskTerm::direction));
    }
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
        numberRows(rows, term, t, of);
        choiceRows(rows, term, t, of);
        placeRows(rows, term, t);
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
