#pragma once

// The parts that a voice is built of; not for use outside this folder.

#include "motion/compose_score.h"
#include "motion/derive.h"
#include "motion/parameter.h"
#include "motion/setting.h"

#include <array>
#include <functional>
#include <map>
#include <string>

namespace ripple::motion {

/// The parameters of a score as the graph holds them, by voice and number; what all voices follow.
struct Live {
    struct One {
        std::int32_t index = 0; ///< in the graph
        double least = 0.0;     ///< in the graph's unit: metres, degrees, turns
        double most = 0.0;
    };
    std::map<std::pair<unsigned, std::string>, One> numbers;
    Overall overall;
};

/// What voices are built in.
struct BuildContext {
    Graph& graph;
    const Model& model;
    std::vector<KnownRange>& ranges;
    std::string voice;          ///< for messages
    const Live* live = nullptr; ///< nothing: no number is a parameter
    unsigned voiceId = 0;
    std::size_t voiceIndex = 0;
    std::string part = {}; ///< before the names of fields: "mask 2 "

    // Numbers of the voice, by the field that they are kept in (see kinds.h).
    Setting setting(const std::string& field, double value) const;
    /// Metres.
    Setting setting(const std::string& field, const Length& length) const {
        return setting(field, length.metres(model.size));
    }
    /// Least and most that it may be.
    std::array<double, 2> reach(const std::string& field, double value) const;
    /// The turns of a voice, of the loop's.
    Turn swing(int turns) const;
    /// Of a field that holds a whole number: nothing where it is known.
    std::optional<Whole> whole(const std::string& field) const;
    /// Of length 1.
    Vec3 direction(const std::string& field, const glm::vec3& value) const { return frame(field, value)[0]; }
    /// The same, turned with the wind.
    Vec3 worldDirection(const std::string& field, const glm::vec3& value) const {
        return worldFrame(field, value)[0];
    }
    /// A direction and the two beside it: see besides().
    std::array<Vec3, 3> frame(const std::string& field, const glm::vec3& value) const;
    std::array<Vec3, 3> worldFrame(const std::string& field, const glm::vec3& value) const;
    // What all voices follow.
    Setting strength() const;
    bool followsWind() const;
    Vec3 turnedWithWind(Vec3 direction) const;

    Vec3 rest() const { return {&graph, graph.add(Op::position)}; }
    Vec3 restNormal() const { return {&graph, graph.add(Op::normal)}; }
    /// The place in the loop, as often round as all voices go.
    Turn turn() const;
    Number copyScale() const { return {&graph, graph.add(Op::copyScale)}; }
    Vec3 copyOrigin() const { return {&graph, graph.add(Op::copyOrigin)}; }
    Number constant(double value) const { return number(graph, static_cast<float>(value)); }
    Number constant(const Setting& value) const { return value.in(graph); }
    Vec3 constant(const glm::vec3& value) const { return vec3(graph, value); }
    /// By the rest position, of this model's values.
    Derivation derivation() const;
    static bool isNothing(Vec3 v) {
        const Node& node = (*v.graph)[v.id];
        return node.op == Op::constant3 && node.value == glm::vec3(0.0f);
    }
    /// A world direction as the object sees it.
    Vec3 inObject(Vec3 worldDirection) const;
    /// Throw base::Failure where the model has none.
    Number uv(const char* field, std::size_t set, int axis) const;
    Number colour(int channel) const;
    Number stored(const char* field, const std::string& name) const;
    Number storedAt(std::size_t index) const {
        return {&graph, graph.add(Op::stored, {}, static_cast<std::int32_t>(index))};
    }
};

/// Two directions that stand on `direction` and on each other, in its sense of turning: the second is level,
/// so that both follow smoothly where the direction's heading or rise is changed.
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

/// The angle of a voice that bends, twists or turns, in turns.
Setting turnsOf(const BuildContext& at, const Voice& voice);

Number maskOf(const BuildContext& at, const std::vector<MaskTerm>& terms);

/// Everything that a push needs of its voice.
struct VoiceBuild {
    const Voice& voice;
    Number mask;
    Turn place;
    Along course;
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
