// Both ways a picture comes onto the screen: painted, and composed by the graphics card. What they show is
// the same.

#include "own_places.h"
#include "real_window.h"
#include "suite.h"

#include "app/stage/presentation.h"

#include <QApplication>
#include <QOpenGLContext>
#include <QSignalSpy>
#include <QTest>

using namespace ripple;
using namespace ripple::app;

class TestPresentationWindow : public QObject {
    Q_OBJECT

    std::unique_ptr<MainWindow> window_;

    Stage& stage() { return *window_->stage(); }
    bool finished() {
        return QTest::qWaitFor([this] { return window_->session().bake() && stage().showsFinished(); },
                               30000);
    }

private Q_SLOTS:
    void initTestCase() { tests::keepPlacesApart(); }
    void init() {
        window_ = tests::shownWindow(true);
        window_->openPath(tests::ownDemo("gull.curly"));
        QVERIFY(finished());
    }
    void cleanup() {
        window_->session().undoStack().setClean();
        window_.reset();
    }

    void aProcessorsPicturesArePainted() {
        QVERIFY(QOpenGLContext::globalShareContext());
        QVERIFY(presentationFor(true) == Presentation::painted);
        QVERIFY(presentationFor(false) == Presentation::composed);
        QVERIFY(stage().presentation() == Presentation::painted); // these machines draw so
        QVERIFY(stage().hasReadBack());
    }
    void composedShowsWhatPaintedShows_data() {
        QTest::addColumn<QString>("look");
        for (const char* look : {"lit", "wire", "normals"}) {
            QTest::addRow("%s", look) << look;
        }
    }
    void composedShowsWhatPaintedShows() {
        QFETCH(QString, look);
        window_->session().look([&](project::View& view) { view.look = look.toStdString(); });
        QVERIFY(finished());
        const QImage painted = stage().picture();
        stage().present(Presentation::composed);
        QVERIFY(stage().presentation() == Presentation::composed);
        QVERIFY(finished());
        const QImage composed = stage().picture();
        QCOMPARE(composed.size(), painted.size());
        // Words and lines over the model are painted by another engine, which smooths edges in its own way.
        int apart = 0;
        for (int y = 0; y < painted.height(); ++y) {
            for (int x = 0; x < painted.width(); ++x) {
                apart += std::abs(qGray(painted.pixel(x, y)) - qGray(composed.pixel(x, y))) > 2;
            }
        }
        QVERIFY2(apart < painted.width() * painted.height() / 100, qPrintable(QString::number(apart)));
        QVERIFY(tests::difference(painted, composed) < 0.5);
        stage().present(Presentation::painted);
        QVERIFY(finished());
        QVERIFY(stage().picture() == painted);
    }
    void composedDrawsOnDemandAndReadsNothingBack() {
        stage().present(Presentation::composed);
        QVERIFY(finished());
        const auto* view = stage().findChild<QOpenGLWidget*>();
        QVERIFY(view && view->isVisible());
        QCOMPARE(view->geometry(), stage().rect());
        QCOMPARE(view->format().swapInterval(), 1);
        QSignalSpy drawn(&stage(), &Stage::drawn);
        // What was still on its way comes first, however long that takes here.
        const auto restsFor = [&](int milliseconds) {
            drawn.clear();
            QTest::qWait(milliseconds);
            return drawn.isEmpty();
        };
        QVERIFY(QTest::qWaitFor([&] { return restsFor(400); }, 30000));
        // A frame of the clip is another picture; the last painted one is not replaced.
        const QImage before = stage().picture();
        drawn.clear();
        window_->session().playhead().setFrame(20.0);
        QTRY_VERIFY(!drawn.isEmpty());
        QVERIFY(finished());
        QVERIFY(tests::difference(before, stage().picture()) > 0.1);
        // The pointer still reaches the stage: orbiting draws anew.
        const QPoint middle = stage().rect().center();
        QVERIFY(window_->childAt(stage().mapTo(window_.get(), middle)) == &stage());
        const QImage seen = stage().picture();
        QTest::mousePress(&stage(), Qt::LeftButton, {}, middle);
        QTest::mouseMove(&stage(), middle + QPoint(60, 20));
        QTest::mouseRelease(&stage(), Qt::LeftButton, {}, middle + QPoint(60, 20));
        QVERIFY(finished());
        QTRY_VERIFY(tests::difference(seen, stage().picture()) > 0.1);
    }
    void composedNeedsNoPainting() {
        // A stage that was composed from its first picture on has never read one back.
        auto fresh = std::make_unique<MainWindow>();
        fresh->session().setRest(15);
        fresh->stage()->present(Presentation::composed);
        fresh->resize(1280, 800);
        fresh->show();
        QVERIFY(QTest::qWaitForWindowExposed(fresh.get()));
        fresh->openPath(tests::ownDemo("skate.curly"));
        QVERIFY(QTest::qWaitFor([&] { return fresh->session().bake() && fresh->stage()->showsFinished(); },
                                30000));
        fresh->session().playhead().setFrame(7.0);
        QVERIFY(QTest::qWaitFor([&] { return fresh->stage()->showsFinished(); }, 30000));
        QVERIFY(!fresh->stage()->hasReadBack());
        fresh->resize(1100, 700);
        QTRY_COMPARE(fresh->stage()->findChild<QOpenGLWidget*>()->size(), fresh->stage()->size());
        fresh->session().undoStack().setClean();
    }
};

static const ripple::tests::SuiteOf<TestPresentationWindow> kSuite;
#include "test_presentation_window.moc"
