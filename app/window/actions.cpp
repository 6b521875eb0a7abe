#include "app/window/actions.h"

#include <QMenu>
#include <QMenuBar>

namespace ripple::app {

void ActionTable::build(QWidget* owner, std::vector<ActionRow> rows) {
    rows_ = std::move(rows);
    for (const ActionRow& row : rows_) {
        auto* action = new QAction(row.text, owner);
        action->setObjectName(row.id);
        if (!row.shortcut.isEmpty()) {
            action->setShortcut(QKeySequence(row.shortcut));
        }
        action->setCheckable(static_cast<bool>(row.checked));
        QObject::connect(action, &QAction::triggered, owner, [this, act = row.act] {
            act();
            refresh();
        });
        owner->addAction(action);
        actions_.insert(row.id, action);
    }
    refresh();
}

void ActionTable::fill(QMenuBar* bar) {
    QHash<QString, QMenu*> menus;
    for (const ActionRow& row : rows_) {
        QMenu*& menu = menus[row.menu];
        if (!menu) {
            menu = bar->addMenu(row.menu);
            menu->setObjectName("menu" + row.menu);
            QObject::connect(menu, &QMenu::aboutToShow, bar, [this] { refresh(); });
        }
        if (row.separatorBefore) {
            menu->addSeparator();
        }
        menu->addAction(actions_[row.id]);
    }
}

void ActionTable::trigger(const QString& id) {
    if (QAction* action = actions_.value(id)) {
        action->trigger();
    }
}

void ActionTable::refresh() {
    for (const ActionRow& row : rows_) {
        QAction* action = actions_[row.id];
        if (row.enabled) {
            action->setEnabled(row.enabled());
        }
        if (row.checked) {
            action->setChecked(row.checked());
        }
    }
}

} // namespace ripple::app
