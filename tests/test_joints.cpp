// Joints in a texture: what is decoded from it is where the source's own skinning puts the vertices.

#include "analytic_source.h"
#include "problem_of.h"
#include "random_rig.h"
#include "bake/bake.h"
#include "bake/error.h"
#include "bake/joint_texels.h"
#include "bake/kind.h"
#include "bake/ladder.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "bundle/read_bundle.h"
#include "bundle/write_bundle.h"
#include "demo/make_demo.h"
#include "source/open.h"
#include "source/rig.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <glm/geometric.hpp>
#include <glm/matrix.hpp>

using namespace ripple;

namespace {

bake::Recipe jointRecipe(const char* store, std::size_t influences = 8) {
    bake::Recipe recipe;
    recipe.kind = &bake::kJoints;
    recipe.positionStore = store;
    recipe.influences = influences;
    return recipe;
}

struct Measured {
    bake::Baked baked;
    bake::ErrorReport error;
};

Measured measured(const source::FrameSource& source, const bake::Recipe& recipe) {
    const bake::SamplePlan plan = bake::planSampling(source, recipe);
    Measured m{bake::bake(source, plan, recipe), {}};
    m.error = bake::measureError(source, plan, {}, m.baked.reader(source.mesh()), m.baked.textures.clips);
    return m;
}

/// The same rig whose vertices follow no more joints than are stored.
std::shared_ptr<const source::FrameSource> limited(const tests::RigPlan& plan, std::size_t influences) {
    source::Reading reading;
    reading.mending.maxInfluences = influences;
    return source::playScene(tests::randomScene(plan), reading);
}

std::shared_ptr<const source::FrameSource> openHeron() {
    const QTemporaryDir folder;
    const std::filesystem::path file = std::filesystem::path(folder.path().toStdString()) / "heron.glb";
    demo::makeHeron(file);
    return source::open(file);
}

/// What the store may lose at kept frames, metres.
double boundOf(const Measured& m, const mesh::Mesh& mesh) {
    const bake::TextureSet& set = m.baked.textures;
    mesh::Bounds rest;
    rest.add(m.baked.shippedPositions(mesh));
    bake::Range range = set.ranges.front();
    if (!set.positionStore.usesRange) {
        range.max = glm::max(glm::abs(range.min), glm::abs(range.max));
        range.min = -range.max;
    }
    const auto place = static_cast<double>(glm::length(set.positionStore.errorBound(range)));
    return bake::kJoints.errorBound(set, place, rest);
}

} // namespace

class TestJoints : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void fiftyRandomRigs() {
        std::size_t rigid = 0;
        for (const tests::RigPlan& plan : tests::manyRigs()) {
            const auto source = limited(plan, 8);
            for (const char* store : {"float32", "half", "unorm16"}) {
                const Measured m = measured(*source, jointRecipe(store));
                const double allowed =
                    store == std::string("float32") ? 1e-5 * m.error.diagonal : boundOf(m, source->mesh());
                QVERIFY2(m.error.atFrames.max < allowed, qPrintable(QString("rig %1, %2: %3 of %4")
                                                                        .arg(plan.seed)
                                                                        .arg(store)
                                                                        .arg(m.error.atFrames.max)
                                                                        .arg(allowed)));
                if (store == std::string("float32")) {
                    QVERIFY(m.error.normalAtFramesMaxDegrees < 0.05);
                    QCOMPARE(m.baked.textures.joints.matrix, plan.uneven);
                    rigid += m.baked.textures.joints.matrix ? 0 : 1;
                }
            }
        }
        QVERIFY(rigid > 20 && rigid < 40);
    }
    void influencesLieInUvsToo() {
        for (const tests::RigPlan& plan : {tests::manyRigs()[7], tests::manyRigs()[24]}) {
            for (const std::size_t influences : {std::size_t(4), std::size_t(8)}) {
                const auto source = limited(plan, influences);
                bake::Recipe recipe = jointRecipe("float32", influences);
                recipe.influencesInUvs = true;
                const Measured m = measured(*source, recipe);
                QCOMPARE(m.baked.textures.images.size(), std::size_t(1));
                QVERIFY(m.error.atFrames.max < 1e-5 * m.error.diagonal);
                // The same as from a texture.
                recipe.influencesInUvs = false;
                QVERIFY(std::abs(measured(*source, recipe).error.all.max - m.error.all.max) <
                        1e-6 * m.error.diagonal);
            }
        }
    }
    void jointsAtFourTimesTheRateAreOffByLessThanATenth() {
        const auto heron = openHeron();
        bake::Recipe vertices;
        vertices.positionStore = "float32";
        const Measured all = measured(*heron, vertices);
        const Measured joints = measured(*heron, jointRecipe("float32", 4));
        QVERIFY(all.error.betweenFrames.max > 0.005);
        QVERIFY(joints.error.all.max < 0.1 * all.error.all.max);
        QVERIFY(joints.error.atFrames.max < 1e-5 * joints.error.diagonal);
        QVERIFY(10 * joints.baked.textures.textureMemory() < all.baked.textures.textureMemory());
        QCOMPARE(joints.baked.textures.joints.joints, std::size_t(23));
        // At the same rate blending loses nearly as much: pivots themselves travel on arcs.
        bake::Recipe same = jointRecipe("float32", 4);
        same.oversampling = 1;
        const double lost = measured(*heron, same).error.betweenFrames.max;
        QVERIFY(lost > 0.5 * all.error.betweenFrames.max && lost < all.error.betweenFrames.max);
    }
    void theLadderRaisesTheRateForATightTolerance() {
        const auto heron = openHeron();
        bake::Recipe recipe;
        recipe.positionStore = "unorm16";
        recipe.clips = {{"peck", std::nullopt, std::nullopt}};
        // At its own rate no store of vertices comes within a millimetre.
        const auto atOnce = bake::climbLadder(*heron, recipe, {false, false, true, false, false}, {});
        QVERIFY(!bake::cheapest(*atOnce, 0.001));
        const auto vertices = bake::climbLadder(*heron, recipe, {false, false, true, true, true}, {});
        const auto rung = bake::cheapest(*vertices, 0.001);
        QVERIFY(rung);
        const bake::Recipe& chosen = vertices->rungs[*rung].recipe;
        QVERIFY(chosen.thin > 0.0 || bake::oversamplingOf(chosen) > 1);
        QVERIFY(std::ranges::any_of(vertices->rungs, [](const bake::Rung& each) {
            return bake::oversamplingOf(each.recipe) == 4 && each.error < 0.001;
        }));
        // With joints among them it is those, in a twentieth of the memory.
        const auto all = bake::climbLadder(*heron, recipe, {true, false, true, true, true}, {});
        const bake::Rung& best = all->rungs[*bake::cheapest(*all, 0.001)];
        QVERIFY(best.recipe.kind == &bake::kJoints);
        QVERIFY(20 * best.memory < vertices->rungs[*rung].memory);
        // What it says is what a bake gives.
        QVERIFY(std::abs(measured(*heron, best.recipe).error.all.max - best.error) < 1e-9);
    }
    void curvesAreKeptOnlyWhereTheyHelp() {
        // A sine that is sampled coarsely: a curve comes nearer. A motion on straight lines: it does not.
        const auto curved = tests::AnalyticSource(6, tests::timed(1.0, 10.0), tests::wave(1.0));
        const auto straight = tests::AnalyticSource(6, tests::timed(1.0, 10.0), tests::drift(0.5f));
        bake::Blend chosen = bake::Blend::linear;
        const auto bends = [&](const source::FrameSource& source) {
            bake::Recipe recipe;
            recipe.blend = chosen;
            const auto ladder = bake::climbLadder(source, recipe, {false, false, true, true, true}, {});
            double linear = 1e9;
            double cubic = 1e9;
            for (const bake::Rung& rung : ladder->rungs) {
                if (rung.recipe.positionStore == "float32" && rung.recipe.step == 1 &&
                    bake::oversamplingOf(rung.recipe) == 1 && rung.recipe.thin == 0.0) {
                    double& own = rung.recipe.blend == bake::Blend::cubic ? cubic : linear;
                    own = rung.error;
                }
            }
            return std::pair(linear, cubic);
        };
        const auto [linear, cubic] = bends(curved);
        QVERIFY2(cubic < 0.2 * linear, qPrintable(QString("%1 %2").arg(linear).arg(cubic)));
        QCOMPARE(bends(straight).second, 1e9);
        chosen = bake::Blend::cubic; // what is in use does not matter to what helps
        QCOMPARE(bends(straight).second, 1e9);
        QVERIFY(bends(curved).first < 1.0);
    }
    void aRotationAboutAPointLeavesItInItsPlaceBetweenFrames() {
        // What origin-based blending of places gets wrong by the sagitta of the arc.
        const glm::dvec3 pivot(3.0, -2.0, 1.0);
        const auto about = [&](double angle) {
            glm::dmat4 m(glm::mat3_cast(glm::angleAxis(angle, glm::normalize(glm::dvec3(1.0, 2.0, 3.0)))));
            m[3] = glm::dvec4(pivot - glm::dmat3(m) * pivot, 1.0);
            return m;
        };
        bake::JointFormat format;
        format.joints = 1;
        std::vector<std::vector<glm::vec4>> frames(2, std::vector<glm::vec4>(2));
        bake::makeTexels(about(0.2), false, frames[0]);
        bake::makeTexels(about(0.9), false, frames[1]);
        for (const float t : {0.25f, 0.5f, 0.75f}) {
            bake::FrameBlend moment;
            moment.add(0, 1.0f - t);
            moment.add(1, t);
            glm::mat4 blended(0.0f);
            bake::blendJoints(format, frames, moment, {&blended, 1});
            QVERIFY(glm::distance(glm::vec3(blended * glm::vec4(glm::vec3(pivot), 1.0f)), glm::vec3(pivot)) <
                    2e-6f);
        }
    }
    void scaleToNothingIsDefined() {
        source::Scene scene = tests::randomScene({.joints = 3, .influences = 2});
        source::SceneChannel channel;
        channel.node = 2;
        channel.path = source::ChannelPath::scale;
        channel.times = {0.0, 1.0, 2.0};
        channel.values = {1, 1, 1, 0, 0, 0, 1, 1, 1};
        scene.animations[0].channels.push_back(channel);
        const auto source = source::playScene(std::move(scene), {});
        for (const char* store : {"float32", "unorm16"}) {
            const Measured m = measured(*source, jointRecipe(store));
            QVERIFY(!m.baked.textures.joints.matrix);
            QVERIFY(m.error.atFrames.max <
                    (store == std::string("float32") ? 1e-5 : 3e-4) * m.error.diagonal);
            std::vector<glm::vec3> p(source->mesh().vertexCount());
            std::vector<glm::vec3> n(p.size());
            m.baked.reader(source->mesh()).at(m.baked.textures.clips[0], 120.0f, p, n); // where it is 0
            for (const glm::vec3& normal : n) {
                QVERIFY(std::abs(glm::length(normal) - 1.0f) < 1e-4f);
            }
        }
    }
    void whatDoesNotFitSaysSo() {
        const auto uneven = tests::randomRig({.joints = 5, .influences = 12, .uneven = true});
        const auto few = tests::randomRig({.joints = 5, .influences = 3, .uneven = true});
        bake::Recipe recipe = jointRecipe("float32", 4);
        const Measured automatic = measured(*uneven, recipe);
        QVERIFY(automatic.baked.textures.joints.matrix);
        QVERIFY(tests::has(automatic.baked.findings, "joints-as-matrices"));
        QVERIFY(tests::has(automatic.baked.findings, "influences-dropped"));
        recipe.jointForm = bake::JointForm::rigid;
        const Measured forced = measured(*few, recipe);
        QVERIFY(tests::has(forced.baked.findings, "joints-bent"));
        QVERIFY(forced.error.atFrames.max > 0.01 * forced.error.diagonal);
        recipe = jointRecipe("unorm8x2");
        QVERIFY(
            tests::says(tests::problemOf([&] { bake::bake(*uneven, recipe); }), "not stored as unorm8x2"));
        recipe = jointRecipe("float32", 5);
        QVERIFY(tests::says(tests::problemOf([&] { bake::bake(*uneven, recipe); }), "4 or 8"));
        recipe = jointRecipe("float32");
        recipe.influencesInUvs = recipe.halfUvs = true;
        QVERIFY(tests::says(tests::problemOf([&] { bake::bake(*uneven, recipe); }), "half precision"));
    }
    void moreJointsThanTheWidthTakeMoreRows() {
        const auto source = tests::randomRig({.joints = 300, .influences = 4, .seed = 5});
        bake::Recipe recipe = jointRecipe("float32");
        recipe.maxWidth = 64;
        const Measured m = measured(*source, recipe);
        QVERIFY(m.baked.textures.joints.layout.rowsPerBlock > 8);
        QVERIFY(m.baked.textures.joints.layout.width <= 64);
        QVERIFY(m.error.atFrames.max < 1e-5 * m.error.diagonal);
    }
    void fadesOfALoopAreWhereBlendedVerticesAre() {
        const auto source = tests::randomRig({.joints = 6, .influences = 3, .seed = 9});
        bake::Recipe recipe = jointRecipe("float32");
        recipe.closing = bake::Closing::fade;
        recipe.fadeFrames = 10;
        const Measured m = measured(*source, recipe);
        QVERIFY(m.baked.textures.clips[0].closed);
        QVERIFY(m.baked.textures.joints.matrix); // a blend of two rotations shears
        QVERIFY(m.error.atFrames.max < 1e-5 * m.error.diagonal);
    }
    void morphTargetsAreRefusedByName() {
        source::Scene scene = tests::randomScene({.joints = 3});
        scene.geometry.parts[0].morphs.resize(1);
        scene.geometry.parts[0].restMorphWeights = {0.0};
        source::SceneChannel channel;
        channel.node = 3;
        channel.path = source::ChannelPath::weights;
        channel.width = 1;
        channel.times = {0.0, 1.0};
        channel.values = {0.0, 1.0};
        scene.animations[0].channels.push_back(channel);
        const auto source = source::playScene(std::move(scene), {});
        const base::Problem problem = tests::problemOf([&] { source->rig(); });
        QVERIFY(tests::says(problem, "\"move\""));
        QVERIFY(tests::says(problem, "\"body\""));
    }
    void aBundleIsReadBackAndChecked_data() {
        QTest::addColumn<QString>("store");
        QTest::addColumn<bool>("uvs");
        for (const char* store : {"float32", "half", "unorm16"}) {
            for (const bool uvs : {false, true}) {
                QTest::addRow("%s %s", store, uvs ? "in UV sets" : "in a texture") << store << uvs;
            }
        }
    }
    void aBundleIsReadBackAndChecked() {
        QFETCH(QString, store);
        QFETCH(bool, uvs);
        QTemporaryDir folder;
        const std::filesystem::path to = std::filesystem::path(folder.path().toStdString()) / "rig";
        for (const bool cubic : {false, true}) {
            const auto source = tests::randomRig(
                {.joints = 9, .influences = 6, .uneven = cubic, .bindApart = true, .seed = 21});
            bake::Recipe recipe = jointRecipe(qPrintable(store));
            recipe.influencesInUvs = uvs;
            recipe.blend = cubic ? bake::Blend::cubic : bake::Blend::linear;
            base::Progress progress;
            const bundle::Manifest manifest = bundle::writeBundle(*source, recipe, {}, to, progress);
            const bundle::CheckReport report = bundle::check(to, source.get());
            QVERIFY2(report.problems.empty(),
                     report.problems.empty() ? "" : report.problems[0].line().c_str());
            QVERIFY(std::abs(report.error->all.max - manifest.error.all.max) < 1e-9);
            const bundle::Manifest read = bundle::readManifest(to);
            if (!uvs) {
                // More columns than vertices are refused before there is room made for them.
                bundle::Manifest many = read;
                many.textures.layout = {1u << 20, 1u << 14, 64, many.textures.layout.blocks, 0};
                QVERIFY(tests::says(tests::problemOf([&] { bundle::readBundle(to, many); }), "column"));
            }
            bake::JointFormat joints = read.textures.joints;
            joints.range = manifest.textures.joints.range; // of stores without a range it is not needed
            QVERIFY(joints == manifest.textures.joints);
            QCOMPARE(read.textures.blend, recipe.blend);
        }
    }
};

static const ripple::tests::SuiteOf<TestJoints> kSuite;
#include "test_joints.moc"
