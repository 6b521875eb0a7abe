#include "app/benches/ship/target_part.h"

#include "app/benches/ship/target_dialog.h"
#include "app/look/panel_parts.h"
#include "app/session/words.h"

#include <QPushButton>

#include <algorithm>

namespace ripple::app {

TargetPart::TargetPart(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      title_(new QLabel),
      drawing_(new AxesDrawing),
      page_(new SegmentedChoice({tr("no page"), tr("beside"), tr("all inside")})) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    column->addWidget(sectionLabel(tr("Target")));
    auto* row = new QHBoxLayout;
    title_->setObjectName("targetTitle");
    title_->setWordWrap(true);
    auto* change = new QPushButton(tr("Change…"));
    change->setObjectName("changeTarget");
    change->setToolTip(tr("The axes, the unit and the UVs of the engine that it is written for"));
    row->addWidget(title_, 1);
    row->addWidget(change, 0, Qt::AlignTop);
    column->addLayout(row);
    column->addWidget(drawing_);
    page_->setObjectName("shipPage");
    page_->setRoomy();
    page_->setToolTips({tr("Nothing that a browser opens"),
                        tr("A page that plays the bundle in a browser; it reads the files beside it"),
                        tr("A page that holds all files, to be mailed")});
    column->addWidget(labelledRow(tr("Page"), page_));
    connect(change, &QPushButton::clicked, this, [this] { choose(); });
    connect(page_, &SegmentedChoice::picked, this, [this](int index) {
        session_.edit(tr("Choose the page"),
                      [index](project::Document& d) { d.ship.page = static_cast<bundle::Page>(index); });
    });
    refresh();
}

void TargetPart::refresh() {
    const bundle::Target& target = session_.document().ship.target;
    title_->setText(text(bundle::titleOf(target)));
    title_->setToolTip(plainTip(text(bundle::words(target))));
    drawing_->setTarget(target);
    page_->show(static_cast<int>(session_.document().ship.page));
}

void TargetPart::choose() {
    const project::Document& document = session_.document();
    TargetDialog dialog(document.ship.target, document.targets, window());
    if (dialog.exec() != QDialog::Accepted) {
        return;
    }
    const bundle::Target chosen = dialog.target();
    const auto& ready = bundle::readyTargets();
    const bool known = std::find(ready.begin(), ready.end(), chosen) != ready.end();
    session_.edit(tr("Choose a target"), [&](project::Document& d) {
        d.ship.target = chosen;
        if (!known && std::find(d.targets.begin(), d.targets.end(), chosen) == d.targets.end()) {
            // One of the same name becomes this one.
            std::erase_if(d.targets, [&](const bundle::Target& own) {
                return bundle::titleOf(own) == bundle::titleOf(chosen);
            });
            d.targets.push_back(chosen);
        }
    });
}

} // namespace ripple::app
