// The scatter panel's questions: what pushes the copies, merged or separate, levels of detail.

#include "app/benches/scatter/scatter_panel.h"

#include "app/look/panel_parts.h"
#include "app/session/score_edits.h"
#include "app/session/words.h"
#include "base/files.h"
#include "base/unfinished.h"
#include "base/units.h"
#include "motion/kinds.h"
#include "motion/wind.h"
#include "scatter/copies_file.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QSignalBlocker>

#include <algorithm>
#include <cmath>

namespace ripple::app {

void ScatterPanel::buildWind() {
    windLabel_ = sectionLabel(tr("Wind, and what pushes"));
    column()->addWidget(windLabel_);
    wind_ = new NumberField;
    wind_->setObjectName("windHeading");
    wind_->setAccessibleName(tr("Heading of the wind"));
    wind_->setRange(-180, 180);
    wind_->setDecimals(0);
    wind_->setStep(5);
    wind_->setUnit("°");
    wind_->setFixedWidth(92);
    windRow_ = row(tr("Wind turned by"), wind_, tr("The arrow on the ground can be dragged, too"));
    connect(wind_, &NumberField::edited, this, [this](double v, bool more) {
        turnWind(session_, v - session_.document().score.overall.heading, session_.gesture(more));
    });
    ball_ = new TickBox(tr("A ball that copies make way for"));
    ball_->setObjectName("ball");
    ball_->setCheckable(true);
    column()->addWidget(ball_);
    connect(ball_, &TickBox::clicked, this, [this](bool on) {
        edit(on ? tr("Lay a ball among the copies") : tr("Take the ball away"),
             [on](Choices& c) { c.ball = on; });
    });
    ballRows_ = new QWidget;
    auto* rows = new QVBoxLayout(ballRows_);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(3);
    rows->addWidget(
        labelledRow(tr("Ball's radius"), number(
                                             "ballRadius", 0.01, 100, 2, 0.05, "m", tr("Radius of the ball"),
                                             [](const Choices& c) { return c.ballRadius; },
                                             [](Choices& c, double v) { c.ballRadius = v; })));
    auto* both = new QWidget;
    auto* pair = new QHBoxLayout(both);
    pair->setContentsMargins(0, 0, 0, 0);
    pair->setSpacing(6);
    const auto place = [&](const char* name, const QString& mark, float glm::vec2::*part) {
        auto* field = new NumberField;
        field->setObjectName(name);
        field->setAccessibleName(tr("Place of the ball, %1").arg(mark));
        field->setMark(mark);
        field->setRange(-10000, 10000);
        field->setDecimals(2);
        field->setStep(0.1);
        field->setUnit("m");
        field->setFixedWidth(78);
        connect(field, &NumberField::edited, this, [this, part](double v, bool) {
            glm::vec2 at = session_.crowd().ball();
            at.*part = static_cast<float>(v);
            session_.crowd().setBall(at);
        });
        pair->addWidget(field);
        return field;
    };
    ballX_ = place("ballX", "X", &glm::vec2::x);
    ballZ_ = place("ballZ", "Z", &glm::vec2::y);
    rows->addWidget(
        labelledRow(tr("Ball lies at"), both, tr("Drag it on the stage; where it lies is not kept")));
    column()->addWidget(ballRows_);
    ballWords_ = quietLabel();
    ballWords_->setObjectName("ballWords");
    column()->addWidget(ballWords_);
}

void ScatterPanel::refreshWind() {
    const auto state = session_.scatter();
    const bool score = state && state->score;
    const motion::Score& played = session_.document().score;
    for (QWidget* each : std::initializer_list<QWidget*>{windLabel_, ball_}) {
        each->setVisible(score);
    }
    windRow_->setVisible(score && motion::windWay(played).has_value());
    wind_->setValue(played.overall.heading);
    const bool ball = score && session_.document().scatter.ball;
    ball_->setChecked(session_.document().scatter.ball);
    ballRows_->setVisible(ball);
    ballX_->setValue(static_cast<double>(session_.crowd().ball().x));
    ballZ_->setValue(static_cast<double>(session_.crowd().ball().y));
    const bool followed = std::ranges::any_of(
        played.voices, [](const motion::Voice& voice) { return motion::rowOf(voice.push).followsMover; });
    ballWords_->setText(
        tr("No voice of the score makes way. Add one on the Move bench: its push is “bends away from a "
           "moving point”."));
    ballWords_->setVisible(ball && !followed);
}

void ScatterPanel::buildMerged() {
    column()->addWidget(sectionLabel(tr("As one mesh")));
    merged_ = new TickBox(tr("Merge the copies into one mesh"));
    merged_->setObjectName("merged");
    merged_->setCheckable(true);
    column()->addWidget(merged_);
    connect(merged_, &TickBox::clicked, this, [this](bool on) {
        edit(on ? tr("Merge the copies") : tr("Keep the copies separate"),
             [on](Choices& c) { c.merged = on; });
    });
    keeps_ = new QComboBox;
    keeps_->setObjectName("keeps");
    keeps_->setAccessibleName(tr("What is kept of each copy"));
    for (const scatter::KeepsRow& each : scatter::keepsRows()) {
        keeps_->addItem(tr(each.label));
        keeps_->setItemData(keeps_->count() - 1, tr(each.about), Qt::ToolTipRole);
    }
    keepsRow_ =
        row(tr("Keeps of each"), keeps_, tr("What the vertices of the merged mesh store of their copy"));
    connect(keeps_, &QComboBox::activated, this, [this](int i) {
        const scatter::KeepsRow& chosen = scatter::keepsRows()[static_cast<std::size_t>(i)];
        edit(tr("Merged copies keep: %1").arg(tr(chosen.label)), [&](Choices& c) { c.keeps = chosen.keeps; });
    });
    mergedWords_ = quietLabel();
    mergedWords_->setObjectName("mergedWords");
    column()->addWidget(mergedWords_);
}

void ScatterPanel::refreshMerged() {
    const Choices& choices = session_.document().scatter;
    merged_->setChecked(choices.merged);
    keepsRow_->setVisible(choices.merged);
    {
        const QSignalBlocker quiet(keeps_);
        keeps_->setCurrentIndex(static_cast<int>(choices.keeps));
    }
    const auto state = session_.scatter();
    const bool known = choices.merged && state && state->mergeLoss && state->choices.keeps == choices.keeps;
    mergedWords_->setVisible(known);
    if (known) {
        const bool far = *state->mergeLoss > session_.tolerance();
        setRole(mergedWords_, far ? "brass" : "glass");
        mergedWords_->setText(
            tr("%1. Max error %2 against separate copies.")
                .arg(tr(scatter::rowOf(choices.keeps).about), text(base::lengthText(*state->mergeLoss))));
    }
}

void ScatterPanel::buildLevels() {
    column()->addWidget(sectionLabel(tr("Levels of detail")));
    levels_ = new SegmentedChoice({tr("none"), "1", "2", "3"});
    levels_->setObjectName("levels");
    levels_->setToolTips({tr("Every copy has all triangles"), tr("One with half the triangles"),
                          tr("Two, with half and a quarter"), tr("Three, down to an eighth")});
    levels_->setRoomy();
    row(tr("Further levels"), levels_);
    connect(levels_, &SegmentedChoice::picked, this, [this](int i) {
        edit(tr("%n level(s) of detail", nullptr, i),
             [i](Choices& c) { c.levels = static_cast<std::size_t>(i); });
    });
    levelRows_ = new QWidget;
    auto* rows = new QVBoxLayout(levelRows_);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(3);
    rows->addWidget(labelledRow(
        tr("An error may cover"),
        number(
            "levelPixels", 0.05, 1000, 1, 0.5, "px", tr("Pixels that a level's error may cover"),
            [](const Choices& c) { return c.levelPixels; }, [](Choices& c, double v) { c.levelPixels = v; }),
        tr("Of a picture 1080 pixels high: from there on the next level takes over")));
    auto* far = number(
        "farRate", 0, 1000, 0, 1, "/ s", tr("Frames of the last level"),
        [](const Choices& c) { return c.farRate; }, [](Choices& c, double v) { c.farRate = v; });
    far->setDefault(0.0, tr("as all"));
    rows->addWidget(labelledRow(tr("Frames of the last"), far, tr("Far copies may go on less often")));
    column()->addWidget(levelRows_);
    auto* hide = number(
        "hideBeyond", 0, 100000, 1, 1, "m", tr("Distance beyond which copies are hidden"),
        [](const Choices& c) { return c.hideBeyond; }, [](Choices& c, double v) { c.hideBeyond = v; });
    hide->setDefault(0.0, tr("never"));
    row(tr("Hidden beyond"), hide);
    levelWords_ = quietLabel();
    levelWords_->setObjectName("levelWords");
    column()->addWidget(levelWords_);
}

void ScatterPanel::refreshLevels() {
    const Choices& choices = session_.document().scatter;
    levels_->show(static_cast<int>(choices.levels));
    levelRows_->setVisible(choices.levels > 0);
    const auto state = session_.scatter();
    QStringList words;
    if (state && choices.levels > 0 && state->choices.levels == choices.levels) {
        for (std::size_t k = 0; k < state->measured.levels.size(); ++k) {
            const scatter::Level& level = state->measured.levels[k];
            words << tr("Level %1: %2 triangles, max error %3 in all poses.")
                         .arg(k + 1)
                         .arg(text(base::countText(level.count())), text(base::lengthText(level.error)));
        }
        if (state->measured.levels.size() < choices.levels) {
            words << tr("The mesh can't be made coarser than that: its pieces are small already.");
        }
        if (choices.merged) {
            words << tr("A merged mesh has one level.");
        }
    }
    levelWords_->setText(words.join("\n"));
    levelWords_->setVisible(!words.isEmpty());
}

void ScatterPanel::writeCopies() {
    const auto state = session_.scatter();
    if (!state) {
        return;
    }
    const QString name = text(session_.document().assetName());
    const QString file = QFileDialog::getSaveFileName(this, tr("Write the copies"), name + ".copies.glb",
                                                      tr("Copies (*.glb)"));
    if (file.isEmpty()) {
        return;
    }
    try {
        const base::Bytes bytes =
            scatter::copiesGlb(state->asset.source->mesh(), name.toStdString(), state->placed.copies);
        base::replaceFile(pathBytes(file), base::asText(bytes));
        session_.say(
            tr("%1 holds %2 copies.").arg(QFileInfo(file).fileName()).arg(state->placed.copies.size()));
    } catch (const base::Failure& failure) {
        session_.sourceReadFailed(QString::fromStdString(failure.problem().line()));
    }
}

} // namespace ripple::app
