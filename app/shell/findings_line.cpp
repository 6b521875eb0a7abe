#include "app/shell/findings_line.h"

#include "app/shell/rail.h"

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
      words_(new QLabel),
      fix_(new QPushButton),
      figures_(new QLabel) {
    setObjectName("findingsLine");
    setAttribute(Qt::WA_StyledBackground);
    setFixedHeight(34);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(15, 2, 14, 2);
    row->setSpacing(9);
    words_->setTextFormat(Qt::PlainText);
    words_->setObjectName("findingWords");
    words_->setMinimumWidth(50);
    words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    fix_->setObjectName("findingFix");
    figures_->setProperty("role", "quiet");
    row->addWidget(lamp_);
    row->addWidget(words_, 1);
    row->addWidget(fix_);
    row->addWidget(figures_);
    connect(fix_, &QPushButton::clicked, this, [this] {
        if (action_) {
            action_();
        }
    });
    connect(&session_, &Session::sourceLoaded, this, &FindingsLine::refresh);
    connect(&session_, &Session::bakeFinished, this, &FindingsLine::refresh);
    connect(&session_, &Session::surveyed, this, &FindingsLine::refresh);
    connect(&session_, &Session::bundleWritten, this, &FindingsLine::refresh);
    connect(&session_, &Session::shipFailed, this, &FindingsLine::refresh);
    refresh();
}

void FindingsLine::say(const QString& text, Lamp lamp) {
    lamp_->set(lamp);
    words_->setText(text);
    words_->setToolTip(text);
    fix_->hide();
}

void FindingsLine::refresh() {
    const std::vector<OpenFinding> findings = openFindings(session_);
    if (!session_.source() && findings.empty()) {
        return say(tr("Open a deforming mesh to begin."), Lamp::untouched);
    }
    if (findings.empty() || static_cast<int>(findings[0].lamp) <= static_cast<int>(Lamp::fine)) {
        return say(tr("Nothing open: ready to ship."), Lamp::fine);
    }
    const OpenFinding& worst = findings[0];
    const QString bench = kBenches[static_cast<std::size_t>(benchIndex(worst.bench.toStdString()))].name;
    say(bench + ": " + worst.title + ". " + worst.words, worst.lamp);
    if (!worst.fixes.empty()) {
        action_ = worst.fixes[0].run;
        fix_->setText(worst.fixes[0].label);
        fix_->show();
    }
}

} // namespace ripple::app
