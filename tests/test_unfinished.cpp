// Files and folders that are written whole or not at all, and what is left of writers that died.

#include "base/files.h"
#include "base/unfinished.h"
#include "problem_of.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <csignal>
#include <set>

#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace ripple;
using base::Unfinished;

namespace fs = std::filesystem;

class TestUnfinished : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> dir_;
    fs::path folder() const { return dir_->path().toStdString(); }
    std::set<std::string> names() const {
        std::set<std::string> found;
        for (const auto& entry : fs::directory_iterator(folder())) {
            found.insert(entry.path().filename().string());
        }
        return found;
    }
    std::string content(const fs::path& file) const {
        return std::string(base::asText(base::readFile(file)));
    }
    using Names = std::set<std::string>;

    /// Another process begins to write and dies, or waits until it is killed.
    pid_t writer(Unfinished::Kind kind, bool dies) const {
        const pid_t child = ::fork();
        if (child == 0) {
            auto* left = new Unfinished(folder() / "heron", kind);
            if (kind == Unfinished::Kind::folder) {
                base::writeFile(left->path() / "half.png", "half");
                fs::permissions(left->path(), fs::perms::owner_read | fs::perms::owner_exec);
            }
            base::writeFile(folder() / "begun", "");
            if (dies) {
                ::_exit(0);
            }
            for (;;) {
                ::pause();
            }
        }
        return child;
    }

private Q_SLOTS:
    void init() { dir_ = std::make_unique<QTemporaryDir>(); }

    void filesAreReplacedWholeAndKeepTheirRights() {
        const fs::path file = folder() / "score.json";
        base::writeFile(file, "before");
        fs::permissions(file, fs::perms::owner_read | fs::perms::owner_write | fs::perms::group_read);
        struct stat before {};
        QCOMPARE(::stat(file.c_str(), &before), 0);
        base::replaceFile(file, "after");
        struct stat after {};
        QCOMPARE(::stat(file.c_str(), &after), 0);
        QCOMPARE(content(file), std::string("after"));
        QCOMPARE(after.st_mode, before.st_mode);
        QVERIFY(after.st_ino != before.st_ino); // a new file was put in its place
        QCOMPARE(names(), Names{"score.json"});
    }
    void linksAreFollowed() {
        fs::create_directory(folder() / "there");
        base::writeFile(folder() / "there/real", "before");
        fs::create_symlink("there/real", folder() / "link");
        base::replaceFile(folder() / "link", "after");
        QVERIFY(fs::is_symlink(folder() / "link"));
        QCOMPARE(content(folder() / "there/real"), std::string("after"));
        fs::create_symlink("there/new", folder() / "to nothing");
        base::replaceFile(folder() / "to nothing", "made");
        QVERIFY(fs::is_symlink(folder() / "to nothing"));
        QCOMPARE(content(folder() / "there/new"), std::string("made"));
    }
    void devicesAreWrittenToAndStay() {
        base::replaceFile("/dev/null", "nothing");
        QVERIFY(fs::is_character_file("/dev/null"));
        QVERIFY(tests::says(tests::problemOf([] { base::replaceFile("/dev/full", "much"); }), "/dev/full",
                            "No space left"));
        QVERIFY(tests::says(tests::problemOf([&] { base::replaceFile(folder(), "much"); }), "is a folder"));
    }
    void whatDoesNotFitLeavesTheOldFile() {
        const fs::path file = folder() / "score.json";
        base::writeFile(file, "before");
        std::signal(SIGXFSZ, SIG_IGN);
        rlimit old{};
        getrlimit(RLIMIT_FSIZE, &old);
        rlimit small = old;
        small.rlim_cur = 1000;
        setrlimit(RLIMIT_FSIZE, &small);
        const base::Problem problem =
            tests::problemOf([&] { base::replaceFile(file, std::string(100000, 'x')); });
        setrlimit(RLIMIT_FSIZE, &old);
        QVERIFY(tests::says(problem, "score.json", "could not be written whole"));
        QVERIFY(problem.where.find("writing-") == std::string::npos); // not under its hidden name
        QCOMPARE(content(file), std::string("before"));
        QCOMPARE(names(), Names{"score.json"});
    }
    void deadWritersAreTidiedUpAfter_data() {
        QTest::addColumn<bool>("folderKind");
        QTest::newRow("file") << false;
        QTest::newRow("folder that may not be written to") << true;
    }
    void deadWritersAreTidiedUpAfter() {
        QFETCH(bool, folderKind);
        const auto kind = folderKind ? Unfinished::Kind::folder : Unfinished::Kind::file;
        int status = 0;
        ::waitpid(writer(kind, true), &status, 0);
        fs::remove(folder() / "begun");
        QCOMPARE(names().size(), std::size_t(1)); // what it left
        QVERIFY(names().begin()->starts_with(".heron.writing-"));
        base::replaceFile(folder() / "awning", "another's work");
        QCOMPARE(names(), Names{"awning"});
    }
    void livingWritersAreLeftAlone() {
        const pid_t child = writer(Unfinished::Kind::folder, false);
        QTRY_VERIFY(fs::exists(folder() / "begun"));
        base::replaceFile(folder() / "awning", "work");
        QCOMPARE(names().size(), std::size_t(3)); // awning, begun, and what the other one writes
        ::kill(child, SIGKILL);
        int status = 0;
        ::waitpid(child, &status, 0);
        base::removeAbandoned(folder());
        QCOMPARE(names(), (Names{"awning", "begun"}));
    }
    void whatOnlyLooksAlikeIsNobodysToRemove() {
        fs::create_directory(folder() / ".heron.backup");
        fs::create_directory(folder() / ".heron.writing-notes");
        base::writeFile(folder() / "heron.writing-abcdef", "mine");
        fs::create_directory(folder() / "elsewhere");
        fs::create_symlink("elsewhere", folder() / ".heron.writing-abcdef");
        base::removeAbandoned(folder());
        QCOMPARE(names(), (Names{".heron.backup", ".heron.writing-notes", "heron.writing-abcdef", "elsewhere",
                                 ".heron.writing-abcdef"}));
    }
    void removingNeverFollowsLinks() {
        fs::create_directories(folder() / "precious");
        base::writeFile(folder() / "precious/file", "keep");
        fs::permissions(folder() / "precious", fs::perms::owner_read | fs::perms::owner_exec);
        fs::create_directories(folder() / "old/below");
        fs::create_directory_symlink(folder() / "precious", folder() / "old/below/link");
        fs::permissions(folder() / "old/below", fs::perms::owner_read | fs::perms::owner_exec);
        QVERIFY(base::removeAll(folder() / "old"));
        QCOMPARE(names(), Names{"precious"});
        QCOMPARE(content(folder() / "precious/file"), std::string("keep"));
        QVERIFY((fs::status(folder() / "precious").permissions() & fs::perms::owner_write) ==
                fs::perms::none);
        fs::permissions(folder() / "precious", fs::perms::owner_all);
    }
    void pathsResolve() {
        fs::create_directories(folder() / "a/b");
        fs::create_directory_symlink("a", folder() / "link");
        const fs::path real = fs::canonical(folder());
        QCOMPARE(base::resolved(folder() / "link/b/").string(), (real / "a/b").string());
        QCOMPARE(base::resolved(folder() / "a/./b/../new").string(), (real / "a/new").string());
    }
};

static const ripple::tests::SuiteOf<TestUnfinished> kSuite;
#include "test_unfinished.moc"
