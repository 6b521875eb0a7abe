#include "app/benches/gather/source_facts.h"

#include "app/session/bench_state.h"
#include "app/look/panel_parts.h"
#include "app/look/tick_box.h"
#include "app/session/words.h"
#include "base/units.h"
#include "mesh/uv_sets.h"

#include <QComboBox>
#include <QCoreApplication>

#include <algorithm>
#include <cmath>
#include <utility>

namespace ripple::app {

/// The words of what is known of a source.
struct Facts {
    Q_DECLARE_TR_FUNCTIONS(Facts)
};

namespace {

constexpr std::size_t kMostRows = 12;

QString clipFacts(const source::Clip& clip, const inspect::ClipSurvey* survey) {
    QStringList facts;
    if (clip.isSequence()) {
        facts << Facts::tr("%n frame(s)", nullptr, static_cast<int>(clip.frames)); // the rate is below
    }
    facts << text(base::secondsText(clip.duration));
    if (clip.keyRate > 0.0) {
        facts << Facts::tr("keys %1 / s").arg(text(base::numberText(clip.keyRate)));
    }
    if (survey && survey->extent.frames > 1) {
        facts << (survey->extent.closed ? Facts::tr("closed") : Facts::tr("open"));
    }
    return facts.join(" · ");
}

QString uvFacts(const mesh::UvSetFacts& set) {
    QStringList facts;
    if (!set.usedBy.empty()) {
        facts << Facts::tr("base colour");
    } else {
        facts << (set.empty ? Facts::tr("empty") : Facts::tr("in use"));
    }
    if (set.overlap > 0.001) {
        facts << Facts::tr("%1 % overlaps").arg(std::max(1L, std::lround(100.0 * set.overlap)));
    }
    if (set.outside > 0) {
        facts << Facts::tr("outside 0..1");
    }
    return facts.join(" · ");
}

void takeMesh(Session& session, const std::string& name, bool taken) {
    session.edit(taken ? Facts::tr("Include mesh %1").arg(text(name))
                       : Facts::tr("Leave out mesh %1").arg(text(name)),
                 [&](project::Document& d) {
                     std::vector<std::string> names;
                     const auto meshes = session.source()->meshes();
                     bool all = true;
                     for (const source::MeshEntry& entry : meshes) {
                         const bool in = entry.name == name ? taken : entry.included;
                         all = all && in;
                         if (in) {
                             names.push_back(entry.name);
                         }
                     }
                     if (!names.empty()) { // one must stay
                         d.source.reading.meshes = all ? std::vector<std::string>() : names;
                     }
                 });
}

} // namespace

void addClipRows(Session& session, QVBoxLayout& column) {
    const auto clips = session.source()->clips();
    const auto survey = session.survey();
    column.addWidget(sectionLabel(Facts::tr("Clips")));
    for (std::size_t c = 0; c < std::min(clips.size(), kMostRows); ++c) {
        const inspect::ClipSurvey* known =
            survey && survey->clips[c].framesRead > 0 ? &survey->clips[c] : nullptr;
        column.addWidget(factRow(text(clips[c].name), clipFacts(clips[c], known)));
    }
    if (clips.size() > kMostRows) {
        column.addWidget(quietLabel(
            Facts::tr("and %n more clip(s)", nullptr, static_cast<int>(clips.size() - kMostRows))));
    }
}

namespace {

/// The first free set, or one that a person names.
QWidget* lookupChoice(Session& session) {
    auto* box = new QComboBox;
    box->setObjectName("lookupUvSet");
    box->setAccessibleName(Facts::tr("UV set for the lookup"));
    box->setFocusPolicy(Qt::StrongFocus);
    box->addItem(Facts::tr("first free one: %1").arg(mesh::freeUvSet(session.source()->mesh())));
    for (std::size_t set = 0; set <= mesh::kMostLookupUvSet; ++set) {
        box->addItem(Facts::tr("%1 (%2 counted from 1)").arg(set).arg(set + 1));
    }
    const auto& chosen = session.document().recipe.lookupUvSet;
    box->setCurrentIndex(chosen ? static_cast<int>(*chosen) + 1 : 0);
    QObject::connect(box, &QComboBox::activated, box, [&session](int index) {
        session.edit(Facts::tr("UV set for the lookup"), [index](project::Document& d) {
            d.recipe.lookupUvSet =
                index == 0 ? std::nullopt : std::optional(static_cast<std::size_t>(index - 1));
        });
    });
    return box;
}

} // namespace

void addUvRows(Session& session, QVBoxLayout& column) {
    const mesh::Mesh& mesh = session.source()->mesh();
    const auto& sets = session.meshFacts().uvSets;
    const auto& chosen = session.document().recipe.lookupUvSet;
    const std::size_t lookup = chosen.value_or(mesh::freeUvSet(mesh));
    column.addWidget(sectionLabel(Facts::tr("UV sets, counted from 0 (and from 1)")));
    for (std::size_t set = 0; set < std::max(sets.size(), lookup + 1); ++set) {
        const QString label = QString("%1 (%2)").arg(set).arg(set + 1);
        const bool conflict = set == lookup && mesh::isUvSetRead(mesh, set);
        if (set == lookup) {
            const bool replaced = set < sets.size() && !sets[set].free();
            column.addWidget(factRow(label,
                                     conflict   ? Facts::tr("lookup UVs go here, but a texture uses it")
                                     : replaced ? Facts::tr("replaced by the lookup UVs")
                                                : Facts::tr("free: lookup UVs go here"),
                                     conflict ? "brass" : "glass"));
        } else {
            column.addWidget(
                factRow(label, set < sets.size() ? uvFacts(sets[set]) : Facts::tr("filled with zeros")));
        }
    }
    column.addWidget(
        labelledRow(Facts::tr("UV set for the lookup"), lookupChoice(session),
                    Facts::tr("Each vertex finds its column in the baked textures by these UVs")));
    if (!mesh.tangents.empty()) {
        column.addWidget(factRow(Facts::tr("Tangents"), Facts::tr("present; Bake can store them")));
    }
    if (!mesh.colours.empty()) {
        column.addWidget(
            factRow(Facts::tr("Vertex colours"), Facts::tr("present; shown by the look Colours (O)")));
    }
}

void addMeshRows(Session& session, QVBoxLayout& column) {
    const auto source = session.source();
    const auto meshes = source->meshes();
    column.addWidget(sectionLabel(meshes.size() > 1 ? Facts::tr("Meshes, baked as one") : Facts::tr("Mesh")));
    for (std::size_t m = 0; m < std::min(meshes.size(), kMostRows); ++m) {
        const source::MeshEntry& entry = meshes[m];
        const QString facts =
            counted(Facts::tr("%n vertices", nullptr, static_cast<int>(entry.vertices)), entry.vertices);
        if (meshes.size() == 1) {
            column.addWidget(factRow(text(entry.name), facts));
            continue;
        }
        auto* row = new QWidget;
        auto* layout = new QHBoxLayout(row);
        layout->setContentsMargins(0, 0, 0, 0);
        auto* box = new TickBox(text(entry.name));
        box->setObjectName("mesh " + text(entry.name));
        box->setCheckable(true);
        box->setChecked(entry.included);
        QObject::connect(box, &TickBox::clicked, row,
                         [&session, name = entry.name](bool taken) { takeMesh(session, name, taken); });
        layout->addWidget(box);
        layout->addStretch(1);
        layout->addWidget(quietLabel(facts));
        column.addWidget(row);
    }
    if (meshes.size() > kMostRows) {
        column.addWidget(quietLabel(
            Facts::tr("and %n more mesh(es)", nullptr, static_cast<int>(meshes.size() - kMostRows))));
    }
    if (const std::size_t joints = source->joints().size(); joints > 0) {
        column.addWidget(factRow(Facts::tr("Skin"), Facts::tr("%n joint(s), up to %1 per vertex", nullptr,
                                                              static_cast<int>(joints))
                                                        .arg(source->influences())));
    }
    if (const auto morphs = source->morphs(); !morphs.empty()) {
        column.addWidget(factRow(Facts::tr("Morph targets"), QString::number(morphs.size())));
    }
}

void addFindingCards(Session& session, QVBoxLayout& column) {
    const auto source = session.source();
    bool headed = false;
    const auto head = [&column, &headed] {
        if (!std::exchange(headed, true)) {
            column.addWidget(sectionLabel(Facts::tr("Findings")));
        }
    };
    for (const OpenFinding& finding : openFindings(session)) {
        if (finding.bench != "gather") {
            continue;
        }
        head();
        const bool note = finding.lamp == Lamp::fine;
        auto* card = new Card(finding.title, note ? QString() : finding.words,
                              finding.lamp == Lamp::broken ? "broken"
                              : note                       ? "fine"
                                                           : "look");
        for (const OpenFix& fix : finding.fixes) {
            card->addFix(fix.label, fix.run);
        }
        if (finding.show) {
            card->setShow(finding.show);
        }
        if (note) {
            card->setToolTip(plainTip(finding.words));
        }
        column.addWidget(card);
    }
    const auto survey = session.survey();
    if (!source || !survey || !survey->complete) {
        return;
    }
    const auto addFine = [&](const QString& title) {
        head();
        column.addWidget(new Card(title, {}, "fine"));
    };
    if (source->clips()[0].isSequence() && source->clips()[0].frames > 1 && survey->faults.empty()) {
        addFine(Facts::tr("All frames have the same topology"));
    }
    const auto& found = source->findings();
    const bool weightsOff = std::any_of(found.begin(), found.end(),
                                        [](const base::Finding& f) { return f.id.rfind("weights", 0) == 0; });
    if (!source->joints().empty() && !weightsOff) {
        addFine(Facts::tr("Skin weights add up to 1"));
    }
    QStringList closed;
    for (std::size_t c = 0; c < survey->clips.size(); ++c) {
        if (survey->clips[c].extent.closed) {
            closed << text(source->clips()[c].name);
        }
    }
    if (!closed.isEmpty()) {
        addFine(Facts::tr("%1: the last frame leads into the first, so it closes").arg(closed.join(", ")));
    }
}

} // namespace ripple::app
