// The bounds that a score's bundle states hold every copy: wherever it stands, however it is turned, of the
// sizes that the manifest names.

#include "base/files.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "bundle/check_score.h"
#include "bundle/score_bundle.h"
#include "bundle/score_manifest.h"
#include "motion/kinds.h"
#include "motion/perform.h"
#include "motion/ready_scores.h"
#include "source/shape_source.h"
#include "suite.h"
#include "voices.h"

#include <QTemporaryDir>
#include <QTest>

#include <random>

#include <glm/gtc/quaternion.hpp>

using namespace ripple;

class TestCopiesBounds : public QObject {
    Q_OBJECT

    QTemporaryDir out_;
    std::shared_ptr<const source::FrameSource> sheet_ = source::openTestShape({"sheet", 2.0, 9, 9}, {});

    bundle::ScoreManifest write(const motion::Score& score, const bundle::ScoreChoices& choices = {}) {
        bundle::Origin origin;
        origin.score = std::make_shared<motion::Score>(score);
        base::Progress progress;
        return bundle::writeScoreBundle(*sheet_, origin, out_.filePath("copies").toStdString(), choices,
                                        progress);
    }
    /// The furthest that any of many copies gets in its own space, and those of them that are not turned.
    struct Reached {
        mesh::Bounds all;
        mesh::Bounds unturned;
    };
    Reached reachedBy(const motion::Score& score, const std::array<float, 2>& sizes, unsigned seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<float> any(-1.0f, 1.0f);
        Reached reached;
        const motion::Performance performance(score, sheet_->mesh());
        std::vector<glm::vec3> p(sheet_->mesh().vertexCount());
        for (int c = 0; c < 240; ++c) {
            motion::Copy copy;
            copy.id = 0.5f + 0.499f * any(random);
            copy.origin = (c % 3 ? 12.0f : 800.0f) * glm::vec3(any(random), any(random), any(random));
            const bool turned = c % 4 != 0;
            if (turned) {
                const auto turn = glm::quat(any(random), any(random), any(random), any(random));
                const auto yaw = glm::angleAxis(3.1416f * any(random), glm::vec3(0.0f, 1.0f, 0.0f));
                copy.axes = glm::mat3_cast(c % 4 == 1 ? yaw : glm::normalize(turn));
                copy.scale = c % 5 == 0 ? sizes[c % 2] : sizes[0] + (sizes[1] - sizes[0]) * copy.id;
            }
            performance.pose(0.5 + 0.499 * static_cast<double>(any(random)), copy, p, {});
            (turned ? reached.all : reached.unturned).add(p);
            reached.all.add(p);
        }
        return reached;
    }
    static bool holds(const mesh::Bounds& box, const mesh::Bounds& inner) {
        return glm::all(glm::lessThanEqual(box.min, inner.min)) &&
               glm::all(glm::greaterThanEqual(box.max, inner.max));
    }
    /// And is no larger than that by more than so many times: interval arithmetic does not see what turns
    /// together.
    void holdsEveryCopy(const motion::Score& score, float looser) {
        const bundle::ScoreManifest manifest = write(score);
        const Reached reached = reachedBy(score, *manifest.copySizes, 7);
        QVERIFY2(holds(manifest.bounds, reached.all), score.name.c_str());
        QVERIFY2(holds(manifest.unturnedBounds, reached.unturned), score.name.c_str());
        QVERIFY(holds(manifest.bounds, manifest.unturnedBounds));
        const float times = manifest.bounds.diagonal() / reached.all.diagonal();
        QVERIFY2(times < looser, qPrintable(QString("%1: %2").arg(score.name.c_str()).arg(times)));
    }

private Q_SLOTS:
    void readyScores() {
        for (const motion::ReadyScore& ready : motion::readyScores()) {
            holdsEveryCopy(motion::makeReady(ready, sheet_->mesh()), 1.25f);
        }
    }
    void everyPushAndCourse() {
        for (int push = 0; push < static_cast<int>(motion::pushKinds().size()); ++push) {
            for (int course = 0; course < static_cast<int>(motion::courseKinds().size()); ++course) {
                motion::Voice voice = tests::voiceOf(push % 3, push, course, -1);
                voice.copyPhase.kind = motion::phaseKinds()[static_cast<std::size_t>(push + course) % 3].kind;
                voice.course.uvSet = 0;
                motion::Score score = tests::scoreOf({voice});
                score.name = voice.name;
                holdsEveryCopy(score, 1.6f);
            }
        }
    }
    /// Two voices that cancel at the origin add up where the second one is half a turn later.
    void phasesByPlace() {
        motion::Voice first = tests::voiceOf(0, 0, 0, -1);
        first.push.direction = {0.0f, 1.0f, 0.0f};
        first.amplitude = {0.5, false};
        first.phase = 0.0;
        motion::Voice second = first;
        second.phase = 0.5;
        second.copyPhase.kind = motion::PhaseKind::world;
        second.copyPhase.wavelength = 10.0;
        const bundle::ScoreManifest manifest = write(tests::scoreOf({first, second}));
        // Both swing by half a metre, so by one metre at most.
        QVERIFY(std::abs(manifest.bounds.max.y - 1.0f) < 0.01f);
        QVERIFY(std::abs(manifest.bounds.min.y + 1.0f) < 0.01f);
        QVERIFY(manifest.unturnedBounds == manifest.bounds); // no direction of the world
    }
    /// Half a metre along the world's X is half a metre in any direction of a turned copy, a whole one in the
    /// lengths of one of half the size, and along its own X where it is neither.
    void pushesOfTheWorld() {
        motion::Voice voice = tests::voiceOf(0, 1, 0, -1);
        voice.push.direction = {1.0f, 0.0f, 0.0f};
        voice.amplitude = {0.5, false};
        voice.course.kind = motion::CourseKind::unison;
        const bundle::ScoreManifest manifest = write(tests::scoreOf({voice}));
        QVERIFY(manifest.copySizes == (std::array{0.5f, 2.0f}));
        const mesh::Bounds rest = [&] {
            mesh::Bounds box;
            box.add(sheet_->mesh().positions);
            return box;
        }();
        for (int c = 0; c < 3; ++c) {
            QVERIFY(std::abs(manifest.bounds.max[c] - rest.max[c] - 1.0f) < 0.01f);
            QVERIFY(std::abs(manifest.bounds.min[c] - rest.min[c] + 1.0f) < 0.01f);
            const float own = c == 0 ? 0.5f : 0.0f;
            QVERIFY(std::abs(manifest.unturnedBounds.max[c] - rest.max[c] - own) < 0.01f);
        }
        // Smaller copies, where they are asked for, reach further; the test file and check know of it.
        bundle::ScoreChoices small;
        small.copySizes = {0.1f, 1.0f};
        small.target = bundle::readyTargets()[1];
        const bundle::ScoreManifest of = write(tests::scoreOf({voice}), small);
        QVERIFY(std::abs(of.target.space().back().of(of.bounds).max.x - rest.max.x - 5.0f) < 0.05f);
        QVERIFY(bundle::check(out_.filePath("copies").toStdString(), nullptr).problems.empty());
        write(tests::scoreOf({voice}));
        // A check goes by copies, too: a box of the plain object alone is too small.
        const std::filesystem::path folder = out_.filePath("copies").toStdString();
        QVERIFY(bundle::check(folder, nullptr).problems.empty());
        bundle::ScoreManifest narrow = bundle::readScoreManifest(folder);
        narrow.bounds = narrow.unturnedBounds;
        base::writeFile(folder / "copies.bundle.json", bundle::scoreManifestText(narrow));
        QString said;
        for (const base::Problem& problem : bundle::check(folder, nullptr).problems) {
            said += QString::fromStdString(problem.line()) + "\n";
        }
        QVERIFY2(said.contains("moves out of the bounds"), qPrintable(said));
    }
};

static const ripple::tests::SuiteOf<TestCopiesBounds> kSuite;
#include "test_copies_bounds.moc"
