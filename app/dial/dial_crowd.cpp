// The dial where copies are looked at: a dot for each copy's place in its loop. All on one spot is unison.

#include "app/dial/dial.h"

#include "app/look/crowd_tones.h"
#include "app/look/theme.h"
#include "app/session/bench_state.h"
#include "app/session/words.h"
#include "base/units.h"

#include <QPainter>

#include <algorithm>
#include <cmath>
#include <map>

namespace ripple::app {

namespace {

constexpr std::size_t kDots = 600; ///< more could not be told apart

double placeOf(const ScatterState& state, const scatter::CopyState& copy) {
    if (state.score || state.crowd.clips.empty()) {
        return static_cast<double>(copy.turn);
    }
    return static_cast<double>(copy.frame / state.crowd.clips[static_cast<std::size_t>(copy.clip)].frames);
}

} // namespace

bool Dial::showsCrowd() const {
    return benchOf(session_.document().view).copies && session_.crowd().state() &&
           !session_.crowd().states().empty();
}

QString Dial::crowdWords() const {
    const auto state = session_.crowd().state();
    const auto states = session_.crowd().states();
    if (state->score || state->asset.clips.empty()) {
        return counted(tr("%n copies", nullptr, static_cast<int>(states.size())), states.size());
    }
    std::map<int, int> counts;
    for (const scatter::CopyState& copy : states) {
        ++counts[copy.clip];
    }
    QStringList words;
    for (const auto& [clip, count] : counts) {
        words << tr("%1: %2").arg(text(state->asset.clips[static_cast<std::size_t>(clip)].name)).arg(count);
    }
    return words.join(", ");
}

void Dial::paintCrowd(QPainter& painter) {
    const auto state = session_.crowd().state();
    const auto states = session_.crowd().states();
    const double r = radius() - 3.0;
    painter.setPen(QPen(theme().faint, 6));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(centre(), r, r);
    // One ring for each clip, the first outside.
    const std::size_t rings = std::max<std::size_t>(state->score ? 1 : state->crowd.clips.size(), 1);
    const double apart = std::min(14.0, 0.42 * r / static_cast<double>(rings));
    const std::size_t step = std::max<std::size_t>(1, states.size() / kDots);
    for (std::size_t c = 0; c < states.size(); c += step) {
        const scatter::CopyState& copy = states[c];
        const auto clip = static_cast<std::size_t>(state->score ? 0 : copy.clip);
        const QColor tone = state->score ? theme().glass : clipTone(clip);
        painter.setPen(QPen(theme().ground, 0.8));
        painter.setBrush(tone);
        const double dot = states.size() > 200 ? 2.4 : 3.2;
        painter.drawEllipse(at(placeOf(*state, copy), r - apart * static_cast<double>(clip)), dot, dot);
    }
    painter.setPen(theme().text);
    painter.setFont(textFont(22, QFont::DemiBold));
    painter.drawText(QRectF(centre().x() - 60, centre().y() - 38, 120, 28), Qt::AlignCenter,
                     text(base::secondsText(session_.crowd().seconds())));
    painter.setPen(theme().quiet);
    painter.setFont(textFont(11.5));
    painter.drawText(QRectF(centre().x() - 72, centre().y() - 10, 144, 18), Qt::AlignCenter,
                     counted(tr("%n copies", nullptr, static_cast<int>(states.size())), states.size()));
    paintPlay(painter);
}

} // namespace ripple::app
