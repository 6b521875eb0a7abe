#pragma once

#include <QColor>
#include <QString>
#include <QWidget>

#include <vector>

class QCustomPlot;
class QCPItemLine;
class QCPItemText;

namespace ripple::app {

/// Values over the frames of a clip, in metres shown as millimetres: up to two lines, a marker for the
/// playing frame, and a read-out under the pointer. A click goes to a frame.
class FrameChart : public QWidget {
    Q_OBJECT
public:
    struct Line {
        QString name;
        QColor colour;
        std::vector<float> metres; ///< frames
        bool filled = false;
    };

    explicit FrameChart(QWidget* parent = nullptr);

    /// `seam` 0..: index of the value that crosses the seam, marked; -1 for none.
    void setLines(const std::vector<Line>& lines, int seam, const QString& seamWords);
    void setFrame(double frame);
    void restyle();
    /// Value of a line at a frame as drawn, in millimetres; for tests.
    double shownValue(int line, int frame) const;

Q_SIGNALS:
    void framePicked(double frame);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void hover(const QPointF& at);
    void rest();

    QCustomPlot* plot_;
    QCPItemLine* marker_;
    QCPItemText* readout_;
    QString seamWords_;
    std::vector<Line> lines_;
};

} // namespace ripple::app
