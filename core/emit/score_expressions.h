#pragma once

#include "code/value.h"
#include "emit/score_code.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace ripple::emit {

/// The parameter that an op reads; ops that are parts of the same one give the same name. `type` is left to
/// the dialect.
struct InputRow {
    ScoreInput input;
    code::Type type;
};
InputRow inputOf(const motion::Node& node, const std::vector<std::string>& stored);
bool isInput(motion::Op op);

/// Names of a colour's channels, in their order.
constexpr const char* kChannels = "rgba";

/// As it may stand in a comment's line.
std::string commentOf(const std::string& text);
/// The constants NAME_WHAT_min and NAME_WHAT_max. `when`: "throughout the loop".
void addBounds(code::Module& module, const std::string& what, const mesh::Bounds& bounds, const char* when);

/// A vec3 with the axes and the unit of `map`; of a direction with its axes alone.
code::Value placed(const mesh::AxisMap& map, const code::Value& point);
code::Value turned(const mesh::AxisMap& map, const code::Value& direction);

/// Makes shader code of a graph's nodes, one function body at a time. A node that is used once becomes a part
/// of the expression that uses it, others get names (n1, n2, …).
class ScoreExpressions {
public:
    /// All must outlive this. Functions that the expressions call are added to `module`. `turn` is the place
    /// in the loop, 0..1.
    ScoreExpressions(code::Module& module, const motion::Composition& composition,
                     const ScoreCodeChoices& choices, code::Value turn);

    /// Puts the statements that make `roots` into `body`; valueOf() then gives their values.
    void write(code::Body& body, std::span<const motion::NodeId> roots);
    /// In full precision.
    code::Value valueOf(motion::NodeId id);

private:
    std::vector<int> usesOf(const std::vector<char>& needed) const;
    /// Finds operations that are done in half precision: all that they are made of is, and so is what becomes
    /// of them.
    void findNative(const std::vector<char>& needed, const std::vector<int>& uses);
    code::Value native(motion::NodeId id);
    code::Value inHalf(motion::NodeId id);
    void findClamps(const std::vector<char>& needed, const std::vector<int>& uses);
    /// The sine, or cosine, of a place in turns.
    code::Value sineOf(motion::NodeId place, bool cosine);
    /// 2 π · a place in turns; the numbers before it make one.
    code::Value angle(motion::NodeId place);
    code::Value number(float value) const;
    /// Held within its range.
    code::Value parameter(std::size_t index) const;
    code::Value axisOfCopy(std::size_t which) const;
    code::Value make(motion::NodeId id);
    code::Value sum(const motion::Node& node);
    code::Value noiseOf(const motion::Node& node);

    code::Module& module_;
    const motion::Graph& graph_;
    const std::vector<std::string>& stored_;
    const std::vector<motion::CodeParameter>& parameters_;
    const std::vector<motion::Chapter>& chapters_;
    mesh::AxisMap ours_; ///< from the space of the code's inputs to the graph's
    bool vFromBelow_;
    Numbers mode_;
    Sine sine_;
    code::Value turn_;
    std::vector<std::optional<code::Value>> values_; ///< by node
    std::vector<int> parts_;                         ///< by node: that stand in its expression
    std::vector<char> named_;                        ///< by node: has a name of its own
    std::vector<char> native_;                       ///< by node: done in half precision
    std::vector<char> clamped_;                      ///< by node: made as a part of what uses it
    int names_ = 0;
};

} // namespace ripple::emit
