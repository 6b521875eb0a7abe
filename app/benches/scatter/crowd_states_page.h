#pragma once

#include "app/session/session.h"

#include <QWidget>

namespace ripple::app {

/// Clip, fade and speed of some copies over the last seconds.
class CrowdStatesPage : public QWidget {
    Q_OBJECT
public:
    explicit CrowdStatesPage(Session& session, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void describe();

    Session& session_;
};

} // namespace ripple::app
