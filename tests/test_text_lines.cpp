// Lines, words and numbers of text files; files in the address space.

#include "base/files.h"
#include "base/mapped_file.h"
#include "problem_of.h"
#include "source/text_lines.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

using namespace ripple;
using source::TextLines;
using tests::says;

namespace {

std::vector<std::string> linesOf(const std::string& text) {
    const std::string where = "text";
    TextLines lines(base::asBytes(text), where);
    std::vector<std::string> all;
    while (lines.next()) {
        all.push_back(lines.rest());
    }
    return all;
}

} // namespace

class TestTextLines : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void linesEndInAnyWay_data() {
        QTest::addColumn<QByteArray>("text");
        QTest::newRow("LF") << QByteArray("a 1\nb\n\nc");
        QTest::newRow("CR LF") << QByteArray("a 1\r\nb\r\n\r\nc");
        QTest::newRow("CR") << QByteArray("a 1\rb\r\rc");
        QTest::newRow("mixed") << QByteArray("a 1\rb\r\n\nc\r");
        QTest::newRow("with a byte order mark") << QByteArray("\xEF\xBB\xBF"
                                                              "a 1\nb\n\nc\n");
    }
    void linesEndInAnyWay() {
        QFETCH(QByteArray, text);
        QCOMPARE(linesOf(text.toStdString()), (std::vector<std::string>{"a 1", "b", "", "c"}));
    }
    void nothingHasNoLines() { QVERIFY(linesOf("").empty()); }
    void wordsAndNumbers() {
        const std::string where = "n.txt";
        const std::string text = "  v\t1.5e1  -2 .25\n";
        TextLines lines(base::asBytes(text), where);
        QVERIFY(lines.next());
        QVERIFY(!lines.startsWith("vn"));
        QVERIFY(lines.startsWith("v"));
        QCOMPARE(lines.number(), 15.0f);
        QCOMPARE(lines.whole(), std::int64_t(-2));
        lines.skipBlanks();
        QVERIFY(!lines.take('x'));
        QVERIFY(lines.take('.'));
        QCOMPARE(lines.word(), std::string_view("25"));
        QVERIFY(lines.atLineEnd());
        QVERIFY(says(tests::problemOf([&] { lines.number(); }), "n.txt, line 1", "breaks off"));
    }
    void aLinesNumberCountsEveryEnding() {
        const std::string where = "m.txt";
        const std::string text = "1\r2\r\n3\nx\n";
        TextLines lines(base::asBytes(text), where);
        for (int i = 0; i < 4; ++i) {
            QVERIFY(lines.next());
        }
        QVERIFY(says(tests::problemOf([&] { lines.number(); }), "m.txt, line 4", "\"x\""));
    }
    void theLocaleDoesNotMatter() {
        const std::string where = "l.txt";
        const std::string text = "1,5\n1.5\n";
        TextLines lines(base::asBytes(text), where);
        lines.next();
        QVERIFY(says(tests::problemOf([&] { lines.number(); }), "1,5", "decimal point"));
        lines.next();
        QCOMPARE(lines.number(), 1.5f);
    }
    void otherEncodingsAreNamed() {
        const std::string where = "w.txt";
        for (const std::string& mark : {std::string("\xFF\xFE"), std::string("\xFE\xFF")}) {
            const std::string text = mark + "ab";
            QVERIFY(says(tests::problemOf([&] { TextLines lines(base::asBytes(text), where); }), "UTF-16",
                         "UTF-8"));
        }
    }
    void mappedFilesNoticeChanges() {
        QTemporaryDir dir;
        const std::filesystem::path file = std::filesystem::path(dir.path().toStdString()) / "m.bin";
        QVERIFY(says(tests::problemOf([&] { base::MappedFile absent(file); }), "m.bin", "cannot be opened"));
        QVERIFY(says(tests::problemOf([&] { base::MappedFile folder(file.parent_path()); }), "not a file"));
        base::writeFile(file, std::string_view("0123456789"));
        const base::MappedFile mapped(file);
        QCOMPARE(base::asText(mapped.bytes()), std::string_view("0123456789"));
        mapped.requireUnchanged();
        std::filesystem::resize_file(file, 4);
        QVERIFY(says(tests::problemOf([&] { mapped.requireUnchanged(); }), "m.bin", "rewritten"));
        base::writeFile(file, std::string_view("")); // emptied: nothing to map, and no failure
        QVERIFY(base::MappedFile(file).bytes().empty());
    }
};

static const ripple::tests::SuiteOf<TestTextLines> kSuite;
#include "test_text_lines.moc"
