#include "app/dial/dial.h"

#include "app/look/closing_words.h"
#include "app/session/score_edits.h"
#include "app/look/theme.h"
#include "base/units.h"

#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

constexpr double kTurn = 6.283185307179586;

} // namespace

Dial::Dial(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("dial");
    setAttribute(Qt::WA_StyledBackground);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(200, 200);
    setAccessibleName(tr("Time dial"));
    connect(&session_.playhead(), &Playhead::moved, this, qOverload<>(&QWidget::update));
    connect(&session_.playhead(), &Playhead::playingChanged, this, qOverload<>(&QWidget::update));
    connect(&session_.playhead(), &Playhead::clipsChanged, this, qOverload<>(&QWidget::update));
    connect(&session_, &Session::bakeFinished, this, qOverload<>(&QWidget::update));
    connect(&session_, &Session::bakeFinished, this, &Dial::describe);
    connect(&session_.transition(), &TransitionPlayer::changed, this, [this] {
        describe();
        update();
    });
    connect(&session_.crowd(), &CrowdPlayer::moved, this, qOverload<>(&QWidget::update));
    connect(&session_.crowd(), &CrowdPlayer::rebuilt, this, &Dial::describe);
    connect(&session_, &Session::scoreChanged, this, qOverload<>(&QWidget::update));
    connect(&session_, &Session::picked, this, qOverload<>(&QWidget::update));
    connect(&session_, &Session::documentChanged, this, [this](unsigned changes) {
        if (changes & kViewChange) {
            describe();
        }
        update();
    });
}

/// What is drawn, for those who do not see it: of each clip, whether and why it plays round.
void Dial::describe() {
    QStringList clips;
    if (session_.transition().chosen()) {
        setAccessibleDescription(tr("%1, fades in %2")
                                     .arg(transitionWords(), QString::fromStdString(base::secondsText(
                                                                 session_.transition().length()))));
        return;
    }
    if (showsCrowd()) {
        setAccessibleDescription(crowdWords());
        return;
    }
    if (const auto bake = session_.bake()) {
        for (const bake::ClipPlan& clip : bake->plan.clips) {
            clips << tr("%1: %2").arg(QString::fromStdString(clip.name), closingWords(clip));
        }
    }
    setAccessibleDescription(clips.join("; "));
}

QPointF Dial::centre() const {
    return QRectF(rect()).center();
}

double Dial::radius() const {
    return 0.5 * std::min(width(), height()) - 22.0;
}

QPointF Dial::at(double turn, double distance) const {
    // A turn begins at the top and runs clockwise.
    return centre() + QPointF(std::sin(turn * kTurn), -std::cos(turn * kTurn)) * distance;
}

double Dial::turnOf(const QPointF& point) const {
    const QPointF way = point - centre();
    const double turn = std::atan2(way.x(), -way.y()) / kTurn;
    return turn - std::floor(turn);
}

QPointF Dial::gripAt(double turn) const {
    return at(turn, radius() + 6.0);
}

QRectF Dial::playBox() const {
    return {centre().x() - 16, centre().y() + 14, 32, 28};
}

QRectF Dial::clipBox() const {
    const auto& clips = session_.playhead().clips();
    if (clips.size() < 2) {
        return {};
    }
    const QString name = QString::fromStdString(session_.playhead().clip()->name);
    return {8, 6, QFontMetricsF(textFont(12, QFont::DemiBold)).horizontalAdvance(name) + 26, 22};
}

void Dial::paintClipName(QPainter& painter) {
    const QRectF box = clipBox();
    if (box.isEmpty()) {
        return;
    }
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().deep);
    painter.drawRoundedRect(box, 5, 5);
    painter.setPen(theme().text);
    painter.setFont(textFont(12, QFont::DemiBold));
    painter.drawText(box.adjusted(8, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter,
                     QString::fromStdString(session_.playhead().clip()->name));
    const QPointF tip(box.right() - 10, box.center().y() + 3);
    painter.setBrush(theme().quiet);
    painter.setPen(Qt::NoPen);
    painter.drawPolygon(QPolygonF{tip + QPointF(-4, -5), tip + QPointF(4, -5), tip});
}

void Dial::chooseClip() {
    QMenu menu(this);
    menu.setObjectName("clips");
    const auto& clips = session_.playhead().clips();
    for (std::size_t c = 0; c < clips.size(); ++c) {
        const auto frames = static_cast<int>(clips[c].length());
        const QString facts = (clips[c].closed ? tr("%1, %n frame(s), closed", nullptr, frames)
                                               : tr("%1, %n frame(s), open", nullptr, frames))
                                  .arg(QString::fromStdString(clips[c].name));
        menu.addAction(facts, this, [this, c] { session_.playhead().setClipIndex(static_cast<int>(c)); });
    }
    menu.exec(mapToGlobal(clipBox().bottomLeft().toPoint()));
}

void Dial::paintTicks(QPainter& painter, std::size_t frames) {
    // Every frame has its tick as long as they can be told apart; every tenth part a longer one.
    std::size_t step = 1;
    while (frames / step > 180) {
        step *= 2;
    }
    const auto current = static_cast<std::size_t>(session_.playhead().frame());
    for (std::size_t f = 0; f < frames; f += step) {
        const double turn = static_cast<double>(f) / static_cast<double>(frames);
        const bool tens = f % (10 * step) == 0;
        const bool here = f == current / step * step;
        painter.setPen(QPen(here ? theme().text : tens ? theme().quiet : theme().faint, here ? 2.0 : 1.0));
        painter.drawLine(at(turn, radius() + 6), at(turn, radius() + (tens ? 14 : 10)));
    }
}

void Dial::paintRing(QPainter& painter, const bake::BakedClip& clip, const bake::Seam& seam,
                     const QString& closing) {
    const double r = radius() - 3.0;
    const QRectF box(centre().x() - r, centre().y() - r, 2 * r, 2 * r);
    const bool open = !clip.closed;
    // A gap within an ordinary step is not seen; nor is a change of speed as there is elsewhere.
    const bool gapSeen = seam.gap > seam.medianStep;
    const bool jolts = seam.velocityBreak > 2.0 * seam.medianBreak;
    const QColor tone = gapSeen || (!open && jolts) ? theme().brass : theme().glass;
    QPen pen(theme().glass, 8, Qt::SolidLine, Qt::FlatCap);
    painter.setPen(pen);
    painter.setBrush(Qt::NoBrush);
    const QString gap = QString::fromStdString(base::lengthText(seam.gap));
    const QString jolt = QString("%1 m/s").arg(seam.velocityBreak, 0, 'g', 2);
    // The wave runs behind the words; no line's ground may cover another line.
    const auto words = [&](const QStringList& lines) {
        painter.setFont(textFont(11.5));
        std::vector<QRectF> places;
        for (const QString& line : lines) {
            const double wide = QFontMetricsF(painter.font()).horizontalAdvance(line) + 8.0;
            const double down = 13.0 + 14.0 * static_cast<double>(places.size());
            places.emplace_back(centre().x() - 0.5 * wide, centre().y() - r + down, wide, 15.0);
            painter.fillRect(places.back(), theme().ground);
        }
        painter.setPen(tone);
        for (std::size_t i = 0; i < places.size(); ++i) {
            painter.drawText(places[i], Qt::AlignCenter, lines[static_cast<qsizetype>(i)]);
        }
    };
    if (!open) {
        painter.drawEllipse(box);
        if (clip.length() > 2) {
            painter.setPen(QPen(tone, 2.4));
            painter.drawLine(at(0.0, r - 8.0), at(0.0, r + 8.0)); // where the ends meet
            words({closing, tr("gap %1").arg(gap), tr("speed jump %1").arg(jolt)});
        }
        return;
    }
    // The opening at the top: as wide as the time of one frame, but never too small to see.
    const double half =
        std::clamp(0.5 / static_cast<double>(std::max<std::size_t>(clip.length(), 1)), 0.022, 0.06);
    painter.drawArc(box, static_cast<int>((90.0 - half * 360.0) * 16),
                    static_cast<int>(-(360.0 - 2 * half * 360.0) * 16));
    pen = QPen(tone, 2.4, Qt::DotLine);
    painter.setPen(pen);
    painter.drawArc(box, static_cast<int>((90.0 - half * 360.0) * 16),
                    static_cast<int>(2 * half * 360.0 * 16));
    if (clip.length() < 2) {
        words({tr("still")});
        return;
    }
    QStringList lines = {gapSeen ? tr("gap %1").arg(gap) : closing};
    if (clip.length() > 2) {
        lines << tr("speed jump %1").arg(jolt);
    }
    words(lines);
}

void Dial::paintWave(QPainter& painter, const bake::Motion& motion) {
    if (motion.max.size() < 2 || motion.largest <= 0.0f) {
        return;
    }
    const double base = radius() * 0.60;
    const double reach = radius() * 0.20;
    const bake::BakedClip& clip = *session_.playhead().clip();
    const std::size_t count = motion.max.size();
    const auto played = [&](std::size_t f) {
        const std::size_t at = f == count ? clip.length() : clip.times.size() == count ? clip.times[f] : f;
        return static_cast<double>(at) / static_cast<double>(clip.length());
    };
    QPainterPath path;
    // The last step is the seam; in an open clip it is no motion at all.
    const bool closed = clip.closed;
    const float top = closed ? motion.largest : *std::max_element(motion.max.begin(), motion.max.end() - 1);
    for (std::size_t f = 0; f <= count; ++f) {
        const std::size_t i = f % count;
        const float value = !closed && i + 1 == count ? motion.max[i - 1] : motion.max[i];
        const double height = top > 0.0f ? static_cast<double>(value / top) : 0.0;
        const QPointF p = at(played(f), base + reach * height);
        f == 0 ? path.moveTo(p) : path.lineTo(p);
    }
    QColor wave = theme().glass;
    wave.setAlphaF(0.55f);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(wave, 1.4));
    painter.drawPath(path);
}

void Dial::paintCentre(QPainter& painter, const bake::BakedClip& clip) {
    const Playhead& playhead = session_.playhead();
    const double seconds = playhead.frame() / clip.fps;
    painter.setPen(theme().text);
    painter.setFont(textFont(25, QFont::DemiBold));
    // A score has turns; its frames come only when it is baked.
    const bool voices = showsVoices();
    painter.drawText(QRectF(centre().x() - 60, centre().y() - 36, 120, 30), Qt::AlignCenter,
                     voices ? QString::number(playhead.turn(), 'f', 3)
                            : QString::number(static_cast<int>(playhead.frame())));
    painter.setPen(theme().quiet);
    painter.setFont(textFont(11.5));
    painter.drawText(
        QRectF(centre().x() - 70, centre().y() - 7, 140, 18), Qt::AlignCenter,
        voices ? tr("turn · %1").arg(QString::fromStdString(base::secondsText(seconds)))
               : tr("of %1 · %2").arg(clip.length()).arg(QString::fromStdString(base::secondsText(seconds))));
    paintPlay(painter);
}

void Dial::paintPlay(QPainter& painter) {
    const QPointF middle = playBox().center();
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().coral);
    if (session_.playhead().playing()) {
        painter.drawRoundedRect(QRectF(middle.x() - 7, middle.y() - 7, 5, 14), 1, 1);
        painter.drawRoundedRect(QRectF(middle.x() + 2, middle.y() - 7, 5, 14), 1, 1);
    } else {
        painter.drawPolygon(
            QPolygonF{middle + QPointF(-6, -8), middle + QPointF(8, 0), middle + QPointF(-6, 8)});
    }
}

void Dial::paintHand(QPainter& painter, double turn) {
    painter.setPen(QPen(theme().text, 2, Qt::SolidLine, Qt::RoundCap));
    // It ends short of the words that stand below the ring's top.
    painter.drawLine(at(turn, radius() - 12.0), at(turn, radius() + 6));
    painter.setPen(Qt::NoPen);
    painter.setBrush(hasFocus() ? theme().coral : theme().text);
    painter.drawEllipse(gripAt(turn), 6, 6);
}

void Dial::paintEvent(QPaintEvent* event) {
    QWidget::paintEvent(event);
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const bake::BakedClip* clip = session_.playhead().clip();
    if (clip && session_.transition().chosen()) {
        paintTicks(
            painter,
            session_.playhead().clips()[static_cast<std::size_t>(session_.transition().from())].length());
        paintTransition(painter);
        return;
    }
    if (clip && showsCrowd()) {
        paintTicks(painter, clip->length());
        paintCrowd(painter);
        paintHand(painter, session_.playhead().turn());
        return;
    }
    if (clip && showsVoices()) {
        paintTicks(painter, clip->length());
        paintVoices(painter);
        paintCentre(painter, *clip);
        paintHand(painter, session_.playhead().turn());
        return;
    }
    const auto bake = session_.bake();
    if (!clip || !bake) {
        painter.setPen(QPen(theme().faint, 8));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(centre(), radius() - 3, radius() - 3);
        painter.setPen(theme().quiet);
        painter.setFont(textFont(12));
        painter.drawText(QRectF(centre().x() - 70, centre().y() - 20, 140, 40),
                         Qt::AlignCenter | Qt::TextWordWrap,
                         session_.bakeJob().running() ? tr("Sampling…") : tr("Nothing to play yet"));
        return;
    }
    const auto index =
        std::min(static_cast<std::size_t>(session_.playhead().clipIndex()), bake->motion.size() - 1);
    paintTicks(painter, clip->length());
    paintWave(painter, bake->motion[index]);
    paintRing(painter, *clip, bake->seams[index], closingWords(bake->plan.clips[index]));
    paintCentre(painter, *clip);
    paintHand(painter, session_.playhead().turn());
    paintClipName(painter);
}

void Dial::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || session_.transition().chosen()) {
        return; // a transition is dragged on its own page
    }
    if (playBox().contains(event->position())) {
        session_.playhead().toggle();
        return;
    }
    if (clipBox().contains(event->position())) {
        chooseClip();
        return;
    }
    const QPointF way = event->position() - centre();
    if (std::hypot(way.x(), way.y()) > radius() * 0.55) {
        dragging_ = true;
        session_.playhead().setPlaying(false);
        session_.playhead().setTurn(turnOf(event->position()));
    }
}

void Dial::mouseMoveEvent(QMouseEvent* event) {
    if (dragging_) {
        session_.playhead().setTurn(turnOf(event->position()));
    }
}

void Dial::mouseReleaseEvent(QMouseEvent*) {
    dragging_ = false;
}

void Dial::wheelEvent(QWheelEvent* event) {
    session_.playhead().step(event->angleDelta().y() > 0 ? -1 : 1);
    event->accept();
}

void Dial::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Up:
        return session_.playhead().step(10);
    case Qt::Key_Down:
        return session_.playhead().step(-10);
    default:
        QWidget::keyPressEvent(event); // play and step are the window's own keys
    }
}

} // namespace ripple::app
