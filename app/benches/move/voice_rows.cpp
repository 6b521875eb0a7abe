#include "app/benches/move/voice_rows.h"

#include "app/benches/move/shown_unit.h"
#include "app/look/panel_parts.h"
#include "app/look/parameter_dot.h"
#include "app/session/score_edits.h"
#include "app/look/tick_box.h"
#include "app/session/words.h"
#include "base/units.h"

#include <QHBoxLayout>

#include <algorithm>

namespace ripple::app {

namespace {

constexpr int kFieldWide = 92;
constexpr int kAxisWide = 64;

/// Label … what stands beside the field … the field.
QWidget* rowOf(const QString& name, const QList<QWidget*>& parts) {
    auto* both = new QWidget;
    auto* line = new QHBoxLayout(both);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(parts.size() > 2 ? 4 : 8);
    for (QWidget* part : parts) {
        line->addWidget(part);
    }
    return labelledRow(name, both);
}

} // namespace

VoiceRows::VoiceRows(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      column_(new QVBoxLayout(this)) {
    column_->setContentsMargins(0, 0, 0, 0);
    column_->setSpacing(5);
}

void VoiceRows::begin(const motion::Voice& voice, const QString& kinds) {
    const QString all = kinds + " " + unit().name;
    filling_ = all == kinds_ && voice.id == voice_ && !rows_.empty();
    next_ = 0;
    if (!filling_) {
        kinds_ = all;
        voice_ = voice.id;
        rows_.clear();
        emptyLayout(column_);
    }
}

bool VoiceRows::next(Row*& row, std::size_t& index) {
    index = next_++;
    if (!filling_) {
        rows_.emplace_back();
    }
    row = &rows_[index];
    return !filling_;
}

void VoiceRows::edit(const QString& name, const std::function<void(motion::Voice&)>& change,
                     bool continuing) {
    editVoice(voice_, name, change, continuing);
}

void VoiceRows::editVoice(unsigned id, const QString& name, const std::function<void(motion::Voice&)>& change,
                          bool continuing) {
    app::editVoice(session_, id, name, change, session_.gesture(continuing));
}

NumberField* VoiceRows::fieldFor(const Number& number) const {
    auto* field = new NumberField;
    field->setObjectName(number.object);
    field->setAccessibleName(number.name);
    field->setFixedWidth(kFieldWide);
    field->setRange(number.low, number.high);
    field->setDecimals(number.decimals);
    if (number.unit == "turns") {
        field->setUnit(tr("turns"), tr("turn"));
    } else {
        field->setUnit(number.unit);
    }
    field->setStep(number.step);
    field->setWhole(number.whole);
    field->setDefault(number.reset, number.resetWords);
    return field;
}

ParameterDot* VoiceRows::dotFor(Row& row, const Number& number) {
    auto* dot = new ParameterDot(number.name);
    dot->setObjectName(number.object + " dot");
    row.dot = dot;
    row.keys.clear();
    for (const std::string& end : {std::string(), std::string(" heading"), std::string(" rise")}) {
        if (motion::adjustableAt(session_.document().score, voice_, number.key + end)) {
            row.keys.push_back(number.key + end);
        }
    }
    dot->setVisible(!row.keys.empty());
    connect(dot, &ParameterDot::clicked, this,
            [this, id = voice_, keys = row.keys, name = number.name](bool on) {
                setParameters(session_, id, keys, on, name);
            });
    return dot;
}

void VoiceRows::showDot(const Row& row) const {
    if (row.dot) {
        const motion::Score& score = session_.document().score;
        row.dot->setChecked(std::any_of(row.keys.begin(), row.keys.end(), [&](const std::string& key) {
            return motion::parameterAt(score, voice_, key) != nullptr;
        }));
    }
}

void VoiceRows::number(const Number& number, double value, const QString& beside, const Set& set) {
    Row* row = nullptr;
    std::size_t index = 0;
    if (next(row, index)) {
        row->fields[0] = fieldFor(number);
        row->label = quietLabel(beside);
        row->label->setWordWrap(false);
        column_->addWidget(rowOf(number.name, {row->label, dotFor(*row, number), row->fields[0]}));
        connect(row->fields[0], &NumberField::edited, this,
                [this, index, name = number.name](double v, bool more) {
                    const Set own = rows_[index].set; // the edit fills the rows anew
                    edit(
                        name, [&](motion::Voice& of) { own(of, v); }, more);
                });
    }
    row->set = set;
    showDot(*row);
    row->fields[0]->setValue(value);
    row->label->setText(beside);
}

void VoiceRows::numberIn(motion::FieldUnit kept, Number shown, double value, const QString& beside,
                         const Set& set) {
    const ShownUnit as = shownIn(kept, session_.assetSize());
    shown.unit = as.unit;
    shown.decimals = as.decimals;
    shown.step = as.step;
    shown.low *= as.scale;
    shown.high *= as.scale;
    shown.reset *= as.scale;
    number(shown, as.scale * value, beside,
           [set, scale = as.scale](motion::Voice& v, double x) { set(v, x / scale); });
}

void VoiceRows::lengthRow(const Number& number, const motion::Length& value, const SetLength& setLength) {
    Row* row = nullptr;
    std::size_t index = 0;
    const LengthUnit length = unit();
    const double scale = value.ofSize ? kPercent : length.perMetre;
    const double otherScale = value.ofSize ? length.perMetre : kPercent;
    if (next(row, index)) {
        const ShownUnit as = shownIn(
            value.ofSize ? motion::FieldUnit::length : motion::FieldUnit::modelMetres, session_.assetSize());
        Number own = number;
        own.unit = as.unit;
        own.step = as.step;
        own.decimals = as.decimals;
        // A reset gives the same share of the size in either unit.
        own.reset = number.reset * (value.ofSize ? 1.0 : session_.assetSize()) * scale;
        own.low = kPercent * number.low;
        own.high = kPercent * number.high;
        row->fields[0] = fieldFor(own);
        row->fields[0]->setOtherUnit(value.ofSize ? length.name : "%");
        row->other = new QPushButton;
        row->other->setProperty("role", "link");
        row->other->setObjectName(number.object + " other");
        row->other->setCursor(Qt::PointingHandCursor);
        row->other->setToolTip(value.ofSize ? tr("Keep this length when the model's size changes")
                                            : tr("Keep this share when the model's size changes"));
        column_->addWidget(rowOf(number.name, {row->other, dotFor(*row, number), row->fields[0]}));
        const QString name = number.name;
        const auto set = [this, index, name](const motion::Length& to, bool more) {
            const SetLength setter = rows_[index].setLength; // the edit fills the rows anew
            edit(
                name, [&](motion::Voice& of) { setter(of, to); }, more);
        };
        connect(row->fields[0], &NumberField::edited, this, [this, index, set, scale](double v, bool more) {
            set({v / scale, rows_[index].length.ofSize}, more);
        });
        connect(row->fields[0], &NumberField::editedIn, this, [this, index, set, otherScale](double v) {
            set({v / otherScale, !rows_[index].length.ofSize}, false);
        });
        connect(row->other, &QPushButton::clicked, this, [this, index, set] {
            const motion::Length now = rows_[index].length;
            const double whole = session_.assetSize();
            set(now.ofSize ? motion::Length{now.value * whole, false}
                           : motion::Length{now.value / whole, true},
                false);
        });
    }
    row->length = value;
    row->setLength = setLength;
    showDot(*row);
    row->fields[0]->setValue(scale * value.value);
    const double size = session_.assetSize();
    row->other->setText(value.ofSize ? text(base::lengthText(value.metres(size)))
                                     : tr("%1 % of size").arg(100.0 * value.value / size, 0, 'f', 1));
}

void VoiceRows::vectorRow(motion::FieldUnit kept, const QString& name, const QString& object,
                          const std::string& key, const glm::vec3& value, const SetWay& set) {
    using Unit = motion::FieldUnit;
    Row* row = nullptr;
    std::size_t index = 0;
    const ShownUnit as = shownIn(kept, session_.assetSize());
    const double scale = as.scale;
    const bool uv = kept == Unit::uvPoint || kept == Unit::uvDirection;
    const QString axes = uv ? "UV" : "XYZ";
    const auto count = static_cast<int>(axes.size());
    if (next(row, index)) {
        QList<QWidget*> parts;
        if (!key.empty()) {
            parts << dotFor(*row, {name, object, {}, 0, 0, 0, 1.0, 0.0, {}, {}, key});
        }
        for (int c = 0; c < count; ++c) {
            const QString axis = axes.mid(c, 1);
            NumberField* field = fieldFor(
                {name + " " + axis, object + " " + axis, as.unit, -1e5, 1e5, as.decimals, as.step, 0.0});
            field->setFixedWidth(kAxisWide);
            field->setStyleSheet(
                "padding: 4px 3px 4px 12px;"); // beside the letter there is room for "-139.55"
            field->setUnitShown(false);
            field->setMark(axis);
            field->setToolTip(kept == Unit::point ? tr("%1, in %2").arg(axis, unit().plural()) : axis);
            row->fields[static_cast<std::size_t>(c)] = field;
            parts << field;
            connect(field, &NumberField::edited, this, [this, index, name, c, scale](double v, bool more) {
                const SetWay own = rows_[index].setWay;
                glm::vec3 to = rows_[index].way;
                to[c] = static_cast<float>(v / scale);
                edit(
                    name, [&](motion::Voice& of) { own(of, to); }, more);
            });
        }
        column_->addWidget(rowOf(kept == Unit::point ? tr("%1 (%2)").arg(name, as.unit) : name, parts));
    }
    row->setWay = set;
    row->way = value;
    showDot(*row);
    for (int c = 0; c < count; ++c) {
        row->fields[static_cast<std::size_t>(c)]->setValue(scale * static_cast<double>(value[c]));
    }
}

void VoiceRows::choice(const QString& name, const QString& object, const QStringList& words, int chosen,
                       const std::function<void(motion::Voice&, int)>& set) {
    Row* row = nullptr;
    std::size_t index = 0;
    if (next(row, index)) {
        row->box = new QComboBox;
        row->box->setObjectName(object);
        row->box->addItems(words);
        column_->addWidget(labelledRow(name, row->box));
        connect(row->box, &QComboBox::activated, this, [this, index, name](int to) {
            const auto own = rows_[index].choose;
            edit(
                name, [&](motion::Voice& of) { own(of, to); }, false);
        });
    }
    row->choose = set;
    row->box->setCurrentIndex(chosen);
}

void VoiceRows::tick(const QString& words, const QString& object, bool on,
                     const std::function<void(motion::Voice&, bool)>& set) {
    Row* row = nullptr;
    std::size_t index = 0;
    if (next(row, index)) {
        row->tick = new TickBox(words);
        row->tick->setObjectName(object);
        column_->addWidget(row->tick);
        connect(row->tick, &TickBox::clicked, this, [this, index, words](bool to) {
            const auto own = rows_[index].turn;
            edit(
                words, [&](motion::Voice& of) { own(of, to); }, false);
        });
    }
    row->turn = set;
    row->tick->setChecked(on);
}

void VoiceRows::heading(const QString& words, const QString& button, const QString& object,
                        const std::function<void(motion::Voice&)>& act) {
    Row* row = nullptr;
    std::size_t index = 0;
    if (next(row, index)) {
        row->label = sectionLabel(words);
        row->label->setWordWrap(false);
        auto* line = new QWidget;
        auto* layout = new QHBoxLayout(line);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->addWidget(row->label, 1);
        if (!button.isEmpty()) {
            auto* press = new QPushButton(button);
            press->setProperty("role", "link");
            press->setCursor(Qt::PointingHandCursor);
            press->setObjectName(object);
            layout->addWidget(press);
            connect(press, &QPushButton::clicked, this, [this, index, button] {
                const auto own = rows_[index].act;
                edit(button, own, false);
            });
        }
        column_->addWidget(line);
    }
    row->act = act;
    row->label->setText(words);
}

void VoiceRows::words(const QString& object, const QString& words) {
    Row* row = nullptr;
    std::size_t index = 0;
    if (next(row, index)) {
        row->label = quietLabel(words);
        row->label->setObjectName(object);
        column_->addWidget(row->label);
    }
    row->label->setText(words);
}

QWidget* VoiceRows::own(const std::function<QWidget*()>& make) {
    Row* row = nullptr;
    std::size_t index = 0;
    if (next(row, index)) {
        row->own = make();
        column_->addWidget(row->own);
    }
    return row->own;
}

} // namespace ripple::app
