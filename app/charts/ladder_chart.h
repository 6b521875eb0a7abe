#pragma once

#include "bake/ladder.h"

#include <QString>
#include <QWidget>

#include <memory>
#include <optional>
#include <vector>

class QCustomPlot;
class QCPItemLine;
class QCPItemText;

namespace ripple::app {

/// Ways to store at (texture memory, largest error), both on logarithmic scales, with the tolerance as a line
/// that can be dragged. The cheapest below the line has a ring, the one in use another. A click takes one.
class LadderChart : public QWidget {
    Q_OBJECT
public:
    explicit LadderChart(QWidget* parent = nullptr);

    /// `inUse`: what the document stores as, wherever it lies.
    void setLadder(std::shared_ptr<const bake::Ladder> ladder, const bake::Recipe& inUse);
    void setTolerance(double metres);
    void restyle();

    /// Where a rung and the line are, in this widget's pixels; for tests.
    QPointF placeOf(std::size_t rung) const;
    double lineY() const;
    std::optional<std::size_t> cheapest() const { return cheapest_; }

Q_SIGNALS:
    void rungTaken(int rung);
    /// `continuing`: the same drag goes on.
    void toleranceDragged(double metres, bool continuing);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void rebuild();
    void placeLabels();
    /// Puts the words of the tolerance beside its line, and gives the room they take.
    QRectF placeLineWords();
    std::optional<std::size_t> rungAt(const QPointF& at) const;
    void hover(const QPointF& at);
    void drag(const QPointF& at);
    double errorOf(const bake::Rung& rung) const;
    bool isInUse(const bake::Rung& rung) const;

    QCustomPlot* plot_;
    QCPItemLine* line_;
    QCPItemText* lineWords_;
    QCPItemText* readout_;
    std::vector<QCPItemText*> labels_;
    std::shared_ptr<const bake::Ladder> ladder_;
    bake::Recipe inUse_;
    double tolerance_ = 0.0005;
    std::optional<std::size_t> cheapest_;
    bool dragging_ = false;
    bool dragged_ = false;
};

} // namespace ripple::app
