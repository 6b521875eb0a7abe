#pragma once

#include "app/look/length_unit.h"
#include "motion/parameter.h"

#include <QString>

namespace ripple::app {

constexpr double kPercent = 100.0; ///< that a share of 1 is

/// How a number of a unit is shown: this times what is kept, in this unit.
struct ShownUnit {
    double scale = 1.0;
    QString unit;
    int decimals = 0;
    double step = 1.0;
};

/// `size`: of the model that is open, metres.
ShownUnit shownIn(motion::FieldUnit unit, double size);
/// Of a number that can be a parameter; a length is a share of the size or metres.
ShownUnit shownIn(const motion::Adjustable& number, double size);

} // namespace ripple::app
