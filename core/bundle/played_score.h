#pragma once

#include "bundle/played.h"
#include "bundle/score_reader.h"

#include <optional>

namespace ripple::bundle {

/// A score as code for a mesh: a bundle's, or one that is not written yet.
struct StagedScore {
    const mesh::Mesh& mesh; ///< as it is shipped: with its inputs in UV sets
    const std::vector<PlacedInput>& inputs;
    const motion::Composition& composition;
    double loopSeconds = 0.0;
};
StagedScore staged(const ScoreBundle& bundle);

/// A score as a client plays it: one clip, its loop. Keeps nothing of `staged`.
class PlayedScore final : public Played {
public:
    /// Throws base::Failure where the mesh lacks an input.
    PlayedScore(const StagedScore& staged, std::span<const Fault* const> chosen);

    const mesh::Mesh& mesh() const override { return mesh_; }
    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override;
    double secondsAt(std::size_t, double, double turn) const override { return turn * clips_[0].duration; }

private:
    Why whyNot(const Fault& fault) const;
    void readFromFirstSet();
    void weld();
    bool reads(const std::string& attribute) const;

    mesh::Mesh mesh_; ///< as it is shipped
    mesh::Mesh read_; ///< as the client has it
    std::vector<PlacedInput> inputs_;
    std::optional<ScoreReader> reader_;
};

} // namespace ripple::bundle
