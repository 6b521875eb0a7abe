#include "app/session/crowd_player.h"

#include <algorithm>
#include <cmath>

namespace ripple::app {

CrowdPlayer::CrowdPlayer(const Playhead& playhead, ScatterStage& scatter)
    : playhead_(playhead),
      scatter_(scatter) {
    connect(&scatter, &ScatterStage::changed, this, &CrowdPlayer::take);
    connect(&playhead, &Playhead::moved, this, &CrowdPlayer::follow);
}

void CrowdPlayer::take() {
    const auto next = scatter_.result();
    if (next == state_) {
        return; // a problem, which changes nothing
    }
    state_ = next;
    past_.clear();
    if (!state_) {
        crowd_.reset();
        seconds_ = 0.0;
    } else {
        crowd_.emplace(scatter::Crowd(state_->crowd, state_->placed.copies, state_->placed.ground));
        crowd_->goTo(seconds_);
        remember();
    }
    Q_EMIT rebuilt();
    Q_EMIT moved();
}

void CrowdPlayer::setSeconds(double seconds) {
    seconds_ = std::max(seconds, 0.0);
    if (crowd_) {
        crowd_->goTo(seconds_);
        remember();
        Q_EMIT moved();
    }
}

void CrowdPlayer::setBall(const glm::vec2& place) {
    if (place != ball_) {
        ball_ = place;
        Q_EMIT ballMoved();
    }
}

void CrowdPlayer::follow() {
    const bake::BakedClip* clip = playhead_.clip();
    if (!clip || !crowd_) {
        clip_ = -1;
        return;
    }
    const auto length = static_cast<double>(std::max<std::size_t>(clip->length(), 1));
    double frames = clip_ == playhead_.clipIndex() ? playhead_.frame() - frame_ : 0.0;
    // Over the top, whichever way: the shorter one is meant.
    if (frames < -0.5 * length) {
        frames += length;
    } else if (frames > 0.5 * length) {
        frames -= length;
    }
    clip_ = playhead_.clipIndex();
    frame_ = playhead_.frame();
    if (frames != 0.0) {
        setSeconds(seconds_ + frames / clip->fps);
    }
}

void CrowdPlayer::remember() {
    std::erase_if(past_, [&](const Moment& moment) {
        return moment.seconds >= seconds_ || moment.seconds < seconds_ - kRemembered;
    });
    const auto states = crowd_->crowd().states();
    const std::size_t watched = std::min(kWatched, states.size());
    past_.push_back({seconds_, {states.begin(), states.begin() + static_cast<std::ptrdiff_t>(watched)}});
}

} // namespace ripple::app
