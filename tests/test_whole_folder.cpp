#include "base/files.h"
#include "bundle/whole_folder.h"
#include "problem_of.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <fstream>

#include <sys/stat.h>

using namespace ripple;
using bundle::WholeFolder;

namespace fs = std::filesystem;

class TestWholeFolder : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> dir_;
    fs::path folder() const { return dir_->path().toStdString(); }
    std::vector<std::string> entries() const {
        std::vector<std::string> names;
        for (const auto& entry : fs::directory_iterator(folder())) {
            names.push_back(entry.path().filename().string());
        }
        std::sort(names.begin(), names.end());
        return names;
    }
    using Names = std::vector<std::string>;
    std::string content(const char* file) const {
        return std::string(base::asText(base::readFile(folder() / file)));
    }
    static ino_t inodeOf(const fs::path& path) {
        struct stat state {};
        return ::lstat(path.c_str(), &state) == 0 ? state.st_ino : 0;
    }

private Q_SLOTS:
    void init() { dir_ = std::make_unique<QTemporaryDir>(); }

    void appearsWholeOnCommit() {
        {
            WholeFolder whole(folder() / "new");
            base::writeFile(whole.path() / "a.txt", "a");
            QVERIFY(!fs::exists(folder() / "new"));
            QVERIFY(whole.commit().empty());
        }
        QCOMPARE(entries(), Names{"new"});
        QCOMPARE(content("new/a.txt"), std::string("a"));
        struct stat info {};
        QCOMPARE(stat((folder() / "new").c_str(), &info), 0);
        QCOMPARE(info.st_mode & 0777u, 0755u); // others may read what was shipped
    }
    void vanishesWithoutCommit() {
        {
            WholeFolder whole(folder() / "new");
            base::writeFile(whole.path() / "a.txt", "a");
        }
        QVERIFY(entries().empty());
    }
    void replacesWhatIsListedAndKeepsTheRest() {
        fs::create_directories(folder() / "old/below");
        base::writeFile(folder() / "old/before.txt", "before");
        base::writeFile(folder() / "old/before.txt.meta", "somebody's settings");
        base::writeFile(folder() / "old/below/deep.txt", "deep");
        fs::create_symlink("deep.txt", folder() / "old/below/link");
        const ino_t settings = inodeOf(folder() / "old/before.txt.meta");
        const ino_t deep = inodeOf(folder() / "old/below/deep.txt");
        std::ifstream open(folder() / "old/before.txt.meta"); // an importer that has it open
        {
            WholeFolder whole(folder() / "old");
            base::writeFile(whole.path() / "after.txt", "after");
            QCOMPARE(content("old/before.txt"), std::string("before"));
            QVERIFY(whole.commit({"before.txt"}).empty());
        }
        QCOMPARE(entries(), Names{"old"});
        QVERIFY(!fs::exists(folder() / "old/before.txt"));
        QCOMPARE(content("old/after.txt"), std::string("after"));
        QCOMPARE(content("old/before.txt.meta"), std::string("somebody's settings"));
        QCOMPARE(content("old/below/link"), std::string("deep"));
        QVERIFY(fs::is_symlink(folder() / "old/below/link"));
        // The very same files, not copies.
        QCOMPARE(inodeOf(folder() / "old/before.txt.meta"), settings);
        QCOMPARE(inodeOf(folder() / "old/below/deep.txt"), deep);
    }
    void whatIsInTheWayStopsItAndNothingChanges() {
        fs::create_directories(folder() / "old");
        base::writeFile(folder() / "old/a.txt", "mine");
        base::writeFile(folder() / "old/b.txt", "ours");
        const base::Problem problem = tests::problemOf([&] {
            WholeFolder whole(folder() / "old");
            base::writeFile(whole.path() / "a.txt", "new");
            whole.commit({"b.txt"});
        });
        QVERIFY(tests::says(problem, "a.txt", "in the way"));
        QCOMPARE(entries(), Names{"old"});
        QCOMPARE(content("old/a.txt"), std::string("mine"));
        QCOMPARE(content("old/b.txt"), std::string("ours"));
    }
    void whatComesMeanwhileIsKept() {
        fs::create_directories(folder() / "old");
        {
            WholeFolder whole(folder() / "old");
            base::writeFile(whole.path() / "new.txt", "new");
            base::writeFile(folder() / "old/late.txt", "late");
            whole.commit();
        }
        QCOMPARE(content("old/late.txt"), std::string("late"));
        QCOMPARE(content("old/new.txt"), std::string("new"));
    }
    void whatIsReplacedIsAskedWhenItIsPutInPlace() {
        fs::create_directories(folder() / "old");
        base::writeFile(folder() / "old/a.txt", "an earlier one's");
        {
            WholeFolder whole(folder() / "old");
            base::writeFile(whole.path() / "b.txt", "ours");
            {
                // Another writer, meanwhile.
                WholeFolder other(folder() / "old");
                base::writeFile(other.path() / "c.txt", "another's");
                other.commit({"a.txt"});
            }
            QCOMPARE(content("old/c.txt"), std::string("another's"));
            fs::path asked;
            whole.commit([&](const fs::path& there) {
                asked = there;
                return std::set<std::string>{"c.txt"};
            });
            QCOMPARE(asked, whole.target());
        }
        QCOMPARE(content("old/b.txt"), std::string("ours"));
        QVERIFY(!fs::exists(folder() / "old/c.txt") && !fs::exists(folder() / "old/a.txt"));
        QCOMPARE(entries(), Names{"old"});
        // What speaks against it then leaves all as it was.
        WholeFolder late(folder() / "old");
        base::writeFile(late.path() / "d.txt", "late");
        const auto refuse = [](const fs::path&) -> std::set<std::string> {
            base::fail("old", "is taken", "wait");
        };
        QVERIFY(tests::says(tests::problemOf([&] { late.commit(refuse); }), "is taken"));
        QVERIFY(!fs::exists(folder() / "old/d.txt"));
    }
    void foldersThatMayNotBeWrittenToLeaveNothingBehind() {
        fs::create_directories(folder() / "old");
        base::writeFile(folder() / "old/b.txt", "ours");
        base::writeFile(folder() / "old/mine.txt", "mine");
        fs::permissions(folder() / "old", static_cast<fs::perms>(0555));
        {
            WholeFolder whole(folder() / "old");
            base::writeFile(whole.path() / "b.txt", "new");
            QVERIFY(whole.commit({"b.txt"}).empty());
        }
        QCOMPARE(entries(), Names{"old"}); // no hidden folder
        QCOMPARE(content("old/b.txt"), std::string("new"));
        QCOMPARE(content("old/mine.txt"), std::string("mine"));
    }
    void linksLeadToWhatIsWritten() {
        fs::create_directories(folder() / "builds/heron_12");
        base::writeFile(folder() / "builds/heron_12/b.txt", "old");
        fs::create_directory_symlink("builds/heron_12", folder() / "heron");
        {
            WholeFolder whole(folder() / "heron");
            base::writeFile(whole.path() / "b.txt", "new");
            whole.commit({"b.txt"});
        }
        QVERIFY(fs::is_symlink(folder() / "heron"));
        QCOMPARE(content("builds/heron_12/b.txt"), std::string("new"));
        QCOMPARE(entries(), (Names{"builds", "heron"}));
        fs::create_directory_symlink("builds/later", folder() / "later");
        WholeFolder whole(folder() / "later");
        base::writeFile(whole.path() / "b.txt", "made");
        whole.commit();
        QVERIFY(fs::is_symlink(folder() / "later"));
        QCOMPARE(content("builds/later/b.txt"), std::string("made"));
    }
    void withoutExchangingItTakesTwoSteps() {
        const auto begin = [this](WholeFolder& whole) { base::writeFile(whole.path() / "b.txt", "new"); };
        fs::create_directories(folder() / "old");
        base::writeFile(folder() / "old/b.txt", "ours");
        base::writeFile(folder() / "old/mine.txt", "mine");
        {
            WholeFolder whole(folder() / "old");
            begin(whole);
            QVERIFY(whole.replaceInTwoSteps({"b.txt"}).empty());
        }
        QCOMPARE(entries(), Names{"old"});
        QCOMPARE(content("old/b.txt"), std::string("new"));
        QCOMPARE(content("old/mine.txt"), std::string("mine"));
        // A writer that died between the steps: the old one comes back before the next is begun.
        fs::rename(folder() / "old", folder() / ".old.before");
        {
            WholeFolder whole(folder() / "old");
            QCOMPARE(content("old/mine.txt"), std::string("mine"));
        }
        QCOMPARE(entries(), Names{"old"});
    }
    void filesAreNoFolders() {
        base::writeFile(folder() / "file", "text");
        QVERIFY(tests::says(tests::problemOf([&] { WholeFolder whole(folder() / "file"); }), "is a file",
                            "left as it is"));
        QCOMPARE(content("file"), std::string("text"));
    }
    void trailingSlashesAndMissingParents() {
        {
            WholeFolder whole(folder() / "deep/down/here/");
            QCOMPARE(whole.target().filename().string(), std::string("here"));
            whole.commit();
        }
        QVERIFY(fs::is_directory(folder() / "deep/down/here"));
    }
};

static const ripple::tests::SuiteOf<TestWholeFolder> kSuite;
#include "test_whole_folder.moc"
