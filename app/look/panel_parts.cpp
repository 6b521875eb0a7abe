#include "app/look/panel_parts.h"

#include "app/look/elided_label.h"
#include "app/session/words.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QStyle>

#include <algorithm>

namespace ripple::app {

namespace {

QLabel* labelled(const QString& text, const char* role) {
    auto* label = new QLabel(text);
    label->setProperty("role", role);
    label->setWordWrap(true);
    label->setIndent(0);
    label->setTextFormat(Qt::PlainText);
    return label;
}

/// Lines may break within paths and long names, which have no spaces; before a dot that is inside one, so
/// that an ending stays whole.
QString breakable(const QString& words) {
    constexpr QChar kBreak(0x200B); // a space of no width
    QString result;
    for (qsizetype i = 0; i < words.size(); ++i) {
        const QChar c = words[i];
        const bool inside =
            i > 0 && i + 1 < words.size() && words[i - 1].isLetterOrNumber() && words[i + 1].isLetter();
        if (c == '.' && inside) {
            result += kBreak;
        }
        result += c;
        if (QStringView(u"/\\_|:-").contains(c)) {
            result += kBreak;
        }
    }
    return result;
}

} // namespace

QLabel* headingLabel(const QString& text) {
    return labelled(text, "heading");
}

QLabel* sectionLabel(const QString& text) {
    return labelled(text, "section");
}

QLabel* quietLabel(const QString& text) {
    return labelled(text, "quiet");
}

void setRole(QWidget* widget, const char* role) {
    if (widget->property("role").toString() == role) {
        return;
    }
    widget->setProperty("role", role);
    widget->style()->unpolish(widget);
    widget->style()->polish(widget);
}

QWidget* labelledRow(const QString& label, QWidget* widget, const QString& tip) {
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* name = new ElidedLabel(label, "quiet");
    name->setBuddy(widget);
    layout->addWidget(name);
    layout->addStretch(1);
    layout->addWidget(widget);
    if (!tip.isEmpty()) {
        row->setToolTip(plainTip(tip));
    }
    return row;
}

QPushButton* rowButton(const QStringList& columns) {
    auto* button = new QPushButton;
    button->setProperty("role", "row");
    button->setCheckable(true);
    auto* row = new QHBoxLayout(button);
    row->setContentsMargins(8, 1, 8, 1);
    for (int c = 0; c < columns.size(); ++c) {
        auto* label = new QLabel(columns[c]);
        label->setTextFormat(Qt::PlainText);
        label->setAttribute(Qt::WA_TransparentForMouseEvents);
        label->setAlignment((c == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
        row->addWidget(label, c == 0 ? 3 : 2);
    }
    button->setFixedHeight(23);
    button->setAccessibleName(columns.join(", "));
    return button;
}

QWidget* factRow(const QString& label, const QString& fact, const char* role) {
    auto* value = new ElidedLabel(fact, role);
    value->setAlignment(Qt::AlignRight);
    return labelledRow(label, value);
}

Card::Card(const QString& title, const QString& words, const char* tone, QWidget* parent) : QFrame(parent) {
    setProperty("role", "card");
    setProperty("tone", tone);
    column_ = new QVBoxLayout(this);
    column_->setContentsMargins(12, 8, 10, 9);
    column_->setSpacing(3);
    auto* head = new QLabel(breakable(title));
    head->setWordWrap(true);
    head->setTextFormat(Qt::PlainText);
    QFont bold = head->font();
    bold.setWeight(QFont::DemiBold);
    head->setFont(bold);
    column_->addWidget(head);
    if (!words.isEmpty()) {
        column_->addWidget(quietLabel(breakable(words)));
    }
}

void Card::addFix(const QString& label, std::function<void()> fix) {
    auto* button = new QPushButton(label);
    button->setObjectName("fix");
    connect(button, &QPushButton::clicked, this, std::move(fix));
    if (!fixes_) {
        fixes_ = new QBoxLayout(QBoxLayout::LeftToRight);
        fixes_->setContentsMargins(0, 3, 0, 0);
        column_->addLayout(fixes_);
    } else {
        delete fixes_->takeAt(fixes_->count() - 1); // the stretch
    }
    fixes_->addWidget(button, 0, Qt::AlignLeft);
    fixes_->addStretch(1);
    constexpr int kRoom = 276; // pixels of a card in a panel
    if (fixes_->sizeHint().width() > kRoom) {
        fixes_->setDirection(QBoxLayout::TopToBottom);
    }
}

void Card::setShow(std::function<void()> show) {
    show_ = std::move(show);
    setCursor(Qt::PointingHandCursor);
    setFocusPolicy(Qt::TabFocus);
    setToolTip(tr("Show it on the model"));
}

void Card::mousePressEvent(QMouseEvent* event) {
    if (show_ && event->button() == Qt::LeftButton) {
        show_();
    }
}

void Card::keyPressEvent(QKeyEvent* event) {
    if (show_ && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)) {
        show_();
        return;
    }
    QFrame::keyPressEvent(event);
}

QScrollArea* scrolled(QWidget* content) {
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    area->setFrameShape(QFrame::NoFrame);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setWidget(content);
    return area;
}

void emptyLayout(QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (QWidget* widget = item->widget()) {
            // Later: it may be the very button whose click brought us here.
            widget->hide();
            widget->deleteLater();
        }
        delete item;
    }
}

} // namespace ripple::app
