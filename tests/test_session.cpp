// The open project, without a window: what is computed when, what undoes, what is kept.

#include "app/charts/texture_sheet.h"
#include "app/dial/dial.h"
#include "app/session/bench_state.h"
#include "app/session/session.h"
#include "base/files.h"
#include "base/progress.h"
#include "own_places.h"
#include "suite.h"

#include <QFile>
#include <QFileInfo>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

using namespace ripple;
using namespace ripple::app;

namespace {

const QString kHeron = QString(DEMO_FOLDER) + "/heron.curly";
const QString kAwning = QString(DEMO_FOLDER) + "/awning_####.obj";

bool idle(Session& session) {
    return QTest::qWaitFor(
        [&] {
            return !session.sourceJob().running() && !session.surveyJob().running() &&
                   !session.bakeJob().running() && !session.sizing() && !session.shipJob().running();
        },
        60000);
}

} // namespace

class TestSession : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void openingComputesEverything() {
        Session session;
        QSignalSpy loaded(&session, &Session::sourceLoaded);
        session.open(kHeron);
        QVERIFY(idle(session));
        QVERIFY(loaded.count() >= 1);
        QVERIFY(session.source() && session.bake() && session.ship());
        QCOMPARE(session.bake()->motion.size(), std::size_t(3));
        QCOMPARE(session.survey()->clips.size(), std::size_t(3));
        QCOMPARE(session.title(), QString("heron"));
        QCOMPARE(session.projectFile(), QFileInfo(kHeron).absoluteFilePath());
        QVERIFY(session.undoStack().isClean());
    }
    void anotherStoreIsSeenBeforeItsErrorIsKnown() {
        Session session;
        session.open(tests::ownDemo("crab.curly"));
        QVERIFY(idle(session));
        QCOMPARE(session.encoded().get(), &session.bake()->baked);
        const auto before = session.bake();
        int early = 0;
        std::shared_ptr<const bake::Baked> seen;
        QObject::connect(&session, &Session::bakeEncoded, &session, [&] {
            ++early;
            seen = session.encoded();
            QCOMPARE(session.bake(), before); // the numbers of before, until there are new ones
        });
        session.edit("store", [](project::Document& d) { d.recipe.positionStore = "float32"; });
        QVERIFY(idle(session));
        QCOMPARE(early, 1);
        QVERIFY(session.bake() != before);
        QCOMPARE(seen.get(), &session.bake()->baked); // the very textures, not made twice
        QCOMPARE(session.encoded(), seen);
        // The poses were there: they are the same, not sampled anew.
        QCOMPARE(session.bake()->frames, before->frames);
        QVERIFY(session.bake()->error.all.max < before->error.all.max);
        // Other times need other poses: then nothing is seen before it is whole.
        session.edit("step", [](project::Document& d) { d.recipe.step = 2; });
        QVERIFY(idle(session));
        QCOMPARE(early, 1);
        QVERIFY(session.bake()->frames != before->frames);
    }
    void aCancelledBakeLeavesPictureAndNumbersTogether() {
        Session session;
        session.open(tests::ownDemo("crab.curly"));
        QVERIFY(idle(session));
        const auto before = session.bake();
        QObject::connect(&session, &Session::bakeEncoded, &session, [&] {
            if (session.bakeJob().running()) {
                session.bakeJob().cancel();
            }
        });
        session.edit("store", [](project::Document& d) { d.recipe.positionStore = "float32"; });
        QVERIFY(idle(session));
        QCOMPARE(session.bake(), before);
        QCOMPARE(session.encoded().get(), &before->baked);
    }
    void foldsAreFoundAndLedTo() {
        Session session;
        session.open(QString(DEMO_FOLDER) + "/skate.curly");
        QVERIFY(idle(session));
        QTRY_VERIFY(session.folds());
        QVERIFY(!session.folds()->folded()); // as it comes
        session.edit("a push along itself", [](project::Document& d) {
            motion::Voice& voice = d.score.voices[0];
            voice.push.kind = motion::PushKind::direction;
            voice.push.direction = {1, 0, 0};
            voice.course.kind = motion::CourseKind::direction;
            voice.course.direction = {1, 0, 0};
            voice.wavelength = {0.3, true};
            voice.amplitude = {0.3, true};
            voice.heldBy.clear();
        });
        QVERIFY(idle(session));
        QTRY_VERIFY(session.folds() && session.folds()->folded());
        const auto all = openFindings(session);
        const auto found = std::find_if(all.begin(), all.end(), [](const OpenFinding& one) {
            return one.title.contains("folds the surface");
        });
        QVERIFY(found != all.end() && found->lamp == Lamp::look && found->bench == "move");
        found->show();
        QCOMPARE(session.document().view.look, std::string("strain"));
        QCOMPARE(session.pickedVertex(), static_cast<int>(session.folds()->vertex));
        QVERIFY(std::abs(session.playhead().turn() - session.folds()->turn) < 0.01);
    }
    void densitiesAndBoundsFollowAScoreThatRests() {
        Session session;
        session.open(QString(DEMO_FOLDER) + "/skate.curly");
        QVERIFY(idle(session));
        QTRY_VERIFY(session.loopBounds());
        const mesh::Bounds before = session.loopBounds()->unturned;
        const auto fine = session.densities();
        QCOMPARE(fine.size(), session.document().score.voices.size());
        QSignalSpy bounded(&session, &Session::loopBounded);
        QSignalSpy measured(&session, &Session::densitiesMeasured);
        for (int step = 1; step <= 4; ++step) { // a drag
            session.edit("amplitude", [](project::Document& d) {
                d.score.voices[0].amplitude.value *= 1.3;
                d.score.voices[0].wavelength.value *= 0.5;
            });
        }
        QCOMPARE(measured.count(), 0); // while it goes on nothing is measured
        QVERIFY(idle(session));
        QCOMPARE(measured.count(), 1);
        QCOMPARE(session.densities().size(), session.document().score.voices.size());
        // A sixteenth of the wavelength: sixteen times the waves on an edge.
        QVERIFY(std::abs(session.densities()[0].worst / fine[0].worst - 16.0f) < 0.01f);
        QTRY_COMPARE(bounded.count(), 1);
        QVERIFY(session.loopBounds()->unturned.max.y > before.max.y);
        QVERIFY(session.loopBounds()->unturned.min.y < before.min.y);
        // A clip of the same length: the playhead's frames stay.
        QCOMPARE(session.plan()->clips.size(), std::size_t(1));
        session.edit("no voices", [](project::Document& d) { d.score.voices.clear(); });
        QVERIFY(idle(session));
        QTRY_VERIFY(!session.loopBounds());
        QVERIFY(session.densities().empty());
    }
    void aScoreMovesWhatIsBaked() {
        Session session;
        session.open(QString(DEMO_FOLDER) + "/skate.curly");
        QVERIFY(idle(session));
        QVERIFY(session.performance() && session.source() != session.openedSource());
        QCOMPARE(session.densities().size(), session.document().score.voices.size());
        QCOMPARE(session.source()->clips()[0].name, session.document().score.name);
        const auto before = session.bake();
        QVERIFY(before && before->baked.textures.clips[0].closed);
        // Another number: other poses, another bake; the mesh and the picked vertex stay.
        session.pickVertex(12);
        QSignalSpy loaded(&session, &Session::sourceLoaded);
        QSignalSpy changed(&session, &Session::scoreChanged);
        session.edit("louder", [](project::Document& d) { d.score.voices[0].amplitude.value *= 2.0; });
        QCOMPARE(changed.count(), 1);
        QVERIFY(idle(session));
        QCOMPARE(loaded.count(), 0);
        QCOMPARE(session.pickedVertex(), 12);
        QVERIFY(session.bake() != before);
        QVERIFY(session.bake()->baked.bounds.size().y > 1.3f * before->baked.bounds.size().y);
        // Without voices the source stands still again, and says so.
        session.edit("none", [](project::Document& d) { d.score.voices.clear(); });
        QVERIFY(idle(session));
        QVERIFY(!session.performance() && session.source() == session.openedSource());
        QCOMPARE(session.bake()->baked.textures.frameCount(), std::size_t(1));
        session.undoStack().undo();
        session.undoStack().undo();
        QVERIFY(idle(session));
        QVERIFY(session.bake()->baked.textures.images == before->baked.textures.images); // the very bytes
    }
    void aScoreOnTopKeepsTheClips() {
        Session session;
        session.open(tests::ownDemo("crab.curly"));
        QVERIFY(idle(session));
        motion::Voice bob;
        bob.id = 1;
        bob.name = "Bob";
        bob.course.kind = motion::CourseKind::unison;
        bob.push.direction = {0, 1, 0};
        session.edit("bob", [&](project::Document& d) {
            d.score.name = "bobbing";
            d.score.voices = {bob};
            d.scoreOnTop = true;
        });
        QVERIFY(idle(session));
        QCOMPARE(session.source()->clips().size(), std::size_t(3));
        QVERIFY2(session.bake(), session.bakeProblem() ? session.bakeProblem()->line().c_str() : "no bake");
        QCOMPARE(session.bake()->baked.textures.clips.size(), std::size_t(3));
        session.edit("alone", [](project::Document& d) { d.scoreOnTop = false; });
        QVERIFY(idle(session));
        QVERIFY2(session.bake(), session.bakeProblem() ? session.bakeProblem()->line().c_str() : "no bake");
        QCOMPARE(session.bake()->baked.textures.clips.size(), std::size_t(1));
        QCOMPARE(session.bake()->baked.textures.clips[0].name, std::string("bobbing"));
        QVERIFY(!session.bakeProblem()); // clips that were chosen of the heron do not matter meanwhile
    }
    void anotherStoreDoesNotSampleAgain() {
        Session session;
        session.open(tests::ownDemo("crab.curly"));
        QVERIFY(idle(session));
        const auto frames = session.bake()->frames;
        session.edit("store", [](project::Document& d) { d.recipe.positionStore = "unorm16"; });
        QVERIFY(idle(session));
        QVERIFY(session.bake()->frames == frames); // the very same
        session.edit("step", [](project::Document& d) { d.recipe.step = 2; });
        QVERIFY(idle(session));
        QVERIFY(session.bake()->frames != frames);
        QCOMPARE(session.bake()->baked.textures.clips[0].frames, std::size_t(12));
    }
    void theLadderIsKeptForWhatItVaries() {
        Session session;
        session.open(QString(DEMO_FOLDER) + "/crates.curly");
        QVERIFY(idle(session));
        QVERIFY(!session.ladder()); // nobody looks at it
        QSignalSpy grew(&session, &Session::ladderChanged);
        session.wantLadder(true);
        QVERIFY(QTest::qWaitFor([&] { return !session.ladderJob().running(); }, 60000));
        const auto ladder = session.ladder();
        QVERIFY(ladder && ladder->complete());
        QVERIFY(grew.count() > 3); // it refined while it was made
        // Its own choices leave it as it is; others make it anew.
        session.takeRung(ladder->rungs.front());
        QVERIFY(idle(session));
        QVERIFY(session.ladder() == ladder && !session.ladderJob().running());
        session.edit("powers", [](project::Document& d) { d.recipe.powerOfTwo = true; });
        QVERIFY(idle(session));
        QVERIFY(QTest::qWaitFor([&] { return !session.ladderJob().running(); }, 60000));
        QVERIFY(session.ladder() != ladder);
        session.wantLadder(false);
        session.edit("range", [](project::Document& d) { d.recipe.halfUvs = true; });
        QVERIFY(idle(session));
        QVERIFY(!session.ladderJob().running());
    }
    void aSequencesRateIsPartOfItsOpening() {
        Session session;
        session.open(kAwning);
        QVERIFY(idle(session));
        QCOMPARE(session.playhead().clip()->fps, 30.0);
        session.edit("rate", [](project::Document& d) { d.source.reading.time.rate = 15.0; });
        QVERIFY(idle(session));
        QCOMPARE(session.playhead().clip()->fps, 15.0);
        QCOMPARE(session.playhead().clip()->frames, std::size_t(120)); // the same frames, slower
        session.undoStack().undo();
        QVERIFY(idle(session));
        QCOMPARE(session.playhead().clip()->fps, 30.0);
    }
    void theSourcePlaysBeforeAnythingIsBaked() {
        Session session;
        bool playable = false;
        QObject::connect(&session, &Session::sourceLoaded, &session,
                         [&] { playable = session.plan() && session.playhead().clip() && !session.bake(); });
        session.open(kHeron);
        QVERIFY(idle(session));
        QVERIFY(playable);
        QVERIFY(session.survey() && session.survey()->complete);
        QVERIFY(!session.observations().empty());
    }
    void framesOfAClipAndOfItsWindowAreToldApart() {
        Session session;
        session.open(kAwning);
        QVERIFY(idle(session));
        session.edit("window", [&](project::Document& d) {
            d.recipe.clips = bake::withWindow(*session.source(), d.recipe, 0, {20, 80});
            d.recipe.step = 2;
        });
        QVERIFY(idle(session));
        session.goToClipFrame(0, 50.0);
        QCOMPARE(session.playhead().frame(), 15.0); // (50 − 20) / 2
        QCOMPARE(session.clipFrame(), 50.0);
        session.goToClipFrame(0, 3.0); // before the window: its first
        QCOMPARE(session.clipFrame(), 20.0);
    }
    void aSourceLargerThanAGigabyteIsBakedOnlyWhenAsked() {
        // 5 000 frames × 10 000 vertices: 1.2 GB of poses. The cache is a hole in the file but for its
        // header.
        constexpr std::uint32_t kSide = 100;
        constexpr std::uint32_t kFrames = 5000;
        QTemporaryDir dir;
        std::string obj;
        for (std::uint32_t v = 0; v < kSide * kSide; ++v) {
            obj += "v " + std::to_string(v % kSide) + " 0 " + std::to_string(v / kSide) + "\n";
        }
        for (std::uint32_t row = 0; row + 1 < kSide; ++row) {
            for (std::uint32_t v = row * kSide + 1; v < row * kSide + kSide; ++v) {
                obj += "f " + std::to_string(v) + " " + std::to_string(v + kSide) + " " +
                       std::to_string(v + 1) + "\n";
            }
        }
        obj += "f 9999 9900 10000\n";
        base::writeFile(dir.filePath("large.obj").toStdString(), obj);
        std::string head("POINTCACHE2\0", 12);
        const std::uint32_t numbers[] = {1, kSide * kSide, 0, 0x3F800000u, kFrames};
        head.append(reinterpret_cast<const char*>(numbers), sizeof numbers);
        const std::filesystem::path file = dir.filePath("large.pc2").toStdString();
        base::writeFile(file, head);
        std::filesystem::resize_file(file, head.size() + std::uintmax_t{kFrames} * kSide * kSide * 12);
        Session session;
        session.open(dir.filePath("large.pc2"));
        QVERIFY(QTest::qWaitFor([&] { return session.bakeHeld(); }, 60000));
        QVERIFY(!session.bake());
        QVERIFY(session.bakeBytes() > std::size_t{1} << 30);
        QVERIFY(session.playhead().clip()); // it plays all the same
        const auto held = openFindings(session);
        const auto said =
            std::find_if(held.begin(), held.end(), [](const OpenFinding& f) { return f.bench == "bake"; });
        QVERIFY(said != held.end() && said->title.contains("baked only when asked"));
        QCOMPARE(said->fixes.size(), std::size_t(1));
        // A window that fits is baked by itself.
        session.edit("window", [&](project::Document& d) {
            d.recipe.clips = {{"whole cache", bake::FrameWindow{100, 103}, {}}};
        });
        QVERIFY(QTest::qWaitFor([&] { return session.bake() != nullptr; }, 60000));
        QVERIFY(!session.bakeHeld());
        QCOMPARE(session.bake()->plan.frameCount(), std::size_t(4));
        session.undoStack().undo();
        QVERIFY(QTest::qWaitFor([&] { return session.bakeHeld(); }, 60000));
        QVERIFY(!session.bake());
        session.newProject(); // what still reads is cancelled
        QVERIFY(idle(session));
    }
    void readingAgainKeepsWhatApplies() {
        QTemporaryDir dir;
        const auto put = [&](int frames) {
            for (int f = 0; f < frames; ++f) {
                base::writeFile(dir.filePath(QString("q_%1.obj").arg(f)).toStdString(),
                                "v 0 0 " + std::to_string(f) + "\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
            }
        };
        put(9);
        Session session;
        session.open(dir.filePath("q_0.obj"));
        QVERIFY(idle(session));
        session.edit("range", [](project::Document& d) {
            d.source.reading.time.range = source::FrameRange{2, 8};
            d.recipe.step = 2;
        });
        QVERIFY(idle(session));
        QStringList said;
        QObject::connect(&session, &Session::sourceReloaded, &session,
                         [&](const QStringList& lines) { said = lines; });
        for (int f = 5; f < 9; ++f) {
            QFile::remove(dir.filePath(QString("q_%1.obj").arg(f)));
        }
        session.reloadSource();
        QVERIFY(idle(session));
        QTRY_VERIFY(!said.isEmpty());
        QVERIFY(idle(session));
        QVERIFY(said.join(' ').contains("do not fit"));
        QVERIFY(!session.document().source.reading.time.range); // frames 2 to 8 are no more
        QCOMPARE(session.document().recipe.step, std::size_t(2));
        QCOMPARE(session.source()->clips()[0].frames, std::size_t(5));
        session.undoStack().undo(); // what was dropped comes back, and is said to be a problem
        QVERIFY(idle(session));
        QVERIFY(session.sourceProblem());
    }
    void looksAreKeptThroughUndo() {
        Session session;
        session.open(tests::ownDemo("crab.curly"));
        QVERIFY(idle(session));
        session.edit("step", [](project::Document& d) { d.recipe.step = 2; });
        session.look([](project::View& v) {
            v.look = "normals";
            v.curtain = 0.2;
        });
        session.undoStack().undo();
        QCOMPARE(session.document().view.look, std::string("normals"));
        QCOMPARE(session.document().view.curtain, 0.2);
        QCOMPARE(session.document().recipe.step, std::size_t(1));
        session.undoStack().redo();
        QCOMPARE(session.document().view.look, std::string("normals"));
        QVERIFY(idle(session));
    }
    void gesturesMergeAndVanish() {
        Session session;
        const auto widen = [&](std::size_t width, int gesture) {
            session.edit(
                "width", [width](project::Document& d) { d.recipe.maxWidth = width; }, gesture);
        };
        const int first = session.newGesture();
        widen(100, first);
        widen(200, first);
        widen(300, first);
        QCOMPARE(session.undoStack().count(), 1);
        const int second = session.newGesture();
        QVERIFY(first != second);
        widen(400, second);
        QCOMPARE(session.undoStack().count(), 2);
        widen(300, second); // back to where the second one began
        QCOMPARE(session.undoStack().count(), 1);
        session.undoStack().undo();
        QCOMPARE(session.document().recipe.maxWidth, bake::Recipe().maxWidth);
        session.edit("nothing", [](project::Document&) {});
        QVERIFY(!session.undoStack().canUndo());
    }
    void changesSayWhatChanged() {
        Session session;
        QList<unsigned> said;
        connect(&session, &Session::documentChanged, this, [&](unsigned changes) { said << changes; });
        session.edit("a", [](project::Document& d) { d.recipe.step = 4; });
        session.edit("b", [](project::Document& d) { d.ship.name = "x"; });
        session.look([](project::View& v) { v.bench = "ship"; });
        session.undoStack().undo();
        QCOMPARE(said, (QList<unsigned>{kRecipeChange, kShipChange, kViewChange, kShipChange}));
    }
    void aBadSourceLeavesAProblemAndNothingElse() {
        Session session;
        session.open(tests::ownDemo("crab.curly"));
        QVERIFY(idle(session));
        session.open("/nowhere/at_####.obj");
        QVERIFY(idle(session));
        QVERIFY(session.sourceProblem());
        QVERIFY(!session.source() && !session.bake() && !session.playhead().clip());
        QVERIFY_EXCEPTION_THROWN(session.open("/nowhere/p.curly"), base::Failure);
        session.open(tests::ownDemo("crab.curly"));
        QVERIFY(idle(session));
        QVERIFY(session.bake() && !session.sourceProblem());
    }
    void filesAreSizedWhenTheirSizesAreLookedAt() {
        Session session;
        session.open(tests::ownDemo("crab.curly"));
        QVERIFY(idle(session));
        QVERIFY(session.ship());
        session.wantSizes(false);
        session.edit("store", [](project::Document& d) { d.recipe.positionStore = "float32"; });
        QVERIFY(idle(session));
        QVERIFY(!session.ship()); // rather than those of before
        session.wantSizes(true);
        QVERIFY(session.sizing());
        QVERIFY(idle(session));
        QVERIFY(session.ship()->manifest.textures.textures[0].pixel == image::Pixel::float32);
        session.wantSizes(false);
        session.wantSizes(true); // they are known
        QVERIFY(!session.sizing());
        // A bake's files know nothing of how large copies are.
        session.edit("size", [](project::Document& d) { d.scatter.differences.leastSize = 0.1f; });
        QVERIFY(!session.sizing());
    }
    void writingNeedsAFolder() {
        QTemporaryDir dir;
        Session session;
        session.open(tests::ownDemo("crab.curly"));
        QVERIFY(idle(session));
        QVERIFY(session.bundleFolder().isEmpty());
        session.writeBundle();
        QVERIFY(!session.shipJob().running());
        session.edit("ship", [&](project::Document& d) {
            d.ship.folder = dir.path().toStdString();
            d.ship.name = "wader";
        });
        QCOMPARE(session.bundleFolder(), dir.path() + "/wader");
        QVERIFY(idle(session));
        QCOMPARE(session.ship()->manifest.name, std::string("wader"));
        QSignalSpy written(&session, &Session::bundleWritten);
        session.writeBundle();
        QVERIFY(idle(session));
        QCOMPARE(written.count(), 1);
        QVERIFY(session.lastCheck()->ok());
        // A look changes nothing; another choice means that what lies there is not what is chosen.
        session.look([](project::View& v) { v.look = "wire"; });
        QVERIFY(session.lastCheck());
        session.edit("store", [](project::Document& d) { d.recipe.positionStore = "unorm16"; });
        QVERIFY(!session.lastCheck());
        QVERIFY(idle(session));
    }
    void sheetSpotsAreTheColumnsTheyLieOn() {
        Session session;
        session.open(kHeron);
        QVERIFY(idle(session));
        TextureSheet sheet(session);
        sheet.resize(620, 220);
        const auto bake = session.bake();
        const bake::Layout& layout = bake->baked.textures.layout;
        const QRectF box = sheet.sheetBox();
        for (std::size_t column = 0; column < layout.columns; column += 97) {
            for (const std::size_t frame :
                 {std::size_t(0), std::size_t(41), std::size_t(120), layout.blocks - 1}) {
                const QPointF at(box.left() + (static_cast<double>(layout.x(column)) + 0.5) /
                                                  static_cast<double>(layout.width) * box.width(),
                                 box.top() + (static_cast<double>(layout.y(frame, column)) + 0.5) /
                                                 static_cast<double>(layout.height()) * box.height());
                const auto spot = sheet.spotAt(at);
                QVERIFY(spot);
                QCOMPARE(spot->column, column);
                QCOMPARE(spot->row, frame);
                QCOMPARE(bake->baked.columnOfVertex[spot->vertex], static_cast<std::uint32_t>(column));
                QVERIFY(QLineF(sheet.placeOf(frame, spot->vertex), at).length() < 1e-6);
            }
        }
        QVERIFY(!sheet.spotAt(QPointF(-5, 10)));
    }
    void dialHandsPointWhereTimeIs() {
        Session session;
        session.open(tests::ownDemo("crab.curly"));
        QVERIFY(idle(session));
        Dial dial(session);
        dial.resize(236, 238);
        const QPointF centre(118, 119);
        QVERIFY(dial.gripAt(0.0).y() < centre.y() && std::abs(dial.gripAt(0.0).x() - centre.x()) < 1e-6);
        QVERIFY(dial.gripAt(0.25).x() > centre.x()); // clockwise
        QVERIFY(dial.gripAt(0.5).y() > centre.y());
        for (const double turn : {0.1, 0.35, 0.6, 0.85}) {
            QTest::mouseClick(&dial, Qt::LeftButton, {}, dial.gripAt(turn).toPoint());
            QVERIFY(std::abs(session.playhead().turn() - turn) < 0.01);
        }
        dial.setFocus();
        session.playhead().setFrame(5.0);
        QTest::keyClick(&dial, Qt::Key_Up);
        QCOMPARE(session.playhead().frame(), 15.0);
        QTest::keyClick(&dial, Qt::Key_Down);
        QCOMPARE(session.playhead().frame(), 5.0);
    }
};

static const ripple::tests::SuiteOf<TestSession> kSuite;
#include "test_session.moc"
