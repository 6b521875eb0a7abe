#pragma once

#include "app/session/session.h"
#include "motion/parameter.h"

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include <vector>

namespace ripple::app {

class NumberField;
class ParameterDot;
class ValueSlider;

/// The score's parameters: a slider for each, its name in code, its range and a line of help; first what all
/// voices follow, whether it is a parameter or not.
class ParametersPage : public QWidget {
    Q_OBJECT
public:
    explicit ParametersPage(Session& session, QWidget* parent = nullptr);
    void restyle();

protected:
    void showEvent(QShowEvent* event) override;

private:
    /// A number and, if it is one, its parameter.
    struct Shown {
        motion::Adjustable number;
        const motion::Parameter* parameter = nullptr;
    };
    struct Row {
        ParameterDot* dot = nullptr;
        QLineEdit* name = nullptr;
        ValueSlider* slider = nullptr;
        NumberField* value = nullptr;
        NumberField* least = nullptr;
        NumberField* most = nullptr;
        QPushButton* up = nullptr;
        std::string parameter; ///< its name, if it is one
    };

    void refresh();
    std::vector<Shown> shown() const;
    void showHelp();
    void build(const std::vector<Shown>& all);
    QWidget* rowFor(const Shown& of, std::size_t index);
    void fill(const Row& row, const Shown& of) const;
    void connectRow(const Row& row, const Shown& of);
    void rename(const Row& row, const Shown& of);
    QString wordsOf(const Shown& of) const;

    Session& session_;
    QLabel* words_;
    QLabel* helpLabel_;
    QLineEdit* help_;
    QWidget* helpRow_ = nullptr;
    std::string helped_; ///< the parameter whose line of help is shown
    QScrollArea* scroll_;
    QVBoxLayout* list_;
    std::vector<Row> rows_;
    QString built_; ///< for which numbers the rows are made
};

} // namespace ripple::app
