#include "app/stage/uv_grid.h"

#include "app/look/theme.h"

#include <QPainter>

namespace ripple::app {

QImage uvGridImage(int side) {
    QImage image(side, side, QImage::Format_RGBA8888);
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    const int cells = 8;
    const qreal cell = static_cast<qreal>(side) / cells;
    for (int row = 0; row < cells; ++row) {
        for (int column = 0; column < cells; ++column) {
            // Hue tells the column, lightness the row; neighbours differ as on a chess board.
            const bool dark = (row + column) % 2;
            const QColor fill =
                QColor::fromHslF(0.47f + 0.46f * static_cast<float>(column) / cells, 0.34f,
                                 (dark ? 0.40f : 0.60f) + 0.16f * (0.5f - static_cast<float>(row) / cells));
            const QRectF box(column * cell, row * cell, cell, cell);
            painter.fillRect(box, fill);
            painter.setPen(QPen(QColor(255, 255, 255, 120), side / 512.0));
            painter.drawRect(box);
            painter.setPen(dark ? QColor("#EAE4D3") : QColor("#0F1F26"));
            painter.setFont(textFont(cell * 0.36, QFont::DemiBold));
            painter.drawText(box, Qt::AlignCenter, QString(QChar('A' + column)) + QString::number(row + 1));
        }
    }
    return image;
}

} // namespace ripple::app
