#include "app/benches/gather/likeness_page.h"

#include "app/look/panel_parts.h"
#include "app/session/words.h"
#include "base/units.h"

#include <QGridLayout>
#include <QHBoxLayout>

namespace ripple::app {

LikenessPage::LikenessPage(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      map_(new LikenessMap),
      words_(quietLabel()),
      length_(new NumberField),
      compare_(new TickBox(tr("Compare the ends"))),
      list_(new QVBoxLayout) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 2, 0, 0);
    row->setSpacing(18);
    map_->setFixedWidth(188);
    row->addWidget(map_);
    auto* column = new QVBoxLayout;
    column->setSpacing(3);
    auto* head = new QHBoxLayout;
    head->addWidget(sectionLabel(tr("Best loop ranges")));
    head->addStretch(1);
    length_->setObjectName("windowLength");
    length_->setRange(0, 100000);
    length_->setUnit(tr("frames"));
    length_->setDefault(0.0, tr("any length"));
    length_->setValue(0.0);
    length_->setFixedWidth(104);
    length_->setToolTip(tr("Only ranges of about this many frames; 0 for any length"));
    head->addWidget(length_);
    column->addLayout(head);
    column->addLayout(list_);
    column->addStretch(1);
    compare_->setObjectName("compareEnds");
    compare_->setCheckable(true);
    compare_->setToolTip(tr("The curtain shows the first frame of the range beside the one after its last"));
    column->addWidget(compare_, 0, Qt::AlignLeft);
    words_->setMinimumHeight(18);
    words_->setWordWrap(false);
    column->addWidget(words_);
    row->addLayout(column, 1);

    connect(map_, &LikenessMap::windowPicked, this, &LikenessPage::choose);
    connect(map_, &LikenessMap::hovered, this, [this](const QString& text) {
        words_->setText(text.isEmpty() ? tr("Dark where two frames are alike") : text);
    });
    words_->setText(tr("Dark where two frames are alike"));
    connect(length_, &NumberField::edited, this, &LikenessPage::search);
    connect(compare_, &TickBox::clicked, this, &LikenessPage::compareEnds);
    connect(&session_, &Session::sourceLoaded, this, &LikenessPage::refresh);
    connect(&session_, &Session::surveyed, this, &LikenessPage::refresh);
    connect(&session_, &Session::documentChanged, this, [this](unsigned changes) {
        if (changes & kRecipeChange) {
            refreshList();
            compareEnds();
        }
    });
    connect(&session_.playhead(), &Playhead::clipsChanged, this, [this] {
        refresh();
        compareEnds();
    });
    connect(&session_.playhead(), &Playhead::moved, this, [this] {
        map_->setFrame(session_.clipFrame());
        if (clip() != shownClip_) {
            refresh();
        }
    });
    refresh();
}

std::optional<std::size_t> LikenessPage::clip() const {
    const auto survey = session_.survey();
    const bake::SamplePlan* plan = session_.plan();
    const auto index = static_cast<std::size_t>(session_.playhead().clipIndex());
    if (!survey || !plan || index >= plan->clips.size()) {
        return std::nullopt;
    }
    return plan->clips[index].clip;
}

std::optional<inspect::LoopWindow> LikenessPage::chosen() const {
    const auto index = clip();
    for (const bake::ClipChoice& choice : session_.document().recipe.clips) {
        if (index && choice.name == session_.source()->clips()[*index].name && choice.window) {
            return inspect::LoopWindow{choice.window->first, choice.window->last, 0.0f};
        }
    }
    return std::nullopt;
}

void LikenessPage::refresh() {
    const auto index = clip();
    const auto likeness = index ? session_.survey()->clips[*index].likeness : nullptr;
    shownClip_ = index;
    if (likeness == shown_ && likeness) {
        return;
    }
    shown_ = likeness;
    windows_ = likeness ? session_.survey()->clips[*index].windows : std::vector<inspect::MeasuredWindow>();
    map_->setLikeness(likeness, likeness ? session_.survey()->clips[*index].likenessStep : 1);
    map_->setFrame(session_.clipFrame());
    if (likeness && length_->value() > 0.0) {
        search();
    }
    refreshList();
}

void LikenessPage::search() {
    const auto index = clip();
    if (!index || !shown_) {
        return;
    }
    inspect::WindowWish wish;
    wish.length = static_cast<std::size_t>(std::max(0.0, length_->value()));
    using Windows = std::vector<inspect::MeasuredWindow>;
    searchJob_.start<Windows>(
        [source = session_.source(), survey = session_.survey(), clip = *index,
         wish](base::Progress& progress) {
            return inspect::measuredWindows(*source, clip, survey->clips[clip], wish, progress);
        },
        [this](Windows windows) {
            windows_ = std::move(windows);
            refreshList();
        },
        [this](const base::Problem& problem) { words_->setText(text(problem.line())); });
}

void LikenessPage::refreshList() {
    emptyLayout(list_);
    const auto now = chosen();
    map_->setWindows(windows_);
    map_->setChosen(now);
    compare_->setEnabled(shown_ != nullptr);
    if (!shown_) {
        const bool reading = session_.surveyJob().running();
        list_->addWidget(quietLabel(reading ? tr("Frames are still being read.")
                                            : tr("A loop range needs at least four frames.")));
        return;
    }
    if (windows_.empty()) {
        list_->addWidget(quietLabel(tr("No range of that length comes close to a loop.")));
    }
    for (std::size_t w = 0; w < windows_.size(); ++w) {
        const inspect::LoopWindow& window = windows_[w].window;
        auto* button = rowButton({tr("%1 – %2").arg(window.first).arg(window.last),
                                  tr("%n frame(s)", nullptr, static_cast<int>(window.frames())),
                                  text(base::lengthText(windows_[w].gap))});
        button->setObjectName(QString("window %1").arg(w));
        button->setChecked(now && now->first == window.first && now->last == window.last);
        button->setToolTip(tr("Keep frames %1 to %2; the gap at the seam is then %3")
                               .arg(window.first)
                               .arg(window.last)
                               .arg(text(base::lengthText(windows_[w].gap))));
        connect(button, &QPushButton::clicked, this, [this, window] { choose(window); });
        list_->addWidget(button);
    }
}

void LikenessPage::choose(const inspect::LoopWindow& window) {
    const auto index = clip();
    if (!index) {
        return;
    }
    session_.edit(tr("Loop range %1–%2").arg(window.first).arg(window.last), [&](project::Document& d) {
        d.recipe.clips = bake::withLoop(*session_.source(), d.recipe, *index, {window.first, window.last});
    });
    refreshList();
    compareEnds();
}

void LikenessPage::compareEnds() {
    const auto window = chosen();
    if (!compare_->isChecked() || !window) {
        session_.compareWith(std::nullopt);
        return;
    }
    session_.playhead().setPlaying(false);
    session_.compareWith(static_cast<double>(window->last + 1));
    if (const auto index = clip()) {
        session_.goToClipFrame(*index, static_cast<double>(window->first));
    }
}

} // namespace ripple::app
