#pragma once

#include "bundle/score_inputs.h"
#include "bundle/score_manifest.h"
#include "mesh/mesh.h"
#include "motion/compose_score.h"
#include "motion/evaluate.h"

#include <array>
#include <filesystem>
#include <span>

namespace ripple::bundle {

/// A score's bundle as a reader gets it: from its files alone.
struct ScoreBundle {
    ScoreManifest manifest;
    mesh::Mesh mesh; ///< rest pose, UV sets and colours, in which the inputs lie
    motion::Composition composition;
};
/// Reads manifest and mesh. Throws base::Failure: missing or damaged files, another number of vertices than
/// the manifest says.
ScoreBundle readScoreBundle(const std::filesystem::path& directory);

/// What the score's code makes of the inputs that a mesh holds, by the parameters' defaults.
class ScoreReader {
public:
    /// `mesh` must outlive it. Throws base::Failure for inputs that the mesh does not have.
    ScoreReader(const mesh::Mesh& mesh, const std::vector<PlacedInput>& inputs,
                const motion::Composition& composition);

    /// The pose of a copy in its own space; metres, glTF's axes. `turn`: 0 ≤ turn < 1. `normals` may be
    /// empty.
    void pose(double turn, const motion::Copy& copy, std::span<glm::vec3> positions,
              std::span<glm::vec3> normals) const;
    /// Of a copy at the origin, not turned, of size 1 and with the id 0.
    void pose(double turn, std::span<glm::vec3> positions, std::span<glm::vec3> normals) const {
        pose(turn, {}, positions, normals);
    }

private:
    ReadInputs inputs_;
    std::array<motion::NodeId, 2> roots_;
    motion::Evaluator evaluator_;
};

} // namespace ripple::bundle
