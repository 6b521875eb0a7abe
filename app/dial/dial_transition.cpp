// The dial where a transition is looked at: the clip that goes, and where on its way the next one comes in.

#include "app/dial/dial.h"

#include "app/look/theme.h"
#include "app/session/words.h"
#include "bake/frame_blend.h"
#include "base/units.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace ripple::app {

QString Dial::transitionWords() const {
    const TransitionPlayer& player = session_.transition();
    if (!player.chosen()) {
        return {};
    }
    const auto& clips = session_.playhead().clips();
    return tr("%1 → %2").arg(text(clips[static_cast<std::size_t>(player.from())].name),
                             text(clips[static_cast<std::size_t>(player.to())].name));
}

double Dial::transitionTurn(double seconds) const {
    const auto& clip = session_.playhead().clips()[static_cast<std::size_t>(session_.transition().from())];
    const double frame = seconds * clip.fps;
    const auto count = static_cast<double>(std::max<std::size_t>(clip.length(), 1));
    if (!clip.closed) {
        return std::min(frame, count - 1.0) / count;
    }
    return frame / count - std::floor(frame / count);
}

/// A band outside the ring that grows as the next clip comes in, over the part of the trip that the fade
/// takes.
void Dial::paintTransition(QPainter& painter) {
    const TransitionPlayer& player = session_.transition();
    const auto& clip = session_.playhead().clips()[static_cast<std::size_t>(player.from())];
    const double r = radius() - 3.0;
    const QRectF box(centre().x() - r, centre().y() - r, 2 * r, 2 * r);
    painter.setPen(QPen(theme().glass, 8, Qt::SolidLine, Qt::FlatCap));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(box);
    const double start = player.fadeStart();
    constexpr int kSteps = 60;
    QPainterPath band;
    constexpr double kHigh = 16.0;
    for (int i = 0; i <= kSteps; ++i) {
        const double part = static_cast<double>(i) / kSteps;
        const QPointF p = at(transitionTurn(start + part * player.length()), r - 4.0);
        i == 0 ? band.moveTo(p) : band.lineTo(p);
    }
    for (int i = kSteps; i >= 0; --i) {
        const double part = static_cast<double>(i) / kSteps;
        const double weight = bake::easedFade(part);
        band.lineTo(at(transitionTurn(start + part * player.length()), r - 4.0 - kHigh * weight));
    }
    band.closeSubpath();
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().coral);
    painter.drawPath(band);
    painter.setPen(QPen(theme().coral, 2.0));
    const double end = transitionTurn(start + player.length());
    painter.drawLine(at(end, r - 4.0 - kHigh - 4.0), at(end, r + 10.0));

    painter.setFont(textFont(12, QFont::DemiBold));
    painter.setPen(theme().text);
    painter.drawText(QRectF(centre().x() - 74, centre().y() - 34, 148, 20), Qt::AlignCenter,
                     QFontMetricsF(painter.font()).elidedText(transitionWords(), Qt::ElideMiddle, 148));
    painter.setFont(textFont(11.5));
    painter.setPen(theme().quiet);
    painter.drawText(QRectF(centre().x() - 74, centre().y() - 14, 148, 18), Qt::AlignCenter,
                     tr("fades in %1").arg(text(base::secondsText(player.length()))));
    const double share = bake::easedFade(player.moment() ? player.moment()->progress : 0.0);
    painter.drawText(QRectF(centre().x() - 74, centre().y() + 3, 148, 18), Qt::AlignCenter,
                     tr("%1 % of the second").arg(std::round(100.0 * share)));
    const double turn = transitionTurn(
        std::min(player.seconds(), start + player.length() + (clip.closed ? player.whole() : 0.0)));
    paintHand(painter, turn);
}

} // namespace ripple::app
