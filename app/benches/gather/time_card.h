#pragma once

#include "app/look/number_field.h"
#include "app/session/session.h"
#include "app/look/tick_box.h"

#include <QLabel>
#include <QWidget>

namespace ripple::app {

/// The source's own time: rate and range of a sequence, speed, direction, and what the seconds come to.
class TimeCard : public QWidget {
    Q_OBJECT
public:
    explicit TimeCard(Session& session, QWidget* parent = nullptr);

private:
    void refresh();
    void change(const QString& what, const std::function<void(source::TimeChoice&)>& how, bool continuing);

    Session& session_;
    NumberField* rate_;
    NumberField* first_;
    NumberField* last_;
    NumberField* speed_;
    TickBox* reversed_;
    QWidget* rateRow_;
    QWidget* rangeRow_;
    QLabel* seconds_;
    std::size_t storedFrames_ = 0; ///< of the sequence, range or not
};

} // namespace ripple::app
