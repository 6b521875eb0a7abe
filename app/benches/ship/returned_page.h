#pragma once

#include "app/jobs/latest_job.h"
#include "app/session/session.h"
#include "bundle/returned.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

#include <memory>
#include <optional>

namespace ripple::app {

/// Files of the bundle that was written, as an importer wrote them again: what was done to them, what that
/// costs, and the setting that prevents it.
class ReturnedPage : public QWidget {
    Q_OBJECT
public:
    explicit ReturnedPage(Session& session, QWidget* parent = nullptr);
    /// Compares the files in a folder; while that runs, a click on the button stops it.
    void check(const QString& folder);
    std::shared_ptr<const bundle::ReturnedReport> report() const { return report_; }
    bool checking() const { return job_.running(); }

private:
    void refresh();
    void addFile(const bundle::ReturnedFile& file);

    Session& session_;
    LatestJob job_;
    QString folder_;
    std::shared_ptr<const bundle::ReturnedReport> report_;
    std::optional<base::Problem> problem_;
    QLabel* words_;
    QPushButton* button_;
    QVBoxLayout* column_;
};

} // namespace ripple::app
