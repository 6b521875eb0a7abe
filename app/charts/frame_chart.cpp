#include "app/charts/frame_chart.h"

#include "app/charts/plot_style.h"
#include "app/look/theme.h"
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
    marker_->setLayer("axes"); // under the legend
    readout_ = new QCPItemText(plot_);
    readout_->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
    readout_->position->setType(QCPItemPosition::ptAxisRectRatio);
    readout_->position->setCoords(0.012, 0.03);
    readout_->setTextAlignment(Qt::AlignLeft);

    plot_->installEventFilter(this);
    for (QCPItemRect** veil : {&before_, &after_}) {
        *veil = new QCPItemRect(plot_);
        (*veil)->setPen(Qt::NoPen);
        (*veil)->setVisible(false);
    }
    for (QCPItemLine** line : {&firstLine_, &lastLine_}) {
        *line = new QCPItemLine(plot_);
        (*line)->setVisible(false);
    }
    connect(plot_, &QCustomPlot::mouseMove, this, [this](QMouseEvent* event) {
        if (grip_ != Grip::none) {
            drag(event->position());
        } else {
            const Grip grip = gripAt(event->position());
            plot_->setCursor(grip == Grip::first || grip == Grip::last ? Qt::SizeHorCursor : Qt::ArrowCursor);
        }
        hover(event->position());
    });
    connect(plot_, &QCustomPlot::mousePress, this, [this](QMouseEvent* event) { press(event->position()); });
    connect(plot_, &QCustomPlot::mouseRelease, this, [this] { grip_ = Grip::none; });
    restyle();
}

void FrameChart::restyle() {
    stylePlot(*plot_);
    const Palette& p = theme();
    marker_->setPen(QPen(p.text, 1.4));
    for (QCPItemRect* veil : {before_, after_}) {
        QColor ground = p.deep;
        ground.setAlphaF(0.62f);
        veil->setBrush(ground);
    }
    for (QCPItemLine* line : {firstLine_, lastLine_}) {
        line->setPen(QPen(p.coral, 3.0));
    }
    readout_->setFont(textFont(11.5));
    QColor plate = p.ground; // lines run behind the names
    plate.setAlphaF(0.8f);
    plot_->legend->setBrush(p.ground);
    readout_->setBrush(plate);
    plot_->legend->setIconSize(18, 12);
    plot_->legend->setBorderPen(Qt::NoPen);
    plot_->legend->setTextColor(p.quiet);
    plot_->legend->setFont(textFont(11.5));
    plot_->legend->setFillOrder(QCPLayoutGrid::foColumnsFirst);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void FrameChart::setUnit(const QString& unit) {
    plot_->yAxis->setLabel(unit);
}

void FrameChart::setLines(const std::vector<Line>& lines, int seam, const QString& seamWords) {
    lines_ = lines;
    marker_->setVisible(!lines.empty());
    plot_->xAxis->setVisible(!lines.empty());
    plot_->yAxis->setVisible(!lines.empty());
    plot_->xAxis->grid()->setVisible(!lines.empty());
    plot_->yAxis->grid()->setVisible(!lines.empty());
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
    placeWindow();
    seamWords_ = seamWords;
    rest();
}

FrameChart::Grip FrameChart::gripAt(const QPointF& at) const {
    constexpr double kReach = 7.0; // pixels
    if (frames_ == 0) {
        return Grip::frame;
    }
    const double first = std::abs(plot_->xAxis->coordToPixel(static_cast<double>(first_)) - at.x());
    const double last = std::abs(plot_->xAxis->coordToPixel(static_cast<double>(last_)) - at.x());
    return std::min(first, last) > kReach ? Grip::frame : first < last ? Grip::first : Grip::last;
}

void FrameChart::press(const QPointF& at) {
    grip_ = lines_.empty() ? Grip::none : gripAt(at);
    dragged_ = false;
    if (grip_ == Grip::frame) {
        drag(at);
    }
}

void FrameChart::drag(const QPointF& at) {
    const double frame = std::max(0.0, std::round(plot_->xAxis->pixelToCoord(at.x())));
    if (grip_ == Grip::frame) {
        Q_EMIT framePicked(frame);
        return;
    }
    const std::size_t to = std::min(static_cast<std::size_t>(frame), frames_ - 1);
    const std::size_t first = grip_ == Grip::first ? std::min(to, last_) : first_;
    const std::size_t last = grip_ == Grip::last ? std::max(to, first_) : last_;
    if (first == first_ && last == last_) {
        return;
    }
    first_ = first;
    last_ = last;
    placeWindow();
    Q_EMIT windowDragged(first, last, dragged_);
    dragged_ = true;
}

void FrameChart::setWindow(std::size_t first, std::size_t last, std::size_t frames) {
    if (grip_ == Grip::first || grip_ == Grip::last) {
        return; // what is being dragged is where the hand is
    }
    first_ = first;
    last_ = last;
    frames_ = frames;
    placeWindow();
}

void FrameChart::placeWindow() {
    const double top = plot_->yAxis->range().upper;
    const auto first = static_cast<double>(first_);
    const auto last = static_cast<double>(last_);
    before_->topLeft->setCoords(0.0, top);
    before_->bottomRight->setCoords(first, 0.0);
    after_->topLeft->setCoords(last, top);
    after_->bottomRight->setCoords(static_cast<double>(std::max<std::size_t>(frames_, 1) - 1), 0.0);
    for (auto [line, at] : {std::pair(firstLine_, first), std::pair(lastLine_, last)}) {
        line->start->setCoords(at, 0.0);
        line->end->setCoords(at, top);
        line->setVisible(frames_ > 1);
    }
    before_->setVisible(frames_ > 1 && first_ > 0);
    after_->setVisible(frames_ > 1 && last_ + 1 < frames_);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

QPoint FrameChart::handleAt(bool first) const {
    const double x = plot_->xAxis->coordToPixel(static_cast<double>(first ? first_ : last_));
    return {static_cast<int>(std::lround(x)), plot_->axisRect()->center().y()};
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
                    (plot_->yAxis->label() == "mm"
                         ? QString::fromStdString(base::lengthText(static_cast<double>(line.metres[frame])))
                         : QString::number(static_cast<double>(line.metres[frame]) * 1000.0, 'g', 3) + " " +
                               plot_->yAxis->label());
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
