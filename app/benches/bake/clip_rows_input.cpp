// The rows of clips by mouse and keys.

#include "app/benches/bake/clip_rows.h"

#include <QKeyEvent>
#include <QMouseEvent>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

constexpr double kHandle = 6.0; ///< pixels beside a bar's end that still take hold of it

} // namespace

bool ClipRows::takesKey(int key) {
    return key == Qt::Key_Up || key == Qt::Key_Down || key == Qt::Key_Left || key == Qt::Key_Right ||
           key == Qt::Key_Space || key == Qt::Key_F2;
}

/// Which end of the row's bar lies there.
ClipRows::Drag ClipRows::endAt(std::size_t row, double x) const {
    const Row& own = rows_[row];
    const auto near = [&](std::size_t frame) {
        return own.baked && std::abs(x - placeIn(row, static_cast<double>(frame))) <= kHandle;
    };
    return near(own.window.last) ? Drag::last : near(own.window.first) ? Drag::first : Drag::none;
}

void ClipRows::mousePressEvent(QMouseEvent* event) {
    const auto row = rowAt(event->position());
    if (event->button() != Qt::LeftButton || !row) {
        return;
    }
    choose(*row);
    dragRow_ = *row;
    dragged_ = false;
    dragY_ = event->position().y();
    if (tickBox(*row).contains(event->position())) {
        tick(*row);
    } else if (grip(*row).contains(event->position())) {
        drag_ = Drag::order;
    } else {
        drag_ = endAt(*row, event->position().x());
    }
}

void ClipRows::mouseMoveEvent(QMouseEvent* event) {
    if (drag_ == Drag::none) {
        const auto row = rowAt(event->position());
        const bool onGrip = row && grip(*row).contains(event->position());
        const bool onEnd = row && endAt(*row, event->position().x()) != Drag::none;
        setCursor(onGrip ? Qt::SizeVerCursor : onEnd ? Qt::SizeHorCursor : Qt::ArrowCursor);
        return;
    }
    if (drag_ == Drag::order) {
        dragged_ = dragged_ || std::abs(event->position().y() - dragY_) > 4.0;
        dragY_ = event->position().y();
        update();
        return;
    }
    const QRectF box = bar(dragRow_);
    const double most = static_cast<double>(rows_[dragRow_].frames) - 1.0;
    trim(dragRow_, drag_ == Drag::first, (event->position().x() - box.left()) / box.width() * most, dragged_);
    dragged_ = true;
}

void ClipRows::mouseReleaseEvent(QMouseEvent*) {
    const Drag was = drag_;
    drag_ = Drag::none;
    if (was == Drag::order && dragged_) {
        const double gap = std::clamp(std::round(dragY_ / kRowHigh), 0.0, static_cast<double>(rows_.size()));
        const auto before = static_cast<std::size_t>(gap);
        move(dragRow_, before > dragRow_ ? before - 1 : before);
    }
    update();
}

void ClipRows::mouseDoubleClickEvent(QMouseEvent* event) {
    const auto row = rowAt(event->position());
    if (row && nameBox(*row).contains(event->position())) {
        startRename(*row);
    }
}

void ClipRows::keyPressEvent(QKeyEvent* event) {
    if (rows_.empty()) {
        return QWidget::keyPressEvent(event);
    }
    const int way = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    const auto other = static_cast<std::size_t>(
        std::clamp(static_cast<int>(current_) + way, 0, static_cast<int>(rows_.size()) - 1));
    const int side = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (way != 0 && event->modifiers() & Qt::AltModifier) {
        move(current_, other);
    } else if (way != 0) {
        choose(other);
    } else if (side != 0) {
        const bool first = event->modifiers() & Qt::ShiftModifier;
        const bake::FrameWindow& window = rows_[current_].window;
        trim(current_, first, static_cast<double>(first ? window.first : window.last) + side, false);
    } else if (event->key() == Qt::Key_Space) {
        tick(current_);
    } else if (event->key() == Qt::Key_F2) {
        startRename(current_);
    } else {
        QWidget::keyPressEvent(event);
    }
}

void ClipRows::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    update();
}

void ClipRows::focusOutEvent(QFocusEvent* event) {
    QWidget::focusOutEvent(event);
    update();
}

} // namespace ripple::app
