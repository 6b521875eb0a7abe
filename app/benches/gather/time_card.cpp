#include "app/benches/gather/time_card.h"

#include "app/look/panel_parts.h"
#include "app/session/words.h"
#include "base/units.h"

#include <QHBoxLayout>

#include <algorithm>
#include <cmath>

namespace ripple::app {

TimeCard::TimeCard(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      rate_(new NumberField),
      first_(new NumberField),
      last_(new NumberField),
      speed_(new NumberField),
      reversed_(new TickBox(tr("reversed"))),
      seconds_(quietLabel()) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(5);
    column->addWidget(sectionLabel(tr("Timing")));
    rate_->setObjectName("rate");
    rate_->setRange(0, 1000);
    rate_->setDecimals(2);
    rate_->setUnit("/ s");
    rate_->setFixedWidth(132);
    rateRow_ = labelledRow(tr("Frame rate"), rate_, tr("Frames per second at which the sequence was made"));
    column->addWidget(rateRow_);
    auto* pair = new QWidget;
    auto* row = new QHBoxLayout(pair);
    row->setContentsMargins(0, 0, 0, 0);
    first_->setObjectName("rangeFirst");
    last_->setObjectName("rangeLast");
    for (NumberField* field : {first_, last_}) {
        field->setFixedWidth(60);
    }
    row->addWidget(first_);
    row->addWidget(quietLabel("–"));
    row->addWidget(last_);
    rangeRow_ = labelledRow(tr("Frames used"), pair, tr("Frames outside this range are ignored"));
    column->addWidget(rangeRow_);
    auto* playing = new QWidget;
    auto* both = new QHBoxLayout(playing);
    both->setContentsMargins(0, 0, 0, 0);
    speed_->setObjectName("speed");
    speed_->setRange(0.01, 100.0);
    speed_->setDecimals(2);
    speed_->setUnit("×");
    speed_->setDefault(1.0);
    speed_->setFixedWidth(72);
    reversed_->setObjectName("reversed");
    reversed_->setCheckable(true);
    both->addWidget(reversed_);
    both->addWidget(speed_);
    column->addWidget(labelledRow(tr("Playback"), playing, tr("2 × plays twice as fast")));
    column->addWidget(seconds_);

    connect(rate_, &NumberField::edited, this, [this](double v, bool more) {
        change(
            tr("Frame rate"), [v](source::TimeChoice& t) { t.rate = v; }, more);
    });
    connect(first_, &NumberField::edited, this, [this](double v, bool more) {
        const auto to = static_cast<std::size_t>(std::max(0.0, std::round(v)));
        change(
            tr("Frames used"),
            [this, to](source::TimeChoice& t) {
                source::FrameRange range = t.range.value_or(source::FrameRange{0, storedFrames_ - 1});
                range.first = std::min(to, range.last);
                t.range = range;
            },
            more);
    });
    connect(last_, &NumberField::edited, this, [this](double v, bool more) {
        const auto to = static_cast<std::size_t>(std::max(0.0, std::round(v)));
        change(
            tr("Frames used"),
            [this, to](source::TimeChoice& t) {
                source::FrameRange range = t.range.value_or(source::FrameRange{0, storedFrames_ - 1});
                range.last = std::clamp(to, range.first, storedFrames_ - 1);
                t.range = range;
            },
            more);
    });
    connect(speed_, &NumberField::edited, this, [this](double v, bool more) {
        change(
            tr("Playback speed"), [v](source::TimeChoice& t) { t.speed = std::max(v, 0.01); }, more);
    });
    connect(reversed_, &TickBox::clicked, this, [this](bool on) {
        change(
            tr("Reversed playback"), [on](source::TimeChoice& t) { t.reversed = on; }, false);
    });
    connect(&session_, &Session::sourceLoaded, this, &TimeCard::refresh);
    refresh();
}

void TimeCard::change(const QString& what, const std::function<void(source::TimeChoice&)>& how,
                      bool continuing) {
    session_.edit(
        what,
        [&](project::Document& d) {
            how(d.source.reading.time);
            const auto& range = d.source.reading.time.range;
            if (range && range->first == 0 && range->last + 1 >= storedFrames_) {
                d.source.reading.time.range.reset(); // all of it
            }
        },
        session_.gesture(continuing));
}

void TimeCard::refresh() {
    const auto source = session_.source();
    const bool moves = source && (source->clips()[0].frames > 1 || source->clips()[0].duration > 0.0);
    const source::TimeChoice& time = session_.document().source.reading.time;
    // A range may have left one frame; it must be possible to take it back.
    setVisible(moves || (source && time.range));
    if (!source) {
        return;
    }
    const source::Clip& clip = source->clips()[0];
    const bool sequence = clip.isSequence();
    rateRow_->setVisible(sequence);
    rangeRow_->setVisible(sequence);
    if (sequence) {
        const std::size_t all = source->storedFrames();
        storedFrames_ = std::max<std::size_t>(all, 1);
        const double most = static_cast<double>(storedFrames_ - 1);
        first_->setRange(0.0, most);
        last_->setRange(0.0, most);
        first_->setDefault(0.0);
        last_->setDefault(most);
        const source::FrameRange range = time.range.value_or(source::FrameRange{0, storedFrames_ - 1});
        first_->setValue(static_cast<double>(range.first));
        last_->setValue(static_cast<double>(range.last));
        const QString usual = QString("%1 / s").arg(clip.fps / time.speed);
        rate_->setDefault(0.0, clip.rateKnown ? usual : tr("%1, assumed").arg(usual));
        rate_->setValue(time.rate);
    }
    speed_->setValue(time.speed);
    reversed_->setChecked(time.reversed);
    const QString seconds = text(base::secondsText(clip.duration));
    seconds_->setText(sequence ? tr("%n frame(s) at %1 per second, from first to last %2", nullptr,
                                    static_cast<int>(clip.frames))
                                     .arg(text(base::numberText(clip.fps)), seconds)
                      : source->clips().size() == 1 ? tr("The clip lasts %1.").arg(seconds)
                                                    : tr("%1 lasts %2.").arg(text(clip.name), seconds));
}

} // namespace ripple::app
