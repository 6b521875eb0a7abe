#pragma once

#include "emit/glsl_score.h"

#include <span>
#include <string>
#include <vector>

namespace ripple::emit {

/// The parameter that an op reads; ops that are parts of the same one give the same name.
ScoreInput inputOf(const motion::Node& node, const std::vector<std::string>& stored);
bool isInput(motion::Op op);

/// As it may stand in a comment's line.
std::string commentOf(const std::string& text);

/// Prints expressions of a graph, one function body at a time.
class GlslPrinter {
public:
    /// `composition` must outlive this.
    GlslPrinter(std::string id, const motion::Composition& composition, Numbers numbers);

    /// Statements that make `roots`; their values are then in expressionOf().
    std::string statements(std::span<const motion::NodeId> roots);
    std::string expressionOf(motion::NodeId id);
    /// Without the parentheses that enclose all of it.
    static std::string bare(const std::string& expression);
    /// The numbers that `text` reads, which become counted in the order in which it does.
    std::vector<float> numbersOf(std::string& text) const;

private:
    std::vector<int> usesOf(const std::vector<char>& needed) const;
    /// sin and cos of a place in turns; the numbers before it make one.
    std::string ofAngle(const char* function, motion::NodeId place);
    std::string number(float value);
    std::string print(motion::NodeId id);

    std::string id_;
    const motion::Graph& graph_;
    const std::vector<std::string>& stored_;
    const std::vector<motion::Chapter>& chapters_;
    Numbers mode_;
    std::vector<std::string> text_;
    std::vector<char> clamped_; ///< by node: printed as a part of what uses it
    std::vector<float> numbers_;
    int names_ = 0;
};

} // namespace ripple::emit
