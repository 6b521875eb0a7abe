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
    owed_ = false;
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

void ShipStage::want(bool wanted) {
    wanted_ = wanted;
    if (wanted_ && owed_) {
        soon_.start();
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

bool ShipStage::asCode() const {
    return document_.ship.asCode && performance_.performance() && !performance_.scoreOnTop();
}

bundle::ScoreChoices ShipStage::choices() const {
    bundle::ScoreChoices choices;
    choices.sine = document_.ship.exactSine ? emit::Sine::exact : emit::Sine::own;
    choices.storeMasks = document_.ship.storeMasks;
    choices.target = document_.ship.target;
    choices.page = document_.ship.page;
    // Of the copies that were scattered, too.
    const scatter::Differences& copies = document_.scatter.differences;
    choices.copySizes = {std::min(choices.copySizes[0], copies.leastSize),
                         std::max(choices.copySizes[1], copies.mostSize)};
    if (document_.ship.half && performance_.source()) {
        choices.halfWithin = document_.tolerance.metres(bake::assetSize(performance_.source()->mesh()));
    }
    return choices;
}

namespace {

using State = std::shared_ptr<const ShipState>;

void takeFiles(const std::string& name, const std::vector<bundle::PlannedFile>& files, ShipState& state) {
    for (const bundle::PlannedFile& file : files) {
        state.files.push_back({file.file, file.bytes.size()});
        for (const emit::Dialect* dialect : emit::dialects()) {
            if (file.file == name + "." + dialect->id()) {
                state.code[dialect->id()] = std::string(base::asText(file.bytes));
            }
        }
    }
}

State sizeBake(const source::FrameSource& source, const BakeState& baked, const bake::Recipe& recipe,
               const std::string& name, const bundle::SourceNote& note, base::Progress& progress) {
    auto state = std::make_shared<ShipState>();
    // What is looked at is baked in metres and glTF's axes; other axes, or narrower textures, are other
    // bytes.
    const bake::Recipe fitted = note.delivery.target.fitted(recipe);
    std::optional<bake::Baked> own;
    if (note.delivery.target.space().changes() || fitted != recipe) {
        own = bundle::bakeFor(note.delivery.target, source, bake::planSampling(source, fitted, progress),
                              fitted, progress);
    }
    bundle::EncodedBundle encoded =
        bundle::encodeBundle(source, own ? *own : baked.baked, name, note, progress, &baked.error);
    takeFiles(name, encoded.files, *state);
    state->manifest = std::move(encoded.manifest);
    state->notesBytes =
        bundle::manifestText(state->manifest).size() + bundle::importNotes(state->manifest).size();
    state->cost = bundle::costOfBake(state->manifest, source.mesh());
    return state;
}

State sizeCode(const source::FrameSource& source, const bundle::Origin& origin, const std::string& name,
               const bundle::ScoreChoices& choices, base::Progress& progress) {
    auto state = std::make_shared<ShipState>();
    state->asCode = true;
    const bundle::ScoreOnMesh on = bundle::scoreOnMesh(*origin.score, source.mesh(), choices, progress);
    bundle::EncodedScore encoded = bundle::encodeScore(on, origin, name, choices);
    std::erase_if(encoded.files, [&](const bundle::PlannedFile& file) { // counted with the manifest
        const bool notes = file.file == "IMPORT.md";
        state->notesBytes = notes ? file.bytes.size() : state->notesBytes;
        return notes;
    });
    takeFiles(name, encoded.files, *state);
    state->score = std::move(encoded.manifest);
    state->notesBytes += bundle::scoreManifestText(state->score).size();
    state->cost = bundle::costOfScore(on, choices, source.mesh(), progress);
    return state;
}

} // namespace

void ShipStage::size() {
    if (!performance_.source() || (!bake_.result() && !asCode())) {
        return;
    }
    owed_ = !wanted_;
    if (owed_) {
        sized_.reset(); // sizes and code of what was before are shown nowhere
        Q_EMIT sizedChanged();
        return;
    }
    const QString to = folder();
    const std::string name = to.isEmpty() ? document_.assetName() : QFileInfo(to).fileName().toStdString();
    const auto take = [this](State state) {
        sized_ = std::move(state);
        Q_EMIT sizedChanged();
    };
    const auto fail = [this](base::Problem problem) {
        sized_.reset();
        problem_ = std::move(problem);
        Q_EMIT sizedChanged();
    };
    if (asCode()) {
        sizeJob_.start<State>(
            [source = performance_.source(), made = origin(), name, choices = choices()](
                base::Progress& progress) { return sizeCode(*source, made, name, choices, progress); },
            take, fail);
        return;
    }
    sizeJob_.start<State>(
        [source = performance_.source(), baked = bake_.result(), name, recipe = document_.recipe,
         note = bundle::noteOf(origin(), document_.recipe, delivery())](base::Progress& progress) {
            return sizeBake(*source, *baked, recipe, name, note, progress);
        },
        take, fail);
}

bundle::Delivery ShipStage::delivery() const {
    return {document_.ship.target, document_.ship.page, document_.scatter.levels};
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
        [source = performance_.source(), recipe = document_.recipe, made = origin(), code = asCode(),
         delivery = delivery(), choices = choices(),
         path = pathBytes(to)](base::Progress& progress) -> Report {
            if (code) {
                bundle::writeScoreBundle(*source, made, path, choices, progress);
            } else {
                bundle::writeBundle(*source, recipe, made, path, progress, delivery);
            }
            return std::make_shared<bundle::CheckReport>(bundle::check(path, source.get(), progress));
        },
        [this, before = std::move(before)](Report report) {
            // What was chosen since is not what was written.
            const bool same = before.source == document_.source && before.recipe == document_.recipe &&
                              before.score == document_.score && before.scoreOnTop == document_.scoreOnTop &&
                              before.ship == document_.ship &&
                              before.scatter.levels == document_.scatter.levels;
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
