// What is painted over the copies: rings of the levels of detail, the wind, figures.

#include "app/stage/stage.h"

#include "app/look/crowd_tones.h"
#include "app/look/theme.h"
#include "app/session/score_edits.h"
#include "app/session/words.h"
#include "base/units.h"
#include "motion/wind.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::app {

namespace {

constexpr float kTau = 6.2831853f;
constexpr double kArrowGrip = 16.0; ///< pixels about the arrow's head that take hold of it

} // namespace

std::optional<glm::vec3> Stage::windWay() const {
    const auto state = session_.crowd().state();
    if (!state || !state->score || !state->asset.score) {
        return std::nullopt;
    }
    return motion::windWay(*state->asset.score);
}

float Stage::groundAt(const glm::vec3& place) const {
    const auto state = session_.crowd().state();
    const auto spot = state ? state->placed.ground->below({place.x, place.z}) : std::nullopt;
    return spot ? spot->position.y : 0.0f;
}

std::array<glm::vec3, 2> Stage::windArrow() const {
    const glm::vec3 way = windWay().value_or(glm::vec3(0.0f));
    const glm::vec3 size = session_.document().scatter.placement.size;
    const float length = 0.22f * std::max(size.x, size.z);
    const glm::vec3 from = -(0.5f * std::max(size.x, size.z) + 0.4f * length) * way;
    const auto high = [&](const glm::vec3& p) { return p + glm::vec3(0.0f, groundAt(p), 0.0f); };
    return {high(from), high(from + length * way)};
}

bool Stage::overWind(const QPointF& at) const {
    if (!showsCrowd() || !windWay()) {
        return false;
    }
    bool inFront = false;
    const QPointF head = project(windArrow()[1], &inFront);
    return inFront && std::hypot(head.x() - at.x(), head.y() - at.y()) < kArrowGrip;
}

void Stage::dragWind(const QPointF& at) {
    const Ray ray = sight(at);
    const auto way = windWay();
    if (!way || ray.way.y > -1e-4f) {
        return;
    }
    // The head's place on the ground, as seen from the middle: it blows from there, so the arrow lies before
    // it and points at the middle.
    const glm::vec3 to = ray.from - ray.from.y / ray.way.y * ray.way;
    const double before = std::atan2(static_cast<double>(way->x), static_cast<double>(way->z));
    const double now = std::atan2(-static_cast<double>(to.x), -static_cast<double>(to.z));
    turnWind(session_, (now - before) * 180.0 / 3.14159265358979, handleGesture_);
}

void Stage::paintOnGround(QPainter& painter, const std::vector<glm::vec3>& line) {
    QPainterPath path;
    bool down = false;
    for (const glm::vec3& point : line) {
        bool inFront = false;
        const QPointF at = project(point, &inFront);
        if (!inFront || std::abs(at.x()) > 1e5 || std::abs(at.y()) > 1e5) {
            down = false;
            continue;
        }
        down ? path.lineTo(at) : path.moveTo(at);
        down = true;
    }
    painter.drawPath(path);
}

void Stage::paintLevels(QPainter& painter) {
    const auto state = session_.crowd().state();
    const CrowdView crowd = crowdView();
    std::vector<float> rings = crowd.levelsFrom;
    if (crowd.hiddenFrom > 0.0f) {
        rings.push_back(crowd.hiddenFrom);
    }
    const glm::vec3 eye = camera_.eye();
    const std::size_t whole = session_.source()->mesh().triangleCount();
    const QColor tones[] = {theme().glass, theme().brass, theme().coral, theme().quiet};
    painter.setFont(textFont(11.5));
    TakenPlaces places;
    for (std::size_t k = 0; k < rings.size(); ++k) {
        const glm::vec3 area = state->choices.placement.size;
        const float seen = camera_.distance() + 1.5f * std::hypot(area.x, area.z);
        if (rings[k] <= std::abs(eye.y) || rings[k] > seen) {
            continue; // all copies are further, or nearer
        }
        const float radius = std::sqrt(rings[k] * rings[k] - eye.y * eye.y);
        std::vector<glm::vec3> circle;
        constexpr int kSteps = 180;
        for (int i = 0; i <= kSteps; ++i) {
            const float angle = kTau * static_cast<float>(i) / kSteps;
            circle.push_back({eye.x + radius * std::sin(angle), 0.0f, eye.z + radius * std::cos(angle)});
        }
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(tones[std::min<std::size_t>(k, 3)], 1.4));
        paintOnGround(painter, circle);
        const QString away = text(base::lengthText(static_cast<double>(rings[k])));
        const bool hides = crowd.hiddenFrom > 0.0f && k + 1 == rings.size();
        QString words;
        if (hides) {
            words = tr("hidden from %1 on").arg(away);
        } else {
            const std::size_t share =
                (100 * state->measured.levels[k].count() + whole / 2) / std::max<std::size_t>(whole, 1);
            words = tr("%1 % of the triangles from %2 on").arg(share).arg(away);
        }
        const glm::vec3 ahead = camera_.target() - eye;
        const glm::vec3 way = glm::normalize(glm::vec3(ahead.x, 0.0f, ahead.z));
        bool inFront = false;
        const QPointF at = project(glm::vec3(eye.x, 0.0f, eye.z) + radius * way, &inFront);
        const double wide = QFontMetricsF(painter.font()).horizontalAdvance(words) + 16;
        const auto box = [&](double up) { return QRectF(at.x() - wide / 2, at.y() - 11 - up, wide, 20); };
        if (inFront && rect().contains(at.toPoint())) {
            if (const auto free = places.takeFirstFree({box(0), box(22), box(-22), box(44)})) {
                paintChip(painter, *free, words);
            }
        }
    }
}

void Stage::paintWind(QPainter& painter) {
    const auto way = windWay();
    if (!way) {
        return;
    }
    const auto [from, to] = windArrow();
    const glm::vec3 side(way->z, 0.0f, -way->x);
    const float length = glm::distance(from, to);
    QPolygonF shape;
    for (const glm::vec3& p :
         {from + 0.10f * length * side, to - 0.36f * length * *way + 0.10f * length * side,
          to - 0.36f * length * *way + 0.26f * length * side, to,
          to - 0.36f * length * *way - 0.26f * length * side,
          to - 0.36f * length * *way - 0.10f * length * side, from - 0.10f * length * side}) {
        bool inFront = false;
        shape << project(p, &inFront);
        if (!inFront) {
            return;
        }
    }
    painter.setPen(QPen(theme().deep, 1.0));
    painter.setBrush(drag_ == Drag::wind ? theme().text : theme().coral);
    painter.drawPolygon(shape);
    painter.setFont(textFont(11.5));
    const QPointF at = project(from);
    const QString words = tr("wind");
    paintChip(painter, QRectF(at.x() - 22, at.y() + 8, 44, 18), words);
    // Gust fronts: where the phase that copies take from their place begins anew.
    const auto gusts = motion::gustOf(*session_.crowd().state()->asset.score);
    if (!gusts) {
        return;
    }
    const glm::vec3 half = 0.5f * session_.document().scatter.placement.size;
    const float reach = std::hypot(half.x, half.z);
    const double turn =
        gusts->turns * session_.crowd().seconds() / session_.crowd().state()->asset.loopSeconds +
        gusts->phase;
    const auto offset = static_cast<float>((turn - std::floor(turn)) * gusts->wavelength);
    const auto wavelength = static_cast<float>(gusts->wavelength);
    QColor tone = theme().text;
    tone.setAlphaF(0.55f);
    painter.setPen(QPen(tone, 1.6, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    constexpr float kMostFronts = 40.0f;
    if (reach / wavelength > kMostFronts) {
        return; // closer than could be told apart
    }
    for (float at2 = offset - std::ceil(reach / wavelength + 1.0f) * wavelength; at2 < reach;
         at2 += wavelength) {
        std::vector<glm::vec3> line;
        for (int i = -24; i <= 24; ++i) {
            const glm::vec3 p = gusts->way * at2 + glm::vec3(gusts->way.z, 0.0f, -gusts->way.x) *
                                                       (reach * static_cast<float>(i) / 24.0f);
            if (std::abs(p.x) <= half.x && std::abs(p.z) <= half.z) {
                line.push_back({p.x, groundAt(p), p.z});
            } else if (!line.empty()) {
                break;
            }
        }
        paintOnGround(painter, line);
    }
}

void Stage::paintCrowd(QPainter& painter) {
    const auto state = session_.crowd().state();
    paintLevels(painter);
    paintWind(painter);
    const std::size_t count = state->placed.copies.size();
    QString words = counted(tr("%n copies", nullptr, static_cast<int>(count)), count) + " · " +
                    tr("%1 triangles in view").arg(text(base::countText(renderer_.trianglesSeen())));
    const std::size_t all = renderer_.copiesSeen() * session_.source()->mesh().triangleCount();
    if (!state->measured.levels.empty() && all > 0 && !state->choices.merged) {
        const double saved =
            100.0 - 100.0 * static_cast<double>(renderer_.trianglesSeen()) / static_cast<double>(all);
        words += " · " + tr("levels of detail save %1 %").arg(saved, 0, 'f', 0);
    }
    painter.setFont(textFont(11.5));
    painter.setPen(theme().quiet);
    painter.drawText(QRectF(16, 10, width() - 430.0, 18), Qt::AlignLeft | Qt::AlignVCenter, words);
    painter.drawText(QRectF(16, 28, 120, 18), Qt::AlignLeft | Qt::AlignVCenter, tr("Grid: %1").arg("1 m"));
    if (state->choices.merged) {
        const QString merged =
            state->mergeLoss
                ? tr("merged into one mesh, max error %1").arg(text(base::lengthText(*state->mergeLoss)))
                : tr("merged into one mesh");
        painter.drawText(QRectF(16, 46, width() - 430.0, 18), Qt::AlignLeft | Qt::AlignVCenter, merged);
    }
    paintClipLegend(painter);
}

void Stage::paintClipLegend(QPainter& painter) {
    const auto state = session_.crowd().state();
    const std::string look = lookOf(session_.document().view).id;
    QStringList words;
    std::vector<QColor> tones;
    if (look == "by-clip") {
        for (std::size_t c = 0; c < state->asset.clips.size() && !state->score; ++c) {
            words << text(state->asset.clips[c].name);
            tones.push_back(clipTone(c));
        }
    } else if (look == "phase") {
        words << tr("start of the loop") << tr("end of the loop");
        tones = {phaseTone(0.0f), phaseTone(1.0f)};
    } else if (look == "levels") {
        for (std::size_t k = 0; k <= state->measured.levels.size(); ++k) {
            words << (k == 0 ? tr("all triangles") : tr("level %1").arg(k));
            tones.push_back(levelTone(k));
        }
    }
    painter.setFont(textFont(11.5));
    const QFontMetricsF metrics(painter.font());
    double x = 70.0;
    for (int i = 0; i < words.size(); ++i) {
        const double wide = metrics.horizontalAdvance(words[i]) + 34;
        const QRectF box(x, height() - 34.0, wide, 22);
        paintChip(painter, box, {});
        painter.setPen(Qt::NoPen);
        painter.setBrush(tones[static_cast<std::size_t>(i)]);
        painter.drawEllipse(QPointF(box.left() + 13, box.center().y()), 5, 5);
        painter.setPen(theme().text);
        painter.drawText(box.adjusted(24, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, words[i]);
        x += wide + 6;
    }
}

} // namespace ripple::app
