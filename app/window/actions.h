#pragma once

#include <QAction>
#include <QHash>
#include <QString>

#include <functional>
#include <vector>

class QMenuBar;
class QWidget;

namespace ripple::app {

/// One thing a person can ask for. Menus, shortcuts and the sheet of shortcuts are made from the table of
/// these.
struct ActionRow {
    QString id;
    QString menu; ///< "Project", "Edit", "Look", "Time", "Help"
    QString text;
    QString shortcut; ///< empty: none
    std::function<void()> act;
    std::function<bool()> enabled = {}; ///< none: always
    std::function<bool()> checked = {}; ///< none: nothing to check
    bool separatorBefore = false;
};

class ActionTable {
public:
    /// Makes the actions on `owner`, so that their shortcuts work in its window.
    void build(QWidget* owner, std::vector<ActionRow> rows);
    /// Fills menus in the order in which they first appear in the table.
    void fill(QMenuBar* bar);
    void trigger(const QString& id);
    QAction* action(const QString& id) const { return actions_.value(id); }
    const std::vector<ActionRow>& rows() const { return rows_; }
    /// Asks every row whether it is enabled and checked.
    void refresh();

private:
    std::vector<ActionRow> rows_;
    QHash<QString, QAction*> actions_;
};

} // namespace ripple::app
