#pragma once

#include "bake/poses.h"
#include "base/no_progress.h"
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
/// 3·vertices offsets; Eckart and Young 1936), the most telling first: the first k of them are the best k.
/// Fewer if the motion needs no more. With normals, theirs count too, a thousandth as much as the offsets:
/// they decide where the offsets leave a choice.
///
/// Up to kExactFrames frames that fit into memory the decomposition is exact, by the eigenvectors of the
/// frames' products. Beyond, it is sketched: a subspace of a few more than `most` dimensions is turned three
/// times through the motion (Halko, Martinsson and Tropp 2011, algorithm 4.4), which takes seven passes over
/// the frames and the memory of a few poses beside the shapes; what it leaves is within a few parts in a
/// thousand of the exact one's (measured: test_shared_motion). Cancelled between any few frames.
SharedMotion shareMotion(const mesh::Mesh& mesh, const Poses& poses, std::size_t most, bool withNormals,
                         const base::Progress& progress = base::noProgress());

constexpr std::size_t kExactFrames = 512;

/// The sketched way, however few the frames are.
SharedMotion sketchMotion(const mesh::Mesh& mesh, const Poses& poses, std::size_t most, bool withNormals,
                          const base::Progress& progress = base::noProgress());

/// Bytes that shareMotion() holds at a time, beside the poses.
std::size_t sharingMemory(std::size_t vertices, std::size_t frames, std::size_t most, bool withNormals);

} // namespace ripple::bake
