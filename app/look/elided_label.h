#pragma once

#include <QLabel>

namespace ripple::app {

/// One line that is cut with an ellipsis where it has no room, and then says the whole in its tool tip: names
/// out of files are as long as they like.
class ElidedLabel : public QLabel {
    Q_OBJECT
public:
    explicit ElidedLabel(const QString& words = {}, const char* role = "",
                         Qt::TextElideMode mode = Qt::ElideMiddle);
    QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Qt::TextElideMode mode_;
};

} // namespace ripple::app
