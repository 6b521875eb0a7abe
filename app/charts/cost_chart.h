#pragma once

#include <QColor>
#include <QString>
#include <QWidget>

#include <utility>
#include <vector>

class QCustomPlot;
class QCPItemText;

namespace ripple::app {

/// Milliseconds of a picture against the number of copies, both on scales of powers of ten, one line for each
/// way of playing; a dashed line at a sixtieth of a second, and a read-out under the pointer.
class CostChart : public QWidget {
    Q_OBJECT
public:
    struct Line {
        QString name;
        QColor colour;
        bool dashed = false;
        std::vector<std::pair<double, double>> points; ///< copies, milliseconds
        std::vector<QString> words;                    ///< points: what the read-out adds
    };
    explicit CostChart(QWidget* parent = nullptr);
    /// `copies`: the number that is on the stage, marked; 0: none. `words`: said where there are no lines.
    void setLines(std::vector<Line> lines, double copies, const QString& words);
    void restyle();
    const std::vector<Line>& lines() const { return lines_; }
    /// Where a point is, in this widget's pixels; for tests.
    QPointF placeOf(std::size_t line, std::size_t point) const;

private:
    void hover(const QPointF& at);

    QCustomPlot* plot_;
    QCPItemText* readout_ = nullptr;
    std::vector<Line> lines_;
    double copies_ = 0.0;
    QString words_;
};

} // namespace ripple::app
