#pragma once

#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QStringList>
#include <QVBoxLayout>

#include <functional>

namespace ripple::app {

/// The pieces that bench panels are made of.
QLabel* headingLabel(const QString& text);
QLabel* sectionLabel(const QString& text);
QLabel* quietLabel(const QString& text = {});
/// Sets a label's role ("quiet", "glass", "brass", "brick", "figure") and restyles it.
void setRole(QWidget* widget, const char* role);
/// label … widget, on one line.
QWidget* labelledRow(const QString& label, QWidget* widget, const QString& tip = {});
/// label … text, on one line.
QWidget* factRow(const QString& label, const QString& fact, const char* role = nullptr);

/// A button that is a row of columns; checkable.
QPushButton* rowButton(const QStringList& columns);

/// A card with a coloured edge, a title, words and perhaps a fix.
class Card : public QFrame {
    Q_OBJECT
public:
    /// `tone`: "fine", "look", "broken" or "" for none.
    Card(const QString& title, const QString& words, const char* tone, QWidget* parent = nullptr);
    void addFix(const QString& label, std::function<void()> fix);
    /// A click on the card itself.
    void setShow(std::function<void()> show);

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    QVBoxLayout* column_;
    QBoxLayout* fixes_ = nullptr;
    std::function<void()> show_;
};

/// A frameless area in which `content` scrolls up and down.
QScrollArea* scrolled(QWidget* content);

/// Removes and deletes everything in a layout.
void emptyLayout(QLayout* layout);

} // namespace ripple::app
