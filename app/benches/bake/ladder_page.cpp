#include "app/benches/bake/ladder_page.h"

#include "app/look/elided_label.h"
#include "app/look/panel_parts.h"
#include "app/look/when_seen.h"
#include "app/session/words.h"
#include "base/units.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace ripple::app {

LadderPage::LadderPage(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      chart_(new LadderChart),
      tolerance_(new NumberField),
      other_(new QPushButton),
      words_(new ElidedLabel({}, "quiet", Qt::ElideRight)),
      take_(new QPushButton(tr("Use this"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 0);
    column->setSpacing(2);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(6, 0, 6, 0);
    row->setSpacing(6);
    tolerance_->setObjectName("tolerance");
    tolerance_->setAccessibleName(tr("Tolerance"));
    tolerance_->setFixedWidth(76);
    other_->setObjectName("toleranceOther");
    other_->setProperty("role", "link");
    other_->setCursor(Qt::PointingHandCursor);
    take_->setObjectName("takeCheapest");
    words_->setObjectName("cheapest");
    auto* most = quietLabel(tr("Tolerance"));
    most->setWordWrap(false);
    most->setToolTip(
        tr("How large the maximum error may be: a length, or a share of the size of the rest pose"));
    row->addWidget(most);
    words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred); // long words make no wider window
    row->addWidget(tolerance_);
    row->addWidget(other_);
    row->addWidget(words_, 1);
    row->addWidget(take_);
    column->addLayout(row);
    column->addWidget(chart_, 1);
    connect(tolerance_, &NumberField::edited, this, [this](double value, bool more) {
        setTolerance(value, session_.document().tolerance.length.has_value(), more);
    });
    connect(tolerance_, &NumberField::editedIn, this,
            [this](double value) { setTolerance(value, !session_.document().tolerance.length, false); });
    connect(other_, &QPushButton::clicked, this, [this] {
        const double metres = session_.tolerance();
        const bool length = session_.document().tolerance.length.has_value();
        const double share = metres / session_.assetSize();
        setTolerance(length ? 100.0 * share : 1000.0 * metres, !length, false);
    });
    connect(chart_, &LadderChart::toleranceDragged, this,
            [this](double metres, bool more) { setTolerance(1000.0 * metres, true, more); });
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

/// `value`: millimetres if it is a `length`, else per cent of the size.
void LadderPage::setTolerance(double value, bool length, bool continuing) {
    session_.edit(
        tr("Tolerance"),
        [value, length](project::Document& d) {
            if (length) {
                d.tolerance.length = 0.001 * value;
            } else {
                d.tolerance = {0.01 * value, std::nullopt};
            }
        },
        session_.gesture(continuing));
}

void LadderPage::refreshTolerance() {
    const bake::Tolerance& tolerance = session_.document().tolerance;
    const bool length = tolerance.length.has_value();
    const double metres = session_.tolerance();
    const double size = session_.assetSize();
    tolerance_->setRange(1e-4, length ? 1e6 : 100.0);
    tolerance_->setDecimals(4);
    tolerance_->setStep(length ? 0.1 : 0.01);
    tolerance_->setUnit(length ? "mm" : "%");
    tolerance_->setOtherUnit(length ? "%" : "mm");
    tolerance_->setDefault(length && size > 0.0 ? bake::Tolerance().metres(size) * 1000.0 : 0.1);
    tolerance_->setValue(length ? 1000.0 * metres : 100.0 * tolerance.share);
    other_->setVisible(size > 0.0);
    other_->setText(length ? tr("%1 %").arg(100.0 * metres / std::max(size, 1e-12), 0, 'g', 2)
                           : tr("= %1").arg(text(base::lengthText(metres))));
    other_->setToolTip(length ? tr("Keep the tolerance as a share of the size instead")
                              : tr("Keep the tolerance as a length instead"));
}

void LadderPage::refresh() {
    const auto ladder = session_.ladder();
    const double tolerance = session_.tolerance();
    refreshTolerance();
    chart_->setTolerance(tolerance);
    chart_->setLadder(ladder, session_.document().recipe);
    const auto rung = ladder ? bake::cheapest(*ladder, tolerance) : std::nullopt;
    take_->setEnabled(rung.has_value());
    QString words;
    if (rung) {
        const bake::Rung& best = ladder->rungs[*rung];
        words = tr("Cheapest: %1, max error %2")
                    .arg(text(base::sizeText(best.memory)), text(base::lengthText(best.error)));
        take_->setToolTip(tr("Store as %1").arg(text(best.label())));
    } else if (ladder && ladder->complete()) {
        words = ladder->rungs.empty()
                    ? tr("There is no way to store this source.")
                    : tr("Nothing is that precise: allow more, or sample at a higher rate.");
    }
    if (session_.ladderJob().running() && ladder) {
        words += (words.isEmpty() ? QString() : QString(" · ")) +
                 tr("%1 of %2 measured").arg(ladder->tried).arg(ladder->planned);
    }
    if (session_.bakeHeld()) {
        words = tr("Ways to store are compared once the bake is made.");
    }
    words_->setText(words);
}

} // namespace ripple::app
