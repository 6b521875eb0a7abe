#pragma once

class QKeyEvent;
class QLineEdit;

namespace ripple::app {

/// Whether a line that has the focus takes a key for its text. While nothing has been typed into it, undo,
/// redo, Escape, the space bar and the keys that a number can't begin with are the window's, as the sheet of
/// keys says.
bool takesKey(const QLineEdit& line, const QKeyEvent& key);

/// Gives a line back what it held when it was entered, and leaves it.
void revert(QLineEdit& line);
/// Remembers what that is.
void rememberText(QLineEdit& line);

} // namespace ripple::app
