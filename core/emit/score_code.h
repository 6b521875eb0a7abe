#pragma once

#include "code/cost.h"
#include "emit/dialect.h"
#include "emit/identifier.h"
#include "mesh/axis_map.h"
#include "motion/loop_bounds.h"
#include "motion/compose_score.h"

#include <optional>
#include <string>
#include <vector>

namespace ripple::emit {

/// One parameter of a score's function: what the engine has to hand it.
struct ScoreInput {
    motion::Op op = motion::Op::position; ///< what it is: the op that stands for it in the graph
    std::int32_t whole = 0;               ///< UV set, channel or index
    std::string type;                     ///< as the dialect spells it: "vec3"
    std::string name;                     ///< "uv_set_0"
    std::string words;                    ///< for the comment
};

/// Something that may be worked out in the vertex stage or in the pixel stage.
struct EitherStage {
    code::Cost cost;      ///< of one evaluation
    int handedBefore = 0; ///< numbers that the vertex stage hands on where it works it out: its results
    int handedInputs = 0; ///< and where the pixel stage does: what it is made of
};

/// A score as shader code.
struct ScoreCode {
    std::string code;
    std::vector<ScoreInput>
        inputs; ///< in the order of the function's parameters; the scalar `turn` comes last
    /// With loose numbers: the values of the uniform array NAME_number[] that the code reads.
    std::vector<float> numbers;
    code::Cost cost;                    ///< of NAME_at_turn
    code::Cost velocityCost;            ///< of NAME_velocity_at_turn, where there is one
    std::optional<EitherStage> uvShift; ///< NAME_uv_shift, where the score has it
    std::optional<EitherStage> alpha;   ///< NAME_alpha, for the fragment stage

    bool shiftsUv() const { return uvShift.has_value(); }
    bool cutsOut() const { return alpha.has_value(); }
};

enum class Numbers {
    written, ///< into the code, as it is shipped
    loose,   ///< in a uniform array, so that a number that is dragged needs no new shader; same numbers of
             ///< another size give the same text
};

/// How code works out a sine.
enum class Sine {
    own,   ///< by the language's function, which a graphics card may answer to 5e-4 only
    exact, ///< by a polynomial, thirteen more operations, to 2e-7
};

/// What a score's code is to hold, beside where it moves vertices to.
struct ScoreCodeChoices {
    Numbers numbers = Numbers::written;
    /// Written down as NAME_bounds_min and NAME_bounds_max, for culling; and, where they differ, as
    /// NAME_unturned_bounds_min and NAME_unturned_bounds_max.
    std::optional<motion::LoopBounds> bounds = {};
    Sine sine = Sine::own;
    /// Written down as NAME_loop_seconds, with a function NAME_velocity_at_turn that takes what NAME_at_turn
    /// does: the velocity in metres a second (motion::addVelocity). Who does not call it pays nothing.
    std::optional<double> loopSeconds = {};
    /// From metres in glTF's axes to what the code takes and gives: positions, normals, copies, velocities.
    /// Parameters, and what is stored at vertices, stay as they are.
    mesh::AxisMap space = {};
    bool vFromBelow = false; ///< UV sets that the code takes, and the shift that it gives, count V from below
};

/// Makes a module of the graph of `composition` and prints it. The function NAME_at_turn takes the inputs,
/// the parameters where the score has them and numbers are written, and the turn, and returns a record
/// NAME_moved of position, normal and, where the score has it, uv_shift. NAME_defaults() gives the parameters
/// as the score has them. All names start with identifier(name). Throws base::Failure for a parameter whose
/// name is a reserved word of one of the languages, or the same as another's once it is spelled as code.
ScoreCode scoreCode(const Dialect& dialect, const std::string& name, const motion::Composition& composition,
                    const ScoreCodeChoices& choices = {});

} // namespace ripple::emit
