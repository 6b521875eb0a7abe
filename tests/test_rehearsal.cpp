// Mistakes at import, rehearsed: what each does, and that check names those that show in the files.

#include "problem_of.h"
#include "base/progress.h"
#include "bake/kind.h"
#include "bundle/imported_mesh.h"
#include "bundle/missampling.h"
#include "bundle/read_bundle.h"
#include "bundle/rehearsal.h"
#include "bundle/returned.h"
#include "image/texels.h"
#include "mesh/normals.h"
#include "bundle/write_bundle.h"
#include "faults_named.h"
#include "random_rig.h"
#include "source/open.h"
#include "suite.h"
#include "turning_pieces.h"

#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <set>

#include <glm/geometric.hpp>

using namespace ripple;
using namespace ripple::bundle;

class TestRehearsal : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;
    std::filesystem::path folder_;
    std::optional<Bundle> heron_;

    Rehearsed with(std::initializer_list<const char*> ids) const {
        return rehearse(*heron_, tests::faultsNamed(ids));
    }

private Q_SLOTS:
    void initTestCase() {
        folder_ = std::filesystem::path(dir_.path().toStdString()) / "heron";
        const auto source = source::open(std::filesystem::path(DEMO_FOLDER) / "heron.glb");
        bake::Recipe recipe;
        recipe.positionStore = "unorm16";
        recipe.clips = {{"stroll", {}, {}}, {"peck", {}, {}}};
        base::Progress progress;
        writeBundle(*source, recipe, {}, folder_, progress);
        heron_ = readBundle(folder_);
    }

    void everyFaultHasItsWords() {
        std::set<std::string> ids;
        for (const Fault& fault : faults()) {
            QVERIFY2(ids.insert(fault.id).second, fault.id);
            QVERIFY2(fault.bytes.has_value() != fault.misreading.has_value(), fault.id);
            if (fault.bytes) {
                QCOMPARE(std::string(wordsOf(*fault.bytes).id), std::string(fault.id));
            }
            QCOMPARE(&faultNamed(fault.id), &fault);
        }
        for (const DamageWords& damage : textureDamages()) {
            QVERIFY2(ids.contains(damage.id), damage.id);
        }
        QVERIFY(tests::says(tests::problemOf([] { faultNamed("gremlins"); }), "no fault"));
    }
    void noFaultChangesNothing() {
        const Rehearsed none = with({});
        QCOMPARE(none.metres, 0.0);
        QVERIFY(none.degrees < 1e-3);
        QCOMPARE(none.overhang, 0.0);
    }
    void faultsOfBytesMoveVertices() {
        // Of the size of 1.5 m: at least a twentieth of the millimetre that people see, and rough ones more.
        for (const char* id : {"srgb-applied", "srgb-removed", "rows-flipped", "columns-flipped",
                               "channels-swapped", "half-size"}) {
            QVERIFY2(with({id}).metres > 0.02, id);
        }
        const bake::Range range = heron_->textures.ranges.at(0);
        const double step = static_cast<double>(glm::length(range.max - range.min)) / 255.0;
        const Rehearsed eight = with({"eight-bits"});
        QVERIFY(eight.metres > 0.2 * step && eight.metres < 0.55 * step);
        QVERIFY(with({"block-compressed"}).metres > eight.metres);
        const Rehearsed idle = with({"premultiplied"});
        QCOMPARE(idle.idle.size(), std::size_t(1));
        QCOMPARE(idle.metres, 0.0);
    }
    void misreadingsDoWhatTheySay() {
        // The range left at 0 to 1: what is stored as the fraction of a range is taken for metres.
        const Rehearsed range = with({"range-unset"});
        QVERIFY(range.metres > 0.3 && range.metres < 3.0);
        // One frame shorter is right up to the last frame, and then begins anew.
        const Rehearsed shorter = with({"frame-count-short"});
        QVERIFY(shorter.metres > 1e-3);
        const auto& clips = heron_->manifest.textures.clips;
        for (const bake::BakedClip& clip : clips) {
            if (clip.name == shorter.worstClip) {
                QVERIFY(shorter.worstFrame >= static_cast<double>(clip.length()) - 2.0);
            }
        }
        // Held ends: half way over the seam half the step there is missing.
        const bake::BakedClip& stroll = clips.at(0);
        QVERIFY(stroll.closed);
        const bake::TextureReader reader = heron_->reader();
        const std::size_t count = heron_->mesh.vertexCount();
        std::vector<glm::vec3> over(count), last(count);
        const auto length = static_cast<float>(stroll.length());
        reader.at(stroll, length - 0.5f, over, {});
        reader.at(stroll, length - 1.0f, last, {});
        double seam = 0.0;
        for (std::size_t v = 0; v < count; ++v) {
            seam = std::max(seam, static_cast<double>(glm::distance(over[v], last[v])));
        }
        const Rehearsed held = with({"clamped-end"});
        QVERIFY(std::abs(held.metres - seam) < 1e-6 || held.worstClip != stroll.name);
        QVERIFY(held.metres >= seam - 1e-6 && seam > 0.0);
        QVERIFY(with({"other-uv-set"}).metres > 0.1);
        // Ten hours in single precision: steps of 1/256 s, so up to half of that late or early, in a beak
        // that moves at a few metres a second: millimetres.
        const Rehearsed late = with({"long-uptime"});
        QVERIFY(late.metres > 1e-5 && late.metres < 0.05);
        QVERIFY(late.metres < held.metres);
        // What is added is off by the angle between it and itself turned a quarter: √2 of its flat part.
        double flat = 0.0;
        std::vector<glm::vec3> p(count);
        for (const bake::BakedClip& clip : clips) {
            const double end = static_cast<double>(clip.length()) - (clip.closed ? 0.5 : 1.0);
            for (int k = 0; k <= 12; ++k) {
                reader.at(clip, static_cast<float>(end * k / 12), p, {});
                for (std::size_t v = 0; v < count; ++v) {
                    const glm::vec3 moved = p[v] - heron_->mesh.positions[v];
                    flat = std::max(flat,
                                    std::hypot(static_cast<double>(moved.x), static_cast<double>(moved.z)));
                }
            }
        }
        QVERIFY(std::abs(with({"rotation-ignored"}).metres - std::sqrt(2.0) * flat) < 1e-4 * flat);
        // A pecking heron leaves the box that it stands in.
        const Rehearsed bounds = with({"rest-bounds"});
        QCOMPARE(bounds.metres, 0.0);
        QVERIFY(bounds.overhang > 0.01);
        const mesh::Bounds all = heron_->manifest.bounds;
        mesh::Bounds rest;
        rest.add(heron_->mesh.positions);
        const glm::vec3 most = glm::max(rest.min - all.min, all.max - rest.max);
        QVERIFY(bounds.overhang <= static_cast<double>(glm::length(glm::max(most, 0.0f))) + 1e-6);
        const Rehearsed lit = with({"tangent-space"});
        QCOMPARE(lit.metres, 0.0);
        QVERIFY(lit.idle.size() == 1 || lit.degrees > 20.0);
    }
    void samplingIsSimulatedToTheTexel() {
        const auto image = [](std::size_t width, std::size_t height) {
            image::Image made;
            made.width = width;
            made.height = height;
            made.channels = 1;
            made.pixel = image::Pixel::float32;
            made.data.resize(width * height * sizeof(float));
            for (std::size_t y = 0; y < height; ++y) {
                for (std::size_t x = 0; x < width; ++x) {
                    setValue(made, x, y, 0, static_cast<float>(x + 10000 * y));
                }
            }
            return made;
        };
        const auto others = [](const image::Image& a, const image::Image& b) {
            std::size_t count = 0;
            for (std::size_t y = 0; y < a.height; ++y) {
                for (std::size_t x = 0; x < a.width; ++x) {
                    count += valueAt(a, x, y, 0) != valueAt(b, x, y, 0);
                }
            }
            return count;
        };
        // Centres are hit whether neighbours are blended or not, also where widths are no powers of two.
        const image::Image wide = image(1409, 12);
        QCOMPARE(others(sampledSo({.linear = true}, wide, 3), wide), std::size_t(0));
        // Between two texels both count half.
        const image::Image eight = image(8, 2);
        const image::Image edges = sampledSo({.atEdges = true, .linear = true}, eight, 1);
        QCOMPARE(valueAt(edges, 5, 0, 0), 4.5f);
        QCOMPARE(valueAt(edges, 0, 0, 0), 0.0f); // clamped
        QCOMPARE(valueAt(edges, 5, 1, 0), 4.5f + 5000.0f);
        // Half floats tell 1024 columns apart, and not 3000.
        const image::Image narrow = image(1024, 4);
        QCOMPARE(others(sampledSo({.halfUvs = true}, narrow, 1), narrow), std::size_t(0));
        const image::Image broad = image(3000, 4);
        const image::Image rounded = sampledSo({.halfUvs = true}, broad, 1);
        QVERIFY(others(rounded, broad) > 1000);
        for (std::size_t x = 0; x < 3000; ++x) {
            QVERIFY(std::abs(valueAt(rounded, x, 0, 0) - static_cast<float>(x)) <= 1.0f);
        }
        // A mesh whose V was turned reads the last rows at first, and then the last alone.
        const image::Image turned = sampledSo({.vTurned = true}, wide, 3);
        QCOMPARE(valueAt(turned, 7, 0, 0), 7.0f + 110000.0f);
        QCOMPARE(valueAt(turned, 7, 2, 0), 7.0f + 90000.0f);
        QCOMPARE(valueAt(turned, 7, 4, 0), 7.0f + 110000.0f);
        QCOMPARE(valueAt(turned, 7, 11, 0), 7.0f + 110000.0f);
    }
    void lookupsAreRehearsed() {
        QVERIFY(with({"v-flipped"}).metres > 0.05);
        QVERIFY(with({"texel-edges"}).metres > 0.001); // widths that are no powers of two round either way
        // 1487 columns lie further apart than half floats are off: 1/2048 of the width and less.
        QCOMPARE(with({"half-uvs"}).metres, 0.0);
        QVERIFY(with({"linear-filter"}).metres < 1e-5);
        const Rehearsed both = with({"texel-edges", "linear-filter"});
        QVERIFY(both.metres > 0.001);
        QVERIFY(std::abs(both.metres - with({"linear-filter", "texel-edges"}).metres) < 1e-9);
        QCOMPARE(with({"pivots-lost"}).idle.size(), std::size_t(1));
        // Pieces: about the origin instead of their own places.
        const tests::TurningPieces source(3);
        bake::Recipe recipe;
        recipe.kind = &bake::kPieces;
        const bake::Baked baked = bake::bake(source, recipe);
        const Fault* lost = &faultNamed("pivots-lost");
        const Rehearsed swung =
            rehearse(Staged{baked.textures, baked.columnOfVertex, source.mesh()}, std::span(&lost, 1));
        // The third stands 3 m away; turned about the origin by up to half a turn it is up to 6 m off.
        QVERIFY(swung.metres > 2.0 && swung.metres < 7.0);
        bake::Recipe inUvs = bake::withKind({}, bake::kJoints);
        inUvs.influencesInUvs = true;
        const auto rig = tests::randomRig({.joints = 5, .influences = 4, .seed = 3});
        const bake::Baked joints = bake::bake(*rig, inUvs);
        const Fault* edges = &faultNamed("texel-edges");
        QCOMPARE(rehearse(Staged{joints.textures, joints.columnOfVertex, joints.shippedMesh(rig->mesh())},
                          std::span(&edges, 1))
                     .idle.size(),
                 std::size_t(1));
    }
    void importersTurnScaleAndWeld() {
        // Offsets stay as they were while the mesh is turned: off by the angle between them and themselves
        // turned.
        const bake::TextureReader reader = heron_->reader();
        std::vector<glm::vec3> p(heron_->mesh.vertexCount());
        double turned = 0.0;
        double scaled = 0.0;
        for (const bake::BakedClip& clip : heron_->manifest.textures.clips) {
            const double end = static_cast<double>(clip.length()) - (clip.closed ? 0.5 : 1.0);
            for (int k = 0; k <= 12; ++k) {
                reader.at(clip, static_cast<float>(end * k / 12), p, {});
                for (std::size_t v = 0; v < p.size(); ++v) {
                    const glm::vec3 moved = p[v] - heron_->mesh.positions[v];
                    const glm::vec3 up(moved.x, -moved.z, moved.y);
                    turned = std::max(turned, static_cast<double>(glm::distance(up, moved)));
                    scaled = std::max(scaled, 0.99 * static_cast<double>(glm::length(moved)));
                }
            }
        }
        QVERIFY(std::abs(with({"axes-turned"}).metres - turned) < 1e-4 * turned);
        QVERIFY(std::abs(with({"unit-changed"}).metres - scaled) < 1e-4 * scaled);
        // Joints move the mesh as it is: turned alone, it is carried elsewhere.
        const auto rig = tests::randomRig({.joints = 5, .influences = 4, .seed = 3});
        const bake::Baked joints = bake::bake(*rig, bake::withKind({}, bake::kJoints));
        const Fault* axes = &faultNamed("axes-turned");
        QVERIFY(rehearse(Staged{joints.textures, joints.columnOfVertex, joints.shippedMesh(rig->mesh())},
                         std::span(&axes, 1))
                    .metres > 0.1);
        // The heron's skin is one surface cut at UV seams, where both sides move alike.
        QVERIFY(with({"vertices-welded"}).metres < 1e-3);
    }
    void severalAtOnce() {
        const Rehearsed both = with({"eight-bits", "rest-bounds"});
        QVERIFY(std::abs(both.metres - with({"eight-bits"}).metres) < 1e-9);
        QVERIFY(both.overhang > 0.01);
    }
    void whoMakesNormalsAndSplits() {
        // The textures hold the normals of vertices: the mesh's own are not read. Those of joints are turned.
        QCOMPARE(with({"normals-new"}).degrees, 0.0);
        const auto rig = tests::randomRig({.joints = 5, .influences = 4, .seed = 3});
        const bake::Baked joints = bake::bake(*rig, bake::withKind({}, bake::kJoints));
        mesh::Mesh shipped = joints.shippedMesh(rig->mesh());
        std::vector<glm::vec3> made(shipped.vertexCount());
        mesh::NormalBuilder(shipped.indices, shipped.vertexCount(), {}).build(shipped.positions, made);
        double off = 0.0;
        for (std::size_t v = 0; v < made.size(); ++v) {
            off = std::max(off, static_cast<double>(mesh::degreesBetween(made[v], shipped.normals[v])));
        }
        const Fault* fault = &faultNamed("normals-new");
        const Rehearsed seen =
            rehearse(Staged{joints.textures, joints.columnOfVertex, shipped}, std::span(&fault, 1));
        QCOMPARE(seen.metres, 0.0);
        QVERIFY2(off > 1.0 && seen.degrees > 0.5 * off && seen.degrees < 2.0 * off + 1.0,
                 qPrintable(QString("%1 of %2").arg(seen.degrees).arg(off)));
        for (const char* id : {"vertices-split", "vertices-reordered"}) {
            const Rehearsed none = with({id}); // it is said that they do no harm
            QVERIFY(none.idle.size() == 1 && none.idle[0].find("goes by UVs") != std::string::npos);
            QCOMPARE(none.metres, 0.0);
        }
    }
    /// What shows in the files is named by check, whichever it was; the bundle is not touched.
    void checkNamesWhatWasDone() {
        std::size_t named = 0;
        for (const Fault& fault : faults()) {
            const std::filesystem::path out = folder_.parent_path() / fault.id;
            const std::vector<const Fault*> chosen = {&fault};
            const std::size_t files = writeSpoilt(*heron_, folder_, chosen, out);
            const bool ofTextures = fault.bytes && fault.id != std::string("premultiplied");
            const bool ofMesh = !fault.bytes && changesMesh(fault);
            QVERIFY2(ofTextures ? files >= 1 : files == (ofMesh ? 1 : 0), fault.id);
            if (files == 0) {
                continue;
            }
            const ReturnedReport report = checkReturned(folder_, out);
            QVERIFY2(!report.files.empty() && report.problems.empty(), fault.id);
            const auto says = [&](const ReturnedFile& file) {
                return std::ranges::find(file.changes, fault.id, &Change::id) != file.changes.end();
            };
            QVERIFY2(std::ranges::any_of(report.files, says), fault.id);
            ++named;
        }
        QCOMPARE(named, std::size_t(19)); // ten of textures, nine of the mesh
        // Also when vertices that lie together can only be told apart by what was changed.
        const std::filesystem::path out = folder_.parent_path() / "several";
        const std::vector<const Fault*> several = {&faultNamed("v-flipped"), &faultNamed("half-uvs"),
                                                   &faultNamed("vertices-reordered"),
                                                   &faultNamed("axes-turned"), &faultNamed("unit-changed")};
        QCOMPARE(writeSpoilt(*heron_, folder_, several, out), std::size_t(1));
        std::set<std::string> ids;
        const ReturnedReport report = checkReturned(folder_, out);
        for (const Change& change : report.files.at(0).changes) {
            ids.insert(change.id);
        }
        QCOMPARE(ids, (std::set<std::string>{"axes-turned", "half-uvs", "unit-changed", "v-flipped",
                                             "vertices-reordered"}));
        QVERIFY(checkReturned(folder_, folder_).ok());
        QVERIFY(
            tests::says(tests::problemOf([&] { writeSpoilt(*heron_, folder_, {}, folder_); }), "own folder"));
    }
};

static const ripple::tests::SuiteOf<TestRehearsal> kSuite;
#include "test_rehearsal.moc"
