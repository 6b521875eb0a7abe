#include "app/benches/ship/code_page.h"

#include "app/benches/ship/code_colours.h"
#include "app/look/panel_parts.h"
#include "app/look/theme.h"
#include "app/session/words.h"
#include "emit/dialect.h"

#include <QHBoxLayout>
#include <QScrollBar>

namespace ripple::app {

namespace {

/// "GLSL", "HLSL", "WGSL"
QStringList languageNames() {
    QStringList names;
    for (const emit::Dialect* dialect : emit::dialects()) {
        names << QString(dialect->id()).toUpper();
    }
    return names;
}

int indexOf(const std::string& language) {
    const auto& all = emit::dialects();
    const auto found = std::find_if(all.begin(), all.end(),
                                    [&](const emit::Dialect* dialect) { return language == dialect->id(); });
    return found == all.end() ? 0 : static_cast<int>(found - all.begin());
}

} // namespace

CodePage::CodePage(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      language_(new SegmentedChoice(languageNames())),
      cost_(quietLabel()),
      code_(new QPlainTextEdit) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 0);
    column->setSpacing(4);
    auto* top = new QHBoxLayout;
    top->setContentsMargins(12, 0, 12, 0);
    top->setSpacing(12);
    language_->setObjectName("language");
    language_->setRoomy();
    top->addWidget(language_);
    cost_->setObjectName("codeCost");
    cost_->setWordWrap(false);
    cost_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred); // long words make no wider window
    top->addWidget(cost_, 1);
    column->addLayout(top);
    code_->setObjectName("code");
    code_->setReadOnly(true);
    code_->setLineWrapMode(QPlainTextEdit::NoWrap);
    code_->setFont(codeFont(11.5));
    new CodeColours(code_->document());
    column->addWidget(code_, 1);
    connect(language_, &SegmentedChoice::picked, this, [this](int index) {
        const std::string id = emit::dialects()[static_cast<std::size_t>(index)]->id();
        session_.look([&](project::View& view) { view.language = id; });
        refresh();
    });
    refresh();
}

void CodePage::restyle() {
    new CodeColours(code_->document());
    code_->setFont(codeFont(11.5));
}

void CodePage::refresh() {
    const int chosen = indexOf(session_.document().view.language);
    language_->show(chosen);
    const auto ship = session_.ship();
    const auto found = ship ? ship->code.find(emit::dialects()[static_cast<std::size_t>(chosen)]->id())
                            : std::map<std::string, std::string>::const_iterator();
    code_->setPlaceholderText(ship ? tr("The target asks for other languages.") : QString());
    const QString code = ship && found != ship->code.end() ? text(found->second) : QString();
    if (code_->toPlainText() != code) {
        code_->setPlainText(code);
        code_->verticalScrollBar()->setValue(0);
    }
    if (!ship) {
        cost_->clear();
        return;
    }
    const bundle::CodeCost& cost = ship->cost;
    const QString fetches =
        cost.pose.fetches > 0 ? tr("%n texel(s) read", nullptr, cost.pose.fetches) + ", " : QString();
    cost_->setText(tr("%n instruction(s) a vertex", nullptr, cost.pose.listed) + ", " + fetches +
                   tr("the velocity %1 more").arg(cost.velocity.listed));
}

} // namespace ripple::app
