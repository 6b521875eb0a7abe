#include "base/files.h"
#include "base/parallel.h"
#include "base/progress.h"
#include "base/units.h"
#include "problem_of.h"

#include <QTemporaryDir>
#include <QTest>

#include <atomic>
#include <cmath>

using namespace ripple;

class TestUnits : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void lengthsInTheUnitThatSuitsThem() {
        QCOMPARE(base::lengthText(0.0), std::string("0 mm"));
        QCOMPARE(base::lengthText(0.0000314), std::string("0.031 mm"));
        QCOMPARE(base::lengthText(0.0142), std::string("14.2 mm"));
        QCOMPARE(base::lengthText(2.4), std::string("2.40 m"));
    }
    void sizesAndCounts() {
        QCOMPARE(base::sizeText(212), std::string("212 B"));
        QCOMPARE(base::sizeText(1677722), std::string("1.6 MiB"));
        QCOMPARE(base::countText(4225), std::string("4\u202f225"));
        QCOMPARE(base::countText(999), std::string("999"));
        QCOMPARE(base::plural(1, "frame"), std::string("1 frame"));
    }
    void floatLiteralsReadBack() {
        QCOMPARE(base::floatLiteral(1.0f), std::string("1.0"));
        for (const float value : {0.1f, -1.7e-8f, 3.0e20f, 1.0f / 3.0f, 288.0f}) {
            const std::string text = base::floatLiteral(value);
            QCOMPARE(std::stof(text), value);
            QVERIFY(text.find_first_of(".e") != std::string::npos);
        }
    }
    void sha256OfTheStandardsExample() {
        // FIPS 180-4's example "abc".
        QCOMPARE(base::sha256(base::asBytes("abc")),
                 std::string("ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"));
    }
    void missingFilesAreNamed() {
        QVERIFY(tests::says(tests::problemOf([] { base::readFile("/nowhere/at/all.obj"); }),
                            "/nowhere/at/all.obj", "no such file"));
        QTemporaryDir dir;
        QVERIFY(
            tests::says(tests::problemOf([&] { base::readFile(dir.path().toStdString()); }), "not a file"));
    }
    void parallelLoopsCoverEachElementOnce() {
        std::vector<std::atomic<int>> seen(1000);
        base::parallelFor(seen.size(), 7, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end; ++i) {
                ++seen[i];
            }
        });
        for (const auto& count : seen) {
            QCOMPARE(count.load(), 1);
        }
    }
    void progressStagesAndCancel() {
        std::vector<double> said;
        base::Progress progress([&](double f) { said.push_back(f); });
        progress.stage(0.5, 1.0);
        progress.report(0.5);
        QCOMPARE(said.back(), 0.75);
        progress.cancel();
        QVERIFY_EXCEPTION_THROWN(progress.report(0.6), base::Cancelled);
        QCOMPARE(said.size(), std::size_t(2));
    }
};

QTEST_GUILESS_MAIN(TestUnits)
#include "test_units.moc"
