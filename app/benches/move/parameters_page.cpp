#include "app/benches/move/parameters_page.h"

#include "app/benches/move/shown_unit.h"
#include "app/look/number_field.h"
#include "app/look/panel_parts.h"
#include "app/look/parameter_dot.h"
#include "app/look/value_slider.h"
#include "app/session/score_edits.h"
#include "app/session/words.h"
#include "base/problem.h"
#include "emit/identifier.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QToolTip>

#include <algorithm>

namespace ripple::app {

namespace {

constexpr int kDotWide = 14;
constexpr int kNameWide = 130;
constexpr int kValueWide = 70;
constexpr int kEndWide = 54;
constexpr int kUpWide = 18;
constexpr int kGap = 5;

QHBoxLayout* lineIn(QWidget* widget) {
    auto* line = new QHBoxLayout(widget);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(kGap);
    return line;
}

QLabel* caption(const QString& words, int wide) {
    QLabel* label = quietLabel(words);
    label->setWordWrap(false);
    if (wide > 0) {
        label->setFixedWidth(wide);
    }
    return label;
}

} // namespace

ParametersPage::ParametersPage(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      words_(quietLabel()),
      helpLabel_(quietLabel()),
      help_(new QLineEdit),
      scroll_(new QScrollArea),
      list_(nullptr) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 2, 8, 6);
    column->setSpacing(4);
    auto* captions = new QWidget;
    QHBoxLayout* line = lineIn(captions);
    line->addSpacing(kDotWide + kGap);
    line->addWidget(caption(tr("name in code"), kNameWide));
    line->addWidget(caption(tr("value: the default"), 0), 1);
    line->addSpacing(kValueWide + kGap);
    line->addWidget(caption(tr("least"), kEndWide));
    line->addWidget(caption(tr("most"), kEndWide));
    line->addSpacing(kUpWide + 12);
    column->addWidget(captions);
    auto* inner = new QWidget;
    auto* innerColumn = new QVBoxLayout(inner);
    innerColumn->setContentsMargins(0, 0, 6, 0);
    innerColumn->setSpacing(4);
    list_ = new QVBoxLayout;
    list_->setSpacing(4);
    innerColumn->addLayout(list_);
    innerColumn->addWidget(words_);
    innerColumn->addStretch(1);
    scroll_->setWidget(inner);
    scroll_->setWidgetResizable(true);
    scroll_->setFrameShape(QFrame::NoFrame);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(scroll_, 1);
    words_->setObjectName("parametersNote");
    helpRow_ = new QWidget;
    QHBoxLayout* helpLine = lineIn(helpRow_);
    helpLabel_->setWordWrap(false);
    helpLine->addWidget(helpLabel_);
    helpLine->addWidget(help_, 1);
    help_->setObjectName("parameter help");
    help_->setMaxLength(160);
    help_->setPlaceholderText(tr("a line for whoever sets it in the engine"));
    column->addWidget(helpRow_);
    connect(help_, &QLineEdit::editingFinished, this, [this] {
        editParameter(session_, helped_, tr("What %1 does").arg(text(helped_)),
                      [this](motion::Parameter& each) { each.help = help_->text().trimmed().toStdString(); });
    });
    connect(qApp, &QApplication::focusChanged, this, [this](QWidget*, QWidget* now) {
        for (const Row& row : rows_) {
            if (now && !row.parameter.empty() && row.name->parentWidget()->isAncestorOf(now)) {
                helped_ = row.parameter;
                showHelp();
            }
        }
    });
    connect(&session_, &Session::documentChanged, this, [this](unsigned changes) {
        if (isVisible() && changes & (kScoreChange | kSourceChange)) {
            refresh();
        }
    });
    connect(&session_, &Session::sourceLoaded, this, &ParametersPage::refresh);
}

void ParametersPage::restyle() {
    built_.clear();
    refresh();
}

void ParametersPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

std::vector<ParametersPage::Shown> ParametersPage::shown() const {
    const motion::Score& score = session_.document().score;
    std::vector<Shown> all;
    for (const motion::Adjustable& number : motion::adjustablesOf(score)) {
        if (number.voice == 0) {
            all.push_back({number, motion::parameterAt(score, 0, number.field)});
        }
    }
    for (const motion::Parameter& parameter : score.parameters) {
        const auto number = motion::adjustableAt(score, parameter.voice, parameter.field);
        if (parameter.voice != 0 && number) {
            all.push_back({*number, &parameter});
        }
    }
    return all;
}

void ParametersPage::refresh() {
    const bool any = !session_.document().score.voices.empty();
    scroll_->setEnabled(any);
    const std::vector<Shown> all = any ? shown() : std::vector<Shown>();
    QString wanted = QString::number(session_.assetSize());
    for (const Shown& each : all) {
        wanted += QString(" %1 %2 %3 %4")
                      .arg(each.number.voice)
                      .arg(text(each.number.field))
                      .arg(each.parameter ? text(each.parameter->name) : QString())
                      .arg(each.number.ofSize);
    }
    if (wanted != built_) {
        build(all);
        built_ = wanted;
    }
    for (std::size_t i = 0; i < all.size(); ++i) {
        fill(rows_[i], all[i]);
    }
    showHelp();
    words_->setText(any ? tr("The dot before any number of a voice, in the panel, puts it here.")
                        : tr("A score has parameters: numbers that the engine may change while it plays. Add "
                             "voices first."));
}

/// The line of help of the row that was last touched, else of the first.
void ParametersPage::showHelp() {
    const auto& all = session_.document().score.parameters;
    const auto named = [&](const motion::Parameter& each) { return each.name == helped_; };
    auto of = std::find_if(all.begin(), all.end(), named);
    of = of == all.end() ? all.begin() : of;
    helpRow_->setVisible(of != all.end());
    if (of == all.end()) {
        helped_.clear();
        return;
    }
    helped_ = of->name;
    helpLabel_->setText(tr("What %1 does:").arg(text(of->name)));
    help_->setAccessibleName(helpLabel_->text());
    if (!help_->hasFocus()) {
        help_->setText(text(of->help));
        help_->setCursorPosition(0);
    }
}

void ParametersPage::build(const std::vector<Shown>& all) {
    // The page is made anew by what one of its own widgets does: that one keeps the focus.
    const QString focused = focusWidget() ? focusWidget()->objectName() : QString();
    rows_.clear();
    emptyLayout(list_);
    for (std::size_t i = 0; i < all.size(); ++i) {
        list_->addWidget(rowFor(all[i], i));
    }
    for (QWidget* widget : findChildren<QWidget*>(focused)) {
        if (!focused.isEmpty()) {
            widget->setFocus();
        }
    }
}

QString ParametersPage::wordsOf(const Shown& of) const {
    const motion::Voice* voice = voiceById(session_.document().score, of.number.voice);
    QString label = tr(of.number.label.c_str());
    if (of.number.field.ends_with(" heading")) {
        label = tr("%1, heading").arg(label);
    } else if (of.number.field.ends_with(" rise")) {
        label = tr("%1, rise").arg(label);
    }
    if (of.number.field.starts_with("mask ")) { // "mask 2 low"
        label = tr("%1 of mask %2").arg(label, text(of.number.field).section(' ', 1, 1));
    }
    return voice ? QString("%1 · %2").arg(text(voice->name), label) : label;
}

QWidget* ParametersPage::rowFor(const Shown& of, std::size_t index) {
    const QString object = QString("%1 %2").arg(of.number.voice).arg(text(of.number.field));
    const QString words = wordsOf(of);
    const ShownUnit as = shownIn(of.number, session_.assetSize());
    auto* widget = new QWidget;
    QHBoxLayout* line = lineIn(widget);
    Row row;
    row.dot = new ParameterDot(words);
    row.dot->setObjectName(object + " parameter");
    line->addWidget(row.dot);
    row.name = new QLineEdit;
    row.name->setObjectName(object + " name");
    row.name->setAccessibleName(tr("%1: its name in code").arg(words));
    row.name->setFixedWidth(kNameWide);
    row.name->setMaxLength(60);
    row.name->setToolTip(words);
    line->addWidget(row.name);
    if (!of.parameter) {
        row.name->hide();
        line->addWidget(caption(words, kNameWide));
    }
    row.slider = new ValueSlider;
    row.slider->setObjectName(object + " slider");
    row.slider->setAccessibleName(words);
    row.slider->setMinimumWidth(60);
    line->addWidget(row.slider, 1);
    const auto field = [&](const QString& name, int wide, double reset) {
        auto* made = new NumberField;
        made->setFixedWidth(wide);
        made->setRange(as.scale * of.number.least, as.scale * of.number.most);
        made->setDecimals(as.decimals);
        made->setUnit(as.unit == "turns" ? tr("turns") : as.unit,
                      as.unit == "turns" ? tr("turn") : QString());
        made->setUnitShown(wide == kValueWide);
        made->setStep(as.step);
        made->setDefault(as.scale * reset);
        made->setAccessibleName(name);
        if (of.number.whole) {
            made->setWhole(tr("%1 is no whole number; %2 or %3 are."));
        }
        line->addWidget(made);
        return made;
    };
    row.value = field(words, kValueWide, of.number.usual);
    row.value->setObjectName(object + " value");
    row.least = field(tr("%1: least").arg(words), kEndWide, of.number.least);
    row.least->setObjectName(object + " least");
    row.most = field(tr("%1: most").arg(words), kEndWide, of.number.most);
    row.most->setObjectName(object + " most");
    row.up = new QPushButton(QString(QChar(0x2191))); // an arrow
    row.up->setProperty("role", "link");
    row.up->setObjectName(object + " up");
    row.up->setFixedWidth(kUpWide);
    row.up->setToolTip(tr("Up, among the parameters"));
    row.up->setAccessibleName(tr("%1: up, among the parameters").arg(words));
    const bool first = index == 0 || of.number.voice == 0 ||
                       (of.parameter && session_.document().score.parameters[0].name == of.parameter->name);
    row.up->setEnabled(!first);
    line->addWidget(row.up);
    // A plain number has no range of its own; its slider stays in line with the others.
    for (QWidget* part :
         {static_cast<QWidget*>(row.least), static_cast<QWidget*>(row.most), static_cast<QWidget*>(row.up)}) {
        QSizePolicy policy = part->sizePolicy();
        policy.setRetainSizeWhenHidden(true);
        part->setSizePolicy(policy);
        part->setVisible(of.parameter != nullptr);
    }
    row.parameter = of.parameter ? of.parameter->name : std::string();
    rows_.push_back(row);
    connectRow(row, of);
    return widget;
}

void ParametersPage::connectRow(const Row& row, const Shown& of) {
    const motion::Adjustable number = of.number;
    const QString words = wordsOf(of);
    const double scale = shownIn(number, session_.assetSize()).scale;
    connect(row.dot, &ParameterDot::clicked, this, [this, number, words](bool on) {
        setParameters(session_, number.voice, {number.field}, on, words);
    });
    const auto set = [this, number, words, scale](double value, bool more) {
        setScoreNumber(session_, number, value / scale, words, session_.gesture(more));
    };
    connect(row.slider, &ValueSlider::edited, this, set);
    connect(row.value, &NumberField::edited, this, set);
    if (!of.parameter) {
        return;
    }
    const std::string name = of.parameter->name;
    connect(row.name, &QLineEdit::editingFinished, this, [this, row, of, number] {
        const motion::Parameter* parameter =
            motion::parameterAt(session_.document().score, number.voice, number.field);
        if (parameter) {
            rename(row, {number, parameter});
        }
    });
    connect(row.least, &NumberField::edited, this, [this, name, words, scale](double value, bool more) {
        editParameter(
            session_, name, tr("Least of %1").arg(words),
            [&](motion::Parameter& each) { each.least = std::min(value / scale, each.most); },
            session_.gesture(more));
    });
    connect(row.most, &NumberField::edited, this, [this, name, words, scale](double value, bool more) {
        editParameter(
            session_, name, tr("Most of %1").arg(words),
            [&](motion::Parameter& each) { each.most = std::max(value / scale, each.least); },
            session_.gesture(more));
    });
    connect(row.up, &QPushButton::clicked, this, [this, name] {
        const auto& all = session_.document().score.parameters;
        const auto at =
            std::find_if(all.begin(), all.end(), [&](const auto& each) { return each.name == name; });
        if (at != all.begin() && at != all.end()) {
            moveParameter(session_, name, static_cast<std::size_t>(at - all.begin()) - 1);
        }
    });
}

void ParametersPage::rename(const Row& row, const Shown& of) {
    const std::string typed = row.name->text().trimmed().toStdString();
    const std::string before = of.parameter->name;
    if (typed == before) {
        return;
    }
    std::vector<std::string> taken;
    for (const motion::Parameter& other : session_.document().score.parameters) {
        if (other.name != before) {
            taken.push_back(emit::identifier(other.name));
        }
    }
    try {
        emit::requireParameterName(typed, taken);
    } catch (const base::Failure& failure) {
        row.name->setText(text(before));
        QToolTip::showText(row.name->mapToGlobal(QPoint(0, row.name->height())),
                           text(failure.problem().line()), row.name);
        return;
    }
    editParameter(session_, before, tr("Rename the parameter %1").arg(text(before)),
                  [&](motion::Parameter& each) { each.name = typed; });
}

void ParametersPage::fill(const Row& row, const Shown& of) const {
    const ShownUnit as = shownIn(of.number, session_.assetSize());
    motion::Parameter range;
    if (of.parameter) {
        range = *of.parameter;
    } else {
        range = motion::parameterOf(session_.document().score, of.number);
        range.least = std::min(range.least, of.number.value);
        range.most = std::max(range.most, of.number.value);
    }
    row.dot->setChecked(of.parameter != nullptr);
    if (!row.name->hasFocus()) {
        row.name->setText(of.parameter ? text(of.parameter->name) : wordsOf(of));
        row.name->setCursorPosition(0);
    }
    row.slider->setRange(as.scale * range.least, as.scale * range.most, of.number.whole);
    row.slider->setValue(as.scale * of.number.value);
    row.value->setValue(as.scale * of.number.value);
    row.least->setValue(as.scale * range.least);
    row.most->setValue(as.scale * range.most);
}

} // namespace ripple::app
