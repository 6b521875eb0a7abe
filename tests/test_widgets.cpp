// The pieces of the window, each by itself, without OpenGL.

#include "app/jobs/latest_job.h"
#include "app/window/actions.h"
#include "app/session/bench_state.h"
#include "app/window/main_window.h"
#include "app/look/elided_label.h"
#include "app/look/number_field.h"
#include "app/look/panel_parts.h"
#include "app/session/playhead.h"
#include "app/look/segmented_choice.h"
#include "app/look/taken_places.h"
#include "app/look/theme.h"
#include "app/look/tick_box.h"
#include "app/session/words.h"
#include "app/stage/camera.h"
#include "app/stage/uv_grid.h"
#include "base/progress.h"
#include "own_places.h"
#include "suite.h"

#include <QApplication>
#include <QMenu>
#include <QMenuBar>
#include <QPainter>
#include <QSignalSpy>
#include <QContextMenuEvent>
#include <QTimer>
#include <QTest>

#include <atomic>
#include <semaphore>
#include <QWheelEvent>

#include <cmath>
#include <set>

#include <glm/geometric.hpp>

using namespace ripple;
using namespace ripple::app;

namespace {

bake::BakedClip clipOf(const char* name, std::size_t frames, bool closed, double fps = 30.0) {
    bake::BakedClip clip;
    clip.name = name;
    clip.frames = frames;
    clip.closed = closed;
    clip.fps = fps;
    return clip;
}

void typeInto(NumberField& field, const QString& text) {
    field.setFocus();
    field.selectAll();
    QTest::keyClicks(&field, text);
    QTest::keyClick(&field, Qt::Key_Return);
}

} // namespace

class TestWidgets : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void labelsKeepApart() {
        TakenPlaces places;
        places.take({0, 0, 10, 10});
        QVERIFY(!places.isFree({9, 9, 5, 5}));
        const auto taken = places.takeFirstFree({{5, 5, 4, 4}, {20, 0, 4, 4}, {30, 0, 4, 4}});
        QVERIFY(taken == QRectF(20, 0, 4, 4));
        const auto none = places.takeFirstFree({{5, 5, 4, 4}, {21, 1, 4, 4}}); // the one before took it
        QVERIFY(!none);
    }
    void whatHasNoRoomEndsInAnEllipsis() {
        ElidedLabel label("Cheapest: 14.1 KiB, max error 0.070 mm", "quiet", Qt::ElideRight);
        label.resize(label.sizeHint());
        label.grab();
        QVERIFY(label.toolTip().isEmpty());
        label.resize(label.width() - 25, label.height());
        const QString cut = label.fontMetrics().elidedText(label.text(), Qt::ElideRight, label.width());
        QVERIFY(cut.endsWith(QChar(0x2026)));
        ElidedLabel whole(cut, "quiet");
        whole.resize(label.size());
        QVERIFY(label.grab().toImage() == whole.grab().toImage());
        QVERIFY(label.toolTip().contains("0.070 mm"));
    }
    void anEndingStaysWholeWhereALineBreaks() {
        const QChar gap(0x200B);
        const Card card("awning.obj", "scenes (.glb, .fbx) of 2.5 m in /a/b.", "");
        QStringList seen;
        for (const QLabel* label : card.findChildren<QLabel*>()) {
            seen << label->text();
        }
        QVERIFY2(seen.contains(QString("awning") + gap + ".obj"), qPrintable(seen.join("|")));
        QVERIFY2(seen.contains(QString("scenes (.glb, .fbx) of 2.5 m in /") + gap + "a/" + gap + "b."),
                 qPrintable(seen.join("|")));
    }
    void initTestCase() {
        tests::keepPlacesApart();
        applyTheme(*qApp, ThemeKind::dusk);
    }

    void pathsGoThroughTextByteForByte() {
        for (const std::string& path :
             {std::string("/a/plain.glb"), std::string("/ä/日本/🦩.glb"), std::string("f\xe4rg"),
              std::string("\xff\xfe\x80"), std::string("cut \xe6\x97"), std::string("\xc3\x28"),
              std::string("mixed ä\xe4🦩\x9f")}) {
            QCOMPARE(pathBytes(pathText(path)), path);
        }
        QCOMPARE(pathText("/ä/日本/🦩.glb"), QString("/ä/日本/🦩.glb"));
        QCOMPARE(plainTip("<b>name</b>"), QString("&lt;b&gt;name&lt;/b&gt;"));
        QCOMPARE(plainTip("5 < 6 & 7"), QString("5 < 6 & 7"));
    }
    void numbersTakeUnitsAndCommas() {
        NumberField field;
        field.setDecimals(2);
        field.setUnit("/ s");
        field.setRange(0.0, 100.0);
        field.setDefault(30.0, "source's own");
        field.show();
        QSignalSpy edited(&field, &NumberField::edited);
        typeInto(field, "24 / s");
        QCOMPARE(field.value(), 24.0);
        QCOMPARE(field.text(), QString("24 / s"));
        typeInto(field, "12,5");
        QCOMPARE(field.value(), 12.5);
        QCOMPARE(field.text(), QString("12.5 / s"));
        typeInto(field, "500");
        QCOMPARE(field.value(), 100.0);
        typeInto(field, "quick");
        QCOMPARE(field.value(), 100.0);
        QCOMPARE(field.text(), QString("100 / s"));
        typeInto(field, "");
        QCOMPARE(field.text(), QString("100 / s")); // nothing typed, nothing changed
        typeInto(field, "source's own");
        QCOMPARE(field.value(), 30.0);
        QCOMPARE(field.text(), QString("source's own"));
        QCOMPARE(edited.count(), 4);
    }
    void numbersConvertWhatMeasuresTheSame() {
        NumberField field;
        field.setDecimals(2);
        field.setUnit("cm");
        field.setOtherUnit("%");
        field.setRange(0.0, 1000.0);
        field.show();
        QSignalSpy edited(&field, &NumberField::edited);
        QSignalSpy other(&field, &NumberField::editedIn);
        typeInto(field, "35 mm");
        QCOMPARE(field.value(), 3.5);
        typeInto(field, "1 in");
        QCOMPARE(field.value(), 2.54);
        typeInto(field, "5 %");
        QCOMPARE(field.value(), 2.54); // that is for whoever listens
        QCOMPARE(other.count(), 1);
        QCOMPARE(other[0][0].toDouble(), 5.0);
        typeInto(field, "2 s");
        QCOMPARE(field.value(), 2.54);
        QCOMPARE(field.text(), QString("2.54 cm"));
        QCOMPARE(edited.count(), 2);
        // A field of shares hears of any length in the one that it names.
        field.setUnit("%");
        field.setOtherUnit("cm");
        typeInto(field, "0.2 m");
        QCOMPARE(other[1][0].toDouble(), 20.0);
        field.setUnitShown(false);
        QCOMPARE(field.text(), QString("2.54"));
    }
    void unitsAreSpelledAsPeopleWriteThem() {
        NumberField field;
        field.setRange(-10.0, 400.0);
        field.setDecimals(1);
        field.setUnit("turns", "turn");
        field.setValue(1.0);
        QCOMPARE(field.text(), QString("1 turn"));
        field.setValue(-1.0);
        QCOMPARE(field.text(), QString("-1 turn"));
        field.setValue(1.5);
        QCOMPARE(field.text(), QString("1.5 turns"));
        field.show();
        typeInto(field, "1 turn");
        QCOMPARE(field.value(), 1.0);
        field.setUnit("°");
        field.setValue(46.0);
        QCOMPARE(field.text(), QString("46°"));
        typeInto(field, "0.25 turns");
        QCOMPARE(field.value(), 90.0);
    }
    void theStepSuitsTheNumber() {
        NumberField field;
        field.setDecimals(2);
        field.setRange(-1.0, 1.0);
        field.setStep(0.02);
        field.show();
        field.setFocus();
        QTest::keyClick(&field, Qt::Key_Up);
        QCOMPARE(field.value(), 0.02);
        QTest::keyClick(&field, Qt::Key_Down, Qt::ControlModifier);
        QCOMPARE(field.value(), -0.18);
    }
    void numbersStepByKeyAndGiveBackOnEscape() {
        NumberField field;
        field.setRange(0, 50);
        field.setValue(10);
        field.show();
        field.setFocus();
        QTest::keyClick(&field, Qt::Key_Up);
        QCOMPARE(field.value(), 11.0);
        QTest::keyClick(&field, Qt::Key_Down, Qt::ControlModifier);
        QCOMPARE(field.value(), 1.0);
        field.selectAll();
        QTest::keyClicks(&field, "44");
        QTest::keyClick(&field, Qt::Key_Escape);
        QCOMPARE(field.value(), 1.0);
        QCOMPARE(field.text(), QString("1"));
    }
    void numbersAreDraggedFineAndCoarse() {
        NumberField field;
        field.setDecimals(1);
        field.setRange(-100, 100);
        field.setValue(10);
        field.resize(80, 24);
        field.show();
        QSignalSpy edited(&field, &NumberField::edited);
        const auto drag = [&](int pixels, Qt::KeyboardModifiers keys) {
            QTest::mousePress(&field, Qt::LeftButton, keys, {20, 10});
            for (int x = 0; x != pixels; x += pixels > 0 ? 1 : -1) {
                QMouseEvent move(QEvent::MouseMove, QPointF(20 + x, 10),
                                 field.mapToGlobal(QPointF(20 + x, 10)), Qt::LeftButton, Qt::LeftButton,
                                 keys);
                QApplication::sendEvent(&field, &move);
            }
            QMouseEvent last(QEvent::MouseMove, QPointF(20 + pixels, 10),
                             field.mapToGlobal(QPointF(20 + pixels, 10)), Qt::LeftButton, Qt::LeftButton,
                             keys);
            QApplication::sendEvent(&field, &last);
            QTest::mouseRelease(&field, Qt::LeftButton, keys, {20 + pixels, 10});
        };
        drag(30, {});
        QCOMPARE(field.value(), 15.0);
        drag(30, Qt::ShiftModifier);
        QCOMPARE(field.value(), 15.5);
        drag(-30, Qt::ControlModifier);
        QCOMPARE(field.value(), -34.5);
        // Each drag begins afresh and goes on as one.
        QVERIFY(!edited[0][1].toBool());
        QVERIFY(edited[1][1].toBool());
    }
    void theWheelNeedsTheFocus() {
        NumberField field;
        field.setRange(0, 50);
        field.setValue(10);
        QWheelEvent turn(QPointF(5, 5), QPointF(5, 5), {}, {0, 120}, Qt::NoButton, Qt::NoModifier,
                         Qt::NoScrollPhase, false);
        QApplication::sendEvent(&field, &turn);
        QCOMPARE(field.value(), 10.0);
    }
    void segmentsChooseOne() {
        SegmentedChoice choice({"a", "b", "c"});
        QSignalSpy picked(&choice, &SegmentedChoice::picked);
        choice.show(2);
        QCOMPARE(choice.chosen(), 2);
        QCOMPARE(picked.count(), 0);
        QTest::mouseClick(choice.findChildren<QPushButton*>()[1], Qt::LeftButton);
        QCOMPARE(choice.chosen(), 1);
        QCOMPARE(picked.takeFirst()[0].toInt(), 1);
    }
    void tickBoxesShowMoreThanAColour() {
        TickBox box("stroll");
        box.resize(box.sizeHint());
        const QImage off = box.grab().toImage();
        QTest::mouseClick(&box, Qt::LeftButton);
        QVERIFY(box.isChecked());
        const QImage on = box.grab().toImage();
        std::set<QRgb> colours;
        for (int x = 2; x < 14; ++x) {
            for (int y = 0; y < on.height(); ++y) {
                colours.insert(on.pixel(x, y));
            }
        }
        QVERIFY(off != on);
        QVERIFY(colours.size() > 4); // a sign inside, not one flat fill
    }
    void lampsDifferByTheirSigns() {
        // In grey, so that colour can't be what tells them apart.
        QList<QImage> seen;
        for (const Lamp lamp : {Lamp::untouched, Lamp::fine, Lamp::look, Lamp::broken}) {
            QImage image(40, 40, QImage::Format_ARGB32);
            image.fill(theme().deep);
            QPainter painter(&image);
            painter.setRenderHint(QPainter::Antialiasing);
            paintLamp(painter, {20, 20}, 11, lamp);
            painter.end();
            const QImage grey = image.convertToFormat(QImage::Format_Grayscale8);
            // The shape of what is lighter or darker than the lamp's own middle tone.
            QImage shape(40, 40, QImage::Format_Grayscale8);
            const int middle = qGray(grey.pixel(14, 26));
            for (int y = 0; y < 40; ++y) {
                for (int x = 0; x < 40; ++x) {
                    shape.setPixel(x, y,
                                   std::abs(qGray(grey.pixel(x, y)) - middle) > 24 ? 0xFFFFFFFF : 0xFF000000);
                }
            }
            const QImage inside = shape.copy(14, 14, 13, 13);
            QVERIFY(!seen.contains(inside));
            seen << inside;
        }
    }

    void playheadWrapsClosedClips() {
        Playhead head;
        head.setClips({clipOf("loop", 40, true)});
        head.setFrame(41.5);
        QCOMPARE(head.frame(), 1.5);
        head.setFrame(-1.0);
        QCOMPARE(head.frame(), 39.0);
        head.step(1);
        QCOMPARE(head.frame(), 0.0);
        head.setTurn(0.25);
        QCOMPARE(head.frame(), 10.0);
        head.setFrame(39.75);
        QCOMPARE(head.frame(), 39.75); // on its way over the seam
    }
    void playheadStopsAtTheEndOfOpenClips() {
        Playhead head;
        head.setClips({clipOf("once", 40, false)});
        head.setFrame(39.75);
        QCOMPARE(head.frame(), 39.0);
        head.step(1);
        QCOMPARE(head.frame(), 0.0);
    }
    void playheadKeepsItsPlaceWhenClipsChange() {
        Playhead head;
        QSignalSpy changed(&head, &Playhead::clipsChanged);
        head.setClips({clipOf("a", 10, true), clipOf("b", 40, true)});
        head.setClipIndex(1);
        head.setFrame(20.0);
        head.setClips({clipOf("a", 10, true), clipOf("b", 20, true)});
        QCOMPARE(head.clip()->name, std::string("b"));
        QCOMPARE(head.frame(), 10.0); // half way round, as before
        head.setClips({clipOf("a", 10, true)});
        QCOMPARE(head.clip()->name, std::string("a"));
        QCOMPARE(head.frame(), 0.0);
        head.setClipIndex(7);
        QCOMPARE(head.clipIndex(), 0);
        const auto before = changed.count();
        head.setClips({clipOf("a", 10, true)});
        QCOMPARE(changed.count(), before); // nothing new, nothing said
        head.setClips({});
        QVERIFY(!head.clip());
        head.setPlaying(true);
        QVERIFY(!head.playing());
    }
    void playheadKeepsTime() {
        Playhead head;
        head.setClips({clipOf("long", 100000, true, 100.0)});
        QElapsedTimer clock;
        clock.start();
        head.setPlaying(true);
        QTest::qWait(400);
        head.setPlaying(false);
        const double played = head.frame() / 100.0;
        QVERIFY(played > 0.2 && played <= static_cast<double>(clock.elapsed()) / 1000.0);
    }

    void onlyTheNewestJobCounts() {
        LatestJob job;
        std::vector<int> done;
        std::atomic<bool> firstStopped{false};
        job.start<int>(
            [&](base::Progress& progress) {
                try {
                    for (;;) {
                        progress.report(0.5);
                        QThread::msleep(1);
                    }
                } catch (const base::Cancelled&) {
                    firstStopped = true;
                    throw;
                }
                return 1;
            },
            [&](int value) { done.push_back(value); }, [](base::Problem) {});
        QVERIFY(job.running());
        QTRY_COMPARE(job.fraction(), 0.5);
        job.start<int>([](base::Progress&) { return 2; }, [&](int value) { done.push_back(value); },
                       [](base::Problem) {});
        QTRY_VERIFY(!job.running());
        QTRY_VERIFY(firstStopped);
        QCOMPARE(done, (std::vector<int>{2}));
    }
    void nobodyWaitsForWorkThatDoesNotListen() {
        auto mayEnd = std::make_shared<std::binary_semaphore>(0);
        auto ended = std::make_shared<std::atomic<bool>>(false);
        auto told = std::make_shared<std::atomic<int>>(0);
        auto job = std::make_unique<LatestJob>();
        job->startTelling<int>(
            [mayEnd, ended, told](base::Progress&, const LatestJob::Tell& tell) {
                tell([told] { ++*told; });
                mayEnd->acquire(); // and does not ask whether it was cancelled
                tell([told] { ++*told; });
                *ended = true;
                return 1;
            },
            [told](int) { ++*told; }, [told](base::Problem) { ++*told; });
        QTRY_COMPARE(told->load(), 1);
        job.reset(); // this is where a window that closes would hang
        QVERIFY(!*ended);
        QVERIFY(!LatestJob::waitForAll(0));
        mayEnd->release();
        QVERIFY(LatestJob::waitForAll(60000));
        QVERIFY(*ended);
        QTest::qWait(20);
        QCOMPARE(told->load(), 1); // what it says later reaches nobody
    }
    void jobsFailInWordsAndCancelInSilence() {
        LatestJob job;
        base::Problem said;
        const auto fails = [&](const std::function<int()>& work) {
            said = {};
            job.start<int>([work](base::Progress&) { return work(); }, [](int) {},
                           [&](base::Problem p) { said = std::move(p); });
            QTRY_VERIFY(!job.running());
        };
        fails([]() -> int { base::fail("here", "is wrong", "mend it"); });
        QCOMPARE(said.what, std::string("is wrong"));
        fails([]() -> int { throw std::bad_alloc(); });
        QCOMPARE(said.where, std::string("memory"));
        fails([]() -> int { throw std::runtime_error("odd"); });
        QCOMPARE(said.what,
                 std::string("met something unexpected and gave this up")); // the words were the code's
        QVERIFY(!said.where.empty() && !said.fix.empty());
        QSignalSpy cancelled(&job, &LatestJob::cancelled);
        bool called = false;
        job.start<int>(
            [](base::Progress& progress) {
                for (;;) {
                    progress.checkpoint();
                }
                return 0;
            },
            [&](int) { called = true; }, [&](base::Problem) { called = true; });
        job.cancel();
        QVERIFY(!job.running());
        QCOMPARE(cancelled.count(), 1);
        QTest::qWait(50);
        QVERIFY(!called);
    }
    void actionsComeFromTheirTable() {
        QWidget owner;
        ActionTable table;
        int done = 0;
        bool can = false;
        bool on = false;
        table.build(&owner, {{"count", "Edit", "Count", "Ctrl+K", [&] { ++done; }, [&] { return can; }},
                             {"flip", "Look", "Flip", "", [&] { on = !on; }, {}, [&] { return on; }}});
        table.trigger("count");
        QCOMPARE(done, 0); // not enabled
        can = true;
        table.refresh();
        table.trigger("count");
        QCOMPARE(done, 1);
        QVERIFY(!table.action("flip")->isChecked());
        table.trigger("flip");
        QVERIFY(table.action("flip")->isChecked());
        QMenuBar bar;
        table.fill(&bar);
        QCOMPARE(bar.actions().size(), 2);
        QCOMPARE(bar.actions()[0]->menu()->actions()[0]->shortcut(), QKeySequence("Ctrl+K"));
    }
    void camerasShowTheWholeBox() {
        for (const glm::vec3 size : {glm::vec3(4, 1, 2), glm::vec3(0.1f, 2, 0.1f),
                                     glm::vec3(0.01f, 0.01f, 0.02f), glm::vec3(300, 5, 300)}) {
            for (const float aspect : {0.6f, 1.6f}) {
                mesh::Bounds bounds;
                bounds.add(glm::vec3(7, 1, -3));
                bounds.add(glm::vec3(7, 1, -3) + size);
                Camera camera;
                camera.frame(bounds, aspect, false);
                const glm::mat4 m = camera.projection(aspect) * camera.view();
                float reach = 0.0f;
                for (int corner = 0; corner < 8; ++corner) {
                    const glm::vec3 p((corner & 1) ? bounds.max.x : bounds.min.x,
                                      (corner & 2) ? bounds.max.y : bounds.min.y,
                                      (corner & 4) ? bounds.max.z : bounds.min.z);
                    const glm::vec4 q = m * glm::vec4(p, 1.0f);
                    QVERIFY(q.w > 0.0f && std::abs(q.z) < q.w);
                    reach = std::max({reach, std::abs(q.x / q.w), std::abs(q.y / q.w)});
                }
                QVERIFY2(reach < 0.95f && reach > 0.6f,
                         qPrintable(QString::number(reach))); // all of it, and not small
            }
        }
    }
    void camerasPanByPixels() {
        Camera camera;
        mesh::Bounds bounds;
        bounds.add(glm::vec3(-1));
        bounds.add(glm::vec3(1));
        camera.frame(bounds, 1.0f, false);
        const auto seen = [&](const glm::vec3& p) {
            const glm::vec4 q = camera.projection(1.0f) * camera.view() * glm::vec4(p, 1.0f);
            return glm::vec2(q.x / q.w, -q.y / q.w) * 250.0f; // pixels of a 500 × 500 view
        };
        const glm::vec3 target = camera.target();
        camera.pan({40, -25}, 500.0f);
        QVERIFY(glm::distance(seen(target), glm::vec2(40, -25)) < 0.5f);
        const float before = camera.distance();
        camera.zoom(0.5f);
        QCOMPARE(camera.distance(), before * 0.5f);
    }
    void uvGridCellsDiffer() {
        const QImage grid = uvGridImage(512);
        std::set<QRgb> corners;
        for (int row = 0; row < 8; ++row) {
            for (int column = 0; column < 8; ++column) {
                corners.insert(grid.pixel(column * 64 + 5, row * 64 + 5));
            }
        }
        QVERIFY(corners.size() == 64);
    }
    void figuresAreTabular() {
        const QFontMetricsF metrics(textFont(13));
        for (QChar digit = '1'; digit <= '9'; digit = QChar(digit.unicode() + 1)) {
            QCOMPARE(metrics.horizontalAdvance(digit), metrics.horizontalAdvance('0'));
        }
    }
    void textStandsOutInBothThemes() {
        // Contrast ratio of WCAG 2.1, 1.4.3: at least 4.5 for text.
        const auto luminance = [](const QColor& c) {
            const auto part = [](double v) {
                return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
            };
            return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF());
        };
        const auto contrast = [&](const QColor& a, const QColor& b) {
            const double la = luminance(a);
            const double lb = luminance(b);
            return (std::max(la, lb) + 0.05) / (std::min(la, lb) + 0.05);
        };
        for (const ThemeKind kind : {ThemeKind::dusk, ThemeKind::day}) {
            applyTheme(*qApp, kind);
            const Palette& p = theme();
            for (const QColor& ground : {p.deep, p.ground, p.raised}) {
                QVERIFY(contrast(p.text, ground) > 7.0);
                QVERIFY2(contrast(p.quiet, ground) >= 4.4, qPrintable(p.quiet.name() + ground.name()));
            }
        }
        applyTheme(*qApp, ThemeKind::dusk);
    }
    void aResetSaysTheValueWithItsUnit() {
        NumberField field;
        field.setUnit("cm");
        field.setDecimals(2);
        field.setDefault(10.0);
        field.setValue(3.0);
        field.show();
        QString said;
        QTimer::singleShot(50, &field, [&said] {
            if (auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget())) {
                said = menu->actions().at(0)->text();
                QTest::keyClick(menu, Qt::Key_Down);
                QTest::keyClick(menu, Qt::Key_Return);
            }
        });
        QContextMenuEvent event(QContextMenuEvent::Mouse, QPoint(4, 4), field.mapToGlobal(QPoint(4, 4)));
        QApplication::sendEvent(&field, &event);
        QCOMPARE(said, QString("Reset to 10 cm"));
        QCOMPARE(field.value(), 10.0);
    }
    void withoutOpenGlTheRestWorks() {
        // The offscreen platform has none: the window says so and the core's work goes on.
        MainWindow window;
        window.show();
        QVERIFY(!window.stage());
        window.openPath(tests::ownDemo("heron.curly"));
        QTRY_VERIFY_WITH_TIMEOUT(window.session().bake(), 30000);
        QCOMPARE(benchStates(window.session())[1].lamp, Lamp::look); // its error is over the tolerance
        window.showBench(4);
        QVERIFY(window.bench(4).panel()->isVisible());
        window.session().undoStack().setClean();
    }
};

static const ripple::tests::SuiteOf<TestWidgets> kSuite;
#include "test_widgets.moc"
