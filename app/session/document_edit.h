#pragma once

#include "project/document.h"

#include <QUndoCommand>

namespace ripple::app {

class Session;

/// The one undo command: swaps the document for another. Undo and redo are the same swap. How things are
/// looked at is not part of it.
class DocumentEdit : public QUndoCommand {
public:
    DocumentEdit(Session& session, const QString& text, project::Document next, int gesture);

    void undo() override { swap(); }
    void redo() override { swap(); }
    int id() const override { return gesture_ ? gesture_ : -1; }
    bool mergeWith(const QUndoCommand* later) override;

private:
    void swap();

    Session& session_;
    project::Document other_; ///< what the document becomes at the next swap
    int gesture_;
};

} // namespace ripple::app
