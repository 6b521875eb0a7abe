// Whole scores: the ready-made ones on the demo's models, files, loop lengths, sources of frames, density,
// strain.

#include "bake/bake.h"
#include "bake/error.h"
#include "bake/texture_reader.h"
#include "mesh/bounds.h"
#include "mesh/test_shapes.h"
#include "motion/loop_bounds.h"
#include "motion/parameter.h"
#include "motion/folds.h"
#include "motion/density.h"
#include "motion/fit.h"
#include "motion/ready_scores.h"
#include "motion/score_file.h"
#include "motion/score_source.h"
#include "problem_of.h"
#include "source/open.h"
#include "source/shape_source.h"
#include "suite.h"
#include "voices.h"

#include <QFile>
#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <map>
#include <optional>
#include <set>

#include <glm/vector_relational.hpp>

using namespace ripple;
using namespace ripple::motion;
using tests::scoreOf;
using tests::voiceOf;

namespace {

std::shared_ptr<const source::FrameSource> demoModel(const std::string& name) {
    const std::filesystem::path folder = DEMO_FOLDER;
    return source::open(folder / (name == "awning" ? "awning_####.obj" : name + ".glb"));
}

const ReadyScore& ready(const std::string& id) {
    for (const ReadyScore& row : readyScores()) {
        if (row.id == id) {
            return row;
        }
    }
    qFatal("no ready-made score %s", id.c_str());
}

mesh::Mesh shapeOf(const char* kind, std::size_t across = 16) {
    mesh::TestShape shape;
    shape.kind = kind;
    shape.across = shape.along = across;
    return mesh::makeTestShape(shape);
}

/// Poses of a whole loop.
std::vector<std::vector<glm::vec3>> loopOf(const Performance& performance, int steps) {
    std::vector<std::vector<glm::vec3>> poses;
    for (int i = 0; i < steps; ++i) {
        poses.emplace_back(performance.vertexCount());
        performance.pose(static_cast<double>(i) / steps, {}, poses.back(), {});
    }
    return poses;
}

} // namespace

class TestScores : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void readyScoresMoveTheirModels_data() {
        QTest::addColumn<QString>("id");
        for (const ReadyScore& row : readyScores()) {
            QTest::addRow("%s", row.id) << row.id;
        }
    }
    void readyScoresMoveTheirModels() {
        QFETCH(QString, id);
        const ReadyScore& row = ready(id.toStdString());
        QVERIFY(std::string(row.words).size() > 30);
        const auto source = demoModel(row.demoModel);
        const Score score = makeReady(row, source->mesh());
        QCOMPARE(score.name, std::string(row.name));
        const Performance performance(score, source->mesh());
        const auto poses = loopOf(performance, 48);
        // Something moves by a few percent of the size, nothing flies away, and steps are even: no step is
        // larger than a quarter of the way across the model.
        const auto size = static_cast<float>(performance.model().size);
        float most = 0.0f;
        float step = 0.0f;
        float seam = 0.0f;
        float still = size;
        std::vector<float> own(performance.vertexCount(), 0.0f);
        for (std::size_t i = 0; i < poses.size(); ++i) {
            const auto& next = poses[(i + 1) % poses.size()];
            for (std::size_t v = 0; v < own.size(); ++v) {
                own[v] = std::max(own[v], glm::distance(poses[i][v], source->mesh().positions[v]));
                const float way = glm::distance(poses[i][v], next[v]);
                (i + 1 == poses.size() ? seam : step) = std::max(i + 1 == poses.size() ? seam : step, way);
            }
        }
        for (const float way : own) {
            most = std::max(most, way);
            still = std::min(still, way);
        }
        QVERIFY2(most > 0.012f * size && most < 0.5f * size, qPrintable(QString::number(most / size)));
        QVERIFY2(step < 0.25f * size, qPrintable(QString::number(step / size)));
        QVERIFY2(seam <= 1.05f * step, "the seam is a step like the others");
        if (id != "calm" && id != "choppy" && id != "side" && id != "wings" && id != "beat") {
            QVERIFY2(still < 0.004f * size,
                     qPrintable(QString::number(still / size))); // something holds still
        }
        QVERIFY(!boundsOfLoop(performance).every.empty());
    }
    void readyScoresFitAnyModel() {
        for (const ReadyScore& row : readyScores()) {
            for (const char* kind : {"sheet", "dome", "rod"}) {
                const mesh::Mesh mesh = shapeOf(kind);
                const Performance performance(makeReady(row, mesh), mesh);
                const auto poses = loopOf(performance, 8);
                for (int i = 0; i < 8; ++i) {
                    QVERIFY2(!findStray(i / 8.0, poses[static_cast<std::size_t>(i)], {}), row.id);
                }
            }
        }
    }
    void waterTilesMeetWithoutASeam() {
        for (const char* id : {"calm", "choppy"}) {
            const auto source = demoModel("swell");
            const Performance performance(makeReady(ready(id), source->mesh()), source->mesh());
            std::vector<glm::vec3> posed(performance.vertexCount());
            performance.pose(0.37, {}, posed, {});
            constexpr std::size_t kWide = 97;
            for (std::size_t r = 0; r < kWide; ++r) {
                const glm::vec3 across = posed[r * kWide + kWide - 1] - posed[r * kWide];
                const glm::vec3 down = posed[(kWide - 1) * kWide + r] - posed[r];
                QVERIFY2(glm::distance(across, glm::vec3(8, 0, 0)) < 1e-4f, id);
                QVERIFY2(glm::distance(down, glm::vec3(0, 0, 8)) < 1e-4f, id);
            }
        }
    }
    void stemsKeepTheirLengths() {
        // All stems bend about one line through the clump's foot, which keeps its length; a stem beside it is
        // bent more or less tightly, and so shorter or longer by its distance times the angle.
        const auto source = demoModel("bulrush");
        Score score = makeReady(ready("stalk"), source->mesh());
        score.voices.pop_back(); // the tremble shears, by millimetres
        const Performance performance(score, source->mesh());
        const auto poses = loopOf(performance, 16);
        for (const auto& posed : poses) {
            double rest = 0.0;
            double now = 0.0;
            double away = 0.0;
            double angle = 0.0;
            for (const Voice& voice : score.voices) {
                angle += voice.degrees * 3.14159265358979 / 180.0;
            }
            for (std::size_t row = 0; row < 20; ++row) { // the first card: 3 × 21 vertices, its middle column
                const std::size_t a = row * 3 + 1;
                const glm::vec3 beside = source->mesh().positions[a] - score.voices[0].push.point;
                away = std::max(away, static_cast<double>(std::hypot(beside.x, beside.z)));
                rest += static_cast<double>(
                    glm::distance(source->mesh().positions[a], source->mesh().positions[a + 3]));
                now += static_cast<double>(glm::distance(posed[a], posed[a + 3]));
            }
            const double height = score.voices[0].push.span.value;
            QVERIFY2(std::abs(now / rest - 1.0) <= away * angle / height,
                     qPrintable(QString::number(now / rest)));
        }
    }
    void filesBringBackEveryField() {
        Score score = scoreOf({voiceOf(5, 5, 3, 5), voiceOf(2, 4, 2, 1)});
        score.words = "A test.";
        score.loopSeconds = 2.125;
        score.voices[0].heldBy.push_back(voiceOf(0, 0, 0, 3).heldBy[0]);
        score.voices[0].copyPhase = {PhaseKind::stored, 0.5, {0, 1, 0}, 3.0, "age"};
        score.voices[1].solo = true;
        score.voices[1].amplitude = {0.07, true};
        score.voices[1].wishedRate = 1.2;
        score.voices[1].shape.curve = {0.25f, -0.5f, 0.125f};
        QVERIFY(parseScore(scoreText(score), "t") == score);
        QTemporaryDir dir;
        const std::filesystem::path file = std::filesystem::path(dir.path().toStdString()) / "s.score";
        saveScore(score, file);
        QVERIFY(loadScore(file) == score);
        for (const ReadyScore& row : readyScores()) {
            const Score each = makeReady(row, shapeOf("dome"));
            QVERIFY2(parseScore(scoreText(each), "t") == each, row.id);
        }
    }
    void badFilesNameTheVoiceAndTheField() {
        const auto problem = [](const QString& from, const QString& to) {
            Score score = scoreOf({voiceOf(0, 0, 1, 0)});
            score.voices[0].name = "Glide";
            QString text = QString::fromStdString(scoreText(score));
            if (!text.contains(from)) {
                qFatal("no %s in %s", qPrintable(from), qPrintable(text));
            }
            text.replace(text.indexOf(from), from.size(), to);
            return tests::problemOf([&] { parseScore(text.toStdString(), "s.score"); });
        };
        using tests::says;
        QVERIFY(says(problem("\"version\": 1", "\"version\": 7"), "s.score", "version 7", "newer"));
        QVERIFY(says(problem("curly-ripple-score", "other"), "no score"));
        QVERIFY(says(problem("\"turns\": 2", "\"turns\": 2.5"), "Glide", "turns", "2 or 3 do"));
        const base::Problem detail = problem("\"detail\": 2", "\"detail\": 2.5");
        QVERIFY(says(detail, "detail", "2.5", "no whole number"));
        QVERIFY(detail.line().find("turns") == std::string::npos); // it is not about the loop
        QVERIFY(says(problem("\"turns\": 2", "\"turns\": \"many\""), "Glide", "turns", "finite number"));
        QVERIFY(says(problem("\"kind\": \"sine\"", "\"kind\": \"saw\""), "Glide", "\"saw\""));
        QVERIFY(says(
            problem("\"wavelength\": {\n        \"value\": 1.7", "\"wavelength\": {\n        \"value\": 0"),
            "Glide", "wavelength"));
        QVERIFY(says(tests::problemOf([] { parseScore("{\"format\"", "broken.score"); }), "broken.score",
                     "no score"));
    }
    void ratesBecomeWholeTurns() {
        const Fit fit = fitSpeed(1.2, 10.0, 8.0); // 10 m tile, 8 s: 0.96 turns
        QCOMPARE(fit.turns, 1);
        QVERIFY(std::abs(fit.change() - (1.25 / 1.2 - 1.0)) < 1e-12);
        QCOMPARE(fitRate(2.6, 2.0).turns, 5);
        QCOMPARE(fitRate(2.6, 2.0).got, 2.5);
        QCOMPARE(fitRate(0.01, 1.0).turns, 1); // never still
        QCOMPARE(fitRate(-0.01, 1.0).turns, -1);
        QCOMPARE(fitRate(0.0, 1.0).turns, 0);
    }
    void theBestLoopLengthIsFound() {
        QVERIFY(std::abs(findLoopLength({0.5, 0.75}, 1.0, 10.0).seconds - 4.0) < 1e-12); // 2 and 3 turns
        QVERIFY(findLoopLength({0.5, 0.75}, 1.0, 10.0).totalChange < 1e-12);
        // Against a fine search by hand.
        const std::vector<double> rates = {0.31, 0.87, 1.43, -0.52};
        const LoopLength found = findLoopLength(rates, 2.0, 9.0);
        double best = 1e9;
        for (int i = 0; i <= 700000; ++i) {
            const double seconds = 2.0 + 1e-5 * i;
            double sum = 0.0;
            for (const double rate : rates) {
                sum += std::abs(fitRate(rate, seconds).change());
            }
            best = std::min(best, sum);
        }
        QVERIFY2(found.totalChange <= best + 1e-9,
                 qPrintable(QString("%1 %2").arg(found.totalChange).arg(best)));
        QVERIFY(found.seconds >= 2.0 && found.seconds <= 9.0);
        Score score = scoreOf({voiceOf(0, 0, 0, -1), voiceOf(0, 0, 0, -1)});
        score.voices[0].wishedRate = 0.75;
        QCOMPARE(wishedRates(score), std::vector<double>{0.75});
        const Score longer = withLoopLength(score, 4.0);
        QCOMPARE(longer.voices[0].turns, 3);
        QCOMPARE(longer.voices[1].turns, 2); // nobody asked it for a rate
    }
    void readyScoresDoNotFoldTheirModels() {
        for (const ReadyScore& one : readyScores()) {
            const auto below = demoModel(one.demoModel);
            const Score score = makeReady(one, below->mesh());
            const Folds folds = measureFolds(Performance(score, below->mesh()), below->mesh());
            QVERIFY2(!folds.folded() && folds.stretch < 1.0,
                     qPrintable(QString("%1 on %2: %3 triangles, %4° off")
                                    .arg(one.id, one.demoModel)
                                    .arg(folds.triangles)
                                    .arg(folds.normalOff) +
                                QString(", stretch %1").arg(folds.stretch)));
        }
    }
    void copiesMakeWayForAMovingPoint() {
        const auto rod = source::openTestShape({"rod", 1.0, 8, 40});
        const mesh::Mesh& mesh = rod->mesh();
        mesh::Bounds rest;
        rest.add(mesh.positions);
        const float height = rest.size().y;
        Voice aside = voiceOf(0, 0, 0, -1);
        aside.heldBy.clear();
        aside.push.kind = PushKind::aside;
        aside.push.length = {0.0f, 1.0f, 0.0f};
        aside.push.point = {rest.centre().x, rest.min.y, rest.centre().z};
        aside.push.span = {static_cast<double>(height), false};
        aside.push.reach = 2.0;
        aside.degrees = 70.0;
        const auto poseWith = [&](const glm::vec3& mover, const Copy& copy, double turn) {
            Voice voice = aside;
            voice.push.moverX = static_cast<double>(mover.x);
            voice.push.moverY = static_cast<double>(mover.y);
            voice.push.moverZ = static_cast<double>(mover.z);
            const Performance performance(scoreOf({voice}), mesh);
            std::vector<glm::vec3> positions(mesh.vertexCount());
            performance.pose(turn, copy, positions, {});
            return positions;
        };
        const auto tip = [&](const std::vector<glm::vec3>& pose) {
            std::size_t best = 0;
            for (std::size_t v = 0; v < pose.size(); ++v) {
                best = mesh.positions[v].y > mesh.positions[best].y ? v : best;
            }
            return pose[best];
        };
        Copy copy;
        copy.origin = {10.0f, 0.0f, -4.0f};
        // Whichever side it comes from, tips go to the other; time moves nothing.
        for (const glm::vec3& from :
             {glm::vec3(0.6f, 0.0f, 0.0f), glm::vec3(0.0f, 0.3f, 0.6f), glm::vec3(-0.4f, 0.0f, 0.4f)}) {
            const auto bent = poseWith(copy.origin + from, copy, 0.0);
            const glm::vec3 went = tip(bent) - tip(mesh.positions);
            QVERIFY(glm::dot(glm::normalize(glm::vec3(went.x, 0.0f, went.z)),
                             -glm::normalize(glm::vec3(from.x, 0.0f, from.z))) > 0.999f);
            QVERIFY(poseWith(copy.origin + from, copy, 0.37) == bent);
            // Lengths along the middle line are kept: the middle of each ring of vertices lies on it.
            double length = 0.0;
            std::map<float, std::pair<glm::vec3, int>> rings;
            for (std::size_t v = 0; v < bent.size(); ++v) {
                auto& ring = rings[mesh.positions[v].y];
                ring.first += bent[v];
                ++ring.second;
            }
            std::optional<glm::vec3> before;
            for (const auto& [y, ring] : rings) {
                const glm::vec3 middle = ring.first / static_cast<float>(ring.second);
                length += before ? static_cast<double>(glm::distance(*before, middle)) : 0.0;
                before = middle;
            }
            QVERIFY2(std::abs(length - static_cast<double>(height)) < 2e-3,
                     qPrintable(QString::number(length)));
        }
        // Beyond its reach nothing moves; a copy that is turned goes the same way over the world.
        QVERIFY(poseWith(copy.origin + glm::vec3(2.1f, 0.0f, 0.0f), copy, 0.0) ==
                poseWith({500.0f, 0.0f, 0.0f}, copy, 0.0));
        Copy turned = copy;
        turned.axes = glm::mat3(glm::vec3(0, 0, -1), glm::vec3(0, 1, 0), glm::vec3(1, 0, 0));
        turned.scale = 1.5f;
        const glm::vec3 mover = copy.origin + glm::vec3(0.7f, 0.0f, 0.1f);
        const glm::vec3 one = tip(poseWith(mover, copy, 0.0)) - tip(mesh.positions);
        const glm::vec3 other = turned.axes * (tip(poseWith(mover, turned, 0.0)) - tip(mesh.positions));
        QVERIFY(glm::distance(one, other) < 1e-4f);
        // Whoever adds it gets parameters for it, which bounds hold for.
        Score score = scoreOf({aside});
        giveIds(score);
        settleParameters(score);
        QCOMPARE(score.parameters.size(), std::size_t(4));
        score.parameters.pop_back();
        settleParameters(score);
        QCOMPARE(score.parameters.size(), std::size_t(4));
        const mesh::Bounds bounds = boundsOfLoop(Performance(score, mesh)).unturned;
        for (int k = 0; k < 40; ++k) {
            const glm::vec3 anywhere(std::sin(7.0f * static_cast<float>(k)), 0.0f,
                                     std::cos(3.0f * static_cast<float>(k)));
            for (const glm::vec3& p : poseWith(anywhere, {}, 0.0)) {
                QVERIFY(glm::all(glm::greaterThanEqual(p, bounds.min - 1e-5f)) &&
                        glm::all(glm::lessThanEqual(p, bounds.max + 1e-5f)));
            }
        }
        QVERIFY(glm::length(bounds.size()) < 6.0f * height);
        // The other kind moves vertices straight away from it.
        Voice shove = aside;
        shove.push.kind = PushKind::shove;
        shove.amplitude = {0.2, false};
        shove.push.moverY = 0.5;
        shove.push.reach = 0.4;
        const Performance shoved(scoreOf({shove}), mesh);
        std::vector<glm::vec3> pose(mesh.vertexCount());
        shoved.pose(0.0, {}, pose, {});
        for (std::size_t v = 0; v < pose.size(); ++v) {
            const glm::vec3 away = mesh.positions[v] - glm::vec3(0.0f, 0.5f, 0.0f);
            const double s = std::clamp(1.0 - static_cast<double>(glm::length(away)) / 0.4, 0.0, 1.0);
            const float wanted = static_cast<float>(0.2 * s * s * (3.0 - 2.0 * s));
            QVERIFY(glm::distance(pose[v], mesh.positions[v] + wanted * glm::normalize(away)) < 1e-5f);
        }
    }
    void foldsAndStretchAreMeasured() {
        // A sheet that is pushed along itself: x' = x + a sin(2π x / λ) turns back where 2π a / λ passes 1.
        const auto sheet = source::openTestShape({"sheet", 1.0, 64, 64});
        const auto foldsOf = [&](double slope) {
            Voice push = voiceOf(0, 0, 0, -1);
            push.course.kind = CourseKind::direction;
            push.course.direction = {1, 0, 0};
            push.push.kind = PushKind::direction;
            push.push.direction = {1, 0, 0};
            push.wavelength = {0.5, false};
            push.amplitude = {slope * 0.5 / 6.283185307, false};
            push.heldBy.clear();
            return measureFolds(Performance(scoreOf({push}), sheet->mesh()), sheet->mesh());
        };
        const Folds calm = foldsOf(0.4);
        QVERIFY(!calm.folded() && !calm.stretchedMuch());
        QVERIFY(std::abs(calm.stretch - 0.4) < 0.03);
        const Folds wild = foldsOf(1.6);
        QVERIFY(wild.folded() && wild.stretchedMuch());
        QVERIFY(wild.normalOff > 170.0); // flat, face down
    }
    void texturesThatSlideAreSaidToBeLeftOut() {
        const auto below = demoModel("swell");
        Voice slide = voiceOf(0, 0, 0, -1);
        slide.name = "Drift";
        slide.push.kind = PushKind::uvSlide;
        const auto played = playScore(below, scoreOf({slide, voiceOf(0, 0, 0, -1)}), Play::alone);
        const bool said =
            std::any_of(played->findings().begin(), played->findings().end(), [](const auto& f) {
                return f.id == "voice-not-baked" && f.problem.where.find("Drift") != std::string::npos;
            });
        QVERIFY(said);
        Voice muted = slide;
        muted.muted = true;
        const auto quiet = playScore(below, scoreOf({muted, voiceOf(0, 0, 0, -1)}), Play::alone);
        QVERIFY(!tests::has(quiet->findings(), "voice-not-baked"));
    }
    void aScoreIsASourceThatCloses() {
        const auto below = demoModel("skate");
        const Score score = makeReady(ready("wings"), below->mesh());
        const auto played = playScore(below, score, Play::alone);
        QCOMPARE(played->clips().size(), std::size_t(1));
        QCOMPARE(played->clips()[0].name, std::string("Wing-wave swimmer"));
        QCOMPARE(played->clips()[0].duration, 2.4);
        bake::Recipe recipe;
        recipe.positionStore = "unorm16";
        const bake::SamplePlan plan = bake::planSampling(*played, recipe);
        QVERIFY(plan.clips[0].closed);
        QCOMPARE(plan.clips[0].length, std::size_t(72)); // 2.4 s at 30 a second, the repeat not stored
        const bake::Baked baked = bake::bake(*played, plan, recipe);
        const bake::TextureReader reader(baked.textures, baked.columnOfVertex, played->mesh().positions,
                                         played->mesh().normals);
        const Performance performance(score, below->mesh());
        std::vector<glm::vec3> wanted(performance.vertexCount());
        std::vector<glm::vec3> read(performance.vertexCount());
        const float bound = glm::length(baked.textures.positionStore.errorBound(baked.textures.ranges[0]));
        for (int f = 0; f < 72; f += 7) {
            performance.pose(f / 72.0, {}, wanted, {});
            reader.frame(static_cast<std::size_t>(f), read, {});
            for (std::size_t v = 0; v < read.size(); ++v) {
                QVERIFY(glm::distance(read[v], wanted[v]) <= bound + 2e-6f);
            }
        }
    }
    void aScoreOnTopOfAWindowClosesThere() {
        // The heron's stroll closes; a window of it that does not divide the score's loop is played round.
        const auto heron = source::open(std::filesystem::path(DEMO_FOLDER) / "heron.glb");
        Voice sway = voiceOf(0, 0, 0, -1);
        sway.turns = 1;
        sway.amplitude = {0.3, false};
        Score score = scoreOf({sway});
        score.loopSeconds = 0.5;
        const auto played = playScore(heron, score, Play::onTop);
        for (const bake::Closing closing : {bake::Closing::window, bake::Closing::fade}) {
            bake::Recipe recipe;
            recipe.fadeFrames = 4;
            recipe.clips = {{heron->clips()[0].name, bake::FrameWindow{5, 21}, closing}};
            const bake::ClipPlan plan = bake::planSampling(*played, recipe).clips[0];
            QVERIFY(plan.closed);
            const std::size_t n = heron->mesh().vertexCount();
            std::vector<glm::vec3> plain(n);
            std::vector<glm::vec3> moved(n);
            std::vector<glm::vec3> first;
            const auto scoreAt = [&](double frame) {
                const double seconds = plan.seconds[0] + frame / plan.fps;
                bake::samplePose(*heron, plan, seconds, plain, {});
                bake::samplePose(*played, plan, seconds, moved, {});
                return moved[0] - plain[0];
            };
            // One whole loop of the score goes into the window's 17 frames (0.57 s).
            QVERIFY(glm::distance(scoreAt(17.0), scoreAt(0.0)) < 1e-5f);
            QVERIFY(glm::distance(scoreAt(8.5), scoreAt(0.0)) < 1e-5f ||
                    glm::distance(scoreAt(8.5), -scoreAt(0.0)) < 1e-5f);
            QVERIFY(glm::distance(scoreAt(4.25), scoreAt(12.75)) > 0.1f);
        }
    }
    void aScorePlaysOnTopOfAClip() {
        const auto heron = source::open(std::filesystem::path(DEMO_FOLDER) / "heron.glb");
        Voice bob = voiceOf(0, 0, 0, -1);
        bob.push.direction = {0, 1, 0};
        bob.turns = 1;
        bob.phase = 0.0;
        bob.amplitude = {0.2, false};
        Score score = scoreOf({bob});
        score.loopSeconds = heron->clips()[0].duration / 2.1; // near two loops: stretched to two
        const auto played = playScore(heron, score, Play::onTop);
        QCOMPARE(played->clips().size(), heron->clips().size());
        const source::Clip& clip = heron->clips()[0];
        const std::size_t n = heron->mesh().vertexCount();
        std::vector<glm::vec3> plain(n);
        std::vector<glm::vec3> normals(n);
        std::vector<glm::vec3> moved(n);
        std::vector<glm::vec3> movedNormals(n);
        for (const double part : {0.0, 0.125, 0.5, 1.0}) { // turns 0, ¼, 1, 2
            const double seconds = clip.start + part * clip.duration;
            heron->sample(0, seconds, plain, normals);
            played->sample(0, seconds, moved, movedNormals);
            const float height = part == 0.125 ? 0.2f : 0.0f;
            for (std::size_t v = 0; v < n; ++v) {
                QVERIFY(glm::distance(moved[v], plain[v] + glm::vec3(0, height, 0)) < 2e-5f);
                QVERIFY(glm::distance(movedNormals[v], normals[v]) < 1e-5f); // a shift turns nothing
            }
        }
    }
    void densityCountsWavesAlongEdges() {
        const mesh::Mesh sheet = shapeOf("sheet", 10); // 1 m, edges of 0.1 m
        Voice voice = voiceOf(0, 0, 1, -1);
        voice.course.direction = {1, 0, 0};
        voice.wavelength = {0.5, false};
        const Performance fine(scoreOf({voice}), sheet);
        const Density density = measureDensity(fine, sheet, voice, 0);
        QVERIFY(std::abs(density.worst - 0.2f) < 1e-4f); // five edges a wave
        QVERIFY(density.tooCoarse());
        QCOMPARE(density.subdivisionsWanted(), std::size_t(1));
        voice.wavelength = {1.0, false};
        const Performance longer(scoreOf({voice}), sheet);
        QVERIFY(!measureDensity(longer, sheet, voice, 0).tooCoarse());
        voice.shape.kind = ShapeKind::noise;
        voice.shape.detail = 8;
        const Performance rough(scoreOf({voice}), sheet);
        QVERIFY(std::abs(measureDensity(rough, sheet, voice, 0).worst - 0.8f) < 1e-3f);
        voice.course.kind = CourseKind::unison;
        const Performance unison(scoreOf({voice}), sheet);
        QCOMPARE(measureDensity(unison, sheet, voice, 0).worst, 0.0f);
    }
    void strainIsHowMuchEdgesStretch() {
        const mesh::Mesh sheet = shapeOf("sheet", 4);
        std::vector<glm::vec3> posed = sheet.positions;
        for (glm::vec3& p : posed) {
            p.x *= 1.5f;
        }
        for (const float strain : edgeStrain(sheet, posed)) {
            QVERIFY(std::abs(strain - 0.5f) < 1e-4f);
        }
        for (const float strain : edgeStrain(sheet, sheet.positions)) {
            QVERIFY(strain < 1e-6f);
        }
    }
    void storedValuesComeFromTheFile() {
        const auto bulrush = demoModel("bulrush");
        QCOMPARE(bulrush->mesh().stored.size(), std::size_t(1));
        QCOMPARE(bulrush->mesh().stored[0].name, std::string("STEM"));
        const std::vector<float>& values = bulrush->mesh().stored[0].values;
        QCOMPARE(values.size(), bulrush->mesh().vertexCount());
        QVERIFY(std::set<float>(values.begin(), values.end()).size() > 8);
    }
};

static const ripple::tests::SuiteOf<TestScores> kSuite;
#include "test_scores.moc"
