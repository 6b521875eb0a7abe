// What a session ships: the sizes of its files, and writing them.

#include "app/session/session.h"

#include "app/session/words.h"

#include "base/files.h"
#include "bundle/import_notes.h"

#include <QFileInfo>

namespace ripple::app {

bundle::Origin Session::origin() const {
    return {document_.source.reading,
            performance_ ? std::make_shared<motion::Score>(document_.score) : nullptr, document_.scoreOnTop};
}

void Session::sizeShip() {
    if (!bake_ || !source_) {
        return;
    }
    const QString folder = bundleFolder();
    const std::string name =
        folder.isEmpty() ? document_.assetName() : QFileInfo(folder).fileName().toStdString();
    const bundle::SourceNote note = bundle::noteOf(origin(), document_.recipe);
    sizeJob_.start<std::shared_ptr<const ShipState>>(
        [source = source_, baked = bake_, name, note](base::Progress& progress) {
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
            ship_ = std::move(state);
            Q_EMIT shipSized();
        },
        [this](base::Problem problem) {
            ship_.reset();
            shipProblem_ = std::move(problem);
            Q_EMIT shipSized();
        });
}

QString Session::bundleFolder() const {
    if (document_.ship.folder.empty()) {
        return {};
    }
    const std::string name = document_.ship.name.empty() ? document_.assetName() : document_.ship.name;
    return pathText((std::filesystem::path(document_.ship.folder) / name).string());
}

void Session::writeBundle() {
    const QString folder = bundleFolder();
    if (!source_ || folder.isEmpty()) {
        return;
    }
    using Report = std::shared_ptr<const bundle::CheckReport>;
    shipProblem_.reset();
    changedSinceWritten_ = false;
    writeJob_.start<Report>(
        [source = source_, recipe = document_.recipe, made = origin(),
         path = pathBytes(folder)](base::Progress& progress) -> Report {
            bundle::writeBundle(*source, recipe, made, path, progress);
            return std::make_shared<bundle::CheckReport>(bundle::check(path, source.get(), progress));
        },
        [this, written = document_](Report report) {
            // What was chosen since is not what was written.
            const bool same = written.source == document_.source && written.recipe == document_.recipe &&
                              written.score == document_.score &&
                              written.scoreOnTop == document_.scoreOnTop && written.ship == document_.ship;
            check_ = same ? std::move(report) : nullptr;
            changedSinceWritten_ = !same;
            Q_EMIT bundleWritten();
        },
        [this](base::Problem problem) {
            shipProblem_ = std::move(problem);
            Q_EMIT shipFailed();
        });
}

} // namespace ripple::app
