#pragma once

#include "bake/poses.h"
#include "base/raw_vector.h"
#include "mesh/mesh.h"

namespace ripple::bake {

/// A motion as a few shapes that all frames share: offset(f, v) ≈ Σ weight(f, s) · shape(s, v).
struct SharedMotion {
    std::size_t shapes = 0;
    std::size_t frames = 0;
    std::size_t vertices = 0;
    base::RawVector<glm::vec3> offsets; ///< shapes × vertices, metres at weight 1
    base::RawVector<glm::vec3> normals; ///< shapes × vertices: what is added to the rest normal; may be empty
    std::vector<float> weights;         ///< frames × shapes, the largest of each shape is 1
};

/// The `most` shapes that leave the smallest sum of squares (singular value decomposition of the frames ×
/// 3·vertices offsets, by the eigenvectors of their frames × frames products; Eckart and Young 1936), the
/// most telling first: the first k of them are the best k. Fewer if the motion needs no more. With normals,
/// theirs count too, a thousandth as much as the offsets: they decide where the offsets leave a choice. Holds
/// all frames in memory.
SharedMotion shareMotion(const mesh::Mesh& mesh, const Poses& poses, std::size_t most, bool withNormals,
                         const base::Progress& progress = {});

} // namespace ripple::bake
