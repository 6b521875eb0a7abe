// The scatter panel's questions: how many and where, and how different.

#include "app/benches/scatter/scatter_panel.h"

#include "app/look/panel_parts.h"
#include "app/look/theme.h"
#include "app/session/words.h"
#include "base/units.h"
#include "scatter/placement.h"

#include <QColorDialog>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QSignalBlocker>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

enum Ground { kFlat, kUneven, kMesh };

QWidget* beside(QWidget* first, QWidget* second) {
    auto* both = new QWidget;
    auto* row = new QHBoxLayout(both);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    row->addWidget(first);
    row->addWidget(second);
    return both;
}

} // namespace

void ScatterPanel::buildWhere() {
    column()->addWidget(sectionLabel(tr("How many, and where")));
    pattern_ = new SegmentedChoice({tr("grid"), tr("even"), tr("ring"), tr("line"), tr("volume")});
    pattern_->setObjectName("pattern");
    QStringList tips;
    for (const scatter::Pattern& each : scatter::patterns()) {
        tips << tr(each.about);
    }
    pattern_->setToolTips(tips);
    column()->addWidget(pattern_);
    connect(pattern_, &SegmentedChoice::picked, this, [this](int i) {
        const scatter::Pattern& chosen = scatter::patterns()[static_cast<std::size_t>(i)];
        edit(tr("Spread copies: %1").arg(tr(chosen.label).toLower()),
             [&](Choices& c) { c.placement.pattern = chosen.id; });
    });
    auto* copies = number(
        "copies", 1, static_cast<double>(scatter::kMostCopies), 0, 1, {}, tr("Number of copies"),
        [](const Choices& c) { return static_cast<double>(c.placement.count); },
        [](Choices& c, double v) { c.placement.count = static_cast<std::size_t>(std::lround(v)); });
    row(tr("Copies"), copies, tr("1 to 20 000"));
    const auto side = [&](const char* name, const QString& what, float glm::vec3::*part) {
        auto* field = number(
            name, 0.1, 10000, 1, 0.5, "m", what,
            [part](const Choices& c) { return static_cast<double>(c.placement.size.*part); },
            [part](Choices& c, double v) { c.placement.size.*part = static_cast<float>(v); });
        field->setFixedWidth(78);
        return field;
    };
    auto* across = side("areaX", tr("Width of the area"), &glm::vec3::x);
    auto* deep = side("areaZ", tr("Depth of the area"), &glm::vec3::z);
    across->setMark("X");
    deep->setMark("Z");
    row(tr("Area"), beside(across, deep));
    heightRow_ = row(tr("Height"), side("areaY", tr("Height of the volume"), &glm::vec3::y));
    ground_ = new QComboBox;
    ground_->setObjectName("ground");
    ground_->setAccessibleName(tr("Ground"));
    ground_->setMinimumContentsLength(12);
    ground_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    ground_->addItems({tr("flat quay"), tr("uneven ground"), tr("a mesh file…")});
    row(tr("Ground"), ground_, tr("What the copies stand on"));
    connect(ground_, &QComboBox::activated, this, &ScatterPanel::chooseGround);
    along_ = new TickBox(tr("Stand along the slope"));
    along_->setObjectName("alongSurface");
    along_->setCheckable(true);
    column()->addWidget(along_);
    connect(along_, &TickBox::clicked, this, [this](bool on) {
        edit(on ? tr("Stand along the slope") : tr("Stand upright"),
             [on](Choices& c) { c.placement.alongSurface = on; });
    });
    auto* seed = number(
        "scatterSeed", 0, 999999, 0, 1, {}, tr("Seed of the copies"),
        [](const Choices& c) { return static_cast<double>(c.differences.seed); },
        [](Choices& c, double v) {
            c.differences.seed = static_cast<std::uint32_t>(std::lround(v));
            c.placement.seed = c.differences.seed;
        });
    row(tr("Seed"), seed, tr("Another number is another crowd; the same number is the same one everywhere"));
    spacing_ = quietLabel();
    spacing_->setObjectName("spacing");
    column()->addWidget(spacing_);
}

void ScatterPanel::chooseGround(int index) {
    if (index == kMesh) {
        const QString file = QFileDialog::getOpenFileName(
            this, tr("A mesh to stand on"), {}, tr("Meshes (*.glb *.gltf *.obj *.ply);;All files (*)"));
        if (file.isEmpty()) {
            refreshWhere();
            return;
        }
        edit(tr("Stand on %1").arg(QFileInfo(file).fileName()),
             [&](Choices& c) { c.ground = pathBytes(file); });
        return;
    }
    edit(index == kFlat ? tr("Stand on the flat quay") : tr("Stand on uneven ground"),
         [index](Choices& c) { c.ground = index == kFlat ? "flat" : "uneven"; });
}

void ScatterPanel::refreshWhere() {
    const Choices& choices = session_.document().scatter;
    const auto rows = scatter::patterns();
    for (std::size_t i = 0; i < rows.size(); ++i) {
        if (choices.placement.pattern == rows[i].id) {
            pattern_->show(static_cast<int>(i));
        }
    }
    const scatter::Pattern* pattern = scatter::patternByName(choices.placement.pattern);
    const bool inAir = pattern && pattern->inAir;
    heightRow_->setVisible(inAir || choices.travel == scatter::Travel::fly);
    const bool mesh = choices.ground != "flat" && choices.ground != "uneven";
    {
        const QSignalBlocker quiet(ground_);
        ground_->setItemText(kMesh, mesh ? QFileInfo(text(choices.ground)).fileName() : tr("a mesh file…"));
        ground_->setCurrentIndex(mesh ? kMesh : choices.ground == "flat" ? kFlat : kUneven);
    }
    along_->setVisible(choices.ground != "flat");
    along_->setChecked(choices.placement.alongSurface);
    const auto state = session_.scatter();
    QString words;
    if (session_.scatterProblem()) {
        words = text(session_.scatterProblem()->line());
    } else if (state && state->placed.spacing > 0.0) {
        words = tr("The nearest two stand %1 apart").arg(text(base::lengthText(state->placed.spacing)));
        if (state->placed.copies.size() < state->placed.wished) {
            words +=
                "; " +
                tr("%1 would lie beside the ground").arg(state->placed.wished - state->placed.copies.size());
        }
    }
    setRole(spacing_, session_.scatterProblem() ? "brick" : "quiet");
    spacing_->setText(words);
    spacing_->setVisible(!words.isEmpty());
}

void ScatterPanel::buildDifferent() {
    column()->addWidget(sectionLabel(tr("How different")));
    const auto percent = [&](const char* name, const QString& what, float scatter::Differences::*part,
                             double most) {
        return number(
            name, 0, most, 0, 1, "%", what,
            [part](const Choices& c) { return 100.0 * static_cast<double>(c.differences.*part); },
            [part](Choices& c, double v) { c.differences.*part = static_cast<float>(v / 100.0); });
    };
    auto* least = percent("smallest", tr("Smallest copy"), &scatter::Differences::leastSize, 1000);
    auto* most = percent("largest", tr("Largest copy"), &scatter::Differences::mostSize, 1000);
    least->setRange(1, 1000);
    most->setRange(1, 1000);
    least->setFixedWidth(78);
    most->setFixedWidth(78);
    row(tr("Size, from and to"), beside(least, most), tr("Of the model's own size"));
    auto* turn = number(
        "turnSpread", 0, 360, 0, 5, "°", tr("Turn of the copies"),
        [](const Choices& c) { return 360.0 * static_cast<double>(c.differences.turnSpread); },
        [](Choices& c, double v) { c.differences.turnSpread = static_cast<float>(v / 360.0); });
    row(tr("Turned by up to"), turn, tr("About the up direction; 0 leaves all looking one way"));
    row(tr("Start within"),
        percent("startSpread", tr("Start of the copies"), &scatter::Differences::startSpread, 100),
        tr("Of the loop: 0 is unison, 100 % anywhere"));
    row(tr("Rate, more or less by"),
        percent("rateSpread", tr("Rate of the copies"), &scatter::Differences::rateSpread, 95),
        tr("Each copy's loop closes in its own time"));
    QWidget* pair = nullptr;
    for (int t = 0; t < 2; ++t) {
        auto* button = new QPushButton;
        button->setObjectName(QString("tint%1").arg(t + 1));
        button->setFixedSize(44, 22);
        button->setToolTip(
            tr("The base colour is multiplied with a mix of two tints, another one for each copy"));
        connect(button, &QPushButton::clicked, this, [this, t] { chooseTint(t); });
        tints_[static_cast<std::size_t>(t)] = button;
    }
    pair = beside(tints_[0], tints_[1]);
    row(tr("Tints"), pair);
    addImages_ = new QPushButton(tr("Add…"));
    addImages_->setObjectName("addImages");
    addImages_->setToolTip(tr("Further images of the base colour on the same UVs; each copy takes one"));
    dropImages_ = new QPushButton(tr("Clear"));
    dropImages_->setObjectName("clearImages");
    connect(addImages_, &QPushButton::clicked, this, &ScatterPanel::addImages);
    connect(dropImages_, &QPushButton::clicked, this,
            [this] { edit(tr("Only the model's own image"), [](Choices& c) { c.images.clear(); }); });
    row(tr("Further images"), beside(dropImages_, addImages_));
    images_ = quietLabel();
    column()->addWidget(images_);
}

void ScatterPanel::chooseTint(int which) {
    const auto at = static_cast<std::size_t>(which);
    const glm::vec3 now = session_.document().scatter.tints[at];
    const QColor chosen = QColorDialog::getColor(QColor::fromRgbF(now.r, now.g, now.b), this,
                                                 which == 0 ? tr("First tint") : tr("Second tint"));
    if (chosen.isValid()) {
        edit(which == 0 ? tr("First tint") : tr("Second tint"), [&](Choices& c) {
            c.tints[at] = {chosen.redF(), chosen.greenF(), chosen.blueF()};
        });
    }
}

void ScatterPanel::addImages() {
    const QStringList files = QFileDialog::getOpenFileNames(this, tr("Further images of the base colour"), {},
                                                            tr("Images (*.png *.jpg *.jpeg)"));
    if (files.isEmpty()) {
        return;
    }
    edit(tr("Add base colour images"), [&](Choices& c) {
        for (const QString& file : files) {
            c.images.push_back(pathBytes(file));
        }
        c.images.resize(std::min(c.images.size(), Choices::kMostImages));
    });
}

void ScatterPanel::refreshDifferent() {
    const Choices& choices = session_.document().scatter;
    for (std::size_t t = 0; t < tints_.size(); ++t) {
        const glm::vec3& c = choices.tints[t];
        const QColor tone = QColor::fromRgbF(c.r, c.g, c.b);
        tints_[t]->setStyleSheet(
            QStringLiteral(
                "background: %1; border: 1px solid %2; border-radius: 4px; padding: 0; min-width: 0;")
                .arg(tone.name(), theme().quiet.name()));
        tints_[t]->setAccessibleName(tr("Tint %1: %2").arg(t + 1).arg(tone.name()));
    }
    QStringList names;
    for (const std::string& file : choices.images) {
        names << QFileInfo(text(file)).fileName();
    }
    images_->setText(names.join(", "));
    images_->setVisible(!names.isEmpty());
    dropImages_->setEnabled(!names.isEmpty());
    addImages_->setEnabled(choices.images.size() < Choices::kMostImages);
}

} // namespace ripple::app
