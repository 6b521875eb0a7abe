#pragma once

#include "app/session/playhead.h"
#include "app/session/scatter_stage.h"
#include "scatter/crowd_history.h"

#include <QObject>

#include <optional>

namespace ripple::app {

/// The crowd as it is looked at: time goes on as the playhead does, trip after trip. It changes nothing in
/// the document.
class CrowdPlayer : public QObject {
    Q_OBJECT
public:
    /// Both must outlive this.
    CrowdPlayer(const Playhead& playhead, ScatterStage& scatter);

    std::span<const scatter::CopyState> states() const {
        return crowd_ ? crowd_->crowd().states() : std::span<const scatter::CopyState>();
    }
    /// Null until there is one.
    std::shared_ptr<const ScatterState> state() const { return state_; }
    /// Since it began.
    double seconds() const { return seconds_; }
    void setSeconds(double seconds);

    /// Where the ball lies that pushes what makes way: x and z in metres.
    glm::vec2 ball() const { return ball_; }
    void setBall(const glm::vec2& place);

    /// Of the last seconds, for some copies: see scatter::CopyState. Newest last.
    struct Moment {
        double seconds = 0.0;
        std::vector<scatter::CopyState> copies;
    };
    static constexpr std::size_t kWatched = 5;
    static constexpr double kRemembered = 8.0; ///< seconds
    const std::vector<Moment>& past() const { return past_; }

Q_SIGNALS:
    void moved();   ///< copies, at another time
    void rebuilt(); ///< another crowd
    void ballMoved();

private:
    void take();
    void follow();
    void remember();

    const Playhead& playhead_;
    ScatterStage& scatter_;
    std::shared_ptr<const ScatterState> state_;
    std::optional<scatter::CrowdHistory> crowd_;
    double seconds_ = 0.0;
    int clip_ = -1; ///< of the playhead when it was followed last
    double frame_ = 0.0;
    glm::vec2 ball_{0.0f};
    std::vector<Moment> past_;
};

} // namespace ripple::app
