#include "app/benches/bake/ladder_page.h"

#include "app/shell/panel_parts.h"
#include "app/shell/words.h"
#include "app/shell/when_seen.h"
#include "base/units.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace ripple::app {

LadderPage::LadderPage(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      chart_(new LadderChart),
      tolerance_(new NumberField),
      words_(quietLabel()),
      take_(new QPushButton(tr("Take it"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 0);
    column->setSpacing(2);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(10, 0, 10, 0);
    row->setSpacing(8);
    tolerance_->setObjectName("tolerance");
    tolerance_->setRange(0.0001, 1000.0);
    tolerance_->setDecimals(4);
    tolerance_->setUnit("mm");
    tolerance_->setDefault(0.5);
    tolerance_->setFixedWidth(92);
    take_->setObjectName("takeCheapest");
    words_->setWordWrap(false);
    words_->setObjectName("cheapest");
    auto* most = quietLabel(tr("Off by at most"));
    most->setWordWrap(false);
    row->addWidget(most);
    words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred); // long words make no wider window
    row->addWidget(tolerance_);
    row->addWidget(words_, 1);
    row->addWidget(take_);
    column->addLayout(row);
    column->addWidget(chart_, 1);
    const auto setTolerance = [this](double metres, bool more) {
        session_.edit(
            tr("Tolerance"), [metres](project::Document& d) { d.tolerance = metres; },
            session_.gesture(more));
    };
    connect(tolerance_, &NumberField::edited, this,
            [setTolerance](double mm, bool more) { setTolerance(mm * 0.001, more); });
    connect(chart_, &LadderChart::toleranceDragged, this, setTolerance);
    connect(chart_, &LadderChart::rungTaken, this, [this](int rung) {
        session_.takeRung(session_.ladder()->rungs[static_cast<std::size_t>(rung)]);
    });
    connect(take_, &QPushButton::clicked, this, [this] {
        if (const auto rung = chart_->cheapest()) {
            session_.takeRung(session_.ladder()->rungs[*rung]);
        }
    });
    auto* seen = new WhenSeen(this, [this] { refresh(); });
    connect(&session_, &Session::ladderChanged, this, [seen] { seen->ask(); });
    connect(&session_, &Session::bakeFinished, this, [seen] { seen->ask(); });
    connect(&session_, &Session::documentChanged, this, [seen](unsigned changes) {
        if (changes & (kRecipeChange | kToleranceChange | kSourceChange)) {
            seen->ask();
        }
    });
    refresh();
}

void LadderPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    session_.wantLadder(true);
}

void LadderPage::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    session_.wantLadder(false);
}

void LadderPage::refresh() {
    const auto ladder = session_.ladder();
    const double tolerance = session_.document().tolerance;
    tolerance_->setValue(tolerance * 1000.0);
    chart_->setTolerance(tolerance);
    chart_->setLadder(ladder, session_.document().recipe);
    const auto rung = ladder ? bake::cheapest(*ladder, tolerance) : std::nullopt;
    take_->setEnabled(rung.has_value());
    QString words;
    if (rung) {
        const bake::Rung& best = ladder->rungs[*rung];
        words = tr("cheapest: %1, off by %2")
                    .arg(text(base::sizeText(best.memory)), text(base::lengthText(best.error)));
        take_->setToolTip(tr("Store as %1").arg(text(best.label())));
    } else if (ladder && ladder->complete()) {
        words = ladder->rungs.empty() ? tr("no way to store is possible")
                                      : tr("nothing is as precise: allow more, or sample at a higher rate");
    }
    if (session_.ladderJob().running() && ladder) {
        words += (words.isEmpty() ? QString() : QString(" · ")) +
                 tr("measured %1 of %2").arg(ladder->tried).arg(ladder->planned);
    }
    if (session_.bakeHeld()) {
        words = tr("measured once the bake is made");
    }
    words_->setText(words);
}

} // namespace ripple::app
