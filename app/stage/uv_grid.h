#pragma once

#include <QImage>

namespace ripple::app {

/// The UV grid: eight by eight labelled cells, A1 at the top left, U growing to the right and V downward.
QImage uvGridImage(int side);

} // namespace ripple::app
