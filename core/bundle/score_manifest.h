#pragma once

#include "bundle/manifest.h"
#include "bundle/score_inputs.h"
#include "motion/loop_bounds.h"

namespace ripple::bundle {

/// A parameter as the code takes it.
struct ScoreParameter {
    std::string name; ///< as spelled in the code
    std::string help;
    std::string unit; ///< "metres", "degrees", "turns"; empty for plain numbers
    bool whole = false;
    double usual = 0.0; ///< the default
    double least = 0.0;
    double most = 0.0;
    bool operator==(const ScoreParameter&) const = default;
};

/// NAME.bundle.json of a score as code: `kind` is "score", `version` 3 (docs/bundle-format.md). Its
/// origin has the score.
struct ScoreManifest : ManifestHead {
    double loopSeconds = 0.0;
    /// ManifestHead::bounds hold every copy, wherever it stands and however it is turned, of these sizes
    /// (factors); these those that are neither turned nor scaled. None in files of older versions, whose
    /// bounds hold the copy at the world's origin, neither turned nor scaled.
    std::optional<motion::CopySizes> copySizes;
    mesh::Bounds unturnedBounds;
    std::vector<ScoreParameter> parameters;
    std::vector<PlacedInput> inputs;
    std::vector<std::string> languages; ///< "glsl"
    bool exactSine = false;
    /// What of the model the code was made for, beside the mesh's size: UV sets, base texture, stored values.
    motion::Model model;
    bool storesMasks = false;             ///< masks and courses were evaluated and are inputs
    std::optional<double> halfLossMetres; ///< the code is in half precision, and loses that
    double halfLossDeg = 0.0;             ///< and that of normals
    std::optional<double> normalLossDeg;  ///< what normals lose by masks that are stored without slopes
};

/// The JSON text, as manifestText() makes it.
std::string scoreManifestText(const ScoreManifest& manifest);
/// Throws base::Failure with `where` and the key.
ScoreManifest parseScoreManifest(const std::string& text, const std::string& where);

/// Whether the code asks for a copy's size; else bounds hold copies of any.
bool readsCopyScale(const ScoreManifest& manifest);

} // namespace ripple::bundle
