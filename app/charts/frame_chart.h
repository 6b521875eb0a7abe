#pragma once

#include <QColor>
#include <QString>
#include <QWidget>

#include <vector>

class QCustomPlot;
class QCPItemLine;
class QCPItemRect;
class QCPItemText;

namespace ripple::app {

/// Values over the frames of a clip, in metres shown as millimetres (or in another unit's thousandths): up to
/// two lines, a marker for the playing frame, and a read-out under the pointer. A click or a drag goes to a
/// frame. With a window, its two handles can be dragged.
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
    /// What the values are thousandths of: "mm" for metres. Lines that are set later show it.
    void setUnit(const QString& unit);
    void setFrame(double frame);
    /// Frames first..last are kept, of `frames`; frames 0 takes the handles away.
    void setWindow(std::size_t first, std::size_t last, std::size_t frames);
    /// Where a handle is, in this widget's pixels; for tests.
    QPoint handleAt(bool first) const;
    void restyle();
    /// Value of a line at a frame as drawn, in millimetres; for tests.
    double shownValue(int line, int frame) const;

Q_SIGNALS:
    void framePicked(double frame);
    /// `continuing`: the same drag goes on.
    void windowDragged(std::size_t first, std::size_t last, bool continuing);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void hover(const QPointF& at);
    void rest();
    void press(const QPointF& at);
    void drag(const QPointF& at);
    void placeWindow();
    enum class Grip { none, frame, first, last };
    Grip gripAt(const QPointF& at) const;

    QCustomPlot* plot_;
    QCPItemLine* marker_;
    QCPItemText* readout_;
    QCPItemRect* before_; ///< veils over what is not kept
    QCPItemRect* after_;
    QCPItemLine* firstLine_;
    QCPItemLine* lastLine_;
    std::size_t first_ = 0;
    std::size_t last_ = 0;
    std::size_t frames_ = 0;
    Grip grip_ = Grip::none;
    bool dragged_ = false;
    QString seamWords_;
    std::vector<Line> lines_;
};

} // namespace ripple::app
