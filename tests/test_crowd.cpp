// Crowds: what copies play and where they go, feet that slide, levels of detail, copies in one mesh.

#include "problem_of.h"
#include "bake/frame_blend.h"
#include "mesh/normals.h"
#include "mesh/test_shapes.h"
#include "motion/perform.h"
#include "scatter/choices.h"
#include "scatter/crowd_history.h"
#include "scatter/feet.h"
#include "scatter/levels.h"
#include "scatter/merged.h"
#include "source/open.h"
#include "suite.h"

#include <QTest>

#include <atomic>
#include <cmath>
#include <cstdlib>
#include <new>

#include <glm/geometric.hpp>

using namespace ripple;
using namespace ripple::scatter;

namespace {

std::atomic<long> gAllocations{0};

constexpr float kTau = 6.2831853f;

CrowdChoices flock(Travel travel) {
    CrowdChoices choices;
    choices.clips = {{32.0f, 30.0f, true, 0.4f}, {80.0f, 30.0f, false, 0.0f}, {60.0f, 30.0f, true, 1.2f}};
    choices.differences.clipWeights = {3.0f, 1.0f, 1.0f};
    choices.differences.rateSpread = 0.1f;
    choices.differences.leastSize = 0.8f;
    choices.differences.mostSize = 1.2f;
    choices.fades.assign(9, 0.4f);
    choices.travel = travel;
    choices.area = {20.0f, 5.0f, 20.0f};
    return choices;
}

std::vector<Copy> placed(std::size_t count, const CrowdChoices& choices, const char* pattern = "grid",
                         const Ground& ground = *flatGround()) {
    Placement placement;
    placement.count = count;
    placement.pattern = pattern;
    placement.size = choices.area;
    placement.alongSurface = choices.alongSurface;
    return placeCopies(placement, choices.differences, ground);
}

glm::vec3 forward(const CopyState& state) {
    return glm::quat(state.rotation.w, state.rotation.x, state.rotation.y, state.rotation.z) *
           glm::vec3(0.0f, 0.0f, 1.0f);
}

/// Two feet that stand and swing in turn under a body, walking on the spot toward `facing` at `speed`.
std::vector<glm::vec3> walker(float speed, float facing, std::size_t frames, float fps) {
    std::vector<glm::vec3> all;
    const glm::vec3 way(std::sin(kTau * facing), 0.0f, std::cos(kTau * facing));
    const float seconds = static_cast<float>(frames) / fps;
    for (std::size_t f = 0; f < frames; ++f) {
        const float phase = static_cast<float>(f) / static_cast<float>(frames);
        all.push_back({0.0f, 1.0f, 0.0f});
        for (const float later : {0.0f, 0.5f}) {
            const float p = phase + later - std::floor(phase + later);
            const float step = speed * seconds * 0.5f; // while it stands, half of the loop
            const bool stands = p < 0.5f;
            const float along =
                stands ? 0.5f * step - step * (p / 0.5f) : -0.5f * step + step * ((p - 0.5f) / 0.5f);
            const float up = stands ? 0.0f : 0.2f * std::sin(kTau * (p - 0.5f));
            all.push_back(way * along + glm::vec3(0.0f, up, 0.0f));
        }
    }
    return all;
}

} // namespace

// Counts what is allocated, for those who must not.
void* operator new(std::size_t size) {
    ++gAllocations;
    if (void* memory = std::malloc(size ? size : 1)) {
        return memory;
    }
    throw std::bad_alloc();
}
void operator delete(void* memory) noexcept {
    std::free(memory);
}
void operator delete(void* memory, std::size_t) noexcept {
    std::free(memory);
}

class TestCrowd : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void stillCopiesPlayWhatTheyWereGiven() {
        CrowdChoices choices = flock(Travel::still);
        choices.differences.clipWeights = {1.0f, 0.0f, 0.0f};
        const auto copies = placed(50, choices);
        Crowd crowd(choices, copies, flatGround());
        crowd.goTo(2.0);
        for (std::size_t i = 0; i < copies.size(); ++i) {
            const CopyState& state = crowd.states()[i];
            QCOMPARE(state.origin, copies[i].origin);
            QCOMPARE(state.scale, copies[i].own.size);
            QCOMPARE(state.clip, 0);
            QCOMPARE(state.fade, 1.0f);
            // Where it began, and two seconds on at its own rate.
            const double wanted = std::fmod(static_cast<double>(copies[i].own.start) * 32.0 +
                                                2.0 * 30.0 * static_cast<double>(copies[i].own.rate),
                                            32.0);
            const double off = std::abs(static_cast<double>(state.frame) - wanted);
            QVERIFY(std::min(off, 32.0 - off) < 2e-3);
        }
    }
    void clipsFadeIntoEachOther() {
        const CrowdChoices choices = flock(Travel::still);
        const auto copies = placed(60, choices);
        Crowd crowd(choices, copies, flatGround());
        std::vector<CopyState> before(crowd.states().begin(), crowd.states().end());
        int changes = 0;
        int fading = 0;
        for (int step = 1; step < 20 * Crowd::kStepsASecond; ++step) {
            crowd.goTo(static_cast<double>(step) / Crowd::kStepsASecond);
            for (std::size_t i = 0; i < copies.size(); ++i) {
                const CopyState& now = crowd.states()[i];
                const CopyState& was = before[i];
                fading += now.fade < 1.0f ? 1 : 0;
                if (now.clip != was.clip) {
                    ++changes;
                    QCOMPARE(now.clipBefore, was.clip);
                    QVERIFY(std::abs(now.frameBefore - was.frame) < 1.5f); // plays on as it goes
                    QVERIFY(now.fade < 0.1f);
                    QVERIFY(was.fade == 1.0f); // the one before was done
                } else if (now.fade < 1.0f && was.fade < 1.0f && now.fade > was.fade) {
                    QVERIFY(std::abs(now.fade - was.fade - 1.0f / (0.4f * Crowd::kStepsASecond)) < 1e-4f);
                }
                const CrowdClip& clip = choices.clips[static_cast<std::size_t>(now.clip)];
                QVERIFY(now.frame >= 0.0f && now.frame < clip.frames);
            }
            before.assign(crowd.states().begin(), crowd.states().end());
        }
        QVERIFY2(changes > 150, qPrintable(QString::number(changes)));
        QVERIFY(fading > 10 * changes);
    }
    void backIsFromTheBeginning() {
        for (const Travel travel : {Travel::still, Travel::wander, Travel::gaits, Travel::fly}) {
            const CrowdChoices choices = flock(travel);
            const auto copies = placed(30, choices, travel == Travel::fly ? "volume" : "grid");
            Crowd once(choices, copies, flatGround());
            once.goTo(3.0);
            Crowd again(choices, copies, flatGround());
            again.goTo(7.5);
            again.goTo(3.0);
            QVERIFY(std::ranges::equal(once.states(), again.states()));
        }
    }
    /// It goes on from the last moment that is kept, and stands as one that came straight there.
    void backIsFromTheLastMomentKept() {
        const CrowdChoices choices = flock(Travel::gaits);
        const auto copies = placed(30, choices);
        const auto straight = [&](double seconds) {
            Crowd crowd(choices, copies, flatGround());
            crowd.goTo(seconds);
            return std::vector<CopyState>(crowd.states().begin(), crowd.states().end());
        };
        const std::size_t bytes = Crowd(choices, copies, flatGround()).moment().bytes();
        for (const std::size_t most : {scatter::CrowdHistory::kMostBytes, 5 * bytes}) {
            scatter::CrowdHistory history(Crowd(choices, copies, flatGround()), most);
            for (const double seconds : {31.0, 9.5, 30.2, 2.0, 1.99, 0.0, 47.3, 31.0, 46.9}) {
                history.goTo(seconds);
                QVERIFY(std::ranges::equal(history.crowd().states(), straight(seconds)));
            }
            // 47 seconds are 23 moments two seconds apart; in the room for five they lie 16 seconds apart.
            QCOMPARE(history.stepsApart(), most > 6 * bytes ? 120L : 960L);
        }
    }
    void wanderersWalkTheWayTheyLook() {
        CrowdChoices choices = flock(Travel::wander);
        choices.speed = 0.5f;
        choices.facing = 0.25f; // the model looks along +X
        const auto copies = placed(40, choices);
        Crowd crowd(choices, copies, flatGround());
        std::vector<CopyState> before;
        double walked = 0.0;
        double stood = 0.0;
        for (int step = 0; step < 30 * Crowd::kStepsASecond; ++step) {
            crowd.goTo(static_cast<double>(step) / Crowd::kStepsASecond);
            for (std::size_t i = 0; i < before.size(); ++i) {
                const CopyState& now = crowd.states()[i];
                const glm::vec3 moved = now.origin - before[i].origin;
                const float speed = glm::length(moved) * Crowd::kStepsASecond;
                QVERIFY(std::abs(speed - now.speed) < 2e-3f);
                // Size and rate make its steps longer and quicker.
                const float full = 0.5f * now.scale * copies[i].own.rate;
                QVERIFY(speed < full + 2e-3f);
                if (choices.clips[static_cast<std::size_t>(now.clip)].walks > 0.0f && now.fade == 1.0f) {
                    QVERIFY(std::abs(speed - full) < 2e-3f);
                    walked += 1.0;
                } else if (now.fade == 1.0f) {
                    QVERIFY(speed < 1e-6f);
                    stood += 1.0;
                }
                if (speed > 0.05f) {
                    const glm::vec3 looks =
                        glm::quat(now.rotation.w, now.rotation.x, now.rotation.y, now.rotation.z) *
                        glm::vec3(1.0f, 0.0f, 0.0f);
                    QVERIFY(glm::dot(glm::normalize(moved), looks) > 0.999f);
                }
                // Speeds have no jumps: through a fade they go by its eased weight.
                QVERIFY(std::abs(now.speed - before[i].speed) < 0.08f);
                QVERIFY(glm::dot(forward(now), forward(before[i])) > 0.9995f);
                QVERIFY(std::abs(now.origin.x) < 14.0f && std::abs(now.origin.z) < 14.0f); // they come back
            }
            before.assign(crowd.states().begin(), crowd.states().end());
        }
        QVERIFY(walked > 2.0 * stood && stood > 100.0);
    }
    /// At every moment, through fades and changes of speed: what the feet cover, by the weights of both
    /// clips, is what the copy covers, and no clip's rate jumps.
    void noFootSlides() {
        CrowdChoices choices = flock(Travel::gaits);
        choices.speed = 0.3f;
        choices.fastest = 1.5f;
        const auto copies = placed(80, choices);
        Crowd crowd(choices, copies, flatGround());
        std::array<int, 3> chosen{};
        std::vector<CopyState> before;
        float slid = 0.0f;
        int fading = 0;
        for (int step = 0; step < 40 * Crowd::kStepsASecond; ++step) {
            crowd.goTo(static_cast<double>(step) / Crowd::kStepsASecond);
            for (std::size_t i = 0; i < before.size(); ++i) {
                const CopyState& now = crowd.states()[i];
                ++chosen[static_cast<std::size_t>(now.clip)];
                // Metres a second that a clip's feet cover, by the frames that it went on.
                const auto feet = [&](int clip, float frame, float frameBefore) {
                    const scatter::CrowdClip& of = choices.clips[static_cast<std::size_t>(clip)];
                    const float frames = frame - frameBefore + (frame < frameBefore ? of.frames : 0.0f);
                    return of.walks * now.scale * frames * Crowd::kStepsASecond / of.fps;
                };
                if (now.clip != before[i].clip || (now.fade < 1.0f && now.fade <= before[i].fade)) {
                    continue; // a clip begins here: it has no frames before
                }
                float covered = feet(now.clip, now.frame, before[i].frame);
                if (now.fade < 1.0f) {
                    const auto weight = static_cast<float>(bake::easedFade(static_cast<double>(now.fade)));
                    covered = weight * covered +
                              (1.0f - weight) * feet(now.clipBefore, now.frameBefore, before[i].frameBefore);
                    ++fading;
                }
                slid = std::max(slid, std::abs(covered - now.speed));
            }
            before.assign(crowd.states().begin(), crowd.states().end());
        }
        QVERIFY2(slid < 0.005f, qPrintable(QString::number(static_cast<double>(slid))));
        QVERIFY(fading > 5000);
        QVERIFY(chosen[0] > 500 && chosen[2] > 500 && chosen[1] > 100);
    }
    /// Nearer to its own clip's speed than to the other's, by ratio: their geometric mean parts them.
    void gaitsFollowTheSpeed() {
        CrowdChoices choices = flock(Travel::gaits);
        choices.differences.rateSpread = 0.0f;
        choices.speed = 0.3f;
        choices.fastest = 1.5f;
        const auto copies = placed(80, choices);
        Crowd crowd(choices, copies, flatGround());
        const float parted = std::sqrt(0.4f * 1.2f);
        std::vector<CopyState> before;
        int settled = 0;
        for (int step = 0; step < 20 * Crowd::kStepsASecond; ++step) {
            crowd.goTo(static_cast<double>(step) / Crowd::kStepsASecond);
            for (std::size_t i = 0; i < before.size(); ++i) {
                const CopyState& now = crowd.states()[i];
                const float speed = now.speed / now.scale; // as if it were of size 1
                if (choices.clips[static_cast<std::size_t>(now.clip)].walks > 0.0f && now.fade >= 1.0f &&
                    before[i].speed == now.speed) {
                    QVERIFY(now.clip == 0 ? speed < parted + 1e-4f : speed > parted - 1e-4f);
                    ++settled;
                }
            }
            before.assign(crowd.states().begin(), crowd.states().end());
        }
        QVERIFY(settled > 10000);
    }
    void swarmsStayInTheirVolumeAndLookWhereTheyGo() {
        CrowdChoices choices = flock(Travel::fly);
        choices.speed = 2.0f;
        const auto copies = placed(40, choices, "volume");
        Crowd crowd(choices, copies, flatGround());
        std::vector<CopyState> before;
        double speeds = 0.0;
        int count = 0;
        for (int step = 0; step < 10 * Crowd::kStepsASecond; ++step) {
            crowd.goTo(static_cast<double>(step) / Crowd::kStepsASecond);
            for (std::size_t i = 0; i < before.size(); ++i) {
                const CopyState& now = crowd.states()[i];
                QVERIFY(std::abs(now.origin.x) <= 10.001f && std::abs(now.origin.z) <= 10.001f);
                QVERIFY(now.origin.y >= -0.001f && now.origin.y <= 5.001f);
                const glm::vec3 moved = now.origin - before[i].origin;
                QVERIFY(glm::dot(glm::normalize(moved), forward(now)) > 0.995f);
                speeds += static_cast<double>(now.speed);
                ++count;
            }
            before.assign(crowd.states().begin(), crowd.states().end());
        }
        QVERIFY(std::abs(speeds / count - 2.0) < 0.5);
    }
    void theyStandOnTheGroundTheyWalkOn() {
        CrowdChoices choices = flock(Travel::wander);
        choices.alongSurface = true;
        const std::shared_ptr<const Ground> ground = unevenGround();
        const auto copies = placed(40, choices, "even", *ground);
        Crowd crowd(choices, copies, ground);
        crowd.goTo(6.0);
        for (const CopyState& state : crowd.states()) {
            const Spot spot = *ground->below({state.origin.x, state.origin.z});
            QVERIFY(std::abs(state.origin.y - spot.position.y) < 1e-5f);
            const glm::vec3 up =
                glm::quat(state.rotation.w, state.rotation.x, state.rotation.y, state.rotation.z) *
                glm::vec3(0.0f, 1.0f, 0.0f);
            QVERIFY(glm::distance(up, spot.normal) < 1e-5f);
        }
    }
    void updatesAllocateNothing() {
        for (const Travel travel : {Travel::still, Travel::wander, Travel::gaits, Travel::fly}) {
            const CrowdChoices choices = flock(travel);
            Crowd crowd(choices, placed(500, choices, travel == Travel::fly ? "volume" : "grid"),
                        flatGround());
            crowd.goTo(0.5);
            const long before = gAllocations.load();
            for (int step = 31; step <= 8 * Crowd::kStepsASecond; ++step) {
                crowd.goTo(static_cast<double>(step) / Crowd::kStepsASecond);
            }
            crowd.goTo(1.0); // back
            QCOMPARE(gAllocations.load(), before);
        }
    }
    void whatCannotBeIsSaid() {
        CrowdChoices choices = flock(Travel::still);
        choices.clips[1].frames = 0.0f;
        QVERIFY(tests::says(tests::problemOf([&] { Crowd(choices, {}, flatGround()); }), "no frames"));
        choices = flock(Travel::still);
        choices.fades.pop_back();
        QVERIFY(tests::says(tests::problemOf([&] { Crowd(choices, {}, flatGround()); }),
                            "each clip to each other"));
        // A score has no clips; nothing to choose, and all go round.
        choices = {};
        choices.loopSeconds = 2.0f;
        choices.differences.startSpread = 0.0f;
        Crowd crowd(choices, placed(3, choices), flatGround());
        crowd.goTo(2.5);
        for (const CopyState& state : crowd.states()) {
            QVERIFY(std::abs(state.turn - 0.25f) < 1e-4f);
        }
    }
    void feetThatStandSayHowFastTheGroundGoes() {
        for (const float facing : {0.0f, 0.25f, 0.6f}) {
            const auto frames = walker(0.8f, facing, 40, 30.0f);
            const Feet feet = measureFeet(frames, 3, 30.0, true);
            QVERIFY(feet.walks());
            QVERIFY2(std::abs(feet.speed - 0.8f) < 1e-3f,
                     qPrintable(QString::number(static_cast<double>(feet.speed))));
            const float off = std::abs(feet.facing - facing);
            QVERIFY(std::min(off, 1.0f - off) < 1e-4f);
            // At that speed nothing slides; at another as much as the difference makes in the time that feet
            // stand.
            const auto f = static_cast<double>(facing);
            QVERIFY(slideOf(feet, static_cast<double>(feet.speed), f) < 1e-4);
            const double stands = static_cast<double>(feet.steps.size()) / 30.0;
            QVERIFY(std::abs(slideOf(feet, 1.0, f) - 0.2 * stands) < 2e-3);
            QVERIFY(std::abs(slideOf(feet, 0.8, f + 0.5) - 1.6 * stands) < 2e-3);
        }
        QVERIFY(!measureFeet(walker(0.0f, 0.0f, 40, 30.0f), 3, 30.0, true).walks()); // marks time
        QVERIFY(!measureFeet(std::vector<glm::vec3>(3), 3, 30.0, true).walks());
        QVERIFY(!measureFeet({}, 0, 30.0, true).walks());
    }
    void levelsHalveTheTrianglesAndKnowTheirErrors() {
        // A sheet that waves: flat at rest, so that a simplifier which looks at rest alone would keep four
        // corners.
        const mesh::Mesh sheet = mesh::makeTestShape({"sheet", 2.0, 40, 40});
        std::vector<glm::vec3> poses = sheet.positions;
        for (int frame = 0; frame < 6; ++frame) {
            for (const glm::vec3& p : sheet.positions) {
                poses.push_back(
                    p +
                    glm::vec3(0.0f, 0.0f, 0.15f * std::sin(3.0f * p.x + 0.9f * static_cast<float>(frame))));
            }
        }
        const auto levels = makeLevels(sheet, poses, 3);
        QCOMPARE(levels.size(), std::size_t(3));
        std::size_t before = sheet.triangleCount();
        double error = 0.0;
        for (const Level& level : levels) {
            QVERIFY(level.count() < 0.7 * static_cast<double>(before));
            QVERIFY(level.count() > 0.3 * static_cast<double>(before));
            before = level.count();
            QVERIFY(level.error > 0.0);
            QVERIFY(level.error >= 0.5 * error);
            error = level.error;
            for (const std::uint32_t index : level.triangles.indices) {
                QVERIFY(index < sheet.vertexCount());
            }
        }
        QVERIFY2(levels[0].error < 0.02, qPrintable(QString::number(levels[0].error)));
        QVERIFY2(levels[2].error < 0.1, qPrintable(QString::number(levels[2].error)));
        // A pixel at one metre with 1000 pixels over a field of 1 m: a millimetre.
        const double field = 2.0 * std::atan(0.5);
        QVERIFY(std::abs(distanceFor(0.001, 1.0, 1000.0, field) - 1.0) < 1e-9);
        QVERIFY(std::abs(distanceFor(0.002, 1.0, 1000.0, field) - 2.0) < 1e-9);
        QVERIFY(std::abs(distanceFor(0.002, 4.0, 1000.0, field) - 0.5) < 1e-9);
        // Two triangles can't be made fewer.
        const mesh::Mesh two = mesh::makeTestShape({"sheet", 1.0, 1, 1});
        QVERIFY(makeLevels(two, two.positions, 3).empty());
    }
    void pivotsComeBackFromUvsAndColours() {
        CrowdChoices choices = flock(Travel::still);
        choices.alongSurface = true;
        const auto ground = unevenGround();
        const auto copies = placed(60, choices, "even", *ground);
        QVERIFY(areTilted(copies));
        const mesh::Bounds box = boxOf(copies);
        for (const Copy& copy : copies) {
            const Pivot pivot = pivotOf(copy);
            const Pivot back = fromUvs(inUvs(pivot, true));
            QVERIFY(back == pivot);
            const glm::vec4 q = pivot.rotation();
            const float same = std::abs(q.x * copy.rotation.x + q.y * copy.rotation.y +
                                        q.z * copy.rotation.z + q.w * copy.rotation.w);
            QVERIFY(same > 1.0f - 1e-6f);
            const Pivot rough = fromColour(inColour(pivot, box), box);
            for (int axis = 0; axis < 3; ++axis) {
                QVERIFY(std::abs(rough.origin[axis] - pivot.origin[axis]) <=
                        box.size()[axis] / 510.0f + 1e-5f);
            }
            const float off = std::abs(rough.yaw - pivot.yaw);
            QVERIFY(std::min(off, 1.0f - off) <= 1.0f / 512.0f + 1e-6f);
        }
    }
    void mergedCopiesStandWhereSeparateOnesDo() {
        mesh::Mesh shape = mesh::makeTestShape({"dome", 1.0, 8, 8});
        shape.stored = {{"age", std::vector<float>(shape.vertexCount(), 0.5f)}};
        CrowdChoices choices = flock(Travel::still);
        const auto copies = placed(7, choices);
        const Merged merged = mergeCopies(shape, copies, Keeps::uvs);
        QCOMPARE(merged.mesh.vertexCount(), 7 * shape.vertexCount());
        QCOMPARE(merged.mesh.triangleCount(), 7 * shape.triangleCount());
        QCOMPARE(merged.mesh.uvSets.size(), shape.uvSets.size() + 3);
        QCOMPARE(merged.pivotUvSet, shape.uvSets.size());
        QVERIFY(!merged.tilted);
        const std::size_t n = shape.vertexCount();
        for (std::size_t c = 0; c < copies.size(); ++c) {
            for (std::size_t v = 0; v < n; ++v) {
                const glm::vec3 wanted =
                    copies[c].origin + copies[c].own.size * (copies[c].rotation * shape.positions[v]);
                QVERIFY(glm::distance(merged.mesh.positions[c * n + v], wanted) < 2e-6f);
                QCOMPARE(merged.mesh.uvSets[0][c * n + v], shape.uvSets[0][v]);
                QCOMPARE(merged.mesh.uvSets[merged.pivotUvSet][c * n + v],
                         glm::vec2(copies[c].origin.x, copies[c].origin.y));
            }
        }
        QCOMPARE(merged.mesh.stored[0].values.size(), merged.mesh.vertexCount());
        QCOMPARE(merged.mesh.parts.size(), 7 * shape.parts.size());
        QCOMPARE(merged.mesh.indices[shape.indices.size()], static_cast<std::uint32_t>(n) + shape.indices[0]);
        QVERIFY(!mergeCopies(shape, copies, Keeps::colours).mesh.colours.empty());

        shape.uvSets.resize(6, shape.uvSets[0]);
        QVERIFY(tests::says(tests::problemOf([&] { mergeCopies(shape, copies, Keeps::uvs); }), "3 UV sets"));
        QVERIFY(tests::says(tests::problemOf([&] { mergeCopies(shape, {}, Keeps::nothing); }), "are none"));
        const auto many = placed(20000, choices);
        shape = mesh::makeTestShape({"dome", 1.0, 30, 30});
        QVERIFY(
            tests::says(tests::problemOf([&] { mergeCopies(shape, many, Keeps::nothing); }), "merge fewer"));
    }
};

static const ripple::tests::SuiteOf<TestCrowd> kSuite;
#include "test_crowd.moc"
