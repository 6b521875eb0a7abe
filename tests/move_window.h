#pragma once

#include "app/benches/move/curve_editor.h"
#include "app/benches/move/move_bench.h"
#include "app/benches/move/trace_page.h"
#include "app/benches/move/voice_card.h"
#include "app/benches/move/voice_words.h"
#include "app/dial/dial.h"
#include "app/window/main_window.h"
#include "app/window/pictures.h"
#include "app/session/score_edits.h"
#include "app/look/theme.h"
#include "app/look/tick_box.h"
#include "app/stage/stage.h"
#include "base/units.h"
#include "motion/score_file.h"
#include "own_places.h"
#include "real_window.h"

#include <QApplication>
#include <QMenu>
#include <QSettings>
#include <QTemporaryDir>
#include <QTest>
#include <QToolTip>
#include <QWheelEvent>

#include <algorithm>

#include <glm/geometric.hpp>

namespace ripple::tests {

using namespace app;

/// The real window at the Move bench, for a test of it.
class MoveWindow : public QObject {
    Q_OBJECT

protected:
    SharedWindow window_;

    Session& session() { return window_->session(); }
    const motion::Score& score() { return session().document().score; }
    template <typename T>
    T* find(const QString& name = {}) {
        const QList<T*> all = window_->findChildren<T*>(name);
        // One that was replaced may still be about to go.
        const auto seen = std::find_if(all.begin(), all.end(), [](T* one) { return one->isVisible(); });
        return seen != all.end() ? *seen : all.isEmpty() ? nullptr : all.first();
    }
    bool idle() { return waitUntilIdle(*window_); }
    void click(QAbstractButton* button) {
        QVERIFY(button && button->isVisible());
        QTest::mouseClick(button, Qt::LeftButton);
        QVERIFY(idle());
    }
    /// What takes long is left out, for it is most of what these tests would cost: a change is played, and neither
    /// baked nor measured.
    void openDemo(const char* name) {
        window_->openPath(tests::ownDemo(name));
        QVERIFY(idle());
        window_->showBench(2);
        QVERIFY(idle());
        if (find<QWidget>("voiceParts")->isVisible()) {
            part("Swing"); // as the first window of a person has it
        }
    }
    /// The same with all that follows.
    void openDemoAndMeasure(const char* name) {
        session().setRest(tests::kRest);
        openDemo(name);
    }
    /// The skate's score on a sheet that is dense enough for coarse drafts, with all their pixels.
    void openDenseSheet() {
        openDemoAndMeasure("skate.curly");
        session().edit("A dense sheet", [](project::Document& d) {
            d.source.shape = mesh::TestShape{"sheet", 1.0, 140, 140};
        });
        QVERIFY(idle());
        window_->stage()->keepDraftPixels();
        window_->stage()->setRest(300); // time to look at a draft
        QTRY_VERIFY(window_->stage()->draftsCoarsely());
    }
    void key(Qt::Key k, Qt::KeyboardModifiers m = Qt::NoModifier) {
        tests::pressKey(*window_, k, m);
        QVERIFY(idle());
    }
    VoiceCard* card(std::size_t index) {
        return find<VoiceCard>(QString("voice %1").arg(score().voices[index].id));
    }
    /// Takes an entry of the menu that is open.
    void take(const char* menuName, const QString& words) {
        QMenu* menu = nullptr;
        QTRY_VERIFY((menu = find<QMenu>(menuName)) && menu->isVisible());
        for (QAction* action : menu->actions()) {
            if (action->text().startsWith(words)) {
                QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(action).center());
                QTest::qWait(20);
                QVERIFY(idle());
                return;
            }
        }
        QFAIL(qPrintable("no entry " + words));
    }
    /// Shows a part of the chosen voice's numbers.
    void part(const char* name) {
        auto* button = find<SegmentedChoice>("voiceParts")->findChild<QAbstractButton*>(name);
        QVERIFY(button && button->isVisible());
        QTest::mouseClick(button, Qt::LeftButton);
        QVERIFY(idle());
    }
    void type(const QString& field, const QString& words) {
        auto* box = find<NumberField>(field);
        QVERIFY(box && box->isVisible());
        box->setFocus();
        box->selectAll();
        QTest::keyClicks(box, words);
        QTest::keyClick(box, Qt::Key_Return);
        QVERIFY(idle());
    }
    /// Undo and redo give the very documents before and after.
    void undoesAndRedoes(const project::Document& before) {
        const project::Document after = session().document();
        const auto same = [](project::Document a, const project::Document& b) {
            a.view = b.view;
            return a == b;
        };
        QVERIFY(!same(before, after));
        session().undoStack().undo();
        QVERIFY(same(before, session().document()));
        session().undoStack().redo();
        QVERIFY(same(after, session().document()));
        QVERIFY(idle());
    }
    QImage picture() {
        idle();
        return window_->stage()->picture();
    }
private Q_SLOTS:
    void initTestCase() {
        tests::keepPlacesApart();
        QSettings().clear();
        applyTheme(*qApp, ThemeKind::dusk);
    }
    void init() {
        window_.begin();
        session().setRest(-1);
    }
    void cleanup() { window_.end(); }
    void cleanupTestCase() { window_.close(); }
};

} // namespace ripple::tests
