#include "base/files.h"
#include "bundle/whole_folder.h"
#include "problem_of.h"

#include <QTemporaryDir>
#include <QTest>

#include <sys/stat.h>

using namespace ripple;
using bundle::WholeFolder;

namespace {

bool always(const std::filesystem::path&) {
    return true;
}
bool never(const std::filesystem::path&) {
    return false;
}

} // namespace

class TestWholeFolder : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> dir_;
    std::filesystem::path folder() const { return dir_->path().toStdString(); }
    std::vector<std::string> entries() const {
        std::vector<std::string> names;
        for (const auto& entry : std::filesystem::directory_iterator(folder())) {
            names.push_back(entry.path().filename().string());
        }
        return names;
    }
    std::string content(const char* file) const {
        return std::string(base::asText(base::readFile(folder() / file)));
    }

private Q_SLOTS:
    void init() { dir_ = std::make_unique<QTemporaryDir>(); }

    void appearsWholeOnCommit() {
        {
            WholeFolder whole(folder() / "new", &always);
            base::writeFile(whole.path() / "a.txt", "a");
            QVERIFY(!std::filesystem::exists(folder() / "new"));
            whole.commit();
        }
        QCOMPARE(entries(), std::vector<std::string>{"new"});
        QCOMPARE(content("new/a.txt"), std::string("a"));
        struct stat info {};
        QCOMPARE(stat((folder() / "new").c_str(), &info), 0);
        QCOMPARE(info.st_mode & 0777u, 0755u); // others may read what was shipped
    }
    void vanishesWithoutCommit() {
        {
            WholeFolder whole(folder() / "new", &always);
            base::writeFile(whole.path() / "a.txt", "a");
        }
        QVERIFY(entries().empty());
    }
    void takesTheOldOnesPlace() {
        std::filesystem::create_directories(folder() / "old");
        base::writeFile(folder() / "old/before.txt", "before");
        {
            WholeFolder whole(folder() / "old", &always);
            base::writeFile(whole.path() / "after.txt", "after");
            QCOMPARE(content("old/before.txt"), std::string("before"));
            whole.commit();
        }
        QCOMPARE(entries(), std::vector<std::string>{"old"});
        QVERIFY(!std::filesystem::exists(folder() / "old/before.txt"));
        QCOMPARE(content("old/after.txt"), std::string("after"));
    }
    void asksBeforeItReplaces() {
        std::filesystem::create_directories(folder() / "mine");
        QVERIFY(tests::says(tests::problemOf([&] { WholeFolder whole(folder() / "mine", &never); }), "mine",
                            "left as it is"));
        QCOMPARE(entries(), std::vector<std::string>{"mine"});
    }
    void trailingSlashesAndMissingParents() {
        {
            WholeFolder whole(folder() / "deep/down/here/", &never);
            QCOMPARE(whole.target().filename().string(), std::string("here"));
            whole.commit();
        }
        QVERIFY(std::filesystem::is_directory(folder() / "deep/down/here"));
    }
};

QTEST_GUILESS_MAIN(TestWholeFolder)
#include "test_whole_folder.moc"
