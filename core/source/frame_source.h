#pragma once

#include "base/problem.h"
#include "mesh/mesh.h"

#include <cstddef>
#include <filesystem>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::source {

/// One stretch of time that a source can play.
struct Clip {
    std::string name;
    double start = 0.0; ///< seconds
    double duration =
        0.0; ///< seconds, from the first to the last instant (of a sequence: (frames − 1) / fps)
    std::size_t frames =
        0;             ///< number of stored frames of a sequence; 0 when the source can be asked at any time
    double fps = 30.0; ///< of a sequence: its playback rate; else the rate that is suggested for sampling

    bool isSequence() const { return frames > 0; }
};

/// What can be said of a mesh in the file, by which it can be picked.
struct MeshEntry {
    std::string name;
    std::size_t vertices = 0;
    std::size_t triangles = 0;
    bool included = true; ///< part of FrameSource::mesh()
};

/// A deforming mesh: topology once, then positions and normals at any time. Everything is in the source
/// scene's space with node transforms applied, right-handed, +Y up, metres. Immutable after opening.
class FrameSource {
public:
    virtual ~FrameSource() = default;

    /// Topology and rest pose.
    virtual const mesh::Mesh& mesh() const = 0;
    /// At least one.
    virtual std::span<const Clip> clips() const = 0;
    /// All meshes in the file, also those left out.
    virtual std::span<const MeshEntry> meshes() const = 0;
    /// What was noticed while reading.
    virtual std::span<const base::Finding> findings() const = 0;
    /// Names of the joints that move the mesh; empty when none do.
    virtual std::vector<std::string> joints() const { return {}; }
    /// "glTF 2.0", "OBJ sequence"
    virtual std::string format() const = 0;

    /// The pose `seconds` into the source's time line of `clip` (clips()[clip].start is its first instant).
    /// Times outside the clip give its ends. `positions` and `normals` have mesh().vertexCount() elements.
    /// Between the stored frames of a sequence positions are linear and normals are renormalised.
    /// Safe to call from several threads.
    virtual void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                        std::span<glm::vec3> normals) const = 0;
};

} // namespace ripple::source
