#pragma once

namespace ripple::base {

class Progress;

/// The progress of work that nobody follows or cancels: what functions take unless told otherwise. Declared
/// apart, so that a header needs no more of Progress than its name.
const Progress& noProgress();

} // namespace ripple::base
