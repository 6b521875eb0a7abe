#pragma once

#include "app/look/segmented_choice.h"
#include "app/session/session.h"

#include <QLabel>
#include <QPlainTextEdit>
#include <QWidget>

namespace ripple::app {

/// The code that is shipped, in a tab for each language, and in a line what it takes.
class CodePage : public QWidget {
    Q_OBJECT
public:
    explicit CodePage(Session& session, QWidget* parent = nullptr);
    void refresh();
    void restyle();

private:
    Session& session_;
    SegmentedChoice* language_;
    QLabel* cost_;
    QPlainTextEdit* code_;
};

} // namespace ripple::app
