#include "app/benches/move/voice_rows.h"

#include "app/look/panel_parts.h"
#include "app/session/score_edits.h"
#include "app/look/tick_box.h"
#include "app/session/words.h"
#include "base/units.h"

#include <QHBoxLayout>

#include <cmath>
#include <cstring>

namespace ripple::app {

namespace {

constexpr int kFieldWide = 92;
constexpr int kAxisWide = 64;
constexpr double kPercent = 100.0;

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

double VoiceRows::stepFor(double size) {
    return std::pow(10.0, std::floor(std::log10(std::max(std::abs(size), 1e-6))) - 2.0);
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

void VoiceRows::number(const Number& number, double value, const QString& beside, const Set& set) {
    Row* row = nullptr;
    std::size_t index = 0;
    if (next(row, index)) {
        row->fields[0] = fieldFor(number);
        row->label = quietLabel(beside);
        row->label->setWordWrap(false);
        column_->addWidget(rowOf(number.name, {row->label, row->fields[0]}));
        connect(row->fields[0], &NumberField::edited, this,
                [this, index, name = number.name](double v, bool more) {
                    const Set own = rows_[index].set; // the edit fills the rows anew
                    edit(
                        name, [&](motion::Voice& of) { own(of, v); }, more);
                });
    }
    row->set = set;
    row->fields[0]->setValue(value);
    row->label->setText(beside);
}

void VoiceRows::length(const Number& number, const motion::Length& value, double size,
                       motion::Length motion::Voice::*member) {
    lengthRow(number, value, size, [member](motion::Voice& v) -> motion::Length& { return v.*member; });
}

void VoiceRows::span(const Number& number, const motion::Length& value, double size) {
    lengthRow(number, value, size, [](motion::Voice& v) -> motion::Length& { return v.push.span; });
}

void VoiceRows::lengthRow(const Number& number, const motion::Length& value, double size,
                          const Member& member) {
    Row* row = nullptr;
    std::size_t index = 0;
    const LengthUnit length = unit();
    const double scale = value.ofSize ? kPercent : length.perMetre;
    const double otherScale = value.ofSize ? length.perMetre : kPercent;
    if (next(row, index)) {
        Number own = number;
        own.unit = value.ofSize ? "%" : length.name;
        own.step = value.ofSize ? 0.5 : stepFor(scale * size);
        if (!value.ofSize) {
            own.decimals = length.decimals;
            own.reset = number.reset / kPercent * size * scale; // the same share of the size
        }
        row->fields[0] = fieldFor(own);
        row->fields[0]->setOtherUnit(value.ofSize ? length.name : "%");
        row->other = new QPushButton;
        row->other->setProperty("role", "link");
        row->other->setObjectName(number.object + " other");
        row->other->setCursor(Qt::PointingHandCursor);
        row->other->setToolTip(value.ofSize ? tr("Keep this length when the model's size changes")
                                            : tr("Keep this share when the model's size changes"));
        column_->addWidget(rowOf(number.name, {row->other, row->fields[0]}));
        const QString name = number.name;
        const auto set = [this, index, name](const motion::Length& to, bool more) {
            const auto setter = rows_[index].setLength;
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
            const double whole = rows_[index].size;
            set(now.ofSize ? motion::Length{now.value * whole, false}
                           : motion::Length{now.value / whole, true},
                false);
        });
    }
    row->length = value;
    row->size = size;
    row->setLength = [member](motion::Voice& v, const motion::Length& to) { member(v) = to; };
    row->fields[0]->setValue(scale * value.value);
    row->other->setText(value.ofSize ? text(base::lengthText(value.metres(size)))
                                     : tr("%1 % of size").arg(100.0 * value.value / size, 0, 'f', 1));
}

void VoiceRows::way(const QString& name, const QString& object, const glm::vec3& value, const char* axes,
                    const std::optional<LengthUnit>& unit, const SetWay& set) {
    Row* row = nullptr;
    std::size_t index = 0;
    const double scale = unit ? unit->perMetre : 1.0;
    const auto count = static_cast<int>(std::strlen(axes));
    if (next(row, index)) {
        QList<QWidget*> parts;
        for (int c = 0; c < count; ++c) {
            const QString axis(QChar(axes[c]));
            NumberField* field = fieldFor({name + " " + axis, object + " " + axis, unit ? unit->name : "",
                                           -1e5, 1e5, unit ? unit->decimals : 3,
                                           unit ? stepFor(scale * session_.assetSize()) : 0.05, 0.0});
            field->setFixedWidth(kAxisWide);
            field->setStyleSheet(
                "padding: 4px 3px 4px 12px;"); // beside the letter there is room for "-139.55"
            field->setUnitShown(false);
            field->setMark(axis);
            field->setToolTip(unit ? tr("%1, in %2").arg(axis, unit->plural()) : axis);
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
        column_->addWidget(rowOf(name, parts));
    }
    row->setWay = set;
    row->way = value;
    for (int c = 0; c < count; ++c) {
        row->fields[static_cast<std::size_t>(c)]->setValue(scale * static_cast<double>(value[c]));
    }
}

void VoiceRows::direction(const QString& name, const QString& object, const glm::vec3& value,
                          const SetWay& set) {
    way(name, object, value, "XYZ", std::nullopt, set);
}

void VoiceRows::point(const QString& name, const QString& object, const glm::vec3& value, const SetWay& set) {
    way(tr("%1 (%2)").arg(name, unit().name), object, value, "XYZ", unit(), set);
}

void VoiceRows::uv(const QString& name, const QString& object, const glm::vec3& value, const SetWay& set) {
    way(name, object, value, "UV", std::nullopt, set);
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
