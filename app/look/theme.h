#pragma once

#include <QColor>
#include <QFont>
#include <QString>

class QApplication;

namespace ripple::app {

/// Dusk on a harbour, or the same place by day.
struct Palette {
    QColor deep;   ///< bars and wells
    QColor ground; ///< window
    QColor raised; ///< panels
    QColor line;   ///< hairlines
    QColor faint;  ///< tick marks, what is off
    QColor text;
    QColor quiet;   ///< secondary text
    QColor coral;   ///< what acts
    QColor glass;   ///< what is well
    QColor brass;   ///< what wants attention
    QColor brick;   ///< what is broken
    QColor onCoral; ///< text on coral
    QColor skyTop;  ///< stage background, middle
    QColor skyEdge; ///< stage background, edges
};

enum class ThemeKind { dusk, day };

/// The palette in use. Widgets that paint themselves ask at each painting.
const Palette& theme();
ThemeKind themeKind();

/// Sets fonts, palette and style sheet for the whole application.
void applyTheme(QApplication& application, ThemeKind kind);

QFont textFont(double pixels, QFont::Weight weight = QFont::Normal);
QFont codeFont(double pixels);

/// The colour that a voice goes by: on its card, the dial and the trace.
QColor voiceColour(std::size_t index);

} // namespace ripple::app
