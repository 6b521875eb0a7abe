#pragma once

#include "code/tree.h"
#include "scatter/copies.h"

namespace ripple::scatter {

/// NAME_copy_of(seed, index): differenceOf() as shader code, with the record NAME_copy of what it gives. The
/// seed is the caller's; all else of `differences` is written into the code.
void addCopyCode(code::Module& module, const Differences& differences);

} // namespace ripple::scatter
