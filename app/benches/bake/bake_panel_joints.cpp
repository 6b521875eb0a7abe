// The bake panel's joints, and how densely frames are stored and what lies between them.

#include "app/benches/bake/bake_panel.h"
#include "app/look/panel_parts.h"
#include "app/session/words.h"
#include "bake/kind.h"

#include <algorithm>
#include <cmath>

namespace ripple::app {

void BakePanel::buildJoints() {
    jointRows_ = new QWidget;
    auto* rows = new QVBoxLayout(jointRows_);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(3);
    const auto choice = [](const char* name, const QStringList& labels, const QStringList& tips) {
        auto* made = new SegmentedChoice(labels);
        made->setObjectName(name);
        made->setToolTips(tips);
        made->setRoomy();
        return made;
    };
    jointForm_ =
        choice("jointForm", {tr("automatic"), tr("rigid"), tr("matrix")},
               {tr("Rigid, unless a joint is sheared or scaled unevenly"),
                tr("Place, uniform scale and rotation: two texels a joint"),
                tr("The rows of its matrix, shear and uneven scale with them: three texels a joint")});
    influences_ = choice(
        "influences", {"4", "8"},
        {tr("The four joints that move a vertex most"), tr("The eight joints that move a vertex most")});
    influencesIn_ =
        choice("influencesIn", {tr("texture"), tr("UV sets")},
               {tr("Read from a small texture, by the lookup UV"),
                tr("Kept in UV sets of the mesh, for targets that read few textures in the vertex stage")});
    rows->addWidget(labelledRow(tr("Transform"), jointForm_, tr("How the transform of a joint is stored")));
    rows->addWidget(labelledRow(tr("Joints for each vertex"), influences_,
                                tr("The strongest are kept; what the others did is part of the error")));
    rows->addWidget(labelledRow(tr("Influences in"), influencesIn_,
                                tr("Where a vertex finds its joints and their weights")));
    column()->addWidget(jointRows_);
    connect(jointForm_, &SegmentedChoice::picked, this, [this](int i) {
        constexpr bake::JointForm kForms[] = {bake::JointForm::automatic, bake::JointForm::rigid,
                                              bake::JointForm::matrix};
        editRecipe(tr("Form of joints"), [&](bake::Recipe& r) { r.jointForm = kForms[i]; });
    });
    connect(influences_, &SegmentedChoice::picked, this, [this](int i) {
        editRecipe(tr("Joints for each vertex"),
                   [i](bake::Recipe& r) { r.influences = i == 0 ? std::size_t(4) : std::size_t(8); });
    });
    connect(influencesIn_, &SegmentedChoice::picked, this, [this](int i) {
        editRecipe(i == 0 ? tr("Influences in a texture") : tr("Influences in UV sets"),
                   [i](bake::Recipe& r) { r.influencesInUvs = i == 1; });
    });
}

void BakePanel::refreshJoints() {
    const bake::Recipe& recipe = session_.document().recipe;
    jointRows_->setVisible(recipe.kind->followsJoints);
    jointForm_->show(static_cast<int>(recipe.jointForm));
    influences_->show(recipe.influences == 8 ? 1 : 0);
    influencesIn_->show(recipe.influencesInUvs ? 1 : 0);
}

void BakePanel::buildSampling() {
    clipRate_ = new NumberField;
    clipRate_->setObjectName("clipRate");
    clipRate_->setRange(0, 1000);
    clipRate_->setDecimals(2);
    clipRate_->setUnit("/ s");
    clipRate_->setDefault(0.0, tr("as all"));
    clipRate_->setFixedWidth(92);
    clipRateRow_ = labelledRow(tr("Sample rate of it"), clipRate_,
                               tr("Another sample rate than the other clips have, for this one alone"));
    clipRateLabel_ = clipRateRow_->findChild<QLabel*>();
    column()->addWidget(clipRateRow_);
    connect(clipRate_, &NumberField::edited, this, [this](double v, bool more) {
        const auto source = session_.source();
        const std::string name = currentClip();
        editRecipe(
            tr("Sample rate of %1").arg(text(name)),
            [&](bake::Recipe& r) {
                r.clips =
                    bake::withChoice(*source, r, name, [v](bake::ClipChoice& choice) { choice.fps = v; });
            },
            more);
    });
    each_ = new NumberField;
    each_->setObjectName("oversampling");
    each_->setRange(1, static_cast<double>(bake::kMostOversampling));
    each_->setFixedWidth(92);
    each_->setUnit(tr("frames"), tr("frame"));
    eachRow_ =
        labelledRow(tr("Stored for each sample"), each_,
                    tr("More frames than the sample rate gives, evenly between its own: what is blended "
                       "comes nearer to the motion"));
    column()->addWidget(eachRow_);
    blend_ = new SegmentedChoice({tr("straight"), tr("on curves")});
    blend_->setObjectName("blend");
    blend_->setToolTips(
        {tr("Blends the two frames beside a moment"),
         tr("Reads four frames: their curve passes nearer to this motion, by the ladder's measure")});
    blend_->setRoomy();
    blendRow_ = labelledRow(tr("Between frames"), blend_, tr("How what lies between stored frames is made"));
    column()->addWidget(blendRow_);
    connect(each_, &NumberField::edited, this, [this](double v, bool more) {
        const auto frames = static_cast<std::size_t>(std::max(1.0, std::round(v)));
        editRecipe(
            tr("Store %n frame(s) for each sample", nullptr, static_cast<int>(frames)),
            [frames](bake::Recipe& r) {
                r.oversampling = frames == r.kind->oversampling ? std::nullopt : std::optional(frames);
            },
            more);
    });
    connect(blend_, &SegmentedChoice::picked, this, [this](int i) {
        editRecipe(i == 0 ? tr("Blend frames straight") : tr("Blend frames on curves"),
                   [i](bake::Recipe& r) { r.blend = i == 0 ? bake::Blend::linear : bake::Blend::cubic; });
    });
}

void BakePanel::refreshSampling() {
    const bake::Recipe& recipe = session_.document().recipe;
    const auto source = session_.source();
    const bool anyTime = source && std::ranges::any_of(source->clips(), [&](const source::Clip& clip) {
                             return bake::askedAtAnyTime(clip, recipe);
                         });
    const bool several = source && source->clips().size() > 1;
    clipRateRow_->setVisible(several);
    clipRateLabel_->setText(tr("Sample rate of %1").arg(text(currentClip())));
    double own = 0.0;
    for (const bake::ClipChoice& choice : recipe.clips) {
        own = choice.name == currentClip() ? choice.fps : own;
    }
    clipRate_->setValue(own);
    eachRow_->setVisible(anyTime && recipe.thin <= 0.0);
    each_->setDefault(static_cast<double>(recipe.kind->oversampling));
    each_->setValue(static_cast<double>(bake::oversamplingOf(recipe)));
    // A curve is offered where the ladder has measured that it helps, and to take it back.
    const auto ladder = session_.ladder();
    const bool helps = ladder && std::ranges::any_of(ladder->rungs, [&](const bake::Rung& rung) {
                           return rung.recipe.blend == bake::Blend::cubic &&
                                  rung.recipe.kind == recipe.kind && rung.recipe.step == recipe.step &&
                                  bake::oversamplingOf(rung.recipe) == bake::oversamplingOf(recipe);
                       });
    blendRow_->setVisible(recipe.blend == bake::Blend::cubic || (helps && recipe.thin <= 0.0));
    blend_->show(recipe.blend == bake::Blend::linear ? 0 : 1);
}

} // namespace ripple::app
