#pragma once

#include "app/look/number_field.h"
#include "app/session/session.h"

#include <QVBoxLayout>
#include <QWidget>

namespace ripple::app {

/// What the code takes: instructions, texels, what each voice adds; what may be worked out in either stage,
/// at a height on the screen; and what seconds in floats lose.
class CostPage : public QWidget {
    Q_OBJECT
public:
    explicit CostPage(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void fill();
    void addStages(const bundle::CodeCost& cost);
    void addStage(const QString& name, const emit::EitherStage& stage, const QString& loss, double pixels);
    void addTime(const bundle::CodeCost& cost);
    void addRow(const QString& name, const QString& fact, const char* role = nullptr);
    void addHeading(const QString& words);
    void addNote(const QString& words);

    Session& session_;
    QVBoxLayout* column_;
    NumberField* height_;
    QWidget* heightRow_;
};

} // namespace ripple::app
