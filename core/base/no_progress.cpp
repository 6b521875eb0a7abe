#include "base/no_progress.h"

#include "base/progress.h"

namespace ripple::base {

const Progress& noProgress() {
    static const Progress kNone;
    return kNone;
}

} // namespace ripple::base
