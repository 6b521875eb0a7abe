#pragma once

class QCustomPlot;

namespace ripple::app {

/// Ground, axes, grid and fonts of the theme.
void stylePlot(QCustomPlot& plot);

} // namespace ripple::app
