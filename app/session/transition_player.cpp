#include "app/session/transition_player.h"

#include <algorithm>
#include <cmath>

namespace ripple::app {

TransitionPlayer::TransitionPlayer(const Playhead& clips, QObject* parent) : QObject(parent), clips_(clips) {
    timer_.setTimerType(Qt::PreciseTimer);
    timer_.setInterval(16);
    connect(&timer_, &QTimer::timeout, this, &TransitionPlayer::advance);
    connect(&clips, &Playhead::clipsChanged, this, [this] {
        if (!chosen()) {
            hide();
        }
        Q_EMIT changed();
    });
}

bool TransitionPlayer::chosen() const {
    const auto count = static_cast<int>(clips_.clips().size());
    return from_ >= 0 && to_ >= 0 && from_ < count && to_ < count && from_ != to_;
}

void TransitionPlayer::choose(int from, int to) {
    if (from == from_ && to == to_) {
        return;
    }
    from_ = from;
    to_ = to;
    seconds_ = 0.0;
    Q_EMIT changed();
}

void TransitionPlayer::setLength(double seconds) {
    if (seconds != length_) {
        length_ = seconds;
        seconds_ = std::min(seconds_, whole());
        Q_EMIT changed();
    }
}

double TransitionPlayer::whole() const {
    return kBefore + length_ + kAfter;
}

void TransitionPlayer::setSeconds(double seconds) {
    seconds_ = std::clamp(seconds, 0.0, whole());
    shown_ = chosen();
    Q_EMIT changed();
}

void TransitionPlayer::setPlaying(bool playing) {
    if (playing && chosen()) {
        shown_ = true;
        clock_.start();
        timer_.start();
    } else {
        timer_.stop();
    }
    Q_EMIT changed();
}

void TransitionPlayer::hide() {
    timer_.stop();
    if (shown_) {
        shown_ = false;
        Q_EMIT changed();
    }
}

std::optional<TransitionPlayer::Moment> TransitionPlayer::moment() const {
    if (!shown()) {
        return std::nullopt;
    }
    const auto& clips = clips_.clips();
    Moment moment;
    moment.from = from_;
    moment.to = to_;
    const double into = seconds_ - kBefore;
    moment.frameFrom = seconds_ * clips[static_cast<std::size_t>(from_)].fps;
    moment.frameTo = std::max(into, 0.0) * clips[static_cast<std::size_t>(to_)].fps;
    moment.progress = into <= 0.0 ? 0.0 : length_ > 0.0 ? std::min(into / length_, 1.0) : 1.0;
    return moment;
}

void TransitionPlayer::advance() {
    const double passed = static_cast<double>(clock_.nsecsElapsed()) * 1e-9;
    clock_.restart();
    seconds_ = std::fmod(seconds_ + passed, whole());
    Q_EMIT changed();
}

} // namespace ripple::app
