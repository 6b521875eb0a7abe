#include "app/session/words.h"

#include "base/units.h"

#include <QCoreApplication>
#include <QStringDecoder>
#include <QTranslator>

/// The words are in a library, which does not bring its resources by itself; Qt wants this outside of
/// namespaces.
static void initWords() {
    Q_INIT_RESOURCE(words);
}

namespace ripple::app {

/// "1 frame" and "2 frames": the plurals of English, which the words in the code leave open.
static void installPlurals() {
    ::initWords();
    auto* plurals = new QTranslator(QCoreApplication::instance());
    if (plurals->load(":/words/english.qm")) {
        QCoreApplication::installTranslator(plurals);
    }
}

Q_COREAPP_STARTUP_FUNCTION(installPlurals)

QString counted(const QString& words, std::size_t n) {
    QString result = words;
    const QString plain = QString::number(n);
    const qsizetype at = result.indexOf(plain);
    return at < 0 ? result : result.replace(at, plain.size(), text(base::countText(n)));
}

QString pathText(const std::string& bytes) {
    const QByteArray all = QByteArray::fromStdString(bytes);
    QString text;
    qsizetype at = 0;
    while (at < all.size()) {
        // The longest start that is UTF-8; of what is left its first byte is none.
        const auto lead = static_cast<unsigned char>(all[at]);
        const qsizetype length = lead < 0x80 ? 1 : lead >= 0xF0 ? 4 : lead >= 0xE0 ? 3 : 2;
        QStringDecoder decode(QStringDecoder::Utf8, QStringDecoder::Flag::Stateless);
        const QString letter = decode(all.mid(at, length));
        if (decode.hasError() || at + length > all.size() || letter.contains(QChar::ReplacementCharacter)) {
            text += QChar(static_cast<char16_t>(0xDC00 + lead));
            ++at;
        } else {
            text += letter;
            at += length;
        }
    }
    return text;
}

std::string pathBytes(const QString& text) {
    std::string bytes;
    QString plain;
    const auto flush = [&] {
        bytes += plain.toStdString();
        plain.clear();
    };
    for (qsizetype i = 0; i < text.size(); ++i) {
        const char16_t unit = text[i].unicode();
        const bool paired = i > 0 && text[i - 1].isHighSurrogate();
        if (unit >= 0xDC80 && unit <= 0xDCFF && !paired) {
            flush();
            bytes += static_cast<char>(unit - 0xDC00);
        } else {
            plain += text[i];
        }
    }
    flush();
    return bytes;
}

} // namespace ripple::app
