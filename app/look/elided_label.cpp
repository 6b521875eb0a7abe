#include "app/look/elided_label.h"

#include "app/session/words.h"

#include <QPainter>

#include <algorithm>

namespace ripple::app {

ElidedLabel::ElidedLabel(const QString& words, const char* role, Qt::TextElideMode mode)
    : QLabel(words),
      mode_(mode) {
    setProperty("role", role);
    setIndent(0);
    setTextFormat(Qt::PlainText);
}

QSize ElidedLabel::minimumSizeHint() const {
    constexpr int kLeast = 40; // pixels
    return {std::min(kLeast, QLabel::sizeHint().width()), QLabel::minimumSizeHint().height()};
}

void ElidedLabel::paintEvent(QPaintEvent* event) {
    if (QLabel::sizeHint().width() <= width()) {
        return QLabel::paintEvent(event);
    }
    QPainter painter(this);
    painter.setPen(palette().color(foregroundRole()));
    painter.drawText(rect(), static_cast<int>(alignment() | Qt::TextSingleLine),
                     fontMetrics().elidedText(text(), mode_, width()));
    setToolTip(plainTip(text()));
}

} // namespace ripple::app
