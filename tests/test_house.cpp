// What CONTRIBUTING.md says of the layout of the code, checked on the sources themselves.

#include "base/files.h"
#include "suite.h"

#include <QFileInfo>
#include <QProcess>
#include <QRegularExpression>
#include <QTest>

#include <filesystem>
#include <regex>
#include <set>
#include <sstream>

using namespace ripple;

namespace {

const std::filesystem::path kRoot = SOURCE_FOLDER;

std::vector<std::filesystem::path> sourcesIn(const char* folder) {
    std::vector<std::filesystem::path> files;
    for (const auto& entry : std::filesystem::recursive_directory_iterator(kRoot / folder)) {
        const std::string extension = entry.path().extension().string();
        if (extension == ".cpp" || extension == ".h") {
            files.push_back(entry.path());
        }
    }
    return files;
}

std::vector<std::string> includesOf(const std::filesystem::path& file) {
    static const std::regex kInclude("#include [<\"]([^>\"]+)[>\"]");
    std::vector<std::string> found;
    const base::Bytes bytes = base::readFile(file);
    std::istringstream lines{std::string(base::asText(bytes))};
    for (std::string line; std::getline(lines, line);) {
        std::smatch match;
        if (std::regex_search(line, match, kInclude)) {
            found.push_back(match[1]);
        }
    }
    return found;
}

// Top to bottom: a folder includes only what stands below it.
const std::vector<std::string> kFolders = {"project", "bundle", "emit", "scatter", "motion", "inspect",
                                           "bake",    "source", "image", "mesh", "code", "base"};

const std::vector<std::string> kAppFolders = {"window", "benches", "stage",   "dial",
                                              "charts", "look",    "session", "jobs"};

int rank(const std::vector<std::string>& folders, const std::string& folder) {
    const auto found = std::find(folders.begin(), folders.end(), folder);
    return found == folders.end() ? -1 : static_cast<int>(found - folders.begin());
}

/// Checks the includes of all below `root`, whose folders are `folders` from top to bottom; `prefix` is what
/// includes of them begin with. How many were looked at.
std::size_t looksOnlyDown(const char* root, const std::string& prefix,
                          const std::vector<std::string>& folders) {
    std::size_t seen = 0;
    for (const auto& file : sourcesIn(root)) {
        const auto below = file.lexically_relative(kRoot / root);
        const int own = rank(folders, below.begin()->string());
        if (own < 0 && std::distance(below.begin(), below.end()) == 1) {
            continue; // main()
        }
        if (own < 0) {
            qWarning("%s is in no folder of the house", file.c_str());
            return 0;
        }
        for (const std::string& include : includesOf(file)) {
            if (include.rfind(prefix, 0) != 0) {
                continue;
            }
            const std::string rest = include.substr(prefix.size());
            const int other = rank(folders, rest.substr(0, rest.find('/')));
            if (other >= 0) {
                ++seen;
                if (other < own) {
                    qWarning("%s includes %s", file.c_str(), include.c_str());
                    return 0;
                }
            }
        }
    }
    return seen;
}

} // namespace

class TestHouse : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void foldersIncludeOnlyWhatStandsBelow() {
        QVERIFY(looksOnlyDown("core", "", kFolders) > 100);
        QVERIFY(looksOnlyDown("app", "app/", kAppFolders) > 100);
    }
    void coreKnowsNoScreen() {
        static const std::regex kScreen("^(Q[A-Z].*|Qt.*|GL/.*|EGL/.*|epoxy/.*|app/.*|cli/.*|demo/.*)");
        for (const auto& file : sourcesIn("core")) {
            for (const std::string& include : includesOf(file)) {
                QVERIFY2(!std::regex_match(include, kScreen),
                         qPrintable(QString("%1 includes %2").arg(file.c_str(), include.c_str())));
            }
        }
    }
    void benchesDoNotKnowEachOther() {
        const std::vector<std::string> benches = {"gather", "bake", "move", "scatter", "ship"};
        for (const auto& file : sourcesIn("app/benches")) {
            const std::string own = file.parent_path().filename().string();
            if (own == "benches") {
                continue; // the table
            }
            for (const std::string& include : includesOf(file)) {
                for (const std::string& other : benches) {
                    QVERIFY2(other == own || include.find("benches/" + other + "/") == std::string::npos,
                             file.c_str());
                }
            }
        }
    }
    void filesKeepToOneSubject() {
        for (const char* folder : {"core", "app", "cli", "demo"}) {
            for (const auto& file : sourcesIn(folder)) {
                const base::Bytes bytes = base::readFile(file);
                const auto lines = std::count(bytes.begin(), bytes.end(), std::byte{'\n'});
                QVERIFY2(lines <= 400, qPrintable(QString("%1 has %2 lines").arg(file.c_str()).arg(lines)));
            }
        }
    }
    void numbersDoNotFollowTheLocale() {
        // What these read and write depends on the locale that the window sets.
        static const std::regex kLocale("\\b(snprintf|sprintf|strtod|strtof|atof|stod|stof)\\b");
        for (const char* folder : {"core", "cli", "demo"}) {
            for (const auto& file : sourcesIn(folder)) {
                const std::string text(base::asText(base::readFile(file)));
                QVERIFY2(!std::regex_search(text, kLocale), file.c_str());
            }
        }
    }
    void noProgramSharesTheGltfLibrary() {
        // The import library loads a library that holds another build of the one that reads glTF, under the same names:
        // a program that loads or shows a second one has calls into one that end in the other (gltf_library.h).
        const QString programs = QFileInfo(RIPPLE_COMMAND).path();
        const auto answer = [](const QString& program, const QStringList& words) {
            QProcess process;
            process.start(program, words);
            return process.waitForFinished(60000) ? QString(process.readAllStandardOutput()) : QString();
        };
        for (const char* program : {"ripple", "ripple-import", "curly-ripple", "ripple-test",
                                    "ripple-test-window", "ripple-bench", "ripple-bench-window"}) {
            const QString file = programs + "/" + program;
            const QString loaded = answer("ldd", {file});
            QVERIFY2(loaded.contains("libstdc++"), program);
            QVERIFY2(!loaded.contains("libtinygltf"), program);
            const QString names = answer("nm", {"-D", file});
            QVERIFY2(names.contains("GLIBC"), program);
            QVERIFY2(!names.contains("tinygltf"), program);
        }
    }
    void whatThePagesLinkToExists() {
        std::vector<std::filesystem::path> pages = {kRoot / "README.md", kRoot / "CONTRIBUTING.md"};
        for (const auto& entry : std::filesystem::directory_iterator(kRoot / "docs")) {
            if (entry.path().extension() == ".md") {
                pages.push_back(entry.path());
            }
        }
        static const std::regex kLink("\\]\\(([^)#:]+)\\)");
        std::set<std::filesystem::path> linked;
        for (const auto& page : pages) {
            const std::string text(base::asText(base::readFile(page)));
            for (std::sregex_iterator it(text.begin(), text.end(), kLink), end; it != end; ++it) {
                const auto to = (page.parent_path() / (*it)[1].str()).lexically_normal();
                QVERIFY2(std::filesystem::exists(to), (page.string() + ": " + to.string()).c_str());
                linked.insert(to);
            }
        }
        // No picture and no page is left that a reader does not find.
        for (const char* folder : {"docs", "docs/screenshots"}) {
            for (const auto& entry : std::filesystem::directory_iterator(kRoot / folder)) {
                const auto extension = entry.path().extension();
                QVERIFY2((extension != ".md" && extension != ".png") || linked.count(entry.path()),
                         entry.path().c_str());
            }
        }
    }
};

static const ripple::tests::SuiteOf<TestHouse> kSuite;
#include "test_house.moc"
