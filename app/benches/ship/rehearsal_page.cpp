#include "app/benches/ship/rehearsal_page.h"

#include "app/benches/ship/ship_words.h"
#include "app/look/panel_parts.h"
#include "base/units.h"
#include "emit/identifier.h"

#include <QHBoxLayout>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

/// "12.3 mm", "4.1°" where no vertex moves, "far off" where what comes out is no number.
QString costOf(const bundle::Rehearsed& seen) {
    if (!std::isfinite(seen.metres)) {
        return RehearsalPage::tr("far off");
    }
    if (seen.metres > 0.0) {
        return text(base::lengthText(seen.metres));
    }
    if (seen.overhang > 0.0) {
        return RehearsalPage::tr("%1 outside").arg(text(base::lengthText(seen.overhang)));
    }
    return seen.degrees > 0.05 ? text(base::degreesText(seen.degrees)) : RehearsalPage::tr("nothing");
}

/// Of a line of Rehearsed::idle, "pivots-lost: it has no pieces", what stands behind the fault's id.
QString whyOf(const std::string& idle) {
    return text(idle.substr(idle.find(' ') + 1));
}

} // namespace

RehearsalPage::RehearsalPage(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      name_(quietLabel()),
      sign_(quietLabel()),
      prevention_(quietLabel()),
      together_(quietLabel()),
      others_(quietLabel()) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(4, 2, 4, 4);
    row->setSpacing(18);
    auto* list = new QWidget;
    auto* column = new QVBoxLayout(list);
    column->setContentsMargins(0, 0, 10, 0);
    column->setSpacing(2);
    for (std::size_t f = 0; f < bundle::faults().size(); ++f) {
        const bundle::Fault& fault = bundle::faults()[f];
        auto* box = new TickBox(begun(fault.what));
        box->setObjectName(QString("fault-") + fault.id);
        box->setToolTip(plainTip(begun(fault.what)));
        auto* cost = quietLabel();
        cost->setWordWrap(false);
        cost->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        auto* line = new QHBoxLayout;
        line->addWidget(box, 1);
        line->addWidget(cost);
        column->addLayout(line);
        connect(box, &TickBox::clicked, this, [this, f](bool on) { tick(f, on); });
        rows_.push_back({box, cost});
    }
    others_->setObjectName("otherFaults");
    column->addWidget(others_);
    column->addStretch(1);
    row->addWidget(scrolled(list), 3);
    auto* words = new QVBoxLayout;
    words->setSpacing(6);
    setRole(name_, "section");
    together_->setObjectName("faultsTogether");
    for (QLabel* label : {name_, sign_, prevention_, together_}) {
        words->addWidget(label);
    }
    words->addStretch(1);
    row->addLayout(words, 2);
    connect(&session_, &Session::rehearsalChanged, this, &RehearsalPage::refresh);
    connect(&session_, &Session::bakeFinished, this, &RehearsalPage::refresh);
    refresh();
}

void RehearsalPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    session_.rehearsal().want(true);
    refresh();
}

void RehearsalPage::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    session_.rehearsal().want(false);
    session_.rehearsal().choose({}); // what is right is drawn again
}

void RehearsalPage::tick(std::size_t row, bool on) {
    last_ = row;
    const std::string id = bundle::faults()[row].id;
    std::vector<std::string> chosen = session_.rehearsal().chosen();
    std::erase(chosen, id);
    if (on) {
        chosen.push_back(id);
    }
    session_.rehearsal().choose(std::move(chosen));
    refresh();
}

QString RehearsalPage::togetherWords() const {
    const RehearsalStage& rehearsal = session_.rehearsal();
    if (rehearsal.chosen().empty()) {
        return rehearsal.ready() ? tr("Tick a fault to see it at the right of the curtain.")
                                 : tr("Faults can be tried as soon as something is baked.");
    }
    if (!rehearsal.together()) {
        return tr("Being worked out…");
    }
    const bundle::Rehearsed& seen = *rehearsal.together();
    if (seen.idle.size() == rehearsal.chosen().size()) {
        return tr("This can't have it: %1.").arg(whyOf(seen.idle[0]));
    }
    QString words = rehearsal.chosen().size() > 1 ? tr("Together: %1").arg(costOf(seen)) : costOf(seen);
    if (seen.metres > 0.0 && seen.degrees > 0.05) {
        words = tr("%1 and normals by %2").arg(words, text(base::degreesText(seen.degrees)));
    }
    if (!seen.worstClip.empty()) {
        words = tr("%1, worst in %2, frame %3")
                    .arg(words, text(seen.worstClip), QString::number(seen.worstFrame, 'f', 1));
    }
    return words;
}

void RehearsalPage::refresh() {
    const RehearsalStage& rehearsal = session_.rehearsal();
    int others = 0;
    QString reasons;
    for (std::size_t f = 0; f < rows_.size(); ++f) {
        const char* id = bundle::faults()[f].id;
        const bool ticked = std::ranges::find(rehearsal.chosen(), id) != rehearsal.chosen().end();
        rows_[f].box->setChecked(ticked);
        rows_[f].box->setEnabled(rehearsal.ready());
        const auto alone = rehearsal.alone().find(id);
        const bool known = alone != rehearsal.alone().end();
        const bool idle = known && !alone->second.idle.empty();
        rows_[f].cost->setText(!known ? QString("…") : idle ? tr("can't be") : costOf(alone->second));
        // What can't happen to this bundle only stands in the way.
        rows_[f].box->setVisible(!idle || ticked);
        rows_[f].cost->setVisible(!idle || ticked);
        if (idle) {
            ++others;
            reasons += (reasons.isEmpty() ? "" : "\n") + begun(bundle::faults()[f].what) + ": " +
                       whyOf(alone->second.idle[0]);
        }
        const bool far = known && alone->second.metres > session_.tolerance();
        setRole(rows_[f].cost, far ? "brass" : "quiet");
    }
    others_->setVisible(others > 0);
    others_->setText(tr("%n fault(s) can't happen to this bundle.", "", others));
    others_->setToolTip(plainTip(reasons));
    const bundle::Fault& shown = bundle::faults()[last_];
    const bool any = !rehearsal.chosen().empty();
    const auto ship = session_.ship();
    const std::string identifier = emit::identifier(!ship          ? ""
                                                    : ship->asCode ? ship->score.name
                                                                   : ship->manifest.name);
    name_->setText(any ? begun(shown.what) : tr("What goes wrong at import"));
    sign_->setVisible(any);
    prevention_->setVisible(any);
    sign_->setText(tr("How it looks: %1.").arg(text(shown.sign)));
    prevention_->setText(
        tr("What prevents it: %1.").arg(text(bundle::withNames(shown.prevention, identifier))));
    together_->setText(togetherWords());
}

} // namespace ripple::app
