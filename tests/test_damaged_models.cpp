// Files of other programs with a few bits flipped, of every format that is read: each opens, or is a problem
// in words, within its limits. "./dev fuzz" goes through many more (RIPPLE_DAMAGED, a number of copies).

#include "base/files.h"
#include "base/parallel.h"
#include "problem_of.h"
#include "source/open.h"
#include "spoil.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <atomic>
#include <mutex>

using namespace ripple;

namespace fs = std::filesystem;

namespace {

constexpr std::uintmax_t kLargest = 300000; ///< bytes; larger files only take longer

std::vector<fs::path> models() {
    std::vector<fs::path> files;
    for (const auto& entry : fs::recursive_directory_iterator(MODELS_FOLDER)) {
        const std::string extension = base::extensionOf(entry.path());
        bool known = false;
        for (const source::Reader& reader : source::readers()) {
            known = known || (" " + reader.extensions + " ").find(" " + extension + " ") != std::string::npos;
        }
        if (entry.is_regular_file() && known && !extension.empty() && entry.file_size() <= kLargest) {
            files.push_back(entry.path());
        }
    }
    std::sort(files.begin(), files.end());
    return files;
}

/// Empty if the file opened and played, or was a problem as problems should be; else what was wrong with
/// that.
std::string fault(const fs::path& file) {
    try {
        const auto source = source::open(file);
        std::vector<glm::vec3> positions(source->mesh().vertexCount());
        std::vector<glm::vec3> normals(positions.size());
        for (std::size_t c = 0; c < std::min<std::size_t>(source->clips().size(), 3); ++c) {
            const source::Clip& clip = source->clips()[c];
            source->sample(c, clip.start + 0.4 * clip.duration, positions, normals);
        }
    } catch (const base::Failure& failure) {
        const base::Problem& problem = failure.problem();
        const std::string line = problem.line();
        if (problem.where.empty() || problem.what.empty() || problem.fix.empty()) {
            return "an incomplete problem: " + line;
        }
        if (line.size() > 1500) {
            return "a problem of " + std::to_string(line.size()) + " letters: " + line.substr(0, 300);
        }
        for (const char* word :
             {"std::", "Assertion", "assimp", "exception", "Exception", ".cpp", "tinygltf"}) {
            if ((problem.what + problem.fix).find(word) != std::string::npos) {
                return "a library's own words: " + line;
            }
        }
    } catch (const std::bad_alloc&) {
        // Said as such by whoever shows it.
    } catch (const std::exception& error) {
        return std::string("no problem, but ") + error.what();
    }
    return {};
}

} // namespace

class TestDamagedModels : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void thoseThatAreSaidToBeInvalid() {
        int seen = 0;
        for (const auto& entry : fs::recursive_directory_iterator(fs::path(MODELS_FOLDER) / "invalid")) {
            if (entry.is_regular_file() && entry.path().filename() != "readme.txt") {
                ++seen;
                const std::string found = fault(entry.path());
                QVERIFY2(found.empty(), (entry.path().string() + ": " + found).c_str());
            }
        }
        QVERIFY(seen >= 10);
    }
    void copiesWithFlippedBits() {
        const std::vector<fs::path> files = models();
        QVERIFY(files.size() > 250);
        const std::size_t copies =
            qEnvironmentVariableIntValue("RIPPLE_DAMAGED") > 0
                ? static_cast<std::size_t>(qEnvironmentVariableIntValue("RIPPLE_DAMAGED"))
                : 300;
        QTemporaryDir dir;
        std::mutex mutex;
        QStringList found;
        std::atomic<std::size_t> opened{0};
        base::parallelFor(copies, 1, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end; ++i) {
                std::mt19937 random(static_cast<unsigned>(20261127 + i));
                const fs::path& from = files[random() % files.size()];
                const fs::path own = fs::path(dir.path().toStdString()) / std::to_string(i);
                fs::create_directories(own);
                const fs::path file = own / from.filename();
                base::writeFile(file, tests::flip(base::readFile(from), random));
                const std::string wrong = fault(file);
                ++opened;
                if (!wrong.empty()) {
                    const std::lock_guard lock(mutex);
                    found << QString::fromStdString(from.string() + ", copy " + std::to_string(i) + ": " +
                                                    wrong);
                }
                fs::remove_all(own);
            }
        });
        QCOMPARE(opened.load(), copies);
        QVERIFY2(found.isEmpty(), qPrintable(found.join('\n')));
    }
};

static const ripple::tests::SuiteOf<TestDamagedModels> kSuite;
#include "test_damaged_models.moc"
