#include "app/charts/frame_chart.h"

#include "app/charts/plot_style.h"
#include "app/shell/theme.h"
#include "base/units.h"

#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

#include <qcustomplot.h>

namespace ripple::app {

FrameChart::FrameChart(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(plot_);
    plot_->yAxis->setLabel(tr("mm"));
    plot_->xAxis->setTickLength(0, 3);
    plot_->yAxis->setTickLength(0, 3);
    plot_->legend->setVisible(true);
    plot_->axisRect()->insetLayout()->setInsetAlignment(0, Qt::AlignTop | Qt::AlignRight);
    marker_ = new QCPItemLine(plot_);
    marker_->setVisible(false);
    readout_ = new QCPItemText(plot_);
    readout_->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
    readout_->position->setType(QCPItemPosition::ptAxisRectRatio);
    readout_->position->setCoords(0.012, 0.03);
    readout_->setTextAlignment(Qt::AlignLeft);

    plot_->installEventFilter(this);
    connect(plot_, &QCustomPlot::mouseMove, this, [this](QMouseEvent* event) { hover(event->position()); });
    connect(plot_, &QCustomPlot::mousePress, this, [this](QMouseEvent* event) {
        Q_EMIT framePicked(std::max(0.0, std::round(plot_->xAxis->pixelToCoord(event->position().x()))));
    });
    restyle();
}

void FrameChart::restyle() {
    stylePlot(*plot_);
    const Palette& p = theme();
    marker_->setPen(QPen(p.text, 1.4));
    readout_->setFont(textFont(11.5));
    plot_->legend->setBrush(Qt::NoBrush);
    plot_->legend->setBorderPen(Qt::NoPen);
    plot_->legend->setTextColor(p.quiet);
    plot_->legend->setFont(textFont(11.5));
    plot_->legend->setFillOrder(QCPLayoutGrid::foColumnsFirst);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void FrameChart::setLines(const std::vector<Line>& lines, int seam, const QString& seamWords) {
    lines_ = lines;
    marker_->setVisible(!lines.empty());
    plot_->legend->setVisible(!lines.empty());
    plot_->clearGraphs();
    double top = 0.0;
    std::size_t frames = 1;
    for (const Line& line : lines) {
        QCPGraph* graph = plot_->addGraph();
        graph->setName(line.name);
        graph->setPen(QPen(line.colour, 1.8));
        if (line.filled) {
            QColor fill = line.colour;
            fill.setAlphaF(0.16f);
            graph->setBrush(fill);
        }
        QVector<double> x;
        QVector<double> y;
        for (std::size_t f = 0; f < line.metres.size(); ++f) {
            if (static_cast<int>(f) == seam) {
                continue; // drawn in words: its size would flatten everything else
            }
            x.push_back(static_cast<double>(f));
            y.push_back(static_cast<double>(line.metres[f]) * 1000.0);
            top = std::max(top, y.back());
        }
        graph->setData(x, y, true);
        frames = std::max(frames, line.metres.size());
    }
    plot_->xAxis->setRange(0.0, static_cast<double>(std::max<std::size_t>(frames - 1, 1)));
    plot_->yAxis->setRange(0.0, top > 0.0 ? top * 1.45 : 1.0);
    seamWords_ = seamWords;
    rest();
}

void FrameChart::setFrame(double frame) {
    marker_->start->setCoords(frame, 0.0);
    marker_->end->setCoords(frame, plot_->yAxis->range().upper);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void FrameChart::rest() {
    readout_->setColor(lines_.empty() ? theme().quiet : theme().brass);
    readout_->setText(seamWords_);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

bool FrameChart::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::Leave) {
        rest();
    }
    return QWidget::eventFilter(watched, event);
}

void FrameChart::hover(const QPointF& at) {
    const auto frame =
        static_cast<std::size_t>(std::max(0.0, std::round(plot_->xAxis->pixelToCoord(at.x()))));
    QString text = tr("frame %1").arg(frame);
    for (const Line& line : lines_) {
        if (frame < line.metres.size()) {
            text += "   " + line.name + " " +
                    QString::fromStdString(base::lengthText(static_cast<double>(line.metres[frame])));
        }
    }
    readout_->setColor(theme().text);
    readout_->setText(text);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

double FrameChart::shownValue(int line, int frame) const {
    const auto* values = plot_->graph(line)->data().data();
    return values->findBegin(frame, false)->value;
}

} // namespace ripple::app
