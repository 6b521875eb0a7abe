#pragma once

#include "app/look/tick_box.h"
#include "app/session/session.h"

#include <QLabel>
#include <QWidget>

#include <vector>

namespace ripple::app {

/// Mistakes at import with what each costs this bake. Those that are ticked are drawn at the curtain's right,
/// while the page is in front.
class RehearsalPage : public QWidget {
    Q_OBJECT
public:
    explicit RehearsalPage(Session& session, QWidget* parent = nullptr);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void tick(std::size_t row, bool on);
    void refresh();
    QString togetherWords() const;

    struct Row {
        TickBox* box = nullptr;
        QLabel* cost = nullptr;
    };

    Session& session_;
    std::vector<Row> rows_; ///< in the order of bundle::faults()
    std::size_t last_ = 0;  ///< whose words are shown
    QLabel* name_;
    QLabel* sign_;
    QLabel* prevention_;
    QLabel* together_;
    QLabel* others_; ///< how many can't happen
};

} // namespace ripple::app
