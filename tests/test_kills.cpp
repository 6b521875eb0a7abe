// A bake that is stopped, at any instant and by any signal: what was there is whole, and nothing else is.

#include "suite.h"

#include <QDir>
#include <QDirIterator>
#include <QElapsedTimer>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

#include <csignal>
#include <random>
#include <set>

#include <sys/types.h>
#include <unistd.h>

class TestKills : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;
    QString source_;
    qint64 takes_ = 1; ///< milliseconds that a bake takes, about

    /// With all that may come along.
    QStringList words(const QString& name) const {
        return {"bake",     source_,   "--out",     dir_.filePath("out/" + name),
                "--store",  "unorm16", "--page",    "inside",
                "--levels", "1",       "--test-row"};
    }
    QStringList hidden() const {
        QStringList found;
        for (const QString& entry :
             QDir(dir_.filePath("out")).entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot)) {
            if (entry.startsWith('.')) {
                found << entry;
            }
        }
        return found;
    }
    static int run(const QStringList& words) {
        QProcess process;
        process.start(RIPPLE_COMMAND, words);
        process.waitForFinished(120000);
        return process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1;
    }

private Q_SLOTS:
    void initTestCase() {
        // 1 296 vertices and 30 frames as a sequence of OBJ files would be slow to make: a PLY mesh and a
        // point cache are a few lines.
        QDir(dir_.path()).mkpath("out");
        constexpr int kSide = 36;
        constexpr int kFrames = 30;
        QByteArray mesh =
            "ply\nformat ascii 1.0\nelement vertex 1296\nproperty float x\nproperty float y\n"
            "property float z\nelement face 1225\nproperty list uchar int vertex_indices\nend_header\n";
        QByteArray cache("POINTCACHE2\0", 12);
        const auto put = [&cache](const auto& value) {
            cache.append(reinterpret_cast<const char*>(&value), sizeof value);
        };
        put(1);
        put(kSide * kSide);
        put(0.0f);
        put(1.0f);
        put(kFrames);
        for (int v = 0; v < kSide * kSide; ++v) {
            mesh += QByteArray::number(v % kSide) + " 0.0 " + QByteArray::number(v / kSide) + "\n";
        }
        for (int f = 0; f < kFrames; ++f) {
            for (int v = 0; v < kSide * kSide; ++v) {
                put(static_cast<float>(v % kSide));
                put(std::sin(0.1f * static_cast<float>(f * (v % 17))));
                put(static_cast<float>(v / kSide));
            }
        }
        for (int z = 0; z + 1 < kSide; ++z) {
            for (int x = 0; x + 1 < kSide; ++x) {
                const int a = z * kSide + x;
                for (const int n : {4, a, a + kSide, a + kSide + 1, a + 1}) {
                    mesh += QByteArray::number(n) + " ";
                }
                mesh += "\n";
            }
        }
        for (const auto& [name, bytes] : {std::pair("sheet.ply", mesh), std::pair("sheet.pc2", cache)}) {
            QFile file(dir_.filePath(name));
            QVERIFY(file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size());
        }
        source_ = dir_.filePath("sheet.pc2");
        QElapsedTimer time;
        time.start();
        QCOMPARE(run(words("sheet")), 0);
        takes_ = std::max<qint64>(time.elapsed(), 20);
        QVERIFY(hidden().isEmpty());
    }
    void aHundredKillsLeaveNothing_data() {
        QTest::addColumn<int>("signal");
        QTest::newRow("interrupt") << SIGINT;
        QTest::newRow("terminate") << SIGTERM;
        QTest::newRow("hang up") << SIGHUP;
        QTest::newRow("kill") << SIGKILL;
    }
    void aHundredKillsLeaveNothing() {
        QFETCH(int, signal);
        QFile manifest(dir_.filePath("out/sheet/sheet.bundle.json"));
        QVERIFY(manifest.open(QIODevice::ReadOnly));
        const QByteArray whole = manifest.readAll();
        std::mt19937 random(static_cast<unsigned>(signal));
        int stopped = 0;
        int left = 0;
        for (int i = 0; i < 100; ++i) {
            QProcess process;
            QElapsedTimer time;
            time.start();
            process.start(RIPPLE_COMMAND, words("sheet"));
            QVERIFY(process.waitForStarted());
            const auto wait = static_cast<unsigned long>(random() % static_cast<unsigned>(1200 * takes_));
            QThread::usleep(wait);
            ::kill(static_cast<pid_t>(process.processId()), signal);
            QVERIFY(process.waitForFinished(60000));
            const bool ended = process.exitStatus() == QProcess::CrashExit;
            stopped += ended;
            if (!ended) {
                takes_ =
                    std::clamp<qint64>((takes_ + time.elapsed()) / 2, 20, takes_); // quicker than thought
            }
            // Whole, old or new: the same input gives the same bytes.
            QFile now(dir_.filePath("out/sheet/sheet.bundle.json"));
            QVERIFY(now.open(QIODevice::ReadOnly));
            QCOMPARE(now.readAll(), whole);
            left += static_cast<int>(hidden().size());
            if (signal == SIGKILL) {
                QVERIFY(hidden().size() <= 1); // of the last one only: each write tidies up first
            } else {
                QVERIFY2(hidden().isEmpty(), qPrintable(hidden().join(' ')));
            }
        }
        QVERIFY2(stopped > 40, qPrintable(QString("%1 of 100 were stopped").arg(stopped)));
        QVERIFY(signal == SIGKILL ? left > 0 : left == 0);
        QCOMPARE(run(words("sheet")), 0);
        QVERIFY(hidden().isEmpty());
        QCOMPARE(run({"check", dir_.filePath("out/sheet"), "--against", source_}), 0);
    }
    void whoeverIsStoppedSaysByWhat() {
        QProcess process;
        process.start(RIPPLE_COMMAND, words("stopped"));
        QVERIFY(process.waitForStarted());
        QThread::msleep(static_cast<unsigned long>(takes_ / 3));
        ::kill(static_cast<pid_t>(process.processId()), SIGTERM);
        QVERIFY(process.waitForFinished(60000));
        if (process.exitStatus() == QProcess::CrashExit) { // else it was done before
            QCOMPARE(process.exitCode(), SIGTERM);
            QVERIFY(!QFile::exists(dir_.filePath("out/stopped")));
        }
    }
    void whoIgnoresHangingUpGoesOn() {
        QProcess process;
        process.setChildProcessModifier([] { ::signal(SIGHUP, SIG_IGN); }); // as nohup does
        process.start(RIPPLE_COMMAND, words("nohup"));
        QVERIFY(process.waitForStarted());
        for (int i = 0; i < 10; ++i) {
            ::kill(static_cast<pid_t>(process.processId()), SIGHUP);
            QThread::msleep(static_cast<unsigned long>(takes_ / 20 + 1));
        }
        QVERIFY(process.waitForFinished(120000));
        QCOMPARE(process.exitStatus(), QProcess::NormalExit);
        QCOMPARE(process.exitCode(), 0);
        QVERIFY(QFile::exists(dir_.filePath("out/nohup/nohup.bundle.json")));
    }
};

static const ripple::tests::SuiteOf<TestKills> kSuite;
#include "test_kills.moc"
