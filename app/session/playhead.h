#pragma once

#include "bake/texture_set.h"

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

#include <vector>

namespace ripple::app {

/// Where in time the window is: a clip, and a frame of it that may lie between two.
class Playhead : public QObject {
    Q_OBJECT
public:
    explicit Playhead(QObject* parent = nullptr);

    /// Clips to play; the place is kept where it still exists.
    void setClips(std::vector<bake::BakedClip> clips);
    const std::vector<bake::BakedClip>& clips() const { return clips_; }
    /// Null when there is nothing to play.
    const bake::BakedClip* clip() const { return clips_.empty() ? nullptr : &clips_[clipIndex_]; }
    int clipIndex() const { return static_cast<int>(clipIndex_); }
    void setClipIndex(int index);

    /// 0 .. frames; in a closed clip it wraps, in an open one it stops at the last frame.
    double frame() const { return frame_; }
    void setFrame(double frame);
    /// Whole frames, from the nearest one.
    void step(int frames);
    /// Part of the way round, 0..1.
    double turn() const;
    void setTurn(double turn);

    bool playing() const { return playing_; }
    void setPlaying(bool playing);
    void toggle() { setPlaying(!playing_); }

Q_SIGNALS:
    void moved();
    void playingChanged(bool playing);
    void clipsChanged();

private:
    void advance();
    /// How many frames once round is: an open clip rests on its last frame for the time of one.
    double length() const;

    std::vector<bake::BakedClip> clips_;
    std::size_t clipIndex_ = 0;
    double frame_ = 0.0;
    bool playing_ = false;
    QTimer timer_;
    QElapsedTimer clock_;
};

} // namespace ripple::app
