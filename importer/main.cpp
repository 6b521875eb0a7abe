// The import program: reads one scene file through the import library, which may fail in any way on a damaged
// one, and hands the scene to the program that started it (source/imported_scene.h). Not for people to call.

#include "base/child_program.h"
#include "base/problem.h"
#include "base/units.h"
#include "importer/confine.h"
#include "importer/read.h"
#include "source/open.h"

#include <cstdlib>
#include <new>

#include <assimp/Importer.hpp>
#include <malloc.h>
#include <unistd.h>

namespace {

using namespace ripple;

constexpr int kAnswer = base::ChildProgram::kAnswerFile;

/// Ends without tidying up: the library's memory need not be given back piece by piece, and in whatever state
/// a damaged file left it, it can't harm any more.
[[noreturn]] void end(int status) {
    if (status == 0) {
        base::ChildProgram::sayAnswered();
    }
    ::_exit(status);
}

} // namespace

int main(int argc, char** argv) {
    if (argc < 4) {
        return 2;
    }
    const importer::Limits limits{std::strtoull(argv[1], nullptr, 10), std::strtoull(argv[2], nullptr, 10)};
    const std::filesystem::path file = argv[3];
    const std::vector<std::string> wanted(argv + 4, argv + argc);
    // What one array gives back the next takes: this process is short, and every new page costs.
    ::mallopt(M_MMAP_THRESHOLD, 1 << 30);
    ::mallopt(M_TRIM_THRESHOLD, 1 << 30);
    ::mallopt(M_TOP_PAD, 1 << 26);
    ::close_range(base::ChildProgram::kAnsweredPipe + 1, ~0u, 0);
    importer::confine(limits, file);
    base::Problem problem{file.filename().string(), "can't be read: the import library broke off",
                          "the file is likely damaged; export it again, or as .glb"};
    try {
        // Never taken apart: that takes a good part of the time that reading does.
        auto* library = new Assimp::Importer;
        const source::ImportedScene scene = importer::readScene(*library, file, wanted);
        source::sendScene(kAnswer, scene);
        end(0);
    } catch (const base::Failure& failure) {
        problem = failure.problem();
    } catch (const std::bad_alloc&) {
        problem = {file.filename().string(),
                   "needs more memory to read than the " + base::sizeText(limits.memoryBytes) +
                       " it may take",
                   source::kMoreMemoryFix};
    } catch (...) {
        // The library's own words stay here.
    }
    try {
        if (::ftruncate(kAnswer, 0) == 0 && ::lseek(kAnswer, 0, SEEK_SET) == 0) {
            source::sendProblem(kAnswer, problem);
            end(0);
        }
    } catch (...) {
    }
    end(1);
}
