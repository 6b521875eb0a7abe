#pragma once

#include "app/charts/texture_picture.h"
#include "app/jobs/latest_job.h"

#include <QWidget>

#include <optional>

namespace ripple::app {

/// A baked texture as a picture: pan, zoom, the rows of the playing frame, the picked vertex, and what lies
/// under the pointer. A click goes to the frame and picks the vertex on the model.
class TextureSheet : public QWidget {
    Q_OBJECT
public:
    explicit TextureSheet(Session& session, QWidget* parent = nullptr);

    struct Spot {
        std::size_t row = 0;      ///< stored frame, or shape
        std::size_t column = 0;   ///< of a weight: the first of the texel's shapes
        std::uint32_t vertex = 0; ///< the first that has this column
        std::size_t sharing = 1;  ///< how many vertices have it
    };
    /// What is stored at a place of the widget.
    std::optional<Spot> spotAt(const QPointF& at) const;
    /// Where a vertex's texel in a row is, in this widget's pixels.
    QPointF placeOf(std::size_t row, std::uint32_t vertex) const;
    QString readout(const Spot& spot) const;
    QRectF sheetBox() const;
    QString warning() const { return picture_.warning; }
    bool ready() const { return !picture_.image.isNull(); }
    double zoom() const { return zoom_; }

    void choose(const SheetChoice& choice);
    const SheetChoice& choice() const { return choice_; }

Q_SIGNALS:
    void pictureMade();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    /// What is shown no longer holds; made anew when it is next painted.
    void outdate();
    void rebuild();
    void countColumns();
    void zoomBy(double factor, const QPointF& at);
    void panBy(const QPointF& way);
    void paintMarks(QPainter& painter, const QRectF& box) const;
    QRectF area() const;
    /// Each row of what is looked at is a stored frame; else a shape.
    bool rowsAreFrames() const;

    Session& session_;
    SheetChoice choice_;
    bool outdated_ = true;
    std::shared_ptr<const BakeState> shown_; ///< what picture_ and the counts were made from
    TexturePicture picture_;
    std::vector<std::uint32_t> firstVertex_; ///< columns
    std::vector<std::uint32_t> sharing_;     ///< columns
    LatestJob job_;
    double zoom_ = 1.0;
    QPointF pan_;
    QPointF last_;
    bool dragging_ = false;
    bool moved_ = false;
    std::optional<QPointF> hover_;
};

} // namespace ripple::app
