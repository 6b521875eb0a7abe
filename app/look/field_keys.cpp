#include "app/look/field_keys.h"

#include "app/look/number_field.h"

#include <QKeyEvent>

namespace ripple::app {

namespace {

constexpr const char* kBefore = "textBefore";

} // namespace

bool takesKey(const QLineEdit& line, const QKeyEvent& key) {
    if (line.isModified()) {
        return true;
    }
    if (key.matches(QKeySequence::Undo) || key.matches(QKeySequence::Redo) || key.key() == Qt::Key_Escape) {
        return false;
    }
    const bool plain = !(key.modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier));
    const QString text = key.text();
    if (!plain || text.isEmpty() || !text[0].isPrint() || !qobject_cast<const NumberField*>(&line)) {
        return true; // as lines of text do: cursor keys, copying, letters of a name
    }
    return text[0].isDigit() || QString("+-.,").contains(text[0]);
}

void rememberText(QLineEdit& line) {
    line.setProperty(kBefore, line.text());
}

void revert(QLineEdit& line) {
    line.setText(line.property(kBefore).toString()); // which is no edit: nothing is taken when it is left
    line.clearFocus();
}

} // namespace ripple::app
