// The test file of bundles, and what is said of a client that reads them wrong.

#include "problem_of.h"
#include "base/files.h"
#include "bake/kind.h"
#include "bake/test_row.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "bundle/fault.h"
#include "bundle/played_bake.h"
#include "bundle/played_score.h"
#include "bundle/read_bundle.h"
#include "bundle/score_bundle.h"
#include "bundle/test_moments.h"
#include "bundle/test_vector.h"
#include "image/exr.h"
#include "image/texels.h"
#include "motion/ready_scores.h"
#include "random_rig.h"
#include "source/open.h"
#include "suite.h"
#include "two_clips.h"

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <cmath>
#include <functional>

#include <glm/geometric.hpp>

using namespace ripple;
using namespace ripple::bundle;

class TestClient : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;
    std::filesystem::path folder_;

    TestVector own() const {
        const base::Bytes bytes = base::readFile(folder_ / testFileOf("waves"));
        return parseTest(std::string(base::asText(bytes)), "waves.test.json");
    }
    /// What is said of a client that changes what it should have.
    ClientCheck checked(const std::function<void(TestVector&)>& change) const {
        TestVector client = own();
        change(client);
        const std::filesystem::path file = folder_.parent_path() / "client.json";
        base::writeFile(file, base::Bytes());
        const std::string text = testText(client);
        const auto bytes = base::asBytes(text);
        base::writeFile(file, base::Bytes(bytes.begin(), bytes.end()));
        return checkClient(folder_, file);
    }
    static void eachPosition(TestVector& test, const std::function<glm::vec3(const glm::vec3&)>& of) {
        for (TestMoment& moment : test.moments) {
            for (glm::vec3& p : moment.positions) {
                p = of(p);
            }
        }
    }
    static bool says(const ClientCheck& check, const char* words) {
        return std::ranges::any_of(check.problems, [&](const base::Problem& problem) {
            return problem.line().find(words) != std::string::npos;
        });
    }

private Q_SLOTS:
    void initTestCase() {
        folder_ = std::filesystem::path(dir_.path().toStdString()) / "waves";
        const tests::TwoClips source;
        bake::Recipe recipe;
        recipe.positionStore = "float32";
        base::Progress progress;
        writeBundle(source, recipe, {}, folder_, progress);
    }
    /// A row of known values below the frames, in every kind that has blocks; check sees when it is another.
    void testRowsAreWrittenAndChecked() {
        const tests::TwoClips source;
        for (const bool power : {false, true}) {
            bake::Recipe recipe;
            recipe.positionStore = "unorm16";
            recipe.maxWidth = 100;
            recipe.powerOfTwo = power;
            const bake::Baked plain = bake::bake(source, recipe);
            recipe.testRow = true;
            const bake::Baked baked = bake::bake(source, recipe);
            const bake::TextureSet& set = baked.textures;
            QCOMPARE(set.layout.usedHeight(), plain.textures.layout.usedHeight());
            const std::size_t before = plain.textures.layout.height();
            const bool full = before == plain.textures.layout.usedHeight();
            QCOMPARE(set.layout.height(), !power ? before + 1 : full ? 2 * before : before);
            for (std::size_t t = 0; t < set.textures.size(); ++t) {
                const std::size_t row = *bake::testRowOf(set, set.textures[t]);
                for (std::size_t x = 0; x < set.images[t].width; ++x) {
                    const float step = set.images[t].pixel == image::Pixel::u8 ? 255.0f : 65535.0f;
                    QCOMPARE(valueAt(set.images[t], x, row, 0), std::round(0.2013f * step) / step);
                    QCOMPARE(valueAt(set.images[t], x, row, 1), std::round(0.4127f * step) / step);
                }
            }
            // It changes nothing of what is read.
            const bake::TextureReader with = baked.reader(source.mesh());
            const bake::TextureReader without = plain.reader(source.mesh());
            std::vector<glm::vec3> a(source.mesh().vertexCount()), b(a.size());
            with.at(set.clips[0], 2.5f, a, {});
            without.at(set.clips[0], 2.5f, b, {});
            QVERIFY(a == b);
        }
        const std::filesystem::path folder = folder_.parent_path() / "rowed";
        bake::Recipe recipe = bake::withKind({}, bake::kJoints);
        recipe.testRow = true;
        const auto rig = tests::randomRig({.joints = 5, .influences = 4, .seed = 3});
        base::Progress progress;
        const Manifest manifest = writeBundle(*rig, recipe, {}, folder, progress);
        QVERIFY(check(folder, rig.get()).ok());
        Bundle bundle = readBundle(folder);
        QVERIFY(!bake::firstWrongTestRow(bundle.textures));
        const std::string file = manifest.textureFiles[0];
        image::Image image = bundle.textures.images[0];
        setValue(image, 0, *bake::testRowOf(bundle.textures, bundle.textures.textures[0]), 0, 0.9f);
        image::writeExr(image, folder / file);
        const CheckReport report = check(folder, nullptr);
        QVERIFY(std::ranges::any_of(report.problems, [](const base::Problem& problem) {
            return problem.what.find("test row") != std::string::npos;
        }));
    }
    void theFileIsThereAndTrue() {
        const TestVector test = own();
        QVERIFY(test.vertices.size() >= 6 && test.vertices.size() <= 12);
        QVERIFY(test.moments.size() >= 5);
        const Bundle bundle = readBundle(folder_);
        const bake::TextureReader reader = bundle.reader();
        std::vector<glm::vec3> p(bundle.mesh.vertexCount());
        std::vector<glm::vec3> n(bundle.mesh.vertexCount());
        bool between = false;
        std::size_t lastClip = 0;
        for (const TestMoment& moment : test.moments) {
            reader.at(bundle.manifest.textures.clips[moment.clip], static_cast<float>(moment.frame), p, n);
            for (std::size_t v = 0; v < test.vertices.size(); ++v) {
                QVERIFY(glm::distance(moment.positions[v], p[test.vertices[v]]) < 1e-6f);
                QVERIFY(glm::distance(moment.normals[v], n[test.vertices[v]]) < 1e-6f);
                QCOMPARE(test.rest[v], bundle.mesh.positions[test.vertices[v]]);
            }
            between = between || moment.frame != std::floor(moment.frame);
            lastClip = moment.clip;
        }
        QVERIFY(between);
        QCOMPARE(lastClip, bundle.manifest.textures.clips.size() - 1);
        QVERIFY(check(folder_, nullptr).ok());
        const auto listed = std::ranges::any_of(
            bundle.manifest.files, [](const FileEntry& file) { return file.file == "waves.test.json"; });
        QVERIFY(listed);
        const std::string notes(base::asText(base::readFile(folder_ / "IMPORT.md")));
        QVERIFY(notes.find("ripple check waves --client") != std::string::npos);
        QVERIFY(notes.find("waves_rows_from_below") != std::string::npos);
    }
    void whoReadsItRightIsTold() {
        const ClientCheck check = checked([](TestVector& client) {
            eachPosition(client, [](const glm::vec3& p) { return p + glm::vec3(1e-6f); });
        });
        QVERIFY(check.ok());
        QVERIFY(check.worstMetres > 1e-6 && check.worstMetres < 3e-6);
        QCOMPARE(check.moments, own().moments.size());
        // Fewer moments, and no normals, are enough.
        const ClientCheck few = checked([](TestVector& client) {
            client.moments.resize(2);
            for (TestMoment& moment : client.moments) {
                moment.normals.clear();
            }
        });
        QVERIFY(few.ok());
        QCOMPARE(few.moments, std::size_t(2));
    }
    void whatHappenedIsSaid() {
        const auto positions = [&](const std::function<glm::vec3(const glm::vec3&)>& of) {
            return checked([&](TestVector& client) { eachPosition(client, of); });
        };
        const ClientCheck turned = positions([](const glm::vec3& p) { return glm::vec3(p.x, -p.z, p.y); });
        QVERIFY(says(turned, "its X is +X, its Y is -Z, its Z is +Y"));
        QVERIFY(says(positions([](const glm::vec3& p) { return 100.0f * p; }), "a metre is 100 of it"));
        QVERIFY(says(positions([](const glm::vec3& p) { return 100.0f * glm::vec3(p.z, p.x, p.y); }),
                     "axes are turned"));
        const auto byRest = [&](float a, float b) {
            return checked([&](TestVector& client) {
                for (TestMoment& moment : client.moments) {
                    for (std::size_t v = 0; v < client.rest.size(); ++v) {
                        moment.positions[v] = a * moment.positions[v] + b * client.rest[v];
                    }
                }
            });
        };
        QVERIFY(says(byRest(0.0f, 1.0f), "stands still in its rest pose"));
        QVERIFY(says(byRest(1.0f, -1.0f), "offsets from the rest pose"));
        QVERIFY(says(byRest(1.0f, 1.0f), "added twice"));
        // A frame late: what the bundle has there.
        const Bundle bundle = readBundle(folder_);
        const bake::TextureReader reader = bundle.reader();
        const ClientCheck late = checked([&](TestVector& client) {
            std::vector<glm::vec3> p(bundle.mesh.vertexCount());
            std::vector<glm::vec3> n(bundle.mesh.vertexCount());
            std::erase_if(client.moments, [](const TestMoment& moment) { return moment.clip != 0; });
            for (TestMoment& moment : client.moments) { // of the closed clip: any frame has one behind it
                reader.at(bundle.manifest.textures.clips[moment.clip], static_cast<float>(moment.frame + 1.0),
                          p, n);
                for (std::size_t v = 0; v < client.vertices.size(); ++v) {
                    moment.positions[v] = p[client.vertices[v]];
                }
            }
        });
        QVERIFY(says(late, "too late by 1 frame"));
        const ClientCheck odd = positions([](const glm::vec3& p) { return p * p + glm::vec3(0.3f); });
        QVERIFY(says(odd, "not to be seen from these numbers"));
        QVERIFY(odd.worstMetres > 0.05);
        const ClientCheck normals = checked([](TestVector& client) {
            for (TestMoment& moment : client.moments) {
                for (glm::vec3& n : moment.normals) {
                    n = -n;
                }
            }
        });
        QVERIFY(says(normals, "normals that are off by up to 180"));
    }
    /// What a renderer does that has one of the faults that can be rehearsed, or plays in another way, is
    /// named.
    void faultsAreKnownByTheirNumbers() {
        for (const Target& target : {Target{}, readyTargets()[3]}) {
            const std::filesystem::path folder = folder_.parent_path() / "suspects";
            std::filesystem::remove_all(folder);
            bake::Recipe recipe;
            recipe.positionStore = "unorm16";
            base::Progress progress;
            writeBundle(tests::TwoClips(), recipe, {}, folder, progress, {.target = target});
            const Bundle bundle = readBundle(folder);
            const std::filesystem::path file = folder.parent_path() / "suspect.json";
            const auto said = [&](const PoseAt& poseAt) {
                const base::Bytes bytes = base::readFile(folder / testFileOf("suspects"));
                TestVector test = parseTest(std::string(base::asText(bytes)), "suspects.test.json");
                std::vector<glm::vec3> p(bundle.mesh.vertexCount());
                std::vector<glm::vec3> n(bundle.mesh.vertexCount());
                for (TestMoment& moment : test.moments) {
                    poseAt(moment.clip, moment.frame, p, n);
                    target.space().place(p);
                    for (std::size_t v = 0; v < test.vertices.size(); ++v) {
                        moment.positions[v] = p[test.vertices[v]];
                    }
                }
                const std::string text = testText(test);
                const auto written = base::asBytes(text);
                base::writeFile(file, base::Bytes(written.begin(), written.end()));
                return checkClient(folder, file);
            };
            for (const char* id : {"range-unset", "v-flipped", "rows-flipped", "srgb-applied"}) {
                const Fault* fault = &faultNamed(id);
                const PlayedBake played({bundle.textures, bundle.columnOfVertex, bundle.mesh}, {&fault, 1});
                QVERIFY2(played.idle().empty(), id);
                const ClientCheck check = said([&](std::size_t clip, double frame, auto p, auto n) {
                    played.sample(clip, played.secondsAt(clip, frame, 0.0), p, n);
                });
                QVERIFY2(says(check, fault->what),
                         check.problems.empty() ? id : check.problems[0].line().c_str());
            }
            const bake::TextureReader reader = bundle.reader();
            const auto at = [&](const std::function<double(std::size_t, double)>& frameOf, glm::vec3 moved) {
                return said([&](std::size_t clip, double frame, auto p, auto n) {
                    reader.at(bundle.manifest.textures.clips[clip], static_cast<float>(frameOf(clip, frame)),
                              p, n);
                    for (glm::vec3& each : p) {
                        each += moved;
                    }
                });
            };
            QVERIFY(at([](std::size_t, double frame) { return frame; }, {}).ok());
            QVERIFY(says(at([](std::size_t, double frame) { return std::floor(frame); }, {}),
                         "does not blend between frames: it shows each until the next"));
            QVERIFY(says(at([](std::size_t, double frame) { return frame; }, {0.0f, 0.25f, 0.0f}),
                         "all of it is moved by ("));
            const auto& clips = bundle.manifest.textures.clips;
            QVERIFY(
                says(at([&](std::size_t clip, double frame) { return frame / clips[clip].fps * 50.0; }, {}),
                     "at another rate: 50 frames a second"));
        }
    }
    void otherFilesAreRefused() {
        QVERIFY(
            says(checked([](TestVector& client) { client.bundle = "sail"; }), "is of the bundle \"sail\""));
        QVERIFY(says(checked([](TestVector& client) { client.moments.clear(); }), "no moment"));
        const auto parsed = [](const std::string& text) {
            return tests::problemOf([&] { parseTest(text, "t.json"); });
        };
        QVERIFY(tests::says(parsed("{"), "no JSON"));
        QVERIFY(tests::says(parsed("[]"), "no test file"));
        QVERIFY(tests::says(
            parsed(
                R"({"format":"curly-ripple-test","version":99,"bundle":"a","kind":"bake","vertices":[],"rest":[],)"
                R"("moments":[]})"),
            "version 99, newer than this program"));
        QVERIFY(tests::says(
            parsed(
                R"({"format":"curly-ripple-test","bundle":"a","kind":"bake","vertices":[1],"rest":[],"moments":[]})"),
            "one entry for each vertex"));
        QVERIFY(tests::says(
            parsed(
                R"({"format":"curly-ripple-test","bundle":"a","kind":"bake","vertices":[-1],"rest":[[0,0,0]],"moments":[]})"),
            "number of a vertex"));
    }
    void scoresHaveOneToo() {
        const auto swell = source::open(std::filesystem::path(DEMO_FOLDER) / "swell.glb");
        Origin origin;
        for (const motion::ReadyScore& ready : motion::readyScores()) {
            if (std::string(ready.id) == "calm") {
                origin.score = std::make_shared<motion::Score>(motion::makeReady(ready, swell->mesh()));
            }
        }
        QVERIFY(origin.score);
        const std::filesystem::path folder = folder_.parent_path() / "calm";
        base::Progress progress;
        writeScoreBundle(*swell, origin, folder, {}, progress);
        const ClientCheck same = checkClient(folder, folder / testFileOf("calm"));
        QVERIFY(same.ok());
        QCOMPARE(same.worstMetres, 0.0);
        QCOMPARE(same.moments, std::size_t(4));
        // Late: known as of a bake.
        const auto said = [&](const auto& posed) {
            TestVector client = parseTest(
                std::string(base::asText(base::readFile(folder / testFileOf("calm")))), "calm.test.json");
            std::vector<glm::vec3> p(swell->mesh().vertexCount());
            std::vector<glm::vec3> n(p.size());
            for (TestMoment& moment : client.moments) {
                posed(moment.frame, p, n);
                for (std::size_t v = 0; v < client.vertices.size(); ++v) {
                    moment.positions[v] = p[client.vertices[v]];
                }
            }
            const std::string text = testText(client);
            const auto written = base::asBytes(text);
            const std::filesystem::path file = folder.parent_path() / "calm-client.json";
            base::writeFile(file, base::Bytes(written.begin(), written.end()));
            return checkClient(folder, file);
        };
        const ScoreBundle bundle = readScoreBundle(folder);
        const PlayedScore right(staged(bundle), {});
        QVERIFY(says(said([&](double turn, auto& p, auto& n) {
                         right.sample(0, right.secondsAt(0, 0.0, turn + 0.05), p, n);
                     }),
                     "too late by 0.05 turns"));
        const std::string code(base::asText(base::readFile(folder / "calm.glsl")));
        QVERIFY(code.starts_with("#ifndef calm_GLSL"));
        QVERIFY(code.find("precision highp float") != std::string::npos);
    }
};

static const ripple::tests::SuiteOf<TestClient> kSuite;
#include "test_client.moc"
