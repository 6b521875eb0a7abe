#include "app/charts/cost_chart.h"

#include "app/charts/plot_style.h"
#include "app/look/theme.h"
#include "base/units.h"

#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

#include <qcustomplot.h>

namespace ripple::app {

namespace {

constexpr double kFrame = 1000.0 / 60.0; ///< milliseconds

QString msWords(double ms) {
    return QObject::tr("%1 ms").arg(ms, 0, 'g', ms < 1.0 ? 2 : 3);
}

} // namespace

CostChart::CostChart(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot) {
    setObjectName("costChart");
    setAccessibleName(tr("Time of a picture against the number of copies"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(plot_);
    for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
        axis->setScaleType(QCPAxis::stLogarithmic);
        axis->setSubTicks(false);
        axis->setTickLength(0, 3);
    }
    connect(plot_, &QCustomPlot::mouseMove, this, [this](QMouseEvent* event) { hover(event->position()); });
    restyle();
}

void CostChart::restyle() {
    stylePlot(*plot_);
    plot_->axisRect()->setMinimumMargins(QMargins(58, 8, 14, 22));
    setLines(lines_, copies_, words_);
}

QPointF CostChart::placeOf(std::size_t line, std::size_t point) const {
    const auto [copies, ms] = lines_[line].points[point];
    return {plot_->xAxis->coordToPixel(copies), plot_->yAxis->coordToPixel(ms)};
}

void CostChart::setLines(std::vector<Line> lines, double copies, const QString& words) {
    lines_ = std::move(lines);
    copies_ = copies;
    words_ = words;
    plot_->clearItems();
    plot_->clearPlottables();
    readout_ = nullptr;
    const bool any = std::ranges::any_of(lines_, [](const Line& line) { return !line.points.empty(); });
    for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
        axis->setVisible(any);
        axis->grid()->setVisible(any);
    }
    if (!any) {
        auto* item = new QCPItemText(plot_);
        item->position->setType(QCPItemPosition::ptAxisRectRatio);
        item->position->setCoords(0.5, 0.5);
        item->setFont(textFont(12));
        item->setColor(theme().quiet);
        item->setText(words_);
        plot_->replot(QCustomPlot::rpQueuedReplot);
        return;
    }
    double low = 1.0;
    double high = 2.0 * kFrame;
    QStringList described;
    for (const Line& line : lines_) {
        auto* graph = plot_->addGraph();
        graph->setPen(QPen(line.colour, 2.0, line.dashed ? Qt::DashLine : Qt::SolidLine));
        graph->setScatterStyle({QCPScatterStyle::ssDisc, line.colour, 6.0});
        for (const auto& [count, ms] : line.points) {
            graph->addData(count, ms);
            low = std::min(low, ms);
            high = std::max(high, ms);
        }
    }
    low = std::pow(10.0, std::floor(std::log10(std::max(low, 0.01))));
    high *= 30.0; // room for the names
    plot_->xAxis->setRange(0.8, 60000.0);
    plot_->yAxis->setRange(low, high);
    QSharedPointer<QCPAxisTickerText> counts(new QCPAxisTickerText);
    for (const double count : {1.0, 10.0, 100.0, 1000.0, 10000.0}) {
        counts->addTick(count, QString::fromStdString(base::countText(static_cast<std::size_t>(count))));
    }
    counts->addTick(40000.0, tr("copies"));
    plot_->xAxis->setTicker(counts);
    QSharedPointer<QCPAxisTickerText> times(new QCPAxisTickerText);
    for (double ms = low; ms <= high; ms *= 10.0) {
        times->addTick(ms, msWords(ms));
    }
    plot_->yAxis->setTicker(times);
    auto* frame = new QCPItemLine(plot_);
    frame->setPen(QPen(theme().brass, 1.4, Qt::DashLine));
    frame->start->setCoords(0.8, kFrame);
    frame->end->setCoords(60000.0, kFrame);
    auto* label = new QCPItemText(plot_);
    label->position->setCoords(58000.0, kFrame);
    label->setPositionAlignment(Qt::AlignRight | Qt::AlignBottom);
    label->setFont(textFont(11));
    label->setColor(theme().brass);
    label->setText(tr("16.7 ms, 60 pictures a second"));
    if (copies_ > 0.0) {
        auto* here = new QCPItemLine(plot_);
        here->setPen(QPen(theme().faint, 1.2, Qt::DotLine));
        here->start->setCoords(copies_, low);
        here->end->setCoords(copies_, high);
    }
    // Lines rise to the right, so there is room for their names at the left of the top.
    double down = 0.02;
    for (const Line& line : lines_) {
        auto* name = new QCPItemText(plot_);
        name->position->setType(QCPItemPosition::ptAxisRectRatio);
        name->position->setCoords(0.015, down);
        name->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
        name->setFont(textFont(11.5, QFont::DemiBold));
        name->setColor(line.colour);
        name->setText((line.dashed ? "– – " : "— ") + line.name);
        down += 0.115;
        if (!line.points.empty()) {
            const auto [count, ms] = line.points.back();
            described << tr("%1: %2 copies in %3").arg(line.name).arg(count).arg(msWords(ms));
        }
    }
    setAccessibleDescription(described.join("; "));
    readout_ = new QCPItemText(plot_);
    readout_->position->setType(QCPItemPosition::ptAxisRectRatio);
    readout_->position->setCoords(0.99, 0.97);
    readout_->setPositionAlignment(Qt::AlignRight | Qt::AlignBottom);
    readout_->setText({});
    readout_->setFont(textFont(11.5));
    readout_->setColor(theme().text);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void CostChart::hover(const QPointF& at) {
    if (!readout_) {
        return;
    }
    QString words;
    double nearest = 14.0;
    for (std::size_t l = 0; l < lines_.size(); ++l) {
        for (std::size_t p = 0; p < lines_[l].points.size(); ++p) {
            const QPointF there = placeOf(l, p);
            const double away = std::hypot(there.x() - at.x(), there.y() - at.y());
            if (away < nearest) {
                nearest = away;
                const auto [count, ms] = lines_[l].points[p];
                words = tr("%1, %2 copies: %3")
                            .arg(lines_[l].name,
                                 QString::fromStdString(base::countText(static_cast<std::size_t>(count))),
                                 msWords(ms));
                words += p < lines_[l].words.size() ? ", " + lines_[l].words[p] : QString();
            }
        }
    }
    if (words != readout_->text()) {
        readout_->setText(words);
        plot_->replot(QCustomPlot::rpQueuedReplot);
    }
}

} // namespace ripple::app
