#pragma once

#include "app/session/session.h"
#include "app/look/theme.h"

#include <QColor>
#include <QPixmap>
#include <QWidget>

#include <optional>
#include <vector>

namespace ripple::app {

/// The round time control: a ring that is one trip through the clip, with a tick for each frame, a wave of
/// how much moves, the seam at the top, and a hand that can be dragged. Space plays, arrows step.
class Dial : public QWidget {
    Q_OBJECT
public:
    explicit Dial(Session& session, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {238, 238}; }

    /// Where the hand's grip is at a turn; for tests.
    QPointF gripAt(double turn) const;
    QRectF playBox() const;
    /// The clip's name, which opens the list of clips; empty with fewer than two.
    QRectF clipBox() const;
    /// Voices that are drawn, and those that there is no room for.
    std::size_t ringCount() const { return rings_.size(); }
    int voicesLeftOut() const { return voicesLeftOut_; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    struct VoiceRing {
        std::vector<float> values; ///< −1..1 at i / size of the loop
        QColor colour;
        bool chosen = false;
        bool operator==(const VoiceRing&) const = default;
    };
    QPointF centre() const;
    double radius() const;
    QPointF at(double turn, double distance) const;
    double turnOf(const QPointF& point) const;
    void paintTicks(QPainter& painter, std::size_t frames);
    void describe();
    void paintRing(QPainter& painter, const bake::BakedClip& clip, const bake::Seam& seam,
                   const QString& closing);
    void paintWave(QPainter& painter, const bake::Motion& motion);
    /// A ring for each voice that is heard, with its wave on it: what closes is seen to close.
    void paintVoices(QPainter& painter);
    std::vector<std::size_t> ringsFor(std::vector<std::size_t> heard, std::optional<std::size_t> chosen);
    void paintVoiceRing(QPainter& painter, const VoiceRing& ring, double base, double swing) const;
    bool showsVoices() const;
    void paintCentre(QPainter& painter, const bake::BakedClip& clip);
    void paintPlay(QPainter& painter);
    void paintHand(QPainter& painter, double turn);
    void paintClipName(QPainter& painter);
    // dial_transition.cpp
    QString transitionWords() const;
    double transitionTurn(double seconds) const;
    void paintTransition(QPainter& painter);
    void chooseClip();
    // dial_crowd.cpp: where each copy is in its loop
    bool showsCrowd() const;
    void paintCrowd(QPainter& painter);
    QString crowdWords() const;

    Session& session_;
    bool dragging_ = false;
    std::vector<VoiceRing> rings_; ///< as they are in ringsPicture_
    ThemeKind ringsTheme_ = ThemeKind::dusk;
    int voicesLeftOut_ = 0; ///< that have no ring
    QPixmap ringsPicture_;
};

} // namespace ripple::app
