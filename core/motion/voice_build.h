#pragma once

// The parts that a voice is built of; not for use outside this folder.

#include "motion/compose_score.h"
#include "motion/derive.h"

#include <array>
#include <functional>
#include <string>

namespace ripple::motion {

/// What voices are built in.
struct BuildContext {
    Graph& graph;
    const Model& model;
    std::vector<KnownRange>& ranges;
    std::string voice; ///< for messages

    Vec3 rest() const { return {&graph, graph.add(Op::position)}; }
    Vec3 restNormal() const { return {&graph, graph.add(Op::normal)}; }
    Turn turn() const { return {&graph, graph.add(Op::turn)}; }
    Number copyScale() const { return {&graph, graph.add(Op::copyScale)}; }
    Vec3 copyOrigin() const { return {&graph, graph.add(Op::copyOrigin)}; }
    Number constant(double value) const { return number(graph, static_cast<float>(value)); }
    Vec3 constant(const glm::vec3& value) const { return vec3(graph, value); }
    /// By the rest position, of this model's values.
    Derivation derivation() const;
    static bool isNothing(Vec3 v) {
        const Node& node = (*v.graph)[v.id];
        return node.op == Op::constant3 && node.value == glm::vec3(0.0f);
    }
    /// A world direction as the object sees it.
    Vec3 inObject(const glm::vec3& worldDirection) const;
    /// Throw base::Failure where the model has none.
    Number uv(const char* field, std::size_t set, int axis) const;
    Number colour(int channel) const;
    Number stored(const char* field, const std::string& name) const;
};

/// Two directions that stand on `direction` and on each other, in its sense of turning.
std::array<glm::vec3, 2> besides(const glm::vec3& direction);

/// Where a vertex lies along a course, and beside it (for noise): metres, or UV units.
struct Along {
    Number along;
    std::array<Number, 2> across{};
    int acrossCount = 0;
};
/// Where the shape of a wave is asked.
struct ShapePlace {
    Turn turn;
    std::array<Number, 2> across{}; ///< in wavelengths, for noise
    int acrossCount = 0;
};

Number maskOf(const BuildContext& at, const std::vector<MaskTerm>& terms);

/// Everything that a push needs of its voice.
struct VoiceBuild {
    const Voice& voice;
    Number mask;
    Turn place;
    /// The shape at another place of the voice's own.
    std::function<Number(Turn)> shape;
    /// The place at `metres` along the course, for bends whose wave runs along their own length.
    std::function<Turn(Number)> placeAt;
};
/// A part of what a push adds: way · size.
struct Offset {
    Vec3 way;
    Number size;
};

} // namespace ripple::motion
