// Numbers of a score that stay alive: that a parameter does what its number does, that bounds hold for all
// its values, and that what could not work is said.

#include "emit/score_code.h"
#include "every_parameter.h"
#include "mesh/test_shapes.h"
#include "motion/loop_bounds.h"
#include "motion/evaluate.h"
#include "motion/perform.h"
#include "motion/ready_scores.h"
#include "motion/score_file.h"
#include "problem_of.h"
#include "suite.h"
#include "voices.h"

#include <QTest>

#include <glm/gtc/matrix_transform.hpp>

using namespace ripple;
using namespace ripple::motion;
using tests::LinearFields;
using tests::says;
using tests::scoreOf;
using tests::voiceOf;
using tests::withEveryParameter;

namespace {

std::vector<glm::vec3> positionsOf(const Composition& composition, const VertexFields& fields, float turn,
                                   const Copy& copy = {}) {
    std::vector<glm::vec3> positions(fields.size());
    const NodeId roots[] = {composition.position};
    const Evaluator::Target target{{}, positions};
    Evaluator(composition.graph, roots).run(fields, copy, turn, {&target, 1});
    return positions;
}

float furthest(std::span<const glm::vec3> a, std::span<const glm::vec3> b) {
    float most = 0.0f;
    for (std::size_t i = 0; i < a.size(); ++i) {
        const float away = glm::distance(a[i], b[i]);
        most = std::isfinite(away) ? std::max(most, away) : 1e9f;
    }
    return most;
}

/// One voice of each kind of everything, not all with all.
std::vector<Score> scores() {
    std::vector<Score> made;
    for (int i = 0; i < static_cast<int>(pushKinds().size() * 6); ++i) {
        const int pushes = static_cast<int>(pushKinds().size());
        Voice voice = voiceOf(i % static_cast<int>(shapeKinds().size()), i % pushes, (i / pushes + i) % 6,
                              i % static_cast<int>(maskKinds().size() + 1) - 1);
        voice.copyPhase.kind = phaseKinds()[static_cast<std::size_t>(i) % phaseKinds().size()].kind;
        voice.copyPhase.stored = "age";
        made.push_back(scoreOf({voice}));
    }
    return made;
}

Score swaying() {
    Voice voice = voiceOf(0, 5, 0, 0); // a bend
    voice.push.length = {0, 1, 0};
    voice.push.direction = {1, 0, 0};
    voice.heldBy.clear();
    Score score = scoreOf({voice});
    giveIds(score);
    return score;
}

Parameter named(const Score& score, const char* field, double least, double most) {
    Parameter made = parameterOf(score, *adjustableAt(score, score.voices[0].id, field));
    made.least = least;
    made.most = most;
    return made;
}

base::Problem problemOf(Score score, std::vector<Parameter> parameters) {
    score.parameters = std::move(parameters);
    return tests::problemOf([&] { composeScore(score, LinearFields::model()); });
}

} // namespace

class TestParameters : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void everyNumberIsFoundAndSet() {
        std::mt19937 random(3);
        for (const Score& plain : scores()) {
            const Score score = withEveryParameter(plain);
            QVERIFY(score.parameters.size() >= 6); // what all voices follow; size, turns and phase
            for (const Parameter& parameter : score.parameters) {
                Score changed = score;
                const double value = tests::anyValue(score, parameter, random);
                setAdjustable(changed, parameter.voice, parameter.field, value);
                const double got = adjustableAt(changed, parameter.voice, parameter.field)->value;
                const double apart = std::remainder(got - value, 360.0);
                QVERIFY2(std::abs(apart) < 1e-4,
                         (parameter.name + " " + std::to_string(value) + " " + std::to_string(got)).c_str());
            }
        }
    }
    void doesWhatItsNumberDoes() {
        std::mt19937 random(5);
        const LinearFields vertices(200);
        const auto size = static_cast<float>(LinearFields::model().size);
        for (const Score& plain : scores()) {
            const Score live = withEveryParameter(plain);
            for (int round = 0; round < 4; ++round) {
                Score moved = live;
                for (const Parameter& parameter : live.parameters) {
                    if (round > 0) { // the first has the defaults
                        setAdjustable(moved, parameter.voice, parameter.field,
                                      tests::anyValue(live, parameter, random));
                    }
                }
                // Where no heading turns it with the wind, a hinge is the model's and not the world's: the
                // same score without parameters needs a heading of its own.
                Score frozen = moved;
                frozen.parameters.clear();
                if (frozen.overall.heading == 0.0) {
                    frozen.overall.heading = 360.0;
                }
                Copy copy;
                copy.id = 0.3f;
                copy.axes = glm::mat3(glm::rotate(glm::mat4(1.0f), 0.7f, glm::vec3(0.2f, 1.0f, 0.1f)));
                const float turn = 0.17f * static_cast<float>(round);
                const float off = furthest(
                    positionsOf(composeScore(moved, LinearFields::model()), vertices.fields, turn, copy),
                    positionsOf(composeScore(frozen, LinearFields::model()), vertices.fields, turn, copy));
                // A bend that a wave runs along is made of as many arcs as its shortest wave needs.
                const Voice& voice = plain.voices[0];
                const bool arcs =
                    voice.push.kind == PushKind::bend && voice.course.kind == CourseKind::direction;
                QVERIFY2(
                    off < (arcs ? 3e-2f : 1e-5f) * size,
                    (plain.voices[0].name + " " + std::to_string(round) + " off by " + std::to_string(off))
                        .c_str());
            }
        }
    }
    void noiseTurnsSmoothlyWithItsCourse() {
        Voice voice = voiceOf(4, 0, 1, -1);
        Score score = scoreOf({voice});
        giveIds(score);
        score.parameters = {named(score, "course direction heading", -180, 180)};
        const LinearFields vertices(200);
        std::vector<glm::vec3> before;
        float widest = 0.0f;
        for (int step = 0; step <= 720; ++step) {
            setAdjustable(score, score.voices[0].id, "course direction heading", -180.0 + 0.5 * step);
            const auto now = positionsOf(composeScore(score, LinearFields::model()), vertices.fields, 0.3f);
            if (step > 0) {
                widest = std::max(widest, furthest(before, now));
            }
            before = now;
        }
        QVERIFY2(widest < 0.02f, qPrintable(QString::number(static_cast<double>(widest)))); // of 0.15 m
        QVERIFY(widest > 0.0f);
    }
    void loopsCloseForEveryValue() {
        std::mt19937 random(7);
        const LinearFields vertices(100);
        for (const Score& plain : scores()) {
            Score score = withEveryParameter(plain);
            for (const Parameter& parameter : std::vector(score.parameters)) {
                setAdjustable(score, parameter.voice, parameter.field,
                              tests::anyValue(score, parameter, random));
            }
            const Composition composition = composeScore(score, LinearFields::model());
            const float gap = furthest(positionsOf(composition, vertices.fields, 0.0f),
                                       positionsOf(composition, vertices.fields, 1.0f));
            // A turn of 1 is the sum of what single precision makes of some dozens of turns.
            QVERIFY2(gap < 2e-4f, (plain.voices[0].name + " " + std::to_string(gap)).c_str());
        }
    }
    void boundsHoldForEveryValue() {
        std::mt19937 random(9);
        const mesh::Mesh sheet = mesh::makeTestShape({"sheet", 1.0, 6, 6});
        for (const ReadyScore& ready : readyScores()) {
            Score score = makeReady(ready, sheet);
            const auto add = [&](unsigned voice, const std::string& field) {
                if (const auto number = adjustableAt(score, voice, field)) {
                    score.parameters.push_back(parameterOf(score, *number));
                }
            };
            for (const char* field : {"strength", "heading", "rate"}) {
                add(0, field);
            }
            for (const char* field : {"amplitude", "angle", "phase", "turns", "wavelength", "span"}) {
                add(score.voices[0].id, field);
            }
            const mesh::Bounds bounds = boundsOfLoop(Performance(score, sheet)).unturned;
            mesh::Bounds reached;
            for (int round = 0; round < 40; ++round) {
                Score moved = score;
                for (const Parameter& parameter : score.parameters) {
                    const double end = round % 2 ? parameter.most : parameter.least;
                    setAdjustable(moved, parameter.voice, parameter.field,
                                  round < 2 ? end : tests::anyValue(score, parameter, random));
                }
                std::vector<glm::vec3> pose(sheet.vertexCount());
                Performance(moved, sheet).pose(0.025 * round, {}, pose, {});
                reached.add(pose);
            }
            QVERIFY2(glm::all(glm::lessThanEqual(bounds.min, reached.min)) &&
                         glm::all(glm::greaterThanEqual(bounds.max, reached.max)),
                     ready.name);
        }
    }
    void strengthHeadingAndRate() {
        const LinearFields vertices(50);
        const Model model = LinearFields::model();
        Score score = scoreOf({voiceOf(0, 1, 0, -1)}); // a push along the world's (0.3, 0.2, 0.9)
        score.voices[0].phase = 0.0;
        score.voices[0].turns = 1;
        const auto moved = [&](float turn) {
            return positionsOf(composeScore(score, model), vertices.fields, turn)[0] - vertices.positions[0];
        };
        const glm::vec3 plain = moved(0.25f);
        score.overall.strength = 0.5;
        QVERIFY(glm::distance(moved(0.25f), 0.5f * plain) < 1e-6f);
        score.overall = {1.0, 90.0, 1}; // Z becomes X, X becomes −Z
        QVERIFY(glm::distance(moved(0.25f), glm::vec3(plain.z, plain.y, -plain.x)) < 1e-6f);
        score.overall = {1.0, 0.0, 3};
        QVERIFY(glm::distance(moved(0.25f / 3.0f), plain) < 1e-6f);
        QVERIFY(glm::distance(moved(0.25f), -plain) < 1e-6f);
    }
    void uprightBendsLeanWithTheWind() {
        Score score = swaying(); // about the X of the model
        score.parameters = {parameterOf(score, *adjustableAt(score, 0, "heading"))};
        const LinearFields vertices(50);
        const auto worldAfter = [&](double heading, float yaw) {
            setAdjustable(score, 0, "heading", heading);
            Copy copy;
            copy.axes = glm::mat3(glm::rotate(glm::mat4(1.0f), yaw, glm::vec3(0, 1, 0)));
            const auto positions =
                positionsOf(composeScore(score, LinearFields::model()), vertices.fields, 0.06f, copy);
            // The mean of where it leans to, seen from outside.
            glm::vec3 lean(0.0f);
            for (std::size_t v = 0; v < positions.size(); ++v) {
                lean += copy.axes * (positions[v] - vertices.positions[v]);
            }
            return glm::normalize(glm::vec2(lean.x, lean.z));
        };
        const glm::vec2 north = worldAfter(0.0, 0.0f);
        const glm::vec2 quarter = worldAfter(90.0, 0.0f);
        QVERIFY(std::abs(glm::dot(north, quarter)) < 0.2f); // not exactly: the vertices lie anywhere
        for (const float yaw : {0.4f, 1.5f, 3.0f}) { // copies lean the same way however they are turned
            QVERIFY(glm::dot(worldAfter(0.0, yaw), north) > 0.95f);
        }
    }
    void goesOntoAnotherMeshWithItsSize() {
        Score score = swaying();
        score.voices[0].push.span = {0.5, true};
        score.parameters = {named(score, "span", 0.25, 0.75)};
        Model small = LinearFields::model();
        small.size = 2.0;
        Model large = small;
        large.size = 8.0;
        QCOMPARE(composeScore(score, small).graph.parameters()[0], (LiveNumber{1.0f, 0.5f, 1.5f}));
        QCOMPARE(composeScore(score, large).graph.parameters()[0], (LiveNumber{4.0f, 2.0f, 6.0f}));
    }
    void filesKeepThem() {
        Score score = withEveryParameter(scores()[17]);
        score.overall = {1.5, -30.0, 2};
        score.parameters[0].help = "How hard it blows.";
        const Score again = parseScore(scoreText(score), "test");
        QVERIFY(again == score);
        // Who does not know them is told; who need not is not.
        QVERIFY(scoreText(score).find("\"version\": 2") != std::string::npos);
        QVERIFY(scoreText(scores()[17]).find("\"version\": 1") != std::string::npos);
    }
    void settlesAfterEdits() {
        Score score = swaying();
        score.parameters = {named(score, "angle", 10, 40), named(score, "span", 1, 2)};
        score.voices[0].degrees = 60.0;
        score.voices[0].push.kind = PushKind::normal; // has an amplitude, and no span
        settleParameters(score);
        QCOMPARE(score.parameters.size(), std::size_t(0));
        score = swaying();
        score.parameters = {named(score, "angle", 10, 40)};
        score.voices[0].degrees = 60.0;
        settleParameters(score);
        QCOMPARE(score.parameters[0].most, 60.0);
    }
    void whatCannotWorkIsSaid() {
        Score score = swaying();
        const Parameter angle = named(score, "angle", 0, 50);
        Parameter other = named(score, "phase", -1, 1);
        QCOMPARE(problemOf(score, {angle, other}).where, std::string());
        QVERIFY(says(problemOf(score, {named(score, "span", -1.0, 2.0)}), "span", "narrow"));
        QVERIFY(says(problemOf(score, {named(score, "angle", 50, 0)}), "angle", "least"));
        QVERIFY(says(problemOf(score, {named(score, "angle", 40, 50)}), "angle", "outside"));
        QVERIFY(says(problemOf(score, {named(score, "turns", 0.5, 3)}), "turns", "whole"));
        QVERIFY(says(problemOf(score, {named(score, "angle", 0, 99999)}), "angle", "only from"));
        QVERIFY(says(problemOf(score, {angle, angle}), angle.name));
        other.name = angle.name;
        QVERIFY(says(problemOf(score, {angle, other}), angle.name, "another"));
        other.name.clear();
        QVERIFY(says(problemOf(score, {other}), "no name"));
        other.name = "lost";
        other.field = "wavelength of light";
        QVERIFY(says(problemOf(score, {other}), "lost", "wavelength of light"));

        score.voices[0].heldBy.emplace_back(); // from 0 to 1
        QCOMPARE(problemOf(score, {named(score, "mask 1 low", -1, 0.4), named(score, "mask 1 high", 0.6, 1)})
                     .where,
                 std::string());
        QVERIFY(
            says(problemOf(score, {named(score, "mask 1 low", 0, 0.7), named(score, "mask 1 high", 0.6, 1)}),
                 "mask", "apart"));

        Score pulsing = scoreOf({voiceOf(2, 0, 0, -1)});
        giveIds(pulsing);
        QVERIFY(says(problemOf(pulsing, {named(pulsing, "duty", 0.05, 0.95)}), "softness"));
    }
    void namesMustBeFreeInEveryLanguage() {
        Score score = swaying();
        Parameter angle = named(score, "angle", 0, 50);
        const auto said = [&](const char* name, const char* second = nullptr) {
            angle.name = name;
            score.parameters = {angle};
            if (second) {
                score.parameters.push_back(named(score, "phase", -1, 1));
                score.parameters.back().name = second;
            }
            const Composition composition = composeScore(score, LinearFields::model());
            return tests::problemOf([&] { emit::scoreCode(emit::glsl(), "test", composition); });
        };
        QCOMPARE(said("lean angle").where, std::string());
        QVERIFY(says(said("flat"), "flat", "GLSL"));
        QVERIFY(says(said("linear"), "linear", "HLSL"));
        QVERIFY(says(said("target"), "target", "WGSL"));
        QVERIFY(says(said("lean angle", "lean-angle"), "lean_angle"));
    }
    void codeHoldsOnlyWhatStaysAlive() {
        Score score = swaying();
        const auto code = [&] {
            return emit::scoreCode(emit::glsl(), "reed", composeScore(score, LinearFields::model())).code;
        };
        const std::string plain = code();
        QVERIFY(plain.find("parameters") == std::string::npos);
        score.parameters = {named(score, "angle", 0, 50)};
        score.parameters[0].name = "lean";
        score.parameters[0].help = "How far it leans";
        const std::string live = code();
        QVERIFY(live.find("lean            0 to 50: How far it leans, degrees") != std::string::npos);
        QVERIFY(live.find("clamp(parameters.lean, 0.0, 50.0)") != std::string::npos);
        QVERIFY(live.find("defaults.lean = 35.0;") != std::string::npos);
        QVERIFY(live.find("1.6") != std::string::npos); // the span is a number still
    }
};

static const ripple::tests::SuiteOf<TestParameters> kSuite;
#include "test_parameters.moc"
