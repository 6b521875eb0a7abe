#include "app/benches/ship/code_colours.h"

#include "app/look/theme.h"

#include <QRegularExpression>
#include <QTextDocument>

namespace ripple::app {

CodeColours::CodeColours(QTextDocument* document) : QSyntaxHighlighter(static_cast<QTextDocument*>(nullptr)) {
    const auto old = document->findChildren<CodeColours*>(QString(), Qt::FindDirectChildrenOnly);
    qDeleteAll(old);
    setParent(document);
    setDocument(document);
}

void CodeColours::highlightBlock(const QString& text) {
    static const QRegularExpression kWords(
        "\\b(const|float|int|bool|vec2|vec3|vec4|struct|return|if|sampler2D|true|false)\\b");
    static const QRegularExpression kNumbers("\\b[0-9]+(\\.[0-9]*)?(e[-+]?[0-9]+)?\\b");
    const auto colour = [&](const QRegularExpression& pattern, const QColor& tone) {
        for (auto it = pattern.globalMatch(text); it.hasNext();) {
            const auto match = it.next();
            setFormat(static_cast<int>(match.capturedStart()), static_cast<int>(match.capturedLength()),
                      tone);
        }
    };
    colour(kNumbers, theme().brass);
    colour(kWords, theme().glass);
    if (const auto comment = text.indexOf("//"); comment >= 0) {
        setFormat(static_cast<int>(comment), static_cast<int>(text.size() - comment), theme().quiet);
    }
}

} // namespace ripple::app
