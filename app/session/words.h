#pragma once

#include <QString>
#include <QTextDocument>

#include <string>

namespace ripple::app {

/// The core's text (UTF-8) as Qt's.
inline QString text(const std::string& s) {
    return QString::fromStdString(s);
}

/// A path as Qt's text and back, byte for byte: a byte that is no UTF-8 becomes a lone surrogate, U+DC00 and
/// its value (as Python's PEP 383 has it). Qt's own conversions lose it.
QString pathText(const std::string& bytes);
std::string pathBytes(const QString& text);

/// Words that Qt made with `n` (tr("%n vertices", …)), with the number as we write them: "4 225 vertices".
QString counted(const QString& words, std::size_t n);

/// For tool tips, which take what looks like markup for markup: words out of files are shown as they are.
inline QString plainTip(const QString& words) {
    return Qt::mightBeRichText(words) ? words.toHtmlEscaped() : words;
}

} // namespace ripple::app
