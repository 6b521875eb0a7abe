// Targets: what is written for an engine's axes, unit and V is, read back, what the source is.

#include "base/files.h"
#include "base/progress.h"
#include "base/unfinished.h"
#include "bake/joint_texels.h"
#include "bake/kind.h"
#include "bundle/axis_probe.h"
#include "bundle/check.h"
#include "bundle/read_bundle.h"
#include "bundle/score_bundle.h"
#include "bundle/target.h"
#include "bundle/test_moments.h"
#include "motion/ready_scores.h"
#include "problem_of.h"
#include "random_rig.h"
#include "source/adjusted.h"
#include "source/in_space.h"
#include "source/open.h"
#include "source/shape_source.h"
#include "suite.h"
#include "turning_pieces.h"
#include "two_clips.h"

#include <QTemporaryDir>
#include <QTest>

#include <filesystem>
#include <set>

#include <glm/geometric.hpp>
#include <glm/mat4x4.hpp>
#include <glm/matrix.hpp>

using namespace ripple;
using namespace ripple::bundle;

namespace {

constexpr std::array kUnits = {1.0, 0.01, 0.0254, 2.5};

Target targetOf(const mesh::AxisMap& axes, double metresPerUnit, bool fromBelow) {
    Target target;
    target.axes = axes;
    target.metresPerUnit = metresPerUnit;
    target.vFromBelow = target.rowsFromBelow = fromBelow;
    return target;
}

/// All that is told apart: 48 axis maps × units × V from above and below.
template <typename Try>
void forEveryTarget(const Try& attempt) {
    for (const mesh::AxisMap& axes : mesh::axisTurns()) {
        for (const double unit : kUnits) {
            for (const bool below : {false, true}) {
                attempt(targetOf(axes, unit, below));
                if (QTest::currentTestFailed()) {
                    qWarning("%s", targetText(targetOf(axes, unit, below)).c_str());
                    return;
                }
            }
        }
    }
}

bool near(const glm::vec3& a, const glm::vec3& b, double within) {
    return static_cast<double>(glm::distance(a, b)) <= within;
}

/// In double precision and by the letters alone: the target's axis c is our axis letters[c].
glm::dvec3 byLetters(const Target& target, const glm::dvec3& ours) {
    const auto letters = target.axes.letters();
    glm::dvec3 theirs(0.0);
    for (int c = 0; c < 3; ++c) {
        const std::string& letter = letters[static_cast<std::size_t>(c)];
        theirs[c] = ours[letter[1] - 'X'] * (letter[0] == '-' ? -1.0 : 1.0);
    }
    return theirs;
}

} // namespace

class TestTarget : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> folder_;

    std::filesystem::path path(const char* name) const {
        return std::filesystem::path(folder_->path().toStdString()) / name;
    }

    /// What is stored for a target is the source there, and what a reader gives is the source here.
    void roundTrips(const source::FrameSource& source, const bake::Recipe& recipe, double within,
                    const Target& target) {
        const bake::SamplePlan plan = bake::planSampling(source, recipe);
        const bake::Baked baked = bakeFor(target, source, plan, recipe);
        const bake::TextureReader reader = baked.reader(source.mesh());
        const std::size_t vertices = source.mesh().vertexCount();
        std::vector<glm::vec3> wanted(vertices);
        std::vector<glm::vec3> wantedNormals(vertices);
        std::vector<glm::vec3> got(vertices);
        std::vector<glm::vec3> gotNormals(vertices);
        for (const std::size_t frame : {std::size_t(0), plan.clips[0].seconds.size() / 2}) {
            source.sample(plan.clips[0].clip, plan.clips[0].seconds[frame], wanted, wantedNormals);
            reader.at(baked.textures.clips[0], static_cast<float>(frame), got, gotNormals);
            mesh::Bounds there;
            for (std::size_t v = 0; v < vertices; ++v) {
                QVERIFY(near(got[v], wanted[v], within));
                if (baked.textures.hasNormals()) {
                    QVERIFY(near(gotNormals[v], wantedNormals[v], 0.01));
                }
                there.add(glm::vec3(byLetters(target, glm::dvec3(wanted[v])) / target.metresPerUnit));
            }
            // Bounds are the target's: what it shows lies in them.
            const float slack = static_cast<float>((within + 1e-6) / target.metresPerUnit);
            for (int c = 0; c < 3; ++c) {
                QVERIFY(baked.bounds.min[c] <= there.min[c] + slack);
                QVERIFY(baked.bounds.max[c] >= there.max[c] - slack);
            }
        }
    }

private Q_SLOTS:
    void init() { folder_ = std::make_unique<QTemporaryDir>(); }

    void axisMapsAreTheirOwnWayBack() {
        const glm::dvec3 point(1.0, 2.0, 3.0);
        std::set<std::string> seen;
        for (mesh::AxisMap map : mesh::axisTurns()) {
            const auto letters = map.letters();
            seen.insert(letters[0] + letters[1] + letters[2]);
            QVERIFY(mesh::axesByLetters(letters) == map);
            map.unit = 4.0;
            QCOMPARE(map.back().of(map.of(point)), point);
            QCOMPARE(map.of(point), 4.0 * (map.matrix() * point));
            QCOMPARE(map.mirrors(), glm::determinant(map.matrix()) < 0.0);
            std::array<glm::vec3, 1> placed = {glm::vec3(point)};
            map.place(placed);
            QCOMPARE(glm::dvec3(placed[0]), map.of(point));
            mesh::Bounds box;
            box.add(glm::vec3(-1.0f, -2.0f, -3.0f));
            box.add(glm::vec3(4.0f, 5.0f, 6.0f));
            QVERIFY(map.back().of(map.of(box)) == box);
        }
        QCOMPARE(seen.size(), std::size_t(48));
        QVERIFY(!mesh::axesByLetters({"+X", "+X", "+Z"}));
        QVERIFY(!mesh::axesByLetters({"X", "+Y", "+Z"}));
    }

    void theMeshOfATargetFacesOutwards() {
        const tests::TwoClips source;
        for (const mesh::AxisMap& map : mesh::axisTurns()) {
            const source::InSpace there(
                std::shared_ptr<const source::FrameSource>(std::shared_ptr<const void>(), &source), map);
            const mesh::Mesh& mesh = there.mesh();
            for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
                const auto corner = [&](std::size_t k, const mesh::Mesh& of) {
                    return of.positions[of.indices[i + k]];
                };
                const glm::vec3 facing =
                    glm::cross(corner(1, mesh) - corner(0, mesh), corner(2, mesh) - corner(0, mesh));
                const mesh::Mesh& ours = source.mesh();
                const glm::vec3 before =
                    glm::cross(corner(1, ours) - corner(0, ours), corner(2, ours) - corner(0, ours));
                QVERIFY(near(facing, glm::vec3(map.turned(glm::dvec3(before))), 1e-6));
            }
        }
    }

    void everyTargetComesBackAsVertices() {
        const tests::TwoClips source;
        bake::Recipe recipe;
        recipe.fps = 4.0;
        recipe.positionStore = "unorm16";
        recipe.normalStore = "oct32";
        recipe.clips = {{source.clips()[0].name, std::nullopt, std::nullopt}};
        // A sixteenth of a millimetre: unorm16 over a few metres.
        forEveryTarget([&](const Target& target) { roundTrips(source, recipe, 1e-4, target); });
    }

    void everyTargetComesBackAsPieces() {
        const tests::TurningPieces source(3);
        bake::Recipe recipe;
        recipe.kind = &bake::kPieces;
        recipe.positionStore = "float32";
        forEveryTarget([&](const Target& target) {
            roundTrips(source, recipe, 1e-4, target);
            // Pivots are the target's too: those of one piece by another target are the same place.
            const bake::SamplePlan plan = bake::planSampling(source, recipe);
            const auto here = bakeFor({}, source, plan, recipe).textures.pivots;
            const auto there = bakeFor(target, source, plan, recipe).textures.pivots;
            QCOMPARE(here.size(), there.size());
            for (std::size_t i = 0; i < here.size(); ++i) {
                const glm::vec3 wanted(byLetters(target, glm::dvec3(here[i])) / target.metresPerUnit);
                QVERIFY(near(there[i], wanted, 1e-4 / target.metresPerUnit));
            }
        });
    }

    void everyTargetComesBackAsJoints() {
        const auto even = tests::randomRig({.joints = 5, .influences = 4, .bindApart = true, .seed = 3});
        const auto uneven =
            tests::randomRig({.joints = 5, .influences = 4, .uneven = true, .mirrored = true, .seed = 4});
        bake::Recipe recipe = bake::withKind({}, bake::kJoints);
        recipe.positionStore = "float32";
        forEveryTarget([&](const Target& target) {
            roundTrips(*even, recipe, 1e-4, target);
            roundTrips(*uneven, recipe, 1e-4, target);
        });
    }

    void tangentsAreTheTargets() {
        auto source = std::make_shared<tests::TwoClips>();
        mesh::Mesh& mesh = source->editMesh();
        for (std::size_t v = 0; v < mesh.vertexCount(); ++v) {
            mesh.tangents.push_back({1.0f, 0.0f, 0.0f, v % 2 ? 1.0f : -1.0f});
        }
        for (const mesh::AxisMap& map : mesh::axisTurns()) {
            const source::InSpace there(source, map);
            for (std::size_t v = 0; v < mesh.vertexCount(); ++v) {
                const glm::vec4 t = there.mesh().tangents[v];
                // The bitangent is carried along, whichever way the axes run.
                const glm::vec3 bitangent = t.w * glm::cross(there.mesh().normals[v], glm::vec3(t));
                const glm::vec3 before =
                    mesh.tangents[v].w * glm::cross(mesh.normals[v], glm::vec3(mesh.tangents[v]));
                QVERIFY(near(bitangent, glm::vec3(map.turned(glm::dvec3(before))), 1e-6));
            }
        }
    }

    void bundlesForTargetsPassTheirCheck() {
        const tests::TwoClips source;
        for (const Target& target : readyTargets()) {
            std::filesystem::remove_all(path("sheet"));
            bake::Recipe recipe;
            recipe.positionStore = "half";
            base::Progress progress;
            const Manifest written = writeBundle(source, recipe, {}, path("sheet"), progress, {target});
            QVERIFY(written.target == target);
            const Bundle bundle = readBundle(path("sheet"));
            QVERIFY(bundle.manifest.target == target);
            QVERIFY(bundle.manifest.doubts.empty());
            // The mesh's file is glTF whatever the target.
            for (std::size_t v = 0; v < source.mesh().vertexCount(); ++v) {
                QCOMPARE(bundle.mesh.positions[v], source.mesh().positions[v]);
            }
            const CheckReport report = check(path("sheet"), &source);
            QVERIFY2(report.ok(), report.ok() ? "" : report.problems[0].line().c_str());
            QVERIFY(report.error->all.max < 0.02); // metres, whatever the unit
            const double ratio = written.error.all.max / report.error->all.max;
            QVERIFY(ratio > 0.99 && ratio < 1.01);
            // The test file holds what a client in the engine has.
            const bake::TextureReader reader = bundle.reader();
            const TestVector test = testOf(bundle.manifest, reader, bundle.mesh.positions);
            std::vector<glm::vec3> ours(source.mesh().vertexCount());
            for (const TestMoment& moment : test.moments) {
                reader.at(bundle.manifest.textures.clips[moment.clip], static_cast<float>(moment.frame), ours,
                          {});
                for (std::size_t i = 0; i < test.vertices.size(); ++i) {
                    const glm::vec3 wanted(byLetters(target, glm::dvec3(ours[test.vertices[i]])) /
                                           target.metresPerUnit);
                    QVERIFY(near(moment.positions[i], wanted, 1e-5 / target.metresPerUnit));
                }
            }
            const bool clientIsRight = checkClient(path("sheet"), path("sheet") / testFileOf("sheet")).ok();
            QVERIFY(clientIsRight);
            // The code states the target's constants.
            const base::Bytes bytes = base::readFile(path("sheet") / "sheet.glsl");
            const std::string code(base::asText(bytes));
            const std::string switched =
                std::string("sheet_v_from_below = ") + (target.vFromBelow ? "true" : "false");
            QVERIFY(code.find(switched) != std::string::npos);
        }
    }

    void anotherSpaceThanTheTargetsIsDoubted() {
        const tests::TwoClips source;
        base::Progress progress;
        writeBundle(source, {}, {}, path("sheet"), progress, {readyTargets().back()});
        const auto file = path("sheet") / "sheet.bundle.json";
        const base::Bytes bytes = base::readFile(file);
        std::string text(base::asText(bytes));
        const std::size_t at = text.find("\"unit_metres\": 0.01", text.find("\"target\""));
        QVERIFY(at != std::string::npos);
        base::replaceFile(file, text.replace(at, 19, "\"unit_metres\": 0.02"));
        const CheckReport report = check(path("sheet"), &source);
        QVERIFY(!report.ok());
        QVERIFY(std::any_of(report.problems.begin(), report.problems.end(), [](const base::Problem& problem) {
            return problem.what.find("another convention") != std::string::npos;
        }));
    }

    void scoresForTargetsPassTheirCheck() {
        const auto source = source::openTestShape({"sheet", 2.0, 12, 12}, {});
        Origin origin;
        origin.score =
            std::make_shared<motion::Score>(motion::makeReady(motion::readyScores()[0], source->mesh()));
        for (const Target& target : readyTargets()) {
            std::filesystem::remove_all(path("reed"));
            ScoreChoices choices;
            choices.target = target;
            base::Progress progress;
            const ScoreManifest written = writeScoreBundle(*source, origin, path("reed"), choices, progress);
            const CheckReport report = check(path("reed"), source.get());
            QVERIFY2(report.ok(), report.ok() ? "" : report.problems[0].line().c_str());
            // Its test file is looked at as well.
            const auto file = path("reed") / testFileOf("reed");
            const base::Bytes bytes = base::readFile(file);
            TestVector test = parseTest(std::string(base::asText(bytes)), "reed");
            test.moments[1].positions[2].x += static_cast<float>(0.1 / target.metresPerUnit);
            base::replaceFile(file, testText(test));
            const CheckReport spoilt = check(path("reed"), nullptr);
            QString said;
            for (const base::Problem& problem : spoilt.problems) {
                said += QString::fromStdString(problem.line()) + "\n";
            }
            // A tenth of a metre, whatever the unit; the digest differs too.
            const QString vertex = QString("(vertex %1)").arg(test.vertices[2]);
            QVERIFY2(said.contains("reed.test.json: is off by up to 100") && said.contains(vertex),
                     qPrintable(said));
            const ScoreOnMesh on = scoreOnMesh(*origin.score, source->mesh(), choices);
            const glm::vec3 high =
                glm::max(glm::vec3(byLetters(target, glm::dvec3(on.bounds.every.min)) / target.metresPerUnit),
                         glm::vec3(byLetters(target, glm::dvec3(on.bounds.every.max)) / target.metresPerUnit));
            QVERIFY(near(written.bounds.max, high, 1e-5 / target.metresPerUnit));
        }
    }

    void languagesAndClockAreTheTargets() {
        const tests::TwoClips source;
        Target target;
        target.languages = {"hlsl"};
        target.bySeconds = false;
        base::Progress progress;
        writeBundle(source, {}, {}, path("sheet"), progress, {target});
        QVERIFY(!std::filesystem::exists(path("sheet") / "sheet.glsl"));
        const base::Bytes bytes = base::readFile(path("sheet") / "sheet.vertex.hlsl");
        const std::string code(base::asText(bytes));
        QVERIFY(code.find("    float turn;") != std::string::npos);
        QVERIFY(code.find("sheet_at_turn(") != std::string::npos);
        QVERIFY(check(path("sheet"), &source).ok());
    }

    void halfUvsAndWidthAreTheTargets() {
        Target target;
        target.halfUvs = true;
        target.maxWidth = 4096;
        bake::Recipe recipe;
        recipe.maxWidth = 8192;
        QCOMPARE(target.fitted(recipe).maxWidth, std::size_t(4096));
        QVERIFY(target.fitted(recipe).halfUvs);
        recipe.maxWidth = 64;
        QCOMPARE(target.fitted(recipe).maxWidth, std::size_t(64));
    }

    void texturesThatItDoesNotImportAreRefused() {
        const tests::TwoClips source;
        Target target;
        target.readsExr = false;
        base::Progress progress;
        const base::Problem problem =
            tests::problemOf([&] { writeBundle(source, {}, {}, path("sheet"), progress, {target}); });
        QVERIFY(tests::says(problem, "EXR"));
        QVERIFY(!std::filesystem::exists(path("sheet")));
        bake::Recipe recipe;
        recipe.positionStore = "unorm16";
        writeBundle(source, recipe, {}, path("sheet"), progress, {target});
    }

    void filesHoldTargets() {
        Target target = targetOf(*mesh::axesByLetters({"-Z", "+X", "+Y"}), 0.01, true);
        target.name = "our “engine”";
        target.firstUvSet = 1;
        target.clockwise = target.halfUvs = true;
        target.maxWidth = 4096;
        target.readsExr = false;
        target.languages = {"hlsl", "wgsl"};
        target.bySeconds = false;
        saveTarget(target, path("ours.target.json"));
        QVERIFY(loadTarget(path("ours.target.json")) == target);
        for (const Target& ready : readyTargets()) {
            QVERIFY(parseTargetText(targetText(ready), "it") == ready);
            QVERIFY(targetCalled(words(ready)) == ready);
        }
        QVERIFY(targetCalled(path("ours.target.json").string()) == target);
        const auto refuses = [](const char* text, const char* says) {
            return tests::says(tests::problemOf([&] { parseTargetText(text, "it"); }), says);
        };
        QVERIFY(refuses("{}", "no target"));
        QVERIFY(refuses("[", "no target"));
        const char* begin = R"({"format": "curly-ripple-target", "version": 1, )";
        QVERIFY(refuses((std::string(begin) + R"("axes": ["+X", "+X", "+Z"]})").c_str(), "axes"));
        QVERIFY(refuses((std::string(begin) + R"("unit_metres": 0})").c_str(), "unit_metres"));
        QVERIFY(refuses((std::string(begin) + R"("winding": "left"})").c_str(), "winding"));
        QVERIFY(refuses((std::string(begin) + R"("images": []})").c_str(), "images"));
        QVERIFY(refuses((std::string(begin) + R"("language": ["x"]})").c_str(), "language"));
        QVERIFY(refuses((std::string(begin) + R"("max_width": -1})").c_str(), "max_width"));
        QVERIFY(tests::says(tests::problemOf([] { targetCalled("no such"); }), "neither"));
    }

    void wordsSayWhatTheyAre() {
        QCOMPARE(words(Target{}), std::string("Y up, right-handed, metres"));
        QCOMPARE(words(targetOf(*mesh::axesByLetters({"+X", "+Z", "+Y"}), 0.01, true)),
                 std::string("Z up, left-handed, centimetres, V from below"));
        QCOMPARE(words(targetOf(*mesh::axesByLetters({"+Y", "+X", "+Z"}), 0.5, false)),
                 std::string("X up, left-handed, units of 0.5 m"));
    }

    void arrowsFindTheTarget() {
        forEveryTarget([](const Target& engine) {
            // What a person sees there of the probe's arrows, which the importer has converted.
            std::array<std::string, 3> seen;
            for (int arrow = 0; arrow < 3; ++arrow) {
                glm::dvec3 ours(0.0);
                ours[arrow] = 1.0;
                const glm::dvec3 there = byLetters(engine, ours);
                for (int c = 0; c < 3; ++c) {
                    if (there[c] != 0.0) {
                        seen[static_cast<std::size_t>(arrow)] =
                            std::string(there[c] < 0.0 ? "-" : "+") + "XYZ"[c];
                    }
                }
            }
            const Target found = targetByArrows(seen, 1.0 / engine.metresPerUnit);
            QVERIFY(found.axes == engine.axes);
            QVERIFY(std::abs(found.metresPerUnit - engine.metresPerUnit) < 1e-12);
        });
        QVERIFY(tests::says(tests::problemOf([] { targetByArrows({"+X", "+X", "+Z"}, 1.0); }), "once each"));
        QVERIFY(tests::says(tests::problemOf([] { targetByArrows({"+X", "+Y", "+Z"}, 0.0); }), "length"));
    }

    void theProbeGrowsAlongItsArrows() {
        const auto probe = axisProbe();
        const mesh::Mesh& mesh = probe->mesh();
        std::vector<glm::vec3> posed(mesh.vertexCount());
        for (int arrow = 0; arrow < 3; ++arrow) {
            probe->sample(0, arrow + 0.5, posed, {});
            glm::vec3 along(0.0f);
            along[arrow] = 1.0f;
            float most = 0.0f;
            for (std::size_t v = 0; v < posed.size(); ++v) {
                const glm::vec3 moved = posed[v] - mesh.positions[v];
                QVERIFY(near(moved, glm::dot(moved, along) * along, 1e-6));
                most = std::max(most, glm::dot(moved, along));
            }
            QVERIFY(std::abs(most - 0.25f) < 1e-5f);
        }
        // Solids that are closed and face outwards: their faces add up to nothing, and enclose a volume.
        glm::dvec3 sum(0.0);
        double volume = 0.0;
        for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
            const glm::dvec3 a(mesh.positions[mesh.indices[i]]);
            const glm::dvec3 b(mesh.positions[mesh.indices[i + 1]]);
            const glm::dvec3 c(mesh.positions[mesh.indices[i + 2]]);
            sum += glm::cross(b - a, c - a);
            volume += glm::dot(a, glm::cross(b, c)) / 6.0;
        }
        QVERIFY(glm::length(sum) < 1e-6);
        QVERIFY(volume > 0.003 && volume < 0.02); // cubic metres: three shafts, heads and letters
        base::Progress progress;
        writeAxisProbe(path("probe"), readyTargets().back(), progress);
        const CheckReport report = check(path("probe"), probe.get());
        QVERIFY2(report.ok(), report.ok() ? "" : report.problems[0].line().c_str());
        std::error_code error;
        QVERIFY(std::filesystem::file_size(path("probe") / "probe.glb", error) > 1000);
    }
};

static const ripple::tests::SuiteOf<TestTarget> kSuite;
#include "test_target.moc"
