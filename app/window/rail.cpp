#include "app/window/rail.h"

#include "app/look/theme.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

namespace ripple::app {

namespace {

constexpr int kTop = 14;
constexpr int kStop = 104;
constexpr double kLampX = 25.0;
constexpr double kLampY = 24.0;

QString lampWords(Lamp lamp) {
    switch (lamp) {
    case Lamp::untouched:
        return Rail::tr("nothing done yet");
    case Lamp::fine:
        return Rail::tr("no open findings");
    case Lamp::look:
        return Rail::tr("has a finding to look at");
    case Lamp::broken:
        return Rail::tr("has a problem");
    }
    return {};
}

} // namespace

void paintLamp(QPainter& painter, const QPointF& c, double r, Lamp lamp) {
    const Palette& p = theme();
    const QColor tone = lamp == Lamp::fine     ? p.glass
                        : lamp == Lamp::look   ? p.brass
                        : lamp == Lamp::broken ? p.brick
                                               : p.faint;
    QColor inside = lamp == Lamp::untouched ? p.deep : tone;
    if (lamp != Lamp::untouched) {
        inside.setAlphaF(lamp == Lamp::broken ? 0.85f : 0.26f);
    }
    painter.setBrush(p.deep);
    painter.setPen(Qt::NoPen);
    painter.drawEllipse(c, r + 1, r + 1);
    painter.setBrush(inside);
    painter.setPen(QPen(tone, 2.4));
    painter.drawEllipse(c, r, r);
    const double s = r / 11.0;
    const QColor sign = lamp == Lamp::broken ? p.onCoral : tone;
    painter.setPen(QPen(lamp == Lamp::broken && themeKind() == ThemeKind::dusk ? p.text : sign, 2.0 * s,
                        Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    switch (lamp) {
    case Lamp::untouched:
        break;
    case Lamp::fine:
        painter.drawPolyline(
            QPolygonF{c + QPointF(-4, 0) * s, c + QPointF(-1, 3.5) * s, c + QPointF(4.5, -3.5) * s});
        break;
    case Lamp::look:
        painter.drawLine(c + QPointF(0, -5) * s, c + QPointF(0, 1) * s);
        painter.drawPoint(c + QPointF(0, 5) * s);
        break;
    case Lamp::broken:
        painter.drawLine(c + QPointF(-3.5, -3.5) * s, c + QPointF(3.5, 3.5) * s);
        painter.drawLine(c + QPointF(-3.5, 3.5) * s, c + QPointF(3.5, -3.5) * s);
        break;
    }
}

Rail::Rail(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("rail");
    setFixedWidth(112);
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Benches"));
    connect(&session_, &Session::sourceLoaded, this, &Rail::refresh);
    connect(&session_, &Session::scoreChanged, this, &Rail::refresh);
    connect(&session_, &Session::densitiesMeasured, this, &Rail::refresh);
    connect(&session_, &Session::foldsMeasured, this, &Rail::refresh);
    connect(&session_, &Session::bakeFinished, this, &Rail::refresh);
    connect(&session_, &Session::scatterChanged, this, &Rail::refresh);
    connect(&session_, &Session::surveyed, this, &Rail::refresh);
    connect(&session_, &Session::bundleWritten, this, &Rail::refresh);
    connect(&session_, &Session::shipFailed, this, &Rail::refresh);
    connect(&session_, &Session::documentChanged, this, &Rail::refresh);
    connect(&session_.sourceJob(), &LatestJob::runningChanged, this, &Rail::refresh);
    connect(&session_.bakeJob(), &LatestJob::runningChanged, this, &Rail::refresh);
    connect(&session_.scatterJob(), &LatestJob::runningChanged, this, &Rail::refresh);
    refresh();
}

void Rail::refresh() {
    auto states = benchStates(session_);
    const int current = benchIndex(session_.document().view.bench);
    if (states == states_ && current == current_) {
        return; // nothing of it is seen here
    }
    states_ = std::move(states);
    current_ = current;
    update();
}

QRect Rail::stopBox(int bench) const {
    return {0, kTop + bench * kStop, width() - 1, kStop};
}

int Rail::stopAt(const QPoint& at) const {
    for (int i = 0; i < static_cast<int>(kBenches.size()); ++i) {
        if (stopBox(i).contains(at)) {
            return i;
        }
    }
    return -1;
}

void Rail::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Palette& p = theme();
    painter.fillRect(rect(), p.deep);
    painter.setPen(p.line);
    painter.drawLine(width() - 1, 0, width() - 1, height());
    const QRectF here = stopBox(current_);
    QColor glow = p.coral;
    glow.setAlphaF(0.20f);
    QLinearGradient fade(here.topLeft(), here.topRight());
    fade.setColorAt(0.0, glow);
    glow.setAlphaF(0.0f);
    fade.setColorAt(1.0, glow);
    painter.fillRect(here, fade);
    painter.fillRect(QRectF(0, here.top(), 4, here.height()), p.coral);
    painter.setPen(QPen(p.line, 3));
    painter.drawLine(QPointF(kLampX, kTop + kLampY), QPointF(kLampX, kTop + 4 * kStop + kLampY));
    for (int i = 0; i < static_cast<int>(kBenches.size()); ++i) {
        const QRectF box = stopBox(i);
        const auto index = static_cast<std::size_t>(i);
        paintLamp(painter, {kLampX, box.top() + kLampY}, 11.0, states_[index].lamp);
        painter.setPen(i == current_ || i == hover_ ? p.text : p.quiet);
        painter.setFont(textFont(14, QFont::DemiBold));
        painter.drawText(QRectF(45, box.top() + 12, 66, 22), Qt::AlignLeft | Qt::AlignVCenter,
                         kBenches[index].name);
        painter.setPen(p.quiet);
        painter.setFont(textFont(11));
        painter.drawText(QRectF(45, box.top() + 35, 66, 62), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
                         states_[index].line);
        if (hasFocus() && i == current_) {
            painter.setPen(QPen(p.glass, 1));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(box.adjusted(5.5, 2.5, -3.5, -2.5));
        }
    }
}

void Rail::mousePressEvent(QMouseEvent* event) {
    const int stop = stopAt(event->pos());
    if (stop >= 0) {
        Q_EMIT chosen(stop);
    }
}

void Rail::mouseMoveEvent(QMouseEvent* event) {
    const int stop = stopAt(event->pos());
    if (stop != hover_) {
        hover_ = stop;
        update();
    }
}

void Rail::leaveEvent(QEvent*) {
    hover_ = -1;
    update();
}

void Rail::keyPressEvent(QKeyEvent* event) {
    const int current = benchIndex(session_.document().view.bench);
    if (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down) {
        const int next = current + (event->key() == Qt::Key_Down ? 1 : -1);
        if (next >= 0 && next < static_cast<int>(kBenches.size())) {
            Q_EMIT chosen(next);
        }
        return;
    }
    QWidget::keyPressEvent(event);
}

bool Rail::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const int stop = stopAt(help->pos());
        if (stop >= 0) {
            const auto index = static_cast<std::size_t>(stop);
            QToolTip::showText(help->globalPos(), tr("%1 bench (key %2): %3")
                                                      .arg(benchName(index))
                                                      .arg(stop + 1)
                                                      .arg(lampWords(states_[index].lamp)));
        }
        return true;
    }
    return QWidget::event(event);
}

} // namespace ripple::app
