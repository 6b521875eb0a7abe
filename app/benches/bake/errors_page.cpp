#include "app/benches/bake/errors_page.h"

#include "bake/kind.h"

#include "app/look/theme.h"
#include "app/look/when_seen.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace ripple::app {

ErrorsPage::ErrorsPage(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      what_(new SegmentedChoice({tr("Positions"), tr("Normals"), tr("Against step")})),
      charts_(new QStackedWidget),
      frames_(new FrameChart),
      steps_(new StepChart) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 0);
    column->setSpacing(2);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(8, 0, 8, 0);
    what_->setObjectName("errorOf");
    what_->setToolTips({tr("Maximum error of the positions in each frame"),
                        tr("Maximum error of the normals in each frame"),
                        tr("Maximum error if only every n-th frame is kept; click a bar to use its step")});
    what_->show(0);
    what_->setRoomy();
    row->addWidget(what_);
    row->addStretch(1);
    column->addLayout(row);
    charts_->addWidget(frames_);
    charts_->addWidget(steps_);
    column->addWidget(charts_, 1);
    connect(what_, &SegmentedChoice::picked, this, [this](int i) {
        if (i < 2) {
            // The error look on the model shows the same.
            session_.look([i](project::View& view) { view.error = i == 0 ? "position" : "normal"; });
        }
        refresh();
    });
    auto* seen = new WhenSeen(this, [this] { refresh(); });
    connect(&session_, &Session::bakeFinished, this, [seen] { seen->ask(); });
    connect(&session_, &Session::ladderChanged, this, [this] {
        if (steps_->isVisible()) {
            refreshSteps();
        }
    });
    connect(&session_, &Session::documentChanged, this, [seen](unsigned changes) {
        if (changes & (kViewChange | kToleranceChange)) {
            seen->ask();
        }
    });
    connect(&session_.playhead(), &Playhead::clipsChanged, this, [seen] { seen->ask(); });
    connect(&session_.playhead(), &Playhead::moved, this, [this] {
        if (frames_->isVisible()) {
            frames_->setFrame(session_.clipFrame());
        }
    });
    connect(frames_, &FrameChart::framePicked, this, [this](double frame) {
        session_.playhead().setPlaying(false);
        if (const auto kept = session_.keptWindow()) {
            session_.goToClipFrame(kept->clip, frame);
        }
    });
    connect(frames_, &FrameChart::windowDragged, this,
            [this](std::size_t first, std::size_t last, bool continuing) {
                session_.keepWindow({first, last}, continuing);
            });
    connect(steps_, &StepChart::stepPicked, this, [this](int step) {
        session_.edit(tr("Keep every %n frame(s)", nullptr, step), [step](project::Document& d) {
            d.recipe.step = static_cast<std::size_t>(step);
            d.recipe.thin = 0.0;
        });
    });
    refresh();
}

void ErrorsPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    session_.wantLadder(true);
}

void ErrorsPage::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    session_.wantLadder(false);
}

void ErrorsPage::restyle() {
    frames_->restyle();
    steps_->restyle();
    refresh();
}

void ErrorsPage::refresh() {
    const bool steps = what_->chosen() == 2;
    if (!steps) {
        what_->show(session_.document().view.error == "normal" ? 1 : 0);
    }
    charts_->setCurrentWidget(steps ? static_cast<QWidget*>(steps_) : frames_);
    steps ? refreshSteps() : refreshFrames();
}

void ErrorsPage::refreshFrames() {
    const auto bake = session_.bake();
    const bake::BakedClip* clip = session_.playhead().clip();
    const auto index = static_cast<std::size_t>(session_.playhead().clipIndex());
    const auto kept = session_.keptWindow();
    if (!bake || !clip || !kept) {
        frames_->setLines({}, -1, {});
        frames_->setWindow(0, 0, 0);
        return;
    }
    const bool normals = session_.document().view.error == "normal";
    // Over all frames of the clip, so that the window's handles have where to go; what is not kept is empty.
    std::vector<float> stored(kept->frames, 0.0f);
    std::vector<float> between(kept->frames, 0.0f);
    bool any = false;
    for (const bake::InstantError& instant : bake->error.instants) {
        if (instant.clip != index) {
            continue;
        }
        const auto frameOf = [&](double frame) {
            return static_cast<std::size_t>(std::max(0.0, clip->sourceFrame + frame * clip->sourceStep));
        };
        const double frame = static_cast<double>(instant.frame);
        const std::size_t from = frameOf(frame);
        // A stored frame stands until the next one.
        const std::size_t to = instant.kept ? std::max(from + 1, frameOf(std::floor(frame) + 1.0)) : from + 1;
        // The chart shows thousandths of what it is given; degrees go in as such.
        const float value = normals ? instant.normalMaxDegrees * 0.001f : instant.max;
        std::vector<float>& values = instant.kept ? stored : between;
        for (std::size_t f = from; f < std::min(to, values.size()); ++f) {
            values[f] = std::max(values[f], value);
        }
        any = any || !instant.kept;
    }
    frames_->setUnit(normals ? tr("degrees") : tr("mm"));
    std::vector<FrameChart::Line> lines = {
        {normals ? tr("Normals, at kept frames") : tr("Positions, at kept frames"), theme().coral, stored,
         true}};
    if (any) {
        lines.push_back({tr("Between kept frames"), theme().glass, between, false});
    }
    frames_->setLines(lines, -1, {});
    frames_->setWindow(kept->window.first, kept->window.last, kept->frames);
    frames_->setFrame(session_.clipFrame());
}

void ErrorsPage::refreshSteps() {
    std::vector<StepChart::Point> points;
    const bake::Recipe& recipe = session_.document().recipe;
    if (const auto ladder = session_.ladder(); ladder && recipe.kind->holdsVertices) {
        for (const bake::Rung& rung : ladder->rungs) {
            if (rung.recipe.kind->holdsVertices && rung.recipe.thin == 0.0 &&
                rung.recipe.positionStore == recipe.positionStore && rung.recipe.content == recipe.content) {
                points.push_back({rung.recipe.step, rung.error});
            }
        }
    }
    std::sort(points.begin(), points.end(), [](const auto& a, const auto& b) { return a.step < b.step; });
    steps_->setPoints(points, recipe.thin > 0.0 ? 0 : recipe.step, session_.tolerance());
}

} // namespace ripple::app
