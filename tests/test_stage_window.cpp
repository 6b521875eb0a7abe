// What the stage and the dial draw, as pixels.

#include "app/window/main_window.h"
#include "app/window/pictures.h"
#include "app/look/theme.h"
#include "app/stage/looks.h"
#include "own_places.h"
#include "real_window.h"
#include "suite.h"

#include <QAbstractButton>
#include <QFile>
#include <QSettings>
#include <QTest>
#include <QTextStream>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

using namespace ripple;
using namespace ripple::app;

namespace {

/// A ball on the ground as a file, in a colour of its own or in none.
QString ballFile(const QString& name, std::optional<double> grey) {
    QFile material(tests::ownFolder().filePath(name + ".mtl"));
    QFile file(tests::ownFolder().filePath(name + ".obj"));
    if (!material.open(QIODevice::WriteOnly) || !file.open(QIODevice::WriteOnly)) {
        return {};
    }
    QTextStream(&material) << "newmtl cloth\n" << (grey ? QString("Kd %1 %1 %1\n").arg(*grey) : QString());
    QTextStream out(&file);
    out << "mtllib " << name << ".mtl\nusemtl cloth\n";
    constexpr int kAround = 48;
    constexpr int kDown = 24;
    for (int j = 0; j <= kDown; ++j) {
        for (int i = 0; i < kAround; ++i) {
            const double down = std::numbers::pi * j / kDown;
            const double around = 2.0 * std::numbers::pi * i / kAround;
            out << "v " << 0.5 * std::cos(around) * std::sin(down) << " " << 0.5 + 0.5 * std::cos(down) << " "
                << 0.5 * std::sin(around) * std::sin(down) << "\n";
        }
    }
    for (int j = 0; j < kDown; ++j) {
        for (int i = 0; i < kAround; ++i) {
            const int a = j * kAround + i + 1;
            const int b = j * kAround + (i + 1) % kAround + 1;
            out << "f " << a << " " << b << " " << b + kAround << " " << a + kAround << "\n";
        }
    }
    return file.fileName();
}

/// Grey values of the ball, which fills a circle in the picture's middle, in order.
std::vector<int> greysOf(const QImage& picture) {
    std::vector<int> greys;
    const double reach = 0.24 * picture.height();
    for (int y = 0; y < picture.height(); ++y) {
        for (int x = 0; x < picture.width(); ++x) {
            if (std::hypot(x - 0.5 * picture.width(), y - 0.5 * picture.height()) < reach) {
                greys.push_back(qGray(picture.pixel(x, y)));
            }
        }
    }
    std::sort(greys.begin(), greys.end());
    return greys;
}

int partOf(const std::vector<int>& sorted, double part) {
    return sorted[static_cast<std::size_t>(part * static_cast<double>(sorted.size() - 1))];
}

} // namespace

class TestStageWindow : public QObject {
    Q_OBJECT

    tests::SharedWindow window_;

    Session& session() { return window_->session(); }
    Stage& stage() { return *window_->stage(); }
    void openAndWait(const QString& file) {
        window_->openPath(file);
        QVERIFY(waitUntilIdle(*window_));
    }

private Q_SLOTS:
    void initTestCase() {
        tests::keepPlacesApart();
        QSettings().clear();
        applyTheme(*qApp, ThemeKind::dusk);
    }
    void init() { window_.begin(); }
    void cleanup() { window_.end(); }
    void cleanupTestCase() { window_.close(); }
    void whiteAndDarkBothShowTheirForm_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<double>("grey"); // below 0: none
        QTest::addColumn<int>("least");   // between a tenth and nine tenths of all greys
        for (const bool day : {false, true}) {
            const QByteArray theme = day ? " by day" : " at dusk";
            QTest::newRow("white cloth" + theme) << (day ? "day_white" : "white") << 0.96 << 25;
            QTest::newRow("dark metal" + theme) << (day ? "day_dark" : "dark") << 0.02 << 25;
            QTest::newRow("no colour" + theme) << (day ? "day_none" : "none") << -1.0 << 40;
        }
    }
    void whiteAndDarkBothShowTheirForm() {
        QFETCH(QString, name);
        QFETCH(double, grey);
        QFETCH(int, least);
        window_->setDayTheme(name.startsWith("day"));
        openAndWait(ballFile(name, grey < 0.0 ? std::nullopt : std::optional(grey)));
        const std::vector<int> greys = greysOf(stage().picture());
        window_->setDayTheme(false);
        const int low = partOf(greys, 0.1);
        const int high = partOf(greys, 0.9);
        QVERIFY2(high - low >= least, qPrintable(QString("%1 to %2").arg(low).arg(high)));
        QVERIFY2(partOf(greys, 0.999) < 255, "blown out");
        QVERIFY2(partOf(greys, 0.001) > 0, "drowned in black");
        if (grey < 0.0) {
            QVERIFY2(high < 215, qPrintable(QString::number(high))); // a middle grey, not white
        }
    }
    /// While it plays, folds have no blotches of shadow that the finished picture has not: neither from a
    /// coarser mesh nor, where pictures must come quickly, from the shadow of an earlier moment.
    void draftsShowNoFalseShadows_data() {
        QTest::addColumn<double>("pixels");
        QTest::newRow("all pixels") << 1.0;
        QTest::newRow("few pixels, shadows kept") << 0.5;
    }
    void draftsShowNoFalseShadows() {
        QFETCH(double, pixels);
        openAndWait(tests::ownDemo("brief.curly"));
        window_->showBench(0); // the model alone
        session().edit("dense", [](project::Document& d) { d.source.reading.subdivisions = 1; });
        QVERIFY(waitUntilIdle(*window_));
        QTRY_VERIFY(stage().draftsCoarsely());
        stage().keepDraftPixels(pixels);
        stage().setRest(400); // time to look at a draft
        session().playhead().setFrame(0.0);
        stage().grab();
        for (const double frame : {12.0, 40.0, 77.0}) {
            session().playhead().setFrame(frame);
            QTRY_VERIFY(!stage().poser().busy());
            const QImage draft = stage().grab().toImage();
            QVERIFY(stage().settling());
            const QImage finished = stage().picture();
            // Means of blocks: what differs at edges evens out.
            constexpr int kBlock = 8;
            int darker = 0;
            int looked = 0;
            for (int y = 48; y + kBlock <= finished.height() - 60; y += kBlock) {
                for (int x = 0; x + kBlock <= finished.width(); x += kBlock) {
                    const auto mean = [&](const QImage& of) {
                        int sum = 0;
                        for (int i = 0; i < kBlock * kBlock; ++i) {
                            sum += qGray(of.pixel(x + i % kBlock, y + i / kBlock));
                        }
                        return sum / (kBlock * kBlock);
                    };
                    const int was = mean(finished);
                    if (was > 90) { // the cloth: ground and sky are darker
                        ++looked;
                        darker += was - mean(draft) > 14;
                    }
                }
            }
            QVERIFY(looked > 700);
            const double share = static_cast<double>(darker) / looked;
            QVERIFY2(share < 0.004, qPrintable(QString("frame %1: %2").arg(frame).arg(share)));
        }
    }
    void theCurtainEndsBelowTheLooks() {
        stage().setRest(15); // finished pictures are alike to the pixel
        openAndWait(tests::ownDemo("crates.curly"));
        window_->showBench(1);
        QVERIFY(waitUntilIdle(*window_));
        const auto column = [&](double curtain, int x) {
            session().look([curtain](project::View& view) { view.curtain = curtain; });
            waitUntilIdle(*window_);
            return stage().grab().toImage().copy(x - 3, 0, 7, 46);
        };
        // Through the middle of a button.
        auto* button = window_->findChild<QWidget*>("look wire");
        const int x = button->mapTo(&*window_, button->rect().center()).x() -
                      stage().mapTo(&*window_, QPoint(0, 0)).x();
        const double there = static_cast<double>(x) / stage().width();
        QCOMPARE(column(there, x), column(0.2, x));
    }
    void theHandLeavesTheSeamsWordsAlone() {
        openAndWait(tests::ownDemo("awning.curly"));
        Dial& dial = *window_->dial();
        const auto words = [&](double frame) {
            session().playhead().setFrame(frame);
            waitUntilIdle(*window_);
            const QPointF top = dial.gripAt(0.0);
            return dial.grab().toImage().copy(static_cast<int>(top.x()) - 50, static_cast<int>(top.y()) + 22,
                                              100, 42);
        };
        QCOMPARE(words(0.0), words(54.0));
    }
    /// A row is all that a look needs: it has its button, its key, its place in the menu, and is drawn.
    void aLookIsAddedInOnePlace() {
        addLook({.id = "height",
                 .text = "Height",
                 .key = "Y",
                 .words = "Height above the ground",
                 .drawn = Look::shades,
                 .measures = Measures::eachPose,
                 .needsPose = true,
                 .available = [](const Session& session) { return !session.source()->clips().empty(); },
                 .shades =
                     [](const Seen& seen) {
                         Shades shades;
                         shades.title = "Height";
                         for (const glm::vec3& p : seen.pose->positions) {
                             shades.values.push_back(p.y);
                             shades.colours.emplace_back(p.y, p.y, p.y, 1.0f);
                         }
                         return shades;
                     }});
        window_.close(); // a new one has its button
        window_.begin();
        openAndWait(tests::ownDemo("crates.curly"));
        const QImage lit = stage().picture();
        auto* button = window_->findChild<QAbstractButton*>("look height");
        QVERIFY(button && button->isVisible());
        QTest::mouseClick(button, Qt::LeftButton);
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().document().view.look, std::string("height"));
        QVERIFY(stage().picture() != lit);
        QCOMPARE(stage().shades().title, QString("Height"));
        const float before = stage().shades().values[0];
        session().playhead().setFrame(40.0); // it follows the pose
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(stage().shades().values[0] != before);
        tests::pressKey(*window_, Qt::Key_L);
        QCOMPARE(session().document().view.look, std::string("lit"));
        tests::pressKey(*window_, Qt::Key_Y);
        QCOMPARE(session().document().view.look, std::string("height"));
        QVERIFY(window_->actions().action("look-height")->isChecked());
    }
    void jointsAreBarsWithChevrons() {
        openAndWait(tests::ownDemo("heron.curly"));
        const QImage lit = stage().grab().toImage();
        QTest::keyClick(&*window_, Qt::Key_J);
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().document().view.look, std::string("joints"));
        const QImage joints = stage().grab().toImage();
        // Coral marks the one whose weights are shown.
        const auto coral = [](const QImage& picture) {
            int count = 0;
            for (int y = 60; y < picture.height(); ++y) {
                for (int x = 0; x < picture.width(); ++x) {
                    const QColor c = picture.pixelColor(x, y);
                    count += c.red() > 200 && c.green() < 140 && c.blue() < 110;
                }
            }
            return count;
        };
        QVERIFY(coral(joints) > coral(lit) + 30);
    }
    /// Of no other test: looks that are added stay.
    void zzALookIsOneRow() {
        addLook({.id = "heights",
                 .text = "Heights",
                 .key = "Ctrl+Alt+H",
                 .words = "Red above half a metre, green below",
                 .drawn = Look::shades,
                 .measures = Measures::eachPose,
                 .needsPose = true,
                 .available = [](const Session& of) { return of.source()->mesh().parts.size() == 1; },
                 .shades =
                     [](const Seen& seen) {
                         Shades shades;
                         shades.title = "heights";
                         for (const glm::vec3& p : seen.pose->positions) {
                             shades.colours.push_back(p.y > 0.5f ? glm::vec4(1, 0, 0, 1)
                                                                 : glm::vec4(0, 1, 0, 1));
                         }
                         return shades;
                     },
                 .again = [](Session& of) { of.look([](project::View& view) { view.channel = "again"; }); }});
        window_.close(); // a new one has its button
        window_.begin();
        openAndWait(ballFile("looked", 0.8));
        auto* button = window_->findChild<QAbstractButton*>("look heights");
        QVERIFY(button && button->isVisible());
        tests::pressKey(*window_, Qt::Key_H, Qt::ControlModifier | Qt::AltModifier);
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(button->isChecked());
        QCOMPARE(session().document().view.look, std::string("heights"));
        QTRY_COMPARE(stage().shades().title, QString("heights"));
        const QImage picture = stage().picture();
        const auto colourAt = [&](double share) {
            return picture.pixelColor(picture.width() / 2, static_cast<int>(share * picture.height()));
        };
        QVERIFY(colourAt(0.35).red() > 2 * colourAt(0.35).green());
        QVERIFY(colourAt(0.65).green() > 2 * colourAt(0.65).red());
        QTest::mouseClick(button, Qt::LeftButton);
        QCOMPARE(session().document().view.channel, std::string("again"));
    }
};

static const ripple::tests::SuiteOf<TestStageWindow> kSuite;
#include "test_stage_window.moc"
