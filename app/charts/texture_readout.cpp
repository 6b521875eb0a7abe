// What the texture sheet says of a texel.

#include "app/charts/texture_sheet.h"

#include "bake/kind.h"
#include "base/units.h"

#include <algorithm>

namespace ripple::app {

namespace {

QString lengths(const glm::vec3& v) {
    const auto length = [](float value) {
        return QString::fromStdString(base::lengthText(static_cast<double>(value)));
    };
    return QString("%1, %2, %3").arg(length(v.x), length(v.y), length(v.z));
}

QString numbers(const float* values, std::size_t count) {
    QStringList words;
    for (std::size_t i = 0; i < count; ++i) {
        words << QString::number(static_cast<double>(values[i]), 'f', 3);
    }
    return words.join(", ");
}

/// "joint hip left · place 1 mm, 2 mm, 3 mm, scale 1.000"
QString jointWords(const bake::JointFormat& joints, std::size_t column, const glm::vec4& texel) {
    const std::size_t part = column % joints.texels();
    const QString name =
        TextureSheet::tr("joint %1").arg(QString::fromStdString(joints.names[column / joints.texels()]));
    if (joints.matrix) {
        return name + " · " +
               TextureSheet::tr("row %1 of its matrix: %2").arg(part + 1).arg(numbers(&texel.x, 4));
    }
    return name + " · " +
           (part == 0
                ? TextureSheet::tr("place %1, scale %2").arg(lengths(glm::vec3(texel)), numbers(&texel.w, 1))
                : TextureSheet::tr("rotation %1").arg(numbers(&texel.x, 4)));
}

/// "vertex 12 and 3 alike · hip left 80 %, knee left 20 %"
QString influencesOf(const bake::TextureSet& set, const TextureSheet::Spot& spot) {
    const bake::JointInfluences& own = set.influences[spot.column];
    QStringList joints;
    for (std::size_t i = 2 * spot.row; i < 2 * spot.row + 2; ++i) {
        if (own.weights[i] > 0.0f) {
            joints << TextureSheet::tr("%1 %2 %")
                          .arg(QString::fromStdString(set.joints.names[own.joints[i]]))
                          .arg(100.0 * static_cast<double>(own.weights[i]), 0, 'f', 1);
        }
    }
    const auto sharing = static_cast<int>(spot.sharing);
    const QString vertex =
        sharing > 1 ? TextureSheet::tr("vertex %1 and %n alike", nullptr, sharing - 1).arg(spot.vertex)
                    : TextureSheet::tr("vertex %1").arg(spot.vertex);
    return vertex + " · " + (joints.isEmpty() ? TextureSheet::tr("no further joints") : joints.join(", "));
}

} // namespace

bool TextureSheet::rowsAreFrames() const {
    const bake::TextureSet& set = shown_->baked.textures;
    return set.kind->blocksAreFrames() || !set.find(*choice_.quantity, choice_.plane)->inBlocks;
}

QString TextureSheet::readout(const Spot& spot) const {
    const bake::TextureSet& set = shown_->baked.textures;
    const bake::TextureReader reader(set, shown_->baked.columnOfVertex, {}, {});
    const bake::TextureFormat& texture = *set.find(*choice_.quantity, choice_.plane);
    QStringList facts;
    if (texture.is(bake::kInfluence)) {
        return influencesOf(set, spot);
    }
    if (!rowsAreFrames()) {
        facts << tr("shape %1").arg(spot.row + 1);
    }
    for (const bake::BakedClip& clip : set.clips) {
        if (facts.isEmpty() && spot.row < clip.firstFrame + clip.frames) {
            const std::size_t in = spot.row - clip.firstFrame;
            facts << tr("%1, frame %2")
                         .arg(QString::fromStdString(clip.name))
                         .arg(clip.times.empty() ? in : clip.times[in]);
        }
    }
    if (texture.is(bake::kJoint)) {
        std::vector<glm::vec4> texels(set.joints.layout.columns);
        reader.storedJoints(spot.row, texels);
        return facts.join(" · ") + " · " + jointWords(set.joints, spot.column, texels[spot.column]);
    }
    if (texture.is(bake::kWeight)) {
        std::vector<float> weights(set.layout.blocks);
        reader.storedWeights(spot.row, weights);
        const std::size_t count = std::min<std::size_t>(4, weights.size() - spot.column);
        facts << tr("weights of shapes %1 to %2: %3")
                     .arg(spot.column + 1)
                     .arg(spot.column + count)
                     .arg(numbers(weights.data() + spot.column, count));
        return facts.join(" · ");
    }
    const auto sharing = static_cast<int>(spot.sharing);
    facts << (set.kind->hasPivots
                  ? tr("piece %1, %n vertices from %2", nullptr, sharing).arg(spot.column).arg(spot.vertex)
              : spot.sharing > 1 ? tr("vertex %1 and %n alike", nullptr, sharing - 1).arg(spot.vertex)
                                 : tr("vertex %1").arg(spot.vertex));
    if (*texture.quantity == bake::kRotation) {
        std::vector<glm::vec4> rotations(set.layout.columns);
        reader.storedRotations(spot.row, rotations);
        facts << tr("rotation %1").arg(numbers(&rotations[spot.column].x, 4));
        return facts.join(" · ");
    }
    std::vector<glm::vec3> values(set.layout.columns);
    const auto normal = [&] {
        reader.storedNormals(spot.row, values);
        return tr("normal %1").arg(numbers(&values[spot.column].x, 3));
    };
    if (*texture.quantity == bake::kNormal) {
        facts << normal();
        return facts.join(" · ");
    }
    if (*texture.quantity == bake::kTangent) {
        reader.storedTangents(spot.row, values);
        facts << tr("tangent %1").arg(numbers(&values[spot.column].x, 3));
        return facts.join(" · ");
    }
    reader.storedPositions(spot.row, values);
    facts << (set.content == bake::Content::offset ? tr("offset %1") : tr("position %1"))
                 .arg(lengths(values[spot.column]));
    if (set.normalsInAlpha) {
        facts << normal();
    }
    return facts.join(" · ");
}

} // namespace ripple::app
