#include "app/benches/bake/sheet_page.h"

#include <QVBoxLayout>

namespace ripple::app {

SheetPage::SheetPage(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      sheet_(new TextureSheet(session)),
      row_(new QHBoxLayout),
      numbers_(new SegmentedChoice({tr("spread"), tr("stored")})) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 0);
    column->setSpacing(2);
    row_->setContentsMargins(8, 0, 8, 0);
    row_->setSpacing(12);
    row_->addStretch(1);
    numbers_->setObjectName("sheetNumbers");
    numbers_->setToolTips({tr("Spread over what occurs, so that small motion shows"),
                           tr("The numbers as they lie in the file: what an importer's preview shows")});
    numbers_->show(0);
    numbers_->setRoomy();
    row_->addWidget(numbers_);
    column->addLayout(row_);
    column->addWidget(sheet_, 1);
    connect(numbers_, &SegmentedChoice::picked, this, [this](int i) {
        SheetChoice choice = sheet_->choice();
        choice.stored = i == 1;
        sheet_->choose(choice);
    });
    connect(&session_, &Session::bakeFinished, this, &SheetPage::refresh);
    refresh();
}

void SheetPage::refresh() {
    const auto bake = session_.bake();
    if (!bake) {
        return; // the sheet says so
    }
    const bake::TextureSet& set = bake->baked.textures;
    QStringList labels;
    for (const bake::TextureFormat& texture : set.textures) {
        labels << textureName(texture);
    }
    if (labels != shown_) {
        shown_ = labels;
        delete textures_;
        textures_ = new SegmentedChoice(labels);
        textures_->setObjectName("sheetTexture");
        textures_->setRoomy();
        row_->insertWidget(0, textures_);
        connect(textures_, &SegmentedChoice::picked, this, [this](int i) {
            SheetChoice choice = sheet_->choice();
            const auto now = session_.bake();
            if (!now || static_cast<std::size_t>(i) >= now->baked.textures.textures.size()) {
                return;
            }
            const bake::TextureFormat& texture = now->baked.textures.textures[static_cast<std::size_t>(i)];
            choice.quantity = texture.quantity;
            choice.plane = texture.plane;
            choice.channel = -1;
            sheet_->choose(choice);
            rebuildChannels();
        });
    }
    SheetChoice choice = sheet_->choice();
    if (!set.find(*choice.quantity, choice.plane)) {
        choice = {set.textures[0].quantity, 0, -1, choice.stored};
        sheet_->choose(choice);
    }
    textures_->show(static_cast<int>(set.indexOf(*choice.quantity, choice.plane)));
    rebuildChannels();
}

void SheetPage::rebuildChannels() {
    const auto bake = session_.bake();
    const bake::TextureFormat* texture =
        bake ? bake->baked.textures.find(*sheet_->choice().quantity, sheet_->choice().plane) : nullptr;
    if (!texture) {
        return;
    }
    if (texture->channelsUsed != channelCount_) {
        channelCount_ = texture->channelsUsed;
        delete channels_;
        const QStringList names = {tr("all"), "R", "G", "B", "A"};
        channels_ = new SegmentedChoice(names.mid(0, static_cast<int>(channelCount_) + 1));
        channels_->setObjectName("sheetChannel");
        channels_->setRoomy();
        row_->insertWidget(1, channels_);
        connect(channels_, &SegmentedChoice::picked, this, [this](int i) {
            SheetChoice choice = sheet_->choice();
            choice.channel = i - 1;
            sheet_->choose(choice);
        });
    }
    SheetChoice choice = sheet_->choice();
    if (choice.channel >= static_cast<int>(channelCount_)) {
        choice.channel = -1;
        sheet_->choose(choice);
    }
    channels_->show(choice.channel + 1);
}

} // namespace ripple::app
