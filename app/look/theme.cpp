#include "app/look/theme.h"

#include <QApplication>
#include <QPalette>
#include <QStyleFactory>

#include <array>

namespace ripple::app {

namespace {

const Palette kDusk = {
    "#0F1F26", "#132830", "#17303A", "#26434D", "#35545E", "#EAE4D3", "#9DB0AF",
    "#F0704A", "#6CC5B0", "#D9A441", "#D2483E", "#1A1512", "#275261", "#102630",
};
const Palette kDay = {
    "#DDE4DF", "#E8ECE6", "#F3F4EE", "#C3CEC9", "#A7B6B1", "#17303A", "#4A5F64",
    "#D9572F", "#2B8C78", "#9A6E12", "#B4352B", "#FFF9F2", "#DCEBEA", "#A9C3C6",
};

ThemeKind current = ThemeKind::dusk;

QString sheet(const Palette& p) {
    QString text = R"(
* { outline: none; }
QWidget { color: @text; }
QMainWindow, QDialog, QMessageBox { background: @ground; }
#topBar, #findingsLine { background: @deep; }
#topBar { border-bottom: 1px solid @line; }
#findingsLine { border-top: 1px solid @line; }
#rail { background: @deep; border-right: 1px solid @line; }
#panel { background: @raised; border-left: 1px solid @line; }
#panel QScrollArea, #panelBody { background: @raised; border: none; }
#strip, #dial { background: @ground; border-top: 1px solid @line; }
#strip { border-left: 1px solid @line; }
QMenuBar { background: transparent; }
QMenuBar::item { padding: 5px 9px; color: @quiet; background: transparent; border-radius: 5px; }
QMenuBar::item:selected { color: @text; background: @raised; }
QMenu { background: @raised; border: 1px solid @line; padding: 5px; }
QMenu::item { padding: 5px 26px 5px 14px; border-radius: 4px; }
QMenu::item:selected { background: @line; }
QMenu::item:disabled { color: @faint; }
QMenu::separator { height: 1px; background: @line; margin: 5px 8px; }
QLabel#title { font-weight: 600; }
QLabel[role="heading"] { font-weight: 600; font-size: 15px; }
QLabel[role="section"] { font-weight: 600; font-size: 12px; color: @quiet; padding-top: 6px; }
QLabel[role="quiet"] { color: @quiet; }
QLabel[role="glass"] { color: @glass; }
QLabel[role="brass"] { color: @brass; }
QLabel[role="brick"] { color: @brick; }
QLabel[role="figure"], QLabel[role="figure-fine"], QLabel[role="figure-look"] { font-size: 22px; font-weight: 600; }
QLabel[role="figure-fine"] { color: @glass; }
QLabel[role="figure-look"] { color: @brass; }
#panelFoot { background: @raised; border-top: 1px solid @line; }
QPushButton { background: @deep; border: 1px solid @line; border-radius: 6px; padding: 4px 12px; color: @text; }
QPushButton:hover { border-color: @quiet; }
QPushButton:pressed { background: @line; }
QPushButton:focus { border-color: @glass; }
QPushButton:disabled { color: @faint; border-color: @line; }
QPushButton[role="act"] { background: @coral; color: @onCoral; border: none; font-weight: 600; padding: 8px; }
QPushButton[role="act"]:hover { background: @coralUp; }
QPushButton[role="act"]:disabled { background: @line; color: @quiet; }
QPushButton[role="link"] { background: transparent; border: none; padding: 0; text-decoration: underline; }
QPushButton[role="segment"] { border-radius: 0; border-right-width: 0; padding: 6px 2px; color: @quiet; }
QPushButton[role="segment"][place="first"] { border-top-left-radius: 6px; border-bottom-left-radius: 6px; }
QPushButton[role="segment"][place="last"] { border-top-right-radius: 6px; border-bottom-right-radius: 6px; border-right-width: 1px; }
QPushButton[role="segment"]:checked { background: @coral; color: @onCoral; font-weight: 600; border-color: @coral; }
QPushButton[role="segment"]:focus { border-color: @glass; }
QToolButton[role="toggle"] { background: transparent; border: 1px solid @line; border-radius: 5px; color: @quiet; font-weight: 600; }
QToolButton[role="toggle"]:hover { color: @text; }
QToolButton[role="toggle"]:checked { background: @coral; color: @onCoral; border-color: @coral; }
QToolButton[role="toggle"]:focus { border-color: @glass; }
QPushButton[role="look"] { border-radius: 12px; padding: 3px 12px; background: @deep; border-color: @deep; color: @quiet; }
QPushButton[role="look"]:checked { border-color: @glass; color: @text; }
QPushButton[role="look"]:hover { color: @text; }
QPushButton[role="row"] { background: transparent; border: 1px solid transparent; border-radius: 4px; padding: 0; }
QPushButton[role="row"]:hover { background: @deep; }
QPushButton[role="row"]:checked { border-color: @coral; background: @deep; }
QPushButton[role="row"]:focus { border-color: @glass; }
QFrame[role="card"]:focus { border-color: @glass; }
QPushButton[role="tab"] { background: transparent; border: none; border-bottom: 2px solid transparent; border-radius: 0; padding: 4px 2px; color: @quiet; }
QPushButton[role="tab"]:checked { color: @text; border-bottom-color: @coral; }
QPushButton[role="tab"]:focus { color: @text; }
QLineEdit, QComboBox { background: @deep; border: 1px solid @line; border-radius: 6px; padding: 4px 8px; selection-background-color: @coral; selection-color: @onCoral; }
QLineEdit[role="title"] { background: transparent; border-color: transparent; font-weight: 600; padding: 2px 0; }
QLineEdit:hover, QComboBox:hover { border-color: @quiet; }
QLineEdit:focus, QComboBox:focus { border-color: @glass; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { image: none; width: 0; height: 0; border-left: 4px solid @deep; border-right: 4px solid @deep; border-top: 5px solid @quiet; }
QComboBox QAbstractItemView { background: @raised; border: 1px solid @line; selection-background-color: @line; selection-color: @text; }
QFrame[role="card"] { background: @deep; border: 1px solid @line; border-left: 4px solid @faint; border-radius: 7px; }
QFrame[role="card"][tone="fine"] { border-left-color: @glass; }
QFrame[role="card"][tone="look"] { border-left-color: @brass; }
QFrame[role="card"][tone="broken"] { border-left-color: @brick; }
QFrame[role="rule"] { background: @line; max-height: 1px; border: none; }
QPlainTextEdit { background: @deep; border: 1px solid @line; border-radius: 6px; selection-background-color: @coral; selection-color: @onCoral; }
QProgressBar { background: @deep; border: 1px solid @line; border-radius: 4px; max-height: 8px; min-height: 8px; }
QProgressBar::chunk { background: @coral; border-radius: 3px; }
QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
QScrollBar::handle:vertical { background: @line; border-radius: 4px; min-height: 28px; }
QScrollBar:horizontal { background: transparent; height: 9px; margin: 0; }
QScrollBar::handle:horizontal { background: @line; border-radius: 4px; min-width: 28px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QToolTip { background: @deep; color: @text; border: 1px solid @faint; padding: 4px; }
)";
    const auto put = [&text](const char* key, const QColor& colour) {
        text.replace(QString("@") + key, colour.name());
    };
    // Longer keys first: "@coral" is the start of "@coralUp".
    put("coralUp", p.coral.lighter(110));
    put("onCoral", p.onCoral);
    put("ground", p.ground);
    put("raised", p.raised);
    put("coral", p.coral);
    put("glass", p.glass);
    put("brass", p.brass);
    put("brick", p.brick);
    put("faint", p.faint);
    put("quiet", p.quiet);
    put("deep", p.deep);
    put("line", p.line);
    put("text", p.text);
    return text;
}

} // namespace

const Palette& theme() {
    return current == ThemeKind::dusk ? kDusk : kDay;
}

ThemeKind themeKind() {
    return current;
}

QFont textFont(double pixels, QFont::Weight weight) {
    QFont font("Open Sans"); // its figures all have one width
    font.setPixelSize(static_cast<int>(pixels + 0.5));
    font.setWeight(weight);
    return font;
}

QFont codeFont(double pixels) {
    QFont font("JetBrains Mono");
    font.setStyleHint(QFont::Monospace);
    font.setPixelSize(static_cast<int>(pixels + 0.5));
    return font;
}

void applyTheme(QApplication& application, ThemeKind kind) {
    current = kind;
    const Palette& p = theme();
    application.setStyle(QStyleFactory::create("Fusion"));
    application.setFont(textFont(13));
    QPalette colours;
    colours.setColor(QPalette::Window, p.ground);
    colours.setColor(QPalette::WindowText, p.text);
    colours.setColor(QPalette::Base, p.deep);
    colours.setColor(QPalette::AlternateBase, p.raised);
    colours.setColor(QPalette::Text, p.text);
    colours.setColor(QPalette::Button, p.raised);
    colours.setColor(QPalette::ButtonText, p.text);
    colours.setColor(QPalette::Highlight, p.coral);
    colours.setColor(QPalette::HighlightedText, p.onCoral);
    colours.setColor(QPalette::ToolTipBase, p.deep);
    colours.setColor(QPalette::ToolTipText, p.text);
    colours.setColor(QPalette::PlaceholderText, p.quiet);
    application.setPalette(colours);
    application.setStyleSheet(sheet(p));
}

QColor voiceColour(std::size_t index) {
    const bool dusk = themeKind() == ThemeKind::dusk;
    const std::array<QColor, 6> colours = {theme().coral,
                                           theme().glass,
                                           theme().brass,
                                           QColor(dusk ? "#93B1EC" : "#3C62B0"),
                                           QColor(dusk ? "#C99BD8" : "#86489C"),
                                           QColor(dusk ? "#A9C977" : "#557A21")};
    return colours[index % colours.size()];
}

} // namespace ripple::app
