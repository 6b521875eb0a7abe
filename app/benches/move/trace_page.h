#pragma once

#include "app/look/segmented_choice.h"
#include "app/session/session.h"

#include <QLabel>
#include <QScrollArea>
#include <QWidget>

#include <optional>

namespace ripple::app {

/// What the picked vertex does over two loops, voice by voice and along each axis, with the seam between
/// them.
class TraceChart : public QWidget {
    Q_OBJECT
public:
    struct Line {
        QString name;
        QString words; ///< beside the name: its range
        QColor colour;
        std::vector<float> values; ///< two loops, at i / (n − 1) · 2 turns
        float most = 0.0f;         ///< largest size, which fills the row; 0: flat
    };
    explicit TraceChart(QWidget* parent = nullptr);
    void setLines(std::vector<Line> lines, const QString& words);
    void setTurn(double turn);
    const std::vector<Line>& lines() const { return lines_; }

Q_SIGNALS:
    void turnPicked(double turn);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    QRectF plot() const;
    std::vector<Line> lines_;
    QString words_;
    double turn_ = 0.0;
};

class TracePage : public QWidget {
    Q_OBJECT
public:
    explicit TracePage(Session& session, QWidget* parent = nullptr);
    TraceChart* chart() const { return chart_; }
    void restyle() { refresh(); }

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    std::vector<TraceChart::Line> voiceLines(std::size_t vertex) const;
    std::vector<TraceChart::Line> axisLines(std::size_t vertex) const;

    Session& session_;
    /// The picked vertex, else the one that moves furthest; none where that would take too long to find.
    std::optional<std::size_t> vertexOf(const motion::Performance& performance);

    SegmentedChoice* what_;
    QLabel* whose_;
    TraceChart* chart_;
    QScrollArea* scroll_; ///< where there are more rows than the strip is high
    /// Of which mesh and how many voices, and which vertex that was.
    std::shared_ptr<const source::FrameSource> furthestOf_;
    std::size_t furthestVoices_ = 0;
    std::size_t furthest_ = 0;
};

} // namespace ripple::app
