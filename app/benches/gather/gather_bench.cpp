#include "app/benches/gather/gather_bench.h"

#include "app/shell/bench_state.h"
#include "app/shell/panel_parts.h"
#include "app/shell/theme.h"
#include "app/shell/words.h"
#include "base/units.h"
#include "mesh/uv_sets.h"
#include "mesh/bounds.h"

#include <algorithm>

#include <QFileInfo>
#include <QHBoxLayout>

namespace ripple::app {

namespace {

QString clipFacts(const source::Clip& clip, const BakeState* bake, std::size_t index) {
    QString facts = clip.isSequence()
                        ? text(base::plural(clip.frames, "frame")) + QString(" · %1 / s").arg(clip.fps)
                        : text(base::secondsText(clip.duration));
    if (bake) {
        for (const bake::ClipPlan& plan : bake->plan.clips) {
            if (plan.clip == index) {
                facts += plan.closed ? " · closed" : " · open";
            }
        }
    }
    return facts;
}

} // namespace

GatherBench::GatherBench(Session& session, Trigger trigger)
    : session_(session),
      trigger_(std::move(trigger)),
      panel_(new PanelColumn(tr("Gather"))),
      content_(new QVBoxLayout),
      strip_(new StripTabs),
      chart_(new FrameChart) {
    content_->setSpacing(7);
    panel_->column()->addLayout(content_);
    panel_->column()->addStretch(1);
    strip_->add(tr("Motion"), chart_);
    connect(&session_, &Session::sourceLoaded, this, &GatherBench::refresh);
    connect(&session_, &Session::bakeFinished, this, &GatherBench::refresh);
    connect(&session_.playhead(), &Playhead::clipsChanged, this, &GatherBench::refreshChart);
    connect(&session_.playhead(), &Playhead::moved, this, [this] {
        if (chart_->isVisible()) {
            chart_->setFrame(session_.playhead().frame());
        }
    });
    connect(chart_, &FrameChart::framePicked, this, [this](double frame) {
        session_.playhead().setPlaying(false);
        session_.playhead().setFrame(frame);
    });
    refresh();
}

void GatherBench::restyle() {
    chart_->restyle();
    refresh();
}

void GatherBench::refresh() {
    emptyLayout(content_);
    if (session_.source()) {
        fillSource(content_);
    } else {
        auto* card = new Card(tr("Nothing open yet"),
                              tr("Open a .glb or .gltf with a skin or animation, or any frame of an .obj "
                                 "sequence. Files can also be dropped on the window."),
                              "");
        card->addFix(tr("Open source…"), [this] { trigger_("open-source"); });
        content_->addWidget(card);
    }
    fillFindings(content_);
    refreshChart();
}

void GatherBench::fillSource(QVBoxLayout* column) {
    const auto source = session_.source();
    const mesh::Mesh& mesh = source->mesh();
    const auto bake = session_.bake();

    auto* name = new QLabel(QFileInfo(text(session_.document().source.path)).fileName());
    QFont bold = name->font();
    bold.setWeight(QFont::DemiBold);
    name->setFont(bold);
    auto* other = new QPushButton(tr("other…"));
    connect(other, &QPushButton::clicked, this, [this] { trigger_("open-source"); });
    auto* head = new QHBoxLayout;
    head->addWidget(name, 1);
    head->addWidget(other);
    auto* headBox = new QWidget;
    headBox->setLayout(head);
    head->setContentsMargins(0, 0, 0, 0);
    column->addWidget(headBox);

    mesh::Bounds bounds;
    bounds.add(mesh.positions);
    const glm::vec3 size = bounds.size();
    const auto metres = [](float v) { return text(base::lengthText(static_cast<double>(v))); };
    column->addWidget(quietLabel(text(source->format()) + ", " + text(base::countText(mesh.vertexCount())) +
                                 " vertices, " + text(base::countText(mesh.triangleCount())) +
                                 " triangles\n" + metres(size.x) + " × " + metres(size.y) + " × " +
                                 metres(size.z) + " at rest, Y up, metres"));

    column->addWidget(sectionLabel(tr("Clips")));
    const auto clips = source->clips();
    for (std::size_t c = 0; c < clips.size(); ++c) {
        column->addWidget(factRow(text(clips[c].name), clipFacts(clips[c], bake.get(), c)));
    }
    column->addWidget(sectionLabel(tr("Meshes")));
    constexpr std::size_t kMostRows = 8;
    const auto meshes = source->meshes();
    for (std::size_t m = 0; m < std::min(meshes.size(), kMostRows); ++m) {
        column->addWidget(
            factRow(text(meshes[m].name), text(base::countText(meshes[m].vertices)) + tr(" vertices")));
    }
    if (meshes.size() > kMostRows) {
        column->addWidget(quietLabel(tr("and %1 more").arg(meshes.size() - kMostRows)));
    }
    if (const auto joints = source->joints(); !joints.empty()) {
        column->addWidget(factRow(tr("moved by"), text(base::plural(joints.size(), "joint"))));
    }
    column->addWidget(sectionLabel(tr("UV sets, counted from 0 (and from 1)")));
    for (std::size_t set = 0; set < mesh.uvSets.size(); ++set) {
        bool colour = false;
        for (const mesh::Material& material : mesh.materials) {
            colour = colour || (material.baseColourImage && material.baseColourUvSet == set);
        }
        column->addWidget(
            factRow(QString("%1 (%2)").arg(set).arg(set + 1), colour ? tr("base colour") : tr("taken")));
    }
    const std::size_t free = mesh::freeUvSet(mesh);
    column->addWidget(
        factRow(QString("%1 (%2)").arg(free).arg(free + 1), tr("free: the lookup goes here"), "glass"));
    if (!mesh.colours.empty()) {
        column->addWidget(factRow(tr("Vertex colours"), tr("yes")));
    }
}

void GatherBench::fillFindings(QVBoxLayout* column) {
    std::vector<OpenFinding> own;
    for (OpenFinding& finding : openFindings(session_)) {
        if (finding.bench == "gather") {
            own.push_back(std::move(finding));
        }
    }
    const auto bake = session_.bake();
    const auto source = session_.source();
    if (own.empty() && !source) {
        return;
    }
    const auto addFine = [column](const QString& title, const QString& words) {
        column->addWidget(new Card(title, words, "fine"));
    };
    column->addWidget(sectionLabel(tr("Found")));
    for (const OpenFinding& finding : own) {
        const char* tone = finding.lamp == Lamp::broken ? "broken"
                           : finding.lamp == Lamp::look ? "look"
                                                        : "fine";
        column->addWidget(new Card(finding.title, finding.words, tone));
    }
    if (source && source->clips()[0].isSequence() && source->clips()[0].frames > 1) {
        addFine(tr("One topology in all frames"), {});
    }
    if (bake && bake->still > 0) {
        addFine(tr("%1 vertices never move").arg(text(base::countText(bake->still))),
                tr("In an offset bake they can share columns."));
    }
    QStringList closed;
    QStringList open;
    for (const bake::BakedClip& clip : bake ? bake->baked.textures.clips : std::vector<bake::BakedClip>()) {
        (clip.closed ? closed : open) << text(clip.name);
    }
    if (!closed.isEmpty()) {
        addFine(tr("%1 closes").arg(closed.join(", ")),
                open.isEmpty() ? tr("The last frame runs into the first.")
                               : tr("%1: open, played once.").arg(open.join(", ")));
    }
    if (source && !source->joints().empty()) {
        const auto& found = source->findings();
        if (std::none_of(found.begin(), found.end(),
                         [](const base::Finding& f) { return f.id.rfind("weights", 0) == 0; })) {
            addFine(tr("Skin weights add up to 1"), {});
        }
    }
}

void GatherBench::refreshChart() {
    const auto bake = session_.bake();
    const bake::BakedClip* clip = session_.playhead().clip();
    if (!bake || !clip) {
        chart_->setLines({}, -1, tr("How much moves in each frame is drawn here."));
        return;
    }
    if (clip->frames < 2) {
        chart_->setLines({}, -1, tr("A single frame: nothing moves."));
        return;
    }
    const auto index =
        std::min(static_cast<std::size_t>(session_.playhead().clipIndex()), bake->motion.size() - 1);
    const bake::Motion& motion = bake->motion[index];
    const int seam = clip->closed ? -1 : static_cast<int>(motion.max.size()) - 1;
    const QString words = clip->closed
                              ? QString()
                              : tr("last frame to first: %1")
                                    .arg(text(base::lengthText(static_cast<double>(motion.max.back()))));
    chart_->setLines({{tr("furthest vertex, per frame"), theme().coral, motion.max, false},
                      {tr("mean of all"), theme().glass, motion.mean, true}},
                     seam, words);
    chart_->setFrame(session_.playhead().frame());
}

} // namespace ripple::app
