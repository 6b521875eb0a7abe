// The Gather bench's pieces by themselves: colours, poses in the background, maps and charts.

#include "analytic_source.h"
#include "app/charts/frame_chart.h"
#include "app/charts/likeness_map.h"
#include "app/charts/ramp.h"
#include "app/window/autosave.h"
#include "app/window/findings_line.h"
#include "app/stage/poser.h"
#include "app/stage/shades.h"
#include "base/problem.h"
#include "mesh/test_shapes.h"
#include "own_places.h"
#include "suite.h"

#include <QDir>
#include <QFile>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <QThread>

#include <cmath>

using namespace ripple;
using namespace ripple::app;

namespace {

/// CIE L* of an sRGB colour.
double lightness(const glm::vec4& c) {
    const auto linear = [](float v) {
        return v <= 0.04045f ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    };
    const double y = 0.2126 * linear(c.r) + 0.7152 * linear(c.g) + 0.0722 * linear(c.b);
    return y > 0.008856 ? 116.0 * std::cbrt(y) - 16.0 : 903.3 * y;
}

/// A source that takes its time, or fails where it is told to.
class SlowSource : public tests::AnalyticSource {
public:
    SlowSource() : AnalyticSource(3, tests::timed(1.0), tests::drift(1.0f)) {}
    void sample(std::size_t clip, double seconds, std::span<glm::vec3> p,
                std::span<glm::vec3> n) const override {
        QThread::msleep(25);
        if (seconds > 0.8) {
            base::fail("frame 24", "went away", "put it back");
        }
        AnalyticSource::sample(clip, seconds, p, n);
    }
};

} // namespace

class TestGatherParts : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void theRampsLightnessRisesEvenly() {
        double before = lightness(rampShade(0.0f));
        const double first = before;
        const double rise = (lightness(rampShade(1.0f)) - first) / 16.0;
        QVERIFY(rise > 3.0);
        for (int i = 1; i <= 16; ++i) {
            const double now = lightness(rampShade(static_cast<float>(i) / 16.0f));
            QVERIFY2(now - before > 0.5 * rise && now - before < 1.6 * rise,
                     qPrintable(QString::number(now - before)));
            before = now;
        }
        QCOMPARE(rampShade(-5.0f), rampShade(0.0f));
        QCOMPARE(rampShade(NAN), rampShade(0.0f));
        QCOMPARE(rampColour(1.0).name(), rampColour(7.0).name());
    }
    void edgeLengthsRunFromTheShortestToTheLongest() {
        const mesh::Mesh sheet = mesh::makeTestShape({"sheet", 1.0, 4, 4});
        const Shades shades = edgeShades(sheet, sheet.positions);
        QCOMPARE(shades.least, QString("250 mm"));
        QCOMPARE(shades.most, QString("354 mm")); // the diagonal of a cell
        QCOMPARE(shades.colours.size(), sheet.vertexCount());
    }
    void speedsAreDistanceOverTime() {
        Poser::Pose pose;
        pose.positions = {{0, 0, 0}, {1, 0, 0}};
        const auto step = static_cast<float>(Poser::kMoment * 2.0); // two metres a second
        pose.before = {{0, 0, 0}, {1.0f - step, 0, 0}};
        const Shades shades = speedShades(pose, 2.0);
        QCOMPARE(shades.colours[0], rampShade(0.0f));
        QCOMPARE(shades.colours[1], rampShade(1.0f));
        QCOMPARE(shades.most, QString("2.00 m/s"));
        pose.before.clear();
        QVERIFY(speedShades(pose, 2.0).colours.empty());
    }
    void coloursShowOneChannelAsGrey() {
        mesh::Mesh mesh;
        mesh.colours = {{0.25f, 0.5f, 0.75f, 1.0f}};
        QCOMPARE(colourShades(mesh, "g").colours[0], glm::vec4(0.5f, 0.5f, 0.5f, 1.0f));
        QCOMPARE(colourShades(mesh, "a").colours[0], glm::vec4(1.0f));
        QCOMPARE(colourShades(mesh, "rgb").colours[0], mesh.colours[0]);
    }
    void aQuickSourceIsPosedAtOnce() {
        Poser poser;
        poser.setSource(std::make_shared<tests::AnalyticSource>(3, tests::timed(1.0), tests::drift(1.0f)));
        poser.request(0, 0.5, true);
        QVERIFY(!poser.busy());
        QCOMPARE(poser.pose().positions[0].x, -0.5f);
        QVERIFY(std::abs(poser.pose().before[0].x - (-0.5f - static_cast<float>(Poser::kMoment))) < 1e-6f);
    }
    void aSlowSourceIsPosedInTheBackgroundAndTheNewestWins() {
        Poser poser;
        QSignalSpy ready(&poser, &Poser::ready);
        poser.setSource(std::make_shared<SlowSource>());
        poser.request(0, 0.1, false); // the first tells that it is slow
        QCOMPARE(poser.pose().seconds, 0.1);
        poser.request(0, 0.2, false);
        QVERIFY(poser.busy());
        QCOMPARE(poser.pose().seconds, 0.1); // meanwhile the last one stands
        poser.request(0, 0.3, false);
        poser.request(0, 0.4, false);
        QTRY_COMPARE(poser.pose().seconds, 0.4);
        QTRY_VERIFY(!poser.busy());
        QCOMPARE(ready.size(), qsizetype(2)); // 0.3 was never made
        poser.request(0, 0.9, false);
        QTRY_VERIFY(poser.problem().contains("went away"));
        QCOMPARE(poser.pose().seconds, 0.4);
        poser.request(0, 0.2, false);
        poser.setSource(nullptr); // what still runs is of no interest
        QTest::qWait(60);
        QVERIFY(poser.pose().positions.empty());
    }
    void theMapTellsAndPicks() {
        inspect::PoseTable table;
        table.frames = 40;
        table.vertices = 1;
        table.points.resize(40);
        for (std::size_t f = 0; f < 40; ++f) {
            const double turn = 6.283185307 * static_cast<double>(f) / 25.0;
            table.points[f] = {static_cast<float>(std::cos(turn)), static_cast<float>(std::sin(turn)), 0.0f};
        }
        const auto likeness = std::make_shared<inspect::Likeness>(inspect::measureLikeness(table));
        LikenessMap map;
        map.resize(202, 202);
        map.show();
        map.setLikeness(likeness, 2);
        QSignalSpy picked(&map, &LikenessMap::windowPicked);
        QSignalSpy hovered(&map, &LikenessMap::hovered);
        map.setWindows({{{10, 59, 0.0f}, 0.0}});
        QTest::mouseClick(&map, Qt::LeftButton, {}, map.spotOf({10, 59, 0.0f}) + QPoint(2, -2));
        QCOMPARE(picked.size(), qsizetype(1));
        const auto window = picked[0][0].value<inspect::LoopWindow>();
        QCOMPARE(window.first, std::size_t(10)); // the spot that is nearly hit
        QCOMPARE(window.last, std::size_t(59));
        QTest::mouseMove(&map, map.spotOf({4, 29, 0.0f}));
        QTRY_VERIFY(!hovered.isEmpty() && hovered.last()[0].toString().contains("poses"));
        QTest::mouseClick(&map, Qt::LeftButton, {}, map.spotOf({20, 20, 0.0f})); // on the diagonal: no window
        QCOMPARE(picked.size(), qsizetype(1));
        const QImage picture = map.grab().toImage();
        const QPoint alike = map.spotOf({0, 49, 0.0f}) + QPoint(1, 1);
        const QPoint unlike = map.spotOf({0, 23, 0.0f}) + QPoint(1, 1);
        QVERIFY(qGray(picture.pixel(alike)) + 40 < qGray(picture.pixel(unlike))); // dark is alike
    }
    void theChartsWindowIsVeiledOutside() {
        FrameChart chart;
        chart.resize(500, 200);
        chart.show();
        QTest::qWait(30);
        chart.setLines({{"a", Qt::red, std::vector<float>(50, 0.01f), false}}, -1, {});
        QTest::qWait(30);
        chart.setWindow(10, 39, 50);
        QVERIFY(chart.handleAt(true).x() < chart.handleAt(false).x());
        chart.setWindow(0, 49, 50);
        QVERIFY(chart.handleAt(true).x() < 120);
    }
    void aQuestionStandsUntilItIsAnswered() {
        Session session;
        FindingsLine line(session);
        bool yes = false;
        line.ask("Shall it?", {"Yes", [&] { yes = true; }}, {"No", {}});
        line.say("Something else", Lamp::fine);
        QCOMPARE(line.words(), QString("Shall it?"));
        line.findChild<QPushButton*>("findingFix")->click();
        QVERIFY(yes);
        QVERIFY(!line.asking());
        QVERIFY(line.words() != "Shall it?");
        line.tell("Read this", Lamp::look);
        line.say("Something else", Lamp::fine);
        QCOMPARE(line.words(), QString("Read this"));
    }
    void whatHasNoFileIsKeptUnderTheProgramsNumber() {
        tests::keepPlacesApart();
        QDir(Autosave::folder()).removeRecursively();
        Session session;
        Autosave autosave(session);
        session.edit("shape", [](project::Document& d) {
            d.source.shape = mesh::TestShape{"disc", 1.0, 8, 4};
        });
        autosave.keep();
        QCOMPARE(QDir(Autosave::folder()).entryList(QDir::Files | QDir::Hidden).size(), qsizetype(1));
        QVERIFY(!Autosave::leftUntitled()); // its program runs: this one
        // Left by a program that no longer runs.
        const QString own = QDir(Autosave::folder()).entryList(QDir::Files | QDir::Hidden)[0];
        QFile::copy(Autosave::folder() + "/" + own, Autosave::folder() + "/4194303.curly.unsaved");
        const auto left = Autosave::leftUntitled();
        QVERIFY(left && left->project.isEmpty());
        Session other;
        other.restore(left->copy, left->project);
        QCOMPARE(other.document().source.shape->kind, std::string("disc"));
        QVERIFY(!other.undoStack().isClean());
        session.undoStack().undo(); // back to what was saved: nothing to keep
        autosave.keep();
        QVERIFY(!QFile::exists(Autosave::folder() + "/" + own));
        QDir(Autosave::folder()).removeRecursively();
    }
};

static const ripple::tests::SuiteOf<TestGatherParts> kSuite;
#include "test_gather_parts.moc"
