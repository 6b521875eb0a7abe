// Scores as expressions: that they close, swing as they say, keep lengths, and what their derivatives are.

#include "base/parallel.h"
#include "mesh/test_shapes.h"
#include "motion/loop_bounds.h"
#include "motion/kinds.h"
#include "motion/velocity.h"
#include "motion/noise.h"
#include "motion/derive.h"
#include "motion/evaluate.h"
#include "motion/lane_math.h"
#include "motion/perform.h"
#include "problem_of.h"
#include "suite.h"
#include "voices.h"

#include <QTest>

#include <cmath>
#include <numbers>

using namespace ripple;
using namespace ripple::motion;
using tests::LinearFields;
using tests::scoreOf;
using tests::voiceOf;

namespace {

const int kShapes = static_cast<int>(shapeKinds().size());
const int kPushes = static_cast<int>(pushKinds().size());
const int kCourses = static_cast<int>(courseKinds().size());
const int kMasks = static_cast<int>(maskKinds().size());

/// What a score makes of vertices, at any turn, wrapped or not.
struct Moved {
    std::vector<glm::vec3> positions;
    std::vector<glm::vec3> normals;
    std::vector<glm::vec3> uvShift;
    std::vector<float> alpha;
};

class Run {
public:
    explicit Run(const Composition& composition)
        : composition_(composition),
          roots_{composition.position, composition.normal,
                 composition.uvShift.value_or(composition.position)},
          evaluator_(composition.graph, withAlpha()) {}

    Moved operator()(const VertexFields& fields, float turn, const Copy& copy = {}) const {
        const std::size_t n = fields.size();
        Moved moved{std::vector<glm::vec3>(n), std::vector<glm::vec3>(n), std::vector<glm::vec3>(n),
                    std::vector<float>(n)};
        std::vector<Evaluator::Target> targets = {
            {{}, moved.positions}, {{}, moved.normals}, {{}, moved.uvShift}};
        if (composition_.alpha) {
            targets.push_back({moved.alpha, {}});
        }
        evaluator_.run(fields, copy, turn, targets);
        return moved;
    }

private:
    std::span<const NodeId> withAlpha() {
        if (composition_.alpha) {
            roots_.push_back(*composition_.alpha);
        }
        return roots_;
    }
    const Composition& composition_;
    std::vector<NodeId> roots_;
    Evaluator evaluator_;
};

float largest(const Moved& a, const Moved& b) {
    float most = 0.0f;
    for (std::size_t v = 0; v < a.positions.size(); ++v) {
        most = std::max({most, glm::distance(a.positions[v], b.positions[v]),
                         glm::distance(a.uvShift[v], b.uvShift[v]), std::abs(a.alpha[v] - b.alpha[v])});
    }
    return most;
}

} // namespace

class TestMotion : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void curvesKeepTheirShapeWithMorePoints() {
        const std::vector<float> values{0.0f, 0.8f, 0.3f, -0.9f, -0.2f};
        // As many points: the same ones. Twice as many: those and the curve between them.
        QCOMPARE(motion::resampledCurve(values, 5), values);
        const std::vector<float> finer = motion::resampledCurve(values, 10);
        for (std::size_t i = 0; i < 5; ++i) {
            QVERIFY(std::abs(finer[2 * i] - values[i]) < 1e-6f);
            QCOMPARE(
                finer[2 * i + 1],
                std::clamp(motion::closedCurve(values, (static_cast<float>(i) + 0.5f) / 5.0f), -1.0f, 1.0f));
        }
        // Halfway between points a, b, c, d lies (−a + 9b + 9c − d) / 16 (Catmull and Rom).
        QVERIFY(std::abs(finer[3] - (-0.0f + 9.0f * 0.8f + 9.0f * 0.3f + 0.9f) / 16.0f) < 1e-6f);
        QCOMPARE(motion::resampledCurve(values, 3).size(), std::size_t(3));
    }
    void sinesAreExactToSinglePrecision() {
        double worst = 0.0;
        for (int i = -40000; i <= 40000; ++i) {
            const float x = static_cast<float>(i) * 1.37e-4f;
            const auto exact = std::sin(2.0 * std::numbers::pi * static_cast<double>(x));
            worst = std::max(worst, std::abs(static_cast<double>(sineOfTurn(base::lanes(x))[2]) - exact));
        }
        QVERIFY2(worst < 3e-7, qPrintable(QString::number(worst)));
        QCOMPARE(fractionOf(base::lanes(-1e-9f))[0], 0.0f); // never 1
        QCOMPARE(fractionOf(base::lanes(-0.25f))[0], 0.75f);
    }
    void everyCombinationCloses() {
        // 6 shapes × 10 pushes × 6 courses × 6 masks and none: value and slope at φ = 0 and φ → 1 agree, and
        // so do all turns one apart.
        LinearFields vertices(12);
        int combinations = 0;
        for (int shape = 0; shape < kShapes; ++shape) {
            for (int push = 0; push < kPushes; ++push) {
                for (int course = 0; course < kCourses; ++course) {
                    for (int mask = -1; mask < kMasks; ++mask) {
                        const Voice voice = voiceOf(shape, push, course, mask);
                        const Composition composition = composeScore(scoreOf({voice}), LinearFields::model());
                        const Run run(composition);
                        const auto at = [&](float turn) { return run(vertices.fields, turn); };
                        const Moved start = at(0.0f);
                        QVERIFY2(largest(start, at(1.0f - 0x1p-24f)) < 2e-4f, voice.name.c_str());
                        // Unwrapped, a whole turn on and back: the same to rounding.
                        // (Edges of holes are steep.)
                        const float least = voice.push.kind == PushKind::cutOut ? 2e-4f : 1e-5f;
                        QVERIFY2(largest(start, at(1.0f)) < least, voice.name.c_str());
                        QVERIFY2(largest(at(0.375f), at(-0.625f)) < least, voice.name.c_str());
                        // Slopes on both sides of the seam, where the shape has no kink.
                        if (voice.shape.kind != ShapeKind::triangle && voice.push.kind != PushKind::cutOut) {
                            const float h = 1.0f / 1024.0f;
                            const Moved before = at(1.0f - h);
                            const Moved after = at(h);
                            for (std::size_t v = 0; v < 12; ++v) {
                                const glm::vec3 in = (start.positions[v] - before.positions[v]) / h;
                                const glm::vec3 out = (after.positions[v] - start.positions[v]) / h;
                                // Curvature parts them by h times at most (2πk)² · what it moves, ten times
                                // for the rougher shapes.
                                QVERIFY2(glm::distance(in, out) < 1.2f, voice.name.c_str());
                            }
                        }
                        ++combinations;
                    }
                }
            }
        }
        QCOMPARE(combinations, 6 * 12 * 6 * 7);
    }
    void shapesAreCentredAndStayInTheirRange() {
        for (int kind = 0; kind < kShapes; ++kind) {
            for (int variant = 0; variant < 4; ++variant) {
                Shape shape;
                shape.kind = shapeKinds()[static_cast<std::size_t>(kind)].kind;
                shape.duty = 0.2 + 0.2 * variant;
                shape.softness = 0.05 + 0.04 * variant;
                shape.sharpness = 1 + 2 * variant;
                shape.detail = 1 + variant;
                shape.seed = static_cast<std::uint32_t>(variant);
                const std::vector<float> values = swingOf(shape, 4096);
                const auto range = shapeRange(shape);
                double sum = 0.0;
                float low = 2.0f;
                float high = -2.0f;
                for (const float value : values) {
                    sum += static_cast<double>(value);
                    low = std::min(low, value);
                    high = std::max(high, value);
                }
                const QByteArray which = QString("%1 %2").arg(shapeKinds()[kind].id).arg(variant).toUtf8();
                if (shape.kind != ShapeKind::noise) { // centred on its lattice, not to the last digit between
                    QVERIFY2(std::abs(sum / 4096.0) < 1e-4, which);
                    QVERIFY2(std::abs(low - range[0]) < 2e-3 && std::abs(high - range[1]) < 2e-3, which);
                }
                const double slack = shape.kind == ShapeKind::curve ? 1e-3 : 1e-6;
                QVERIFY2(low >= range[0] - slack && high <= range[1] + slack, which);
                QVERIFY2(high - low > 0.05f, which);
            }
        }
    }
    void shapesAreWhatTheySay() {
        Shape shape;
        QVERIFY(std::abs(swingOf(shape, 4)[1] - 1.0f) < 1e-6f);
        shape.kind = ShapeKind::triangle;
        const auto triangle = swingOf(shape, 8);
        QCOMPARE(triangle[0], 0.0f);
        QCOMPARE(triangle[1], 0.5f);
        QCOMPARE(triangle[2], 1.0f);
        QCOMPARE(triangle[6], -1.0f);
        shape.kind = ShapeKind::pulse;
        shape.duty = 0.25;
        shape.softness = 0.05;
        const auto pulse = swingOf(shape, 100);
        QVERIFY(std::abs(pulse[10] - 1.0f) < 1e-6f);        // up: 1 − ¼, over ¾
        QVERIFY(std::abs(pulse[60] + 1.0f / 3.0f) < 1e-6f); // down: −¼ over ¾
        shape.kind = ShapeKind::curve;
        shape.curve = {0.0f, 1.0f, 0.0f, -1.0f};
        const auto curve = swingOf(shape, 4);
        QVERIFY(std::abs(curve[1] - 1.0f) < 1e-6f && std::abs(curve[3] + 1.0f) < 1e-6f);
    }
    void noiseRepeatsToTheLastBit() {
        for (const std::int32_t cells : {1, 3, 4, 7, 64}) {
            for (int dimensions = 1; dimensions <= 3; ++dimensions) {
                const NoiseTile tile{{cells, cells, cells}, 5};
                for (int i = 0; i < 200; ++i) {
                    const auto f = static_cast<float>(i);
                    const std::array<float, 3> p = {f * 0.15625f, f * 0.28125f - 3.0f, 11.0f - f * 0.0625f};
                    const NoiseAt here = noise(tile, dimensions, p);
                    for (int d = 0; d < dimensions; ++d) {
                        std::array<float, 3> next = p;
                        next[static_cast<std::size_t>(d)] += static_cast<float>(cells);
                        const NoiseAt there = noise(tile, dimensions, next);
                        QCOMPARE(there.value, here.value);
                        QCOMPARE(there.slope, here.slope);
                    }
                }
            }
        }
        // The hash itself, so that no platform's differs: worked out by hand for one place.
        QCOMPARE(latticeHash(0, 0, 0, 0), 0u);
        QVERIFY(latticeHash(1, 0, 0, 1) != latticeHash(0, 1, 0, 1));
        QVERIFY(noise({{4, 4, 4}, 1}, 2, {0.5f, 0.25f, 0}).value !=
                noise({{4, 4, 4}, 2}, 2, {0.5f, 0.25f, 0}).value);
        QCOMPARE(noise({{4, 4, 4}, 1}, 3, {2.0f, 1.0f, 3.0f}).value, 0.0f); // lattice points are 0
    }
    void noisesSlopeIsItsDerivative() {
        const NoiseTile tile{{5, 5, 5}, 9};
        for (int dimensions = 1; dimensions <= 3; ++dimensions) {
            for (int i = 1; i < 60; ++i) {
                const auto f = static_cast<float>(i);
                const std::array<float, 3> p = {0.37f * f, 0.21f * f, 0.13f * f};
                const NoiseAt here = noise(tile, dimensions, p);
                for (int d = 0; d < dimensions; ++d) {
                    constexpr float kH = 1.0f / 256.0f;
                    std::array<float, 3> up = p;
                    std::array<float, 3> down = p;
                    up[static_cast<std::size_t>(d)] += kH;
                    down[static_cast<std::size_t>(d)] -= kH;
                    const float slope =
                        (noise(tile, dimensions, up).value - noise(tile, dimensions, down).value) /
                        (2.0f * kH);
                    QVERIFY(std::abs(slope - here.slope[static_cast<std::size_t>(d)]) < 2e-3f);
                }
            }
        }
    }
    void normalsAreThoseOfFiniteDifferences() {
        // Each shape × push × course, masks in turn. Vertices whose differences disagree from both sides sit
        // on a kink (of a clamp, a triangle's tip) and are left out; they are few.
        std::size_t compared = 0;
        std::size_t all = 0;
        for (int shape = 0; shape < kShapes; ++shape) {
            for (int push = 0; push < kPushes; ++push) {
                for (int course = 0; course < kCourses; ++course) {
                    const int mask = (shape + push + course) % (kMasks + 1) - 1;
                    std::vector<Voice> voices = {voiceOf(shape, push, course, mask)};
                    if (push % 3 == 0) {
                        voices.push_back(voiceOf(0, 5, 1, -1)); // and a bend below it
                    }
                    const Composition composition = composeScore(scoreOf(voices), LinearFields::model());
                    const bool bentNormals = push == 2 && voices.size() > 1;
                    QVERIFY(!bentNormals);
                    const Run run(composition);
                    LinearFields vertices(40, static_cast<unsigned>(shape + 10 * push));
                    const std::vector<glm::vec3> home = vertices.positions;
                    const Moved derived = run(vertices.fields, 0.29f);
                    constexpr float kH = 1.0f / 512.0f;
                    std::array<std::array<std::vector<glm::vec3>, 2>, 3> shifted;
                    for (int axis = 0; axis < 3; ++axis) {
                        for (int side = 0; side < 2; ++side) {
                            std::vector<glm::vec3> to = home;
                            for (glm::vec3& p : to) {
                                p[axis] += side ? kH : -kH;
                            }
                            vertices.moveTo(to);
                            shifted[static_cast<std::size_t>(axis)][static_cast<std::size_t>(side)] =
                                run(vertices.fields, 0.29f).positions;
                        }
                    }
                    for (std::size_t v = 0; v < home.size(); ++v) {
                        glm::vec3 column[3];
                        bool kink = false;
                        for (std::size_t a = 0; a < 3; ++a) {
                            const glm::vec3 up = (shifted[a][1][v] - derived.positions[v]) / kH;
                            const glm::vec3 down = (derived.positions[v] - shifted[a][0][v]) / kH;
                            column[a] = 0.5f * (up + down);
                            kink = kink || glm::distance(up, down) > 0.02f;
                        }
                        ++all;
                        if (kink) {
                            continue;
                        }
                        ++compared;
                        const glm::vec3 n = vertices.normals[v];
                        const glm::vec3 expected = glm::normalize(glm::cross(column[1], column[2]) * n.x +
                                                                  glm::cross(column[2], column[0]) * n.y +
                                                                  glm::cross(column[0], column[1]) * n.z);
                        QVERIFY2(glm::distance(derived.normals[v], expected) < 1e-2f,
                                 qPrintable(QString("%1 vertex %2: off by %3")
                                                .arg(voices[0].name.c_str())
                                                .arg(v)
                                                .arg(glm::distance(derived.normals[v], expected))));
                    }
                }
            }
        }
        QVERIFY2(compared * 100 > all * 75, qPrintable(QString("%1 of %2").arg(compared).arg(all)));
    }
    void bendsKeepLengths_data() {
        QTest::addColumn<int>("shape");
        for (int shape = 0; shape < kShapes; ++shape) {
            QTest::addRow("%s", shapeKinds()[static_cast<std::size_t>(shape)].id) << shape;
        }
    }
    void bendsKeepLengths() {
        QFETCH(int, shape);
        for (const int course : {0, 1, 4}) {        // in unison, along itself, by a distance
            for (const double waves : {0.5, 1.0}) { // wavelengths in the span
                Voice voice = voiceOf(shape, 5, course, -1);
                voice.push.direction = {0, 0, 1};
                voice.push.length = {0, 1, 0};
                voice.push.point = {0, 0, 0};
                voice.push.span = {1.0, false};
                voice.course.point = {0, 0, 0};
                voice.course.direction = {0, 1, 0};
                voice.wavelength = {1.0 / waves, false};
                voice.degrees = 80.0;
                if (course == 4) {
                    voice.course.kind =
                        CourseKind::unison; // a distance that changes along the bend would not
                    voice.phase = 0.31;
                }
                const Composition composition = composeScore(scoreOf({voice}), LinearFields::model());
                const Run run(composition);
                constexpr std::size_t kPoints = 1501;
                LinearFields line(kPoints);
                std::vector<glm::vec3> rest;
                for (std::size_t i = 0; i < kPoints; ++i) {
                    rest.push_back(
                        {0.0f, 1.5f * static_cast<float>(i) / (kPoints - 1), 0.0f}); // beyond the span
                }
                line.moveTo(rest);
                for (const float turn : {0.0f, 0.11f, 0.4f, 0.77f}) {
                    const auto moved = run(line.fields, turn).positions;
                    double length = 0.0;
                    for (std::size_t i = 1; i < kPoints; ++i) {
                        length += static_cast<double>(glm::distance(moved[i], moved[i - 1]));
                        if (i % 250 == 0) {
                            const double wanted = static_cast<double>(rest[i].y);
                            QVERIFY2(std::abs(length - wanted) < 1e-5 * std::max(1.0, wanted),
                                     qPrintable(QString("course %1, %2 waves, turn %3, at %4: off by %5")
                                                    .arg(course)
                                                    .arg(waves)
                                                    .arg(turn)
                                                    .arg(wanted)
                                                    .arg(length - wanted)));
                        }
                    }
                    QCOMPARE(moved[0], rest[0]); // the pivot stays
                }
            }
        }
    }
    void twistsKeepDistancesFromTheAxis() {
        Voice voice = voiceOf(0, 6, 0, -1);
        voice.push.direction = {0, 2, 0};
        voice.push.point = {0.25f, 0, -0.5f};
        const Composition composition = composeScore(scoreOf({voice}), LinearFields::model());
        LinearFields vertices(200);
        const auto moved = Run(composition)(vertices.fields, 0.06f).positions;
        float turned = 0.0f;
        for (std::size_t v = 0; v < moved.size(); ++v) {
            const auto radius = [](const glm::vec3& p) { return std::hypot(p.x - 0.25f, p.z + 0.5f); };
            QVERIFY(std::abs(radius(moved[v]) - radius(vertices.positions[v])) < 1e-5f);
            QVERIFY(std::abs(moved[v].y - vertices.positions[v].y) < 1e-6f);
            turned = std::max(turned, glm::distance(moved[v], vertices.positions[v]));
        }
        QVERIFY(turned > 0.2f);
    }
    void waterRisesWhereItsCrestsGather() {
        Voice voice = voiceOf(0, 4, 1, -1);
        voice.push.direction = {1, 0, 0};
        voice.course.direction = {1, 0, 0};
        voice.amplitude = {0.1, false};
        voice.wavelength = {1.0, false};
        voice.turns = 1;
        voice.phase = 0.0;
        const Composition composition = composeScore(scoreOf({voice}), LinearFields::model());
        LinearFields line(101);
        std::vector<glm::vec3> rest;
        for (int i = 0; i <= 100; ++i) {
            rest.push_back({0.01f * static_cast<float>(i), 0.0f, 0.0f});
        }
        line.moveTo(rest);
        const auto moved = Run(composition)(line.fields, 0.0f).positions;
        // sin(−2πx): the crest stands at ¾, where points lie closer; the trough at ¼, where they lie apart.
        QVERIFY(std::abs(moved[75].y - 0.1f) < 1e-5f);
        QVERIFY(std::abs(moved[25].y + 0.1f) < 1e-5f);
        QVERIFY(moved[76].x - moved[74].x < 0.010f);
        QVERIFY(moved[26].x - moved[24].x > 0.030f);
    }
    void masksLieBetweenFloorAndOne() {
        for (int kind = 0; kind < kMasks; ++kind) {
            for (const bool flip : {false, true}) {
                Voice voice = voiceOf(0, 0, 1, kind);
                MaskTerm& term = voice.heldBy[0];
                term.flip = flip;
                term.floor = 0.25;
                const Composition composition = composeScore(scoreOf({voice}), LinearFields::model());
                LinearFields vertices(500);
                const NodeId roots[] = {composition.voices[0].mask};
                std::vector<float> mask(500);
                const Evaluator::Target target{mask, {}};
                Evaluator(composition.graph, roots).run(vertices.fields, {}, 0.3f, {&target, 1});
                const auto [low, high] = std::minmax_element(mask.begin(), mask.end());
                QVERIFY(*low >= 0.25f - 1e-6f && *high <= 1.0f + 1e-6f);
                QVERIFY(*high - *low > 0.1f);
            }
        }
        // Along Y from 0 to 1 m, flipped or not, and as a step where both are the same.
        Voice voice = voiceOf(0, 0, 1, 0);
        MaskTerm& term = voice.heldBy[0];
        term = {};
        term.easing = Easing::linear;
        LinearFields three(3);
        three.moveTo({{0, 0.25f, 0}, {0, -3, 0}, {0, 0.5f, 0}});
        const auto maskAt = [&] {
            const Composition composition = composeScore(scoreOf({voice}), LinearFields::model());
            const NodeId roots[] = {composition.voices[0].mask};
            std::vector<float> mask(3);
            const Evaluator::Target target{mask, {}};
            Evaluator(composition.graph, roots).run(three.fields, {}, 0.0f, {&target, 1});
            return mask;
        };
        QCOMPARE(maskAt(), (std::vector<float>{0.25f, 0.0f, 0.5f}));
        term.flip = true;
        QCOMPARE(maskAt(), (std::vector<float>{0.75f, 1.0f, 0.5f}));
        term.flip = false;
        term.low = term.high = 0.5;
        QCOMPARE(maskAt(), (std::vector<float>{0.0f, 0.0f, 1.0f}));
        voice.heldBy.push_back(term); // a product
        voice.heldBy[1].floor = 0.5;
        voice.heldBy[0].low = 0.0;
        QCOMPARE(maskAt(), (std::vector<float>{0.25f, 0.0f, 1.0f}));
    }
    void copiesSwingByTheirNumberAndPlace() {
        Voice voice = voiceOf(0, 0, 0, -1);
        voice.phase = 0.0;
        voice.turns = 1;
        voice.copyPhase = {PhaseKind::id, 1.0, {1, 0, 0}, 10.0, {}};
        LinearFields vertices(5);
        const auto moved = [&](float turn, const Copy& copy) {
            return Run(composeScore(scoreOf({voice}), LinearFields::model()))(vertices.fields, turn, copy);
        };
        Copy copy;
        copy.id = 0.25f;
        QVERIFY(largest(moved(0.0f, copy), moved(0.25f, {})) < 1e-6f); // a quarter ahead
        voice.copyPhase = {PhaseKind::world, 1.0, {1, 0, 0}, 8.0, {}};
        copy.origin = {2.0f, 5.0f, -1.0f};
        QVERIFY(largest(moved(0.5f, copy), moved(0.25f, {})) < 1e-6f); // a quarter behind, 2 m down the wind
        // Pushed along the world's X, a copy turned by a quarter about Y and twice as large moves half as far
        // in its own space, along the axis that lies there.
        voice.copyPhase = {};
        voice.push.kind = PushKind::world;
        voice.push.direction = {1, 0, 0};
        copy = {};
        copy.axes = glm::mat3(glm::vec3(0, 0, -1), glm::vec3(0, 1, 0), glm::vec3(1, 0, 0));
        copy.scale = 2.0f;
        const auto turned = moved(0.25f, copy).positions;
        for (std::size_t v = 0; v < 5; ++v) {
            const glm::vec3 way = turned[v] - vertices.positions[v];
            QVERIFY(glm::distance(way, glm::vec3(0.0f, 0.0f, 0.075f)) < 1e-6f);
        }
    }
    void worldCoursesAreCarriedByTheCopy() {
        Voice voice = voiceOf(0, 0, 2, -1);
        LinearFields vertices(20);
        const Composition composition = composeScore(scoreOf({voice}), LinearFields::model());
        Copy copy;
        copy.origin = 1.7f * glm::normalize(voice.course.direction); // a wavelength down the course
        QVERIFY(largest(Run(composition)(vertices.fields, 0.4f, copy),
                        Run(composition)(vertices.fields, 0.4f)) < 1e-5f);
    }
    void voicesAddUpAndCanBeSilenced() {
        LinearFields vertices(30);
        const auto moved = [&](const std::vector<Voice>& voices) {
            return Run(composeScore(scoreOf(voices), LinearFields::model()))(vertices.fields, 0.2f).positions;
        };
        Voice a = voiceOf(0, 0, 1, 0);
        Voice b = voiceOf(3, 3, 4, 1);
        const auto both = moved({a, b});
        const auto first = moved({a});
        const auto second = moved({b});
        for (std::size_t v = 0; v < 30; ++v) {
            const glm::vec3 sum = first[v] + second[v] - vertices.positions[v];
            QVERIFY(glm::distance(both[v], sum) < 1e-6f);
        }
        b.muted = true;
        QCOMPARE(moved({a, b}), first);
        b.muted = false;
        b.solo = true;
        QCOMPARE(moved({a, b}), second);
        QCOMPARE(moved({}), vertices.positions); // an empty score moves nothing
        std::vector<Voice> fifty(50, a);
        for (Voice& voice : fifty) {
            voice.solo = false;
            voice.amplitude.value = a.amplitude.value / 50.0;
        }
        const auto many = moved(fifty);
        for (std::size_t v = 0; v < 30; ++v) {
            QVERIFY(glm::distance(many[v], first[v]) < 1e-5f);
        }
    }
    void anyNumberOfThreadsGivesTheSameBits() {
        LinearFields vertices(20000);
        const Composition composition =
            composeScore(scoreOf({voiceOf(4, 0, 1, 0), voiceOf(0, 5, 1, -1)}), LinearFields::model());
        const Run run(composition);
        Moved one;
        {
            const base::ThreadLimit limit(1);
            one = run(vertices.fields, 0.6f);
        }
        const Moved many = run(vertices.fields, 0.6f);
        QCOMPARE(many.positions, one.positions);
        QCOMPARE(many.normals, one.normals);
    }
    void theLoopsBoundsHoldEveryPose() {
        mesh::TestShape shape;
        shape.kind = "dome";
        const mesh::Mesh mesh = mesh::makeTestShape(shape);
        for (int push = 0; push < 7; ++push) {
            for (int kind = 0; kind < kShapes; ++kind) {
                Voice voice = voiceOf(kind, push, push % 2 ? 1 : 4, push % 2 - 1);
                voice.amplitude = {0.1, true};
                const Performance performance(scoreOf({voice}), mesh);
                const mesh::Bounds bounds = boundsOfLoop(performance).unturned;
                mesh::Bounds seen;
                std::vector<glm::vec3> p(mesh.vertexCount());
                for (int i = 0; i < 200; ++i) {
                    performance.pose(i / 200.0, {}, p, {});
                    seen.add(p);
                    QVERIFY(!findStray(i / 200.0, p, {}));
                }
                for (int c = 0; c < 3; ++c) {
                    QVERIFY2(bounds.min[c] <= seen.min[c] && bounds.max[c] >= seen.max[c],
                             voice.name.c_str());
                }
                // And not much larger: noise, whose bound is a bound, apart.
                if (voice.shape.kind != ShapeKind::noise) {
                    QVERIFY2(bounds.diagonal() < 1.35f * seen.diagonal(),
                             qPrintable(QString("%1: %2 against %3")
                                            .arg(voice.name.c_str())
                                            .arg(bounds.diagonal())
                                            .arg(seen.diagonal())));
                }
            }
        }
    }
    void theFurthestVertexIsFound() {
        mesh::TestShape shape;
        shape.kind = "sheet";
        const mesh::Mesh mesh = mesh::makeTestShape(shape);
        mesh::Bounds rest;
        rest.add(mesh.positions);
        Score score;
        score.voices.emplace_back();
        Voice& voice = score.voices[0];
        voice.course.kind = CourseKind::unison;
        voice.push.direction = {0, 1, 0};
        // Free in one corner only.
        for (const glm::vec3 way : {glm::vec3(1, 0, 0), glm::vec3(0, 0, -1)}) {
            MaskTerm term;
            term.direction = way;
            term.low = -static_cast<double>(0.5f * rest.diagonal());
            term.high = static_cast<double>(0.5f * rest.diagonal());
            voice.heldBy.push_back(term);
        }
        const glm::vec3 found = mesh.positions[furthestVertex({score, mesh})];
        QCOMPARE(found, glm::vec3(rest.max.x, 0.0f, rest.min.z));
    }
    void voicesHaveIdsOfTheirOwn() {
        Score score;
        for (const unsigned id : {3u, 0u, 3u, 7u, 0u}) {
            score.voices.emplace_back().id = id;
        }
        giveIds(score);
        std::vector<unsigned> ids;
        for (const Voice& voice : score.voices) {
            ids.push_back(voice.id);
        }
        QCOMPARE(ids, (std::vector<unsigned>{3, 8, 9, 7, 10})); // those that were alone keep theirs
    }
    void slopesOfLinearValuesAreExact() {
        mesh::TestShape shape;
        shape.kind = "sheet";
        mesh::Mesh mesh = mesh::makeTestShape(shape);
        std::vector<float> values;
        for (const glm::vec3& p : mesh.positions) {
            values.push_back(3.0f * p.x - 0.5f * p.z + 1.0f);
        }
        for (const glm::vec3& slope : surfaceSlopes(mesh, values)) {
            QVERIFY(glm::distance(slope, glm::vec3(3.0f, 0.0f, -0.5f)) < 1e-4f);
        }
    }
    void nothingMakesAnNaN() {
        // Vertices on the points and lines that distances are taken from; normals without length.
        LinearFields odd(4);
        odd.moveTo({{-1.3f, 0.4f, 1.2f}, {0.2f, -1.1f, 0.1f}, {0.05f, -0.2f, 0.3f}, {0, 0, 0}});
        odd.normals[3] = glm::vec3(0.0f);
        for (int shape = 0; shape < kShapes; ++shape) {
            for (int push = 0; push < kPushes; ++push) {
                for (int course = 0; course < kCourses; ++course) {
                    for (int mask = -1; mask < kMasks; ++mask) {
                        const motion::Composition composition = composeScore(
                            scoreOf({voiceOf(shape, push, course, mask)}), LinearFields::model());
                        const Run run(composition);
                        const Moved moved = run(odd.fields, 0.0f);
                        QVERIFY(!findStray(0.0, moved.positions, moved.normals));
                        QVERIFY(!findStray(0.0, moved.uvShift, {}));
                    }
                }
            }
        }
        const glm::vec3 bad(0.0f, std::nanf(""), 0.0f);
        const auto stray = findStray(3.25, std::vector<glm::vec3>{glm::vec3(0.0f), bad}, {});
        QVERIFY(stray && stray->vertex == 1 && stray->turn == 0.25);
    }
    void badNumbersNameTheVoiceAndTheField() {
        const auto problem = [](const std::function<void(Voice&)>& change,
                                Model model = LinearFields::model()) {
            Voice voice = voiceOf(0, 0, 1, 0);
            voice.name = "Tail sway";
            change(voice);
            return tests::problemOf([&] { composeScore(scoreOf({voice}), model); });
        };
        using tests::says;
        QVERIFY(
            says(problem([](Voice& v) { v.wavelength.value = 0.0; }), "Tail sway", "wavelength", "unison"));
        QVERIFY(says(problem([](Voice& v) { v.course.direction = glm::vec3(0.0f); }), "Tail sway", "course"));
        QVERIFY(says(problem([](Voice& v) { v.push.direction = glm::vec3(0.0f); }), "Tail sway",
                     "push direction"));
        QVERIFY(says(problem([](Voice& v) { v.amplitude.value = std::nan(""); }), "Tail sway", "amplitude"));
        QVERIFY(says(problem([](Voice& v) { v.heldBy[0].direction = glm::vec3(0.0f); }), "mask direction"));
        QVERIFY(says(problem([](Voice& v) { v.heldBy[0].floor = 1.5; }), "mask floor", "0 to 1"));
        QVERIFY(says(problem([](Voice& v) {
                         v.push.kind = PushKind::bend;
                         v.push.direction = v.push.length;
                     }),
                     "hinge", "across"));
        Model bare = LinearFields::model();
        bare.uvSets = 0;
        bare.colours = false;
        bare.stored.clear();
        QVERIFY(
            says(problem([](Voice& v) { v.course.kind = CourseKind::uv; }, bare), "Tail sway", "UV set 1"));
        QVERIFY(says(problem([](Voice& v) { v.heldBy[0].kind = MaskKind::colour; }, bare), "vertex colours"));
        QVERIFY(says(problem(
                         [](Voice& v) {
                             v.heldBy[0].kind = MaskKind::stored;
                             v.heldBy[0].stored = "age";
                         },
                         bare),
                     "Tail sway", "\"age\""));
        Score endless = scoreOf({});
        endless.loopSeconds = 0.0;
        QVERIFY(says(tests::problemOf([&] { composeScore(endless, bare); }), "loop length"));
    }
    void turnsThatDoNotCloseNameThoseThatDo() {
        QCOMPARE(wholeTurns(3.0, "x"), 3);
        QCOMPARE(wholeTurns(-2.0, "x"), -2);
        QVERIFY(tests::says(tests::problemOf([] { wholeTurns(1.2, "voice \"Glide\", turns"); }), "Glide",
                            "1.2 turns", "1 or 2 do"));
        QVERIFY(tests::says(tests::problemOf([] { wholeTurns(std::nan(""), "x"); }), "no number"));
    }
    void graphsShareAndSimplify() {
        Graph g;
        const Number a = {&g, g.add(Op::uv, {}, 0)};
        const Number b = {&g, g.add(Op::uv, {}, 1)};
        QCOMPARE((a + b).id, (a + b).id);
        QCOMPARE((0.0f * a).id, g.constant(0.0f));
        QCOMPARE((1.0f * a).id, a.id);
        QCOMPARE((2.0f * (3.0f * a)).id, (6.0f * a).id);
        QCOMPARE((-(-a)).id, a.id);
        QCOMPARE(component(compose(a, b, a), 1).id, b.id);
        QCOMPARE(dot(vec3(g, {0, 2, 0}), compose(a, b, a)).id, (2.0f * b).id);
        QVERIFY_EXCEPTION_THROWN(g.add(Op::add, {a.id, g.add(Op::position)}), std::logic_error);
        QVERIFY_EXCEPTION_THROWN(g.add(Op::sine, {a.id}), std::logic_error); // a number is no turn
    }
    /// The velocity is what central differences of the position tend to, wherever nothing has a kink near by.
    void velocitiesAreDerivatives() {
        const LinearFields vertices(200);
        constexpr float kStep = 1e-3f;
        for (int shape = 0; shape < kShapes; ++shape) {
            for (int push = 0; push < kPushes; ++push) {
                Composition composition =
                    composeScore(scoreOf({voiceOf(shape, push, (shape + push) % kCourses, push % kMasks)}),
                                 LinearFields::model());
                const NodeId velocity = addVelocity(composition);
                const auto at = [&](NodeId root, float turn) {
                    std::vector<glm::vec3> values(vertices.fields.size());
                    const NodeId roots[] = {root};
                    const Evaluator::Target target{{}, values};
                    Evaluator(composition.graph, roots).run(vertices.fields, {}, turn, {&target, 1});
                    return values;
                };
                const auto exact = at(velocity, 0.37f);
                const auto after = at(composition.position, 0.37f + kStep);
                const auto before = at(composition.position, 0.37f - kStep);
                std::size_t off = 0;
                float most = 0.0f;
                for (std::size_t v = 0; v < exact.size(); ++v) {
                    const glm::vec3 difference = (after[v] - before[v]) / (2.0f * kStep);
                    const float speed = glm::length(exact[v]);
                    most = std::max(most, speed);
                    off += glm::distance(exact[v], difference) > 2e-3f + 0.01f * speed;
                }
                const PushRow& row = pushKinds()[static_cast<std::size_t>(push)];
                // Textures move no vertex, and what makes way waits for the game to move its point.
                QCOMPARE(most > 0.0f, row.moves() && !row.followsMover);
                QVERIFY2(off <= exact.size() / 20,
                         qPrintable(QString("%1 %2: %3")
                                        .arg(shapeKinds()[static_cast<std::size_t>(shape)].id,
                                             pushKinds()[static_cast<std::size_t>(push)].id)
                                        .arg(off)));
            }
        }
    }
};

static const ripple::tests::SuiteOf<TestMotion> kSuite;
#include "test_motion.moc"
