#pragma once

#include "app/session/playhead.h"

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

#include <optional>

namespace ripple::app {

/// A cross-fade from one clip to another, looked at: the first plays, fades into the second, and that plays
/// on for a moment. It changes nothing in the document.
class TransitionPlayer : public QObject {
    Q_OBJECT
public:
    /// Whose clips are played; it must outlive this.
    explicit TransitionPlayer(const Playhead& clips, QObject* parent = nullptr);

    /// Between which clips; an index that there is none of chooses nothing.
    void choose(int from, int to);
    bool chosen() const;
    int from() const { return from_; }
    int to() const { return to_; }
    /// How long the fade takes.
    void setLength(double seconds);
    double length() const { return length_; }

    /// Seconds that are played: before the fade, in it and after it.
    double whole() const;
    double fadeStart() const { return kBefore; }
    /// Where it is; shown from the first call of setSeconds() or play() until hide().
    double seconds() const { return seconds_; }
    void setSeconds(double seconds);
    bool playing() const { return timer_.isActive(); }
    void setPlaying(bool playing);
    bool shown() const { return shown_ && chosen(); }
    void hide();

    /// What the shipped code is to draw.
    struct Moment {
        int from = 0;
        int to = 0;
        double frameFrom = 0.0;
        double frameTo = 0.0;
        double progress = 0.0; ///< 0..1, even in time
    };
    /// Nothing unless shown().
    std::optional<Moment> moment() const;

Q_SIGNALS:
    void changed(); ///< which clips, how long, where it is, or whether it is shown

private:
    static constexpr double kBefore = 0.6; ///< seconds
    static constexpr double kAfter = 0.9;

    void advance();

    const Playhead& clips_;
    int from_ = -1;
    int to_ = -1;
    double length_ = bake::kUsualFade;
    double seconds_ = 0.0;
    bool shown_ = false;
    QTimer timer_;
    QElapsedTimer clock_;
};

} // namespace ripple::app
