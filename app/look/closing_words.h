#pragma once

#include "bake/sampling.h"

#include <QString>

namespace ripple::app {

/// Why a clip plays round, or that it does not: a few words for the dial and the panels.
QString closingWords(const bake::ClipPlan& clip);

} // namespace ripple::app
