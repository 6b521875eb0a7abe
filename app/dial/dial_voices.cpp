// The rings of the voices on the dial, as they are worked by on the Move bench.

#include "app/dial/dial.h"

#include "app/session/bench_state.h"
#include "app/session/score_edits.h"
#include "app/look/theme.h"
#include "motion/perform.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>

namespace ripple::app {

bool Dial::showsVoices() const {
    return benchOf(session_.document().view).voices && session_.performance() != nullptr;
}

void Dial::paintVoices(QPainter& painter) {
    const auto performance = session_.performance();
    const motion::Score& score = session_.document().score;
    const motion::Voice* chosen = chosenVoice(session_);
    std::vector<std::size_t> heard;
    for (std::size_t i = 0; i < score.voices.size(); ++i) {
        if (motion::isHeard(score, score.voices[i])) {
            heard.push_back(i);
        }
    }
    heard = ringsFor(heard, chosen ? std::optional(chosen - score.voices.data()) : std::nullopt);
    // As the picked vertex has it, or the first of the mesh.
    const int picked = session_.pickedVertex();
    const auto vertex = static_cast<std::size_t>(std::max(picked, 0));
    constexpr std::size_t kSteps = 180;
    std::vector<double> turns(kSteps);
    for (std::size_t i = 0; i < kSteps; ++i) {
        turns[i] = static_cast<double>(i) / kSteps;
    }
    const double outer = radius() * 0.86;
    const double inner = std::min(radius() - 8.0, 52.0);
    const double band = heard.empty() ? 0.0 : (outer - inner) / static_cast<double>(heard.size());
    std::vector<VoiceRing> rings;
    for (const std::size_t i : heard) {
        const motion::Voice& voice = score.voices[i];
        rings.push_back(
            {performance->traceNumber(vertex, turns, {}, performance->composition().voices[i].shape),
             voiceColour(i), chosen && chosen->id == voice.id});
    }
    // How far a voice swings does not change its ring: while that is dragged there is nothing to stroke.
    const QSize pixels = size() * devicePixelRatio();
    if (rings != rings_ || ringsPicture_.size() != pixels || ringsTheme_ != themeKind()) {
        rings_ = std::move(rings);
        ringsTheme_ = themeKind();
        ringsPicture_ = QPixmap(pixels);
        ringsPicture_.setDevicePixelRatio(devicePixelRatio());
        ringsPicture_.fill(Qt::transparent);
        QPainter onto(&ringsPicture_);
        onto.setRenderHint(QPainter::Antialiasing);
        for (std::size_t r = 0; r < rings_.size(); ++r) {
            paintVoiceRing(onto, rings_[r], outer - band * (static_cast<double>(r) + 0.5), 0.46 * band);
        }
    }
    painter.drawPixmap(0, 0, ringsPicture_);
    if (voicesLeftOut_ > 0) {
        painter.setFont(textFont(11));
        painter.setPen(theme().quiet);
        painter.drawText(QRectF(rect()).adjusted(6, 0, -6, -4), Qt::AlignRight | Qt::AlignBottom,
                         tr("%n more voice(s)", nullptr, voicesLeftOut_));
    }
}

/// As many rings as can be told apart, the chosen voice among them; how many are left out is said.
std::vector<std::size_t> Dial::ringsFor(std::vector<std::size_t> heard, std::optional<std::size_t> chosen) {
    constexpr double kNarrowest = 4.5; // pixels of a ring's band
    const double room = radius() * 0.86 - std::min(radius() - 8.0, 52.0);
    const auto most = std::max<std::size_t>(1, static_cast<std::size_t>(room / kNarrowest));
    voicesLeftOut_ = heard.size() > most ? static_cast<int>(heard.size() - most) : 0;
    if (voicesLeftOut_ > 0) {
        const auto at = chosen ? std::find(heard.begin(), heard.end(), *chosen) : heard.end();
        if (at != heard.end() && static_cast<std::size_t>(at - heard.begin()) >= most) {
            heard[most - 1] = *chosen;
        }
        heard.resize(most);
    }
    return heard;
}

void Dial::paintVoiceRing(QPainter& painter, const VoiceRing& ring, double base, double swing) const {
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme().line, 1.0));
    painter.drawEllipse(centre(), base, base);
    const std::size_t n = ring.values.size();
    QPainterPath path;
    for (std::size_t i = 0; i <= n; ++i) {
        const QPointF p = at(static_cast<double>(i % n) / static_cast<double>(n),
                             base + swing * static_cast<double>(ring.values[i % n]));
        i == 0 ? path.moveTo(p) : path.lineTo(p);
    }
    painter.setPen(QPen(ring.colour, ring.chosen ? 2.6 : 1.6));
    painter.drawPath(path);
}

} // namespace ripple::app
