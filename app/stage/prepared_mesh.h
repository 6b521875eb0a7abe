#pragma once

#include "base/no_progress.h"
#include "mesh/drawing.h"
#include "mesh/mesh.h"

#include <QImage>

#include <memory>
#include <optional>
#include <vector>

#include <glm/vec2.hpp>

namespace ripple::app {

/// What drawing needs of a mesh beside its own numbers: made once, in the background for a large one.
struct PreparedMesh {
    std::vector<glm::vec2> baseColourUvs; ///< vertices: where its material's base colour is read
    std::vector<std::uint32_t> indices;   ///< in an order that is quick to draw
    /// For drafts of a dense mesh and their shadows, where the processor draws.
    std::optional<mesh::Coarse> coarse;
    std::optional<mesh::Coarse> coarseForShadows;
    /// Materials: the base colour's mip levels from the largest on, RGBA; empty without an image.
    std::vector<std::vector<QImage>> images;
};

/// `software`: the processor draws. Throws base::Cancelled.
std::shared_ptr<const PreparedMesh> prepareMesh(const mesh::Mesh& mesh, bool software,
                                                const base::Progress& progress = base::noProgress());

/// So small that a picture may wait for its preparing.
bool isPreparedAtOnce(const mesh::Mesh& mesh);

} // namespace ripple::app
