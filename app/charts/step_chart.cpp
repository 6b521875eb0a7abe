#include "app/charts/step_chart.h"

#include "app/charts/plot_style.h"
#include "app/look/theme.h"
#include "base/units.h"

#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

#include <qcustomplot.h>

namespace ripple::app {

StepChart::StepChart(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot) {
    setObjectName("stepChart");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(plot_);
    plot_->yAxis->setLabel(tr("mm"));
    connect(plot_, &QCustomPlot::mouseRelease, this, [this](QMouseEvent* event) {
        for (std::size_t i = 0; i < points_.size(); ++i) {
            if (std::abs(placeOf(i).x() - event->position().x()) < 24.0) {
                Q_EMIT stepPicked(static_cast<int>(points_[i].step));
                return;
            }
        }
    });
    restyle();
}

void StepChart::restyle() {
    stylePlot(*plot_);
    plot_->axisRect()->setMinimumMargins(QMargins(46, 12, 14, 22));
    setPoints(points_, inUse_, tolerance_);
}

QPointF StepChart::placeOf(std::size_t point) const {
    return {plot_->xAxis->coordToPixel(static_cast<double>(point)),
            plot_->yAxis->coordToPixel(points_[point].metres * 1000.0)};
}

void StepChart::setPoints(std::vector<Point> points, std::size_t inUse, double tolerance) {
    points_ = std::move(points);
    inUse_ = inUse;
    tolerance_ = tolerance;
    plot_->clearItems();
    plot_->clearPlottables();
    const bool any = !points_.empty();
    for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
        axis->setVisible(any);
        axis->grid()->setVisible(any && axis == plot_->yAxis);
    }
    if (!any) {
        auto* words = new QCPItemText(plot_);
        words->position->setType(QCPItemPosition::ptAxisRectRatio);
        words->position->setCoords(0.5, 0.5);
        words->setFont(textFont(12));
        words->setColor(theme().quiet);
        words->setText(tr("Steps are compared here for bakes of vertices, once they have been measured."));
        plot_->replot(QCustomPlot::rpQueuedReplot);
        return;
    }
    QSharedPointer<QCPAxisTickerText> ticker(new QCPAxisTickerText);
    double top = tolerance * 1000.0;
    for (std::size_t i = 0; i < points_.size(); ++i) {
        const double x = static_cast<double>(i);
        const double mm = points_[i].metres * 1000.0;
        top = std::max(top, mm);
        ticker->addTick(x, points_[i].step == 1 ? tr("every frame") : tr("every %1").arg(points_[i].step));
        auto* bar = new QCPBars(plot_->xAxis, plot_->yAxis);
        bar->setWidth(0.46);
        bar->setData({x}, {mm});
        const bool fits = points_[i].metres <= tolerance;
        bar->setBrush(fits ? theme().glass : theme().faint);
        bar->setPen(points_[i].step == inUse ? QPen(theme().coral, 2.4) : QPen(Qt::NoPen));
        auto* words = new QCPItemText(plot_);
        words->position->setCoords(x, mm);
        words->setPositionAlignment(Qt::AlignHCenter | Qt::AlignBottom);
        words->setFont(textFont(11.5));
        words->setColor(points_[i].step == inUse ? theme().text : theme().quiet);
        words->setText(QString::fromStdString(base::lengthText(points_[i].metres)));
    }
    plot_->xAxis->setTicker(ticker);
    plot_->xAxis->setRange(-0.6, static_cast<double>(points_.size()) - 0.4);
    plot_->yAxis->setRange(0.0, top * 1.25);
    auto* line = new QCPItemLine(plot_);
    line->setPen(QPen(theme().brass, 1.6, Qt::DashLine));
    line->start->setCoords(-0.6, tolerance * 1000.0);
    line->end->setCoords(static_cast<double>(points_.size()) - 0.4, tolerance * 1000.0);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

} // namespace ripple::app
