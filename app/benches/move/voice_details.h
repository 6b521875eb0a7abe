#pragma once

#include "app/shell/number_field.h"
#include "app/shell/session.h"

#include <QLabel>
#include <QVBoxLayout>

namespace ripple::app {

/// The numbers of the voice that is being worked on, and of what holds it.
class VoiceDetails : public QWidget {
    Q_OBJECT
public:
    explicit VoiceDetails(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    using Change = std::function<void(motion::Voice&, double)>;
    NumberField* row(const QString& name, const char* object, const QString& unit, double low, double high,
                     int decimals, double value, const QString& beside, const Change& change);
    void addShapeRows(const motion::Voice& voice);
    void addMaskRows(const motion::Voice& voice);
    /// What the rows are made for: rows are kept while only numbers change.
    QString kindOf(const motion::Voice& voice) const;
    void rebuild(const motion::Voice& voice);

    Session& session_;
    QVBoxLayout* column_;
    QString built_;
    struct Row {
        NumberField* field;
        QLabel* beside;
        Change change;
    };
    std::vector<Row> rows_;
    std::size_t next_ = 0;
    bool filling_ = false;
};

} // namespace ripple::app
