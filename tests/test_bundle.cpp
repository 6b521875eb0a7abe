#include "bake/kind.h"
#include "base/files.h"
#include "base/parallel.h"
#include "base/progress.h"
#include "base/units.h"
#include "bundle/check.h"
#include "bundle/read_bundle.h"
#include "bundle/write_bundle.h"
#include "bundle_fixture.h"
#include "image/exr.h"
#include "image/png.h"
#include "problem_of.h"
#include "random_rig.h"
#include "suite.h"
#include "turning_pieces.h"

#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <csignal>
#include <cstring>
#include <map>

#include <sys/resource.h>

#include <glm/vector_relational.hpp>
#include <nlohmann/json.hpp>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

using namespace ripple;
using tests::AnalyticSource;

using tests::entriesIn;
using tests::filesIn;
using tests::recipeOf;
using tests::sheet;
constexpr auto writing = [](const std::filesystem::path& to) { return tests::writingTo(to); };

class TestBundle : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> dir_;
    std::filesystem::path folder() const { return dir_->path().toStdString(); }
    bundle::Manifest write(const std::string& name, const bake::Recipe& recipe,
                           const source::FrameSource& source = sheet()) {
        return tests::writeTo(folder() / name, recipe, source);
    }

private Q_SLOTS:
    void init() { dir_ = std::make_unique<QTemporaryDir>(); }

    void everyStoreIsWrittenReadAndChecked_data() {
        QTest::addColumn<QString>("store");
        QTest::addColumn<QString>("normals");
        for (const bake::PositionStore& store : bake::positionStores()) {
            for (const bake::NormalStore& normals : bake::normalStores()) {
                QTest::addRow("%s %s", store.name, normals.name) << store.name << normals.name;
            }
        }
    }
    void everyStoreIsWrittenReadAndChecked() {
        QFETCH(QString, store);
        QFETCH(QString, normals);
        bake::Recipe recipe = recipeOf(store.toStdString());
        recipe.normalStore = normals.toStdString();
        write("sheet", recipe);
        const bundle::CheckReport report = bundle::check(folder() / "sheet", &sheet());
        for (const base::Problem& problem : report.problems) {
            qWarning("%s", problem.line().c_str());
        }
        QVERIFY(report.ok());
        QVERIFY(report.error->atFrames.max <= report.allowedAtFrames);
        QCOMPARE(report.clips.size(), std::size_t(1));
        QCOMPARE(report.clips[0].frames, std::size_t(12));
        QVERIFY(report.clips[0].closed);
        QVERIFY(report.clips[0].seamGap < 0.12); // a wave's steps differ, but nothing jumps
    }
    void boundsHoldWhatIsDecoded_data() {
        QTest::addColumn<QString>("kind");
        QTest::addColumn<QString>("store");
        for (const char* kind : {"vertices", "shapes", "pieces"}) {
            for (const bake::PositionStore& store : bake::positionStores()) {
                if (std::string(kind) != "shapes" || store.planes == 1) {
                    QTest::addRow("%s %s", kind, store.name) << kind << store.name;
                }
            }
        }
    }
    void boundsHoldWhatIsDecoded() {
        QFETCH(QString, kind);
        QFETCH(QString, store);
        bake::Recipe recipe = recipeOf(store.toStdString());
        recipe.kind = bake::kindByName(kind.toStdString());
        recipe.shapes = 2;
        const tests::TurningPieces turning(4);
        const source::FrameSource& source =
            recipe.kind == &bake::kPieces ? static_cast<const source::FrameSource&>(turning) : sheet();
        const bundle::Manifest manifest = write("bounds", recipe, source);
        const bundle::Bundle read = bundle::readBundle(folder() / "bounds");
        const bake::TextureReader reader = read.reader();
        QCOMPARE(read.manifest.clipBounds.size(), read.manifest.textures.clips.size());
        std::vector<glm::vec3> p(reader.vertexCount());
        for (std::size_t c = 0; c < read.manifest.textures.clips.size(); ++c) {
            const bake::BakedClip& clip = read.manifest.textures.clips[c];
            const mesh::Bounds& said = read.manifest.clipBounds[c];
            mesh::Bounds seen;
            const int steps = static_cast<int>(clip.length()) * 13;
            for (int i = 0; i <= steps; ++i) {
                reader.at(clip, static_cast<float>(i) / 13.0f, p, {});
                seen.add(p);
            }
            for (const mesh::Bounds& box : {said, read.manifest.bounds}) {
                QVERIFY(glm::all(glm::lessThanEqual(box.min, seen.min)));
                QVERIFY(glm::all(glm::greaterThanEqual(box.max, seen.max)));
            }
            // No looser than the store's own error; arcs of pieces by a thousandth of the size.
            const float slack = recipe.kind == &bake::kPieces ? 1e-3f * seen.diagonal() : 1e-5f;
            QVERIFY(glm::distance(said.min, seen.min) <= slack && glm::distance(said.max, seen.max) <= slack);
        }
        const std::string code(base::asText(base::readFile(folder() / "bounds" / "bounds.glsl")));
        QVERIFY(code.find(base::floatLiteral(manifest.bounds.max.x)) != std::string::npos);
    }
    void whatIsReadIsWhatWasBaked() {
        const bundle::Manifest written = write("sheet", recipeOf("unorm16"));
        const bundle::Bundle read = bundle::readBundle(folder() / "sheet");
        const bake::Baked baked = bake::bake(sheet(), recipeOf("unorm16"));
        QVERIFY(read.textures.images == baked.textures.images);
        QVERIFY(read.manifest.textures.layout == baked.textures.layout);
        QVERIFY(read.manifest.textures.ranges == baked.textures.ranges); // to the last bit, through text
        QVERIFY(read.manifest.textures.clips == baked.textures.clips);
        QCOMPARE(read.columnOfVertex, baked.columnOfVertex);
        QCOMPARE(read.mesh.positions, sheet().mesh().positions);
        QCOMPARE(read.mesh.indices, sheet().mesh().indices);
        QCOMPARE(read.mesh.uvSets.size(), std::size_t(2));
        QCOMPARE(read.mesh.uvSets[0], sheet().mesh().uvSets[0]);
        QCOMPARE(read.manifest.lookupUvSet, std::size_t(1));
        // Mesh, two textures, test, IMPORT.md; the functions and a vertex stage in each of three languages.
        QCOMPARE(written.files.size(), std::size_t(5 + 6));
    }
    void sameBytesOnRepeatAndOnAnyThreadCount() {
        {
            const base::ThreadLimit limit(1);
            write("a/sheet", recipeOf("half"));
        }
        write("b/sheet", recipeOf("half"));
        {
            const base::ThreadLimit limit(2);
            write("c/sheet", recipeOf("half"));
        }
        QVERIFY(filesIn(folder() / "a/sheet") == filesIn(folder() / "b/sheet"));
        QVERIFY(filesIn(folder() / "a/sheet") == filesIn(folder() / "c/sheet"));
    }
    void manifestsFitTheSchema() {
        const auto load = [](const std::filesystem::path& path) {
            return nlohmann::json::parse(base::asText(base::readFile(path)));
        };
        const nlohmann::json schemaJson =
            load(std::filesystem::path(SOURCE_FOLDER) / "docs/bundle.schema.json");
        valijson::Schema schema;
        valijson::SchemaParser parser;
        parser.populateSchema(valijson::adapters::NlohmannJsonAdapter(schemaJson), schema);
        valijson::Validator validator;
        const auto fits = [&](const nlohmann::json& json) {
            valijson::ValidationResults results;
            const bool ok =
                validator.validate(schema, valijson::adapters::NlohmannJsonAdapter(json), &results);
            return ok;
        };
        for (const bake::PositionStore& store : bake::positionStores()) {
            write(store.name, recipeOf(store.name));
            const nlohmann::json manifest =
                load(folder() / store.name / (std::string(store.name) + ".bundle.json"));
            QVERIFY2(fits(manifest), store.name);
            nlohmann::json wrong = manifest;
            wrong["texture"]["width"] = "wide";
            QVERIFY(!fits(wrong));
            wrong = manifest;
            wrong.erase("clips");
            QVERIFY(!fits(wrong));
        }
        // The page's own example is read by the schema and by the reader.
        const std::string page(
            base::asText(base::readFile(std::filesystem::path(SOURCE_FOLDER) / "docs/bundle-format.md")));
        const std::size_t begin = page.find("```json") + 7;
        const std::string example = page.substr(begin, page.find("```", begin) - begin);
        QVERIFY(fits(nlohmann::json::parse(example)));
        QCOMPARE(bundle::parseManifest(example, "example").textures.layout.columns, std::size_t(4225));
    }
    void changedFilesAreNoticed() {
        write("sheet", recipeOf("unorm16"));
        const auto texture = folder() / "sheet/sheet.position.png";
        // As if another program had saved it: valid, but other values.
        image::Image image = image::decodePng(base::readFile(texture), "t");
        auto* values = reinterpret_cast<std::uint16_t*>(image.data.data());
        for (std::size_t i = 0; i < image.data.size() / 2; ++i) {
            values[i] = static_cast<std::uint16_t>(65535.0 * std::pow(values[i] / 65535.0, 2.2));
        }
        base::writeFile(texture, image::encodePng(image));
        const bundle::CheckReport report = bundle::check(folder() / "sheet", &sheet());
        QVERIFY(!report.ok());
        QVERIFY(tests::says(report.problems[0], "sheet.position.png", "no longer what was written"));
        QVERIFY(tests::says(report.problems.back(), "off by", "kept frames"));
    }
    void numbersThatAreNoneAreProblems() {
        write("sheet", recipeOf("float32"));
        const auto texture = folder() / "sheet/sheet.position.exr";
        image::Image image = image::readExr(texture);
        const float odd[] = {NAN, -NAN, INFINITY};
        std::memcpy(image.texel(3, 2), odd, sizeof odd);
        std::memcpy(image.texel(5, 4), odd + 1, sizeof(float));
        image::writeExr(image, texture);
        const auto problems = bundle::check(folder() / "sheet", &sheet()).problems;
        QVERIFY(problems.size() >= 2);
        QVERIFY(tests::says(problems[0], "no longer what was written"));
        QVERIFY(tests::says(problems[1], "does not decode to a finite position"));
    }
    void damagedBundlesAreProblems() {
        const auto problems = [&] { return bundle::check(folder() / "sheet", nullptr).problems; };
        write("sheet", recipeOf("half"));
        std::filesystem::remove(folder() / "sheet/sheet.position.exr");
        QCOMPARE(problems().size(), std::size_t(1));
        QVERIFY(tests::says(problems()[0], "sheet.position.exr", "no such file"));
        write("sheet", recipeOf("unorm16"));
        base::writeFile(folder() / "sheet/sheet.position.png",
                        image::encodePng(image::Image(16, 16, 3, image::Pixel::u16)));
        QVERIFY(tests::says(problems()[1], "16 × 16", "resized"));
        const auto manifest = folder() / "sheet/sheet.bundle.json";
        const auto edited = [&](const std::function<void(nlohmann::json&)>& edit) {
            write("sheet", recipeOf("unorm16"));
            nlohmann::json json = nlohmann::json::parse(base::asText(base::readFile(manifest)));
            edit(json);
            json.erase("digest"); // else that it was edited would be a problem too
            base::writeFile(manifest, json.dump());
            const auto found = problems();
            return found.empty() ? base::Problem{} : found.back();
        };
        QVERIFY(tests::says(edited([](auto& j) { j["version"] = 5; }), "version 5"));
        QVERIFY(tests::says(edited([](auto& j) { j["texture"]["columns"] = 9999999; }), "height"));
        QVERIFY(tests::says(edited([](auto& j) { j["position"].erase("min"); }), "\"min\" is missing"));
        QVERIFY(tests::says(edited([](auto& j) { j["position"]["files"] = {"../../etc/passwd"}; }),
                            "not in its folder"));
        QVERIFY(tests::says(edited([](auto& j) { j["clips"][0]["frames"] = 900; }), "clips[0]"));
        QVERIFY(tests::says(edited([](auto& j) { j["mesh"]["vertices"] = 3; }), "vertices"));
        base::writeFile(manifest, "{\"format\": ");
        QVERIFY(tests::says(problems().back(), "JSON", "byte"));
        QVERIFY(tests::says(bundle::check(folder(), nullptr).problems[0], "not a bundle"));
    }
    void anotherSourceDoesNotFit() {
        write("sheet", recipeOf("half"));
        const AnalyticSource other(24, tests::timed(1.0, 12.0), tests::wave(1.0, 0.31f));
        QVERIFY(!bundle::check(folder() / "sheet", &other).ok());
        const AnalyticSource smaller(20, tests::timed(1.0, 12.0), tests::wave(1.0));
        QVERIFY(tests::says(bundle::check(folder() / "sheet", &smaller).problems[0], "576 vertices", "400"));
        const AnalyticSource longer(24, tests::timed(2.0, 12.0), tests::wave(1.0));
        QVERIFY(tests::says(bundle::check(folder() / "sheet", &longer).problems[0], "24 frames", "12"));
    }
    void windowsAndStepsAreFoundAgainByTheCheck() {
        const AnalyticSource source(6, tests::sequence(40), tests::drift(0.5f));
        bake::Recipe recipe = recipeOf("half");
        recipe.step = 3;
        recipe.clips = {{"clip", bake::FrameWindow{4, 33}, {}}};
        write("window", recipe, source);
        const bundle::CheckReport report = bundle::check(folder() / "window", &source);
        QVERIFY(report.ok());
        QCOMPARE(report.clips[0].frames, std::size_t(10));
        const AnalyticSource loop(6, tests::timed(1.0, 30.0), tests::wave(1.0));
        bake::Recipe stepped = recipeOf("half");
        stepped.step = 4;
        write("stepped", stepped, loop);
        QVERIFY(bundle::check(folder() / "stepped", &loop).ok());
    }
    void whereNothingCanBeWrittenNothingIs() {
        QVERIFY(tests::says(writing("/proc/bundle"), "/proc/bundle", "cannot be written"));
        base::writeFile(folder() / "file", "text");
        QVERIFY(tests::says(writing(folder() / "file/below/sheet"), "cannot be written"));
        QCOMPARE(entriesIn(folder()), std::size_t(1));
    }
    void aFullDiskLeavesWhatWasThere() {
        write("sheet", recipeOf("half"));
        const auto before = filesIn(folder() / "sheet");
        // No file may grow past 20 000 bytes: the second or third write fails half way, as on a full disk.
        std::signal(SIGXFSZ, SIG_IGN);
        rlimit old{};
        getrlimit(RLIMIT_FSIZE, &old);
        rlimit small = old;
        small.rlim_cur = 20000;
        setrlimit(RLIMIT_FSIZE, &small);
        const base::Problem problem = writing(folder() / "sheet");
        setrlimit(RLIMIT_FSIZE, &old);
        QVERIFY(tests::says(problem, "could not be written whole"));
        QVERIFY(filesIn(folder() / "sheet") == before);
        QCOMPARE(entriesIn(folder()), std::size_t(1));
    }
    void cancelLeavesNothing() {
        for (const double at : {0.1, 0.45, 0.6, 0.9}) {
            base::Progress* self = nullptr;
            base::Progress progress([&](double f) {
                if (f >= at) {
                    self->cancel();
                }
            });
            self = &progress;
            QVERIFY_EXCEPTION_THROWN(
                bundle::writeBundle(sheet(), recipeOf("half"), {}, folder() / "sheet", progress),
                base::Cancelled);
            QCOMPARE(entriesIn(folder()), std::size_t(0));
        }
    }
    void meshesWithoutUvsGetTheLookupAsTheirFirst() {
        AnalyticSource bare(6, tests::timed(1.0, 8.0), tests::wave(1.0));
        bare.editMesh().uvSets.clear();
        const bundle::Manifest manifest = write("bare", recipeOf("half"), bare);
        QCOMPARE(manifest.lookupUvSet, std::size_t(0));
        QVERIFY(bundle::check(folder() / "bare", &bare).ok());
        QVERIFY(filesIn(folder() / "bare")["IMPORT.md"].find("UV set 0 (1 counted from 1)") !=
                std::string::npos);
    }
    void severalPartsShareTheTextures() {
        AnalyticSource source(6, tests::timed(1.0, 8.0), tests::wave(1.0));
        mesh::Mesh& mesh = source.editMesh();
        // The first two rows' triangles as one part, the rest as another, each with vertices of its own.
        mesh::Mesh split;
        split.uvSets.resize(1);
        split.materials.resize(2);
        split.materials[1].name = "hem";
        for (std::uint32_t part = 0; part < 2; ++part) {
            mesh::Part p;
            p.material = part;
            p.firstVertex = static_cast<std::uint32_t>(split.positions.size());
            p.firstIndex = static_cast<std::uint32_t>(split.indices.size());
            const std::uint32_t firstRow = part == 0 ? 0 : 2;
            const std::uint32_t lastRow = part == 0 ? 2 : 5;
            for (std::uint32_t v = firstRow * 6; v < (lastRow + 1) * 6; ++v) {
                split.positions.push_back(mesh.positions[v]);
                split.normals.push_back(mesh.normals[v]);
                split.uvSets[0].push_back(mesh.uvSets[0][v]);
            }
            for (std::uint32_t row = 0; row < lastRow - firstRow; ++row) {
                for (std::uint32_t x = 0; x < 5; ++x) {
                    const std::uint32_t a = p.firstVertex + row * 6 + x;
                    split.indices.insert(split.indices.end(), {a, a + 6, a + 1});
                }
            }
            p.vertexCount = static_cast<std::uint32_t>(split.positions.size()) - p.firstVertex;
            p.indexCount = static_cast<std::uint32_t>(split.indices.size()) - p.firstIndex;
            split.parts.push_back(p);
        }
        mesh = split;
        write("parts", recipeOf("unorm16"), source);
        const bundle::CheckReport report = bundle::check(folder() / "parts", &source);
        QVERIFY(report.ok());
        const bundle::Bundle read = bundle::readBundle(folder() / "parts");
        QCOMPARE(read.mesh.parts.size(), std::size_t(2));
        QCOMPARE(read.mesh.materials[read.mesh.parts[1].material].name, std::string("hem"));
        QCOMPARE(read.mesh.positions, split.positions);
    }
    /// On cubic curves positions swing past those of their frames.
    void boundsHoldWhatLiesBetweenFramesOnCurves_data() {
        QTest::addColumn<QString>("kind");
        QTest::addColumn<bool>("closed");
        for (const char* kind : {"vertices", "joints"}) {
            QTest::addRow("%s, closed", kind) << kind << true;
            QTest::addRow("%s, open", kind) << kind << false;
        }
    }
    void boundsHoldWhatLiesBetweenFramesOnCurves() {
        QFETCH(QString, kind);
        QFETCH(bool, closed);
        const bool joints = kind == "joints";
        // Heights of 0 0 0 1 1 and so on, each corner at a time of its own.
        const AnalyticSource steps(4, tests::timed(1.2, 10.0), [](const glm::vec3& rest, double seconds) {
            const long frame = std::lround(10.0 * seconds) + std::lround(3.0f * rest.x);
            return rest + glm::vec3(0.0f, (frame % 5 + 5) % 5 >= 3 ? 1.0f : 0.0f, 0.0f);
        });
        const auto screw = tests::randomRig({.joints = 4, .influences = 2, .seed = 5, .degreesPerKey = 72.0});
        bake::Recipe recipe = recipeOf("float32");
        if (joints) {
            recipe = bake::withKind(recipe, bake::kJoints);
            recipe.fps = 6.0;
            recipe.oversampling = 1;
        }
        recipe.blend = bake::Blend::cubic;
        recipe.closing = closed ? bake::Closing::window : bake::Closing::asIs;
        const source::FrameSource& source = joints ? *screw : steps;
        const bundle::Manifest manifest = write("curve", recipe, source);
        QCOMPARE(manifest.textures.clips[0].closed, closed);
        const bundle::CheckReport report = bundle::check(folder() / "curve", &source);
        QVERIFY2(report.ok(), report.problems.empty() ? "" : report.problems[0].line().c_str());
        const bundle::Bundle read = bundle::readBundle(folder() / "curve");
        const bake::TextureReader reader = read.reader();
        mesh::Bounds shown;
        std::vector<glm::vec3> positions(reader.vertexCount());
        for (int i = -10; i < 1300; ++i) {
            reader.at(manifest.textures.clips[0], 0.01f * static_cast<float>(i), positions, {});
            shown.add(positions);
        }
        QVERIFY(glm::all(glm::lessThanEqual(manifest.bounds.min, shown.min)));
        QVERIFY(glm::all(glm::greaterThanEqual(manifest.bounds.max, shown.max)));
        // No larger than that: of curves through positions it is exact.
        const float room = joints ? 0.05f * shown.diagonal() : 1e-3f;
        QVERIFY2(glm::distance(manifest.bounds.min, shown.min) < room &&
                     glm::distance(manifest.bounds.max, shown.max) < room,
                 qPrintable(QString("%1 %2").arg(manifest.bounds.max.y).arg(shown.max.y)));
        QVERIFY(joints || shown.max.y > 1.1f);
    }
    void notesSpeakOfTheirOwnNumbers() {
        const bundle::Manifest manifest = write("sheet", recipeOf("unorm16"));
        const std::string notes = filesIn(folder() / "sheet")["IMPORT.md"];
        const bake::Layout& layout = manifest.textures.layout;
        for (const std::string& text :
             {std::string("sheet.position.png"),
              std::to_string(layout.width) + " × " + std::to_string(layout.height()),
              std::string("linear data (no sRGB)"), std::string("closed: wraps"),
              std::string("UV set 1 (2 counted")}) {
            QVERIFY2(notes.find(text) != std::string::npos, text.c_str());
        }
    }
};

static const ripple::tests::SuiteOf<TestBundle> kSuite;
#include "test_bundle.moc"
