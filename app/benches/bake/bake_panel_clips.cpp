// The bake panel's clips and windows.

#include "app/benches/bake/bake_panel.h"

#include "app/benches/bake/row_index.h"
#include "app/look/panel_parts.h"
#include "app/session/words.h"
#include "base/units.h"
#include "source/clip_files.h"

#include <QFileDialog>
#include <QHBoxLayout>

#include <algorithm>

namespace ripple::app {

std::string BakePanel::currentClip() const {
    if (const bake::BakedClip* clip = session_.playhead().clip()) {
        return clip->sourceName.empty() ? clip->name : clip->sourceName;
    }
    const auto source = session_.source();
    return source ? source->clips()[0].name : "";
}

std::size_t BakePanel::currentClipIndex() const {
    const auto source = session_.source();
    return source ? static_cast<std::size_t>(std::max(0, rowIndex(source->clips(), currentClip()))) : 0;
}

void BakePanel::buildWindow() {
    column()->addWidget(sectionLabel(tr("Frames")));
    clips_ = new ClipRows(session_);
    column()->addWidget(clips_);
    addClips_ = new QPushButton(tr("Add clips from files…"));
    addClips_->setObjectName("addClips");
    addClips_->setProperty("role", "link");
    addClips_->setCursor(Qt::PointingHandCursor);
    addClips_->setToolTip(tr("Files that move the same mesh, or a skeleton with the same joints"));
    column()->addWidget(addClips_, 0, Qt::AlignLeft);
    connect(addClips_, &QPushButton::clicked, this, &BakePanel::addClipFiles);
    const auto field = [](const char* name, int width) {
        auto* made = new NumberField;
        made->setObjectName(name);
        made->setFixedWidth(width);
        return made;
    };
    first_ = field("firstFrame", 64);
    last_ = field("lastFrame", 64);
    auto* pair = new QWidget;
    auto* row = new QHBoxLayout(pair);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(first_);
    row->addWidget(quietLabel("–"));
    row->addWidget(last_);
    QWidget* windowRow = labelledRow(tr("Frame range"), pair,
                                     tr("The first and the last frame that are kept, counted from 0"));
    windowLabel_ = windowRow->findChild<QLabel*>();
    column()->addWidget(windowRow);
    step_ = field("step", 92);
    step_->setRange(1, 1000);
    step_->setUnit(tr("frames"), tr("frame"));
    step_->setDefault(1);
    thin_ = field("thin", 92);
    thin_->setRange(0, 1000);
    thin_->setDecimals(3);
    thin_->setUnit("mm");
    thin_->setDefault(0.0, tr("off"));
    column()->addWidget(labelledRow(
        tr("Keep every"), step_,
        tr("1 keeps every frame; 2 keeps every second one, and those between are blended from them")));
    column()->addWidget(labelledRow(tr("Adaptively within"), thin_,
                                    tr("Keeps as few frames as possible, at uneven times, so that blending "
                                       "between them stays within this length of the motion")));
    rate_ = field("rate", 92);
    fps_ = field("fps", 92);
    for (NumberField* each : {rate_, fps_}) {
        each->setRange(0, 1000);
        each->setDecimals(2);
        each->setUnit("/ s");
    }
    rateRow_ = labelledRow(tr("Frame rate"), rate_, tr("Frames per second at which the sequence was made"));
    column()->addWidget(rateRow_);
    QWidget* fpsRow = labelledRow(tr("Sample rate"), fps_,
                                  tr("Frames per second that are sampled; a sequence's frames are blended "
                                     "where a sample falls between two of them"));
    fpsLabel_ = fpsRow->findChild<QLabel*>();
    column()->addWidget(fpsRow);
    buildSampling();
    connect(first_, &NumberField::edited, this, [this](double v, bool more) { setWindow(true, v, more); });
    connect(last_, &NumberField::edited, this, [this](double v, bool more) { setWindow(false, v, more); });
    connect(step_, &NumberField::edited, this, [this](double v, bool more) {
        editRecipe(
            tr("Keep every %n frame(s)", nullptr, static_cast<int>(std::round(v))),
            [v](bake::Recipe& r) {
                r.step = static_cast<std::size_t>(std::max(1.0, std::round(v)));
                r.thin = 0.0;
            },
            more);
    });
    connect(thin_, &NumberField::edited, this, [this](double v, bool more) {
        editRecipe(
            v > 0.0 ? tr("Keep frames adaptively within %1 mm").arg(v) : tr("Keep frames evenly"),
            [v](bake::Recipe& r) { r.thin = v * 0.001; }, more);
    });
    connect(rate_, &NumberField::edited, this, [this](double v, bool more) {
        session_.edit(
            tr("Frame rate"), [v](project::Document& d) { d.source.reading.time.rate = v; },
            session_.gesture(more));
    });
    connect(fps_, &NumberField::edited, this, [this](double v, bool more) {
        editRecipe(
            tr("Sample rate"), [v](bake::Recipe& r) { r.fps = v; }, more);
    });
}

void BakePanel::refreshRange(std::size_t index) {
    const bake::Recipe& recipe = session_.document().recipe;
    const source::Clip& clip = session_.source()->clips()[index];
    // What is kept is said by the plan; without one (it is being made) by the choice.
    const auto count = session_.framesOf(index);
    first_->setEnabled(count.has_value());
    last_->setEnabled(count.has_value());
    if (!count) {
        return; // of a large mesh it is said in a moment
    }
    const auto most = static_cast<double>(*count - 1);
    bake::FrameWindow window{0, *count - 1};
    for (const bake::ClipChoice& choice : recipe.clips) {
        window = choice.name == clip.name && choice.window ? *choice.window : window;
    }
    if (const bake::SamplePlan* plan = session_.plan()) {
        for (const bake::ClipPlan& each : plan->clips) {
            if (each.clip == index && each.closing == bake::closingOf(recipe, clip.name) &&
                each.closing == bake::Closing::fade) {
                window.first = std::max(window.first, static_cast<std::size_t>(each.firstFrame));
            }
        }
    }
    for (NumberField* field : {first_, last_}) {
        field->setRange(0.0, most);
    }
    first_->setDefault(0);
    last_->setDefault(most);
    first_->setValue(static_cast<double>(window.first));
    last_->setValue(static_cast<double>(window.last));
}

void BakePanel::refreshWindow() {
    const bake::Recipe& recipe = session_.document().recipe;
    step_->setValue(static_cast<double>(recipe.step));
    thin_->setValue(recipe.thin * 1000.0);
    fps_->setValue(recipe.fps);
    const auto source = session_.source();
    if (!source) {
        return;
    }
    const std::size_t index = currentClipIndex();
    const source::Clip& clip = source->clips()[index];
    refreshRange(index);
    windowLabel_->setText(source->clips().size() > 1 ? tr("Frame range of %1").arg(text(clip.name))
                                                     : tr("Frame range"));
    const bool sequence = clip.isSequence();
    rateRow_->setVisible(sequence);
    fpsLabel_->setText(sequence ? tr("Resample to") : tr("Sample rate"));
    const double speed = session_.document().source.reading.time.speed;
    rate_->setDefault(0.0, QString("%1 / s").arg(clip.fps / speed));
    rate_->setValue(session_.document().source.reading.time.rate);
    fps_->setDefault(0.0, sequence ? tr("source rate") : QString("%1 / s").arg(clip.fps));
}

void BakePanel::setWindow(bool first, double value, bool continuing) {
    const auto kept = session_.keptWindow();
    if (!kept) {
        return;
    }
    bake::FrameWindow window = kept->window;
    const auto at = std::min(static_cast<std::size_t>(std::max(0.0, value)), kept->frames - 1);
    (first ? window.first : window.last) = at;
    if (window.first > window.last) {
        (first ? window.last : window.first) = at;
    }
    session_.keepWindow(window, continuing);
}

void BakePanel::addClipFiles() {
    const QString source = text(session_.document().source.path);
    const QStringList files =
        QFileDialog::getOpenFileNames(this, tr("Add clips from files"), QFileInfo(source).path());
    if (files.isEmpty()) {
        return;
    }
    session_.edit(
        tr("Add clips from %n file(s)", nullptr, static_cast<int>(files.size())), [&](project::Document& d) {
            for (const QString& file : files) {
                d.source.reading.clipFiles.push_back(source::clipFileName(d.source.path, file.toStdString()));
            }
        });
}

} // namespace ripple::app
