#include "app/benches/gather/shape_card.h"

#include "app/look/panel_parts.h"
#include "app/look/segmented_choice.h"
#include "app/session/words.h"

#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace ripple::app {

ShapeCard::ShapeCard(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      words_(quietLabel()),
      size_(new NumberField),
      across_(new NumberField),
      along_(new NumberField) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    column->addWidget(words_);
    column->addWidget(sectionLabel(tr("Test shape")));
    size_->setObjectName("shapeSize");
    size_->setRange(0.001, 10000.0);
    size_->setDecimals(3);
    size_->setUnit("m");
    size_->setFixedWidth(96);
    column->addWidget(labelledRow(tr("Longest side"), size_));
    across_->setObjectName("shapeAcross");
    along_->setObjectName("shapeAlong");
    for (NumberField* field : {across_, along_}) {
        field->setRange(1, static_cast<double>(mesh::kMostCells));
        field->setFixedWidth(72);
    }
    QWidget* acrossRow = labelledRow(tr("Cells"), across_);
    QWidget* alongRow = labelledRow(tr("Cells"), along_);
    acrossName_ = acrossRow->findChild<QLabel*>();
    alongName_ = alongRow->findChild<QLabel*>();
    column->addWidget(acrossRow);
    column->addWidget(alongRow);
    const auto cells = [](double v) { return static_cast<std::size_t>(std::max(1.0, std::round(v))); };
    connect(size_, &NumberField::edited, this, [this](double v, bool more) {
        change(
            tr("Size"), [v](mesh::TestShape& s) { s.size = v; }, more);
    });
    connect(across_, &NumberField::edited, this, [this, cells](double v, bool more) {
        change(
            tr("Cells"), [v, cells](mesh::TestShape& s) { s.across = cells(v); }, more);
    });
    connect(along_, &NumberField::edited, this, [this, cells](double v, bool more) {
        change(
            tr("Cells"), [v, cells](mesh::TestShape& s) { s.along = cells(v); }, more);
    });
    connect(&session_, &Session::sourceLoaded, this, &ShapeCard::refresh);
    connect(&session_, &Session::documentChanged, this, &ShapeCard::refresh);
    refresh();
}

void ShapeCard::change(const QString& what, const std::function<void(mesh::TestShape&)>& how,
                       bool continuing) {
    session_.edit(
        what,
        [&](project::Document& d) {
            if (d.source.shape) {
                how(*d.source.shape);
            }
        },
        session_.gesture(continuing));
}

void ShapeCard::refresh() {
    const auto& shape = session_.document().source.shape;
    setVisible(shape.has_value());
    if (!shape) {
        return;
    }
    for (const mesh::ShapeKind& kind : mesh::testShapes()) {
        if (shape->kind == kind.id) {
            words_->setText(text(kind.words) + " " +
                            tr("It lies still until voices move it, on the Move bench."));
            acrossName_->setText(tr("Cells %1").arg(kind.across));
            alongName_->setText(tr("Cells %1").arg(kind.along));
            size_->setDefault(kind.usual.size);
            across_->setDefault(static_cast<double>(kind.usual.across));
            along_->setDefault(static_cast<double>(kind.usual.along));
        }
    }
    size_->setValue(shape->size);
    across_->setValue(static_cast<double>(shape->across));
    along_->setValue(static_cast<double>(shape->along));
}

SubdivideRow::SubdivideRow(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    auto* choice = new SegmentedChoice({tr("off"), "× 4", "× 16", "× 64"});
    choice->setObjectName("subdivide");
    column->addWidget(sectionLabel(tr("Subdivision: each triangle becomes")));
    column->addWidget(choice);
    connect(choice, &SegmentedChoice::picked, this, [this](int times) {
        session_.edit(tr("Subdivide"), [times](project::Document& d) {
            d.source.reading.subdivisions = static_cast<std::size_t>(times);
        });
    });
    const auto refresh = [this, choice] {
        setVisible(session_.source() != nullptr);
        choice->show(static_cast<int>(session_.document().source.reading.subdivisions));
    };
    connect(&session_, &Session::sourceLoaded, this, refresh);
    connect(&session_, &Session::documentChanged, this, refresh);
    refresh();
}

} // namespace ripple::app
