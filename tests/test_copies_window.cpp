// Copies of the model, drawn by instances that read where they stand and what they play from a buffer.

#include "analytic_source.h"
#include "real_window.h"
#include "suite.h"

#include "app/stage/offscreen_gl.h"
#include "emit/score_code.h"
#include "mesh/test_shapes.h"
#include "motion/perform.h"
#include "scatter/merged.h"
#include "app/stage/scene_renderer.h"
#include "motion/perform.h"
#include "voices.h"

#include <QTest>

#include <set>

#include <glm/gtc/matrix_transform.hpp>
#include <glm/gtc/quaternion.hpp>

using namespace ripple;
using namespace ripple::app;

namespace {

constexpr int kWidth = 400;
constexpr int kHeight = 300;

glm::vec3 placed(const DrawnCopy& copy, const glm::vec3& p) {
    const glm::quat rotation(copy.rotation.w, copy.rotation.x, copy.rotation.y, copy.rotation.z);
    return copy.origin + copy.scale * (rotation * p);
}

/// The copies as one mesh, made on the processor.
mesh::Mesh merged(const mesh::Mesh& one, const std::vector<DrawnCopy>& copies) {
    mesh::Mesh all = one;
    all.positions.clear();
    all.normals.clear();
    all.uvSets[0].clear();
    all.indices.clear();
    for (const DrawnCopy& copy : copies) {
        const auto first = static_cast<std::uint32_t>(all.positions.size());
        for (std::size_t v = 0; v < one.vertexCount(); ++v) {
            DrawnCopy direction = copy;
            direction.origin = glm::vec3(0.0f);
            direction.scale = 1.0f;
            all.positions.push_back(placed(copy, one.positions[v]));
            all.normals.push_back(placed(direction, one.normals[v]));
            all.uvSets[0].push_back(one.uvSets[0][v]);
        }
        for (const std::uint32_t index : one.indices) {
            all.indices.push_back(first + index);
        }
    }
    all.parts[0].vertexCount = static_cast<std::uint32_t>(all.positions.size());
    all.parts[0].indexCount = static_cast<std::uint32_t>(all.indices.size());
    return all;
}

DrawnCopy copyAt(const glm::vec3& origin, float scale, float degrees) {
    DrawnCopy copy;
    copy.origin = origin;
    copy.scale = scale;
    const float half = glm::radians(0.5f * degrees);
    copy.rotation = {0.0f, std::sin(half), 0.0f, std::cos(half)};
    return copy;
}

SceneView viewOf(const mesh::Bounds& bounds) {
    SceneView view;
    view.eye = glm::vec3(0.0f, 5.0f, 9.0f);
    view.viewProjection = glm::perspective(0.8f, static_cast<float>(kWidth) / kHeight, 0.1f, 100.0f) *
                          glm::lookAt(view.eye, glm::vec3(0.0f), glm::vec3(0.0f, 1.0f, 0.0f));
    view.width = kWidth;
    view.height = kHeight;
    view.bounds = bounds;
    return view;
}

} // namespace

class TestCopiesWindow : public QObject {
    Q_OBJECT

    OffscreenGl gl_;
    SceneRenderer renderer_;
    std::unique_ptr<tests::AnalyticSource> source_;
    std::shared_ptr<const PreparedMesh> prepared_;
    mesh::Bounds bounds_; ///< of all copies

    void show(const mesh::Mesh& mesh) {
        prepared_ = prepareMesh(mesh, true);
        renderer_.beginMesh(mesh, *prepared_);
        renderer_.meshPieces().workAll();
    }
    QImage drawn(const SceneView& view) {
        renderer_.draw(view);
        return renderer_.image().copy();
    }
    static mesh::Bounds boundsOf(const mesh::Mesh& mesh) {
        mesh::Bounds bounds;
        bounds.add(mesh.positions);
        return bounds;
    }

private Q_SLOTS:
    void initTestCase() {
        QVERIFY(gl_.create() && gl_.makeCurrent());
        QVERIFY2(renderer_.initialise(), qPrintable(renderer_.problem()));
        source_ = std::make_unique<tests::AnalyticSource>(20, tests::timed(1.0), tests::wave(1.0));
        bounds_.add(glm::vec3(-4.0f, -0.4f, -4.0f));
        bounds_.add(glm::vec3(4.0f, 0.4f, 4.0f));
    }
    void cleanupTestCase() { renderer_.release(); }

    void mergedOnesAreWhatOneMeshWouldBe_data() {
        QTest::addColumn<int>("keeps");
        QTest::addColumn<double>("most"); // mean difference to separate ones
        QTest::addColumn<double>("least");
        QTest::newRow("nothing") << static_cast<int>(scatter::Keeps::nothing) << 255.0 << 0.1;
        QTest::newRow("uvs") << static_cast<int>(scatter::Keeps::uvs) << 0.02 << -1.0;
        QTest::newRow("colours") << static_cast<int>(scatter::Keeps::colours) << 1.0 << 0.0;
    }
    void mergedOnesAreWhatOneMeshWouldBe() {
        QFETCH(const int, keeps);
        QFETCH(const double, most);
        QFETCH(const double, least);
        // A score that reads height, a distance, the copy's number, and bends about a pivot.
        const mesh::Mesh one = mesh::makeTestShape({"rod", 1.0, 10, 12});
        motion::Voice bend;
        bend.id = 1;
        bend.push.kind = motion::PushKind::bend;
        bend.course.kind = motion::CourseKind::unison;
        bend.push.span = {1.0, false};
        bend.push.direction = {0.0f, 0.0f, 1.0f};
        bend.degrees = 50.0;
        bend.copyPhase.kind = motion::PhaseKind::id;
        motion::Score score;
        score.voices = {bend};
        const motion::Performance performance(score, one);
        const auto code = emit::scoreCode(emit::glsl(), "rod", performance.composition(),
                                          {.numbers = emit::Numbers::loose});
        std::vector<DrawnCopy> copies;
        for (int c = 0; c < 3; ++c) {
            DrawnCopy copy = copyAt({2.3f * static_cast<float>(c - 1), 0.0f, 0.7f * static_cast<float>(c)},
                                    1.0f, 40.0f * static_cast<float>(c));
            copy.id = 0.0f; // colours do not keep it
            copy.turn = 0.3f;
            copies.push_back(copy);
        }
        mesh::Bounds box;
        for (const DrawnCopy& copy : copies) {
            box.add(copy.origin);
        }
        SceneView view = viewOf(bounds_);
        view.scored = true;
        view.shadows = false;
        show(one);
        const auto picture = [&](const std::optional<scatter::Keeps>& merged) {
            CrowdView crowd{boundsOf(one)};
            crowd.merged = merged;
            crowd.box = box;
            renderer_.setMerged(merged, box);
            if (!renderer_.setScore(code, "rod", performance.fields())) {
                qWarning("%s", qPrintable(renderer_.problem()));
            }
            renderer_.setCopies(copies, crowd);
            return drawn(view);
        };
        const QImage separate = picture({});
        QVERIFY(renderer_.hasScore());
        const QImage merged = picture(static_cast<scatter::Keeps>(keeps));
        QVERIFY(renderer_.hasScore());
        const double off = tests::difference(separate, merged);
        QVERIFY2(off < most && off > least, qPrintable(QString::number(off)));
        if (keeps == static_cast<int>(scatter::Keeps::nothing)) {
            // The very mesh that they make, moved by the same code as one copy.
            std::vector<scatter::Copy> placed;
            for (const DrawnCopy& copy : copies) {
                scatter::Copy made;
                made.origin = copy.origin;
                made.rotation = {copy.rotation.w, copy.rotation.x, copy.rotation.y, copy.rotation.z};
                made.own.size = copy.scale;
                placed.push_back(made);
            }
            const scatter::Merged all = scatter::mergeCopies(one, placed, scatter::Keeps::nothing);
            renderer_.setCopies({}, {});
            show(all.mesh);
            const motion::Performance whole(score, all.mesh);
            motion::VertexFields fields = whole.fields();
            renderer_.setMerged({}, {});
            QVERIFY(renderer_.setScore(code, "rod", fields));
            view.turn = 0.3f;
            QVERIFY2(tests::difference(drawn(view), merged) < 0.02, "one mesh");
        }
        renderer_.setMerged({}, {});
        renderer_.setCopies({}, {});
        renderer_.clearScore();
    }
    void drawsDoNotGrowWithCopies() {
        show(source_->mesh());
        std::vector<DrawnCopy> copies;
        std::set<std::size_t> draws;
        for (const int count : {2, 40, 2000}) {
            copies.clear();
            for (int c = 0; c < count; ++c) {
                copies.push_back(
                    copyAt({0.003f * static_cast<float>(c), 0.0f, 0.0f}, 0.2f, 5.0f * static_cast<float>(c)));
            }
            renderer_.setCopies(copies, {boundsOf(source_->mesh())});
            drawn(viewOf(bounds_));
            draws.insert(renderer_.drawCalls());
        }
        QCOMPARE(draws.size(), std::size_t(1));
        QVERIFY(*draws.begin() > 0);
        renderer_.setCopies({}, {});
    }
    void standWhereTheyAreToStand() {
        const mesh::Mesh& one = source_->mesh();
        const std::vector<DrawnCopy> copies = {copyAt({-2.5f, 0.0f, 0.0f}, 1.0f, 30.0f),
                                               copyAt({1.0f, 0.3f, 1.5f}, 0.6f, -75.0f),
                                               copyAt({2.0f, 0.0f, -2.0f}, 1.2f, 160.0f)};
        for (const bool draft : {false, true}) {
            SceneView view = viewOf(bounds_);
            view.draft = draft;
            show(one);
            const QImage alone = drawn(view);
            renderer_.setCopies(copies, {boundsOf(one)});
            const QImage instances = drawn(view);
            QVERIFY(tests::difference(alone, instances) > 1.0);
            QCOMPARE(renderer_.copiesSeen(), std::size_t{3});
            const mesh::Mesh all = merged(one, copies);
            renderer_.setCopies({}, {});
            show(all);
            QVERIFY2(tests::difference(drawn(view), instances) < 0.02, draft ? "draft" : "finished");
        }
    }
    void outsideTheViewTheyAreLeftOut() {
        show(source_->mesh());
        const std::vector<DrawnCopy> both = {copyAt({0.0f, 0.0f, 0.0f}, 1.0f, 0.0f),
                                             copyAt({0.0f, 0.0f, 40.0f}, 1.0f, 0.0f)}; // behind the eye
        renderer_.setCopies(both, {boundsOf(source_->mesh())});
        const QImage with = drawn(viewOf(bounds_));
        QCOMPARE(renderer_.copiesSeen(), std::size_t{1});
        renderer_.setCopies({both[0]}, {boundsOf(source_->mesh())});
        QCOMPARE(tests::difference(drawn(viewOf(bounds_)), with), 0.0);
    }
    void areTinted() {
        show(source_->mesh());
        DrawnCopy copy = copyAt({0.0f, 0.0f, 0.0f}, 2.0f, 0.0f);
        const auto middle = [&] {
            renderer_.setCopies({copy}, {boundsOf(source_->mesh())});
            return drawn(viewOf(bounds_)).pixelColor(kWidth / 2, kHeight / 2);
        };
        const QColor plain = middle();
        copy.tint = glm::vec3(1.0f, 0.1f, 0.1f);
        const QColor red = middle();
        QVERIFY(std::abs(red.red() - plain.red()) <= 1);
        QVERIFY(red.green() < 0.7 * plain.green() && red.blue() < 0.7 * plain.blue());
    }
    void playWhatTheySayAndFadeBetween() {
        const bake::Baked baked = bake::bake(*source_, {});
        show(source_->mesh());
        QVERIFY(renderer_.setBake(std::make_shared<const bake::Baked>(baked), source_->mesh(), "sheet"));
        SceneView view = viewOf(bounds_);
        view.shadows = false; // of one alone the source casts it, which stands still here
        view.curtain = 0;     // all of it is decoded
        const auto plain = [&](float frame) {
            renderer_.setCopies({}, {});
            view.frame = frame;
            return drawn(view);
        };
        const auto copy = [&](float frame, float before, float fade) {
            DrawnCopy made;
            made.frame = frame;
            made.frameBefore = before;
            made.fade = fade;
            renderer_.setCopies({made}, {boundsOf(source_->mesh())});
            view.frame = 0.0f; // is not asked
            return drawn(view);
        };
        const QImage seven = plain(7.0f);
        const QImage fifteen = plain(15.0f);
        QCOMPARE(tests::difference(copy(7.0f, 0.0f, 1.0f), seven), 0.0);
        QCOMPARE(tests::difference(copy(7.0f, 15.0f, 0.0f), fifteen), 0.0);
        const QImage between = copy(7.0f, 15.0f, 0.5f);
        QVERIFY(tests::difference(between, seven) > 0.2 && tests::difference(between, fifteen) > 0.2);
        renderer_.clearBake();
    }
    void scoresTakeWhatTheCopyIs() {
        motion::Voice voice = tests::voiceOf(0, 0, 0, -1);
        voice.copyPhase.kind = motion::PhaseKind::id;
        const motion::Score score = tests::scoreOf({voice});
        const motion::Performance performance(score, source_->mesh());
        show(source_->mesh());
        QVERIFY(renderer_.setScore(emit::scoreCode(emit::glsl(), "sheet", performance.composition(),
                                                   {.numbers = emit::Numbers::loose}),
                                   "sheet", performance.fields()));
        SceneView view = viewOf(bounds_);
        view.scored = true;
        const auto picture = [&](float id, float turn) {
            DrawnCopy copy;
            copy.id = id;
            copy.turn = turn;
            renderer_.setCopies({copy}, {boundsOf(source_->mesh())});
            return drawn(view);
        };
        const QImage first = picture(0.0f, 0.25f);
        QVERIFY(tests::difference(picture(0.5f, 0.25f), first) > 0.2); // half a turn apart
        renderer_.setCopies({}, {});
        view.turn = 0.25f;
        QCOMPARE(tests::difference(drawn(view), first), 0.0); // alone it has the number 0
    }
};

static const ripple::tests::SuiteOf<TestCopiesWindow> kSuite;
#include "test_copies_window.moc"
