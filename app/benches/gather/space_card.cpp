#include "app/benches/gather/space_card.h"

#include "app/look/panel_parts.h"
#include "app/look/theme.h"
#include "app/session/words.h"
#include "base/units.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <array>
#include <cmath>

namespace ripple::app {

namespace {

constexpr std::array kUnits = {1.0, 0.01, 0.001, 0.0254};
constexpr std::size_t kMostPoints = 1400;

std::vector<glm::vec3> somePoints(const mesh::Mesh& mesh) {
    std::vector<glm::vec3> points;
    const std::size_t step = std::max<std::size_t>(1, mesh.vertexCount() / kMostPoints);
    for (std::size_t v = 0; v < mesh.vertexCount(); v += step) {
        points.push_back(mesh.positions[v]);
    }
    return points;
}

/// The horizontal axis along which a model is seen at its widest.
int widestSide(const mesh::Bounds& bounds) {
    return bounds.size().x >= bounds.size().z ? 0 : 2;
}

/// A standing figure whose feet are at `foot`.
QPainterPath figure(const QPointF& foot, double height) {
    QPainterPath path;
    path.setFillRule(Qt::WindingFill);
    const double h = height;
    path.addEllipse(foot - QPointF(0, 0.92 * h), 0.062 * h, 0.075 * h);
    path.addRoundedRect(QRectF(foot.x() - 0.105 * h, foot.y() - 0.83 * h, 0.21 * h, 0.38 * h), 0.07 * h,
                        0.07 * h);
    path.addRoundedRect(QRectF(foot.x() - 0.085 * h, foot.y() - 0.52 * h, 0.075 * h, 0.52 * h), 0.03 * h,
                        0.03 * h);
    path.addRoundedRect(QRectF(foot.x() + 0.01 * h, foot.y() - 0.52 * h, 0.075 * h, 0.52 * h), 0.03 * h,
                        0.03 * h);
    return path;
}

} // namespace

SizePicture::SizePicture(QWidget* parent) : QWidget(parent) {
    setFixedHeight(104);
    setAccessibleName(tr("The model beside a door of 2 m and a figure of 1.75 m"));
    setToolTip(accessibleName());
}

void SizePicture::setPoints(std::vector<glm::vec3> points) {
    points_ = std::move(points);
    bounds_ = {};
    bounds_.add(points_);
    update();
}

void SizePicture::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().deep);
    painter.drawRoundedRect(rect(), 6, 6);
    if (points_.empty()) {
        return;
    }
    constexpr double kDoor = 2.0;
    constexpr double kFigure = 1.75;
    const glm::vec3 size = bounds_.size();
    const int side = widestSide(bounds_);
    const double ground = height() - 16.0;
    const double modelHigh = std::max(static_cast<double>(size.y), 1e-6);
    const double modelWide = std::max(static_cast<double>(size[side]), 1e-6);
    // Door and figure take 1.9 m of width; the model stands beside them on the ground.
    const double high = (ground - 10.0) / std::max(kDoor, modelHigh);
    const double wide = (width() - 44.0) / (1.9 + modelWide);
    const double scale = std::min(high, wide);
    painter.setPen(QPen(theme().line, 1));
    painter.drawLine(QPointF(8, ground), QPointF(width() - 8, ground));
    const double left = std::max(12.0, (width() - scale * (1.9 + modelWide) - 20.0) / 2);
    painter.setPen(QPen(theme().faint, 1.2));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(left, ground - kDoor * scale, 0.9 * scale, kDoor * scale));
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().faint);
    painter.drawPath(figure({left + 1.3 * scale, ground}, kFigure * scale));
    QColor dots = theme().coral;
    dots.setAlphaF(0.75f);
    painter.setBrush(dots);
    const double x0 = left + 1.9 * scale + 12.0;
    const double radius = std::clamp(0.006 * modelHigh * scale, 0.8, 1.6);
    for (const glm::vec3& p : points_) {
        const QPointF at(x0 + static_cast<double>(p[side] - bounds_.min[side]) * scale,
                         ground - static_cast<double>(p.y - bounds_.min.y) * scale);
        painter.drawEllipse(at, radius, radius);
    }
    painter.setFont(textFont(10.5));
    painter.setPen(theme().quiet);
    painter.drawText(QRectF(left - 20, ground + 1, 0.9 * scale + 40, 14), Qt::AlignCenter, tr("2 m"));
    const bool tiny = modelHigh * scale < 3.0 && modelWide * scale < 3.0;
    if (tiny) {
        painter.setPen(theme().brass);
        painter.drawText(QRectF(x0 + 6, ground - 20, 120, 16), Qt::AlignLeft, tr("← too small to see"));
    } else if (kDoor * scale < 6.0) {
        painter.setPen(theme().brass);
        painter.drawText(QRectF(left + 4, ground - 24, 160, 16), Qt::AlignLeft,
                         tr("↓ the door is this small"));
    }
}

UpPicture::UpPicture(const QString& words, QWidget* parent) : QAbstractButton(parent) {
    setText(words);
    setCheckable(true);
    setAccessibleName(words);
    setFixedSize(sizeHint());
}

void UpPicture::setPoints(std::vector<glm::vec3> points) {
    points_ = std::move(points);
    update();
}

void UpPicture::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(isChecked()  ? theme().coral
                        : hasFocus() ? theme().glass
                                     : theme().line,
                        isChecked() ? 2.0 : 1.0));
    painter.setBrush(theme().deep);
    painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 6, 6);
    mesh::Bounds bounds;
    bounds.add(points_);
    const glm::vec3 size = bounds.size();
    const int side = widestSide(bounds);
    const double most = std::max({static_cast<double>(size[side]), static_cast<double>(size.y), 1e-9});
    const double scale = 40.0 / most;
    const QPointF foot(width() / 2.0, 50.0);
    painter.setPen(QPen(theme().line, 1));
    painter.drawLine(QPointF(12, 51), QPointF(width() - 12.0, 51));
    painter.setPen(Qt::NoPen);
    painter.setBrush(isChecked() ? theme().text : theme().quiet);
    for (const glm::vec3& p : points_) {
        const QPointF at = foot + QPointF(static_cast<double>(p[side] - bounds.centre()[side]) * scale,
                                          -static_cast<double>(p.y - bounds.min.y) * scale);
        painter.drawEllipse(at, 0.8, 0.8);
    }
    painter.setFont(textFont(11.5));
    painter.setPen(isChecked() ? theme().text : theme().quiet);
    painter.drawText(QRectF(0, 54, width(), 17), Qt::AlignCenter, text());
}

SpaceCard::SpaceCard(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      size_(new SizePicture),
      sizes_(quietLabel()),
      units_(new SegmentedChoice({"m", "cm", "mm", "inch"})),
      unit_(new NumberField) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    column->addWidget(sectionLabel(tr("Size and orientation")));
    column->addWidget(size_);
    column->addWidget(sizes_);
    unit_->setObjectName("unit");
    unit_->setRange(1e-6, 1e6);
    unit_->setDecimals(5);
    unit_->setUnit("m");
    unit_->setFixedWidth(96);
    column->addWidget(
        labelledRow(tr("Length of one unit"), unit_, tr("How many metres one unit of the file is")));
    units_->setObjectName("units");
    column->addWidget(units_);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    auto* label = quietLabel(tr("Up axis of the file"));
    row->addWidget(label);
    row->addStretch(1);
    for (const auto& [axis, words] : {std::pair(source::Axis::y, "+Y"), std::pair(source::Axis::z, "+Z")}) {
        auto* picture = new UpPicture(words);
        picture->setObjectName(QString("up %1").arg(source::name(axis)));
        ups_.addButton(picture, static_cast<int>(axis));
        pictures_.push_back(picture);
        row->addWidget(picture);
    }
    column->addLayout(row);
    connect(units_, &SegmentedChoice::picked, this, [this](int i) {
        session_.edit(tr("Unit"), [i](project::Document& d) {
            d.source.reading.metresPerUnit = kUnits[static_cast<std::size_t>(i)];
        });
    });
    connect(unit_, &NumberField::edited, this, [this](double v, bool more) {
        session_.edit(
            tr("Unit"), [v](project::Document& d) { d.source.reading.metresPerUnit = v; },
            session_.gesture(more));
    });
    connect(&ups_, &QButtonGroup::idClicked, this, [this](int axis) {
        session_.edit(tr("Up axis"), [axis](project::Document& d) {
            d.source.reading.up = static_cast<source::Axis>(axis);
        });
    });
    connect(&session_, &Session::sourceLoaded, this, &SpaceCard::refresh);
    refresh();
}

void SpaceCard::refresh() {
    const auto source = session_.source();
    setVisible(source && !session_.document().source.shape);
    if (!source) {
        return;
    }
    const source::Space space = source->space();
    const std::vector<glm::vec3> points = somePoints(source->mesh());
    size_->setPoints(points);
    mesh::Bounds bounds;
    bounds.add(source->mesh().positions);
    const glm::vec3 s = bounds.size();
    const auto metres = [](float v) { return text(base::lengthText(static_cast<double>(v))); };
    const auto units = [&](float v) {
        return text(base::numberText(static_cast<double>(v) / space.metresPerUnit));
    };
    const auto centimetres = [](float v) { return QString::number(static_cast<double>(v) * 100.0, 'f', 1); };
    const QString sizes =
        space.stated ? tr("%1 × %2 × %3 in the rest pose\n%4 × %5 × %6 in centimetres\n%7 × %8 × %9 units in "
                          "the file")
                     : tr("%1 × %2 × %3 in the rest pose\n%4 × %5 × %6 in centimetres\n%7 × %8 × %9 units in "
                          "the file, which does not say of what");
    sizes_->setText(sizes.arg(metres(s.x), metres(s.y), metres(s.z), centimetres(s.x), centimetres(s.y),
                              centimetres(s.z), units(s.x), units(s.y), units(s.z)));
    unit_->setValue(space.metresPerUnit);
    int row = -1;
    for (std::size_t u = 0; u < kUnits.size(); ++u) {
        row = std::abs(space.metresPerUnit - kUnits[u]) < 1e-9 * kUnits[u] ? static_cast<int>(u) : row;
    }
    units_->show(row);
    const glm::mat3 back = glm::transpose(source::toYUp(space.up));
    for (UpPicture* picture : pictures_) {
        const auto axis = static_cast<source::Axis>(ups_.id(picture));
        std::vector<glm::vec3> turned = points;
        for (glm::vec3& p : turned) {
            p = source::toYUp(axis) * back * p;
        }
        picture->setPoints(std::move(turned));
        picture->setChecked(axis == space.up);
    }
}

} // namespace ripple::app
