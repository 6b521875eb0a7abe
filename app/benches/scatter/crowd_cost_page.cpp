#include "app/benches/scatter/crowd_cost_page.h"

#include "app/look/panel_parts.h"
#include "app/look/theme.h"
#include "app/look/when_seen.h"
#include "app/session/words.h"
#include "base/units.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace ripple::app {

namespace {

QString nameOf(CostLine::Way way) {
    switch (way) {
    case CostLine::Way::vertices:
        return CrowdCostPage::tr("vertices in textures");
    case CostLine::Way::joints:
        return CrowdCostPage::tr("joints in textures");
    case CostLine::Way::score:
        return CrowdCostPage::tr("score as code");
    case CostLine::Way::processor:
        break;
    }
    return CrowdCostPage::tr("posed by the processor, one draw a copy");
}

QColor toneOf(CostLine::Way way) {
    switch (way) {
    case CostLine::Way::vertices:
        return theme().glass;
    case CostLine::Way::joints:
        return QColor("#8E9BE6");
    case CostLine::Way::score:
        return theme().brass;
    case CostLine::Way::processor:
        break;
    }
    return theme().brick;
}

} // namespace

CrowdCostPage::CrowdCostPage(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      chart_(new CostChart),
      words_(quietLabel()),
      button_(new QPushButton(tr("Measure"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 0);
    column->setSpacing(2);
    column->addWidget(chart_, 1);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(6, 0, 6, 0);
    words_->setObjectName("costWords");
    row->addWidget(words_, 1);
    button_->setObjectName("measureCost");
    button_->setToolTip(tr("Draws 1 to 20 000 copies in each way, out of sight; it takes a minute or so"));
    row->addWidget(button_);
    column->addLayout(row);
    connect(button_, &QPushButton::clicked, this, &CrowdCostPage::measure);
    connect(&job_, &LatestJob::runningChanged, this, [this] { refresh(); });
    auto* seen = new WhenSeen(this, [this] { refresh(); });
    connect(&session_, &Session::scatterChanged, this, [seen] { seen->ask(); });
    connect(&session_, &Session::sourceLoaded, this, [this, seen] {
        job_.cancel();
        report_.reset(); // of another model
        seen->ask();
    });
    refresh();
}

void CrowdCostPage::measure() {
    if (job_.running()) {
        job_.cancel();
        return;
    }
    const auto state = session_.scatter();
    if (!state) {
        return;
    }
    report_.reset();
    const CostMeter meter(state, session_.document().recipe, session_.document().assetName(),
                          CostMeter::makeSurface());
    job_.startTelling<CostReport>(
        [this, meter](base::Progress& progress, const LatestJob::Tell& tell) {
            return meter.measure(progress, [this, &tell](const CostReport& part) {
                tell([this, part] { take(part); }); // done only while this is there and at it
            });
        },
        [this](const CostReport& report) { take(report); },
        [this](const base::Problem& problem) { words_->setText(text(problem.line())); });
}

void CrowdCostPage::take(const CostReport& report) {
    report_ = std::make_shared<const CostReport>(report);
    refresh();
}

void CrowdCostPage::refresh() {
    const auto state = session_.scatter();
    button_->setEnabled(state != nullptr);
    button_->setText(job_.running() ? tr("Stop") : report_ ? tr("Measure again") : tr("Measure"));
    std::vector<CostChart::Line> lines;
    QStringList passes;
    for (std::size_t l = 0; report_ && l < report_->lines.size(); ++l) {
        const CostLine& line = report_->lines[l];
        CostChart::Line shown{
            nameOf(line.way), toneOf(line.way), line.way == CostLine::Way::processor, {}, {}};
        for (const CostLine::Point& point : line.points) {
            shown.points.emplace_back(static_cast<double>(point.copies), point.milliseconds);
            shown.words.push_back(text(base::sizeText(point.bytes)));
        }
        constexpr double kFrame = 1000.0 / 60.0;
        if (const double copies = line.copiesAt(kFrame); copies > 0.0) {
            passes << tr("%1: %2").arg(shown.name, text(base::countText(static_cast<std::size_t>(copies))));
        }
        lines.push_back(std::move(shown));
    }
    chart_->setLines(std::move(lines), state ? static_cast<double>(state->placed.copies.size()) : 0.0,
                     job_.running() ? tr("Measuring…")
                     : state ? tr("How many copies fit into a picture's time? Measure it on this machine.")
                             : tr("There are no copies yet."));
    QString words;
    if (report_) {
        const QString where = tr("%1 × %2 pixels, %3 triangles a copy, on %4")
                                  .arg(report_->size.width())
                                  .arg(report_->size.height())
                                  .arg(text(base::countText(report_->triangles)), report_->machine);
        words = passes.isEmpty() ? where : tr("Copies in 16.7 ms: %1.").arg(passes.join(", "));
        words += report_->problems.isEmpty() ? QString() : " " + report_->problems.join(" ");
        words_->setToolTip(plainTip(where));
    }
    words_->setText(words);
}

} // namespace ripple::app
