#include "app/benches/bake/states_page.h"

#include "app/look/panel_parts.h"
#include "app/look/when_seen.h"
#include "app/session/words.h"
#include "bake/transitions.h"

#include <QHBoxLayout>
#include <QSignalBlocker>

#include <algorithm>

namespace ripple::app {

namespace {

constexpr bake::Ending kEndings[] = {bake::Ending::loop, bake::Ending::once, bake::Ending::hold};

} // namespace

StatesPage::StatesPage(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      states_(new QVBoxLayout),
      from_(new QComboBox),
      to_(new QComboBox),
      length_(new NumberField),
      play_(new QPushButton(tr("Play"))),
      line_(new TransitionLine(session)) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(6, 2, 6, 2);
    row->setSpacing(14);
    auto* list = new QWidget;
    auto* column = new QVBoxLayout(list);
    column->setContentsMargins(0, 0, 6, 0);
    column->setSpacing(3);
    column->addLayout(states_);
    column->addStretch(1);
    states_->setSpacing(3);
    auto* scroll = scrolled(list);
    scroll->setMinimumWidth(240);
    row->addWidget(scroll, 7);
    auto* right = new QVBoxLayout;
    row->addLayout(right, 4);
    buildTransition(right);
    auto* seen = new WhenSeen(this, [this] { refresh(); });
    connect(&session_, &Session::documentChanged, this, [seen](unsigned changes) {
        if (changes & (kRecipeChange | kSourceChange)) {
            seen->ask();
        }
    });
    connect(&session_, &Session::bakeFinished, this, [seen] { seen->ask(); });
    connect(&session_.playhead(), &Playhead::clipsChanged, this, [seen] { seen->ask(); });
    connect(&session_.transition(), &TransitionPlayer::changed, this,
            [this] { play_->setText(session_.transition().playing() ? tr("Stop") : tr("Play")); });
    refresh();
}

void StatesPage::buildTransition(QVBoxLayout* column) {
    column->setSpacing(4);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    from_->setObjectName("fadeFrom");
    from_->setAccessibleName(tr("Clip that goes"));
    to_->setObjectName("fadeTo");
    to_->setAccessibleName(tr("Clip that comes"));
    length_->setObjectName("fadeLength");
    length_->setAccessibleName(tr("Length of the fade"));
    length_->setRange(0.0, bake::kLongestFade);
    length_->setDecimals(2);
    length_->setStep(0.05);
    length_->setUnit("s");
    length_->setDefault(bake::kUsualFade);
    length_->setFixedWidth(72);
    play_->setObjectName("playFade");
    auto* words = quietLabel(tr("to"));
    words->setWordWrap(false);
    auto* in = quietLabel(tr("Fades in"));
    in->setWordWrap(false);
    row->addWidget(from_, 1);
    row->addWidget(words);
    row->addWidget(to_, 1);
    column->addLayout(row);
    auto* second = new QHBoxLayout;
    second->setSpacing(6);
    second->addWidget(in);
    second->addWidget(length_);
    second->addStretch(1);
    second->addWidget(play_);
    column->addLayout(second);
    column->addWidget(line_, 1);
    for (QComboBox* each : {from_, to_}) {
        each->setMinimumContentsLength(3);
        each->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        connect(each, &QComboBox::activated, this, [this, each] {
            // A clip does not fade into itself: the other one gives way.
            if (from_->currentIndex() == to_->currentIndex()) {
                QComboBox* other = each == from_ ? to_ : from_;
                other->setCurrentIndex((each->currentIndex() + 1) % each->count());
            }
            refreshTransition();
        });
    }
    connect(length_, &NumberField::edited, this, [this](double v, bool more) { setLength(v, more); });
    connect(line_, &TransitionLine::lengthEdited, this, [this](double v, bool more) { setLength(v, more); });
    connect(play_, &QPushButton::clicked, this,
            [this] { session_.transition().setPlaying(!session_.transition().playing()); });
}

void StatesPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refreshTransition();
}

void StatesPage::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    session_.transition().hide();
    session_.transition().choose(-1, -1); // the dial shows the clip again
}

void StatesPage::setLength(double seconds, bool continuing) {
    const auto& clips = session_.playhead().clips();
    const TransitionPlayer& player = session_.transition();
    if (!player.chosen()) {
        return;
    }
    const std::string from = clips[static_cast<std::size_t>(player.from())].name;
    const std::string to = clips[static_cast<std::size_t>(player.to())].name;
    session_.edit(
        tr("Fade from %1 to %2").arg(text(from), text(to)),
        [&](project::Document& d) {
            d.recipe.transitions =
                bake::withTransition(d.recipe.transitions, {from, to, std::min(seconds, bake::kLongestFade)});
        },
        session_.gesture(continuing));
}

void StatesPage::editClip(const QString& what, const std::string& name,
                          const std::function<void(bake::ClipChoice&)>& change, bool continuing) {
    const auto source = session_.source();
    if (!source) {
        return;
    }
    session_.edit(
        what,
        [&](project::Document& d) { d.recipe.clips = bake::withChoice(*source, d.recipe, name, change); },
        session_.gesture(continuing));
}

void StatesPage::addState(std::size_t clip) {
    const bake::BakedClip& baked = session_.playhead().clips()[clip];
    const std::string name = baked.sourceName.empty() ? baked.name : baked.sourceName;
    const QString shown = text(baked.name);
    auto* widget = new QWidget;
    auto* row = new QHBoxLayout(widget);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    auto* label = new QLabel(shown);
    label->setTextFormat(Qt::PlainText);
    label->setMinimumWidth(52);
    row->addWidget(label, 1);
    auto* ending = new SegmentedChoice({tr("loop"), tr("once"), tr("hold")});
    ending->setObjectName("ending " + shown);
    ending->setToolTips({tr("Plays round and round"), tr("Plays once, then gives way to what was before it"),
                         tr("Plays once and stays at its last frame")});
    ending->setRoomy();
    ending->show(static_cast<int>(std::ranges::find(kEndings, baked.ending) - std::begin(kEndings)));
    connect(ending, &SegmentedChoice::picked, this, [this, name, shown](int i) {
        editClip(tr("What %1 does at its end").arg(shown), name,
                 [i](bake::ClipChoice& choice) { choice.ending = kEndings[i]; });
    });
    row->addWidget(ending);
    const auto field = [&](const char* which, double value, const QString& tip) {
        auto* made = new NumberField;
        made->setObjectName(which + (" " + shown));
        made->setAccessibleName(tip + " " + shown);
        made->setToolTip(tip);
        made->setRange(0.0, 1000.0);
        made->setDecimals(2);
        made->setStep(0.05);
        made->setUnit("m/s");
        made->setUnitShown(false);
        made->setDefault(0.0, tr("any"));
        made->setFixedWidth(48);
        made->setValue(value);
        row->addWidget(made);
        return made;
    };
    auto* least = field("speedFrom", baked.speed ? baked.speed->least : 0.0, tr("Slowest speed of"));
    auto* most = field("speedTo", baked.speed ? baked.speed->most : 0.0, tr("Fastest speed of"));
    auto* unit = quietLabel(tr("m/s"));
    unit->setWordWrap(false);
    row->addWidget(unit);
    const auto take = [this, name, shown](double low, double high, bool more) {
        editClip(
            tr("Speed of %1").arg(shown), name,
            [=](bake::ClipChoice& choice) {
                choice.speed =
                    high > 0.0 ? std::optional(bake::SpeedRange{std::min(low, high), high}) : std::nullopt;
            },
            more);
    };
    connect(least, &NumberField::edited, this,
            [take, most](double v, bool more) { take(v, std::max(v, most->value()), more); });
    connect(most, &NumberField::edited, this,
            [take, least](double v, bool more) { take(std::min(v, least->value()), v, more); });
    states_->addWidget(widget);
}

void StatesPage::refreshStates() {
    // The rows stay while they are edited: a field that is dragged must not be made anew.
    QStringList wanted;
    for (const bake::BakedClip& clip : session_.playhead().clips()) {
        const QString speed = clip.speed ? QString("%1 %2").arg(clip.speed->least).arg(clip.speed->most) : "";
        wanted << QString("%1|%2|%3").arg(text(clip.name), bake::name(clip.ending), speed);
    }
    if (wanted == property("shown").toStringList()) {
        return;
    }
    setProperty("shown", wanted);
    emptyLayout(states_);
    for (std::size_t c = 0; c < session_.playhead().clips().size(); ++c) {
        addState(c);
    }
}

void StatesPage::refresh() {
    refreshStates();
    QStringList names;
    for (const bake::BakedClip& clip : session_.playhead().clips()) {
        names << text(clip.name);
    }
    for (QComboBox* each : {from_, to_}) {
        const QSignalBlocker quiet(each);
        const QString before = each->currentText();
        each->clear();
        each->addItems(names);
        const auto same = static_cast<int>(names.indexOf(before));
        each->setCurrentIndex(same >= 0       ? same
                              : each == from_ ? 0
                                              : std::min(1, static_cast<int>(names.size()) - 1));
    }
    const bool several = names.size() > 1;
    for (QWidget* each : std::initializer_list<QWidget*>{from_, to_, length_, play_}) {
        each->setEnabled(several);
    }
    refreshTransition();
}

void StatesPage::refreshTransition() {
    const auto& clips = session_.playhead().clips();
    if (!isVisible() || clips.size() < 2) {
        return;
    }
    session_.transition().choose(from_->currentIndex(), to_->currentIndex());
    double seconds = bake::kUsualFade;
    for (const bake::Transition& each : session_.document().recipe.transitions) {
        if (each.from == from_->currentText().toStdString() && each.to == to_->currentText().toStdString()) {
            seconds = each.seconds;
        }
    }
    length_->setValue(seconds);
    session_.transition().setLength(seconds);
}

} // namespace ripple::app
