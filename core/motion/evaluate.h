#pragma once

#include "base/lanes.h"
#include "motion/graph.h"
#include "motion/vertex_fields.h"

#include <span>
#include <vector>

namespace ripple::motion {

/// Evaluates expressions for many vertices: each operation on a block of them at a time, blocks spread over
/// the threads. The same bits on any number of threads.
class Evaluator {
public:
    /// Vertices that are evaluated together: some sixty values of them stay in the nearest cache.
    static constexpr std::size_t kBlock = 128;

    /// `roots`: what is wanted, numbers, turns or vectors. Keeps nothing of `graph` but its tiles and curves.
    Evaluator(const Graph& graph, std::span<const NodeId> roots);

    /// Where the values of one root go: `numbers` or `vectors`, one for each vertex.
    struct Target {
        std::span<float> numbers;
        std::span<glm::vec3> vectors;
    };
    /// `turn`: φ, 0 ≤ φ < 1. As many targets as there were roots.
    void run(const VertexFields& fields, const Copy& copy, float turn, std::span<const Target> targets) const;
    /// The same for vertices first .. first + count of the fields, on this thread; targets have `count`
    /// elements.
    void runRange(const VertexFields& fields, const Copy& copy, float turn, std::size_t first,
                  std::size_t count, std::span<const Target> targets) const;

    /// Operations for each vertex, and those that are the same for all.
    std::size_t perVertex() const { return steps_.size(); }
    std::size_t once() const { return before_.size(); }

private:
    static constexpr std::size_t kLaneFloats = base::kLanes;

    struct Step {
        Op op = Op::constant;
        std::int32_t whole = 0;
        std::uint32_t out = 0;             ///< offset in floats of the result's first component
        std::array<std::uint32_t, 4> in{}; ///< of the operands
        std::array<bool, 4> same{}; ///< the operand is the same for all vertices: one Lanes a component
        glm::vec3 value{0.0f};
    };
    struct Root {
        std::array<std::uint32_t, 3> at{}; ///< of each component
        std::array<bool, 3> same{};
        bool vector = false;
    };
    void runBlock(const VertexFields& fields, float* memory, std::size_t first, std::size_t count,
                  std::span<const Target> targets, std::size_t targetFirst) const;
    void prepare(float* memory, const Copy& copy, float turn) const;
    void step(const Step& step, float* memory, std::size_t lanes, bool same) const;

    std::vector<Step> before_;
    std::vector<Step> steps_;
    std::vector<Root> roots_;
    std::vector<NoiseTile> tiles_;
    std::vector<std::vector<float>> curves_;
    std::vector<LiveNumber> parameters_;
    std::size_t floats_ = 0;
};

} // namespace ripple::motion
