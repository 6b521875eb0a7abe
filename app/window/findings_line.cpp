#include "app/window/findings_line.h"

#include "app/look/elided_label.h"
#include "app/session/words.h"

#include "app/window/rail.h"

#include <QHBoxLayout>
#include <QPainter>

namespace ripple::app {

class FindingsLine::LampLight : public QWidget {
public:
    LampLight() { setFixedSize(18, 18); }
    void set(Lamp lamp) {
        lamp_ = lamp;
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        paintLamp(painter, QRectF(rect()).center(), 6.5, lamp_);
    }

private:
    Lamp lamp_ = Lamp::untouched;
};

FindingsLine::FindingsLine(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      lamp_(new LampLight),
      words_(new ElidedLabel({}, "", Qt::ElideRight)),
      fix_(new QPushButton),
      other_(new QPushButton),
      figures_(new QLabel) {
    setObjectName("findingsLine");
    setAttribute(Qt::WA_StyledBackground);
    setFixedHeight(34);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(15, 2, 14, 2);
    row->setSpacing(9);
    words_->setObjectName("findingWords");
    words_->setMinimumWidth(50);
    words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    fix_->setObjectName("findingFix");
    figures_->setTextFormat(Qt::PlainText);
    figures_->setProperty("role", "quiet");
    row->addWidget(lamp_);
    row->addWidget(words_, 1);
    row->addWidget(fix_);
    row->addWidget(other_);
    other_->setObjectName("findingOther");
    other_->hide();
    row->addWidget(figures_);
    connect(fix_, &QPushButton::clicked, this, [this] { answer(action_); });
    connect(other_, &QPushButton::clicked, this, [this] { answer(otherAction_); });
    connect(&session_, &Session::sourceLoaded, this, &FindingsLine::refresh);
    connect(&session_, &Session::scoreChanged, this, &FindingsLine::refresh);
    connect(&session_, &Session::densitiesMeasured, this, &FindingsLine::refresh);
    connect(&session_, &Session::foldsMeasured, this, &FindingsLine::refresh);
    connect(&session_, &Session::bakeFinished, this, &FindingsLine::refresh);
    connect(&session_, &Session::scatterChanged, this, &FindingsLine::refresh);
    connect(&session_, &Session::surveyed, this, &FindingsLine::refresh);
    connect(&session_, &Session::bundleWritten, this, &FindingsLine::refresh);
    connect(&session_, &Session::shipFailed, this, &FindingsLine::refresh);
    connect(&session_, &Session::ladderChanged, this, [this] {
        if (!session_.ladderJob().running()) { // then the cheapest way to store is known
            refresh();
        }
    });
    connect(&session_, &Session::documentChanged, this, [this](unsigned changes) {
        if (changes & kToleranceChange) {
            refresh();
        }
    });
    hold_.setSingleShot(true);
    connect(&hold_, &QTimer::timeout, this, &FindingsLine::refresh);
    refresh();
}

void FindingsLine::answer(const std::function<void()>& action) {
    const bool asked = asking_;
    asking_ = false;
    if (const auto run = action) { // it may change what stands here
        run();
    }
    if (asked) {
        refresh();
    }
}

void FindingsLine::ask(const QString& text, OpenFix yes, OpenFix no) {
    asking_ = false;
    hold_.stop();
    say(text, Lamp::look);
    action_ = std::move(yes.run);
    otherAction_ = std::move(no.run);
    fix_->setText(yes.label);
    other_->setText(no.label);
    fix_->show();
    other_->show();
    asking_ = true;
}

void FindingsLine::tell(const QString& text, Lamp lamp) {
    constexpr int kSeconds = 7;
    hold_.stop();
    say(text, lamp);
    hold_.start(kSeconds * 1000);
}

void FindingsLine::say(const QString& text, Lamp lamp) {
    if (asking_ || hold_.isActive()) {
        return;
    }
    other_->hide();
    lamp_->set(lamp);
    words_->setText(text);
    words_->setToolTip(plainTip(text));
    fix_->hide();
}

void FindingsLine::refresh() {
    if (asking_ || hold_.isActive()) {
        return;
    }
    const std::vector<OpenFinding> findings = openFindings(session_);
    if (!session_.source() && findings.empty()) {
        return say(tr("Open a deforming mesh to begin."), Lamp::untouched);
    }
    if (findings.empty() || static_cast<int>(findings[0].lamp) <= static_cast<int>(Lamp::fine)) {
        return say(tr("No open findings."), Lamp::fine);
    }
    const OpenFinding& worst = findings[0];
    const QString bench = benchName(static_cast<std::size_t>(benchIndex(worst.bench.toStdString())));
    say(tr("%1: %2. %3").arg(bench, worst.title, worst.words), worst.lamp);
    if (!worst.fixes.empty()) {
        action_ = worst.fixes[0].run;
        fix_->setText(worst.fixes[0].label);
        fix_->show();
    }
}

} // namespace ripple::app
