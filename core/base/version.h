#pragma once

namespace ripple::base {

/// "curly-ripple 0.2.0": what goes into the files we write. Holds no date and no machine.
const char* generatorName();

} // namespace ripple::base
