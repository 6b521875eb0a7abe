#include "base/version.h"

namespace ripple::base {

const char* generatorName() {
    return "curly-ripple " RIPPLE_VERSION;
}

} // namespace ripple::base
