// Scores as code: what mistakes at import do to them, and what check says of a mesh that came back.

#include "base/progress.h"
#include "base/srgb.h"
#include "bundle/imported_mesh.h"
#include "bundle/rehearsal.h"
#include "bundle/returned.h"
#include "bundle/score_bundle.h"
#include "faults_named.h"
#include "rich_sheet.h"
#include "source/open.h"
#include "suite.h"
#include "voices.h"

#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <functional>

#include <glm/geometric.hpp>
#include <nlohmann/json.hpp>

using namespace ripple;
using namespace ripple::bundle;

class TestScoreFaults : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;
    std::filesystem::path folder_;
    std::optional<ScoreBundle> sheet_;

    Rehearsed with(std::initializer_list<const char*> ids) const {
        return rehearse(staged(*sheet_), tests::faultsNamed(ids));
    }
    bool isIdle(const char* id) const { return with({id}).idle.size() == 1; }

    /// What the score makes of a mesh whose inputs are others: the largest distance from what is right.
    double apart(const std::function<void(mesh::Mesh&)>& change) const {
        mesh::Mesh changed = sheet_->mesh;
        change(changed);
        const ScoreReader right(sheet_->mesh, sheet_->manifest.inputs, sheet_->composition);
        const ScoreReader wrong(changed, sheet_->manifest.inputs, sheet_->composition);
        std::vector<glm::vec3> a(changed.vertexCount()), b(changed.vertexCount());
        double most = 0.0;
        for (int i = 0; i < 25; ++i) {
            right.pose(i / 25.0, a, {});
            wrong.pose(i / 25.0, b, {});
            for (std::size_t v = 0; v < a.size(); ++v) {
                most = std::max(most, static_cast<double>(glm::distance(a[v], b[v])));
            }
        }
        return most;
    }
    /// The report on the bundle's mesh after this.
    ReturnedFile said(const std::function<void(mesh::Mesh&)>& change) const {
        mesh::Mesh given = sheet_->mesh;
        change(given);
        return changesOfScoreMesh(*sheet_, given);
    }
    static std::string idsOf(const ReturnedFile& file) {
        std::string ids;
        for (const Change& change : file.changes) {
            ids += (ids.empty() ? "" : " ") + change.id;
        }
        return ids;
    }
    static void forEachColour(mesh::Mesh& mesh, const std::function<float(float)>& of) {
        for (glm::vec4& colour : mesh.colours) {
            colour = {of(colour.r), of(colour.g), of(colour.b), colour.a};
        }
    }

private Q_SLOTS:
    void initTestCase() {
        folder_ = std::filesystem::path(dir_.path().toStdString()) / "sheet";
        mesh::Mesh mesh = tests::richSheet();
        for (std::size_t v = 0; v < mesh.vertexCount(); ++v) {
            mesh.normals[v] = glm::normalize(glm::vec3(0.6f * mesh.positions[v].x, 1.0f, 0.0f));
        }
        const auto source = tests::still(mesh);
        // Along UVs, held by colours; held by a stored value; along the normal.
        std::vector<motion::Voice> voices = {tests::voiceOf(0, 0, 3, 4), tests::voiceOf(1, 2, 4, 5)};
        voices[0].course.uvSet = 0;
        voices[0].course.uvAxis = 1;
        Origin origin;
        origin.score = std::make_shared<motion::Score>(tests::scoreOf(voices));
        base::Progress progress;
        writeScoreBundle(*source, origin, folder_, {}, progress);
        sheet_ = readScoreBundle(folder_);
    }

    void noFaultChangesNothing() {
        const Rehearsed none = with({});
        QCOMPARE(none.metres, 0.0);
        QCOMPARE(none.degrees, 0.0);
        QVERIFY(none.idle.empty());
    }
    void whatScoresDoNotHaveIsIdle() {
        for (const char* id :
             {"rows-flipped", "columns-flipped", "half-size", "block-compressed", "first-frame-missing",
              "last-frame-missing", "range-unset", "frame-count-short", "clamped-end", "texel-edges",
              "linear-filter", "pivots-lost", "vertices-split", "vertices-reordered"}) {
            QVERIFY2(isIdle(id), id);
            QCOMPARE(with({id}).metres, 0.0);
        }
    }
    void coloursAreInputs() {
        const auto near = [](double a, double b) { return a > 1e-4 && std::abs(a - b) < 1e-6; };
        QVERIFY(near(with({"srgb-applied"}).metres, apart([](mesh::Mesh& mesh) {
                         forEachColour(mesh, [](float c) { return base::toSrgb(c); });
                     })));
        QVERIFY(near(with({"srgb-removed"}).metres, apart([](mesh::Mesh& mesh) {
                         forEachColour(mesh, [](float c) { return base::fromSrgb(c); });
                     })));
        const double eight = with({"eight-bits"}).metres;
        QVERIFY(eight > 0.0 && eight < 0.1 * with({"srgb-applied"}).metres);
        QVERIFY(std::abs(with({"channels-swapped"}).metres - apart([](mesh::Mesh& mesh) {
                             for (glm::vec4& colour : mesh.colours) {
                                 std::swap(colour.r, colour.b);
                             }
                         })) < 1e-6);
        QCOMPARE(with({"premultiplied"}).metres, 0.0); // alpha is 1 everywhere
    }
    void uvSetsAreInputs() {
        const auto turned = [](mesh::Mesh& mesh) {
            for (std::vector<glm::vec2>& set : mesh.uvSets) {
                for (glm::vec2& uv : set) {
                    uv.y = 1.0f - uv.y;
                }
            }
        };
        QVERIFY(std::abs(with({"v-flipped"}).metres - apart(turned)) < 1e-6);
        QVERIFY(with({"v-flipped"}).metres > 1e-3);
        QVERIFY(with({"other-uv-set"}).metres > 1e-3);
        const double half = with({"half-uvs"}).metres; // 11 bits of values that reach a metre
        QVERIFY(half < 2e-3 && half < 0.1 * with({"v-flipped"}).metres);
    }
    void readersOfScoresCanBeWrong() {
        // What is added stays as it was while the object is turned a quarter: off by √2 of its flat part.
        const ScoreReader reader(sheet_->mesh, sheet_->manifest.inputs, sheet_->composition);
        std::vector<glm::vec3> p(sheet_->mesh.vertexCount());
        double flat = 0.0;
        mesh::Bounds rest;
        rest.add(sheet_->mesh.positions);
        double over = 0.0;
        for (int i = 0; i < 25; ++i) {
            reader.pose(i / 25.0, p, {});
            for (std::size_t v = 0; v < p.size(); ++v) {
                const glm::vec3 moved = p[v] - sheet_->mesh.positions[v];
                flat = std::max(flat, std::hypot(static_cast<double>(moved.x), static_cast<double>(moved.z)));
                const glm::vec3 outside = glm::max(glm::max(rest.min - p[v], p[v] - rest.max), 0.0f);
                over = std::max(over, static_cast<double>(glm::length(outside)));
            }
        }
        QVERIFY(flat > 0.01 && over > 0.01);
        QVERIFY(std::abs(with({"rotation-ignored"}).metres - std::sqrt(2.0) * flat) < 1e-4);
        const Rehearsed bounds = with({"rest-bounds"});
        QCOMPARE(bounds.metres, 0.0);
        QVERIFY(std::abs(bounds.overhang - over) < 1e-6);
        // Ten hours in single precision: up to 1/512 s late or early.
        const double late = with({"long-uptime"}).metres;
        QVERIFY(late > 1e-6 && late < 0.1 * over + 0.01);
        // A sheet that was turned up is pushed along axes of its own: neither right nor nothing.
        QVERIFY(with({"axes-turned"}).metres > 1e-3);
        QVERIFY(with({"unit-changed"}).metres > 1e-3);
        QVERIFY(isIdle("tangent-space")); // it has no tangents
    }
    void theCommandRehearsesScores() {
        QProcess command;
        command.start(RIPPLE_COMMAND, {"rehearse", QString::fromStdString(folder_.string()), "--json"});
        QVERIFY(command.waitForFinished(60000));
        QCOMPARE(command.exitCode(), 0);
        const auto said = nlohmann::json::parse(command.readAllStandardOutput().toStdString());
        QCOMPARE(said["rehearsals"].size(), faults().size());
        for (const auto& one : said["rehearsals"]) {
            const std::string id = one["faults"][0];
            QCOMPARE(one["position_max_m"].get<double>(), with({id.c_str()}).metres);
        }
        command.start(RIPPLE_COMMAND, {"rehearse", QString::fromStdString(folder_.string()), "--fault",
                                       "srgb-applied", "--out", dir_.filePath("spoilt")});
        QVERIFY(command.waitForFinished(60000));
        QCOMPARE(command.exitCode(), 0);
        QVERIFY(command.readAllStandardOutput().contains("1 spoilt file"));
        command.start(RIPPLE_COMMAND, {"check", QString::fromStdString(folder_.string()), "--returned",
                                       dir_.filePath("spoilt")});
        QVERIFY(command.waitForFinished(60000));
        QCOMPARE(command.exitCode(), 1);
        QVERIFY(command.readAllStandardOutput().contains("vertex colours: values were saved as sRGB"));
    }
    /// Whatever a fault does to the mesh, check names it, with what it costs.
    void checkNamesWhatWasDone() {
        for (const Fault& fault : faults()) {
            const std::filesystem::path out = folder_.parent_path() / fault.id;
            const std::vector<const Fault*> chosen = {&fault};
            const std::size_t files = writeSpoilt(*sheet_, folder_, chosen, out);
            QCOMPARE(files, std::size_t(changesMesh(fault) ? 1 : 0));
            // Alpha is 1, and no two vertices lie in one place.
            const std::string id = fault.id;
            if (files == 0 || id == "premultiplied" || id == "vertices-welded") {
                continue;
            }
            const ReturnedReport report = checkReturned(folder_, out);
            QCOMPARE(report.files.size(), std::size_t(1));
            const auto& changes = report.files[0].changes;
            const auto named = std::ranges::find(changes, id, &Change::id);
            QVERIFY2(named != changes.end(), (id + ": " + idsOf(report.files[0])).c_str());
            const bool counted = fault.bytes || id == "v-flipped" || id == "half-uvs" || id == "normals-new";
            QVERIFY2(!counted || std::abs(*named->metres - with({fault.id}).metres) < 2e-6, fault.id);
        }
    }

    void whatCameBackWholeIsSaidToBe() {
        const ReturnedReport same = checkReturned(folder_, folder_);
        QVERIFY(same.ok());
        QCOMPARE(same.files.size(), std::size_t(1));
        QCOMPARE(same.files[0].file, std::string("sheet.glb"));
        QCOMPARE(same.files[0].metres, 0.0);
    }
    void changesOfInputsAreNamedWithTheirCost() {
        const auto turned = [](mesh::Mesh& mesh) {
            for (std::vector<glm::vec2>& set : mesh.uvSets) {
                for (glm::vec2& uv : set) {
                    uv.y = 1.0f - uv.y;
                }
            }
        };
        const auto encoded = [](mesh::Mesh& mesh) {
            forEachColour(mesh, [](float c) { return base::toSrgb(c); });
        };
        const auto rounded = [](mesh::Mesh& mesh) {
            forEachColour(mesh, [](float c) { return std::round(c * 255.0f) / 255.0f; });
        };
        const ReturnedFile flipped = said(turned);
        QVERIFY2(idsOf(flipped) == "v-flipped", idsOf(flipped).c_str());
        QVERIFY(std::abs(flipped.metres - apart(turned)) < 1e-6 && flipped.metres > 1e-3);
        QCOMPARE(idsOf(said(encoded)), std::string("srgb-applied"));
        QVERIFY(std::abs(said(encoded).metres - apart(encoded)) < 1e-6);
        QCOMPARE(idsOf(said(rounded)), std::string("eight-bits"));
        const ReturnedFile several = said([&](mesh::Mesh& mesh) {
            encoded(mesh);
            rounded(mesh);
            turned(mesh);
        });
        QCOMPARE(idsOf(several), std::string("v-flipped srgb-applied eight-bits"));
        // Each alone, and together.
        QVERIFY(std::abs(*several.changes[0].metres - flipped.metres) < 1e-6);
        QVERIFY(std::abs(*several.changes[1].metres - said(encoded).metres) < 1e-6);
        QVERIFY(std::abs(several.metres - apart([&](mesh::Mesh& mesh) {
                             encoded(mesh);
                             rounded(mesh);
                             turned(mesh);
                         })) < 1e-6 ||
                several.metres == *several.changes[0].metres);
    }
    void severalAtOnceAreNamed() {
        const auto rebuilt = [&](std::initializer_list<const char*> ids) {
            return idsOf(changesOfScoreMesh(*sheet_, rebuiltMesh(sheet_->mesh, 0, tests::faultsNamed(ids))));
        };
        QCOMPARE(rebuilt({"v-flipped", "half-uvs"}), std::string("v-flipped half-uvs"));
        QCOMPARE(rebuilt({"srgb-applied", "channels-swapped"}), std::string("srgb-applied channels-swapped"));
        QCOMPARE(rebuilt({"srgb-removed", "channels-swapped", "eight-bits", "half-uvs", "unit-changed"}),
                 std::string("unit-changed half-uvs srgb-removed channels-swapped eight-bits"));
    }
    void whatIsGoneIsNamed() {
        QCOMPARE(idsOf(said([](mesh::Mesh& mesh) { mesh.colours.clear(); })), std::string("colours-missing"));
        const ReturnedFile gone = said([](mesh::Mesh& mesh) { mesh.uvSets.resize(1); });
        QCOMPARE(idsOf(gone), std::string("uv-set-missing"));
        QVERIFY(gone.changes[0].what.find("1") != std::string::npos);
        QVERIFY(!gone.changes[0].metres); // the code can't run at all
        QCOMPARE(idsOf(said([](mesh::Mesh& mesh) { forEachColour(mesh, [](float c) { return 1.0f - c; }); })),
                 std::string("colours-changed"));
        QCOMPARE(idsOf(said([](mesh::Mesh& mesh) {
                     for (glm::vec2& uv : mesh.uvSets.back()) {
                         uv *= 0.5f;
                     }
                 })),
                 std::string("uvs-changed"));
    }
    /// Of a box three vertices lie in each corner, told apart by their normals alone.
    void hardEdgesAreFoundAgain() {
        const auto box = source::open(MODELS_FOLDER "/glTF2/BoxTextured-glTF-Binary/BoxTextured.glb");
        Origin origin;
        origin.score = std::make_shared<motion::Score>(tests::scoreOf({tests::voiceOf(0, 2, 1, -1)}));
        const std::filesystem::path folder = folder_.parent_path() / "box";
        base::Progress progress;
        writeScoreBundle(*box, origin, folder, {}, progress);
        const ScoreBundle bundle = readScoreBundle(folder);
        const auto idsAfter = [&](std::initializer_list<const char*> ids) {
            return idsOf(changesOfScoreMesh(bundle, rebuiltMesh(bundle.mesh, 0, tests::faultsNamed(ids))));
        };
        QCOMPARE(idsAfter({"vertices-split"}), std::string("vertices-split"));
        QCOMPARE(idsAfter({"vertices-welded"}), std::string("vertices-welded"));
        QCOMPARE(idsAfter({"unit-changed"}), std::string("unit-changed"));
        QCOMPARE(idsAfter({"normals-new"}), std::string()); // each corner's own are what they are made to
    }
    void placesAndNormalsAreCompared() {
        const auto turn = [](const glm::vec3& p) { return glm::vec3(p.x, -p.z, p.y); };
        const ReturnedFile turned = said([&](mesh::Mesh& mesh) {
            for (std::size_t v = 0; v < mesh.vertexCount(); ++v) {
                mesh.positions[v] = 100.0f * turn(mesh.positions[v]);
                mesh.normals[v] = turn(mesh.normals[v]);
            }
        });
        QVERIFY2(idsOf(turned) == "axes-turned unit-changed", idsOf(turned).c_str());
        const auto up = [](mesh::Mesh& mesh) {
            for (glm::vec3& n : mesh.normals) {
                n = glm::normalize(n + glm::vec3(0.5f, 0.0f, 0.0f));
            }
        };
        const ReturnedFile lit = said(up);
        QCOMPARE(idsOf(lit), std::string("normals-new"));
        QVERIFY(lit.degrees > 20.0);
        QVERIFY(std::abs(lit.metres - apart(up)) < 1e-6 && lit.metres > 1e-3); // it is pushed along them
        QCOMPARE(idsOf(said([](mesh::Mesh& mesh) {
                     for (glm::vec3& p : mesh.positions) {
                         p.x *= 1.3f;
                     }
                 })),
                 std::string("unknown"));
    }
};

static const ripple::tests::SuiteOf<TestScoreFaults> kSuite;
#include "test_score_faults.moc"
