// The bake panel's kind, stores and texture.

#include "app/benches/bake/bake_panel.h"
#include "app/benches/bake/row_index.h"
#include "app/look/panel_parts.h"
#include "app/session/words.h"
#include "bake/kind.h"
#include "base/units.h"

#include <QGridLayout>
#include <QSignalBlocker>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

template <typename Rows>
SegmentedChoice* choiceOf(const Rows& rows) {
    QStringList labels;
    QStringList tips;
    for (const auto& row : rows) {
        labels << row.label;
        tips << row.about;
    }
    auto* choice = new SegmentedChoice(labels);
    choice->setToolTips(tips);
    return choice;
}

constexpr std::size_t kWidths[] = {256, 512, 1024, 2048, 4096, 8192, 16384};

} // namespace

void BakePanel::buildKind() {
    QStringList labels;
    QStringList tips;
    for (const bake::Kind* kind : bake::kinds()) {
        labels << kind->label;
        tips << kind->about;
    }
    kind_ = new SegmentedChoice(labels);
    kind_->setObjectName("kind");
    kind_->setToolTips(tips);
    column()->addWidget(kind_);
    shapes_ = new NumberField;
    shapes_->setObjectName("shapes");
    shapes_->setRange(1, 4096);
    shapes_->setDefault(16);
    shapes_->setFixedWidth(64);
    buildJoints();
    shapesRow_ = labelledRow(tr("Number of shared shapes"), shapes_,
                             tr("More shapes follow the motion more closely and cost more memory"));
    column()->addWidget(shapesRow_);
    connect(kind_, &SegmentedChoice::picked, this, [this](int i) {
        const bake::Kind& kind = *bake::kinds()[static_cast<std::size_t>(i)];
        editRecipe(tr("Bake %1").arg(kind.id), [&kind](bake::Recipe& r) { r = bake::withKind(r, kind); });
    });
    connect(shapes_, &NumberField::edited, this, [this](double v, bool more) {
        editRecipe(
            tr("Store %n shared shape(s)", nullptr, static_cast<int>(std::round(v))),
            [v](bake::Recipe& r) { r.shapes = static_cast<std::size_t>(std::max(1.0, std::round(v))); },
            more);
    });
}

void BakePanel::buildStore() {
    column()->addWidget(sectionLabel(tr("Position store")));
    store_ = choiceOf(bake::positionStores());
    store_->setObjectName("store");
    column()->addWidget(store_);
    content_ = new SegmentedChoice({tr("offset from rest pose"), tr("absolute position")});
    content_->setObjectName("content");
    content_->setToolTips(
        {tr("Stores what is added to the rest position: smaller numbers, so the same bits are more precise"),
         tr("Stores the position itself, independent of the rest pose")});
    column()->addWidget(content_);
    normalsLabel_ = sectionLabel(tr("Normals"));
    column()->addWidget(normalsLabel_);
    normals_ = choiceOf(bake::normalStores());
    normals_->setObjectName("normals");
    column()->addWidget(normals_);
    alpha_ = new TickBox(tr("Pack into position alpha (saves one fetch)"));
    alpha_->setObjectName("alpha");
    alpha_->setCheckable(true);
    column()->addWidget(alpha_);
    tangents_ = new TickBox(tr("Store tangents too, in the same format"));
    tangents_->setObjectName("tangents");
    tangents_->setCheckable(true);
    tangents_->setToolTip(
        tr("For normal maps that must follow the surface: the mesh's tangents are carried along with its "
           "triangles and get a texture of their own. Their sign stays in the mesh."));
    column()->addWidget(tangents_);
    connect(tangents_, &QAbstractButton::clicked, this, [this](bool on) {
        editRecipe(on ? tr("Store tangents") : tr("Leave out tangents"),
                   [on](bake::Recipe& r) { r.tangents = on; });
    });
    connect(store_, &SegmentedChoice::picked, this, [this](int i) {
        const bake::PositionStore& row = bake::positionStores()[static_cast<std::size_t>(i)];
        editRecipe(tr("Store positions as %1").arg(row.label), [&row](bake::Recipe& r) {
            r.positionStore = row.name;
            r.normalsInAlpha = r.normalsInAlpha && row.holdsNormals();
        });
    });
    connect(content_, &SegmentedChoice::picked, this, [this](int i) {
        editRecipe(i == 0 ? tr("Store offsets") : tr("Store positions"), [i](bake::Recipe& r) {
            r.content = i == 0 ? bake::Content::offset : bake::Content::absolute;
        });
    });
    connect(normals_, &SegmentedChoice::picked, this, [this](int i) {
        const bake::NormalStore& row = bake::normalStores()[static_cast<std::size_t>(i)];
        editRecipe(tr("Store normals as %1").arg(row.label), [&row](bake::Recipe& r) {
            r.normalStore = row.name;
            r.normalsInAlpha = r.normalsInAlpha && r.normalStore == bake::kOct16Normals.name;
            r.tangents = r.tangents && row.stored();
        });
    });
    connect(alpha_, &QAbstractButton::clicked, this, [this](bool on) {
        editRecipe(on ? tr("Pack normals into position alpha") : tr("Give normals their own texture"),
                   [on](bake::Recipe& r) {
                       r.normalsInAlpha = on;
                       r.normalStore =
                           on ? bake::kOct16Normals.name : r.normalStore; // what fits into 16 bits
                   });
    });
}

void BakePanel::buildTexture() {
    width_ = new QComboBox;
    width_->setObjectName("width");
    for (const std::size_t width : kWidths) {
        width_->addItem(text(base::countText(width)), static_cast<qulonglong>(width));
    }
    column()->addWidget(labelledRow(tr("Maximum texture width"), width_,
                                    tr("In texels; wider frames continue in the rows below")));
    const auto box = [](const QString& words, const char* name, const QString& tip) {
        auto* made = new TickBox(words);
        made->setObjectName(name);
        made->setCheckable(true);
        made->setToolTip(tip);
        return made;
    };
    powerOfTwo_ = box(tr("Power-of-two size"), "powerOfTwo",
                      tr("Pads both sides, for importers that would resize the texture otherwise"));
    halfUvs_ = box(tr("Target uses half-precision UVs"), "halfUvs",
                   tr("Keeps textures within %1 texels, where half-precision UVs still tell columns apart")
                       .arg(bake::kWidestForHalfUvs));
    perClip_ = box(tr("Separate range for each clip"), "perClip",
                   tr("Small motions keep their precision beside large ones; the code looks the range up"));
    column()->addWidget(powerOfTwo_);
    column()->addWidget(halfUvs_);
    column()->addWidget(perClip_);
    connect(width_, &QComboBox::activated, this, [this](int i) {
        editRecipe(tr("Maximum texture width"), [i](bake::Recipe& r) { r.maxWidth = kWidths[i]; });
    });
    connect(powerOfTwo_, &QAbstractButton::clicked, this, [this](bool on) {
        editRecipe(tr("Power-of-two size"), [on](bake::Recipe& r) { r.powerOfTwo = on; });
    });
    connect(halfUvs_, &QAbstractButton::clicked, this, [this](bool on) {
        editRecipe(tr("Half-precision UVs"), [on](bake::Recipe& r) { r.halfUvs = on; });
    });
    connect(perClip_, &QAbstractButton::clicked, this, [this](bool on) {
        editRecipe(tr("Separate range for each clip"), [on](bake::Recipe& r) { r.rangePerClip = on; });
    });
}

void BakePanel::refreshStore() {
    const bake::Recipe& recipe = session_.document().recipe;
    const bool vertices = recipe.kind->holdsVertices;
    const auto own = std::ranges::find(bake::kinds(), recipe.kind);
    kind_->show(static_cast<int>(own - bake::kinds().begin()));
    refreshJoints();
    shapesRow_->setVisible(recipe.kind == &bake::kShapes);
    shapes_->setValue(static_cast<double>(recipe.shapes));
    const int store = rowIndex(bake::positionStores(), recipe.positionStore);
    store_->show(store);
    const bake::PositionStore& row = bake::positionStores()[static_cast<std::size_t>(std::max(store, 0))];
    content_->setVisible(recipe.kind->absolute);
    content_->show(recipe.content == bake::Content::offset ? 0 : 1);
    const bool normals = recipe.kind->ownNormals;
    normalsLabel_->setVisible(normals);
    normals_->setVisible(normals);
    normals_->show(rowIndex(bake::normalStores(), recipe.normalStore));
    alpha_->setVisible(vertices);
    alpha_->setEnabled(row.holdsNormals());
    alpha_->setChecked(recipe.normalsInAlpha);
    alpha_->setToolTip(row.holdsNormals() ? tr("Octahedral normals of 2 × 8 bits, beside the position")
                                          : tr("The alpha of this position store has too few bits. "
                                               "16-bit range, 2 × 8-bit and float have room."));
    const auto source = session_.source();
    // A recipe may ask for what another source had: then the way to take it back is shown.
    tangents_->setVisible(vertices && ((source && !source->mesh().tangents.empty()) || recipe.tangents));
    tangents_->setEnabled(bake::normalStore(recipe.normalStore).stored() || recipe.tangents);
    tangents_->setChecked(recipe.tangents);
    perClip_->setVisible(source && source->clips().size() > 1);
    perClip_->setEnabled(row.usesRange && recipe.kind->absolute);
    perClip_->setChecked(recipe.rangePerClip);
    powerOfTwo_->setChecked(recipe.powerOfTwo);
    halfUvs_->setChecked(recipe.halfUvs);
    const QSignalBlocker quiet(width_);
    width_->setCurrentIndex(width_->findData(static_cast<qulonglong>(recipe.maxWidth)));
}

} // namespace ripple::app
