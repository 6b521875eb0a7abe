// What importers did to a bundle's files, found in what they wrote again.

#include "problem_of.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "bundle/read_bundle.h"
#include "bundle/returned.h"
#include "image/texels.h"
#include "bundle/texture_damage.h"
#include "bundle/write_bundle.h"
#include "image/exr.h"
#include "image/png.h"
#include "source/gltf_write.h"
#include "source/open.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <cmath>
#include <functional>

#include <Imath/half.h>

using namespace ripple;
using namespace ripple::bundle;

class TestReturned : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;
    std::shared_ptr<const source::FrameSource> heron_;

    std::filesystem::path at(const char* name) const {
        return std::filesystem::path(dir_.path().toStdString()) / name;
    }
    std::filesystem::path written(const char* store, bool alpha = false) const {
        const std::filesystem::path folder = at(store) / (alpha ? "alpha" : "plain") / "heron";
        if (!std::filesystem::exists(folder)) {
            std::filesystem::create_directories(folder.parent_path());
            bake::Recipe recipe;
            recipe.positionStore = store;
            recipe.normalsInAlpha = alpha;
            recipe.normalStore = alpha ? "oct16" : recipe.normalStore;
            recipe.clips = {{"stroll", {}, {}}};
            base::Progress progress;
            writeBundle(*heron_, recipe, {}, folder, progress);
        }
        return folder;
    }
    static std::vector<std::string> idsOf(const std::vector<Change>& changes) {
        std::vector<std::string> ids;
        for (const Change& change : changes) {
            ids.push_back(change.id);
        }
        std::ranges::sort(ids);
        return ids;
    }
    static std::string joined(const std::vector<std::string>& ids) {
        std::string text;
        for (const std::string& id : ids) {
            text += id + " ";
        }
        return text;
    }
    /// Names exactly these.
    static bool names(const std::vector<Change>& changes, std::vector<std::string> wanted) {
        std::ranges::sort(wanted);
        const bool same = idsOf(changes) == wanted;
        if (!same) {
            qInfo("said: %s, wanted: %s", joined(idsOf(changes)).c_str(), joined(wanted).c_str());
        }
        return same;
    }
    /// As a program that reads the image and writes it with another depth.
    static image::Image converted(const image::Image& image, image::Pixel pixel) {
        image::Image made(image.width, image.height, image.channels, pixel);
        for (std::size_t y = 0; y < image.height; ++y) {
            for (std::size_t x = 0; x < image.width; ++x) {
                for (std::size_t c = 0; c < image.channels; ++c) {
                    setValue(made, x, y, c, valueAt(image, x, y, c));
                }
            }
        }
        return made;
    }
    /// The mesh with vertices of the bundle's in this order, written and read again as `check` does.
    ReturnedReport returnedMesh(const Bundle& bundle, const mesh::Mesh& mesh) const {
        const std::filesystem::path folder = at("mesh");
        std::filesystem::create_directories(folder);
        base::writeFile(folder / bundle.manifest.meshFile,
                        source::glbBytes(source::gltfModel(mesh, "heron", {}), "heron.glb"));
        return checkReturned(written("unorm16"), folder);
    }

private Q_SLOTS:
    void initTestCase() { heron_ = source::open(std::filesystem::path(DEMO_FOLDER) / "heron.glb"); }

    void everyDamageIsNamed_data() {
        QTest::addColumn<QString>("store");
        for (const char* store : {"float32", "half", "unorm16", "unorm8x2"}) {
            QTest::newRow(store) << store;
        }
    }
    void everyDamageIsNamed() {
        QFETCH(QString, store);
        const Bundle bundle = readBundle(written(store.toUtf8().constData()));
        const image::Image& original = bundle.textures.images[0];
        const std::size_t rows = bundle.textures.layout.rowsPerBlock;
        QVERIFY(changesOfTexture(original, original, rows).empty());
        for (const DamageWords& words : textureDamages()) {
            if (words.damage == TextureDamage::premultiplied) {
                continue; // it has no alpha
            }
            const std::vector<Change> changes =
                changesOfTexture(original, damagedBy(words.damage, original, rows), rows);
            std::vector<std::string> wanted = {words.id};
            if (words.damage == TextureDamage::eightBits && store != "unorm16") {
                continue; // cuts values below 0 off, and floats of 8 bits are not written: below
            }
            QVERIFY2(names(changes, wanted), words.id);
        }
    }
    /// One step of 8 bits is the 255th of a range where they are the high ones, and a third of a degree of
    /// normals.
    void aStepOfEightBitsIsNoticed() {
        for (const char* store : {"unorm8x2", "unorm16"}) {
            const Bundle bundle = readBundle(written(store));
            int eights = 0;
            for (const image::Image& original : bundle.textures.images) {
                if (original.pixel != image::Pixel::u8) {
                    continue;
                }
                ++eights;
                image::Image shifted = original;
                for (std::byte& value : shifted.data) {
                    value = std::byte(std::min(std::to_integer<int>(value) + 1, 255));
                }
                QVERIFY(!changesOfTexture(original, shifted, 1).empty());
                QVERIFY(!changesOfTexture(original, converted(shifted, image::Pixel::float32), 1).empty());
                QVERIFY(changesOfTexture(original, converted(original, image::Pixel::float32), 1).empty());
                QVERIFY(changesOfTexture(original, original, 1).empty());
            }
            QVERIFY(eights > 0);
        }
    }
    void severalAtOnceAreNamed() {
        const Bundle bundle = readBundle(written("unorm16"));
        const image::Image& original = bundle.textures.images[0];
        const std::size_t rows = bundle.textures.layout.rowsPerBlock;
        const auto after = [&](std::initializer_list<TextureDamage> damages) {
            image::Image image = original;
            for (const TextureDamage damage : damages) {
                image = damagedBy(damage, image, rows);
            }
            return changesOfTexture(original, image, rows);
        };
        using enum TextureDamage;
        QVERIFY(names(after({srgbApplied, eightBits}), {"srgb-applied", "eight-bits"}));
        QVERIFY(names(after({eightBits, srgbApplied}), {"srgb-applied", "eight-bits"}));
        QVERIFY(names(after({eightBits, srgbRemoved}), {"srgb-removed", "eight-bits"}));
        QVERIFY(names(after({rowsFlipped, channelsSwapped}), {"rows-flipped", "channels-swapped"}));
        QVERIFY(names(after({rowsFlipped, columnsFlipped, srgbRemoved}),
                      {"rows-flipped", "columns-flipped", "srgb-removed"}));
        QVERIFY(names(after({lastFrameMissing, rowsFlipped, eightBits}),
                      {"last-frame-missing", "rows-flipped", "eight-bits"}));
        QVERIFY(names(after({firstFrameMissing, srgbApplied}), {"first-frame-missing", "srgb-applied"}));
        QVERIFY(names(after({channelsSwapped, blockCompressed}), {"channels-swapped", "block-compressed"}));
        QVERIFY(names(after({rowsFlipped, halfSize}), {"rows-flipped", "half-size"}));
        QVERIFY(names(after({srgbRemoved, srgbApplied}), {"rounded"})); // there and back
    }
    void otherFormatsAreNamed() {
        const std::size_t rows = 1;
        const Bundle floats = readBundle(written("float32"));
        const image::Image& original = floats.textures.images[0];
        QVERIFY(names(changesOfTexture(original, converted(original, image::Pixel::half), rows),
                      {"half-precision"}));
        QVERIFY(names(changesOfTexture(original, converted(original, image::Pixel::u16), rows), {"clamped"}));
        const auto eight = changesOfTexture(original, converted(original, image::Pixel::u8), rows);
        QVERIFY(names(eight, {"clamped", "eight-bits"}));
        const Bundle whole = readBundle(written("unorm16"));
        const image::Image& deep = whole.textures.images[0];
        QVERIFY(changesOfTexture(deep, converted(deep, image::Pixel::float32), rows).empty());
        QVERIFY(names(changesOfTexture(deep, converted(deep, image::Pixel::u8), rows), {"eight-bits"}));
        // Rounded normals of 8 bits are what they were.
        const image::Image& normals = whole.textures.images[1];
        QVERIFY(normals.pixel == image::Pixel::u8);
        QVERIFY(changesOfTexture(normals, converted(normals, image::Pixel::u16), rows).empty());
    }
    /// Of large models half precision has no room for what a curve makes of them.
    void whatBecomesInfiniteIsUnderstood() {
        image::Image large(40, 20, 3, image::Pixel::half);
        for (std::size_t y = 0; y < large.height; ++y) {
            for (std::size_t x = 0; x < large.width; ++x) {
                for (std::size_t c = 0; c < 3; ++c) {
                    setValue(large, x, y, c, static_cast<float>(7 * x + 3 * y * (c + 1)) - 100.0f);
                }
            }
        }
        const image::Image spoilt = damagedBy(TextureDamage::srgbRemoved, large, 1);
        QVERIFY(std::isinf(valueAt(spoilt, 39, 19, 0)));
        QVERIFY(names(changesOfTexture(large, spoilt, 1), {"srgb-removed"}));
    }
    void alphaAndColoursAreTakenApart() {
        const Bundle bundle = readBundle(written("unorm16", true));
        const image::Image& original = bundle.textures.images[0];
        QCOMPARE(original.channels, std::size_t(4));
        const std::size_t rows = bundle.textures.layout.rowsPerBlock;
        const image::Image dark = damagedBy(TextureDamage::premultiplied, original, rows);
        QVERIFY(names(changesOfTexture(original, dark, rows), {"premultiplied"}));
        image::Image three(original.width, original.height, 3, original.pixel);
        for (std::size_t y = 0; y < three.height; ++y) {
            for (std::size_t x = 0; x < three.width; ++x) {
                for (std::size_t c = 0; c < 3; ++c) {
                    setValue(three, x, y, c, valueAt(original, x, y, c));
                }
            }
        }
        QVERIFY(names(changesOfTexture(original, three, rows), {"alpha-lost"}));
    }
    void whatNobodyKnowsIsSaidToBeUnknown() {
        const Bundle bundle = readBundle(written("unorm16"));
        const image::Image& original = bundle.textures.images[0];
        image::Image odd = original;
        for (std::size_t y = 0; y < odd.height; ++y) {
            for (std::size_t x = 0; x < odd.width; ++x) {
                for (std::size_t c = 0; c < 3; ++c) {
                    const float value = valueAt(odd, x, y, c);
                    setValue(odd, x, y, c, 0.5f + 0.5f * std::sin(40.0f * value));
                }
            }
        }
        QVERIFY(names(changesOfTexture(original, odd, 1), {"unknown"}));
        // One texel in a thousand would not be seen; a tenth of them is.
        image::Image spoiled = original;
        for (std::size_t y = 0; y < spoiled.height; ++y) {
            for (std::size_t x = 0; x < spoiled.width; x += 10) {
                setValue(spoiled, x, y, 0, 0.0f);
            }
        }
        QVERIFY(names(changesOfTexture(original, spoiled, 1), {"unknown"}));
    }

    /// Through files, with what it costs.
    void filesAreComparedAndPlayed() {
        const std::filesystem::path folder = written("unorm16");
        const Bundle bundle = readBundle(folder);
        const ReturnedReport same = checkReturned(folder, folder);
        QVERIFY(same.ok());
        QCOMPARE(same.files.size(), std::size_t(3));
        const std::filesystem::path back = at("back");
        std::filesystem::create_directories(back);
        const image::Image& original = bundle.textures.images[0];
        const std::size_t rows = bundle.textures.layout.rowsPerBlock;
        const image::Image flipped =
            damagedBy(TextureDamage::rowsFlipped, damagedBy(TextureDamage::eightBits, original, rows), rows);
        image::writePng(flipped, back / bundle.manifest.textureFiles[0]);
        const ReturnedReport report = checkReturned(folder, back);
        QVERIFY(!report.ok() && report.problems.empty());
        QCOMPARE(report.files.size(), std::size_t(1));
        const ReturnedFile& file = report.files[0];
        QVERIFY(names(file.changes, {"rows-flipped", "eight-bits"}));
        // 8 bits cost half a step of each axis's range at most, and nearly that somewhere.
        const auto eight = std::ranges::find(file.changes, std::string("eight-bits"), &Change::id);
        const bake::Range range = bundle.textures.ranges.at(0);
        const double step = static_cast<double>(glm::length(range.max - range.min)) / 255.0;
        QVERIFY(*eight->metres <= 0.51 * step && *eight->metres > 0.2 * step);
        const auto rowsCost = std::ranges::find(file.changes, std::string("rows-flipped"), &Change::id);
        QVERIFY(*rowsCost->metres > 0.05 && file.metres > 0.05);
        QVERIFY(rowsCost->prevention.find("heron_rows_from_below") != std::string::npos);

        const std::filesystem::path empty = at("empty");
        std::filesystem::create_directories(empty);
        QVERIFY(!checkReturned(folder, empty).problems.empty());
        base::writeFile(empty / bundle.manifest.textureFiles[0], base::Bytes(20));
        QCOMPARE(checkReturned(folder, empty).problems.size(), std::size_t(1));
    }

    void whatHappenedToTheMeshIsNamed() {
        const Bundle bundle = readBundle(written("unorm16"));
        const std::size_t lookup = bundle.manifest.lookupUvSet;
        const auto said = [&](const std::function<void(mesh::Mesh&)>& change) {
            mesh::Mesh mesh = bundle.mesh;
            change(mesh);
            const ReturnedReport report = returnedMesh(bundle, mesh);
            return report.files.size() == 1 ? report.files[0] : ReturnedFile{};
        };
        QVERIFY(names(said([](mesh::Mesh&) {}).changes, {}));
        const auto eachPoint = [](mesh::Mesh& mesh, auto of) {
            for (std::size_t v = 0; v < mesh.vertexCount(); ++v) {
                mesh.positions[v] = of(mesh.positions[v]);
            }
        };
        const auto turn = [](const glm::vec3& p) { return glm::vec3(p.x, -p.z, p.y); };
        const ReturnedFile turned = said([&](mesh::Mesh& mesh) {
            eachPoint(mesh, turn);
            for (glm::vec3& n : mesh.normals) {
                n = turn(n);
            }
        });
        QVERIFY(names(turned.changes, {"axes-turned"}));
        QVERIFY(turned.changes[0].what.find("its X is +X, its Y is -Z, its Z is +Y") != std::string::npos);
        QVERIFY(turned.metres > 0.3);
        const ReturnedFile scaled =
            said([&](mesh::Mesh& mesh) { eachPoint(mesh, [](const glm::vec3& p) { return 100.0f * p; }); });
        QVERIFY(names(scaled.changes, {"unit-changed"}));
        QVERIFY(scaled.changes[0].what.find("a metre is 100 of it") != std::string::npos);
        const auto uvs = [&](auto of) {
            return said([&](mesh::Mesh& mesh) {
                for (glm::vec2& uv : mesh.uvSets[lookup]) {
                    uv = of(uv);
                }
            });
        };
        QVERIFY(names(uvs([](glm::vec2 uv) { return glm::vec2(uv.x, 1.0f - uv.y); }).changes, {"v-flipped"}));
        const ReturnedFile halved =
            uvs([](glm::vec2 uv) { return glm::vec2(Imath::half(uv.x), Imath::half(uv.y)); });
        QVERIFY(names(halved.changes, {"half-uvs"}));
        // 2 974 columns in rows of up to 2 048: half UVs miss some by a column.
        QVERIFY(halved.changes[0].metres && *halved.changes[0].metres == halved.metres);
        QVERIFY(
            names(said([&](mesh::Mesh& mesh) { mesh.uvSets.resize(lookup); }).changes, {"uv-set-missing"}));
        QVERIFY(names(said([&](mesh::Mesh& mesh) {
                          mesh.uvSets.insert(mesh.uvSets.begin(), std::vector<glm::vec2>(mesh.vertexCount()));
                      }).changes,
                      {"other-uv-set"}));
        const ReturnedFile normals = said([](mesh::Mesh& mesh) {
            for (glm::vec3& n : mesh.normals) {
                n = glm::vec3(0, 1, 0);
            }
        });
        QVERIFY(names(normals.changes, {"normals-new"}));
        QVERIFY(normals.degrees > 90.0);
    }
    void verticesThatWereSplitOrSortedAreFound() {
        const Bundle bundle = readBundle(written("unorm16"));
        const mesh::Mesh& own = bundle.mesh;
        /// Vertex k of the new mesh is `from[k]` of the bundle's; triangles follow.
        const auto rebuilt = [&](const std::vector<std::uint32_t>& from) {
            mesh::Mesh mesh;
            std::vector<std::uint32_t> place(own.vertexCount());
            mesh.uvSets.resize(own.uvSets.size());
            for (std::size_t k = 0; k < from.size(); ++k) {
                place[from[k]] = static_cast<std::uint32_t>(k);
                mesh.positions.push_back(own.positions[from[k]]);
                mesh.normals.push_back(own.normals[from[k]]);
                for (std::size_t s = 0; s < own.uvSets.size(); ++s) {
                    mesh.uvSets[s].push_back(own.uvSets[s][from[k]]);
                }
            }
            for (const std::uint32_t i : own.indices) {
                mesh.indices.push_back(place[i]);
            }
            mesh::Part part = own.parts[0];
            part.firstVertex = 0;
            part.vertexCount = mesh.positions.size();
            part.firstIndex = 0;
            part.indexCount = mesh.indices.size();
            mesh.parts = {part};
            mesh.materials = own.materials;
            return mesh;
        };
        std::vector<std::uint32_t> order(own.vertexCount());
        for (std::size_t k = 0; k < order.size(); ++k) {
            order[k] = static_cast<std::uint32_t>(order.size() - 1 - k);
        }
        const ReturnedReport sorted = returnedMesh(bundle, rebuilt(order));
        QVERIFY(names(sorted.files.at(0).changes, {"vertices-reordered"}));
        QCOMPARE(sorted.files[0].metres, 0.0); // the lookup goes along
        for (std::uint32_t k = 0; k < 50; ++k) {
            order.push_back(7 * k);
        }
        const ReturnedReport split = returnedMesh(bundle, rebuilt(order));
        QVERIFY(names(split.files.at(0).changes, {"vertices-split"}));
        QCOMPARE(split.files[0].metres, 0.0);
    }
};

static const ripple::tests::SuiteOf<TestReturned> kSuite;
#include "test_returned.moc"
