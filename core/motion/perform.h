#pragma once

#include "base/no_progress.h"
#include "mesh/bounds.h"
#include "motion/compose_score.h"
#include "motion/evaluate.h"

#include <map>
#include <memory>

namespace ripple::motion {

/// A score made ready for one mesh.
class Performance {
public:
    /// Throws base::Failure as composeScore() does. Keeps what it needs of the mesh, not the mesh; `like`,
    /// one of another score on the same mesh, shares what it keeps already.
    Performance(const Score& score, const mesh::Mesh& mesh, const Performance* like = nullptr);
    /// Of a model that says more than modelOf(mesh) does; `model` has the mesh's UV sets and stored values.
    Performance(const Score& score, const mesh::Mesh& mesh, Model model);

    /// `like` with another composition of the same score: the same inputs.
    Performance(const Performance& like, Composition composition);

    const Composition& composition() const { return composition_; }
    const Model& model() const { return *kept_.model; }
    const VertexFields& fields() const { return fields_; }
    std::size_t vertexCount() const { return fields_.positions.size(); }

    /// The pose at φ (any number: its fraction counts), in object space. `normals` may be empty where they
    /// are not wanted. Safe from several threads.
    void pose(double turn, const Copy& copy, std::span<glm::vec3> positions,
              std::span<glm::vec3> normals) const;
    /// The same on this thread only, for callers that are many already.
    void poseHere(double turn, const Copy& copy, std::span<glm::vec3> positions,
                  std::span<glm::vec3> normals) const;

    /// Where one vertex is at `turns`; for traces.
    std::vector<glm::vec3> trace(std::size_t vertex, std::span<const double> turns, const Copy& copy,
                                 NodeId node) const;
    /// A number of one vertex at `turns`: a mask, a shape, a place.
    std::vector<float> traceNumber(std::size_t vertex, std::span<const double> turns, const Copy& copy,
                                   NodeId node) const;
    /// A number or turn of the composition at every vertex.
    std::vector<float> values(NodeId node, double turn, const Copy& copy) const;

private:
    /// What is kept of a mesh; shared, as it never changes.
    struct Kept {
        using Key = std::pair<Op, std::size_t>; ///< of a value, and which of its kind
        std::shared_ptr<const Model> model;
        std::shared_ptr<const std::vector<glm::vec3>> positions;
        std::shared_ptr<const std::vector<glm::vec3>> normals;
        std::map<Key, std::shared_ptr<const std::vector<float>>> numbers;
        std::map<Key, std::shared_ptr<const std::vector<glm::vec3>>> slopes;
    };
    static Kept keep(const mesh::Mesh& mesh, Model model);
    Performance(const Score& score, const mesh::Mesh& mesh, Kept kept);
    void makeEvaluators();
    void keepFields(const mesh::Mesh& mesh);
    void run(double turn, const Copy& copy, std::span<glm::vec3> positions, std::span<glm::vec3> normals,
             bool here) const;

    Kept kept_;
    Composition composition_;
    VertexFields fields_; ///< views of what is above
    std::unique_ptr<const Evaluator> alone_;
    std::unique_ptr<const Evaluator> both_;
};

/// A vertex whose position or normal is no number, and when.
struct Stray {
    std::size_t vertex = 0;
    double turn = 0.0;
};
std::optional<Stray> findStray(double turn, std::span<const glm::vec3> positions,
                               std::span<const glm::vec3> normals);

/// The vertex that gets furthest from its rest position at any of `turns` instants spread over the loop; the
/// first of equals.
std::size_t furthestVertex(const Performance& performance, int turns = 8);

} // namespace ripple::motion
