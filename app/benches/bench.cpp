#include "app/benches/bench.h"

#include "app/benches/bake/bake_bench.h"
#include "app/benches/gather/gather_bench.h"
#include "app/benches/move/move_bench.h"
#include "app/benches/scatter/scatter_bench.h"
#include "app/benches/ship/ship_bench.h"
#include "app/look/panel_parts.h"

#include <QHBoxLayout>
#include <QPushButton>

namespace ripple::app {

std::vector<std::unique_ptr<Bench>> makeBenches(Session& session, const Trigger& trigger) {
    std::vector<std::unique_ptr<Bench>> benches;
    benches.push_back(std::make_unique<GatherBench>(session, trigger));
    benches.push_back(std::make_unique<BakeBench>(session));
    benches.push_back(std::make_unique<MoveBench>(session));
    benches.push_back(std::make_unique<ScatterBench>(session));
    benches.push_back(std::make_unique<ShipBench>(session, trigger));
    return benches;
}

StripTabs::StripTabs(QWidget* parent) : QWidget(parent), names_(new QHBoxLayout), pages_(new QStackedWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 6, 10, 6);
    column->setSpacing(4);
    names_->setSpacing(16);
    names_->addStretch(1);
    column->addLayout(names_);
    column->addWidget(pages_, 1);
    connect(&group_, &QButtonGroup::idClicked, pages_, &QStackedWidget::setCurrentIndex);
}

void StripTabs::add(const QString& name, QWidget* page) {
    auto* button = new QPushButton(name);
    button->setProperty("role", "tab");
    button->setCheckable(true);
    const int index = pages_->addWidget(page);
    button->setChecked(index == 0);
    group_.addButton(button, index);
    names_->insertWidget(index, button);
}

void StripTabs::show(int index) {
    pages_->setCurrentIndex(index);
    if (auto* button = group_.button(index)) {
        button->setChecked(true);
    }
}

PanelColumn::PanelColumn(const QString& heading, QWidget* parent) : QWidget(parent) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* body = new QWidget;
    body->setObjectName("panelBody");
    column_ = new QVBoxLayout(body);
    column_->setContentsMargins(16, 13, 16, 14);
    column_->setSpacing(7);
    column_->addWidget(headingLabel(heading));
    outer->addWidget(scrolled(body));
}

QVBoxLayout* PanelColumn::foot() {
    if (!foot_) {
        auto* part = new QWidget;
        part->setObjectName("panelFoot");
        part->setAttribute(Qt::WA_StyledBackground);
        foot_ = new QVBoxLayout(part);
        foot_->setContentsMargins(16, 8, 16, 10);
        foot_->setSpacing(5);
        layout()->addWidget(part);
    }
    return foot_;
}

} // namespace ripple::app
