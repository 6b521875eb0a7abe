#pragma once

#include "app/charts/texture_sheet.h"
#include "app/look/segmented_choice.h"

#include <QHBoxLayout>

namespace ripple::app {

/// The texture sheet with the choice of texture, channel and numbers above it.
class SheetPage : public QWidget {
    Q_OBJECT
public:
    explicit SheetPage(Session& session, QWidget* parent = nullptr);
    TextureSheet* sheet() const { return sheet_; }

private:
    /// The choices that the present bake has.
    void refresh();
    void rebuildChannels();

    Session& session_;
    TextureSheet* sheet_;
    QHBoxLayout* row_;
    SegmentedChoice* textures_ = nullptr;
    SegmentedChoice* channels_ = nullptr;
    SegmentedChoice* numbers_;
    QStringList shown_; ///< labels of textures_, to tell when they change
    std::size_t channelCount_ = 0;
};

} // namespace ripple::app
