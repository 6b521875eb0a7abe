#include "app/charts/ladder_chart.h"

#include "app/charts/plot_style.h"
#include "app/look/theme.h"
#include "bake/kind.h"
#include "base/units.h"

#include <QVBoxLayout>

#include <algorithm>
#include <cmath>
#include <limits>

#include <qcustomplot.h>

namespace ripple::app {

namespace {

/// Errors below this are drawn on the floor: on a logarithmic scale nothing has no place.
constexpr double kFloor = 1e-6;
constexpr double kGrip = 7.0;   // pixels around the line
constexpr double kReach = 11.0; // pixels around a rung

QString plainLength(double metres) {
    const bool large = metres > 0.999;
    return QString("%1 %2").arg(large ? metres : metres * 1000.0, 0, 'g', 3).arg(large ? "m" : "mm");
}

QString plainSize(double bytes) {
    const bool large = bytes >= 1048576.0;
    return QString("%1 %2").arg(bytes / (large ? 1048576.0 : 1024.0), 0, 'g', 4).arg(large ? "MiB" : "KiB");
}

QString lengthWords(double metres) {
    return QString::fromStdString(base::lengthText(metres));
}

QString sizeWords(double bytes) {
    return QString::fromStdString(base::sizeText(static_cast<std::uint64_t>(bytes)));
}

QSharedPointer<QCPAxisTickerText> decades(double low, double high, double base, double first,
                                          const std::function<QString(double)>& words) {
    QSharedPointer<QCPAxisTickerText> ticker(new QCPAxisTickerText);
    for (double at = first; at <= high * 1.001; at *= base) {
        if (at >= low * 0.999) {
            ticker->addTick(at, words(at));
        }
    }
    return ticker;
}

QCPScatterStyle dot(const QColor& fill, const QColor& edge, double size, double width) {
    return {QCPScatterStyle::ssCircle, QPen(edge, width), QBrush(fill), size};
}

} // namespace

LadderChart::LadderChart(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot) {
    setObjectName("ladder");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(plot_);
    for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
        axis->setScaleType(QCPAxis::stLogarithmic);
        axis->setTickLength(0, 3);
        axis->setSubTicks(false);
    }
    line_ = new QCPItemLine(plot_);
    lineWords_ = new QCPItemText(plot_);
    lineWords_->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
    readout_ = new QCPItemText(plot_);
    readout_->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
    readout_->position->setType(QCPItemPosition::ptAxisRectRatio);
    readout_->position->setCoords(0.012, 0.02);
    connect(plot_, &QCustomPlot::mouseMove, this,
            [this](QMouseEvent* event) { dragging_ ? drag(event->position()) : hover(event->position()); });
    connect(plot_, &QCustomPlot::mousePress, this, [this](QMouseEvent* event) {
        dragged_ = false;
        // Where a rung lies on the line, the rung is meant.
        dragging_ = !rungAt(event->position()) && std::abs(event->position().y() - lineY()) < kGrip;
    });
    connect(plot_, &QCustomPlot::mouseRelease, this, [this](QMouseEvent* event) {
        const auto rung = rungAt(event->position());
        if (!dragging_ && rung) {
            Q_EMIT rungTaken(static_cast<int>(*rung));
        }
        dragging_ = false;
    });
    restyle();
}

void LadderChart::restyle() {
    stylePlot(*plot_);
    // The numbers on the left are lengths with their unit: they need the room.
    plot_->axisRect()->setMinimumMargins(QMargins(62, 8, 14, 22));
    line_->setPen(QPen(theme().brass, 1.6, Qt::DashLine));
    lineWords_->setColor(theme().brass);
    lineWords_->setFont(textFont(11.5));
    readout_->setFont(textFont(11.5, QFont::DemiBold));
    readout_->setColor(theme().text);
    rebuild();
}

void LadderChart::setLadder(std::shared_ptr<const bake::Ladder> ladder, const bake::Recipe& inUse) {
    if (ladder == ladder_ && inUse == inUse_) {
        return;
    }
    ladder_ = std::move(ladder);
    inUse_ = inUse;
    rebuild();
}

void LadderChart::setTolerance(double metres) {
    if (metres != tolerance_) {
        tolerance_ = metres;
        rebuild();
    }
}

double LadderChart::errorOf(const bake::Rung& rung) const {
    return std::max(rung.error, kFloor);
}

bool LadderChart::isInUse(const bake::Rung& rung) const {
    const bake::Recipe& a = rung.recipe;
    const bake::Recipe& b = inUse_;
    if (a.kind != b.kind || a.positionStore != b.positionStore || a.thin != b.thin ||
        (a.thin == 0.0 && (a.step != b.step || bake::oversamplingOf(a) != bake::oversamplingOf(b))) ||
        a.blend != b.blend) {
        return false;
    }
    return a.kind->absolute ? a.content == b.content : a.shapes == b.shapes;
}

void LadderChart::rebuild() {
    plot_->clearGraphs();
    cheapest_.reset();
    const bool any = ladder_ && !ladder_->rungs.empty();
    for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
        axis->setVisible(any);
        axis->grid()->setVisible(any);
    }
    line_->setVisible(any);
    lineWords_->setVisible(any);
    if (!any) {
        readout_->setText(tr("Measuring ways to store…"));
        placeLabels();
        plot_->replot(QCustomPlot::rpQueuedReplot);
        return;
    }
    readout_->setText({});
    cheapest_ = bake::cheapest(*ladder_, tolerance_);
    double least = 1e300;
    double most = 0.0;
    double low = tolerance_;
    double high = tolerance_;
    for (const bake::Rung& rung : ladder_->rungs) {
        least = std::min(least, static_cast<double>(rung.memory));
        most = std::max(most, static_cast<double>(rung.memory));
        low = std::min(low, errorOf(rung));
        high = std::max(high, errorOf(rung));
    }
    plot_->xAxis->setRange(least / 1.35, most * 2.2); // room for labels on the right
    plot_->yAxis->setRange(low / 2.5, high * 2.5);
    const bool wide = most / least > 100.0;
    plot_->xAxis->setTicker(decades(least / 1.35, most * 2.2, wide ? 4.0 : 2.0, 64.0, plainSize));
    plot_->yAxis->setTicker(decades(low / 2.5, high * 2.5, 10.0, kFloor, plainLength));
    const QColor quiet = theme().faint;
    // Those worth having lie over those that are not.
    std::vector<std::size_t> order;
    for (const bool worthwhile : {false, true}) {
        for (std::size_t i = 0; i < ladder_->rungs.size(); ++i) {
            if (ladder_->rungs[i].worthwhile == worthwhile) {
                order.push_back(i);
            }
        }
    }
    for (const std::size_t i : order) {
        const bake::Rung& rung = ladder_->rungs[i];
        const bool fits = rung.error <= tolerance_;
        const QColor tone = !rung.worthwhile ? quiet : fits ? theme().glass : theme().quiet;
        const auto add = [&](const QCPScatterStyle& style) {
            QCPGraph* graph = plot_->addGraph();
            graph->setLineStyle(QCPGraph::lsNone);
            graph->setScatterStyle(style);
            graph->setData({static_cast<double>(rung.memory)}, {errorOf(rung)});
        };
        if (isInUse(rung)) {
            add(dot(Qt::transparent, theme().coral, 17.0, 2.4));
        }
        if (cheapest_ == i) {
            add(dot(tone, theme().text, 12.0, 2.0));
        } else {
            add(dot(tone, theme().ground, rung.worthwhile ? 9.0 : 6.0, 1.0));
        }
    }
    line_->start->setCoords(plot_->xAxis->range().lower, tolerance_);
    line_->end->setCoords(plot_->xAxis->range().upper, tolerance_);
    lineWords_->setText(tr("Tolerance %1, drag to change").arg(lengthWords(tolerance_)));
    // Labels lie where the axes have come to.
    for (const auto phase :
         {QCPLayoutElement::upPreparation, QCPLayoutElement::upMargins, QCPLayoutElement::upLayout}) {
        plot_->plotLayout()->update(phase);
    }
    placeLabels();
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

QRectF LadderChart::placeLineWords() {
    // On that side of the line where the fewest rungs lie; at one of its ends, or as near to one as that
    // goes.
    const QSizeF size(QFontMetricsF(lineWords_->font()).horizontalAdvance(lineWords_->text()) + 8.0, 18.0);
    const QRectF inside = plot_->axisRect()->rect();
    QRectF best;
    std::size_t fewest = std::numeric_limits<std::size_t>::max();
    std::vector<double> places = {inside.right() - size.width() - 4.0, inside.left() + 4.0};
    for (double x = places[0]; x > places[1]; x -= 12.0) {
        places.push_back(x);
    }
    for (const double x : places) {
        for (const double y : {lineY() - size.height() - 1.0, lineY() + 2.0}) {
            const QRectF box(QPointF(x, y), size);
            std::size_t hit = inside.contains(box) ? 0 : ladder_->rungs.size();
            for (std::size_t i = 0; i < ladder_->rungs.size(); ++i) {
                hit += box.adjusted(-6, -6, 6, 6).contains(placeOf(i));
            }
            if (hit < fewest) {
                fewest = hit;
                best = box;
            }
        }
    }
    lineWords_->position->setType(QCPItemPosition::ptAbsolute);
    lineWords_->position->setCoords(best.left(), best.top());
    return best;
}

void LadderChart::placeLabels() {
    for (QCPItemText* label : labels_) {
        plot_->removeItem(label);
    }
    labels_.clear();
    if (!ladder_ || ladder_->rungs.empty()) {
        return;
    }
    const QFont font = textFont(11.5);
    const QFontMetricsF metrics(font);
    const QRectF inside = plot_->axisRect()->rect();
    std::vector<QRectF> taken = {placeLineWords()};
    for (const bake::Rung& rung : ladder_->rungs) {
        const QPointF at(plot_->xAxis->coordToPixel(static_cast<double>(rung.memory)),
                         plot_->yAxis->coordToPixel(errorOf(rung)));
        if (rung.worthwhile || isInUse(rung)) {
            taken.push_back({at.x() - 7, at.y() - 7, 14, 14});
        }
    }
    // Those that matter most find their place first.
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i < ladder_->rungs.size(); ++i) {
        if (ladder_->rungs[i].worthwhile || isInUse(ladder_->rungs[i])) {
            order.push_back(i);
        }
    }
    const auto rank = [&](std::size_t i) { return cheapest_ == i ? 0 : isInUse(ladder_->rungs[i]) ? 1 : 2; };
    std::stable_sort(order.begin(), order.end(), [&](auto a, auto b) { return rank(a) < rank(b); });
    for (const std::size_t i : order) {
        const bake::Rung& rung = ladder_->rungs[i];
        const QString words =
            (cheapest_ == i ? tr("%1 (cheapest)") : QString("%1")).arg(QString::fromStdString(rung.label()));
        const double width = metrics.horizontalAdvance(words) + 4.0;
        const QPointF at(plot_->xAxis->coordToPixel(static_cast<double>(rung.memory)),
                         plot_->yAxis->coordToPixel(errorOf(rung)));
        for (const QPointF& way :
             {QPointF(11, -8), QPointF(-11 - width, -8), QPointF(-width / 2, -25), QPointF(-width / 2, 9),
              QPointF(9, -22), QPointF(9, 6), QPointF(-width - 9, 6), QPointF(-width / 2, 22),
              QPointF(-width / 2, -40), QPointF(-width - 9, 24), QPointF(9, 24)}) {
            const QRectF box(at + way, QSizeF(width, 16));
            // On its rung's side of the tolerance: across the line it would seem to keep, or to miss, it.
            const bool crossed =
                (box.top() < lineY() && box.bottom() > lineY()) ||
                (std::abs(at.y() - lineY()) > kReach && (at.y() < lineY()) != (box.center().y() < lineY()));
            const bool free = inside.contains(box) && !crossed &&
                              !taken.front().intersects(box) && // never over the line's own words
                              std::none_of(taken.begin() + 1, taken.end(), [&](const QRectF& other) {
                                  return other.intersects(box) && !other.contains(at);
                              });
            if (!free) {
                continue;
            }
            taken.push_back(box);
            auto* label = new QCPItemText(plot_);
            label->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
            label->position->setType(QCPItemPosition::ptAbsolute);
            label->position->setCoords(box.left(), box.top());
            label->setFont(rank(i) < 2 ? textFont(11.5, QFont::DemiBold) : font);
            label->setColor(rank(i) < 2 ? theme().text : theme().quiet);
            label->setText(words);
            labels_.push_back(label);
            break;
        }
    }
}

void LadderChart::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (ladder_) {
        rebuild();
    }
}

QPointF LadderChart::placeOf(std::size_t rung) const {
    const bake::Rung& of = ladder_->rungs[rung];
    return {plot_->xAxis->coordToPixel(static_cast<double>(of.memory)),
            plot_->yAxis->coordToPixel(errorOf(of))};
}

double LadderChart::lineY() const {
    return plot_->yAxis->coordToPixel(tolerance_);
}

std::optional<std::size_t> LadderChart::rungAt(const QPointF& at) const {
    std::optional<std::size_t> nearest;
    double best = kReach;
    for (std::size_t i = 0; ladder_ && i < ladder_->rungs.size(); ++i) {
        const QPointF way = placeOf(i) - at;
        // Of two that lie together the one worth having is meant.
        const double away = std::hypot(way.x(), way.y()) + (ladder_->rungs[i].worthwhile ? 0.0 : 3.0);
        if (away < best) {
            best = away;
            nearest = i;
        }
    }
    return nearest;
}

void LadderChart::hover(const QPointF& at) {
    const auto rung = rungAt(at);
    const bool line = !rung && std::abs(at.y() - lineY()) < kGrip && line_->visible();
    plot_->setCursor(rung ? Qt::PointingHandCursor : line ? Qt::SizeVerCursor : Qt::ArrowCursor);
    QString words;
    if (rung) {
        const bake::Rung& of = ladder_->rungs[*rung];
        words = tr("%1: %2, maximum error %3. Click to use it.")
                    .arg(QString::fromStdString(of.label()), sizeWords(static_cast<double>(of.memory)),
                         lengthWords(of.error));
    }
    if (words != readout_->text() && ladder_ && !ladder_->rungs.empty()) {
        readout_->setText(words);
        plot_->replot(QCustomPlot::rpQueuedReplot);
    }
}

void LadderChart::drag(const QPointF& at) {
    const QRect inside = plot_->axisRect()->rect();
    const double y =
        std::clamp(at.y(), static_cast<double>(inside.top()), static_cast<double>(inside.bottom()));
    const double metres = plot_->yAxis->pixelToCoord(y);
    // Two figures are as fine as a hand is.
    const double unit = std::pow(10.0, std::floor(std::log10(metres)) - 1.0);
    Q_EMIT toleranceDragged(std::round(metres / unit) * unit, dragged_);
    dragged_ = true;
}

} // namespace ripple::app
