// The Gather bench in the real window, by mouse and keyboard.

#include "app/benches/gather/likeness_page.h"
#include "app/benches/gather/space_card.h"
#include "app/charts/frame_chart.h"
#include "app/dial/dial.h"
#include "app/session/bench_state.h"
#include "app/look/closing_words.h"
#include "app/window/main_window.h"
#include "app/look/panel_parts.h"
#include "app/window/pictures.h"
#include "app/look/segmented_choice.h"
#include "app/look/theme.h"
#include "app/look/tick_box.h"
#include "base/files.h"
#include "own_places.h"
#include "real_window.h"
#include "suite.h"

#include <QApplication>
#include <QComboBox>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QLabel>
#include <QPushButton>
#include <QScreen>
#include <QScrollArea>
#include <QSettings>
#include <QTemporaryDir>
#include <QTest>

#include <cmath>

using namespace ripple;
using namespace ripple::app;

namespace {

QString demo(const char* file) {
    return tests::ownDemo(file);
}

std::string square(float z, const std::string& more = {}) {
    return "v 0 0 0\nv 1 0 0\nv 1 1 " + std::to_string(z) + "\nv 0 1 0\n" + more +
           "vt 0 0\nvt 1 1\nf 1/1 2/1 3/2 4/2\n";
}

} // namespace

class TestGatherWindow : public QObject {
    Q_OBJECT

    tests::SharedWindow window_;
    std::unique_ptr<QTemporaryDir> dir_;

    Session& session() { return window_->session(); }
    template <typename T>
    T* find(const QString& name) {
        return window_->findChild<T*>(name);
    }
    QString path(const char* name) const { return dir_->filePath(name); }
    void put(const char* name, const std::string& text) { base::writeFile(path(name).toStdString(), text); }
    /// The awning as it came, before its end was faded into its start.
    void openAwning() {
        openAndWait(demo("brief.curly"));
        session().edit("as it came", [](project::Document& d) { d.recipe.closing = bake::Closing::drop; });
        QVERIFY(waitUntilIdle(*window_));
        session().undoStack().clear();
    }
    void openAndWait(const QString& file) {
        window_->openPath(file);
        QVERIFY(waitUntilIdle(*window_));
        window_->showBench(0);
        QTest::qWait(10); // what was replaced is gone by then
    }
    void key(Qt::Key k, Qt::KeyboardModifiers m = Qt::NoModifier) { tests::pressKey(*window_, k, m); }
    QImage stagePicture() {
        waitUntilIdle(*window_);
        QTest::qWait(80);
        return window_->stage()->picture();
    }
    Card* cardTitled(const QString& words) {
        for (Card* card : window_->bench(0).panel()->findChildren<Card*>()) {
            for (QLabel* label : card->findChildren<QLabel*>()) {
                if (card->isVisibleTo(&*window_) && label->text().contains(words)) {
                    return card;
                }
            }
        }
        return nullptr;
    }
    /// Undo and redo give the very documents before and after.
    void undoesAndRedoes(const project::Document& before) {
        const project::Document after = session().document();
        const auto same = [](const project::Document& a, project::Document b) {
            b.view = a.view;
            return a == b;
        };
        QVERIFY(!same(before, after));
        key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(same(before, session().document()));
        key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(same(after, session().document()));
        QVERIFY(waitUntilIdle(*window_));
        QTest::qWait(10);
    }

private Q_SLOTS:
    void initTestCase() {
        tests::keepPlacesApart();
        QSettings().clear();
        applyTheme(*qApp, ThemeKind::dusk);
    }
    void init() {
        dir_ = std::make_unique<QTemporaryDir>();
        window_.begin();
    }
    void cleanup() { window_.end(); }
    void cleanupTestCase() { window_.close(); }

    void filesOutsideAreFollowedOnlyWhenAPersonSaysSo() {
        QDir(dir_->path()).mkpath("a/b/model");
        QVERIFY(QFile::copy(demo("crates.png"), path("secret.png")));
        put("a/b/model/m.mtl", "newmtl skin\nmap_Kd " + path("secret.png").toStdString() + "\n");
        put("a/b/model/m.obj",
            "mtllib m.mtl\nusemtl skin\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\n"
            "f 1/1 2/2 3/3\n");
        openAndWait(path("a/b/model/m.obj"));
        const auto image = [this] {
            return session().source()->mesh().materials[0].baseColourImage != nullptr;
        };
        QVERIFY(!image());
        Card* card = cardTitled("outside its folder");
        QVERIFY(card);
        const project::Document before = session().document();
        auto* fix = card->findChild<QPushButton*>("fix");
        QCOMPARE(fix->text(), QString("Read them too"));
        for (const QLabel* label : card->findChildren<QLabel*>()) {
            QVERIFY(!label->text().contains("--follow")); // the button does it here
        }
        QTest::mouseClick(fix, Qt::LeftButton);
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(image());
        undoesAndRedoes(before);
        QVERIFY(image());
    }
    void buffersOutsideAreOfferedToo() {
        QDir(dir_->path()).mkpath("a/b/model");
        QVERIFY(QFile::copy("/usr/share/assimp/models/glTF2/BoxTextured-glTF/BoxTextured.gltf",
                            path("a/b/model/box.gltf")));
        QVERIFY(
            QFile::copy("/usr/share/assimp/models/glTF2/BoxTextured-glTF/BoxTextured0.bin", path("box.bin")));
        QFile file(path("a/b/model/box.gltf"));
        QVERIFY(file.open(QIODevice::ReadWrite));
        QByteArray text = file.readAll();
        text.replace("BoxTextured0.bin", "../../../box.bin");
        file.resize(0);
        file.write(text);
        file.close();
        openAndWait(path("a/b/model/box.gltf"));
        QVERIFY(!session().source() && session().sourceProblem());
        const std::vector<OpenFinding> open = openFindings(session());
        QVERIFY(!open.empty() && !open[0].fixes.empty());
        QCOMPARE(open[0].fixes[0].label, QString("Read it too"));
        // It stands on the line at the bottom, with its button.
        auto* button = find<QPushButton>("findingFix");
        QVERIFY(button->isVisible());
        QTest::mouseClick(button, Qt::LeftButton);
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(session().source());
        QCOMPARE(session().source()->mesh().vertexCount(), std::size_t(24));
    }
    void longNamesDoNotWidenThePanel() {
        for (const char* model : {"FBX/spider.fbx", "FBX/animation_with_skeleton.fbx"}) {
            window_->openPath(QString(MODELS_FOLDER) + "/" + model);
            QVERIFY(waitUntilIdle(*window_));
            auto* area = window_->bench(0).panel()->findChild<QScrollArea*>();
            QVERIFY2(area->widget()->width() <= area->viewport()->width(), model);
        }
    }
    void namesOutOfFilesAreShownAsTheyAre() {
        const std::string nasty = "<b>x</b><img src='/etc/passwd'>";
        put("n.mtl", "newmtl " + nasty + "\nmap_Kd " + nasty + ".png\n");
        put("n.obj", "mtllib n.mtl\no " + nasty + "\ng " + nasty + "\nusemtl " + nasty +
                         "\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nf 1/1 2/2 3/3\n");
        openAndWait(path("n.obj"));
        QVERIFY(session().source());
        for (int bench = 0; bench < 5; ++bench) {
            window_->showBench(bench);
            QVERIFY(waitUntilIdle(*window_));
            QTest::qWait(10);
            for (const QWidget* widget : window_->findChildren<QWidget*>()) {
                const auto* label = qobject_cast<const QLabel*>(widget);
                const bool marked =
                    label && label->textFormat() != Qt::PlainText && label->text().contains("img");
                QVERIFY2(!marked, qPrintable(label ? label->text() : QString()));
                QVERIFY2(!widget->toolTip().contains("<img"), qPrintable(widget->toolTip()));
            }
        }
    }
    void aLoopWithoutItsRepeatIsSaidToPlayRound() {
        // A square's corner goes round once in 24 frames; the 25th, which would be the first again, is not
        // there.
        for (int f = 0; f < 24; ++f) {
            put(qPrintable(QString("round_%1.obj").arg(f, 2, 10, QChar('0'))),
                square(0.4f * std::sin(6.2831853f * static_cast<float>(f) / 24.0f)));
        }
        openAndWait(path("round_00.obj"));
        const bake::ClipPlan& clip = session().bake()->plan.clips[0];
        QVERIFY(clip.closed && clip.leadsRound);
        QCOMPARE(clip.seconds.size(), std::size_t(24));
        QCOMPARE(closingWords(clip), QString("end leads to start"));
        QVERIFY(window_->dial()->accessibleDescription().contains("end leads to start"));
        window_->showBench(1);
        QTest::qWait(20);
        QVERIFY(find<QLabel>("seamWords")->text().contains("end leads to start"));
        // Left open by one click on Bake, and back by undo.
        auto* closing = find<SegmentedChoice>("closing");
        QTest::mouseClick(closing->findChildren<QAbstractButton*>()[0], Qt::LeftButton);
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(!session().bake()->plan.clips[0].closed);
        QVERIFY(window_->dial()->accessibleDescription().contains("open"));
        session().undoStack().undo();
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(session().bake()->plan.clips[0].closed);
    }
    void theLookupsUvSetIsChosen() {
        openAndWait(demo("heron.glb"));
        auto* box = find<QComboBox>("lookupUvSet");
        QVERIFY(box && box->currentText().contains("1"));
        box->setFocus();
        QTest::keyClick(box, Qt::Key_Down); // set 0, which the plumage reads
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().document().recipe.lookupUvSet, std::optional<std::size_t>(0));
        QTest::qWait(20);
        Card* conflict = cardTitled("which is read by");
        QVERIFY(conflict);
        QTest::mouseClick(conflict->findChild<QPushButton*>(), Qt::LeftButton);
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(!session().document().recipe.lookupUvSet);
        session().undoStack().undo();
        QCOMPARE(session().document().recipe.lookupUvSet, std::optional<std::size_t>(0));
        session().undoStack().undo();
        QVERIFY(!session().document().recipe.lookupUvSet);
    }
    void aWindowIsPickedOnTheLikenessMap() {
        openAndWait(demo("awning.curly"));
        window_->bench(0).showStrip(1);
        auto* map = window_->findChild<LikenessMap*>();
        const auto survey = session().survey();
        QVERIFY(survey && survey->complete && survey->clips[0].windows.size() > 1);
        const inspect::LoopWindow wanted = survey->clips[0].windows[1].window;
        const project::Document before = session().document();
        QTest::mouseClick(map, Qt::LeftButton, {}, map->spotOf(wanted));
        const auto& clips = session().document().recipe.clips;
        QCOMPARE(clips.size(), std::size_t(1));
        QVERIFY((*clips[0].window == bake::FrameWindow{wanted.first, wanted.last}));
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().playhead().clip()->frames, wanted.frames());
        undoesAndRedoes(before);
        // The list shows it chosen; another row is another window.
        auto* row = find<QPushButton>("window 1");
        QVERIFY(row->isChecked());
        QTest::mouseClick(find<QPushButton>("window 0"), Qt::LeftButton);
        QCOMPARE(session().document().recipe.clips[0].window->first,
                 survey->clips[0].windows[0].window.first);
        // Its ends side by side: the curtain stands, and its sides differ.
        QTest::mouseClick(find<TickBox>("compareEnds"), Qt::LeftButton);
        QVERIFY(session().compared());
        QVERIFY(window_->stage()->curtainShown());
    }
    void aLengthCanBeAskedFor() {
        openAndWait(demo("brief.curly"));
        window_->bench(0).showStrip(1);
        auto* length = find<NumberField>("windowLength");
        length->setFocus();
        length->selectAll();
        QTest::keyClicks(length, "40");
        QTest::keyClick(length, Qt::Key_Return);
        QTRY_VERIFY(find<QPushButton>("window 0") &&
                    find<QPushButton>("window 0")->accessibleName().contains("40 frames"));
    }
    void theWindowsHandlesAreDragged() {
        openAndWait(demo("awning.curly"));
        auto* chart = window_->bench(0).strip()->findChild<FrameChart*>();
        QWidget* plot = chart->findChildren<QWidget*>().first();
        const project::Document before = session().document();
        const QPoint from = chart->handleAt(true);
        QTest::mousePress(plot, Qt::LeftButton, {}, from);
        for (int step = 1; step <= 8; ++step) {
            QTest::mouseMove(plot, from + QPoint(10 * step, 0));
            QTest::qWait(10);
        }
        QTest::mouseRelease(plot, Qt::LeftButton, {}, from + QPoint(80, 0));
        const auto& clips = session().document().recipe.clips;
        QVERIFY(!clips.empty() && clips[0].window);
        QVERIFY(clips[0].window->first > 5 && clips[0].window->first < 40);
        QCOMPARE(clips[0].window->last, std::size_t(119));
        QVERIFY(waitUntilIdle(*window_));
        undoesAndRedoes(before); // one drag, one step
    }
    void aFindingGoesToItsFrameAndMarksItsVertices() {
        for (int f = 0; f < 6; ++f) {
            put(qPrintable(QString("s_%1.obj").arg(f)), square(f == 4 ? 8e5f : 0.1f * static_cast<float>(f)));
        }
        openAndWait(path("s_0.obj"));
        QVERIFY(window_->findingsLine()->words().contains("far away"));
        Card* card = cardTitled("far away from all others");
        QVERIFY(card);
        QTest::mouseClick(card, Qt::LeftButton, {}, QPoint(20, 12));
        QCOMPARE(std::lround(session().clipFrame()), 4L);
        QCOMPARE(session().marks(), std::vector<std::uint32_t>{2});
        const project::Document before = session().document();
        QTest::qWait(10);
        card = cardTitled("far away from all others");
        QTest::mouseClick(card->findChild<QPushButton*>("fix"), Qt::LeftButton);
        QVERIFY(session().document().source.reading.mending.holdStray);
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(!cardTitled("far away from all others"));
        undoesAndRedoes(before);
    }
    void looksShowWhatThereIs() {
        openAndWait(demo("heron.curly"));
        QVERIFY(find<QPushButton>("look joints")->isVisible());
        QVERIFY(!find<QPushButton>("look colours")->isVisible()); // it has none
        const QImage lit = stagePicture();
        for (const Qt::Key k : {Qt::Key_W, Qt::Key_U, Qt::Key_J, Qt::Key_S}) {
            key(k);
            const QImage other = stagePicture();
            QVERIFY(other != lit);
            QVERIFY(!window_->stage()->shades().title.isEmpty());
            key(Qt::Key_L);
        }
        key(Qt::Key_J);
        stagePicture();
        const QString first = window_->stage()->shades().title;
        key(Qt::Key_J); // again: the next joint
        QCOMPARE(session().shownJoint(), 1);
        stagePicture();
        QVERIFY(window_->stage()->shades().title != first);
    }
    void coloursAndUvSetsAreGoneThrough() {
        put("c.ply",
            "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n"
            "property uchar red\nproperty uchar green\nproperty uchar blue\nelement face 1\n"
            "property list uchar int vertex_indices\nend_header\n"
            "0 0 0 255 0 0\n1 0 0 255 0 0\n0 1 0 255 0 0\n3 0 1 2\n");
        openAndWait(path("c.ply"));
        key(Qt::Key_O);
        stagePicture();
        QCOMPARE(window_->stage()->shades().colours[0], glm::vec4(1, 0, 0, 1));
        key(Qt::Key_O);
        QCOMPARE(session().document().view.channel, std::string("r"));
        stagePicture();
        QCOMPARE(window_->stage()->shades().colours[0], glm::vec4(1, 1, 1, 1));
        key(Qt::Key_O);
        stagePicture();
        QCOMPARE(window_->stage()->shades().colours[0], glm::vec4(0, 0, 0, 1));
    }
    void twoFramesAreCompared() {
        openAwning();
        session().playhead().setFrame(10);
        key(Qt::Key_M);
        QCOMPARE(*session().compared(), 10.0);
        session().look([](project::View& v) { v.curtain = 0.5; });
        const QImage same = stagePicture();
        session().playhead().setFrame(70);
        const QImage differs = stagePicture();
        const QRect right(same.width() * 6 / 10, same.height() / 3, same.width() / 4, same.height() / 3);
        const QRect left(same.width() / 4, same.height() / 3, same.width() / 5, same.height() / 3);
        const auto difference = [&](const QRect& part) {
            double sum = 0.0;
            for (int y = part.top(); y <= part.bottom(); ++y) {
                for (int x = part.left(); x <= part.right(); ++x) {
                    sum += std::abs(qGray(same.pixel(x, y)) - qGray(differs.pixel(x, y)));
                }
            }
            return sum / (part.width() * part.height());
        };
        QVERIFY(difference(left) > 2.0);
        QVERIFY(difference(right) < 0.01); // right stays frame 10
        key(Qt::Key_M);
        QVERIFY(!window_->stage()->curtainShown());
    }
    void unitAndUpAxisAreChosenByPicture() {
        openAndWait(demo("heron.glb"));
        const float high = session().source()->mesh().positions[100].y;
        project::Document before = session().document();
        QTest::mouseClick(find<SegmentedChoice>("units")->findChildren<QPushButton*>()[1], Qt::LeftButton);
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(std::abs(session().source()->mesh().positions[100].y - 0.01f * high) < 1e-6f);
        undoesAndRedoes(before);
        before = session().document();
        QTest::mouseClick(find<UpPicture>("up z"), Qt::LeftButton);
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(std::abs(session().source()->mesh().positions[100].z + 0.01f * high) < 1e-6f);
        undoesAndRedoes(before);
    }
    void itsTimeIsItsOwn() {
        openAndWait(demo("heron.glb"));
        project::Document before = session().document();
        auto* speed = find<NumberField>("speed");
        speed->setFocus();
        speed->selectAll();
        QTest::keyClicks(speed, "2");
        QTest::keyClick(speed, Qt::Key_Return);
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(std::abs(session().source()->clips()[0].duration - 0.7) < 1e-6);
        undoesAndRedoes(before);
        before = session().document();
        QTest::mouseClick(find<TickBox>("reversed"), Qt::LeftButton);
        QVERIFY(session().document().source.reading.time.reversed);
        undoesAndRedoes(before);
    }
    void aSequencesRangeAndRateAreTyped() {
        openAndWait(demo("awning.curly"));
        const auto type = [&](const char* name, const char* words) {
            auto* field = find<NumberField>(name);
            field->setFocus();
            field->selectAll();
            QTest::keyClicks(field, words);
            QTest::keyClick(field, Qt::Key_Return);
            QVERIFY(waitUntilIdle(*window_));
        };
        project::Document before = session().document();
        type("rangeFirst", "20");
        QVERIFY((session().document().source.reading.time.range == source::FrameRange{20, 119}));
        QCOMPARE(session().source()->clips()[0].frames, std::size_t(100));
        undoesAndRedoes(before);
        before = session().document();
        type("rate", "25");
        QCOMPARE(session().playhead().clip()->fps, 25.0);
        undoesAndRedoes(before);
        type("rangeLast", "500"); // beyond the end: the end
        QVERIFY((session().document().source.reading.time.range == source::FrameRange{20, 119}));
        type("rangeFirst", "0"); // all of it is no range
        QVERIFY(!session().document().source.reading.time.range);
    }
    void testShapesAndSubdivision() {
        session().edit("shape", [](project::Document& d) {
            d.source.shape = mesh::TestShape{"sheet", 2.0, 8, 8};
        });
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().source()->mesh().triangleCount(), std::size_t(128));
        const project::Document before = session().document();
        QTest::mouseClick(find<SegmentedChoice>("subdivide")->findChildren<QPushButton*>()[2],
                          Qt::LeftButton);
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().source()->mesh().triangleCount(), std::size_t(128 * 16));
        undoesAndRedoes(before);
        auto* across = find<NumberField>("shapeAcross");
        QVERIFY(across->isVisible());
        across->setFocus();
        across->selectAll();
        QTest::keyClicks(across, "3");
        QTest::keyClick(across, Qt::Key_Return);
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().document().source.shape->across, std::size_t(3));
    }
    void aChangedFileIsReadAgainAndSaid() {
        for (int f = 0; f < 5; ++f) {
            put(qPrintable(QString("w_%1.obj").arg(f)), square(0.2f * static_cast<float>(f)));
        }
        openAndWait(path("w_0.obj"));
        session().edit("step", [](project::Document& d) { d.recipe.step = 2; });
        QVERIFY(waitUntilIdle(*window_));
        QTest::qWait(30); // another time stamp
        for (int f = 0; f < 5; ++f) {
            put(qPrintable(QString("w_%1.obj").arg(f)), square(0.3f * static_cast<float>(f), "v 2 2 2\n"));
        }
        QTRY_VERIFY_WITH_TIMEOUT(session().source() && session().source()->mesh().vertexCount() == 5, 8000);
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY2(window_->findingsLine()->words().contains("5 vertices, were 4"),
                 qPrintable(window_->findingsLine()->words()));
        QCOMPARE(session().document().recipe.step, std::size_t(2)); // choices stay
        // A file that goes is a problem in words; what was there is shown on.
        QFile::remove(path("w_0.obj"));
        put("w_1.obj", "v 0 0");
        QTRY_VERIFY_WITH_TIMEOUT(window_->findingsLine()->words().contains("w_1.obj"), 8000);
        QVERIFY(session().source());
    }
    void whatACrashLeftIsOffered() {
        put("m_0.obj", square(0.0f));
        put("m_1.obj", square(0.4f));
        openAndWait(path("m_0.obj"));
        session().saveAs(path("m.curly"));
        session().edit("step", [](project::Document& d) { d.recipe.maxWidth = 512; });
        window_->autosave().keep();
        const QString copy = path(".m.curly.unsaved");
        QVERIFY(QFileInfo::exists(copy));
        QFile::copy(copy, path("kept")); // as after a crash: nobody takes it away
        session().undoStack().setClean();
        QVERIFY(!QFileInfo::exists(copy));
        QTest::qWait(20);
        QFile::copy(path("kept"), copy);
        openAndWait(path("m.curly"));
        QVERIFY(window_->findingsLine()->asking());
        QCOMPARE(session().document().recipe.maxWidth, std::size_t(2048));
        QTest::mouseClick(find<QPushButton>("findingFix"), Qt::LeftButton);
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().document().recipe.maxWidth, std::size_t(512));
        QCOMPARE(session().projectFile(), path("m.curly"));
        QVERIFY(!session().undoStack().isClean());
        session().save();
        QVERIFY(!QFileInfo::exists(copy));
        openAndWait(path("m.curly"));
        QVERIFY(!window_->findingsLine()->asking());
        QCOMPARE(session().document().recipe.maxWidth, std::size_t(512));
    }
    void oneMeshOfSeveralIsTaken() {
        QDir().mkpath(path("models"));
        const QString file = "/usr/share/assimp/models/glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb";
        if (!QFileInfo::exists(file)) {
            QSKIP("the test models are not installed");
        }
        openAndWait(file);
        const std::size_t all = session().source()->mesh().vertexCount();
        const project::Document before = session().document();
        const std::string name = session().source()->meshes()[0].name;
        auto* box = find<TickBox>("mesh " + QString::fromStdString(name));
        QVERIFY(box);
        QTest::mouseClick(box, Qt::LeftButton);
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(session().source()->mesh().vertexCount() < all);
        undoesAndRedoes(before);
    }
};

static const ripple::tests::SuiteOf<TestGatherWindow> kSuite;
#include "test_gather_window.moc"
