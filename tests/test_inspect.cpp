// Every finding, made by a source that has it.

#include "analytic_source.h"
#include "bake/bake.h"
#include "base/files.h"
#include "base/progress.h"
#include "gltf_fixture.h"
#include "inspect/inspection.h"
#include "problem_of.h"
#include "project/fixes.h"
#include "source/adjusted.h"
#include "source/open.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <cstdio>

using namespace ripple;
using inspect::Observation;

namespace {

struct Found {
    std::shared_ptr<const inspect::Survey> survey;
    std::vector<Observation> all;

    const Observation* operator[](const std::string& id) const {
        for (const Observation& one : all) {
            if (one.finding.id == id) {
                return &one;
            }
        }
        return nullptr;
    }
};

Found look(const source::FrameSource& source, const source::Reading& reading = {},
           const bake::Recipe& recipe = {}) {
    base::Progress progress;
    Found found;
    found.survey = inspect::survey(source, recipe, progress);
    found.all = inspect::inspect({source, reading, recipe, found.survey.get(), "it"},
                                 inspect::meshFacts(source.mesh()));
    return found;
}

const char* kSquare =
    "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\n";

} // namespace

class TestInspect : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> dir_;
    std::filesystem::path folder() const { return dir_->path().toStdString(); }
    void put(const std::string& name, const std::string& text) { base::writeFile(folder() / name, text); }
    /// Applies a finding's first fix to a document of this source and opens it anew.
    std::shared_ptr<const source::FrameSource> mended(const std::filesystem::path& file,
                                                      const Observation& one) {
        project::Document document;
        document.source.path = file.string();
        project::applyFix(document, one.fixes.at(0));
        return source::open(file, document.source.reading);
    }

private Q_SLOTS:
    void init() { dir_ = std::make_unique<QTemporaryDir>(); }

    void aWaveThatClosesIsMeasured() {
        const tests::AnalyticSource source(9, tests::timed(2.0), tests::wave(2.0, 0.5f));
        const Found found = look(source);
        const inspect::ClipSurvey& clip = found.survey->clips[0];
        QVERIFY(found.survey->complete);
        QVERIFY(clip.extent.closed);
        QCOMPARE(clip.motion.max.size(), std::size_t(60));
        // The fastest step of a sine of amplitude ½ over 60 frames: 2·½·sin(π/60).
        QVERIFY(std::abs(static_cast<double>(clip.motion.largest) - std::sin(M_PI / 60.0)) < 1e-3);
        QVERIFY(clip.gap < 1e-3); // the seam is a step as its neighbours are
        QCOMPARE(found.survey->bounds.max.y, 0.5f);
        QCOMPARE(found.survey->still, std::size_t(0));
        QVERIFY(!found["open-ends"]);
        QVERIFY(!found["frame-fault"]);
    }
    void openEndsOfferTheWindowThatLoops() {
        // One and a half waves: frames 0 to 59 are one of them.
        const tests::AnalyticSource source(9, tests::sequence(91), tests::wave(2.0));
        const Found found = look(source);
        const Observation* one = found["open-ends"];
        QVERIFY(one);
        QCOMPARE(one->finding.severity, base::Severity::look);
        QCOMPARE(one->fixes.size(), std::size_t(2)); // a window, a fade
        project::Document document;
        project::applyFix(document, one->fixes[1]);
        QVERIFY(document.recipe.clips.at(0).closing == bake::Closing::fade);
        QVERIFY(!look(source, {}, document.recipe)["open-ends"]);
        project::applyFix(document, one->fixes[0]);
        QVERIFY(document.recipe.clips.at(0).closing == bake::Closing::window);
        const bake::FrameWindow window = *document.recipe.clips.at(0).window;
        QCOMPARE(window.last - window.first + 1, std::size_t(60));
        // With the window chosen it is said no more.
        QVERIFY(!look(source, {}, document.recipe)["open-ends"]);
    }
    void faultyFramesAreNamedAndCanBeLeftOut() {
        for (int f = 0; f < 8; ++f) {
            put("t_" + std::to_string(f) + ".obj", kSquare);
        }
        put("t_2.obj", std::string(kSquare) + "v 5 5 5\n");
        const auto source = source::open(folder() / "t_0.obj");
        const Found found = look(*source);
        const Observation* one = found["frame-fault"];
        QVERIFY(one);
        QCOMPARE(one->finding.severity, base::Severity::broken);
        QCOMPARE(one->place->frame, std::size_t(2));
        QCOMPARE(one->fixes[0].label, std::string("Use frames 3–7"));
        const auto better = mended(folder() / "t_0.obj", *one);
        QCOMPARE(better->clips()[0].frames, std::size_t(5));
        QVERIFY(!look(*better)["frame-fault"]);
    }
    void theGoodStretchIsFoundAmongManyFaults() {
        // Of 200 frames only 150 to 180 are all right; the first is, too.
        for (int f = 0; f < 200; ++f) {
            char name[16];
            std::snprintf(name, sizeof name, "m_%03d.obj", f);
            put(name,
                f == 0 || (f >= 150 && f <= 180) ? std::string(kSquare) : std::string(kSquare) + "v 5 5 5\n");
        }
        const auto source = source::open(folder() / "m_000.obj");
        const Found found = look(*source);
        QCOMPARE(found.survey->faults.size(), std::size_t(168));
        QCOMPARE(found["frame-fault"]->fixes[0].label, std::string("Use frames 150–180"));
        std::size_t cards = 0;
        std::string last;
        for (const Observation& one : found.all) {
            if (one.finding.id == "frame-fault") {
                ++cards;
                last = one.finding.problem.what;
            }
        }
        QCOMPARE(cards, std::size_t(3)); // not a card for each
        QVERIFY(last.find("165 more frames") != std::string::npos);
        const auto better = mended(folder() / "m_000.obj", *found["frame-fault"]);
        QCOMPARE(better->clips()[0].frames, std::size_t(31));
        QVERIFY(look(*better).survey->faults.empty());
    }
    void theRangeOfABackwardSequenceIsCountedInItsOwnFrames() {
        for (int f = 0; f < 10; ++f) {
            put("b_" + std::to_string(f) + ".obj",
                f == 7 ? std::string(kSquare) + "v 5 5 5\n" : std::string(kSquare));
        }
        source::Reading reading;
        reading.time.reversed = true;
        const auto source = source::open(folder() / "b_0.obj", reading);
        const Found found = look(*source, reading);
        QCOMPARE(found["frame-fault"]->place->frame, std::size_t(2)); // as it plays
        QCOMPARE(found["frame-fault"]->fixes[0].label, std::string("Use frames 0–6"));
    }
    void longClipsAreMappedInSteps() {
        // A turn of 700 frames, four and a half times round: more frames than the map has rows.
        const tests::AnalyticSource source(3, tests::sequence(3150), tests::wave(700.0 / 30.0));
        const Found found = look(source);
        const inspect::ClipSurvey& clip = found.survey->clips[0];
        QCOMPARE(clip.likenessStep, std::size_t(3));
        QCOMPARE(clip.likeness->frames, std::size_t(1050));
        inspect::WindowWish wish;
        wish.length = 699; // a multiple of the step, a frame off a turn
        const auto windows = inspect::measuredWindows(source, 0, clip, wish);
        QVERIFY(!windows.empty());
        QCOMPARE(windows[0].window.frames(), std::size_t(699));
        QVERIFY(windows[0].window.last < clip.extent.frames);
        for (std::size_t w = 1; w < windows.size(); ++w) {
            const bool exact = windows[w].window.frames() == 699;
            const bool before = windows[w - 1].window.frames() == 699;
            QVERIFY(before || !exact); // those of the wanted length come first
            QVERIFY(exact != before || windows[w - 1].gap <= windows[w].gap);
        }
    }
    void theSurveyMeasuresAsTheBakeDoes() {
        const tests::AnalyticSource source(7, tests::sequence(23), tests::wave(1.3));
        const bake::SamplePlan plan = bake::planSampling(source, {});
        const bake::Frames frames = bake::sampleFrames(source, plan);
        const bake::Motion motion = bake::measureMotion(frames, 0, 23);
        const inspect::ClipSurvey clip = look(source).survey->clips[0];
        QVERIFY(clip.motion.max == motion.max);
        QVERIFY(clip.motion.mean == motion.mean);
        QCOMPARE(clip.motion.medianMax, motion.medianMax);
        QCOMPARE(clip.gap, bake::seamGap(frames, 0, 23));
        QCOMPARE(inspect::windowGap(source, 0, clip.extent, {4, 15, 0.0f}), bake::seamGap(frames, 4, 12));
        // The velocity break is per second: at twice the rate it is twice as large.
        const tests::AnalyticSource fast(
            7, tests::sequence(23, 60.0),
            [](const glm::vec3& rest, double seconds) { return tests::wave(1.3)(rest, 2.0 * seconds); });
        QVERIFY(std::abs(look(fast).survey->clips[0].velocityBreak - 2.0 * clip.velocityBreak) < 1e-3);
    }
    void straysAreMarkedAndCanFollow() {
        std::string text = kSquare;
        put("s_0.obj", text);
        put("s_1.obj", text.replace(text.find("v 1 1 0"), 7, "v 1 1 9e5"));
        const auto source = source::open(folder() / "s_0.obj");
        const Found found = look(*source);
        const Observation* one = found["stray-vertices"];
        QVERIFY(one);
        QCOMPARE(one->place->frame, std::size_t(1));
        QCOMPARE(one->vertices, std::vector<std::uint32_t>{2});
        const auto better = mended(folder() / "s_0.obj", *one);
        QVERIFY(!look(*better)["stray-vertices"]);
        std::vector<glm::vec3> p(4);
        std::vector<glm::vec3> n(4);
        better->sample(0, 1.0 / 30.0, p, n);
        QCOMPARE(p[2], glm::vec3(1, 1, 0)); // its neighbours stayed, so it does
        for (const glm::vec3& normal : n) {
            QVERIFY(glm::distance(normal, glm::vec3(0, 0, 1)) <
                    1e-6f); // not as the stray's long triangles lay
        }
    }
    void verticesWithoutAPlaceAreMarked() {
        const tests::AnalyticSource source(5, tests::timed(1.0), [](const glm::vec3& rest, double seconds) {
            return seconds > 0.4 && rest.x > 0.9f && rest.z > 0.9f ? glm::vec3(NAN) : rest;
        });
        const Found found = look(source);
        const Observation* one = found["not-finite"];
        QVERIFY(one);
        QCOMPARE(one->vertices, std::vector<std::uint32_t>{24});
        QCOMPARE(one->place->frame, std::size_t(13));
        const auto better =
            source::adjust(std::make_shared<tests::AnalyticSource>(source), *one->fixes[0].reading);
        QVERIFY(!look(*better)["not-finite"]);
    }
    void stillVerticesAreCounted() {
        const tests::AnalyticSource source(5, tests::timed(1.0), [](const glm::vec3& rest, double seconds) {
            return rest.x < -0.9f ? rest : rest + glm::vec3(0, seconds, 0);
        });
        const Found some = look(source);
        QCOMPARE(some.survey->still, std::size_t(5));
        QCOMPARE(some["still"]->vertices, (std::vector<std::uint32_t>{0, 5, 10, 15, 20}));
        QCOMPARE(some["still"]->finding.severity, base::Severity::note);
        const tests::AnalyticSource none(5, tests::timed(1.0),
                                         [](const glm::vec3& rest, double) { return rest; });
        QCOMPARE(look(none)["still"]->finding.severity, base::Severity::look);
    }
    void meshFaultsAndTheirFixes() {
        // Face 2 has no area, vertex 5 no face.
        put("f.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nv 2 0 0\nv 7 7 7\nvt 0 0\nf 1/1 2/1 3/1\nf 1/1 2/1 4/1\n");
        const auto source = source::open(folder() / "f.obj");
        const Found found = look(*source);
        QVERIFY(found["degenerate-triangles"]);
        QVERIFY(found["single-frame"]);
        QVERIFY(found["unused-vertices"]);
        QCOMPARE(found["unused-vertices"]->vertices, std::vector<std::uint32_t>{4});
        const auto whole = mended(folder() / "f.obj", *found["degenerate-triangles"]);
        QCOMPARE(whole->mesh().triangleCount(), std::size_t(1));
        const auto fewer = mended(folder() / "f.obj", *found["unused-vertices"]);
        QCOMPARE(fewer->mesh().vertexCount(), std::size_t(4));
        std::vector<glm::vec3> p(4);
        std::vector<glm::vec3> n(4);
        fewer->sample(0, 0.0, p, n);
        QCOMPARE(p[3], glm::vec3(2, 0, 0));
    }
    void duplicatesAreMergedOnlyWhereTheyMoveAlike() {
        tests::GltfFixture f;
        // Vertices 3 and 4 repeat 1 and 2; 4 follows another joint.
        f.mesh(
            {{"POSITION", f.floats({0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0}, "VEC3", 3)},
             {"NORMAL", f.floats({0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1}, "VEC3", 3)},
             {"JOINTS_0",
              f.shorts({0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0}, "VEC4", 4)},
             {"WEIGHTS_0",
              f.floats({1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0}, "VEC4", 4)}},
            f.shorts({0, 1, 2, 3, 5, 4}, "SCALAR", 1));
        f.node({{"mesh", 0}, {"skin", 0}});
        f.node({{"name", "a"}});
        f.node({{"name", "b"}});
        f.root["scenes"][0]["nodes"] = {0, 1, 2};
        f.root["skins"] = {{{"joints", {1, 2}}}};
        f.channel(2, "translation", f.floats({0, 1}, "SCALAR", 1), f.floats({0, 0, 0, 0, 0, 1}, "VEC3", 3),
                  "LINEAR");
        const auto file = f.write(folder(), "d");
        const auto source = source::open(file);
        const Found found = look(*source);
        QCOMPARE(found["duplicate-vertices"]->vertices, (std::vector<std::uint32_t>{3, 4}));
        const auto merged = mended(file, *found["duplicate-vertices"]);
        QCOMPARE(merged->mesh().vertexCount(), std::size_t(5)); // only 3 was the same in every frame
        QVERIFY(found["no-uvs"]);
        const auto laid = mended(file, *found["no-uvs"]);
        QCOMPARE(laid->mesh().uvSets.at(0)[1], glm::vec2(1, 1)); // (1, 0) of a unit square, V downward
    }
    void uvSetsAreLookedThrough() {
        put("u.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 2.5 0\nvt 0 1\nf 1/1 2/2 3/3\nf 3/1 2/2 1/3\n");
        const auto source = source::open(folder() / "u.obj");
        const Found found = look(*source);
        QVERIFY(found["uv-outside"]);
        tests::AnalyticSource four(4, tests::timed(1.0), tests::wave(1.0));
        four.editMesh().uvSets.resize(4, four.editMesh().uvSets[0]);
        QVERIFY(look(four)["no-free-uv-set"]);
        // A set on which nothing is laid out is free.
        four.editMesh().uvSets[2].assign(16, glm::vec2(0.0f));
        QVERIFY(!look(four)["no-free-uv-set"]);
        QCOMPARE(mesh::freeUvSet(four.mesh()), std::size_t(2));
        const auto facts = mesh::uvSetFacts(four.mesh());
        QCOMPARE(facts[0].overlap, 0.0);
        QVERIFY(facts[2].empty);
        // Two triangles on one another overlap wholly.
        mesh::Mesh twice = four.mesh();
        twice.indices.insert(twice.indices.end(), twice.indices.begin(), twice.indices.begin() + 54);
        QVERIFY(mesh::uvSetFacts(twice)[0].overlap > 0.99);
    }
    void wideTexturesNeedFullPrecisionUvs() {
        const tests::AnalyticSource large(40, tests::timed(0.1), tests::wave(0.1));
        const Found found = look(large);
        QVERIFY(found["half-uv"]);
        project::Document document;
        project::applyFix(document, found["half-uv"]->fixes[0]);
        QCOMPARE(document.recipe.maxWidth, std::size_t(1024));
        QVERIFY(!look(large, {}, document.recipe)["half-uv"]);
    }
    void unitsAreDoubted_data() {
        QTest::addColumn<double>("size");
        QTest::addColumn<double>("metresPerUnit"); // 0: no doubt
        QTest::newRow("a bird") << 1.0 << 0.0;
        QTest::newRow("a person in centimetres") << 175.0 << 0.01;
        QTest::newRow("a person in millimetres") << 1750.0 << 0.001;
        QTest::newRow("a house in millimetres") << 12000.0 << 0.001;
        QTest::newRow("a person a hundred times too small") << 0.0175 << 100.0;
    }
    void unitsAreDoubted() {
        QFETCH(double, size);
        QFETCH(double, metresPerUnit);
        tests::AnalyticSource source(4, tests::timed(1.0), tests::wave(1.0));
        for (glm::vec3& p : source.editMesh().positions) {
            p *= static_cast<float>(size / 2.0);
        }
        const Found found = look(source);
        QCOMPARE(found["unit"] != nullptr, metresPerUnit > 0.0);
        if (metresPerUnit > 0.0) {
            QCOMPARE(found["unit"]->fixes[0].reading->metresPerUnit, metresPerUnit);
            QVERIFY(!look(source, *found["unit"]->fixes[0].reading)["unit"]); // a person has said so
        }
    }
    void ratesAreCompared() {
        source::Clip clip = tests::timed(1.0, 24.0);
        clip.keyRate = 24.0;
        const tests::AnalyticSource source(4, clip, tests::wave(1.0));
        bake::Recipe recipe;
        recipe.fps = 30.0;
        const Found found = look(source, {}, recipe);
        QVERIFY(found["rate-mismatch"]);
        QCOMPARE(*found["rate-mismatch"]->fixes[0].sampleRate, 24.0);
        recipe.fps = 48.0; // every key is met
        QVERIFY(!look(source, {}, recipe)["rate-mismatch"]);
        QVERIFY(look(tests::AnalyticSource(4, tests::sequence(9), tests::wave(1.0)))["rate-unknown"]);
    }
    void manyInfluencesAreSaidAndCanBeCut() {
        tests::GltfFixture f;
        nlohmann::json attributes = {{"POSITION", f.floats(tests::GltfFixture::triangle(), "VEC3", 3)}};
        for (int set = 0; set < 3; ++set) {
            const auto s = static_cast<std::uint16_t>(4 * set);
            std::vector<std::uint16_t> joints;
            std::vector<float> weights;
            for (int v = 0; v < 3; ++v) {
                for (std::uint16_t i = 0; i < 4; ++i) {
                    joints.push_back(static_cast<std::uint16_t>(s + i));
                    weights.push_back(static_cast<float>(12 - s - i) / 78.0f);
                }
            }
            attributes["JOINTS_" + std::to_string(set)] = f.shorts(joints, "VEC4", 4);
            attributes["WEIGHTS_" + std::to_string(set)] = f.floats(weights, "VEC4", 4);
        }
        f.mesh(attributes);
        f.node({{"mesh", 0}, {"skin", 0}});
        nlohmann::json roots = {0};
        nlohmann::json skinJoints = nlohmann::json::array();
        for (int j = 1; j <= 12; ++j) {
            f.node({{"translation", {j, 0, 0}}});
            roots.push_back(j);
            skinJoints.push_back(j);
        }
        f.root["scenes"][0]["nodes"] = roots;
        f.root["skins"] = {{{"joints", skinJoints}}};
        const auto file = f.write(folder(), "many");
        const auto source = source::open(file);
        QCOMPARE(source->influences(), std::size_t(12));
        // Σ w·j with w = (12 − i)/78 and j = i + 1: 364/78.
        QVERIFY(std::abs(source->mesh().positions[0].x - 364.0f / 78.0f) < 1e-5f);
        const Found found = look(*source);
        QVERIFY(found["influences-8"]);
        const auto eight = mended(file, *found["influences-8"]);
        // The first eight weights, made to sum to 1: Σ (12 − i)(i + 1) over i < 8 is 264, their sum 68.
        QVERIFY(std::abs(eight->mesh().positions[0].x - 264.0f / 68.0f) < 1e-5f);
    }
    void mirroredPartsAreTurned() {
        tests::GltfFixture f;
        f.mesh({{"POSITION", f.floats(tests::GltfFixture::triangle(), "VEC3", 3)}},
               f.shorts({0, 1, 2}, "SCALAR", 1));
        f.node({{"mesh", 0}, {"scale", {-1, 1, 1}}});
        const auto file = f.write(folder(), "mirror");
        const auto source = source::open(file);
        QCOMPARE(source->mesh().indices, (std::vector<std::uint32_t>{0, 2, 1}));
        QCOMPARE(source->mesh().normals[0], glm::vec3(0, 0, 1));
        const Found found = look(*source);
        QVERIFY(found["mirrored"]);
        QCOMPARE(mended(file, *found["mirrored"])->mesh().indices, (std::vector<std::uint32_t>{0, 1, 2}));
    }
    void mirroredPartsKeepTheirNormalsOutside() {
        // A tilted triangle with normals of its own on a node that mirrors and turns, at rest and moving; a
        // second one is skinned to a joint that mirrors.
        tests::GltfFixture f;
        const glm::vec3 own = glm::normalize(glm::vec3(1, 1, 1));
        std::vector<float> normals;
        for (int i = 0; i < 3; ++i) {
            normals.insert(normals.end(), {own.x, own.y, own.z});
        }
        const int positions = f.floats({1, 0, 0, 0, 1, 0, 0, 0, 1}, "VEC3", 3);
        const int joints = f.shorts(std::vector<std::uint16_t>(12, 0), "VEC4", 4);
        const int weights = f.floats({1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0}, "VEC4", 4);
        const int normal = f.floats(normals, "VEC3", 3);
        f.mesh({{"POSITION", positions}, {"NORMAL", normal}});
        f.mesh({{"POSITION", positions}, {"NORMAL", normal}, {"JOINTS_0", joints}, {"WEIGHTS_0", weights}});
        f.node({{"mesh", 0}, {"scale", {-1, 2, 1}}});
        f.node({{"mesh", 1}, {"skin", 0}});
        f.node({{"name", "joint"}, {"scale", {1, 1, -1}}});
        f.root["scenes"][0]["nodes"] = {0, 1, 2};
        f.root["skins"] = {{{"joints", {2}}}};
        const int input = f.floats({0, 1}, "SCALAR", 1);
        for (const int node : {0, 2}) {
            f.channel(node, "rotation", input, f.floats({0, 0, 0, 1, 0, 0.6f, 0, 0.8f}, "VEC4", 4), "LINEAR");
        }
        const auto source = source::open(f.write(folder(), "mirrored"));
        const mesh::Mesh& mesh = source->mesh();
        QCOMPARE(mesh.parts.size(), std::size_t(2));
        std::vector<glm::vec3> p(mesh.vertexCount());
        std::vector<glm::vec3> n(mesh.vertexCount());
        for (const double seconds : {-1.0, 0.0, 0.4, 1.0}) {
            if (seconds < 0.0) {
                p = mesh.positions;
                n = mesh.normals;
            } else {
                source->sample(0, seconds, p, n);
            }
            for (std::size_t t = 0; t < mesh.indices.size(); t += 3) {
                const glm::vec3 a = p[mesh.indices[t]];
                const glm::vec3 face =
                    glm::normalize(glm::cross(p[mesh.indices[t + 1]] - a, p[mesh.indices[t + 2]] - a));
                QVERIFY(glm::dot(face, a) > 0.0f); // the front looks away from the origin, as in the file
                for (std::size_t k = 0; k < 3; ++k) {
                    QVERIFY(glm::distance(n[mesh.indices[t + k]], face) < 1e-5f);
                }
            }
        }
        const bake::Baked baked = bake::bake(*source, {});
        const bake::TextureReader reader(baked.textures, baked.columnOfVertex, mesh.positions, mesh.normals);
        source->sample(0, 0.0, p, n);
        std::vector<glm::vec3> readP(p.size());
        std::vector<glm::vec3> readN(p.size());
        reader.frame(0, readP, readN);
        for (std::size_t v = 0; v < p.size(); ++v) {
            QVERIFY(glm::dot(readN[v], n[v]) > 0.9999f);
        }
        // As the file has them: both look inside.
        source::Reading keep;
        keep.mending.keepMirrored = true;
        const auto kept = source::open(folder() / "mirrored.gltf", keep);
        for (std::size_t v = 0; v < p.size(); ++v) {
            QVERIFY(glm::dot(kept->mesh().normals[v], kept->mesh().positions[v]) < 0.0f);
        }
    }
    void partsOfTheSurveyAreTold() {
        for (int f = 0; f < 200; ++f) {
            put("p_" + std::to_string(f) + ".obj",
                std::string(kSquare).replace(0, 7, "v 0 0 " + std::to_string(f)));
        }
        const auto source = source::open(folder() / "p_0.obj");
        base::Progress progress;
        std::size_t last = 0;
        const auto whole =
            inspect::survey(*source, {}, progress, [&](const std::shared_ptr<const inspect::Survey>& part) {
                QVERIFY(part->framesRead > last && !part->complete);
                last = part->framesRead;
            });
        QVERIFY(whole->complete);
        QCOMPARE(whole->framesRead, std::size_t(200));
        progress.cancel();
        QVERIFY_EXCEPTION_THROWN(inspect::survey(*source, {}, progress), base::Cancelled);
    }
};

static const ripple::tests::SuiteOf<TestInspect> kSuite;
#include "test_inspect.moc"
