#include "app/benches/gather/gather_bench.h"

#include "app/benches/gather/shape_card.h"
#include "app/benches/gather/source_facts.h"
#include "app/benches/gather/space_card.h"
#include "app/benches/gather/time_card.h"
#include "app/look/panel_parts.h"
#include "app/look/theme.h"
#include "app/look/when_seen.h"
#include "app/session/words.h"
#include "base/units.h"

#include <algorithm>

#include <QFileInfo>
#include <QHBoxLayout>
#include <QMenu>

namespace ripple::app {

GatherBench::GatherBench(Session& session, Trigger trigger)
    : session_(session),
      trigger_(std::move(trigger)),
      panel_(new PanelColumn(tr("Gather"))),
      top_(new QVBoxLayout),
      bottom_(new QVBoxLayout),
      strip_(new StripTabs),
      chart_(new FrameChart),
      likeness_(new LikenessPage(session)) {
    build();
    strip_->add(tr("Motion"), chart_);
    strip_->add(tr("Likeness"), likeness_);
    auto* seen = new WhenSeen(panel_, [this] { refresh(); });
    auto* chartSeen = new WhenSeen(chart_, [this] { refreshChart(); });
    connect(&session_, &Session::sourceLoaded, this, [seen] { seen->ask(); });
    connect(&session_, &Session::surveyed, this, [seen] { seen->ask(); });
    connect(&session_, &Session::documentChanged, this, [seen](unsigned changes) {
        if (changes & kRecipeChange) {
            seen->ask();
        }
    });
    connect(&session_.playhead(), &Playhead::clipsChanged, this, [chartSeen] { chartSeen->ask(); });
    connect(&session_.playhead(), &Playhead::moved, this, [this] {
        if (chart_->isVisible()) {
            chart_->setFrame(session_.clipFrame());
        }
    });
    connect(chart_, &FrameChart::framePicked, this, [this](double frame) {
        const bake::SamplePlan* plan = session_.plan();
        const auto index = static_cast<std::size_t>(session_.playhead().clipIndex());
        if (plan && index < plan->clips.size()) {
            session_.playhead().setPlaying(false);
            session_.goToClipFrame(plan->clips[index].clip, frame);
        }
    });
    connect(chart_, &FrameChart::windowDragged, this,
            [this](std::size_t first, std::size_t last, bool continuing) {
                session_.keepWindow({first, last}, continuing);
            });
    refresh();
}

void GatherBench::build() {
    QVBoxLayout* column = panel_->column();
    column->addWidget(buildHead());
    for (QVBoxLayout* part : {top_, bottom_}) {
        part->setSpacing(6);
    }
    column->addWidget(new ShapeCard(session_));
    column->addLayout(top_);
    column->addWidget(new TimeCard(session_));
    column->addWidget(new SpaceCard(session_));
    column->addLayout(bottom_);
    column->addWidget(new SubdivideRow(session_));
    column->addStretch(1);
}

QWidget* GatherBench::buildHead() {
    head_ = new QWidget;
    auto* column = new QVBoxLayout(head_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* row = new QHBoxLayout;
    name_ = new QLabel;
    name_->setTextFormat(Qt::PlainText);
    QFont bold = name_->font();
    bold.setWeight(QFont::DemiBold);
    name_->setFont(bold);
    name_->setMinimumWidth(40);
    name_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    row->addWidget(name_, 1);
    auto* other = new QPushButton(tr("Open…"));
    other->setObjectName("otherSource");
    connect(other, &QPushButton::clicked, this, [this] { trigger_("open-source"); });
    shapes_ = new QPushButton(tr("Test shape…"));
    shapes_->setObjectName("testShape");
    shapes_->setToolTip(tr("A plain mesh to try motion on"));
    connect(shapes_, &QPushButton::clicked, this, &GatherBench::showShapes);
    row->addWidget(shapes_);
    row->addWidget(other);
    column->addLayout(row);
    facts_ = quietLabel();
    column->addWidget(facts_);
    return head_;
}

void GatherBench::showShapes() {
    QMenu menu(panel_);
    for (const mesh::ShapeKind& kind : mesh::testShapes()) {
        QAction* action = menu.addAction(text(kind.name) + "\t" + text(kind.words));
        connect(action, &QAction::triggered, this, [this, usual = kind.usual] {
            session_.edit(tr("Test shape"), [&](project::Document& d) {
                d.source = {};
                d.source.shape = usual;
                d.recipe.clips.clear();
            });
        });
    }
    menu.exec(shapes_->mapToGlobal(QPoint(0, shapes_->height())));
}

void GatherBench::restyle() {
    chart_->restyle();
    refresh();
}

void GatherBench::refresh() {
    emptyLayout(top_);
    emptyLayout(bottom_);
    const auto source = session_.source();
    facts_->setVisible(source != nullptr);
    if (source) {
        const project::SourceChoice& choice = session_.document().source;
        QString name = QFileInfo(text(choice.path)).fileName();
        for (const mesh::ShapeKind& kind : mesh::testShapes()) {
            name = choice.shape && choice.shape->kind == kind.id ? tr(kind.name) : name;
        }
        name_->setText(name);
        name_->setToolTip(plainTip(text(choice.path)));
        const mesh::Mesh& mesh = source->mesh();
        const auto vertices = static_cast<int>(mesh.vertexCount());
        const auto triangles = static_cast<int>(mesh.triangleCount());
        facts_->setText(tr("%1, %2, %3")
                            .arg(text(source->format()),
                                 counted(tr("%n vertices", nullptr, vertices), mesh.vertexCount()),
                                 counted(tr("%n triangle(s)", nullptr, triangles), mesh.triangleCount())));
        if (!choice.shape) {
            addClipRows(session_, *top_);
        }
        addUvRows(session_, *top_);
        addMeshRows(session_, *bottom_);
    } else {
        name_->setText(tr("Nothing open"));
        auto* card =
            new Card(tr("Open a deforming mesh"),
                     tr("A scene with a skin or animation (.glb, .gltf, .fbx, .dae and others), numbered "
                        ".obj or .ply files, or a point cache (.pc2, .mdd). Files can also be dropped "
                        "on the window. No mesh yet? Begin with a test shape."),
                     "");
        card->addFix(tr("Open source…"), [this] { trigger_("open-source"); });
        card->addFix(tr("Test shape…"), [this] { showShapes(); });
        top_->addWidget(card);
    }
    if (source || session_.sourceProblem()) {
        addFindingCards(session_, *top_);
    }
    refreshChart();
}

void GatherBench::refreshChart() {
    const auto survey = session_.survey();
    const bake::SamplePlan* plan = session_.plan();
    const auto index = static_cast<std::size_t>(session_.playhead().clipIndex());
    if (!survey || !plan || index >= plan->clips.size()) {
        chart_->setLines({}, -1, tr("How much each frame moves is drawn here."));
        chart_->setWindow(0, 0, 0);
        return;
    }
    const bake::ClipPlan& shown = plan->clips[index];
    const inspect::ClipSurvey& clip = survey->clips[shown.clip];
    const std::size_t frames = clip.extent.frames;
    if (frames < 2) {
        chart_->setLines({}, -1, tr("The source has a single frame: nothing moves."));
        chart_->setWindow(0, 0, 0);
        return;
    }
    const bool whole = clip.framesRead == frames;
    const int seam = clip.extent.closed || !whole ? -1 : static_cast<int>(frames) - 1;
    const QString words = !whole ? tr("%1 of %2 frames read").arg(clip.framesRead).arg(frames)
                          : clip.extent.closed
                              ? QString()
                              : tr("Last frame to first: %1")
                                    .arg(text(base::lengthText(static_cast<double>(clip.motion.max.back()))));
    chart_->setLines({{tr("Furthest vertex, per frame"), theme().coral, clip.motion.max, false},
                      {tr("Mean of all vertices"), theme().glass, clip.motion.mean, true}},
                     seam, words);
    if (const auto kept = session_.keptWindow()) {
        chart_->setWindow(kept->window.first, kept->window.last, kept->frames);
    }
    chart_->setFrame(session_.clipFrame());
}

} // namespace ripple::app
