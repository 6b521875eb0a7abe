#pragma once

#include "app/look/length_unit.h"
#include "app/look/number_field.h"
#include "app/session/session.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include <array>
#include <optional>

#include <glm/vec3.hpp>

namespace ripple::app {

class TickBox;

/// Rows of fields that show one voice and edit it, each edit an undo step. They are asked for anew at every
/// change, always in the same order while the voice is of the same kinds; the widgets stay as long as it is,
/// so that a field that is dragged is not taken out of the hand.
class VoiceRows : public QWidget {
    Q_OBJECT
public:
    explicit VoiceRows(Session& session, QWidget* parent = nullptr);

    using Set = std::function<void(motion::Voice&, double)>;
    using SetWay = std::function<void(motion::Voice&, const glm::vec3&)>;

    struct Number {
        QString name;   ///< on its left, and of its undo step
        QString object; ///< the field's
        QString unit;
        double low = 0.0;
        double high = 0.0;
        int decimals = 0;
        double step = 1.0; ///< of a key or six pixels of a drag
        double reset = 0.0;
        QString resetWords = {}; ///< in its stead
        QString whole = {};      ///< of whole numbers: what is said of others (NumberField::setWhole)
    };

    /// Begins; `kinds` says what the rows that follow depend on.
    void begin(const motion::Voice& voice, const QString& kinds);
    void number(const Number& number, double value, const QString& beside, const Set& set);
    /// Metres or a share of the model's `size`, told apart by the unit that is typed; a click on what stands
    /// beside it changes over.
    void length(const Number& number, const motion::Length& value, double size,
                motion::Length motion::Voice::*member);
    void span(const Number& number, const motion::Length& value, double size);
    /// Three fields, X Y Z, of a direction or, in unit(), a point; the unit is added to a point's name.
    void direction(const QString& name, const QString& object, const glm::vec3& value, const SetWay& set);
    void point(const QString& name, const QString& object, const glm::vec3& value, const SetWay& set);
    /// Two fields, U V.
    void uv(const QString& name, const QString& object, const glm::vec3& value, const SetWay& set);
    void choice(const QString& name, const QString& object, const QStringList& words, int chosen,
                const std::function<void(motion::Voice&, int)>& set);
    void tick(const QString& words, const QString& object, bool on,
              const std::function<void(motion::Voice&, bool)>& set);
    /// A heading with a button, if it has a name.
    void heading(const QString& words, const QString& button, const QString& object,
                 const std::function<void(motion::Voice&)>& act);
    void words(const QString& object, const QString& words);
    /// A widget of the page's own, made once: `make` is called when the rows are new.
    QWidget* own(const std::function<QWidget*()>& make);

    /// An edit of a widget of the page's own.
    void editVoice(unsigned id, const QString& name, const std::function<void(motion::Voice&)>& change,
                   bool continuing);

    /// A round step for values of about this size: a hundredth of it or less.
    static double stepFor(double size);
    /// The unit of lengths of what is open.
    LengthUnit unit() const { return lengthUnitFor(session_.assetSize()); }

private:
    struct Row {
        std::array<NumberField*, 3> fields{};
        QLabel* label = nullptr;
        QPushButton* other = nullptr;
        QComboBox* box = nullptr;
        TickBox* tick = nullptr;
        QWidget* own = nullptr;
        Set set;
        SetWay setWay;
        std::function<void(motion::Voice&, const motion::Length&)> setLength;
        std::function<void(motion::Voice&, int)> choose;
        std::function<void(motion::Voice&, bool)> turn;
        std::function<void(motion::Voice&)> act;
        glm::vec3 way{0.0f};
        motion::Length length;
        double size = 1.0;
    };
    using Member = std::function<motion::Length&(motion::Voice&)>;

    void lengthRow(const Number& number, const motion::Length& value, double size, const Member& member);
    void way(const QString& name, const QString& object, const glm::vec3& value, const char* axes,
             const std::optional<LengthUnit>& unit, const SetWay& set);
    NumberField* fieldFor(const Number& number) const;
    /// The next row: the one that is there, or a new one (then true).
    bool next(Row*& row, std::size_t& index);
    void edit(const QString& name, const std::function<void(motion::Voice&)>& change, bool continuing);

    Session& session_;
    QVBoxLayout* column_;
    QString kinds_;
    unsigned voice_ = 0;
    bool filling_ = false;
    std::size_t next_ = 0;
    std::vector<Row> rows_;
};

} // namespace ripple::app
