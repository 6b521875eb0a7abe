#include "app/benches/bake/bake_panel.h"

#include "app/benches/bake/row_index.h"
#include "app/shell/panel_parts.h"
#include "app/shell/words.h"
#include "base/units.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QSignalBlocker>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

template <typename Rows>
SegmentedChoice* choiceOf(const Rows& rows) {
    QStringList labels;
    QStringList tips;
    for (const auto& row : rows) {
        labels << row.label;
        tips << row.about;
    }
    auto* choice = new SegmentedChoice(labels);
    choice->setToolTips(tips);
    return choice;
}

constexpr std::size_t kWidths[] = {256, 512, 1024, 2048, 4096, 8192, 16384};

} // namespace

BakePanel::BakePanel(Session& session) : PanelColumn(tr("Bake")), session_(session) {
    buildWindow();
    buildStore();
    buildCosts();
    column()->addStretch(1);
    connect(&session_, &Session::documentChanged, this, [this](unsigned changes) {
        if (changes & (kRecipeChange | kSourceChange)) {
            refresh();
        }
    });
    connect(&session_, &Session::sourceLoaded, this, &BakePanel::refresh);
    connect(&session_, &Session::bakeFinished, this, &BakePanel::refresh);
    connect(&session_.playhead(), &Playhead::clipsChanged, this, &BakePanel::refresh);
    refresh();
}

void BakePanel::buildWindow() {
    column()->addWidget(sectionLabel(tr("Window")));
    clips_ = new QVBoxLayout;
    clips_->setSpacing(4);
    column()->addLayout(clips_);
    first_ = new NumberField;
    last_ = new NumberField;
    first_->setObjectName("firstFrame");
    last_->setObjectName("lastFrame");
    for (NumberField* field : {first_, last_}) {
        field->setFixedWidth(64);
    }
    auto* pair = new QWidget;
    auto* row = new QHBoxLayout(pair);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(first_);
    row->addWidget(quietLabel("–"));
    row->addWidget(last_);
    QWidget* windowRow =
        labelledRow(tr("Frames"), pair, tr("The first and the last frame that are kept, counted from 0"));
    windowLabel_ = windowRow->findChild<QLabel*>();
    column()->addWidget(windowRow);
    step_ = new NumberField;
    step_->setObjectName("step");
    step_->setRange(1, 1000);
    step_->setDefault(1);
    step_->setFixedWidth(64);
    column()->addWidget(
        labelledRow(tr("Keep one frame in"), step_,
                    tr("1 keeps every frame; 2 keeps every second one and blends between them")));
    fps_ = new NumberField;
    fps_->setObjectName("fps");
    fps_->setRange(0, 1000);
    fps_->setDecimals(2);
    fps_->setUnit("/ s");
    fps_->setFixedWidth(110);
    QWidget* fpsRow = labelledRow(tr("Sampled at"), fps_);
    fpsLabel_ = fpsRow->findChild<QLabel*>();
    column()->addWidget(fpsRow);
    connect(first_, &NumberField::edited, this, [this](double v, bool more) { setWindow(true, v, more); });
    connect(last_, &NumberField::edited, this, [this](double v, bool more) { setWindow(false, v, more); });
    connect(step_, &NumberField::edited, this, [this](double v, bool more) {
        editRecipe(
            tr("Keep one frame in %1").arg(v),
            [v](bake::Recipe& r) { r.step = static_cast<std::size_t>(std::max(1.0, std::round(v))); }, more);
    });
    connect(fps_, &NumberField::edited, this, [this](double v, bool more) {
        const auto source = session_.source();
        const bool sequence = source && source->clips()[0].isSequence();
        session_.edit(
            tr("Frame rate"),
            [v, sequence](project::Document& d) {
                (sequence ? d.source.reading.time.rate : d.recipe.fps) = v;
            },
            session_.gesture(more));
    });
}

void BakePanel::buildStore() {
    column()->addWidget(sectionLabel(tr("Position store")));
    store_ = choiceOf(bake::positionStores());
    store_->setObjectName("store");
    column()->addWidget(store_);
    storeAbout_ = quietLabel();
    storeAbout_->setMinimumHeight(34);
    column()->addWidget(storeAbout_);
    content_ = new SegmentedChoice({tr("offset from rest"), tr("absolute")});
    content_->setObjectName("content");
    content_->setToolTips(
        {tr("What is added to the rest position: small numbers, so the same bits reach further"),
         tr("The position itself: the rest pose does not matter")});
    column()->addWidget(content_);
    column()->addWidget(sectionLabel(tr("Normals")));
    normals_ = choiceOf(bake::normalStores());
    normals_->setObjectName("normals");
    column()->addWidget(normals_);
    width_ = new QComboBox;
    width_->setObjectName("width");
    for (const std::size_t width : kWidths) {
        width_->addItem(text(base::countText(width)), static_cast<qulonglong>(width));
    }
    column()->addWidget(labelledRow(tr("Widest texture"), width_,
                                    tr("More columns than this go into further rows of each frame")));
    connect(store_, &SegmentedChoice::picked, this, [this](int i) {
        const bake::PositionStore& row = bake::positionStores()[static_cast<std::size_t>(i)];
        editRecipe(tr("Store positions as %1").arg(row.label),
                   [&row](bake::Recipe& r) { r.positionStore = row.name; });
    });
    connect(content_, &SegmentedChoice::picked, this, [this](int i) {
        editRecipe(i == 0 ? tr("Store offsets") : tr("Store positions"), [i](bake::Recipe& r) {
            r.content = i == 0 ? bake::Content::offset : bake::Content::absolute;
        });
    });
    connect(normals_, &SegmentedChoice::picked, this, [this](int i) {
        const bake::NormalStore& row = bake::normalStores()[static_cast<std::size_t>(i)];
        editRecipe(tr("Store normals as %1").arg(row.label),
                   [&row](bake::Recipe& r) { r.normalStore = row.name; });
    });
    connect(width_, &QComboBox::activated, this, [this](int i) {
        editRecipe(tr("Widest texture"), [i](bake::Recipe& r) { r.maxWidth = kWidths[i]; });
    });
}

void BakePanel::buildCosts() {
    column()->addWidget(sectionLabel(tr("What it costs")));
    busy_ = new QWidget;
    auto* busyRow = new QHBoxLayout(busy_);
    busyRow->setContentsMargins(0, 0, 0, 0);
    progress_ = new QProgressBar;
    progress_->setTextVisible(false);
    progress_->setRange(0, 1000);
    cancel_ = new QPushButton(tr("Cancel"));
    cancel_->setObjectName("cancelBake");
    busyRow->addWidget(progress_, 1);
    busyRow->addWidget(cancel_);
    QSizePolicy keepsPlace = busy_->sizePolicy();
    keepsPlace.setRetainSizeWhenHidden(false);
    busy_->setSizePolicy(keepsPlace);
    busy_->hide();
    auto* grid = new QGridLayout;
    grid->setVerticalSpacing(3);
    grid->setColumnStretch(1, 1);
    const auto figure = [](const char* role) {
        auto* label = new QLabel;
        label->setProperty("role", role);
        return label;
    };
    memory_ = figure("figure");
    memoryWords_ = quietLabel();
    error_ = figure("figure");
    errorWords_ = quietLabel();
    for (QLabel* words : {memoryWords_, errorWords_}) {
        words->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    }
    grid->addWidget(memory_, 0, 0);
    grid->addWidget(memoryWords_, 0, 1);
    grid->addWidget(error_, 1, 0);
    grid->addWidget(errorWords_, 1, 1);
    column()->addLayout(grid);
    disk_ = new QLabel;
    column()->addWidget(labelledRow(tr("On disk, mesh and code included"), disk_));
    connect(&session_, &Session::shipSized, this, &BakePanel::refreshDisk);
    worst_ = quietLabel();
    goThere_ = new QPushButton(tr("go there"));
    goThere_->setObjectName("goThere");
    auto* worstRow = new QHBoxLayout;
    worstRow->addWidget(worst_, 1);
    worstRow->addWidget(goThere_);
    column()->addLayout(worstRow);
    problem_ = quietLabel();
    setRole(problem_, "brick");
    column()->addWidget(problem_);
    column()->addWidget(busy_);
    LatestJob& job = session_.bakeJob();
    connect(cancel_, &QPushButton::clicked, &job, &LatestJob::cancel);
    connect(&job, &LatestJob::runningChanged, this, [this](bool running) {
        progress_->setValue(0);
        busy_->setVisible(running);
    });
    connect(&job, &LatestJob::progressed, this,
            [this](double f) { progress_->setValue(static_cast<int>(f * 1000.0)); });
    connect(goThere_, &QPushButton::clicked, this, [this] {
        const auto bake = session_.bake();
        if (!bake) {
            return;
        }
        const auto& clips = session_.playhead().clips();
        for (std::size_t c = 0; c < clips.size(); ++c) {
            if (clips[c].name == bake->error.worstClip) {
                session_.playhead().setClipIndex(static_cast<int>(c));
            }
        }
        session_.playhead().setPlaying(false);
        session_.playhead().setFrame(bake->error.worstFrame);
        session_.pickVertex(static_cast<int>(bake->error.worstVertex));
        session_.showVertex(static_cast<int>(bake->error.worstVertex));
    });
}

void BakePanel::editRecipe(const QString& what, const std::function<void(bake::Recipe&)>& change,
                           bool continuing) {
    session_.edit(
        what, [&](project::Document& d) { change(d.recipe); }, session_.gesture(continuing));
}

void BakePanel::refresh() {
    const bake::Recipe& recipe = session_.document().recipe;
    const auto source = session_.source();
    refreshClips();
    if (source) {
        const std::string name = currentClip();
        const int index = std::max(0, rowIndex(source->clips(), name));
        const source::Clip& clip = source->clips()[static_cast<std::size_t>(index)];
        const std::size_t count = bake::measureClip(*source, static_cast<std::size_t>(index), recipe).frames;
        bake::FrameWindow window{0, count - 1};
        for (const bake::ClipChoice& choice : recipe.clips) {
            if (choice.name == name && choice.window) {
                window = *choice.window;
            }
        }
        for (NumberField* field : {first_, last_}) {
            field->setRange(0.0, static_cast<double>(count - 1));
        }
        first_->setDefault(0);
        last_->setDefault(static_cast<double>(count - 1));
        first_->setValue(static_cast<double>(window.first));
        last_->setValue(static_cast<double>(window.last));
        windowLabel_->setText(source->clips().size() > 1 ? tr("Frames of %1").arg(text(name)) : tr("Frames"));
        fpsLabel_->setText(clip.isSequence() ? tr("Plays at") : tr("Sampled at"));
        const double speed = session_.document().source.reading.time.speed;
        fps_->setDefault(0.0, QString("%1 / s").arg(clip.isSequence() ? clip.fps / speed : clip.fps));
    }
    step_->setValue(static_cast<double>(recipe.step));
    const bool sequence = source && source->clips()[0].isSequence();
    fps_->setValue(sequence ? session_.document().source.reading.time.rate : recipe.fps);
    const int store = rowIndex(bake::positionStores(), recipe.positionStore);
    store_->show(store);
    storeAbout_->setText(store >= 0 ? bake::positionStores()[static_cast<std::size_t>(store)].about : "");
    content_->show(recipe.content == bake::Content::offset ? 0 : 1);
    normals_->show(rowIndex(bake::normalStores(), recipe.normalStore));
    const QSignalBlocker quiet(width_);
    const int known = width_->findData(static_cast<qulonglong>(recipe.maxWidth));
    width_->setCurrentIndex(known);
    refreshCosts();
}

void BakePanel::refreshDisk() {
    std::size_t bytes = 0;
    if (const auto ship = session_.ship()) {
        for (const ShipFile& file : ship->files) {
            bytes += file.bytes;
        }
    }
    disk_->setText(bytes ? text(base::sizeText(bytes)) : QString("–"));
}

void BakePanel::refreshCosts() {
    refreshDisk();
    const auto bake = session_.bake();
    problem_->setVisible(session_.bakeProblem().has_value());
    if (session_.bakeProblem()) {
        problem_->setText(text(session_.bakeProblem()->line()));
    }
    goThere_->setEnabled(bake != nullptr);
    for (QWidget* widget : {static_cast<QWidget*>(memory_), static_cast<QWidget*>(error_)}) {
        widget->setEnabled(bake != nullptr);
    }
    if (!bake) {
        memory_->setText("–");
        memoryWords_->setText(tr("texture memory"));
        error_->setText("–");
        errorWords_->setText(tr("largest error"));
        worst_->clear();
        return;
    }
    const bake::TextureSet& set = bake->baked.textures;
    memory_->setText(text(base::sizeText(set.textureMemory())));
    memoryWords_->setText(tr("texture memory\n%1 × %2, %3")
                              .arg(set.layout.width)
                              .arg(set.layout.height())
                              .arg(text(base::plural(set.normalStore.stored() ? 2 : 1, "texture"))));
    const bake::ErrorReport& error = bake->error;
    error_->setText(text(base::lengthText(error.atFrames.max)));
    const QString between = error.betweenFrames.max > 0.0
                                ? tr("%1 between frames").arg(text(base::lengthText(error.betweenFrames.max)))
                                : tr("every frame kept");
    errorWords_->setText(tr("largest error\n%1").arg(between));
    worst_->setText(tr("worst: vertex %1, %2%3")
                        .arg(text(base::countText(error.worstVertex)))
                        .arg(set.clips.size() > 1 ? text(error.worstClip) + " " : QString())
                        .arg(tr("frame %1").arg(error.worstFrame)));
}

} // namespace ripple::app
