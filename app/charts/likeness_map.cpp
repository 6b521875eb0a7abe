#include "app/charts/likeness_map.h"

#include "app/charts/ramp.h"
#include "app/look/theme.h"
#include "base/units.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace ripple::app {

LikenessMap::LikenessMap(QWidget* parent) : QWidget(parent) {
    setMouseTracking(true);
    setMinimumSize(120, 120);
    setAccessibleName(tr("Likeness of frames"));
}

void LikenessMap::setLikeness(std::shared_ptr<const inspect::Likeness> likeness, std::size_t step) {
    if (likeness == likeness_) {
        return;
    }
    likeness_ = std::move(likeness);
    step_ = step;
    image_ = {};
    if (likeness_) {
        const auto n = static_cast<int>(likeness_->frames);
        image_ = QImage(n, n, QImage::Format_RGB32);
        const float scale = likeness_->largestPose > 0.0f ? 1.0f / likeness_->largestPose : 0.0f;
        QRgb colours[256];
        for (int i = 0; i < 256; ++i) {
            colours[i] = rampColour(i / 255.0).rgb();
        }
        for (int y = 0; y < n; ++y) {
            auto* line = reinterpret_cast<QRgb*>(image_.scanLine(n - 1 - y)); // frame 0 at the bottom
            for (int x = 0; x < n; ++x) {
                // The root brings out what is nearly alike.
                const float unlike =
                    likeness_->unlikeness(static_cast<std::size_t>(x), static_cast<std::size_t>(y));
                const float shade = std::sqrt(std::clamp(unlike * scale, 0.0f, 1.0f));
                line[x] = colours[static_cast<int>(shade * 255.0f)];
            }
        }
    }
    update();
}

void LikenessMap::setWindows(std::vector<inspect::MeasuredWindow> windows) {
    windows_ = std::move(windows);
    update();
}

void LikenessMap::setChosen(std::optional<inspect::LoopWindow> chosen) {
    chosen_ = chosen;
    update();
}

void LikenessMap::setFrame(double frame) {
    frame_ = frame;
    update();
}

QRectF LikenessMap::square() const {
    const double side = std::min(width(), height()) - 2.0;
    return {1.0, (height() - side) / 2, side, side};
}

QPointF LikenessMap::place(double frameX, double frameY) const {
    const QRectF box = square();
    const double n = likeness_ ? static_cast<double>(likeness_->frames * step_) : 1.0;
    return {box.left() + (frameX + 0.5) / n * box.width(), box.bottom() - (frameY + 0.5) / n * box.height()};
}

QPoint LikenessMap::spotOf(const inspect::LoopWindow& window) const {
    // A window that begins with the clip or ends with it has its spot at the edge: all of it is to be seen.
    constexpr double kRoom = 8.5;
    const QRectF box = square().adjusted(kRoom, kRoom, -kRoom, -kRoom);
    const QPointF at = place(static_cast<double>(window.first), static_cast<double>(window.last + 1));
    return QPointF(std::clamp(at.x(), box.left(), std::max(box.left(), box.right())),
                   std::clamp(at.y(), box.top(), std::max(box.top(), box.bottom())))
        .toPoint();
}

std::optional<inspect::LoopWindow> LikenessMap::windowAt(const QPointF& at) const {
    const QRectF box = square();
    if (!likeness_ || !box.contains(at)) {
        return std::nullopt;
    }
    const auto n = static_cast<double>(likeness_->frames);
    const auto row = [n](double part) {
        return static_cast<std::size_t>(std::clamp(part * n, 0.0, n - 1.0));
    };
    const std::size_t x = row((at.x() - box.left()) / box.width());
    const std::size_t y = row((box.bottom() - at.y()) / box.height());
    const std::size_t first = std::min(x, y);
    const std::size_t behind = std::max(x, y);
    if (behind < first + 2) {
        return std::nullopt;
    }
    return inspect::LoopWindow{first * step_, behind * step_ - 1, likeness_->unlikeness(first, behind)};
}

void LikenessMap::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const QRectF box = square();
    if (image_.isNull()) {
        painter.setPen(theme().quiet);
        painter.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
                         tr("How alike the frames\nare is drawn here."));
        return;
    }
    painter.setRenderHint(QPainter::SmoothPixmapTransform, image_.width() > box.width());
    painter.drawImage(box, image_);
    painter.setRenderHint(QPainter::Antialiasing);
    QColor cross = theme().text;
    cross.setAlphaF(0.55f);
    painter.setPen(QPen(cross, 1.0));
    const QPointF here = place(frame_, frame_);
    painter.drawLine(QPointF(here.x(), box.top()), QPointF(here.x(), box.bottom()));
    painter.drawLine(QPointF(box.left(), here.y()), QPointF(box.right(), here.y()));
    painter.setBrush(Qt::NoBrush);
    for (const inspect::MeasuredWindow& one : windows_) {
        const QPointF at = spotOf(one.window);
        painter.setPen(QPen(theme().deep, 3.0));
        painter.drawEllipse(at, 4.5, 4.5);
        painter.setPen(QPen(theme().text, 1.4));
        painter.drawEllipse(at, 4.5, 4.5);
    }
    if (chosen_) {
        const QPointF at = spotOf(*chosen_);
        painter.setPen(QPen(theme().deep, 4.5));
        painter.drawEllipse(at, 7.0, 7.0);
        painter.setPen(QPen(theme().coral, 2.5));
        painter.drawEllipse(at, 7.0, 7.0);
    }
}

void LikenessMap::mousePressEvent(QMouseEvent* event) {
    if (const auto window = windowAt(event->position()); window && event->button() == Qt::LeftButton) {
        // A spot that is nearly hit is meant.
        constexpr double kReach = 7.0;
        for (const inspect::MeasuredWindow& one : windows_) {
            if (QPointF(spotOf(one.window) - event->position()).manhattanLength() <= kReach) {
                Q_EMIT windowPicked(one.window);
                return;
            }
        }
        Q_EMIT windowPicked(*window);
    }
}

void LikenessMap::mouseMoveEvent(QMouseEvent* event) {
    const auto window = windowAt(event->position());
    if (!window) {
        Q_EMIT hovered({});
        return;
    }
    const std::size_t i = window->first / step_;
    const std::size_t j = (window->last + 1) / step_;
    const auto length = [](float metres) {
        return QString::fromStdString(base::lengthText(static_cast<double>(metres)));
    };
    Q_EMIT hovered(tr("Frames %1 and %2: poses %3 apart, steps %4 apart")
                       .arg(window->first)
                       .arg(window->last + 1)
                       .arg(length(likeness_->poseAt(i, j)), length(likeness_->velocityAt(i, j))));
}

void LikenessMap::leaveEvent(QEvent*) {
    Q_EMIT hovered({});
}

} // namespace ripple::app
