// Handles of a voice on the model: where they are, what a drag writes, and where the pointer takes them.

#include "app/stage/score_handles.h"
#include "emit/score_code.h"
#include "mesh/test_shapes.h"
#include "motion/perform.h"
#include "suite.h"

#include <QTest>

#include <cmath>

#include <glm/geometric.hpp>

using namespace ripple;
using namespace ripple::app;

namespace {

mesh::Bounds box() {
    mesh::Bounds bounds;
    bounds.add(glm::vec3(-1.0f, 0.0f, -0.5f));
    bounds.add(glm::vec3(1.0f, 2.0f, 0.5f));
    return bounds;
}

constexpr double kSize = 3.0;

ScoreHandle handleOf(const motion::Voice& voice, const char* name) {
    for (ScoreHandle& handle : scoreHandles(voice, box(), kSize)) {
        if (handle.name == name) {
            return handle;
        }
    }
    return {};
}

bool near(const glm::vec3& a, const glm::vec3& b) {
    return glm::distance(a, b) < 1e-5f;
}

/// From in front, looking along −Z at x, y.
Ray from(float x, float y) {
    return {{x, y, 10.0f}, {0.0f, 0.0f, -1.0f}};
}

const glm::vec3 kScreen(0.0f, 0.0f, -1.0f);

} // namespace

class TestScoreHandles : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void aPlaneStandsAtItsValueAndSlides() {
        motion::Voice voice;
        motion::MaskTerm term;
        term.direction = {0.0f, 3.0f, 0.0f}; // of any length
        term.point = {0.0f, 0.5f, 0.0f};
        term.low = 0.2;
        term.high = 1.0;
        voice.heldBy = {term};
        const ScoreHandle high = handleOf(voice, "high 0");
        QVERIFY(near(high.at, {0.0f, 1.5f, 0.0f})); // in the middle of the model
        QVERIFY(high.words.contains("1.00 m"));
        QVERIFY(!high.faint && handleOf(voice, "low 0").faint);
        const glm::vec3 to = draggedTo(high, from(0.7f, 1.1f), kScreen);
        QVERIFY(near(to, {0.0f, 1.1f, 0.0f})); // what is aside of the line does not count
        high.move(voice, to);
        QVERIFY(std::abs(voice.heldBy[0].high - 0.6) < 1e-6);
        QCOMPARE(voice.heldBy[0].low, 0.2);
        QVERIFY(near(handleOf(voice, "high 0").at, to)); // it stays under the pointer
        // Looked at along its line there is nothing to slide on.
        const Ray above{{0.3f, 9.0f, 0.0f}, {0.0f, -1.0f, 0.0f}};
        QVERIFY(near(draggedTo(high, above, {0, -1, 0}), high.at));
        voice.heldBy[0].flip = true;
        QVERIFY(handleOf(voice, "high 0").faint); // now that end is still
    }
    void aRadiusIsNeverBelowNothing() {
        motion::Voice voice;
        motion::MaskTerm term;
        term.kind = motion::MaskKind::point;
        term.point = {0.5f, 1.0f, 0.0f};
        term.low = 0.1;
        term.high = 0.4;
        voice.heldBy = {term};
        const ScoreHandle high = handleOf(voice, "high 0");
        QVERIFY(std::abs(glm::distance(high.at, term.point) - 0.4f) < 1e-6f);
        high.move(voice, high.origin - high.way);
        QCOMPARE(voice.heldBy[0].high, 0.0);
        handleOf(voice, "mask point 0").move(voice, {0.1f, 0.2f, 0.3f});
        QCOMPARE(voice.heldBy[0].point, glm::vec3(0.1f, 0.2f, 0.3f));
    }
    void directionsGoRoundAndSnapToAxes() {
        motion::Voice voice;
        voice.push.kind = motion::PushKind::direction;
        voice.push.direction = {1.0f, 0.0f, 0.0f};
        const ScoreHandle push = handleOf(voice, "push");
        const float radius = glm::distance(push.at, push.origin);
        // A third of the radius up on the near side: neither end of an axis.
        const glm::vec3 to = draggedTo(push, from(push.origin.x, push.origin.y + radius / 3.0f), kScreen);
        QVERIFY(std::abs(glm::distance(to, push.origin) - radius) < 1e-5f);
        push.move(voice, to);
        QVERIFY(near(voice.push.direction, {0.0f, 1.0f / 3.0f, std::sqrt(8.0f) / 3.0f}));
        // Beside the sphere and 2° off Y: Y.
        const auto beside = push.origin + 2.0f * radius * glm::vec3(std::sin(0.035f), std::cos(0.035f), 0.0f);
        push.move(voice, draggedTo(push, from(beside.x, beside.y), kScreen));
        QCOMPARE(voice.push.direction, glm::vec3(0.0f, 1.0f, 0.0f));
    }
    void aPivotMovesInTheScreensPlane() {
        motion::Voice voice;
        voice.push.kind = motion::PushKind::bend;
        voice.push.point = {0.2f, 0.4f, 0.3f};
        voice.push.length = {0.0f, 1.0f, 0.0f};
        voice.push.span = {0.5, true};
        const ScoreHandle pivot = handleOf(voice, "pivot");
        pivot.move(voice, draggedTo(pivot, from(-0.6f, 0.9f), kScreen));
        QVERIFY(near(voice.push.point, {-0.6f, 0.9f, 0.3f})); // as deep as it was
        // Half of a size of 3 m; dragged to 0.75 m it is a quarter.
        const ScoreHandle span = handleOf(voice, "span");
        QVERIFY(near(span.at, {-0.6f, 2.4f, 0.3f}));
        span.move(voice, {-0.6f, 1.65f, 0.3f});
        QVERIFY(voice.push.span.ofSize && std::abs(voice.push.span.value - 0.25) < 1e-6);
        handleOf(voice, "hinge").move(voice, voice.push.point + glm::vec3(0.0f, 0.0f, 2.0f));
        QCOMPARE(voice.push.direction, glm::vec3(0.0f, 0.0f, 1.0f));
    }
    void aWaveKeepsSomeLengthAndItsWay() {
        motion::Voice voice;
        voice.course.direction = {0.0f, 0.0f, -1.0f};
        voice.wavelength = {0.8, false};
        const ScoreHandle wave = handleOf(voice, "wavelength");
        QVERIFY(near(wave.at, box().centre() + glm::vec3(0.0f, 0.0f, -0.8f)));
        wave.move(voice, wave.origin + 1.1f * wave.way);
        QVERIFY(std::abs(voice.wavelength.value - 1.1) < 1e-6);
        wave.move(voice, wave.origin - wave.way); // through nothing: the least there is
        QVERIFY(std::abs(voice.wavelength.value - 1e-3 * kSize) < 1e-9);
        // Of a wave of 6 m on a model of 3 m a quarter can be reached: 1.5 m.
        voice.wavelength = {2.0, true};
        const ScoreHandle part = handleOf(voice, "wavelength");
        QVERIFY(part.caption.contains("1/4"));
        QVERIFY(near(part.at, box().centre() + glm::vec3(0.0f, 0.0f, -1.5f)));
        part.move(voice, part.origin + 1.2f * part.way);
        QVERIFY(std::abs(voice.wavelength.value - 1.6) < 1e-6); // 4.8 m of 3 m
        // Its other handle stands where the wave comes from.
        const ScoreHandle course = handleOf(voice, "course");
        course.move(voice, course.origin + glm::vec3(-2.0f, 0.0f, 0.0f));
        QCOMPARE(voice.course.direction, glm::vec3(1.0f, 0.0f, 0.0f));
        voice.course.kind = motion::CourseKind::unison;
        QVERIFY(handleOf(voice, "wavelength").name.isEmpty());
    }
    void theBoxIsWrittenIntoTheCode() {
        const mesh::Mesh mesh = mesh::makeTestShape({"sheet", 1.0, 4, 4});
        motion::Score score;
        score.name = "still";
        motion::Voice voice;
        voice.name = "lift";
        voice.course.kind = motion::CourseKind::unison;
        voice.push.direction = {0.0f, 1.0f, 0.0f};
        voice.amplitude = {0.25, false};
        score.voices = {voice};
        const motion::Performance performance(score, mesh);
        mesh::Bounds bounds;
        bounds.add(glm::vec3(-0.5f, -0.25f, 0.0f));
        bounds.add(glm::vec3(0.5f, 1.25f, 0.125f));
        const auto with = emit::scoreCode(emit::glsl(), "still", performance.composition(),
                                          {.bounds = motion::LoopBounds{bounds, bounds}});
        QVERIFY(with.code.find("const vec3 still_bounds_min = vec3(-0.5, -0.25, 0.0);") != std::string::npos);
        QVERIFY(with.code.find("const vec3 still_bounds_max = vec3(0.5, 1.25, 0.125);") != std::string::npos);
        const auto without = emit::scoreCode(emit::glsl(), "still", performance.composition());
        QVERIFY(without.code.find("bounds") == std::string::npos);
    }
    void aPerformanceLikeAnotherGivesTheSame() {
        const mesh::Mesh mesh = mesh::makeTestShape({"sheet", 1.0, 12, 9});
        motion::Score score;
        motion::Voice voice;
        voice.name = "wave";
        voice.course.kind = motion::CourseKind::uv;
        voice.wavelength = {0.5, false};
        score.voices = {voice};
        const motion::Performance before(score, mesh);
        score.voices[0].course.uvAxis = 1; // other values than are kept
        score.voices[0].amplitude = {0.3, false};
        const motion::Performance fresh(score, mesh);
        const motion::Performance shared(score, mesh, &before);
        std::vector<glm::vec3> a(mesh.vertexCount());
        std::vector<glm::vec3> b(a.size());
        std::vector<glm::vec3> n(a.size());
        std::vector<glm::vec3> m(a.size());
        fresh.pose(0.31, {}, a, n);
        shared.pose(0.31, {}, b, m);
        QVERIFY(a == b && n == m);
        QVERIFY(a != mesh.positions);
    }
};

static const ripple::tests::SuiteOf<TestScoreHandles> kSuite;
#include "test_score_handles.moc"
