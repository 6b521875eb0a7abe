#include "app/session/document_edit.h"

#include "app/session/session.h"

#include <utility>

namespace ripple::app {

DocumentEdit::DocumentEdit(Session& session, const QString& text, project::Document next, int gesture)
    : QUndoCommand(text),
      session_(session),
      other_(std::move(next)),
      gesture_(gesture) {}

void DocumentEdit::swap() {
    project::Document now = session_.document();
    project::Document next = other_;
    next.view = now.view;
    other_ = std::move(now);
    session_.apply(next);
}

bool DocumentEdit::mergeWith(const QUndoCommand*) {
    // The stack only offers commands with this id: the same gesture, already done. other_ stays what was
    // before the gesture began; if the gesture came back to that, nothing is left to undo.
    project::Document before = other_;
    before.view = session_.document().view;
    setObsolete(before == session_.document());
    return true;
}

} // namespace ripple::app
