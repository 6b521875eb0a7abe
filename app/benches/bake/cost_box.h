#pragma once

#include "app/session/session.h"

#include <QLabel>
#include <QProgressBar>
#include <QPushButton>

namespace ripple::app {

/// What the bake costs and what it loses, with the way to the worst place; progress while it is made.
class CostBox : public QWidget {
    Q_OBJECT
public:
    explicit CostBox(Session& session, QWidget* parent = nullptr);

private:
    void build();
    void buildProgress();
    void refresh();
    void refreshMemory();

    Session& session_;
    QLabel* memory_;
    QLabel* memoryWords_;
    QLabel* error_;
    QLabel* errorWords_;
    QLabel* parts_; ///< of the error
    QLabel* worst_;
    QPushButton* goThere_;
    QLabel* problem_;
    QWidget* busy_;
    QProgressBar* progress_;
};

} // namespace ripple::app
