// The scatter panel's questions: what each copy plays, and whether it travels.

#include "app/benches/scatter/scatter_panel.h"

#include "app/look/crowd_tones.h"
#include "app/look/panel_parts.h"
#include "app/session/words.h"
#include "base/units.h"

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

/// How much a foot may slide over the ground in a loop before that is said, as a share of the way.
constexpr double kSeenSlide = 0.05;

} // namespace

void ScatterPanel::buildPlays() {
    column()->addWidget(sectionLabel(tr("What each plays")));
    plays_ = new SegmentedChoice({tr("bake"), tr("score as code")});
    plays_->setObjectName("scatterPlays");
    plays_->setRoomy();
    plays_->setToolTips(
        {tr("Clips from the textures"), tr("The score, worked out for each vertex as it is drawn")});
    playsRow_ = row(tr("Plays"), plays_);
    connect(plays_, &SegmentedChoice::picked, this, [this](int i) {
        edit(i == 0 ? tr("Copies play the bake") : tr("Copies play the score"),
             [i](Choices& c) { c.plays = i == 0 ? scatter::Plays::bake : scatter::Plays::score; });
    });
    mix_ = new MixBar;
    mix_->setObjectName("mix");
    column()->addWidget(mix_);
    connect(mix_, &MixBar::edited, this, [this](const std::vector<double>& weights, bool more) {
        edit(
            tr("Clip mix"),
            [&](Choices& c) {
                for (std::size_t p = 0; p < weights.size() && p < mix_->parts().size(); ++p) {
                    c.mix = scatter::withWeight(c.mix, mix_->parts()[p].name.toStdString(), weights[p]);
                }
            },
            more);
    });
    mixWords_ = quietLabel();
    mixWords_->setObjectName("mixWords");
    column()->addWidget(mixWords_);
    auto* fade = number(
        "crossFade", 0, bake::kLongestFade, 2, 0.05, "s", tr("Cross-fade"),
        [](const Choices& c) { return c.fade; }, [](Choices& c, double v) { c.fade = v; });
    fadeRow_ = row(tr("Cross-fade"), fade,
                   tr("From clip to clip, where the Bake bench gives a transition no length of its own"));
}

void ScatterPanel::refreshPlays() {
    const auto state = session_.scatter();
    const bool both = state && state->asset.performance && !state->asset.clips.empty();
    playsRow_->setVisible(both);
    plays_->show(state && state->score ? 1 : 0);
    const bool clips = state && !state->score;
    std::vector<MixBar::Part> parts;
    for (std::size_t c = 0; clips && c < state->asset.clips.size(); ++c) {
        const std::string& name = state->asset.clips[c].name;
        parts.push_back({text(name), session_.document().scatter.weightOf(name), clipTone(c)});
    }
    const bool several = parts.size() > 1;
    mix_->setVisible(several);
    fadeRow_->setVisible(several);
    mix_->setParts(std::move(parts));
    mixWords_->setText(
        !state         ? (session_.source() ? tr("The copies are on their way.")
                                            : tr("Open a source on the Gather bench first."))
        : state->score ? tr("Each copy plays the score's loop of %1.")
                             .arg(text(base::secondsText(state->asset.loopSeconds)))
        : several ? tr("How often a copy chooses each clip.")
                  : tr("Each copy plays %1.")
                        .arg(state->asset.clips.empty() ? QString() : text(state->asset.clips[0].name)));
}

void ScatterPanel::buildTravel() {
    column()->addWidget(sectionLabel(tr("Travel")));
    QStringList names;
    QStringList tips;
    for (const scatter::TravelRow& each : scatter::travelRows()) {
        names << tr(each.label).toLower();
        tips << tr(each.about);
    }
    travel_ = new SegmentedChoice(names);
    travel_->setObjectName("travel");
    travel_->setToolTips(tips);
    column()->addWidget(travel_);
    connect(travel_, &SegmentedChoice::picked, this, [this](int i) {
        const scatter::TravelRow& chosen = scatter::travelRows()[static_cast<std::size_t>(i)];
        edit(tr("Travel: %1").arg(tr(chosen.label).toLower()), [&](Choices& c) { c.travel = chosen.travel; });
    });
    const auto speed = [&](const char* name, const QString& what, std::optional<double> Choices::*part) {
        auto* field = new NumberField;
        field->setObjectName(name);
        field->setAccessibleName(what);
        field->setRange(0.0, 1000.0);
        field->setDecimals(2);
        field->setStep(0.02);
        field->setUnit("m/s");
        field->setFixedWidth(92);
        connect(field, &NumberField::edited, this, [this, what, part, field](double v, bool more) {
            // Reset gives back what the feet say.
            const bool own = v == field->property("own").toDouble();
            edit(
                what, [&](Choices& c) { c.*part = own ? std::nullopt : std::optional(v); }, more);
        });
        return field;
    };
    speed_ = speed("copySpeed", tr("Speed of the copies"), &Choices::speed);
    speedRow_ = row(tr("Speed"), speed_, tr("Over the ground, of a copy at the model's own size"));
    fastest_ = speed("copyFastest", tr("Fastest speed of the copies"), &Choices::fastest);
    fastestRow_ =
        row(tr("Up to"), fastest_, tr("Speeds lie between both; each takes the clip that is nearest"));
    facing_ = new NumberField;
    facing_->setObjectName("facing");
    facing_->setAccessibleName(tr("Which way the model looks"));
    facing_->setRange(0, 360);
    facing_->setStep(5);
    facing_->setUnit("°");
    facing_->setFixedWidth(92);
    connect(facing_, &NumberField::edited, this, [this](double v, bool more) {
        const bool own = v == facing_->property("own").toDouble();
        edit(
            tr("Which way the model looks"),
            [&](Choices& c) { c.facing = own ? std::nullopt : std::optional(v / 360.0); }, more);
    });
    facingRow_ = row(tr("The model looks toward"), facing_, tr("0° is +Z, 90° is +X"));
    feet_ = quietLabel();
    feet_->setObjectName("feet");
    column()->addWidget(feet_);
    noSlide_ = new QPushButton;
    noSlide_->setObjectName("noSlide");
    column()->addWidget(noSlide_);
    connect(noSlide_, &QPushButton::clicked, this, [this] {
        edit(tr("Walk as the feet do"), [](Choices& c) {
            c.speed = std::nullopt;
            c.facing = std::nullopt;
        });
    });
}

QString ScatterPanel::feetWords() const {
    const auto state = session_.scatter();
    if (!state || state->score || !state->measured.walking) {
        return state && !state->score && !state->asset.clips.empty()
                   ? tr("No clip's feet go anywhere: all copies move as they are.")
                   : QString();
    }
    const std::size_t walking = *state->measured.walking;
    const scatter::Feet& feet = state->measured.feet[walking];
    if (!feet.walks()) {
        return {};
    }
    const double slide = scatter::slideOf(feet, static_cast<double>(state->crowd.speed),
                                          static_cast<double>(state->crowd.facing));
    return tr("In %1 feet slide %2 a loop; least at %3.")
        .arg(text(state->asset.clips[walking].name), text(base::lengthText(slide)))
        .arg(QString("%1 m\u2060/\u2060s")
                 .arg(static_cast<double>(feet.speed), 0, 'f', 2)); // unbroken at the stroke
}

void ScatterPanel::refreshTravel() {
    const Choices& choices = session_.document().scatter;
    travel_->show(static_cast<int>(choices.travel));
    const auto state = session_.scatter();
    const bool moves = choices.travel != scatter::Travel::still;
    const bool walks = choices.travel == scatter::Travel::wander || choices.travel == scatter::Travel::gaits;
    speedRow_->setVisible(moves);
    fastestRow_->setVisible(choices.travel == scatter::Travel::gaits);
    facingRow_->setVisible(moves);
    const auto show = [](NumberField* field, double value, double own) {
        field->setProperty("own", own);
        field->setDefault(own);
        field->setValue(value);
    };
    if (state) {
        scatter::Choices plain = state->choices;
        plain.speed = plain.fastest = plain.facing = std::nullopt;
        const auto own = scatter::crowdOf(plain, state->asset, state->measured);
        const auto rounded = [](float v) { return std::round(1000.0 * static_cast<double>(v)) / 1000.0; };
        show(speed_, rounded(state->crowd.speed), rounded(own.speed));
        show(fastest_, rounded(state->crowd.fastest), rounded(own.fastest));
        const auto degrees = [](float turns) {
            return std::fmod(std::round(360.0 * static_cast<double>(turns)), 360.0);
        };
        show(facing_, degrees(state->crowd.facing), degrees(own.facing));
    }
    const QString words = walks ? feetWords() : QString();
    feet_->setText(words);
    feet_->setVisible(!words.isEmpty());
    bool slides = false;
    if (walks && state && state->measured.walking && !state->score) {
        const scatter::Feet& feet = state->measured.feet[*state->measured.walking];
        const double way = static_cast<double>(feet.speed) * static_cast<double>(feet.seconds) *
                           static_cast<double>(feet.steps.size());
        slides =
            feet.walks() && choices.travel == scatter::Travel::wander &&
            scatter::slideOf(feet, static_cast<double>(state->crowd.speed),
                             static_cast<double>(state->crowd.facing)) >
                scatter::slideOf(feet, static_cast<double>(feet.speed), static_cast<double>(feet.facing)) +
                    kSeenSlide * way;
        noSlide_->setText(tr("Walk at %1 m/s").arg(static_cast<double>(feet.speed), 0, 'f', 2));
    }
    noSlide_->setVisible(slides);
    setRole(feet_, slides ? "brass" : "quiet");
}

} // namespace ripple::app
