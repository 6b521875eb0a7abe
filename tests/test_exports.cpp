// Exports that meet one another, whose folder is taken away, or that are made elsewhere: a bundle is whole,
// or is not there, and its bytes are the same.

#include "suite.h"

#include <QDir>
#include <QDirIterator>
#include <QElapsedTimer>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

#include <map>
#include <memory>
#include <random>
#include <vector>

#include <sched.h>

class TestExports : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;

    static QString demo(const QString& name) { return QString(DEMO_FOLDER) + "/" + name; }
    QString in(const QString& name) const { return dir_.filePath(name); }
    using Process = std::unique_ptr<QProcess>;
    static Process started(const QStringList& words, const QStringList& environment = {},
                           const QString& folder = {}, bool oneProcessor = false) {
        auto process = std::make_unique<QProcess>();
        process->setEnvironment(QProcess::systemEnvironment() + environment);
        process->setWorkingDirectory(folder);
        if (oneProcessor) {
            process->setChildProcessModifier([] {
                cpu_set_t one;
                CPU_ZERO(&one);
                CPU_SET(0, &one);
                ::sched_setaffinity(0, sizeof one, &one);
            });
        }
        process->start(RIPPLE_COMMAND, words);
        return process;
    }
    /// The exit status; -1 where it crashed or did not end.
    static int statusOf(QProcess& process) {
        return process.waitForFinished(120000) && process.exitStatus() == QProcess::NormalExit
                   ? process.exitCode()
                   : -1;
    }
    static int run(const QStringList& words) { return statusOf(*started(words)); }
    static QStringList hiddenIn(const QString& folder) {
        QStringList hidden;
        for (const QString& entry :
             QDir(folder).entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot)) {
            if (entry.startsWith('.')) {
                hidden << entry;
            }
        }
        return hidden;
    }
    /// Files below a folder, by their names in it.
    static std::map<QString, QByteArray> filesIn(const QString& folder) {
        std::map<QString, QByteArray> files;
        QDirIterator each(folder, QDir::Files, QDirIterator::Subdirectories);
        while (each.hasNext()) {
            QFile file(each.next());
            if (file.open(QIODevice::ReadOnly)) {
                files[QDir(folder).relativeFilePath(file.fileName())] = file.readAll();
            }
        }
        return files;
    }

private Q_SLOTS:
    void exportsThatMeetLeaveOneOfThemWhole() {
        std::mt19937 random(5);
        const auto words = [&](const char* store) {
            return QStringList{
                "bake",  demo("windsock.glb"), "--score", "tube", "--step", "8", "--store", store,
                "--out", in("meet/sheet")};
        };
        QCOMPARE(run(words("half")), 0);
        QFile others(in("meet/sheet/engine.settings"));
        QVERIFY(others.open(QIODevice::WriteOnly) && others.write("kept") == 4);
        others.close();
        // What each alone makes.
        std::vector<std::map<QString, QByteArray>> alone;
        for (const char* store : {"half", "unorm16"}) {
            QCOMPARE(run(words(store)), 0);
            alone.push_back(filesIn(in("meet/sheet")));
        }
        QVERIFY(alone[0] != alone[1]);
        for (int i = 0; i < 15; ++i) {
            const Process a = started(words("half"));
            QThread::usleep(random() % 60000);
            const Process b = started(words("unorm16"));
            const int statusA = statusOf(*a);
            const int statusB = statusOf(*b);
            // One that finds the name taken at the last moment may say so; it does not crash.
            QVERIFY2(statusA == 0 || (statusA == 1 && !a->readAllStandardError().isEmpty()),
                     qPrintable(QString::number(statusA)));
            QVERIFY2(statusB == 0 || (statusB == 1 && !b->readAllStandardError().isEmpty()),
                     qPrintable(QString::number(statusB)));
            QVERIFY(statusA == 0 || statusB == 0);
            const auto now = filesIn(in("meet/sheet"));
            QVERIFY2(now == alone[0] || now == alone[1], qPrintable(QString("round %1").arg(i)));
            QVERIFY(hiddenIn(in("meet")).isEmpty());
        }
        QCOMPARE(run({"check", in("meet/sheet"), "--against", demo("windsock.glb")}), 0);
    }
    void aFolderThatVanishesIsAProblem() {
        const QStringList words = {"bake",  demo("windsock.glb"), "--score", "tube",
                                   "--out", in("gone/sheet"),     "--page",  "inside"};
        QElapsedTimer time;
        time.start();
        QCOMPARE(run(words), 0);
        const auto takes = static_cast<unsigned>(std::max<qint64>(time.elapsed(), 20));
        std::mt19937 random(7);
        int failed = 0;
        for (int i = 0; i < 30; ++i) {
            QDir().mkpath(in("gone"));
            const Process process = started(words);
            QVERIFY(process->waitForStarted());
            QThread::usleep(random() % (1200 * takes));
            QDir(in("gone")).removeRecursively();
            const int status = statusOf(*process);
            const QByteArray said = process->readAllStandardError();
            QVERIFY2(status == 0 || status == 1, said.constData());
            if (status == 1) {
                ++failed;
                QVERIFY2(said.contains("ripple: ") && said.contains("gone"), said.constData());
                QVERIFY2(!QFile::exists(in("gone/sheet/sheet.bundle.json")), said.constData());
            }
        }
        QVERIFY2(failed > 3, qPrintable(QString("%1 of 30 were in the middle").arg(failed)));
    }
    void theSameBytesWherever_data() {
        QTest::addColumn<QStringList>("words");
        QTest::newRow("vertices") << QStringList{"bake",       demo("heron.glb"), "--clip", "peck",
                                                 "--test-row", "--page",          "inside"};
        QTest::newRow("joints") << QStringList{"bake", demo("crab.glb"), "--kind", "joints", "--levels",
                                               "2",    "--target",       "5"};
        QTest::newRow("score") << QStringList{"score",  demo("bulrush.glb"), "--score",
                                              "stalk",  "--store-masks",     "--page",
                                              "inside", "--target",          "3"};
        QTest::newRow("copies") << QStringList{"scatter", "BUNDLE",  "--copies", "40",
                                               "--merge", "colours", "--code"};
    }
    void theSameBytesWherever() {
        QFETCH(QStringList, words);
        const QString row = QTest::currentDataTag();
        const bool copies = words.contains("BUNDLE");
        if (copies) {
            QCOMPARE(run({"bake", demo("crab.glb"), "--kind", "joints", "--out", in("crab")}), 0);
            words[words.indexOf("BUNDLE")] = in("crab");
        }
        struct Place {
            const char* name;
            QStringList environment;
            bool oneProcessor;
        };
        const Place places[] = {
            {"here", {}, false},
            {"commas", {"LC_ALL=de_DE.UTF-8", "LANG=de_DE.UTF-8", "TZ=Pacific/Auckland"}, false},
            {"Schöner Ordner/tief", {"LC_ALL=C", "TZ=America/St_Johns", "HOME=/nowhere"}, true}};
        std::map<QString, QByteArray> first;
        for (const Place& place : places) {
            const QString folder = in(row + "/" + place.name);
            QDir().mkpath(folder);
            const QString out = copies ? "many.glb" : "asset"; // from the folder itself
            const Process process =
                started(words + QStringList{"--out", out}, place.environment, folder, place.oneProcessor);
            QVERIFY2(statusOf(*process) == 0, process->readAllStandardError().constData());
            const auto files = filesIn(folder);
            QVERIFY(files.size() >= 4 || copies);
            if (first.empty()) {
                first = files;
            }
            for (const auto& [name, bytes] : files) {
                QVERIFY2(first.at(name) == bytes, qPrintable(place.name + (": " + name)));
            }
            QCOMPARE(files.size(), first.size());
        }
    }
};

static const ripple::tests::SuiteOf<TestExports> kSuite;
#include "test_exports.moc"
