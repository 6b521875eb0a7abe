#pragma once

#include "app/benches/bake/transition_line.h"
#include "app/look/number_field.h"
#include "app/look/segmented_choice.h"
#include "app/session/session.h"

#include <QComboBox>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace ripple::app {

/// The strip's page of states: what each clip does at its end and at which speeds it is played, and how long
/// the fade from one to another takes, played by the shipped code.
class StatesPage : public QWidget {
    Q_OBJECT
public:
    explicit StatesPage(Session& session, QWidget* parent = nullptr);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void buildTransition(QVBoxLayout* column);
    void refresh();
    void refreshStates();
    void refreshTransition();
    void addState(std::size_t clip);
    void editClip(const QString& what, const std::string& name,
                  const std::function<void(bake::ClipChoice&)>& change, bool continuing = false);
    void setLength(double seconds, bool continuing);

    Session& session_;
    QVBoxLayout* states_;
    QComboBox* from_;
    QComboBox* to_;
    NumberField* length_;
    QPushButton* play_;
    TransitionLine* line_;
};

} // namespace ripple::app
