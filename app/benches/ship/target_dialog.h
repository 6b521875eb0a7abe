#pragma once

#include "app/charts/axes_drawing.h"
#include "app/look/number_field.h"
#include "app/look/segmented_choice.h"
#include "app/look/tick_box.h"
#include "bundle/target.h"

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>

#include <array>
#include <vector>

class QVBoxLayout;

namespace ripple::app {

/// Chooses a target among the ready ones and a project's own, changes it, finds it by the axis probe, and
/// reads and writes its file.
class TargetDialog : public QDialog {
    Q_OBJECT
public:
    TargetDialog(const bundle::Target& chosen, const std::vector<bundle::Target>& own,
                 QWidget* parent = nullptr);

    const bundle::Target& target() const { return draft_; }

    /// What the buttons do once a person has named a place; false, and words in the dialog, if that fails.
    bool openFile(const QString& file);
    bool saveFile(const QString& file);
    bool writeProbe(const QString& folder);

private:
    QWidget* buildList();
    void buildAxes(QVBoxLayout* column);
    void buildTicks(QVBoxLayout* column);
    QWidget* buildButtons();
    void take(const bundle::Target& target);
    void change();  ///< the fields say what the draft is
    void refresh(); ///< the draft says what the fields show
    void pointArrow(int axis, int way);
    bool attempt(const std::function<QString()>& action);

    std::vector<bundle::Target> all_;
    bundle::Target draft_;
    QListWidget* list_;
    QLineEdit* name_;
    AxesDrawing* drawing_;
    QLabel* words_;
    std::array<QComboBox*, 3> arrows_{}; ///< where glTF's axes point
    NumberField* length_;                ///< of a metre, in the target's units
    TickBox* vFromBelow_;
    TickBox* rowsFromBelow_;
    TickBox* fromOne_;
    TickBox* clockwise_;
    TickBox* halfUvs_;
    QComboBox* width_;
    TickBox* exr_;
    TickBox* png_;
    std::array<TickBox*, 3> languages_{};
    SegmentedChoice* clock_;
    QLabel* said_;
};

} // namespace ripple::app
