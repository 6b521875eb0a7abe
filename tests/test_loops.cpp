#include "analytic_source.h"
#include "bake/bake.h"
#include "base/files.h"
#include "base/progress.h"
#include "gltf_fixture.h"
#include "inspect/inspection.h"
#include "inspect/survey.h"
#include "planted_loop.h"
#include "problem_of.h"
#include "source/open.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <bit>
#include <functional>

using namespace ripple;
using tests::PlantedLoop;

namespace {

/// A strip of triangles over the points, each frame as it is in the planted motion.
class PlantedSource : public tests::AnalyticSource {
public:
    explicit PlantedSource(const PlantedLoop& loop)
        : AnalyticSource(2, tests::sequence(loop.frames), [](const glm::vec3& rest, double) { return rest; }),
          loop_(loop),
          at_(loop.positions()) {
        mesh::Mesh& strip = editMesh();
        strip.positions.assign(at_.begin(), at_.begin() + static_cast<std::ptrdiff_t>(loop.points));
        strip.normals.assign(loop.points, glm::vec3(0, 0, 1));
        strip.uvSets.clear();
        strip.indices.clear();
        for (std::uint32_t p = 0; p + 2 < loop.points; ++p) {
            strip.indices.insert(strip.indices.end(), {p, p + 1, p + 2});
        }
        strip.parts[0].vertexCount = static_cast<std::uint32_t>(loop.points);
        strip.parts[0].indexCount = static_cast<std::uint32_t>(strip.indices.size());
    }
    void sample(std::size_t, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        const double frame = std::clamp(seconds * 30.0, 0.0, static_cast<double>(loop_.frames - 1));
        const auto f = static_cast<std::size_t>(std::llround(frame));
        std::copy_n(at_.begin() + static_cast<std::ptrdiff_t>(f * loop_.points), positions.size(),
                    positions.begin());
        std::ranges::fill(normals, glm::vec3(0, 0, 1));
    }

private:
    PlantedLoop loop_;
    std::vector<glm::vec3> at_;
};

std::shared_ptr<const inspect::Survey> surveyOf(const source::FrameSource& source) {
    base::Progress quiet;
    return inspect::survey(source, {}, quiet);
}

/// A window of the planted length that begins where the loop was planted. Where its first frame comes again
/// at its end, the frames from the second to that one are the same loop.
bool isPlanted(const inspect::LoopWindow& window, const PlantedLoop& loop) {
    const bool begins = window.first == loop.first || (loop.repeated && window.first == loop.first + 1);
    if (!begins || window.frames() != loop.period) {
        qWarning("planted %zu..%zu, found %zu..%zu", loop.first, loop.last(), window.first, window.last);
    }
    return begins && window.frames() == loop.period;
}

/// Writes the planted points as a file or files of one kind and returns the one to open.
using Writer = std::function<std::filesystem::path(const std::filesystem::path&, const PlantedLoop&)>;

std::string objOf(const PlantedLoop& loop, std::span<const glm::vec3> points) {
    std::string text;
    for (const glm::vec3& p : points) {
        text += "v " + std::to_string(p.x) + " " + std::to_string(p.y) + " " + std::to_string(p.z) + "\n";
    }
    for (std::size_t i = 1; i + 2 <= loop.points; ++i) {
        text += "f " + std::to_string(i) + " " + std::to_string(i + 1) + " " + std::to_string(i + 2) + "\n";
    }
    return text;
}

std::string plyOf(const PlantedLoop& loop, std::span<const glm::vec3> points) {
    std::string text = "ply\nformat ascii 1.0\nelement vertex " + std::to_string(loop.points) +
                       "\nproperty float x\nproperty float y\nproperty float z\nelement face " +
                       std::to_string(loop.points - 2) +
                       "\nproperty list uchar int vertex_indices\nend_header\n";
    for (const glm::vec3& p : points) {
        text += std::to_string(p.x) + " " + std::to_string(p.y) + " " + std::to_string(p.z) + "\n";
    }
    for (std::size_t i = 0; i + 2 < loop.points; ++i) {
        text += "3 " + std::to_string(i) + " " + std::to_string(i + 1) + " " + std::to_string(i + 2) + "\n";
    }
    return text;
}

std::filesystem::path writeSequence(const std::filesystem::path& folder, const PlantedLoop& loop,
                                    const char* extension,
                                    std::string (*write)(const PlantedLoop&, std::span<const glm::vec3>)) {
    const auto at = loop.positions();
    for (std::size_t f = 0; f < loop.frames; ++f) {
        const std::string number = std::to_string(10000 + f).substr(1);
        base::writeFile(folder / ("loop_" + number + extension),
                        write(loop, std::span(at).subspan(f * loop.points, loop.points)));
    }
    return folder / ("loop_0000" + std::string(extension));
}

std::filesystem::path writeCache(const std::filesystem::path& folder, const PlantedLoop& loop, bool mdd) {
    const auto at = loop.positions();
    std::string out = mdd ? "" : std::string("POINTCACHE2\0", 12);
    const auto put = [&](std::uint32_t value) {
        value = mdd ? __builtin_bswap32(value) : value; // one format is big-endian, the other is not
        out.append(reinterpret_cast<const char*>(&value), 4);
    };
    const auto putFloat = [&](float value) { put(std::bit_cast<std::uint32_t>(value)); };
    const auto frames = static_cast<std::uint32_t>(loop.frames);
    const auto points = static_cast<std::uint32_t>(loop.points);
    if (mdd) {
        put(frames);
        put(points);
        for (std::uint32_t f = 0; f < frames; ++f) {
            putFloat(static_cast<float>(f / 30.0));
        }
    } else {
        put(1);
        put(points);
        putFloat(0.0f);
        putFloat(1.0f);
        put(frames);
    }
    for (const glm::vec3& p : at) {
        putFloat(p.x);
        putFloat(p.y);
        putFloat(p.z);
    }
    base::writeFile(folder / "loop.obj", objOf(loop, std::span(at).first(loop.points)));
    const auto path = folder / (mdd ? "loop.mdd" : "loop.pc2");
    base::writeFile(path, out);
    return path;
}

/// A triangle on a node of its own for each point, keyed at every frame.
std::filesystem::path writeGltf(const std::filesystem::path& folder, const PlantedLoop& loop) {
    const auto at = loop.positions();
    tests::GltfFixture gltf;
    const int mesh = gltf.mesh({{"POSITION", gltf.floats(tests::GltfFixture::triangle(), "VEC3", 3)}});
    std::vector<float> times;
    for (std::size_t f = 0; f < loop.frames; ++f) {
        times.push_back(static_cast<float>(f) / 30.0f);
    }
    const int input = gltf.floats(times, "SCALAR", 1);
    gltf.root["scenes"][0]["nodes"] = nlohmann::json::array();
    for (std::size_t p = 0; p < loop.points; ++p) {
        std::vector<float> track;
        for (std::size_t f = 0; f < loop.frames; ++f) {
            const glm::vec3& point = at[f * loop.points + p];
            track.insert(track.end(), {point.x, point.y, point.z});
        }
        const int node = gltf.node({{"name", "n" + std::to_string(p)}, {"mesh", mesh}});
        gltf.root["scenes"][0]["nodes"].push_back(node);
        gltf.channel(node, "translation", input, gltf.floats(track, "VEC3", 3), "LINEAR");
    }
    return gltf.write(folder, "loop");
}

/// The same in the text form of a format that the import library reads.
std::filesystem::path writeScene(const std::filesystem::path& folder, const PlantedLoop& loop) {
    const auto at = loop.positions();
    std::string text = "xof 0303txt 0032\nAnimTicksPerSecond { 30; }\n";
    std::string keys = "AnimationSet Move {\n";
    for (std::size_t p = 0; p < loop.points; ++p) {
        const std::string name = "P" + std::to_string(p);
        text += "Frame " + name +
                " { FrameTransformMatrix { 1.0, 0.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, "
                "0.0, 0.0, 1.0;; } Mesh { 3; 0;0;0;, 1;0;0;, "
                "0;1;0;; 1; 3;0,1,2;; } }\n";
        keys += "Animation { { " + name + " } AnimationKey { 2; " + std::to_string(loop.frames) + ";\n";
        for (std::size_t f = 0; f < loop.frames; ++f) {
            const glm::vec3& point = at[f * loop.points + p];
            keys += std::to_string(f) + "; 3; " + std::to_string(point.x) + ", " + std::to_string(point.y) +
                    ", " + std::to_string(point.z) + ";;" + (f + 1 < loop.frames ? ",\n" : ";\n");
        }
        keys += "} }\n";
    }
    base::writeFile(folder / "loop.x", text + keys + "}\n");
    return folder / "loop.x";
}

} // namespace

class TestLoops : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void plantedLoopsAreFoundToTheFrame() {
        std::mt19937 random(11);
        const auto upTo = [&](std::size_t from, std::size_t to) { return from + random() % (to - from + 1); };
        for (unsigned seed = 1; seed <= 24; ++seed) {
            PlantedLoop loop;
            loop.frames = upTo(150, 400);
            loop.points = 20;
            loop.period = upTo(24, 100);
            loop.repeated = seed % 2 == 0;
            const std::size_t latest = loop.frames - loop.period - (loop.repeated ? 1 : 0);
            // From the very start, to the very end, anywhere.
            loop.first = seed % 3 == 0 ? 0 : seed % 3 == 1 ? latest : upTo(0, latest);
            loop.noise = seed % 4 < 2 ? 0.0f : 0.002f;
            loop.seed = seed;
            const PlantedSource source(loop);
            const auto survey = surveyOf(source);
            const inspect::ClipSurvey& clip = survey->clips[0];
            QVERIFY(!clip.extent.closed);
            QVERIFY(!clip.windows.empty());
            QVERIFY(isPlanted(clip.windows[0].window, loop));
            inspect::WindowWish wish;
            wish.length = loop.period;
            const auto wished = inspect::measuredWindows(source, 0, clip, wish);
            QVERIFY(!wished.empty() && isPlanted(wished[0].window, loop));
        }
    }
    void longCachesAreSearchedToTheFrameToo() {
        for (const std::size_t first : {std::size_t(0), std::size_t(1001), std::size_t(2800)}) {
            const PlantedLoop loop{2993, 12, first, 193, false, 0.0005f, 5};
            const PlantedSource source(loop);
            const auto survey = surveyOf(source);
            QCOMPARE(survey->clips[0].likenessStep, std::size_t(2)); // every second frame has a row
            QVERIFY(isPlanted(survey->clips[0].windows.at(0).window, loop));
        }
    }
    void aWholeLoopClosesByItself_data() {
        QTest::addColumn<bool>("repeated");
        QTest::addColumn<float>("noise");
        QTest::newRow("as most export it") << false << 0.0f;
        QTest::newRow("with the repeated frame") << true << 0.0f;
        QTest::newRow("with noise") << false << 0.001f;
        QTest::newRow("repeated, with noise") << true << 0.001f;
    }
    void aWholeLoopClosesByItself() {
        QFETCH(bool, repeated);
        QFETCH(float, noise);
        const PlantedLoop loop{repeated ? std::size_t(241) : 240, 30, 0, 240, repeated, noise, 3};
        const PlantedSource source(loop);
        const bake::SamplePlan plan = bake::planSampling(source, {});
        QVERIFY(plan.clips[0].closed);
        QCOMPARE(plan.clips[0].seconds.size(), std::size_t(240));
        QCOMPARE(tests::has(plan.findings, "leads-round"), !repeated);
        QCOMPARE(tests::has(plan.findings, "repeat-dropped"), repeated);
        const auto survey = surveyOf(source);
        const inspect::ClipSurvey& clip = survey->clips[0];
        QVERIFY(clip.extent.closed);
        QCOMPARE(clip.windows.at(0).window, (inspect::LoopWindow{0, 239, 0.0f}));
        QVERIFY(clip.windows[0].gap < (noise > 0.0f ? 0.006 : 0.0001));
        // Played once where a person says so.
        bake::Recipe open;
        open.closing = bake::Closing::asIs;
        QVERIFY(!bake::planSampling(source, open).clips[0].closed);
        QCOMPARE(bake::planSampling(source, open).clips[0].seconds.size(), loop.frames);
    }
    void openMotionStaysOpen() {
        // A lid that opens from rest to rest, a door that slams, something that drifts ever so slowly.
        const auto eased = [](double u) { return u * u * (3.0 - 2.0 * u); };
        const AnalyticMotion lid = [=](double u) { return eased(u); };
        const AnalyticMotion slam = [](double u) { return u * u; };
        const AnalyticMotion slow = [](double u) { return 0.02 * u; };
        const AnalyticMotion halfWave = [](double u) { return std::sin(3.14159265 * 1.5 * u); };
        for (const AnalyticMotion& motion : {lid, slam, slow, halfWave}) {
            const tests::AnalyticSource source(
                3, tests::sequence(120), [&](const glm::vec3& rest, double seconds) {
                    const double u = seconds / (119.0 / 30.0);
                    return rest + glm::vec3(0, static_cast<float>(motion(u)), 0);
                });
            QVERIFY(!bake::planSampling(source, {}).clips[0].closed);
        }
    }
    void windowsInWhichNothingMovesAreNoLoops() {
        // A wave, then 40 frames of standing still with a little noise, then another wave.
        const tests::AnalyticSource source(
            4, tests::sequence(160), [](const glm::vec3& rest, double seconds) {
                const int f = static_cast<int>(std::lround(seconds * 30.0));
                const double u = f < 60 ? 1.0 - f / 60.0 : f < 100 ? 0.0 : (f - 100) / 60.0;
                const double noise = 1e-6 * ((f * 7919 + static_cast<int>(rest.x * 31)) % 17);
                return rest + glm::vec3(0.0f, static_cast<float>(0.4 * u * u + noise), 0.0f);
            });
        const auto survey = surveyOf(source);
        for (const inspect::MeasuredWindow& one : survey->clips[0].windows) {
            QVERIFY2(one.window.last < 60 || one.window.first < 60 || one.window.last >= 100,
                     qPrintable(QString("%1..%2").arg(one.window.first).arg(one.window.last)));
        }
    }
    void everyReadersLoopsAreFound_data() {
        QTest::addColumn<Writer>("write");
        const auto sequence = [](const char* extension, auto* write) {
            return Writer([=](const auto& folder, const auto& loop) {
                return writeSequence(folder, loop, extension, write);
            });
        };
        QTest::newRow("obj") << sequence(".obj", &objOf);
        QTest::newRow("ply") << sequence(".ply", &plyOf);
        QTest::newRow("pc2") << Writer([](const auto& f, const auto& l) { return writeCache(f, l, false); });
        QTest::newRow("mdd") << Writer([](const auto& f, const auto& l) { return writeCache(f, l, true); });
        QTest::newRow("gltf") << Writer(&writeGltf);
        QTest::newRow("scene file") << Writer(&writeScene);
    }
    void everyReadersLoopsAreFound() {
        QFETCH(Writer, write);
        for (const bool repeated : {false, true}) {
            QTemporaryDir folder;
            const PlantedLoop part{130, 5, 41, 48, repeated, 0.0f, 9};
            const auto source = source::open(write(folder.path().toStdString(), part), {}, {});
            const auto survey = surveyOf(*source);
            QCOMPARE(survey->clips[0].extent.frames, std::size_t(130));
            QVERIFY(isPlanted(survey->clips[0].windows.at(0).window, part));

            QTemporaryDir wholeFolder;
            const PlantedLoop whole{repeated ? std::size_t(61) : 60, 5, 0, 60, repeated, 0.0f, 4};
            const auto loop = source::open(write(wholeFolder.path().toStdString(), whole), {}, {});
            const bake::ClipPlan plan = bake::planSampling(*loop, {}).clips[0];
            QVERIFY(plan.closed);
            QCOMPARE(plan.seconds.size(), std::size_t(60));
            QVERIFY(std::abs(plan.fps - 30.0) < 1e-3);
        }
    }
    void aLoopWithoutItsRepeatIsSampledOverItsSeam() {
        // 60 frames that lead round, at twice their rate: 120 frames, the last half way back to the first.
        const PlantedLoop loop{60, 4, 0, 60, false, 0.0f, 8};
        QTemporaryDir folder;
        const auto source = source::open(writeCache(folder.path().toStdString(), loop, false), {}, {});
        bake::Recipe recipe;
        recipe.fps = 2.0 * source->clips()[0].fps;
        const bake::SamplePlan plan = bake::planSampling(*source, recipe);
        QVERIFY(plan.clips[0].closed);
        QCOMPARE(plan.clips[0].seconds.size(), std::size_t(120));
        const bake::Frames frames = bake::sampleFrames(*source, plan);
        for (std::size_t v = 0; v < loop.points; ++v) {
            const glm::vec3 between = 0.5f * (frames.positionsOf(118)[v] + frames.positionsOf(0)[v]);
            QVERIFY(glm::distance(frames.positionsOf(119)[v], between) < 1e-6f);
        }
    }

private:
    using AnalyticMotion = std::function<double(double)>;
};

static const ripple::tests::SuiteOf<TestLoops> kSuite;
#include "test_loops.moc"
