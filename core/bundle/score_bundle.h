#pragma once

#include "base/no_progress.h"
#include "bundle/score_manifest.h"
#include "bundle/write_bundle.h"
#include "emit/dialect.h"
#include "emit/score_code.h"
#include "motion/half_precision.h"
#include "motion/perform.h"
#include "source/frame_source.h"

#include <filesystem>

namespace ripple::bundle {

/// What a person chooses of a score as code.
struct ScoreChoices {
    std::vector<const emit::Dialect*> languages = emit::dialects();
    emit::Sine sine = emit::Sine::own;
    /// Each voice's mask and course are evaluated at the vertices and stored: shorter code, and meshes that
    /// are merged keep them.
    bool storeMasks = false;
    /// Masks, shapes and normals in 16-bit floats (motion/half_precision.h), where the motion loses no more
    /// than this by it: metres; above 0.
    std::optional<double> halfWithin = {};
    /// Its axes, unit, V, languages (those of `languages` that it has) and clock.
    Target target = {};
    Page page = Page::none;
    motion::CopySizes copySizes = motion::kUsualCopySizes; ///< that bounds hold for
    bool operator==(const ScoreChoices&) const = default;
};

/// A score as code for one mesh: what its files are made of.
struct ScoreOnMesh {
    motion::Score score;
    std::shared_ptr<const motion::Performance> performance; ///< whose graph the code is printed from
    ScoreMesh mesh;
    motion::LoopBounds bounds;                 ///< metres, in glTF's axes
    std::optional<double> normalLossDeg;       ///< see ScoreManifest
    std::optional<bake::ErrorReport> halfLoss; ///< what half precision loses, where it is chosen
};
/// Throws base::Failure: what the mesh lacks, or has no room for.
ScoreOnMesh scoreOnMesh(const motion::Score& score, const mesh::Mesh& mesh, const ScoreChoices& choices,
                        const base::Progress& progress = base::noProgress());

/// The functions, named after the bundle; throws base::Failure for parameters' names (emit::scoreCode).
emit::ScoreCode codeOf(const ScoreOnMesh& on, const emit::Dialect& dialect, const std::string& name,
                       const ScoreChoices& choices);
/// What they are called with in a vertex stage; and that whole stage.
emit::VertexStage stageOf(const ScoreOnMesh& on, const emit::Dialect& dialect, const std::string& name,
                          const ScoreChoices& choices);
std::string exampleOf(const ScoreOnMesh& on, const emit::Dialect& dialect, const std::string& name,
                      const ScoreChoices& choices);

/// Manifest and files, but for the manifest's own, before they are written. `name` is the bundle's.
struct EncodedScore {
    ScoreManifest manifest;
    std::vector<PlannedFile> files;
};
EncodedScore encodeScore(const ScoreOnMesh& on, const Origin& origin, const std::string& name,
                         const ScoreChoices& choices);

/// Writes a bundle without textures: mesh, code and vertex stages in each language, manifest, IMPORT.md. All
/// or nothing, as writeBundle(). `origin` has the score. Throws base::Failure; base::Cancelled.
ScoreManifest writeScoreBundle(const source::FrameSource& source, const Origin& origin,
                               const std::filesystem::path& directory, const ScoreChoices& choices,
                               base::Progress& progress);

} // namespace ripple::bundle
