#pragma once

#include "inspect/survey.h"

#include <QImage>
#include <QWidget>

#include <memory>
#include <optional>

namespace ripple::app {

/// Frame against frame: how unlike their poses and velocities are. Dark is alike, so a good loop is a dark
/// spot off the diagonal. A click picks the window between its two frames.
class LikenessMap : public QWidget {
    Q_OBJECT
public:
    explicit LikenessMap(QWidget* parent = nullptr);

    /// `step`: frames per row.
    void setLikeness(std::shared_ptr<const inspect::Likeness> likeness, std::size_t step);
    void setWindows(std::vector<inspect::MeasuredWindow> windows);
    /// The window that is kept now; none: the whole clip.
    void setChosen(std::optional<inspect::LoopWindow> chosen);
    /// The frame of the clip that is shown.
    void setFrame(double frame);
    /// Where frames first and last + 1 meet, in this widget's pixels; for tests.
    QPoint spotOf(const inspect::LoopWindow& window) const;
    QSize sizeHint() const override { return {188, 188}; }

Q_SIGNALS:
    void windowPicked(inspect::LoopWindow window);
    /// What is under the pointer; empty when it leaves.
    void hovered(const QString& words);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    QRectF square() const;
    QPointF place(double frameX, double frameY) const;
    std::optional<inspect::LoopWindow> windowAt(const QPointF& at) const;

    std::shared_ptr<const inspect::Likeness> likeness_;
    std::size_t step_ = 1;
    QImage image_;
    std::vector<inspect::MeasuredWindow> windows_;
    std::optional<inspect::LoopWindow> chosen_;
    double frame_ = 0.0;
};

} // namespace ripple::app
