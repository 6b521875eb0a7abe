#pragma once

#include "app/session/session.h"

#include <QWidget>

namespace ripple::app {

/// A transition as a picture of its time: the clip that goes, the one that comes, and the wedge in which they
/// cross. The hand is dragged anywhere; the wedge's end is dragged to make the fade longer. Left and Right
/// move the hand, with Shift the wedge's end; Space plays.
class TransitionLine : public QWidget {
    Q_OBJECT
public:
    explicit TransitionLine(Session& session, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {360, 96}; }

    /// Where a moment lies, and where the wedge ends; for tests.
    double placeOf(double seconds) const;
    QPointF wedgeEnd() const;

Q_SIGNALS:
    /// `continuing`: the same drag goes on.
    void lengthEdited(double seconds, bool continuing);

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    enum class Drag { none, hand, wedge };
    QRectF bar(bool lower) const;
    double secondsAt(double x) const;
    void paintClip(QPainter& painter, bool coming);
    void describe();

    Session& session_;
    Drag drag_ = Drag::none;
    bool dragged_ = false;
    double scale_ = 0.0; ///< pixels a second while the wedge is dragged, so that it keeps under the pointer
};

} // namespace ripple::app
