// Clips of several files in one texture, how they are named and played, and cross-fades between them.

#include "analytic_source.h"
#include "problem_of.h"
#include "random_rig.h"
#include "suite.h"
#include "two_clips.h"
#include "bake/bake.h"
#include "bake/kind.h"
#include "bake/transitions.h"
#include "base/files.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "bundle/read_bundle.h"
#include "bundle/write_bundle.h"
#include "demo/make_demo.h"
#include "source/clip_files.h"
#include "source/open.h"

#include <QTemporaryDir>
#include <QTest>

#include <fstream>

#include <glm/geometric.hpp>

using namespace ripple;

namespace {

std::filesystem::path pathOf(const QTemporaryDir& folder) {
    return folder.path().toStdString();
}

/// Three frames of a triangle that rises by `by` metres a frame.
void writeSequence(const std::filesystem::path& folder, const std::string& name, double by,
                   const std::string& more = "") {
    for (int f = 0; f < 3; ++f) {
        std::ofstream file(folder / (name + "_000" + std::to_string(f) + ".obj"));
        const double y = by * f;
        file << "v 0 " << y << " 0\nv 1 " << y << " 0\nv 0 " << y << " 1\n" << more << "f 1 2 3\n";
    }
}

bool moves(const source::FrameSource& source, std::size_t clip) {
    std::vector<glm::vec3> a(source.mesh().vertexCount());
    std::vector<glm::vec3> b(a.size());
    source.sample(clip, source.clips()[clip].start, a, {});
    source.sample(clip, source.clips()[clip].start + 0.5 * source.clips()[clip].duration, b, {});
    float most = 0.0f;
    for (std::size_t v = 0; v < a.size(); ++v) {
        most = std::max(most, glm::distance(a[v], b[v]));
    }
    return most > 0.01f;
}

} // namespace

class TestClipSets : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void sequencesOfOneMeshAreOneSource() {
        QTemporaryDir folder;
        writeSequence(pathOf(folder), "up", 0.1);
        writeSequence(pathOf(folder), "high", 0.5);
        source::Reading reading;
        reading.clipFiles = {"high_0000.obj"};
        const auto source = source::open(pathOf(folder) / "up_0000.obj", reading);
        QCOMPARE(source->clips().size(), std::size_t(2));
        QVERIFY(source->clips()[0].name != source->clips()[1].name);
        std::vector<glm::vec3> p(3);
        source->sample(0, source->clips()[0].duration, p, {});
        QVERIFY(std::abs(p[0].y - 0.2f) < 1e-6f);
        source->sample(1, source->clips()[1].duration, p, {});
        QVERIFY(std::abs(p[0].y - 1.0f) < 1e-6f);
        QCOMPARE(source->files().size(), std::size_t(6));
    }
    void anotherMeshIsNamedByItsCounts() {
        QTemporaryDir folder;
        writeSequence(pathOf(folder), "up", 0.1);
        writeSequence(pathOf(folder), "other", 0.1, "v 1 1 1\n");
        source::Reading reading;
        reading.clipFiles = {"other_0000.obj"};
        const base::Problem problem =
            tests::problemOf([&] { source::open(pathOf(folder) / "up_0000.obj", reading); });
        QVERIFY(tests::says(problem, "4 vertices"));
        QVERIFY(tests::says(problem, "has 3"));
    }
    void motionsOfAnotherFileMoveTheSameJoints() {
        source::Scene first = tests::randomScene({.joints = 6, .seed = 5});
        source::Scene second = tests::randomScene({.joints = 6, .seed = 5});
        // The other file holds only joints and another motion, its nodes in another order.
        std::swap(second.nodes[4], second.nodes[5]);
        for (source::SceneNode& node : second.nodes) {
            node.parent = node.parent == 4 ? 5 : node.parent == 5 ? 4 : node.parent;
        }
        second.geometry.parts.clear();
        for (std::size_t& joint : second.geometry.skins[0].joints) {
            joint = joint == 4 ? 5 : joint == 5 ? 4 : joint;
        }
        second.animations[0].name = "run";
        for (source::SceneChannel& channel : second.animations[0].channels) {
            channel.node = channel.node == 4 ? 5 : channel.node == 5 ? 4 : channel.node;
        }
        source::takeMotion(first, second);
        const auto source = source::playScene(std::move(first), {});
        QCOMPARE(source->clips().size(), std::size_t(2));
        QCOMPARE(source->clips()[1].name, std::string("run"));
        std::vector<glm::vec3> a(source->mesh().vertexCount());
        std::vector<glm::vec3> b(a.size());
        for (const double seconds : {0.0, 0.4, 1.7}) {
            source->sample(0, seconds, a, {});
            source->sample(1, seconds, b, {});
            for (std::size_t v = 0; v < a.size(); ++v) {
                QVERIFY(glm::distance(a[v], b[v]) < 1e-5f); // the same motion under another order
            }
        }
    }
    void whatAMotionLeavesStillRestsAsInItsFile() {
        source::Scene first = tests::randomScene({.joints = 3, .seed = 6});
        source::Scene second = tests::randomScene({.joints = 3, .seed = 6});
        second.animations[0].name = "run";
        std::erase_if(second.animations[0].channels, [](const auto& channel) { return channel.node == 2; });
        second.nodes[2].rotation = glm::dquat(0.0, 1.0, 0.0, 0.0);
        source::Scene expected = second;
        source::takeMotion(first, second);
        const auto source = source::playScene(std::move(first), {});
        const auto truth = source::playScene(std::move(expected), {});
        std::vector<glm::vec3> a(source->mesh().vertexCount());
        std::vector<glm::vec3> b(a.size());
        source->sample(1, 0.7, a, {});
        truth->sample(0, 0.7, b, {});
        for (std::size_t v = 0; v < a.size(); ++v) {
            QVERIFY(glm::distance(a[v], b[v]) < 1e-5f);
        }
    }
    void anotherSkeletonIsNamedByItsJoints() {
        source::Scene first = tests::randomScene({.joints = 3});
        source::Scene more = tests::randomScene({.joints = 8});
        more.file = "run.glb";
        const base::Problem missing = tests::problemOf([&] { source::takeMotion(first, more); });
        QVERIFY(tests::says(missing, "5 joints"));
        QVERIFY(tests::says(missing, "joint 3, joint 4, joint 5 and 2 more"));
        source::Scene foreign = tests::randomScene({.joints = 3});
        for (source::SceneNode& node : foreign.nodes) {
            node.name = "bone " + node.name;
        }
        QVERIFY(
            tests::says(tests::problemOf([&] { source::takeMotion(first, foreign); }), "another skeleton"));
        source::Scene turned = tests::randomScene({.joints = 3});
        turned.nodes[2].parent = turned.nodes[2].parent == 1 ? 0 : 1;
        QVERIFY(tests::says(tests::problemOf([&] { source::takeMotion(first, turned); }), "other parents"));
        source::Scene still = tests::randomScene({.joints = 3});
        still.animations.clear();
        QVERIFY(tests::says(tests::problemOf([&] { source::takeMotion(first, still); }), "no animation"));
    }
    void aHeronTakesItsOwnClipsAgain() {
        QTemporaryDir folder;
        demo::makeHeron(pathOf(folder) / "heron.glb");
        std::filesystem::copy_file(pathOf(folder) / "heron.glb", pathOf(folder) / "more.glb");
        source::Reading reading;
        reading.clipFiles = {source::clipFileName(pathOf(folder) / "heron.glb", pathOf(folder) / "more.glb")};
        QCOMPARE(reading.clipFiles[0], std::string("more.glb"));
        const auto source = source::open(pathOf(folder) / "heron.glb", reading);
        QCOMPARE(source->clips().size(), std::size_t(6));
        for (std::size_t c = 0; c < 6; ++c) {
            QVERIFY(moves(*source, c));
        }
        // The manifest says how, and a check finds the files again.
        bake::Recipe recipe = bake::withKind({}, bake::kJoints);
        recipe.clips = {{source->clips()[4].name, std::nullopt, std::nullopt},
                        {source->clips()[0].name, std::nullopt, std::nullopt}};
        recipe.clips[0].shippedName = "jab";
        recipe.clips[0].ending = bake::Ending::once;
        recipe.clips[0].fps = 15.0;
        recipe.clips[1].speed = bake::SpeedRange{0.2, 0.6};
        recipe.transitions = {{"jab", source->clips()[0].name, 0.12}};
        base::Progress progress;
        bundle::writeBundle(*source, recipe, {reading, nullptr, false}, pathOf(folder) / "birds", progress);
        const bundle::Manifest manifest = bundle::readManifest(pathOf(folder) / "birds");
        const auto& clips = manifest.textures.clips;
        QCOMPARE(clips[0].name, std::string("jab"));
        QCOMPARE(clips[0].sourceName, source->clips()[4].name);
        QCOMPARE(clips[0].ending, bake::Ending::once);
        QVERIFY(std::abs(clips[0].fps - 60.0) < 1e-6); // four for each
        QCOMPARE(clips[1].ending, bake::Ending::loop);
        QCOMPARE(clips[1].speed->most, 0.6);
        QCOMPARE(manifest.textures.transitions.size(), std::size_t(2));
        QCOMPARE(manifest.textures.transitions[0].seconds, 0.12);
        QCOMPARE(manifest.textures.transitions[1].seconds, bake::kUsualFade);
        QCOMPARE(clips[0].sourceName, std::string("more peck"));
        // A person reads the same: those that were chosen, and what all others take.
        const std::string notes(base::asText(base::readFile(pathOf(folder) / "birds" / "IMPORT.md")));
        QVERIFY(notes.find("birds_faded_at_seconds(joints, influences, lookup_uv") != std::string::npos);
        QVERIFY(notes.find("| jab | gives way to the clip before it | any |") != std::string::npos);
        QVERIFY(notes.find("| stroll | plays round | 0.2 to 0.6 |") != std::string::npos);
        QVERIFY(notes.find("| jab | stroll | 0.12 |") != std::string::npos);
        QVERIFY(notes.find("| any | any other | 0.3 |") != std::string::npos);
        QVERIFY(notes.find("| stroll | jab | 0.3 |") == std::string::npos);
        const auto again =
            source::open(pathOf(folder) / "heron.glb", bundle::originOf(pathOf(folder) / "birds").reading);
        const bundle::CheckReport report = bundle::check(pathOf(folder) / "birds", again.get());
        QVERIFY2(report.problems.empty(), report.problems.empty() ? "" : report.problems[0].line().c_str());
    }
    void namesMustDiffer() {
        const tests::TwoClips source;
        bake::Recipe recipe;
        recipe.clips = bake::writtenOut(source, recipe);
        recipe.clips[0].shippedName = recipe.clips[1].name;
        QVERIFY(tests::says(tests::problemOf([&] { bake::planSampling(source, recipe); }), "another name"));
    }
    void aFadeLongerThanAClipIsSaid() {
        const tests::TwoClips source;
        bake::Recipe recipe;
        recipe.clips = bake::writtenOut(source, recipe);
        recipe.transitions = {{recipe.clips[0].name, recipe.clips[1].name, 5.0}};
        QVERIFY(tests::has(bake::bake(source, recipe).findings, "fade-longer-than-clip"));
        recipe.transitions[0].seconds = 0.05;
        QVERIFY(!tests::has(bake::bake(source, recipe).findings, "fade-longer-than-clip"));
    }
    void aFadeBeginsAndEndsWithoutAJolt() {
        // Positions at both ends, and the speed there by differences, are those of the clips alone.
        const tests::TwoClips source;
        const auto rig = tests::randomRig({.joints = 5, .influences = 3, .seed = 8});
        for (const bake::Kind* kind : bake::kinds()) {
            const source::FrameSource& of =
                kind->followsJoints ? *rig : static_cast<const source::FrameSource&>(source);
            if (kind == &bake::kPieces) {
                continue; // bends
            }
            bake::Recipe recipe = bake::withKind({}, *kind);
            recipe.positionStore = "float32";
            const bake::Baked baked = bake::bake(of, recipe);
            const bake::TextureReader reader = baked.reader(of.mesh());
            const bake::BakedClip& from = baked.textures.clips.front();
            const bake::BakedClip& to = baked.textures.clips.back();
            const float length = 0.2f;
            const auto at = [&](float seconds, float progress) {
                std::vector<glm::vec3> p(of.mesh().vertexCount());
                std::vector<glm::vec3> n(p.size());
                const auto fps = [](const bake::BakedClip& clip) { return static_cast<float>(clip.fps); };
                reader.blended(
                    bake::faded(bake::blendAt(from, (0.13f + seconds) * fps(from), recipe.blend),
                                bake::blendAt(to, (0.02f + seconds) * fps(to), recipe.blend),
                                static_cast<float>(bake::easedFade(static_cast<double>(progress)))),
                    p, n);
                return p;
            };
            constexpr float kStep = 1e-3f;
            for (const auto& [start, alone] : {std::pair(0.0f, 0.0f), std::pair(length, 1.0f)}) {
                const auto fading = at(start, start / length);
                const auto still = at(start, alone);
                const float way = alone > 0.5f ? -kStep : kStep;
                const auto fadingNext = at(start + way, (start + way) / length);
                const auto stillNext = at(start + way, alone);
                for (std::size_t v = 0; v < fading.size(); ++v) {
                    QVERIFY(glm::distance(fading[v], still[v]) < 1e-6f);
                    // An eased weight leaves of the difference what the square of the step is.
                    const float jolt =
                        glm::distance(fadingNext[v] - fading[v], stillNext[v] - still[v]) / kStep;
                    QVERIFY2(jolt < 0.2f, qPrintable(QString("%1: %2 m/s").arg(kind->id).arg(jolt)));
                }
            }
        }
    }
    void emptyClipsAreStill() {
        source::Scene scene = tests::randomScene({.joints = 3});
        source::SceneAnimation none{"none", 0.0, 0.0, {}};
        scene.animations.push_back(none);
        const auto source = source::playScene(std::move(scene), {});
        bake::Recipe recipe = bake::withKind({}, bake::kJoints);
        const bake::Baked baked = bake::bake(*source, recipe);
        QCOMPARE(baked.textures.clips[1].frames, std::size_t(1));
        QVERIFY(tests::has(baked.findings, "one-frame"));
    }
};

static const ripple::tests::SuiteOf<TestClipSets> kSuite;
#include "test_clip_sets.moc"
