#include "app/look/segmented_choice.h"

#include <QHBoxLayout>
#include <QPushButton>

namespace ripple::app {

SegmentedChoice::SegmentedChoice(const QStringList& labels, QWidget* parent) : QWidget(parent) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    for (int i = 0; i < labels.size(); ++i) {
        auto* button = new QPushButton(labels[i]);
        button->setCheckable(true);
        button->setProperty("role", "segment");
        button->setProperty("place", i == 0 ? "first" : i + 1 == labels.size() ? "last" : "middle");
        button->setObjectName(labels[i]);
        button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        group_.addButton(button, i);
        constexpr int kRoom = 16; // beside each word, of the width of all
        row->addWidget(button, fontMetrics().horizontalAdvance(labels[i]) + kRoom);
    }
    connect(&group_, &QButtonGroup::idClicked, this, &SegmentedChoice::picked);
}

void SegmentedChoice::show(int index) {
    if (auto* button = group_.button(index)) {
        button->setChecked(true);
    }
}

void SegmentedChoice::setToolTips(const QStringList& tips) {
    for (int i = 0; i < tips.size(); ++i) {
        if (auto* button = group_.button(i)) {
            button->setToolTip(tips[i]);
        }
    }
}

void SegmentedChoice::setRoomy() {
    for (QAbstractButton* button : group_.buttons()) {
        button->setMinimumWidth(button->fontMetrics().horizontalAdvance(button->text()) + 26);
        button->setMaximumHeight(30);
    }
}

} // namespace ripple::app
