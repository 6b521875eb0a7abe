#pragma once

#include <QWidget>

#include <vector>

class QCustomPlot;

namespace ripple::app {

/// The largest error against the number of frames of which one is kept. A click takes a step.
class StepChart : public QWidget {
    Q_OBJECT
public:
    struct Point {
        std::size_t step = 1;
        double metres = 0.0;
    };
    explicit StepChart(QWidget* parent = nullptr);
    /// `inUse`: the step that is stored, marked; 0 for none.
    void setPoints(std::vector<Point> points, std::size_t inUse, double tolerance);
    void restyle();
    /// Where a point is, in this widget's pixels; for tests.
    QPointF placeOf(std::size_t point) const;

Q_SIGNALS:
    void stepPicked(int step);

private:
    QCustomPlot* plot_;
    std::vector<Point> points_;
    std::size_t inUse_ = 0;
    double tolerance_ = 0.0;
};

} // namespace ripple::app
