#include "app/session/playhead.h"

#include <algorithm>
#include <cmath>

namespace ripple::app {

Playhead::Playhead(QObject* parent) : QObject(parent) {
    timer_.setTimerType(Qt::PreciseTimer);
    timer_.setInterval(16);
    connect(&timer_, &QTimer::timeout, this, &Playhead::advance);
}

void Playhead::setClips(std::vector<bake::BakedClip> clips) {
    if (clips == clips_) {
        return;
    }
    const std::string name = clip() ? clip()->name : "";
    const double at = turn();
    clips_ = std::move(clips);
    const auto same =
        std::find_if(clips_.begin(), clips_.end(), [&](const auto& c) { return c.name == name; });
    clipIndex_ = same != clips_.end() ? static_cast<std::size_t>(same - clips_.begin()) : 0;
    frame_ = same != clips_.end() ? at * length() : 0.0;
    if (clips_.empty()) {
        setPlaying(false);
    }
    Q_EMIT clipsChanged();
    Q_EMIT moved();
}

void Playhead::setClipIndex(int index) {
    if (index < 0 || static_cast<std::size_t>(index) >= clips_.size() || index == clipIndex()) {
        return;
    }
    clipIndex_ = static_cast<std::size_t>(index);
    frame_ = 0.0;
    Q_EMIT clipsChanged();
    Q_EMIT moved();
}

double Playhead::length() const {
    return clip() ? static_cast<double>(clip()->length()) : 1.0;
}

void Playhead::setFrame(double frame) {
    if (!clip()) {
        return;
    }
    const double count = length();
    double inside = frame - count * std::floor(frame / count);
    inside = inside >= count ? 0.0 : inside;
    if (!clip()->closed) {
        inside = std::min(inside, count - 1.0);
    }
    if (inside != frame_) {
        frame_ = inside;
        Q_EMIT moved();
    }
}

void Playhead::step(int frames) {
    setPlaying(false);
    setFrame(std::round(frame_) + frames);
}

double Playhead::turn() const {
    return frame_ / length();
}

void Playhead::setTurn(double turn) {
    setFrame((turn - std::floor(turn)) * length());
}

void Playhead::setPlaying(bool playing) {
    const bool can = playing && clip();
    if (can == playing_) {
        return;
    }
    playing_ = can;
    if (playing_) {
        clock_.start();
        timer_.start();
    } else {
        timer_.stop();
    }
    Q_EMIT playingChanged(playing_);
}

void Playhead::advance() {
    const double seconds = static_cast<double>(clock_.nsecsElapsed()) * 1e-9;
    clock_.restart();
    if (!clip()) {
        return;
    }
    // An open clip's last frame is shown for a frame's time before it starts over.
    const double count = length();
    double& at = frame_;
    const double next = at + seconds * clip()->fps;
    const double wrapped = next - count * std::floor(next / count);
    at = wrapped;
    Q_EMIT moved();
}

} // namespace ripple::app
