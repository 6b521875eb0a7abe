#pragma once

#include "app/session/session.h"

#include <QButtonGroup>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <QWidget>

#include <functional>
#include <memory>
#include <vector>

namespace ripple::app {

/// Starts an action of the window by its id, as "open-source".
using Trigger = std::function<void(const QString& id)>;

/// One bench: a panel beside the stage and a strip below it. It shows the session and edits it; it knows no
/// other bench.
class Bench : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    virtual QWidget* panel() = 0; ///< the window takes it over
    virtual QWidget* strip() = 0; ///< the window takes it over
    /// After a change of theme.
    virtual void restyle() {}
    /// Brings a page of the strip to the front.
    virtual void showStrip(int) {}
};

/// All five, in the order of work. To add one, write a folder for it, a row in makeBenches() and one in
/// kBenches.
std::vector<std::unique_ptr<Bench>> makeBenches(Session& session, const Trigger& trigger);

/// A strip with tabs.
class StripTabs : public QWidget {
    Q_OBJECT
public:
    explicit StripTabs(QWidget* parent = nullptr);
    void add(const QString& name, QWidget* page);
    void show(int index);

private:
    QHBoxLayout* names_;
    QStackedWidget* pages_;
    QButtonGroup group_;
};

/// A panel's scrolling column.
class PanelColumn : public QWidget {
    Q_OBJECT
public:
    explicit PanelColumn(const QString& heading, QWidget* parent = nullptr);
    QVBoxLayout* column() const { return column_; }
    /// A part below the column that is always seen.
    QVBoxLayout* foot();

private:
    QVBoxLayout* column_;
    QVBoxLayout* foot_ = nullptr;
};

} // namespace ripple::app
