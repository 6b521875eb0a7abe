#include "app/shell/words.h"

#include <QStringDecoder>

namespace ripple::app {

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
