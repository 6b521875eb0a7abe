#pragma once

#include "app/shell/session.h"

#include <QImage>
#include <QWidget>

#include <optional>
#include <set>

namespace ripple::app {

/// The baked texture as a picture: pan, zoom, the row of the playing frame, and what lies under the pointer.
/// A click goes to the frame and picks the vertex on the model.
class TextureSheet : public QWidget {
    Q_OBJECT
public:
    explicit TextureSheet(Session& session, QWidget* parent = nullptr);

    struct Spot {
        std::size_t frame = 0;
        std::size_t column = 0;
        std::uint32_t vertex = 0; ///< the first that has this column
        std::size_t sharing = 1;  ///< how many vertices have it
        glm::vec3 value{0.0f};    ///< decoded
    };
    /// What is stored at a place of the widget.
    std::optional<Spot> spotAt(const QPointF& at) const;
    QRectF sheetBox() const;
    void showNormals(bool normals);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    /// What is shown no longer holds; made anew when it is next painted.
    void outdate();
    void rebuild() const;
    QString readout(const Spot& spot) const;

    Session& session_;
    bool normals_ = false;
    // Made from the session when first asked for: a hidden sheet costs nothing.
    mutable bool outdated_ = true;
    mutable QImage picture_;
    mutable std::vector<std::uint32_t> firstVertex_; ///< columns
    mutable std::vector<std::uint32_t> sharing_;     ///< columns
    mutable QString warning_;
    double zoom_ = 1.0;
    QPointF pan_;
    QPointF last_;
    bool dragging_ = false;
    bool moved_ = false;
    std::optional<QPointF> hover_;
};

} // namespace ripple::app
