#pragma once

#include "emit/dialect.h"
#include "emit/identifier.h"
#include "mesh/bounds.h"
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

/// A score as shader code.
struct ScoreCode {
    std::string code;
    std::vector<ScoreInput>
        inputs; ///< in the order of the function's parameters; the scalar `turn` comes last
    /// With loose numbers: the values of the uniform array NAME_number[] that the code reads.
    std::vector<float> numbers;
    bool shiftsUv = false;
    bool hasVelocity = false;
    bool cutsOut = false; ///< there is a function NAME_alpha with the same parameters, for the fragment stage
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

/// Makes a module of the graph of `composition` and prints it. The function NAME_at_turn takes the inputs and
/// returns a record NAME_moved of position, normal and, where the score has it, uv_shift. All names start
/// with identifier(name). `bounds`, if given, are written down as NAME_bounds_min and NAME_bounds_max, for
/// culling. With `loopSeconds`, NAME_loop_seconds, and the function NAME_velocity_at_turn with the same
/// parameters: the velocity in metres a second (motion::addVelocity), a function of its own, so that who does
/// not call it pays nothing.
ScoreCode scoreCode(const Dialect& dialect, const std::string& name, const motion::Composition& composition,
                    Numbers numbers, const std::optional<mesh::Bounds>& bounds = {}, Sine sine = Sine::own,
                    std::optional<double> loopSeconds = {});

} // namespace ripple::emit
