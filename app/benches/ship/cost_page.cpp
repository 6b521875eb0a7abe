#include "app/benches/ship/cost_page.h"

#include "app/look/panel_parts.h"
#include "app/session/words.h"
#include "base/units.h"
#include "motion/score_steps.h"

#include <QHBoxLayout>

#include <cmath>

namespace ripple::app {

CostPage::CostPage(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      column_(new QVBoxLayout),
      height_(new NumberField) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(14, 2, 4, 4);
    auto* inner = new QWidget;
    auto* innerColumn = new QVBoxLayout(inner);
    innerColumn->setContentsMargins(0, 0, 10, 0);
    innerColumn->setSpacing(3);
    column_->setSpacing(3);
    innerColumn->addLayout(column_);
    innerColumn->addStretch(1);
    height_->setObjectName("pixelsHigh");
    height_->setFixedWidth(92);
    height_->setRange(10, 8000);
    height_->setUnit(tr("pixels"), tr("pixel"));
    height_->setStep(10);
    height_->setDefault(400);
    heightRow_ = labelledRow(tr("Height of the model on the screen"), height_,
                             tr("Seen from the front. It says how many pixels the model covers."));
    outer->addWidget(heightRow_);
    outer->addWidget(scrolled(inner), 1);
    connect(height_, &NumberField::edited, this, [this](double pixels, bool) {
        session_.look([&](project::View& view) { view.pixelsHigh = pixels; });
        refresh();
    });
    refresh();
}

void CostPage::addRow(const QString& name, const QString& fact, const char* role) {
    column_->addWidget(factRow(name, fact, role));
}

void CostPage::addHeading(const QString& words) {
    column_->addWidget(sectionLabel(words));
}

void CostPage::addNote(const QString& words) {
    column_->addWidget(quietLabel(words));
}

void CostPage::refresh() {
    emptyLayout(column_);
    height_->setValue(session_.document().view.pixelsHigh);
    const auto ship = session_.ship();
    heightRow_->setVisible(ship && (ship->cost.uvShift || ship->cost.alpha));
    if (!ship) {
        addNote(tr("What the code takes is shown here once there is something to ship."));
        return;
    }
    const bundle::CodeCost& cost = ship->cost;
    addHeading(tr("Each vertex"));
    addRow(tr("Position and normal"),
           cost.pose.listed == cost.pose.arithmetic
               ? tr("%n instruction(s)", nullptr, cost.pose.listed)
               : tr("%n instruction(s), loops counted: %1", nullptr, cost.pose.listed)
                     .arg(cost.pose.arithmetic));
    for (const auto& [voice, instructions] : cost.voices) {
        addRow(tr("%1 adds").arg(text(voice)), QString::number(instructions));
    }
    if (cost.pose.fetches > 0) {
        addRow(tr("Texels read"), QString::number(cost.pose.fetches));
    }
    addRow(tr("Velocity, where it is called"),
           cost.velocity.fetches > 0 ? tr("%1 more instructions, %2 more texels")
                                           .arg(cost.velocity.arithmetic)
                                           .arg(cost.velocity.fetches)
                                     : tr("%n more instruction(s)", nullptr, cost.velocity.arithmetic));
    addRow(tr("Handed from the vertex to the pixel stage"), tr("%n number(s)", nullptr, cost.handed));
    if (ship->asCode) {
        const bool within = cost.half.all.max <= session_.tolerance();
        addRow(within ? tr("Half precision would lose") : tr("Half precision would lose too much"),
               tr("%1, normals %2")
                   .arg(text(base::lengthText(cost.half.all.max)),
                        text(base::degreesText(cost.half.normalMaxDegrees))),
               within ? "glass" : "brass");
    }
    addStages(cost);
    addTime(cost);
}

void CostPage::addStages(const bundle::CodeCost& cost) {
    if (!cost.uvShift && !cost.alpha) {
        return;
    }
    const double high = session_.document().view.pixelsHigh;
    const double pixels = std::round(cost.coverage * high * high);
    const auto source = session_.source();
    const double vertices = source ? static_cast<double>(source->mesh().vertexCount()) : 0.0;
    addHeading(tr("Each vertex or each pixel: %1 vertices, %2 pixels")
                   .arg(text(base::countText(static_cast<std::size_t>(vertices))),
                        text(base::countText(static_cast<std::size_t>(pixels)))));
    if (cost.uvShift) {
        addStage(tr("Texture shift"), *cost.uvShift,
                 tr("%1 % of the UV range").arg(100.0 * cost.lost.uv, 0, 'g', 2), pixels);
    }
    if (cost.alpha) {
        addStage(tr("Cut-out"), *cost.alpha, tr("%1 % of alpha").arg(100.0 * cost.lost.alpha, 0, 'g', 2),
                 pixels);
    }
    addNote(tr("The look “Per vertex” shows on the model where working at the vertices loses most."));
}

void CostPage::addStage(const QString& name, const emit::EitherStage& stage, const QString& loss,
                        double pixels) {
    const auto source = session_.source();
    const double vertices = source ? static_cast<double>(source->mesh().vertexCount()) : 0.0;
    const auto total = [&](double times) {
        return text(base::countText(static_cast<std::size_t>(times * stage.cost.arithmetic)));
    };
    addRow(tr("%1, at the vertices").arg(name),
           tr("%1 instructions a picture, hands on %n more number(s)", nullptr, stage.handedBefore)
               .arg(total(vertices)));
    addRow(tr("%1, its largest error there").arg(name), loss);
    addRow(tr("%1, at the pixels").arg(name),
           tr("%1 instructions a picture, hands on %n more number(s)", nullptr, stage.handedInputs)
               .arg(total(pixels)));
}

void CostPage::addTime(const bundle::CodeCost& cost) {
    if (cost.time.empty()) {
        return;
    }
    addHeading(tr("What seconds in 32-bit floats lose"));
    for (const motion::TimeLoss& loss : cost.time) {
        addRow(tr("After %n hour(s)", nullptr, static_cast<int>(loss.hours)),
               tr("%1 turns, %2").arg(text(motion::figure(loss.turns)), text(base::lengthText(loss.metres))),
               loss.isEnough() ? "glass" : "brass");
    }
    addNote(
        cost.time.back().isEnough()
            ? tr("Less than 0.1 mm after 100 hours: seconds may be handed over as they are.")
            : tr("Keep seconds in double precision and wrap them to the loop's length before they are handed "
                 "over: then nothing is lost."));
}

} // namespace ripple::app
