#include "base/files.h"
#include "base/parallel.h"
#include "base/progress.h"
#include "base/quantity.h"
#include "base/units.h"
#include "problem_of.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <atomic>
#include <cmath>
#include <limits>

using namespace ripple;

class TestUnits : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void lengthsInTheUnitThatSuitsThem() {
        QCOMPARE(base::lengthText(0.0), std::string("0 mm"));
        QCOMPARE(base::lengthText(0.0000314), std::string("0.031 mm"));
        QCOMPARE(base::lengthText(0.0142), std::string("14.2 mm"));
        QCOMPARE(base::lengthText(2.4), std::string("2.40 m"));
        QCOMPARE(base::lengthText(std::numeric_limits<double>::infinity()), std::string("∞ m"));
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
    void filesHaveTheDigestOfTheirBytes() {
        QTemporaryDir dir;
        const std::filesystem::path file = std::filesystem::path(dir.path().toStdString()) / "long";
        for (const std::size_t size : {0u, 3u, 1u << 20, (1u << 20) + 7u, 2500000u}) {
            base::Bytes bytes(size);
            for (std::size_t i = 0; i < size; ++i) {
                bytes[i] = static_cast<std::byte>(i * 7 + i / 256);
            }
            base::writeFile(file, bytes);
            QCOMPARE(base::sha256OfFile(file), base::sha256(bytes));
        }
        QVERIFY(tests::says(tests::problemOf([] { base::sha256OfFile("/nowhere/x"); }), "/nowhere/x",
                            "no such file"));
    }
    void lengthsAreReadWithTheirUnit() {
        const auto metres = [](const char* text) { return base::parseLength(text).value_or(-1.0); };
        QCOMPARE(metres("0.5mm"), 0.0005);
        QCOMPARE(metres(" 12 cm"), 0.12);
        QCOMPARE(metres("2"), 2.0);
        QCOMPARE(metres("1.5 m"), 1.5);
        QCOMPARE(metres("3e-2m"), 0.03);
        QCOMPARE(metres("10 in"), 0.254);
        QCOMPARE(metres("250µm"), 0.00025);
        for (const char* odd : {"", "mm", "1 parsec", "nan", "inf", "1,5", "2 m m x"}) {
            QVERIFY2(!base::parseLength(odd), odd);
        }
    }
    void quantitiesAreReadAndConverted() {
        const auto read = [](const char* text) {
            const auto quantity = base::parseQuantity(text);
            return quantity ? QString::number(quantity->value) + "|" + QString::fromStdString(quantity->unit)
                            : QString("none");
        };
        QCOMPARE(read("12 cm"), QString("12|cm"));
        QCOMPARE(read(" +1.5m / s "), QString("1.5|m/s"));
        QCOMPARE(read("−30 %"), QString("-30|%"));
        QCOMPARE(read("2"), QString("2|"));
        QCOMPARE(read(".5 turns"), QString("0.5|turns"));
        for (const char* odd : {"", "cm", "nan", "inf m", "--2", "1e999"}) {
            QCOMPARE(read(odd), QString("none"));
        }
        QCOMPARE(base::unitFactor("mm", "cm"), std::optional(0.1));
        QCOMPARE(base::unitFactor("turns", "°"), std::optional(360.0));
        QCOMPARE(base::unitFactor("km/h", "m/s"), std::optional(1.0 / 3.6));
        QCOMPARE(base::unitFactor("/ s", "Hz"), std::optional(1.0));
        QCOMPARE(base::unitFactor("frames", "frames"), std::optional(1.0)); // whatever it is, it is the same
        QVERIFY(!base::unitFactor("cm", "s"));
        QVERIFY(!base::unitFactor("parsec", "m"));
        QVERIFY(!base::unitFactor("m", ""));
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

static const ripple::tests::SuiteOf<TestUnits> kSuite;
#include "test_units.moc"
