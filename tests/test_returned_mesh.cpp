// What a mesh went through on its way through an engine, beside what the bundle's target says that it does.

#include "bundle/read_bundle.h"
#include "bundle/returned.h"
#include "bundle/write_bundle.h"
#include "motion/ready_scores.h"
#include "bundle/score_bundle.h"
#include "base/progress.h"
#include "bake/kind.h"
#include "source/gltf_write.h"
#include "source/open.h"
#include "suite.h"
#include "turning_pieces.h"

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <functional>
#include <set>

#include <Imath/half.h>

using namespace ripple;
using namespace ripple::bundle;

class TestReturnedMesh : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;
    std::shared_ptr<const source::FrameSource> crab_ =
        source::open(std::filesystem::path(DEMO_FOLDER) / "crab.glb");

    using Ids = std::multiset<std::string>;
    using Spoil = std::function<void(mesh::Mesh&)>;

    std::filesystem::path at(const std::string& name) const {
        return std::filesystem::path(dir_.path().toStdString()) / name;
    }
    std::filesystem::path baked(const Target& target, bake::Recipe recipe = {}) const {
        const std::filesystem::path folder = at("asset");
        base::Progress progress;
        std::filesystem::remove_all(folder);
        writeBundle(*crab_, recipe, {}, folder, progress, {.target = target});
        return folder;
    }
    /// What is said of the bundle's mesh after that was done to it.
    static ReturnedFile said(const std::filesystem::path& folder, const std::filesystem::path& back,
                             const mesh::Mesh& own, const Spoil& spoil) {
        mesh::Mesh mesh = own;
        spoil(mesh);
        std::filesystem::create_directories(back);
        base::writeFile(back / "asset.glb",
                        source::glbBytes(source::gltfModel(mesh, "asset", {}), "asset.glb"));
        return checkReturned(folder, back).files.at(0);
    }
    ReturnedFile said(const Target& target, const Spoil& spoil, const bake::Recipe& recipe = {}) const {
        const std::filesystem::path folder = baked(target, recipe);
        return said(folder, at("back"), readBundle(folder).mesh, spoil);
    }
    static Ids idsOf(const ReturnedFile& file) {
        Ids ids;
        for (const Change& change : file.changes) {
            ids.insert(change.id);
        }
        return ids;
    }
    static void turnV(mesh::Mesh& mesh) {
        for (auto& set : mesh.uvSets) {
            for (glm::vec2& uv : set) {
                uv.y = 1.0f - uv.y;
            }
        }
    }
    static void bring(mesh::Mesh& mesh, const mesh::AxisMap& map) {
        map.place(mesh.positions);
        map.turn(mesh.normals);
    }
    static void turnWinding(mesh::Mesh& mesh) {
        for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
            std::swap(mesh.indices[i + 1], mesh.indices[i + 2]);
        }
    }
    static std::vector<Target> targets() {
        std::vector<Target> all = readyTargets();
        Target inches; // an axis order and a unit that no list has
        inches.axes = *mesh::axesByLetters({"-Z", "+X", "-Y"});
        inches.metresPerUnit = 0.31;
        inches.vFromBelow = true;
        inches.clockwise = true;
        all.push_back(inches);
        return all;
    }

private Q_SLOTS:
    /// As the file has it, and as the target makes it: both are as it was written.
    void whatTheTargetDoesIsNoChange() {
        for (const Target& target : targets()) {
            QCOMPARE(idsOf(said(target, [](mesh::Mesh&) {})), Ids{});
            const ReturnedFile file = said(target, [&](mesh::Mesh& mesh) {
                bring(mesh, target.space());
                if (target.vFromBelow) {
                    turnV(mesh);
                }
                if (target.clockwise) {
                    turnWinding(mesh);
                }
            });
            QVERIFY2(idsOf(file).empty(), file.changes.empty() ? "" : file.changes[0].what.c_str());
            QCOMPARE(file.metres, 0.0);
        }
    }
    /// Of a score's bundle, too, whose sets hold what the code reads.
    void neitherIsItOfAScore() {
        for (const Target& target : targets()) {
            const std::filesystem::path folder = at("score/asset");
            std::filesystem::remove_all(folder);
            std::filesystem::create_directories(folder.parent_path());
            Origin origin;
            origin.score = std::make_shared<motion::Score>(
                motion::makeReady(motion::readyScores().front(), crab_->mesh()));
            ScoreChoices choices;
            choices.target = target;
            choices.storeMasks = true;
            base::Progress progress;
            writeScoreBundle(*crab_, origin, folder, choices, progress);
            const ScoreBundle bundle = readScoreBundle(folder);
            const auto turned = [&](bool v) {
                return idsOf(said(folder, at("scoreback"), bundle.mesh, [&](mesh::Mesh& mesh) {
                    bring(mesh, target.space());
                    if (v) {
                        turnV(mesh);
                    }
                }));
            };
            const bool reads = std::ranges::any_of(bundle.manifest.inputs, [](const PlacedInput& input) {
                return std::ranges::any_of(
                    input.from, [](const std::string& from) { return from.starts_with("TEXCOORD"); });
            });
            QCOMPARE(turned(target.vFromBelow), Ids{});
            QCOMPARE(turned(true), reads && !target.vFromBelow ? Ids{"v-flipped"} : Ids{});
        }
    }
    /// What is more than the target does is said against the target.
    void whatIsMoreIsSaidOfTheTarget() {
        Target target;
        target.axes = *mesh::axesByLetters({"+X", "-Z", "+Y"});
        target.metresPerUnit = 0.01;
        QCOMPARE(idsOf(said(target, [&](mesh::Mesh& mesh) { bring(mesh, target.axes); })),
                 Ids{"unit-changed"});
        const ReturnedFile sideways = said(target, [&](mesh::Mesh& mesh) {
            bring(mesh, target.space());
            bring(mesh, *mesh::axesByLetters({"+Y", "-X", "+Z"}));
        });
        QCOMPARE(idsOf(sideways), Ids{"axes-turned"});
        QVERIFY(QString::fromStdString(sideways.changes[0].what)
                    .contains("its X is +Y, its Y is -X, its Z is +Z"));
        // A quarter turn about the vertical carries a vertex √2 times as far as it is from the axis; in
        // metres.
        double wanted = 0.0;
        for (const glm::vec3& p : crab_->mesh().positions) {
            wanted = std::max(wanted, std::sqrt(2.0) * std::hypot(double{p.x}, double{p.z}));
        }
        QVERIFY(std::abs(sideways.metres - wanted) < 1e-6 * wanted || sideways.changes[0].metres);
        QVERIFY(std::abs(*sideways.changes[0].metres - wanted) < 1e-5);
        target.vFromBelow = true;
        QCOMPARE(idsOf(said(target, turnV)), Ids{});
        target.vFromBelow = false;
        QCOMPARE(idsOf(said(target, turnV)), Ids{"v-flipped"});
    }
    void trianglesAreCompared() {
        const Target target;
        QCOMPARE(idsOf(said(target, turnWinding)), Ids{"winding-turned"});
        const ReturnedFile lessened = said(target, [](mesh::Mesh& mesh) {
            mesh.indices.resize(mesh.indices.size() / 2 / 3 * 3);
            mesh.parts[0].indexCount = mesh.indices.size();
        });
        QCOMPARE(idsOf(lessened), Ids{"triangles-missing"});
        const std::size_t all = crab_->mesh().triangleCount();
        QCOMPARE(lessened.changes[0].what,
                 std::to_string(all - all / 2) + " triangles of " + std::to_string(all) + " are missing");
        QCOMPARE(idsOf(said(target,
                            [](mesh::Mesh& mesh) {
                                for (int i = 0; i < 3; ++i) {
                                    mesh.indices.push_back(mesh.indices[static_cast<std::size_t>(i)]);
                                }
                                mesh.parts[0].indexCount += 3;
                            })),
                 Ids{"triangles-doubled"});
        QCOMPARE(idsOf(said(target,
                            [](mesh::Mesh& mesh) {
                                std::swap_ranges(mesh.indices.begin(), mesh.indices.begin() + 3,
                                                 mesh.indices.end() - 3);
                            })),
                 Ids{"triangles-reordered"});
        QCOMPARE(idsOf(said(target,
                            [](mesh::Mesh& mesh) { // the same corners from another one on
                                std::rotate(mesh.indices.begin(), mesh.indices.begin() + 1,
                                            mesh.indices.begin() + 3);
                            })),
                 Ids{});
        const ReturnedFile other = said(target, [](mesh::Mesh& mesh) {
            const auto last = static_cast<std::uint32_t>(mesh.vertexCount() - 1);
            mesh.indices[0] = mesh.indices[1] == last || mesh.indices[2] == last ? last / 2 : last;
        });
        QCOMPARE(idsOf(other), (Ids{"triangles-missing", "triangles-new"}));
    }
    /// Of joints the code may read influences in sets of their own.
    void setsWithInfluencesAreCompared() {
        bake::Recipe recipe;
        recipe.kind = &bake::kJoints;
        recipe.influencesInUvs = true;
        const std::filesystem::path folder = baked({}, recipe);
        const Bundle bundle = readBundle(folder);
        const std::size_t first = bundle.manifest.textures.pivotUvSet;
        const auto changes = [&](const Spoil& spoil) {
            return idsOf(said(folder, at("back"), bundle.mesh, spoil));
        };
        QCOMPARE(changes([](mesh::Mesh&) {}), Ids{});
        QCOMPARE(changes([&](mesh::Mesh& mesh) { mesh.uvSets.resize(first); }), Ids{"uv-set-missing"});
        QCOMPARE(changes([&](mesh::Mesh& mesh) { mesh.uvSets[first + 1][3].y += 1.0f; }), Ids{"uvs-changed"});
    }
    /// A target that keeps half floats hits its columns so; what else lies in UV sets suffers, and is said.
    void halfUvsOfTheTarget() {
        Target target;
        target.halfUvs = true;
        const Spoil halved = [](mesh::Mesh& mesh) {
            for (auto& set : mesh.uvSets) {
                for (glm::vec2& uv : set) {
                    uv = {Imath::half(uv.x), Imath::half(uv.y)};
                }
            }
        };
        QCOMPARE(idsOf(said(target, halved)), Ids{});
        QCOMPARE(idsOf(said({}, halved)), Ids{"half-uvs"});
        bake::Recipe recipe;
        recipe.kind = &bake::kPieces;
        const std::filesystem::path folder = at("pieces/asset");
        std::filesystem::create_directories(folder.parent_path());
        base::Progress progress;
        writeBundle(tests::TurningPieces(3), recipe, {}, folder, progress, {.target = target});
        QCOMPARE(idsOf(said(folder, at("back"), readBundle(folder).mesh, halved)), Ids{"half-uvs"});
    }
    /// A format with one UV set: the lookup is what is left, at vertices in another order.
    void theLookupIsFoundInAnotherSet() {
        const ReturnedFile file = said({}, [](mesh::Mesh& mesh) {
            mesh.uvSets.erase(mesh.uvSets.begin());
            std::ranges::reverse(mesh.positions);
            std::ranges::reverse(mesh.normals);
            std::ranges::reverse(mesh.uvSets[0]);
            const auto last = static_cast<std::uint32_t>(mesh.vertexCount() - 1);
            for (std::uint32_t& i : mesh.indices) {
                i = last - i;
            }
        });
        QCOMPARE(idsOf(file), (Ids{"other-uv-set", "vertices-reordered"}));
    }
    void aFolderThatIsNotThereIsNamed() {
        const ReturnedReport report = checkReturned(baked({}), at("nowhere"));
        QCOMPARE(report.problems.size(), std::size_t(1));
        QCOMPARE(report.problems[0].what, std::string("is no folder"));
    }
};

static const ripple::tests::SuiteOf<TestReturnedMesh> kSuite;
#include "test_returned_mesh.moc"
