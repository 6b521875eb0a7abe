#pragma once

#include "app/session/session.h"

#include <QLineEdit>
#include <QWidget>

#include <optional>
#include <vector>

namespace ripple::app {

/// The clips of a source as rows: ticked where they are baked, in the order in which they are stored. A row
/// is dragged by its grip to another place, its bar's ends are dragged to trim it, a double click renames it.
/// By keys: Up and Down choose, Space ticks, F2 renames, Alt with Up and Down moves, Left and Right trim the
/// end, with Shift the start.
class ClipRows : public QWidget {
    Q_OBJECT
public:
    static constexpr double kRowHigh = 25.0; ///< pixels
    /// Keys that the rows use though the window has them, too.
    static bool takesKey(int key);

    explicit ClipRows(Session& session, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return {200, sizeHint().height()}; }

    /// Reads the session again.
    void refresh();

    // Where things are; for tests. `row` counts the rows.
    std::size_t rowCount() const { return rows_.size(); }
    QRectF tickBox(std::size_t row) const;
    QRectF grip(std::size_t row) const;
    QRectF nameBox(std::size_t row) const;
    QRectF bar(std::size_t row) const;
    /// What a row says: "stroll, 42 frames, closed".
    QString words(std::size_t row) const;

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    struct Row {
        std::string name; ///< in the source
        QString shown;
        bool baked = false;
        QString facts;
        std::size_t frames = 0; ///< of the whole clip; 0: not known yet
        bake::FrameWindow window;
        bool operator==(const Row&) const = default;
    };
    enum class Drag { none, order, first, last };
    std::vector<Row> rowsNow() const;
    Row rowOf(std::size_t clip, const bake::ClipChoice* choice) const;
    QRectF rowBox(std::size_t row) const;
    std::optional<std::size_t> rowAt(const QPointF& at) const;
    double placeIn(std::size_t row, double frame) const;
    Drag endAt(std::size_t row, double x) const;
    void paintRow(QPainter& painter, std::size_t row);
    void tick(std::size_t row);
    void move(std::size_t row, std::size_t to);
    void trim(std::size_t row, bool first, double frame, bool continuing);
    void startRename(std::size_t row);
    void finishRename();
    void choose(std::size_t row);
    /// The baked ones in the order of the rows.
    std::vector<bake::ClipChoice> chosen() const;

    Session& session_;
    std::vector<Row> rows_;
    std::size_t current_ = 0;
    Drag drag_ = Drag::none;
    std::size_t dragRow_ = 0;
    bool dragged_ = false;
    double dragY_ = 0.0;
    QLineEdit* name_;
    std::optional<std::size_t> renaming_;
};

} // namespace ripple::app
