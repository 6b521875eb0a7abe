#include "app/charts/plot_style.h"

#include "app/look/theme.h"

#include <qcustomplot.h>

namespace ripple::app {

void stylePlot(QCustomPlot& plot) {
    plot.setLocale(QLocale::c()); // numbers everywhere have a point
    const Palette& p = theme();
    plot.setBackground(QBrush(p.ground));
    for (QCPAxis* axis : {plot.xAxis, plot.yAxis}) {
        axis->setBasePen(QPen(p.line));
        axis->setTickPen(QPen(p.line));
        axis->setSubTickPen(Qt::NoPen);
        axis->setTickLabelColor(p.quiet);
        axis->setTickLabelFont(textFont(11));
        axis->setLabelColor(p.quiet);
        axis->setLabelFont(textFont(11));
        axis->grid()->setPen(QPen(p.line, 1));
        axis->grid()->setZeroLinePen(QPen(p.line, 1));
        axis->grid()->setSubGridVisible(false);
    }
    plot.axisRect()->setMinimumMargins(QMargins(46, 8, 10, 22));
}

} // namespace ripple::app
