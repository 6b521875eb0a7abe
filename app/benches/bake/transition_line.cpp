#include "app/benches/bake/transition_line.h"

#include "app/look/theme.h"
#include "app/session/words.h"
#include "bake/frame_blend.h"
#include "base/units.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

constexpr double kLeft = 14.0;
constexpr double kRight = 14.0;
constexpr double kBarHigh = 26.0;
constexpr double kGrip = 8.0; ///< pixels beside the wedge's end that still take hold of it

} // namespace

TransitionLine::TransitionLine(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("transitionLine");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumHeight(84);
    setAccessibleName(tr("Transition"));
    connect(&session_.transition(), &TransitionPlayer::changed, this, [this] {
        describe();
        update();
    });
}

void TransitionLine::describe() {
    const TransitionPlayer& player = session_.transition();
    setAccessibleDescription(player.chosen() ? tr("Fades in %1, at %2")
                                                   .arg(text(base::secondsText(player.length())),
                                                        text(base::secondsText(player.seconds())))
                                             : QString());
}

double TransitionLine::placeOf(double seconds) const {
    const double scale = scale_ > 0.0 ? scale_ : (width() - kLeft - kRight) / session_.transition().whole();
    return kLeft + seconds * scale;
}

double TransitionLine::secondsAt(double x) const {
    const double scale = scale_ > 0.0 ? scale_ : (width() - kLeft - kRight) / session_.transition().whole();
    return (x - kLeft) / scale;
}

QRectF TransitionLine::bar(bool lower) const {
    const double top = 0.5 * height() - kBarHigh + (lower ? kBarHigh + 2.0 : 0.0);
    return {kLeft, top, width() - kLeft - kRight, kBarHigh};
}

QPointF TransitionLine::wedgeEnd() const {
    const TransitionPlayer& player = session_.transition();
    return {placeOf(player.fadeStart() + player.length()), bar(false).bottom() + 1.0};
}

/// A band as high as the clip's weight is at each moment.
void TransitionLine::paintClip(QPainter& painter, bool coming) {
    const TransitionPlayer& player = session_.transition();
    const QRectF box = bar(coming);
    const double start = player.fadeStart();
    const auto heightAt = [&](double seconds) {
        const double into = seconds - start;
        const double progress = player.length() > 0.0 ? into / player.length() : into >= 0.0 ? 1.0 : 0.0;
        const double weight = bake::easedFade(progress);
        return box.height() * (coming ? weight : 1.0 - weight);
    };
    QPainterPath band;
    // The going one stands on the line between them, the coming one hangs from it.
    const double base = coming ? box.top() : box.bottom();
    const double way = coming ? 1.0 : -1.0;
    band.moveTo(box.left(), base);
    constexpr int kSteps = 120;
    for (int i = 0; i <= kSteps; ++i) {
        const double seconds = player.whole() * i / kSteps;
        band.lineTo(placeOf(seconds), base + way * heightAt(seconds));
    }
    band.lineTo(placeOf(player.whole()), base);
    painter.setPen(Qt::NoPen);
    painter.setBrush(coming ? theme().coral : theme().glass);
    painter.drawPath(band);
    const auto& clips = session_.playhead().clips();
    const auto index = static_cast<std::size_t>(coming ? player.to() : player.from());
    painter.setPen(theme().onCoral);
    painter.setFont(textFont(12, QFont::DemiBold));
    const QString name = text(clips[index].name);
    const QRectF words =
        coming ? QRectF(placeOf(start + player.length()) + 8, box.top(),
                        box.right() - placeOf(start + player.length()) - 16, box.height())
               : QRectF(box.left() + 8, box.top(), placeOf(start) - box.left() - 12, box.height());
    painter.drawText(words, (coming ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter,
                     QFontMetricsF(painter.font()).elidedText(name, Qt::ElideRight, words.width()));
}

void TransitionLine::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const TransitionPlayer& player = session_.transition();
    if (!player.chosen()) {
        painter.setPen(theme().quiet);
        painter.setFont(textFont(12));
        painter.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
                         tr("Two clips make a transition. Bake more of them, or add clips from files."));
        return;
    }
    paintClip(painter, false);
    paintClip(painter, true);
    const QPointF end = wedgeEnd();
    painter.setPen(QPen(theme().text, 1.0, Qt::DotLine));
    painter.drawLine(QPointF(placeOf(player.fadeStart()), bar(false).top() - 6),
                     QPointF(placeOf(player.fadeStart()), bar(true).bottom() + 6));
    painter.drawLine(QPointF(end.x(), bar(false).top() - 6), QPointF(end.x(), bar(true).bottom() + 6));
    painter.setPen(QPen(theme().text, 1.4));
    painter.setBrush(theme().raised);
    painter.drawEllipse(end, 4.5, 4.5);
    painter.setFont(textFont(11));
    painter.setPen(theme().quiet);
    painter.drawText(QRectF(placeOf(player.fadeStart()) - 60, bar(true).bottom() + 5,
                            end.x() - placeOf(player.fadeStart()) + 120, 18),
                     Qt::AlignCenter, text(base::secondsText(player.length())));
    painter.setPen(QPen(theme().text, 2.0));
    const double hand = placeOf(player.seconds());
    painter.drawLine(QPointF(hand, bar(false).top() - 9), QPointF(hand, bar(true).bottom() + 3));
    if (hasFocus()) {
        painter.setPen(QPen(theme().coral, 1.0));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(rect()).adjusted(1.5, 1.5, -1.5, -1.5), 4, 4);
    }
}

bool TransitionLine::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Left || key == Qt::Key_Right || key == Qt::Key_Space) {
            event->accept(); // before the window takes it for its own
            return true;
        }
    }
    return QWidget::event(event);
}

void TransitionLine::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !session_.transition().chosen()) {
        return;
    }
    const bool atEnd = std::abs(event->position().x() - wedgeEnd().x()) <= kGrip;
    drag_ = atEnd ? Drag::wedge : Drag::hand;
    dragged_ = false;
    if (atEnd) {
        scale_ = (width() - kLeft - kRight) / session_.transition().whole();
    } else {
        session_.transition().setPlaying(false);
        session_.transition().setSeconds(secondsAt(event->position().x()));
    }
}

void TransitionLine::mouseMoveEvent(QMouseEvent* event) {
    const double at = secondsAt(event->position().x());
    if (drag_ == Drag::hand) {
        session_.transition().setSeconds(at);
    } else if (drag_ == Drag::wedge) {
        const double seconds =
            std::round(std::max(at - session_.transition().fadeStart(), 0.0) * 100.0) / 100.0;
        Q_EMIT lengthEdited(seconds, dragged_);
        dragged_ = true;
    } else {
        const bool atEnd =
            session_.transition().chosen() && std::abs(event->position().x() - wedgeEnd().x()) <= kGrip;
        setCursor(atEnd ? Qt::SizeHorCursor : Qt::ArrowCursor);
    }
}

void TransitionLine::mouseReleaseEvent(QMouseEvent*) {
    drag_ = Drag::none;
    scale_ = 0.0;
    update();
}

void TransitionLine::keyPressEvent(QKeyEvent* event) {
    TransitionPlayer& player = session_.transition();
    const int way = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (event->key() == Qt::Key_Space) {
        player.setPlaying(!player.playing());
    } else if (way != 0 && event->modifiers() & Qt::ShiftModifier) {
        Q_EMIT lengthEdited(std::max(player.length() + 0.05 * way, 0.0), false);
    } else if (way != 0) {
        player.setPlaying(false);
        player.setSeconds(player.seconds() + 0.05 * way);
    } else {
        QWidget::keyPressEvent(event);
    }
}

} // namespace ripple::app
