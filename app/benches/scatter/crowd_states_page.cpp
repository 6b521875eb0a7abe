#include "app/benches/scatter/crowd_states_page.h"

#include "app/look/crowd_tones.h"
#include "app/look/theme.h"
#include "app/session/words.h"
#include "bake/frame_blend.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

constexpr double kNames = 122.0; ///< pixels at the left
constexpr double kTop = 6.0;
constexpr double kFoot = 20.0;

} // namespace

CrowdStatesPage::CrowdStatesPage(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("crowdStates");
    setMinimumHeight(100);
    setAccessibleName(tr("States of the first copies"));
    setFocusPolicy(Qt::TabFocus);
    connect(&session_.crowd(), &CrowdPlayer::moved, this, [this] {
        describe();
        update();
    });
}

void CrowdStatesPage::describe() {
    if (!isVisible()) {
        return;
    }
    QStringList words;
    const auto state = session_.crowd().state();
    const auto states = session_.crowd().states();
    for (std::size_t c = 0; state && !state->score && c < std::min(states.size(), CrowdPlayer::kWatched);
         ++c) {
        const scatter::CopyState& copy = states[c];
        words << tr("copy %1: %2, %3 m/s")
                     .arg(c + 1)
                     .arg(text(state->asset.clips[static_cast<std::size_t>(copy.clip)].name))
                     .arg(static_cast<double>(copy.speed), 0, 'f', 2);
    }
    setAccessibleDescription(words.join("; "));
}

void CrowdStatesPage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(textFont(11.5));
    const auto state = session_.crowd().state();
    const auto& past = session_.crowd().past();
    if (!state || past.empty() || past.back().copies.empty()) {
        painter.setPen(theme().quiet);
        painter.drawText(rect(), Qt::AlignCenter, tr("There are no copies yet."));
        return;
    }
    const double end = past.back().seconds;
    const double begin = end - CrowdPlayer::kRemembered;
    const double wide = width() - kNames - 12.0;
    const auto xOf = [&](double seconds) {
        return kNames + wide * (seconds - begin) / CrowdPlayer::kRemembered;
    };
    const std::size_t rows = past.back().copies.size();
    const double high = (height() - kTop - kFoot) / static_cast<double>(rows);
    float fastest = 0.0f;
    for (const auto& moment : past) {
        for (const auto& copy : moment.copies) {
            fastest = std::max(fastest, copy.speed);
        }
    }
    const QFontMetricsF metrics(painter.font());
    for (std::size_t c = 0; c < rows; ++c) {
        const QRectF row(kNames, kTop + high * static_cast<double>(c), wide, high - 4.0);
        painter.setPen(theme().quiet);
        painter.drawText(QRectF(4, row.top(), kNames - 10, row.height()), Qt::AlignLeft | Qt::AlignVCenter,
                         tr("copy %1").arg(c + 1));
        painter.fillRect(row, theme().deep);
        const double half = std::floor(0.5 * row.height());
        painter.setRenderHint(QPainter::Antialiasing, false); // stripes lie beside each other without seams
        QPainterPath speed;
        bool first = true;
        for (std::size_t m = 0; m + 1 < past.size(); ++m) {
            const auto& now = past[m].copies[c];
            const double left = std::max(xOf(past[m].seconds), row.left());
            const double right = xOf(past[m + 1].seconds);
            if (right <= row.left()) {
                continue;
            }
            // The upper half: which clip, and how far the next one has come in.
            const double in = now.fade < 1.0f ? bake::easedFade(static_cast<double>(now.fade)) : 1.0;
            const double up = half * (1.0 - in);
            if (state->score) {
                painter.fillRect(QRectF(left, row.top() + half * (1.0 - static_cast<double>(now.turn)),
                                        right - left + 0.6, half * static_cast<double>(now.turn)),
                                 theme().glass);
            } else {
                painter.fillRect(QRectF(left, row.top(), right - left + 0.6, up),
                                 clipTone(static_cast<std::size_t>(now.clipBefore)));
                painter.fillRect(QRectF(left, row.top() + up, right - left + 0.6, half - up),
                                 clipTone(static_cast<std::size_t>(now.clip)));
            }
            const QPointF at(left,
                             row.bottom() - 1.0 -
                                 (half - 3.0) * static_cast<double>(now.speed / std::max(fastest, 1e-3f)));
            first ? speed.moveTo(at) : speed.lineTo(at);
            first = false;
        }
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(theme().text, 1.4));
        painter.setBrush(Qt::NoBrush);
        if (fastest > 0.0f) { // copies that stay have no line of speeds
            painter.drawPath(speed);
        }
        const auto& last = past.back().copies[c];
        const QString clip = state->score
                                 ? tr("turn %1").arg(static_cast<double>(last.turn), 0, 'f', 2)
                                 : text(state->asset.clips[static_cast<std::size_t>(last.clip)].name);
        painter.setPen(theme().text);
        painter.drawText(QRectF(52, row.top(), kNames - 56, row.height()), Qt::AlignLeft | Qt::AlignVCenter,
                         metrics.elidedText(clip, Qt::ElideRight, kNames - 58));
    }
    painter.setPen(theme().quiet);
    painter.setFont(textFont(11));
    const QRectF foot(kNames, height() - kFoot, wide, kFoot);
    painter.drawText(foot, Qt::AlignLeft | Qt::AlignVCenter,
                     tr("%1 s ago").arg(CrowdPlayer::kRemembered, 0, 'f', 0));
    painter.drawText(foot, Qt::AlignRight | Qt::AlignVCenter, tr("now"));
    const QString above = state->score ? tr("place in the loop") : tr("clips, fading");
    painter.drawText(foot, Qt::AlignCenter,
                     fastest > 0.0f ? tr("above: %1; the line: speed, up to %2 m/s")
                                          .arg(above)
                                          .arg(static_cast<double>(fastest), 0, 'f', 2)
                                    : above);
    if (hasFocus()) {
        painter.setPen(QPen(theme().coral, 1.2));
        painter.drawRect(QRectF(rect()).adjusted(1, 1, -1, -1));
    }
}

} // namespace ripple::app
