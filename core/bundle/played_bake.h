#pragma once

#include "bake/bake.h"
#include "bundle/instants.h"
#include "bundle/played.h"
#include "bundle/read_bundle.h"

#include <optional>

namespace ripple::bundle {

/// What is played: a bundle's, or a bake's that is not written yet.
struct Staged {
    const bake::TextureSet& textures;
    std::span<const std::uint32_t> columnOfVertex; ///< vertices
    const mesh::Mesh& mesh;                        ///< in the pose that is shipped
};

/// A bake as a client plays it. Keeps nothing of `staged`.
class PlayedBake final : public Played {
public:
    PlayedBake(const Staged& staged, std::span<const Fault* const> chosen);

    const mesh::Mesh& mesh() const override { return mesh_; }
    /// Times beside a clip's frames give what a client reads there.
    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override;
    double secondsAt(std::size_t clip, double frame, double) const override { return frame / rate(clip); }
    /// Frames of a clip that it counts in a second: as stored, 1 where there is no rate.
    double rate(std::size_t clip) const { return clips_[clip].fps; }

private:
    mesh::Mesh mesh_;                     ///< as it is shipped
    std::vector<bake::BakedClip> stored_; ///< as the bundle has them
    bake::TextureSet textures_;           ///< as the client has them
    std::vector<std::uint32_t> columns_;  ///< vertices
    std::vector<glm::vec3> imported_;     ///< the mesh's places and normals as the client has them
    std::vector<glm::vec3> importedNormals_;
    std::optional<bake::TextureReader> reader_;
};

/// The bake as the client's data are with those of the chosen faults that lie in them (spoilsData()). `mesh`:
/// in the pose that is shipped.
bake::Baked spoiltBake(const bake::Baked& baked, const mesh::Mesh& mesh,
                       std::span<const Fault* const> chosen);

} // namespace ripple::bundle
