#pragma once

#include <QApplication>
#include <QSettings>
#include <QTemporaryDir>
#include <QTest>

namespace ripple::tests {

/// A folder of this process alone, gone when it ends.
inline const QTemporaryDir& ownFolder() {
    static const QTemporaryDir kFolder;
    return kFolder;
}

/// Settings, unsaved copies and whatever else a program keeps for its user lie in this process' own folder,
/// so that tests can run beside each other and beside themselves. First thing in initTestCase().
inline void keepPlacesApart() {
    const QString folder = ownFolder().path();
    qputenv("XDG_DATA_HOME", (folder + "/data").toLocal8Bit());
    qputenv("XDG_CONFIG_HOME", (folder + "/config").toLocal8Bit());
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder + "/config");
    QApplication::setOrganizationName("curly-ripple-test");
    QApplication::setApplicationName("curly-ripple-test");
}

/// A file of the demo in a copy of this process alone: projects that are open are locked. It is lighter than
/// the demo, where more would show no more and drawing is most of what a test costs: the heron has 886 of its
/// 2 974 vertices, of the 150 bulrushes there are 20. And there are three more: herd.curly, herons.curly with
/// all vertices; brief.curly, the awning with a third of its frames; and crab.curly, the crab with its three
/// clips, of 380 vertices, baked as the heron is.
QString ownDemo(const QString& file);

/// A key as a keyboard sends it: to whatever has the focus.
inline void pressKey(QWidget& window, Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
    QWidget* focus = QApplication::focusWidget();
    QTest::keyClick(focus && focus->window() == &window ? focus : &window, key, modifiers);
}

} // namespace ripple::tests
