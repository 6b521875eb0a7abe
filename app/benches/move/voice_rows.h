#pragma once

#include "app/look/length_unit.h"
#include "app/look/number_field.h"
#include "app/session/session.h"
#include "motion/kinds.h"
#include "motion/parameter.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include <array>
#include <optional>

#include <glm/vec3.hpp>

namespace ripple::app {

class ParameterDot;
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
    using SetLength = std::function<void(motion::Voice&, const motion::Length&)>;
    template <typename Part>
    using FindPart = std::function<Part*(motion::Voice&)>;

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
        std::string key = {};    ///< motion::Adjustable::field, where it can be a parameter
    };

    /// Begins; `kinds` says what the rows that follow depend on.
    void begin(const motion::Voice& voice, const QString& kinds);
    void number(const Number& number, double value, const QString& beside, const Set& set);
    /// The row of a field of a part (course, push, a mask …), whose value is `now`. `find` finds the part in
    /// a voice, or gives nullptr if the voice has it no longer; `settle`, if any, brings the part in order
    /// after an edit. `suffix` is added to the field's id for the name of the widget, `prefix` stands before
    /// it in the name of the number (motion::Adjustable::field).
    template <typename Part>
    void field(const motion::Field<Part>& field, const Part& now, const FindPart<Part>& find,
               const std::function<void(Part&)>& settle = nullptr, const QString& suffix = {},
               const std::string& prefix = {});
    /// All fields of a kind's row, then what else is to be known.
    template <typename KindRow, typename Part>
    void fields(const KindRow& row, const Part& now, const FindPart<Part>& find, const QString& noteObject,
                const std::function<void(Part&)>& settle = nullptr);
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

private:
    struct Row {
        std::array<NumberField*, 3> fields{};
        QLabel* label = nullptr;
        ParameterDot* dot = nullptr;
        std::vector<std::string> keys; ///< of the numbers that the dot is for
        QPushButton* other = nullptr;
        QComboBox* box = nullptr;
        TickBox* tick = nullptr;
        QWidget* own = nullptr;
        Set set;
        SetWay setWay;
        SetLength setLength;
        std::function<void(motion::Voice&, int)> choose;
        std::function<void(motion::Voice&, bool)> turn;
        std::function<void(motion::Voice&)> act;
        glm::vec3 way{0.0f};
        motion::Length length;
    };

    /// The unit of lengths of what is open.
    LengthUnit unit() const { return lengthUnitFor(session_.assetSize()); }
    /// A row of one number that is kept in `unit`.
    void numberIn(motion::FieldUnit unit, Number number, double value, const QString& beside, const Set& set);
    /// Metres or a share of the model's size, told apart by the unit that is typed; a click on what stands
    /// beside it changes over.
    void lengthRow(const Number& number, const motion::Length& value, const SetLength& set);
    /// Three fields, X Y Z, of a direction or, in unit(), a point; the unit is added to a point's name. Two
    /// fields, U V, for a place or direction on the texture.
    void vectorRow(motion::FieldUnit unit, const QString& name, const QString& object, const std::string& key,
                   const glm::vec3& value, const SetWay& set);
    /// The dot before a number; hidden where the score has no such number that could be a parameter.
    ParameterDot* dotFor(Row& row, const Number& number);
    void showDot(const Row& row) const;
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

template <typename Part>
void VoiceRows::field(const motion::Field<Part>& field, const Part& now, const FindPart<Part>& find,
                      const std::function<void(Part&)>& settle, const QString& suffix,
                      const std::string& prefix) {
    using Unit = motion::FieldUnit;
    // Changes the part, if the voice still has it.
    const auto changer = [field, find, settle](const auto& change) {
        return [field, find, settle, change](motion::Voice& voice, const auto& to) {
            if (Part* part = find(voice)) {
                change(field, *part, to);
                if (settle) {
                    settle(*part);
                }
            }
        };
    };
    const QString name = tr(field.label);
    const QString object = QString(field.id) + suffix;
    const std::string key = prefix + field.id;
    const Number number{name, object, {}, field.least, field.most, 0, 1.0, field.usual, {}, {}, key};
    if (std::holds_alternative<glm::vec3 Part::*>(field.member)) {
        vectorRow(field.unit, name, object, field.fixed ? std::string() : key, vectorOf(field, now),
                  changer([](const auto& of, Part& part, const glm::vec3& to) { setVector(of, part, to); }));
    } else if (field.unit == Unit::length) {
        lengthRow(
            number, lengthOf(field, now),
            changer([](const auto& of, Part& part, const motion::Length& to) { setLength(of, part, to); }));
    } else {
        const bool uv = field.unit == Unit::uvLength;
        numberIn(field.unit, number, numberOf(field, now), tr(field.beside),
                 changer([uv](const auto& of, Part& part, double to) {
                     if (uv) {
                         setLength(of, part, motion::Length{to, false});
                     } else {
                         setNumber(of, part, to);
                     }
                 }));
    }
}

template <typename KindRow, typename Part>
void VoiceRows::fields(const KindRow& row, const Part& now, const FindPart<Part>& find,
                       const QString& noteObject, const std::function<void(Part&)>& settle) {
    for (const auto& each : row.fields) {
        field(each, now, find, settle);
    }
    if (row.note[0] != '\0') {
        words(noteObject, tr(row.note));
    }
}

} // namespace ripple::app
