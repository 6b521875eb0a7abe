#include "app/benches/bake/cost_box.h"

#include "app/look/panel_parts.h"
#include "app/session/words.h"
#include "base/units.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include <algorithm>

namespace ripple::app {

CostBox::CostBox(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    build();
    connect(&session_, &Session::bakeFinished, this, &CostBox::refresh);
    connect(&session_, &Session::sourceLoaded, this, &CostBox::refresh);
    connect(&session_, &Session::shipSized, this, &CostBox::refreshMemory);
    connect(&session_, &Session::documentChanged, this, [this](unsigned changes) {
        if (changes & kToleranceChange) {
            refresh();
        }
    });
    connect(goThere_, &QPushButton::clicked, &session_, &Session::showWorst);
    refresh();
}

void CostBox::build() {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* grid = new QGridLayout;
    grid->setVerticalSpacing(3);
    grid->setColumnStretch(1, 1);
    const auto figure = [](const char* role) {
        auto* label = new QLabel;
        label->setTextFormat(Qt::PlainText);
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
    column->addLayout(grid);
    parts_ = quietLabel();
    column->addWidget(parts_);
    worst_ = quietLabel();
    goThere_ = new QPushButton(tr("Show worst vertex"));
    goThere_->setObjectName("goThere");
    auto* worstRow = new QHBoxLayout;
    worstRow->addWidget(worst_, 1);
    worstRow->addWidget(goThere_);
    column->addLayout(worstRow);
    problem_ = quietLabel();
    setRole(problem_, "brick");
    column->addWidget(problem_);
    buildProgress();
    column->addWidget(busy_);
}

void CostBox::buildProgress() {
    busy_ = new QWidget;
    auto* row = new QHBoxLayout(busy_);
    row->setContentsMargins(0, 0, 0, 0);
    progress_ = new QProgressBar;
    progress_->setTextVisible(false);
    progress_->setRange(0, 1000);
    auto* cancel = new QPushButton(tr("Cancel"));
    cancel->setObjectName("cancelBake");
    row->addWidget(progress_, 1);
    row->addWidget(cancel);
    busy_->hide();
    LatestJob& job = session_.bakeJob();
    connect(cancel, &QPushButton::clicked, &job, &LatestJob::cancel);
    connect(&job, &LatestJob::runningChanged, this, [this](bool running) {
        progress_->setValue(0);
        busy_->setVisible(running);
    });
    connect(&job, &LatestJob::progressed, this,
            [this](double f) { progress_->setValue(static_cast<int>(f * 1000.0)); });
}

void CostBox::refreshMemory() {
    const auto bake = session_.bake();
    if (!bake) {
        return;
    }
    std::size_t bytes = 0;
    if (const auto ship = session_.ship()) {
        for (const ShipFile& file : ship->files) {
            bytes += file.bytes;
        }
    }
    const bake::TextureSet& set = bake->baked.textures;
    const auto largest = std::ranges::max_element(
        set.textures, {}, [](const bake::TextureFormat& texture) { return texture.width * texture.height; });
    const QString size = QString("%1 × %2").arg(largest->width).arg(largest->height);
    memoryWords_->setText(
        tr("%n texture(s), %1 texels\n%2 on disk with mesh", nullptr, static_cast<int>(set.textures.size()))
            .arg(size, bytes ? text(base::sizeText(bytes)) : QString("–")));
}

void CostBox::refresh() {
    refreshMemory();
    const auto bake = session_.bake();
    problem_->setVisible(session_.bakeProblem().has_value());
    if (session_.bakeProblem()) {
        problem_->setText(text(session_.bakeProblem()->line()));
    }
    goThere_->setEnabled(bake != nullptr);
    if (!bake) {
        memory_->setText("–");
        memoryWords_->setText(tr("texture memory"));
        error_->setText("–");
        errorWords_->setText(tr("maximum error"));
        parts_->clear();
        worst_->clear();
        return;
    }
    const bake::TextureSet& set = bake->baked.textures;
    memory_->setText(text(base::sizeText(set.textureMemory())));
    const bake::ErrorReport& error = bake->error;
    const bool fits = !session_.overTolerance();
    setRole(error_, fits ? "figure-fine" : "figure-look");
    error_->setText(text(base::lengthText(error.all.max)));
    const QString judged =
        fits ? tr("maximum error\nwithin the %1 tolerance") : tr("maximum error\nover the %1 tolerance");
    errorWords_->setText(judged.arg(text(base::lengthText(session_.tolerance()))));
    parts_->setText(tr("At kept frames %1, normals %2")
                        .arg(text(base::lengthText(error.atFrames.max)),
                             text(base::degreesText(error.normalMaxDegrees))));
    const QString vertex = text(base::countText(error.worstVertex));
    worst_->setText(
        set.clips.size() > 1
            ? tr("Vertex %1, %2 frame %3").arg(vertex, text(error.worstClip)).arg(error.worstFrame)
            : tr("Vertex %1, frame %2").arg(vertex).arg(error.worstFrame));
}

} // namespace ripple::app
