#include "app/benches/move/trace_page.h"

#include "app/look/panel_parts.h"
#include "app/session/score_edits.h"
#include "app/look/theme.h"
#include "app/session/words.h"
#include "motion/kinds.h"
#include "base/units.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::app {

namespace {

constexpr std::size_t kSteps = 241; // over two loops
constexpr int kNames = 118;         // pixels that the names take

std::vector<double> twoLoops() {
    std::vector<double> turns(kSteps);
    for (std::size_t i = 0; i < kSteps; ++i) {
        turns[i] = 2.0 * static_cast<double>(i) / (kSteps - 1);
    }
    return turns;
}

TraceChart::Line lineOf(const QString& name, const QColor& colour, std::vector<float> values) {
    float most = 0.0f;
    for (const float value : values) {
        most = std::max(most, std::abs(value));
    }
    if (most < 1e-6f) { // metres: what is left of rounding is no motion
        std::fill(values.begin(), values.end(), 0.0f);
        most = 0.0f;
    }
    return {name, QString("± %1").arg(text(base::lengthText(static_cast<double>(most)))), colour,
            std::move(values), most};
}

} // namespace

TraceChart::TraceChart(QWidget* parent) : QWidget(parent) {
    setObjectName("trace");
    setMinimumHeight(110);
    setAccessibleName(tr("Trace of the picked vertex"));
}

void TraceChart::setLines(std::vector<Line> lines, const QString& words) {
    lines_ = std::move(lines);
    constexpr int kRow = 19; // pixels: a name can be read
    setMinimumHeight(30 + kRow * static_cast<int>(lines_.size()));
    words_ = words;
    update();
}

void TraceChart::setTurn(double turn) {
    turn_ = turn;
    update();
}

QRectF TraceChart::plot() const {
    return {static_cast<double>(kNames), 12.0, width() - kNames - 14.0, height() - 30.0};
}

void TraceChart::mousePressEvent(QMouseEvent* event) {
    const double turns = 2.0 * (event->position().x() - plot().left()) / plot().width();
    if (!lines_.empty() && turns >= 0.0 && turns <= 2.0) {
        Q_EMIT turnPicked(turns - std::floor(turns));
    }
}

void TraceChart::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton) {
        mousePressEvent(event);
    }
}

void TraceChart::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(textFont(11.5));
    if (lines_.empty()) {
        painter.setPen(theme().quiet);
        painter.drawText(QRectF(rect()).adjusted(20, 0, -20, 0), Qt::AlignCenter | Qt::TextWordWrap, words_);
        return;
    }
    const QRectF box = plot();
    const auto x = [&](double turns) { return box.left() + box.width() * turns / 2.0; };
    for (int quarter = 0; quarter <= 8; ++quarter) {
        const double at = x(0.25 * quarter);
        const bool seam = quarter == 4;
        painter.setPen(QPen(seam ? theme().brass : theme().line, seam ? 1.6 : 1.0));
        painter.drawLine(QPointF(at, box.top()), QPointF(at, box.bottom()));
        painter.setPen(seam ? theme().brass : theme().quiet);
        if (quarter % 2 == 0) {
            const double left = quarter == 8 ? width() - 60.0 : at - 30.0; // the last stays inside
            const QRectF place(left, box.bottom() + 2.0, 60.0, 15.0);
            painter.drawText(place, quarter == 8 ? Qt::AlignRight : Qt::AlignCenter,
                             seam ? tr("seam") : QString::number(0.25 * quarter, 'f', 1));
        }
    }
    const double row = box.height() / static_cast<double>(lines_.size());
    for (std::size_t l = 0; l < lines_.size(); ++l) {
        const Line& line = lines_[l];
        const double middle = box.top() + row * (static_cast<double>(l) + 0.5);
        painter.setPen(line.colour);
        const bool two = row > 30.0;
        painter.drawText(QRectF(2, middle - (two ? 15 : 8), kNames - 10, 16),
                         Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(line.name, Qt::ElideRight, kNames - 12));
        if (two) {
            painter.setPen(theme().quiet);
            painter.drawText(QRectF(2, middle, kNames - 10, 16), Qt::AlignLeft | Qt::AlignVCenter,
                             line.words);
        }
        painter.setPen(QPen(theme().line, 1.0, Qt::DotLine));
        painter.drawLine(QPointF(box.left(), middle), QPointF(box.right(), middle));
        QPainterPath path;
        for (std::size_t i = 0; i < line.values.size(); ++i) {
            const double part = line.most > 0.0f ? static_cast<double>(line.values[i] / line.most) : 0.0;
            const QPointF p(x(2.0 * static_cast<double>(i) / static_cast<double>(line.values.size() - 1)),
                            middle - part * 0.40 * row);
            i == 0 ? path.moveTo(p) : path.lineTo(p);
        }
        painter.setPen(QPen(line.colour, l + 1 == lines_.size() ? 2.2 : 1.6));
        painter.drawPath(path);
    }
    painter.setPen(QPen(theme().text, 1.2));
    painter.drawLine(QPointF(x(turn_), box.top()), QPointF(x(turn_), box.bottom()));
}

TracePage::TracePage(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      what_(new SegmentedChoice({tr("Voices"), tr("Axes")})),
      whose_(quietLabel()),
      chart_(new TraceChart),
      scroll_(new QScrollArea) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 0);
    column->setSpacing(2);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(8, 0, 8, 0);
    what_->setObjectName("traceOf");
    what_->setToolTips({tr("How far each voice moves the picked vertex"),
                        tr("How far all voices together move it along each axis")});
    what_->show(0);
    what_->setRoomy();
    head->addWidget(what_);
    head->addSpacing(10);
    whose_->setObjectName("traceWhose");
    whose_->setWordWrap(false);
    whose_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred); // long words make no wider window
    head->addWidget(whose_, 1);
    column->addLayout(head);
    scroll_->setWidgetResizable(true);
    scroll_->setFrameShape(QFrame::NoFrame);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll_->setWidget(chart_);
    column->addWidget(scroll_, 1);
    connect(what_, &SegmentedChoice::picked, this, &TracePage::refresh);
    connect(&session_, &Session::scoreChanged, this, &TracePage::refresh);
    connect(&session_, &Session::sourceLoaded, this, &TracePage::refresh);
    connect(&session_, &Session::picked, this, &TracePage::refresh);
    connect(&session_.playhead(), &Playhead::moved, this,
            [this] { chart_->setTurn(session_.playhead().turn()); });
    connect(chart_, &TraceChart::turnPicked, this, [this](double turn) {
        session_.playhead().setPlaying(false);
        session_.playhead().setTurn(turn);
    });
}

void TracePage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

std::vector<TraceChart::Line> TracePage::voiceLines(std::size_t vertex) const {
    const auto performance = session_.performance();
    const motion::Score& score = session_.document().score;
    const std::vector<double> turns = twoLoops();
    std::vector<TraceChart::Line> lines;
    for (std::size_t i = 0; i < score.voices.size(); ++i) {
        const motion::Voice& voice = score.voices[i];
        if (!motion::isHeard(score, voice)) {
            continue;
        }
        const auto& nodes = performance->composition().voices[i];
        if (!motion::rowOf(voice.push).moves()) {
            TraceChart::Line line = lineOf(text(voice.name), voiceColour(i),
                                           performance->traceNumber(vertex, turns, {}, nodes.shape));
            line.words = tr("shape of the wave");
            lines.push_back(std::move(line));
            continue;
        }
        // Along the way that it moves this vertex most: a sign that stays the same.
        const std::vector<glm::vec3> ways = performance->trace(vertex, turns, {}, nodes.push);
        glm::vec3 way(0.0f);
        for (const glm::vec3& each : ways) {
            way = glm::dot(each, each) > glm::dot(way, way) ? each : way;
        }
        const float length = glm::length(way);
        std::vector<float> values;
        for (const glm::vec3& each : ways) {
            values.push_back(length > 0.0f ? glm::dot(each, way) / length : 0.0f);
        }
        lines.push_back(lineOf(text(voice.name), voiceColour(i), std::move(values)));
    }
    return lines;
}

std::vector<TraceChart::Line> TracePage::axisLines(std::size_t vertex) const {
    const auto performance = session_.performance();
    const std::vector<glm::vec3> places =
        performance->trace(vertex, twoLoops(), {}, performance->composition().position);
    const glm::vec3 rest = performance->fields().positions[vertex];
    const std::array<QString, 3> names = {tr("X, sideways"), tr("Y, up and down"), tr("Z, back and forth")};
    const std::array<QColor, 3> colours = {theme().coral, theme().glass, theme().brass};
    std::vector<TraceChart::Line> lines;
    for (int axis = 0; axis < 3; ++axis) {
        std::vector<float> values;
        for (const glm::vec3& place : places) {
            values.push_back(place[axis] - rest[axis]);
        }
        lines.push_back(lineOf(names[static_cast<std::size_t>(axis)], colours[static_cast<std::size_t>(axis)],
                               std::move(values)));
    }
    return lines;
}

std::optional<std::size_t> TracePage::vertexOf(const motion::Performance& performance) {
    const int picked = session_.pickedVertex();
    if (picked >= 0 && static_cast<std::size_t>(picked) < performance.vertexCount()) {
        return static_cast<std::size_t>(picked);
    }
    constexpr std::size_t kMost = 60000; // vertices: a few hundredths of a second
    const std::size_t voices = session_.document().score.voices.size();
    if (performance.vertexCount() > kMost) {
        return std::nullopt;
    }
    // Kept while a voice is dragged: lines that leap to another vertex would show nothing.
    if (furthestOf_ != session_.openedSource() || furthestVoices_ != voices) {
        furthestOf_ = session_.openedSource();
        furthestVoices_ = voices;
        furthest_ = motion::furthestVertex(performance);
    }
    return furthest_;
}

void TracePage::refresh() {
    if (!isVisible()) {
        return;
    }
    const auto performance = session_.performance();
    const auto of = performance ? vertexOf(*performance) : std::nullopt;
    if (!of) {
        whose_->clear();
        chart_->setLines(
            {}, performance
                    ? tr("Click a vertex of the model to see its motion over two loops here.")
                    : tr("The motion of a vertex over two loops is drawn here, once there are voices."));
        return;
    }
    const std::size_t vertex = *of;
    const QString number = text(base::countText(vertex));
    whose_->setText(session_.pickedVertex() >= 0
                        ? tr("Vertex %1").arg(number)
                        : tr("Vertex %1 moves furthest; click another one on the model.").arg(number));
    chart_->setLines(what_->chosen() == 1 ? axisLines(vertex) : voiceLines(vertex), {});
    chart_->setTurn(session_.playhead().turn());
}

} // namespace ripple::app
