#pragma once

#include "code/tree.h"

namespace ripple::code {

/// What one call of a function takes.
struct Cost {
    int arithmetic = 0; ///< instructions that run
    int fetches = 0;    ///< texels that are read
    int listed = 0;     ///< instructions that stand in the program: those of a loop once

    Cost& operator+=(const Cost& more) {
        arithmetic += more.arithmetic;
        listed += more.listed;
        fetches += more.fetches;
        return *this;
    }
    bool operator==(const Cost&) const = default;
};

/// Counted over the statements of a function and of all that it calls, as a compiler leaves them that inlines
/// and drops what is never used: an operation on a whole vector is one, a value that has a name is worked out
/// once. Of branches both ways count; loops count as often as they run where that is written, else once.
/// Nothing for a function that the module does not have. test_instructions compares `listed` with what
/// `spirv-opt -O` leaves.
Cost costOf(const Module& module, const std::string& function);

} // namespace ripple::code
