#pragma once

#include "base/problem.h"
#include "mesh/mesh.h"

#include <cstddef>
#include <filesystem>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include <glm/fwd.hpp>
#include <glm/vec3.hpp>

namespace ripple::source {

/// One stretch of time that a source can play.
struct Clip {
    std::string name;
    double start = 0.0;     ///< seconds
    double duration = 0.0;  ///< seconds, first to last instant (of a sequence: (frames − 1) / fps)
    std::size_t frames = 0; ///< stored frames of a sequence; 0 when the source can be asked at any time
    double fps = 30.0;      ///< of a sequence: its playback rate; else the rate suggested for sampling
    double keyRate = 0.0;   ///< keys a second at which it was animated; 0: not known
    bool rateKnown = false; ///< of a sequence: the file says its rate, or a person did

    bool isSequence() const { return frames > 0; }
    bool operator==(const Clip&) const = default;
};

/// What can be said of a mesh in the file, by which it can be picked.
struct MeshEntry {
    std::string name;
    std::size_t vertices = 0;
    std::size_t triangles = 0;
    bool included = true; ///< part of FrameSource::mesh()
};

enum class Axis { x, y, z };

/// In what the file's numbers are. The source itself gives metres and +Y up.
struct Space {
    double metresPerUnit = 1.0;
    Axis up = Axis::y;
    bool stated = false; ///< by the file or its format, or by a person; else taken for metres and +Y up
    bool operator==(const Space&) const = default;
};

/// The stretch of a clip that is played round, on the source's time line.
struct LoopSpan {
    double start = 0.0;
    double seconds = 0.0; ///< 0: the clip plays once
};

/// The joints that move a mesh.
struct Skeleton {
    std::vector<std::string> names;
    std::vector<int> parents; ///< joints: the nearest joint above; -1: none
};

struct Rig;

/// A deforming mesh: topology once, then positions and normals at any time. Everything is in the source
/// scene's space with node transforms applied, right-handed, +Y up, metres. Immutable after opening, but for
/// what lies in its files: sample() fails where a file went or changed.
class FrameSource {
public:
    virtual ~FrameSource() = default;

    /// Topology and rest pose.
    virtual const mesh::Mesh& mesh() const = 0;
    /// At least one.
    virtual std::span<const Clip> clips() const = 0;
    /// All meshes in the file, also those left out.
    virtual std::span<const MeshEntry> meshes() const = 0;
    /// What was noticed while opening.
    virtual std::span<const base::Finding> findings() const = 0;
    /// "glTF 2.0", "OBJ sequence"
    virtual std::string format() const = 0;
    /// The files that it was read from, the first one named by the person.
    virtual std::vector<std::filesystem::path> files() const { return {}; }
    /// Frames that a sequence has, also those left out by a range; 0 for other sources.
    virtual std::size_t storedFrames() const { return clips()[0].frames; }
    /// What the file's own numbers were in.
    virtual Space space() const { return {}; }

    /// The pose `seconds` into the source's time line of `clip` (clips()[clip].start is its first instant).
    /// Times outside the clip give its ends. `positions` and `normals` have mesh().vertexCount() elements;
    /// `normals` may be empty where they are not wanted, which saves making them.
    /// Between the stored frames of a sequence positions are linear and normals are renormalised. A normal is
    /// of unit length, or zero where the surface has no direction (its triangles there have no area). Safe to
    /// call from several threads. Throws base::Failure for a frame that cannot be read.
    virtual void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                        std::span<glm::vec3> normals) const = 0;

    /// The same where `span` of the clip is played round. Differs for sources that add a motion of their own
    /// which loops by itself: it then fits into that span. Asked of the topmost source only.
    virtual void sampleLoop(std::size_t clip, const LoopSpan&, double seconds, std::span<glm::vec3> positions,
                            std::span<glm::vec3> normals) const {
        sample(clip, seconds, positions, normals);
    }

    /// Empty when no joints move the mesh.
    virtual const Skeleton& skeleton() const {
        static const Skeleton kNone;
        return kNone;
    }
    /// Where the joints are at that time; `places` has skeleton().names.size() elements.
    virtual void sampleJoints(std::size_t, double, std::span<glm::vec3>) const {}
    /// How much each vertex follows a joint: vertices × 0..1.
    virtual std::vector<float> jointWeights(std::size_t) const {
        return std::vector<float>(mesh().vertexCount(), 0.0f);
    }
    /// The joints and weights that move the mesh where nothing else does; else throws base::Failure that says
    /// what does. Kept by the source: cheap to ask again.
    virtual std::shared_ptr<const Rig> rig() const;
    /// The transforms at that time that take rig()->positions to sample()'s; as many as rig()->joints. Only
    /// for sources with a rig.
    virtual void sampleRig(std::size_t, double, std::span<glm::dmat4>) const {}

    /// The most joints that any one vertex follows.
    virtual std::size_t influences() const { return 0; }
    /// Names of morph targets, in order.
    virtual std::vector<std::string> morphs() const { return {}; }

    std::vector<std::string> joints() const { return skeleton().names; }
};

} // namespace ripple::source
