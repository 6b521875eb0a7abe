#include "app/benches/ship/target_dialog.h"

#include "app/look/panel_parts.h"
#include "app/session/words.h"
#include "base/problem.h"
#include "base/progress.h"
#include "base/units.h"
#include "bundle/axis_probe.h"
#include "emit/dialect.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QPushButton>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

constexpr std::array<const char*, 6> kWays = {"+X", "-X", "+Y", "-Y", "+Z", "-Z"};
constexpr std::array<std::size_t, 4> kWidths = {2048, 4096, 8192, 16384};

int wayNumber(const std::string& letters) {
    return static_cast<int>(std::find(kWays.begin(), kWays.end(), letters) - kWays.begin());
}

QHBoxLayout* side(const std::vector<QWidget*>& widgets) {
    auto* row = new QHBoxLayout;
    row->setSpacing(14);
    for (QWidget* widget : widgets) {
        row->addWidget(widget);
    }
    row->addStretch(1);
    return row;
}

} // namespace

TargetDialog::TargetDialog(const bundle::Target& chosen, const std::vector<bundle::Target>& own,
                           QWidget* parent)
    : QDialog(parent),
      all_(bundle::readyTargets()),
      draft_(chosen),
      list_(new QListWidget),
      name_(new QLineEdit),
      drawing_(new AxesDrawing),
      words_(quietLabel()),
      length_(new NumberField),
      vFromBelow_(new TickBox(tr("V counts from below"))),
      rowsFromBelow_(new TickBox(tr("Image rows count from below"))),
      fromOne_(new TickBox(tr("UV sets count from 1"))),
      clockwise_(new TickBox(tr("Front faces are clockwise"))),
      halfUvs_(new TickBox(tr("UVs are half floats"))),
      width_(new QComboBox),
      exr_(new TickBox("EXR")),
      png_(new TickBox("PNG")),
      clock_(new SegmentedChoice({tr("by seconds"), tr("by turn")})),
      said_(quietLabel()) {
    setWindowTitle(tr("Target"));
    setObjectName("targetDialog");
    all_.insert(all_.end(), own.begin(), own.end());
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(20, 16, 20, 16);
    outer->setSpacing(12);
    auto* sides = new QHBoxLayout;
    sides->setSpacing(20);
    sides->addWidget(buildList());
    auto* column = new QVBoxLayout;
    column->setSpacing(7);
    drawing_->setMinimumWidth(360);
    column->addWidget(drawing_);
    words_->setObjectName("targetWords");
    column->addWidget(words_);
    name_->setObjectName("targetName");
    column->addWidget(labelledRow(tr("Name"), name_));
    buildAxes(column);
    buildTicks(column);
    column->addStretch(1);
    sides->addLayout(column, 1);
    outer->addLayout(sides, 1);
    said_->setObjectName("targetSaid");
    said_->setWordWrap(true);
    said_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    said_->setMinimumHeight(3 * said_->fontMetrics().lineSpacing() + 4); // it says up to three lines
    outer->addWidget(said_);
    outer->addWidget(buildButtons());
    refresh();
}

QWidget* TargetDialog::buildList() {
    list_->setObjectName("targets");
    list_->setAccessibleName(tr("Ready targets and own ones"));
    list_->setMinimumWidth(290);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    for (const bundle::Target& target : all_) {
        list_->addItem(text(bundle::titleOf(target)));
        list_->item(list_->count() - 1)->setToolTip(plainTip(text(bundle::words(target))));
    }
    connect(list_, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row >= 0) {
            take(all_[static_cast<std::size_t>(row)]);
        }
    });
    list_->setSpacing(3);
    list_->setMaximumHeight(260);
    auto* side = new QWidget;
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(12);
    column->addWidget(list_);
    auto* probe = quietLabel(
        tr("To find the target of an engine: write the axis probe and import it as any mesh. It is three "
           "arrows of one metre with letters. Say at the right where they point, and how long one is."));
    probe->setMaximumWidth(290);
    column->addWidget(probe);
    column->addStretch(1);
    return side;
}

void TargetDialog::buildAxes(QVBoxLayout* column) {
    column->addWidget(sectionLabel(tr("Where glTF's axes point in the engine")));
    std::vector<QWidget*> row;
    for (int axis = 0; axis < 3; ++axis) {
        auto* ways = new QComboBox;
        for (const char* way : kWays) {
            ways->addItem(way);
        }
        ways->setObjectName(QString("arrow%1").arg(QChar("XYZ"[axis])));
        ways->setAccessibleName(tr("Where the arrow %1 points").arg(QChar("XYZ"[axis])));
        connect(ways, &QComboBox::activated, this, [this, axis](int way) { pointArrow(axis, way); });
        arrows_[static_cast<std::size_t>(axis)] = ways;
        row.push_back(new QLabel(QString(QChar("XYZ"[axis]))));
        row.push_back(ways);
    }
    column->addLayout(side(row));
    length_->setObjectName("metreLength");
    length_->setRange(1e-6, 1e6);
    length_->setDecimals(4);
    length_->setFixedWidth(110);
    length_->setToolTip(tr("How long an arrow of the axis probe is in the engine, in its own units"));
    connect(length_, &NumberField::edited, this, [this] { change(); });
    column->addWidget(labelledRow(tr("One metre, in its units"), length_));
}

void TargetDialog::buildTicks(QVBoxLayout* column) {
    column->addWidget(sectionLabel(tr("What its importer makes")));
    rowsFromBelow_->setToolTip(tr("Row 0 of an image is its lowest"));
    vFromBelow_->setToolTip(tr("The importer turns V into 1 − V"));
    column->addLayout(side({vFromBelow_, rowsFromBelow_}));
    column->addLayout(side({clockwise_, fromOne_}));
    halfUvs_->setObjectName("targetHalfUvs");
    vFromBelow_->setObjectName("vFromBelow");
    column->addLayout(side({halfUvs_}));
    for (const std::size_t width : kWidths) {
        width_->addItem(tr("%1 texels").arg(width));
    }
    column->addWidget(labelledRow(tr("Maximum texture width"), width_));
    auto* images = new QWidget;
    images->setLayout(side({exr_, png_}));
    images->layout()->setContentsMargins(0, 0, 0, 0);
    column->addWidget(labelledRow(tr("Images imported without loss"), images));
    auto* code = new QWidget;
    std::vector<QWidget*> row;
    for (std::size_t i = 0; i < languages_.size(); ++i) {
        languages_[i] = new TickBox(QString(emit::dialects()[i]->id()).toUpper());
        row.push_back(languages_[i]);
    }
    code->setLayout(side(row));
    code->layout()->setContentsMargins(0, 0, 0, 0);
    column->addWidget(labelledRow(tr("Code"), code));
    clock_->setRoomy();
    column->addWidget(labelledRow(tr("The example calls it"), clock_));
    std::vector<TickBox*> ticks = {vFromBelow_, rowsFromBelow_, fromOne_, clockwise_, halfUvs_, exr_, png_};
    ticks.insert(ticks.end(), languages_.begin(), languages_.end());
    for (TickBox* tick : ticks) {
        connect(tick, &TickBox::clicked, this, [this] { change(); });
    }
    connect(width_, &QComboBox::activated, this, [this](int i) { // a file may hold another than these
        draft_.maxWidth = kWidths[static_cast<std::size_t>(i)];
        refresh();
    });
    connect(clock_, &SegmentedChoice::picked, this, [this] { change(); });
    connect(name_, &QLineEdit::textEdited, this, [this] { change(); });
}

QWidget* TargetDialog::buildButtons() {
    auto* buttons = new QWidget;
    auto* row = new QHBoxLayout(buttons);
    row->setContentsMargins(0, 0, 0, 0);
    const auto add = [&](const QString& words, const char* name, const QString& tip,
                         const std::function<void()>& act) {
        auto* button = new QPushButton(words);
        button->setObjectName(name);
        button->setToolTip(tip);
        button->setAutoDefault(false);
        connect(button, &QPushButton::clicked, this, act);
        row->addWidget(button);
        return button;
    };
    add(tr("Axis probe…"), "writeProbe",
        tr("Writes three arrows with letters. Import them, and say above where they point and how long one "
           "is."),
        [this] {
            const QString folder = QFileDialog::getExistingDirectory(this, tr("Where the probe goes"));
            if (!folder.isEmpty()) {
                writeProbe(folder);
            }
        });
    add(tr("Open a file…"), "openTarget", tr("A target that was saved as a file"), [this] {
        const QString file =
            QFileDialog::getOpenFileName(this, tr("Open a target"), {}, tr("Targets (*.target.json)"));
        if (!file.isEmpty()) {
            openFile(file);
        }
    });
    add(tr("Save as a file…"), "saveTarget", tr("For other projects, and for the command"), [this] {
        const QString file = QFileDialog::getSaveFileName(this, tr("Save the target"), "engine.target.json",
                                                          tr("Targets (*.target.json)"));
        if (!file.isEmpty()) {
            saveFile(file);
        }
    });
    row->addStretch(1);
    add(tr("Cancel"), "cancelTarget", {}, [this] { reject(); });
    QPushButton* use = add(tr("Use this target"), "useTarget", {}, [this] { accept(); });
    use->setProperty("role", "act");
    use->setDefault(true);
    return buttons;
}

void TargetDialog::take(const bundle::Target& target) {
    draft_ = target;
    refresh();
}

void TargetDialog::pointArrow(int axis, int way) {
    std::array<std::string, 3> there = draft_.axes.back().letters();
    const auto own = static_cast<std::size_t>(axis);
    const std::string wanted = kWays[static_cast<std::size_t>(way)];
    // Who lay along that axis before lies along the one that came free.
    for (std::size_t other = 0; other < 3; ++other) {
        if (other != own && there[other][1] == wanted[1]) {
            there[other][1] = there[own][1];
        }
    }
    there[own] = wanted;
    const bool mirrored = draft_.axes.mirrors();
    draft_.axes = mesh::axesByLetters(there)->back();
    if (draft_.axes.mirrors() != mirrored) {
        draft_.clockwise = draft_.axes.mirrors(); // as importers leave them
    }
    refresh();
}

void TargetDialog::change() {
    draft_.name = name_->text().trimmed().toStdString();
    if (draft_.name == bundle::words(draft_)) {
        draft_.name.clear();
    }
    draft_.metresPerUnit = 1.0 / length_->value();
    draft_.vFromBelow = vFromBelow_->isChecked();
    draft_.rowsFromBelow = rowsFromBelow_->isChecked();
    draft_.firstUvSet = fromOne_->isChecked() ? 1 : 0;
    draft_.clockwise = clockwise_->isChecked();
    draft_.halfUvs = halfUvs_->isChecked();
    draft_.readsExr = exr_->isChecked();
    draft_.readsPng = png_->isChecked() || !draft_.readsExr; // one of the two
    draft_.languages.clear();
    for (std::size_t i = 0; i < languages_.size(); ++i) {
        if (languages_[i]->isChecked()) {
            draft_.languages.push_back(emit::dialects()[i]->id());
        }
    }
    if (draft_.languages.empty()) {
        draft_.languages.push_back(emit::dialects()[0]->id());
    }
    draft_.bySeconds = clock_->chosen() == 0;
    refresh();
}

void TargetDialog::refresh() {
    const auto row = std::find(all_.begin(), all_.end(), draft_);
    const QSignalBlocker quiet(list_);
    list_->setCurrentRow(row == all_.end() ? -1 : static_cast<int>(row - all_.begin()));
    drawing_->setTarget(draft_);
    words_->setText(text(bundle::words(draft_)));
    name_->setPlaceholderText(text(bundle::words(draft_)));
    if (name_->text().trimmed().toStdString() != draft_.name) {
        name_->setText(text(draft_.name));
    }
    const auto there = draft_.axes.back().letters();
    for (std::size_t axis = 0; axis < 3; ++axis) {
        arrows_[axis]->setCurrentIndex(wayNumber(there[axis]));
    }
    length_->setValue(1.0 / draft_.metresPerUnit);
    vFromBelow_->setChecked(draft_.vFromBelow);
    rowsFromBelow_->setChecked(draft_.rowsFromBelow);
    fromOne_->setChecked(draft_.firstUvSet == 1);
    clockwise_->setChecked(draft_.clockwise);
    halfUvs_->setChecked(draft_.halfUvs);
    const auto width = std::lower_bound(kWidths.begin(), kWidths.end(), draft_.maxWidth);
    width_->setCurrentIndex(static_cast<int>(width - kWidths.begin()));
    exr_->setChecked(draft_.readsExr);
    png_->setChecked(draft_.readsPng);
    for (std::size_t i = 0; i < languages_.size(); ++i) {
        const std::string id = emit::dialects()[i]->id();
        languages_[i]->setChecked(std::find(draft_.languages.begin(), draft_.languages.end(), id) !=
                                  draft_.languages.end());
    }
    clock_->show(draft_.bySeconds ? 0 : 1);
}

bool TargetDialog::attempt(const std::function<QString()>& action) {
    try {
        said_->setText(action());
        setRole(said_, "glass");
        return true;
    } catch (const base::Failure& failure) {
        said_->setText(text(failure.problem().line()));
        setRole(said_, "brick");
        return false;
    }
}

bool TargetDialog::openFile(const QString& file) {
    return attempt([&] {
        take(bundle::loadTarget(pathBytes(file)));
        return tr("Opened: %1").arg(QFileInfo(file).fileName());
    });
}

bool TargetDialog::saveFile(const QString& file) {
    return attempt([&] {
        bundle::saveTarget(draft_, pathBytes(file));
        return tr("Saved: %1").arg(QFileInfo(file).fileName());
    });
}

bool TargetDialog::writeProbe(const QString& folder) {
    return attempt([&] {
        base::Progress progress;
        const QString to = folder + "/axis-probe";
        bundle::writeAxisProbe(pathBytes(to), draft_, progress);
        return tr("Written: %1. Import it: with the right target each arrow grows along itself, X, then Y, "
                  "then Z. Else say above where the arrows point.")
            .arg(QFileInfo(folder).fileName() + "/axis-probe");
    });
}

} // namespace ripple::app
