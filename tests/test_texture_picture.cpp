#include "analytic_source.h"
#include "app/charts/texture_picture.h"
#include "bake/kind.h"
#include "bake/bake.h"
#include "bundle/import_notes.h"
#include "bundle/write_bundle.h"
#include "suite.h"
#include "turning_pieces.h"

#include <QTest>

#include <cstring>

using namespace ripple;
using namespace ripple::app;
using tests::AnalyticSource;

namespace {

const QColor kGround(10, 200, 30);

bake::TextureSet bakedAs(const source::FrameSource& source, const char* store, const char* normals,
                         const std::function<void(bake::Recipe&)>& more = {}) {
    bake::Recipe recipe;
    recipe.positionStore = store;
    recipe.normalStore = normals;
    if (more) {
        more(recipe);
    }
    return bake::bake(source, recipe).textures;
}

const AnalyticSource& waving() {
    static const AnalyticSource source(6, tests::timed(1.0, 12.0), tests::wave(1.0));
    return source;
}

} // namespace

class TestTexturePicture : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void spreadReachesFromBlackToWhite() {
        // Offsets of a wave lie along y alone: green holds them, red and blue hold one number each.
        for (const char* store : {"float32", "half", "unorm16", "unorm8x2"}) {
            const QImage image = pictureOf(bakedAs(waving(), store, "none"), {}, kGround).image;
            int low = 255;
            int high = 0;
            for (int y = 0; y < image.height(); ++y) {
                for (int x = 0; x < image.width(); ++x) {
                    low = std::min(low, qGreen(image.pixel(x, y)));
                    high = std::max(high, qGreen(image.pixel(x, y)));
                    QCOMPARE(qRed(image.pixel(x, y)), qRed(image.pixel(0, 0)));
                }
            }
            QCOMPARE(low, 0);
            QCOMPARE(high, 255);
        }
    }
    void storedNumbersAreThoseOfTheFile() {
        const bake::TextureSet set = bakedAs(waving(), "unorm16", "unorm8");
        const QImage image = pictureOf(set, {&bake::kPosition, 0, -1, true}, kGround).image;
        const image::Image& texture = set.image(bake::kPosition);
        for (std::size_t x = 0; x < texture.width; ++x) {
            std::uint16_t stored = 0;
            std::memcpy(&stored, texture.texel(x, 3) + 2, sizeof stored); // green
            QCOMPARE(qGreen(image.pixel(static_cast<int>(x), 3)), qRound(stored / 257.0));
        }
        // A float below zero is as black as a viewer shows it.
        const bake::TextureSet floats = bakedAs(waving(), "float32", "none");
        const QImage dark = pictureOf(floats, {&bake::kPosition, 0, 1, true}, kGround).image;
        float first = 0.0f;
        std::memcpy(&first, floats.image(bake::kPosition).texel(0, 2) + 4, sizeof first);
        QCOMPARE(qGreen(dark.pixel(0, 2)), qRound(255.0 * std::clamp(static_cast<double>(first), 0.0, 1.0)));
    }
    void aChannelAloneIsGrey() {
        const bake::TextureSet set = bakedAs(waving(), "unorm16", "unorm8");
        const QImage all = pictureOf(set, {&bake::kNormal, 0, -1, false}, kGround).image;
        const QImage blue = pictureOf(set, {&bake::kNormal, 0, 2, false}, kGround).image;
        for (int x = 0; x < all.width(); ++x) {
            const QRgb grey = blue.pixel(x, 5);
            QCOMPARE(qRed(grey), qBlue(all.pixel(x, 5)));
            QVERIFY(qRed(grey) == qGreen(grey) && qGreen(grey) == qBlue(grey));
        }
    }
    void paddingStaysInTheGround() {
        const bake::TextureSet set = bakedAs(waving(), "half", "none", [](bake::Recipe& recipe) {
            recipe.content = bake::Content::absolute;
            recipe.powerOfTwo = true;
            recipe.maxWidth = 16;
        });
        const QImage image = pictureOf(set, {}, kGround).image;
        QVERIFY(set.layout.height() > set.layout.usedHeight());
        QCOMPARE(image.pixelColor(0, image.height() - 1), kGround);
        const std::size_t used = set.layout.columns - (set.layout.rowsPerBlock - 1) * set.layout.width;
        const int last = static_cast<int>(set.layout.rowsPerBlock) - 1;
        QVERIFY(used < set.layout.width);
        QCOMPARE(image.pixelColor(static_cast<int>(used), last), kGround);
        QVERIFY(image.pixelColor(static_cast<int>(used) - 1, last) != kGround);
    }
    void emptyAndConstantTexturesAreSaid() {
        const AnalyticSource still(4, tests::sequence(5), [](const glm::vec3& rest, double) { return rest; });
        QVERIFY(pictureOf(bakedAs(still, "half", "none"), {}, kGround).warning.contains("Nothing moves"));
        const AnalyticSource heap(4, tests::sequence(5),
                                  [](const glm::vec3&, double) { return glm::vec3(1); });
        const auto absolute = [](bake::Recipe& recipe) { recipe.content = bake::Content::absolute; };
        QVERIFY(
            pictureOf(bakedAs(heap, "half", "none", absolute), {}, kGround).warning.contains("same place"));
        QVERIFY(pictureOf(bakedAs(still, "unorm8x2", "none"), {&bake::kPosition, 1, -1, false}, kGround)
                    .warning.contains("low bytes"));
        QVERIFY(pictureOf(bakedAs(waving(), "half", "unorm8"), {}, kGround).warning.isEmpty());
        // A texture that this bake does not have makes no picture.
        QVERIFY(pictureOf(bakedAs(waving(), "half", "none"), {&bake::kNormal, 0, -1, false}, kGround)
                    .image.isNull());
    }
    void texturesAreCalledByWhatTheyHold() {
        const auto names = [](const bake::TextureSet& set) {
            QStringList all;
            for (const bake::TextureFormat& texture : set.textures) {
                all << textureName(texture);
            }
            return all.join("|");
        };
        QCOMPARE(names(bakedAs(waving(), "unorm8x2", "oct32")), QString("High bytes|Low bytes|Normals"));
        const auto shapes = [](bake::Recipe& recipe) { recipe.kind = &bake::kShapes; };
        QCOMPARE(names(bakedAs(waving(), "half", "unorm8", shapes)), QString("Shapes|Normals|Weights"));
        const auto pieces = [](bake::Recipe& recipe) { recipe.kind = &bake::kPieces; };
        QCOMPARE(names(bakedAs(tests::TurningPieces(2), "unorm16", "none", pieces)),
                 QString("Positions|Rotations"));
    }
    void importersAreToldWhatEachKindNeeds() {
        const auto notesOf = [](const source::FrameSource& source, const bake::Recipe& recipe) {
            return QString::fromStdString(bundle::importNotes(
                bundle::encodeBundle(source, bake::bake(source, recipe), "toy", {}).manifest));
        };
        bake::Recipe recipe;
        recipe.positionStore = "unorm16";
        recipe.normalStore = "oct16";
        QVERIFY(notesOf(waving(), recipe).contains("| **red and green, where possible** |"));
        recipe.normalsInAlpha = true;
        const QString alpha = notesOf(waving(), recipe);
        QVERIFY(alpha.contains("| **keep as data (not premultiplied)** |") &&
                alpha.contains("alpha holds an octahedral normal"));
        recipe = {};
        recipe.kind = &bake::kShapes;
        recipe.shapes = 3;
        const QString shapes = notesOf(waving(), recipe);
        QVERIFY(shapes.contains("toy.weights.exr") && shapes.contains("read `shape` for `frame`"));
        recipe.kind = &bake::kPieces;
        const QString pieces = notesOf(tests::TurningPieces(2), recipe);
        QVERIFY(pieces.contains("toy.rotation.exr") && pieces.contains("the pivot of the vertex's piece"));
        QVERIFY(pieces.contains(
            "toy_at_seconds(positions, rotations, lookup_uv, rest_position, rest_normal, pivot"));
    }
};

static const ripple::tests::SuiteOf<TestTexturePicture> kSuite;
#include "test_texture_picture.moc"
