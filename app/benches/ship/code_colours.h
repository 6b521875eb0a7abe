#pragma once

#include <QSyntaxHighlighter>

namespace ripple::app {

/// Colours shader code in the theme's own colours. A new one on the same document takes the old one's place.
class CodeColours : public QSyntaxHighlighter {
    Q_OBJECT
public:
    explicit CodeColours(QTextDocument* document);

protected:
    void highlightBlock(const QString& text) override;
};

} // namespace ripple::app
