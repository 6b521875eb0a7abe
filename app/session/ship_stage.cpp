#include "app/session/ship_stage.h"

#include "app/session/words.h"

#include "base/files.h"
#include "bundle/import_notes.h"

#include <QFileInfo>

namespace ripple::app {

ShipStage::ShipStage(const project::Document& document, PerformanceStage& performance, BakeStage& bake)
    : Computed(&bake),
      document_(document),
      performance_(performance),
      bake_(bake) {
    soon_.setSingleShot(true);
    connect(&soon_, &QTimer::timeout, this, [this] {
        if (bake_.current()) { // else what moves is another by now, and its bake comes first
            size();
        }
    });
    connect(&bake.job(), &LatestJob::cancelled, &soon_, qOverload<>(&QTimer::start));
}

void ShipStage::clear() {
    soon_.stop();
    sized_.reset();
    check_.reset();
    changedSinceWritten_ = false;
    problem_.reset();
}

void ShipStage::sizeSoon() {
    if (bake_.result()) {
        soon_.start(); // the picture of the bake comes first
    } else {
        sized_.reset();
        Q_EMIT sizedChanged();
    }
}

void ShipStage::stopSizing() {
    soon_.stop();
    sizeJob_.cancel();
}

void ShipStage::documentChanged() {
    changedSinceWritten_ = changedSinceWritten_ || check_;
    check_.reset();
    problem_.reset();
}

bundle::Origin ShipStage::origin() const {
    return {document_.source.reading,
            performance_.performance() ? std::make_shared<motion::Score>(performance_.score()) : nullptr,
            performance_.scoreOnTop()};
}

void ShipStage::size() {
    if (!bake_.result() || !performance_.source()) {
        return;
    }
    const QString to = folder();
    const std::string name = to.isEmpty() ? document_.assetName() : QFileInfo(to).fileName().toStdString();
    const bundle::SourceNote note = bundle::noteOf(origin(), document_.recipe);
    sizeJob_.start<std::shared_ptr<const ShipState>>(
        [source = performance_.source(), baked = bake_.result(), name, note](base::Progress& progress) {
            auto state = std::make_shared<ShipState>();
            bundle::EncodedBundle encoded =
                bundle::encodeBundle(*source, baked->baked, name, note, progress, &baked->error);
            for (const bundle::PlannedFile& file : encoded.files) {
                state->files.push_back({file.file, file.bytes.size()});
                if (file.file.ends_with(".glsl")) {
                    state->code = std::string(base::asText(file.bytes));
                }
            }
            state->manifest = std::move(encoded.manifest);
            state->notesBytes =
                bundle::manifestText(state->manifest).size() + bundle::importNotes(state->manifest).size();
            return std::shared_ptr<const ShipState>(state);
        },
        [this](std::shared_ptr<const ShipState> state) {
            sized_ = std::move(state);
            Q_EMIT sizedChanged();
        },
        [this](base::Problem problem) {
            sized_.reset();
            problem_ = std::move(problem);
            Q_EMIT sizedChanged();
        });
}

QString ShipStage::folder() const {
    if (document_.ship.folder.empty()) {
        return {};
    }
    const std::string name = document_.ship.name.empty() ? document_.assetName() : document_.ship.name;
    return pathText((std::filesystem::path(document_.ship.folder) / name).string());
}

void ShipStage::write() {
    const QString to = folder();
    if (!performance_.source() || to.isEmpty()) {
        return;
    }
    using Report = std::shared_ptr<const bundle::CheckReport>;
    problem_.reset();
    changedSinceWritten_ = false;
    project::Document before = document_; // as it is written
    before.score = performance_.score();
    before.scoreOnTop = performance_.scoreOnTop();
    writeJob_.start<Report>(
        [source = performance_.source(), recipe = document_.recipe, made = origin(),
         path = pathBytes(to)](base::Progress& progress) -> Report {
            bundle::writeBundle(*source, recipe, made, path, progress);
            return std::make_shared<bundle::CheckReport>(bundle::check(path, source.get(), progress));
        },
        [this, before = std::move(before)](Report report) {
            // What was chosen since is not what was written.
            const bool same = before.source == document_.source && before.recipe == document_.recipe &&
                              before.score == document_.score && before.scoreOnTop == document_.scoreOnTop &&
                              before.ship == document_.ship;
            check_ = same ? std::move(report) : nullptr;
            changedSinceWritten_ = !same;
            Q_EMIT written();
        },
        [this](base::Problem problem) {
            problem_ = std::move(problem);
            Q_EMIT failed();
        });
}

} // namespace ripple::app
