// Scene files are read by a program of its own: what becomes of it becomes words, and its answer is not
// believed.

#include "base/child_program.h"
#include "base/files.h"
#include "base/progress.h"
#include "importer/confine.h"
#include "importer/read.h"
#include "problem_of.h"
#include "source/imported_scene.h"
#include "source/open.h"
#include "source/scene_check.h"
#include "source/scene_file.h"
#include "spoil.h"

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <set>
#include <sstream>
#include <thread>

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace ripple;
using tests::says;

namespace fs = std::filesystem;

namespace {

const fs::path kModels = MODELS_FOLDER;

base::Bytes sent(const std::function<void(int)>& send) {
    const int file = ::memfd_create("sent", MFD_CLOEXEC);
    send(file);
    base::Bytes bytes(static_cast<std::size_t>(::lseek(file, 0, SEEK_END)));
    const ssize_t got = ::pread(file, bytes.data(), bytes.size(), 0);
    ::close(file);
    bytes.resize(static_cast<std::size_t>(std::max<ssize_t>(got, 0)));
    return bytes;
}

base::Bytes sentScene(const source::ImportedScene& scene) {
    return sent([&](int file) { source::sendScene(file, scene); });
}

/// Runs `work` in a child that is confined to a file's folder; its exit status.
int confined(const fs::path& file, const std::function<int()>& work) {
    const pid_t child = ::fork();
    if (child == 0) {
        importer::confine({std::size_t{4} << 30, 20}, file);
        ::_exit(work());
    }
    int status = 0;
    ::waitpid(child, &status, 0);
    return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

bool opens(const fs::path& file, int how) {
    const int handle = ::open(file.c_str(), how, 0644);
    if (handle >= 0) {
        ::close(handle);
    }
    return handle >= 0;
}

bool kernelHasLandlock() {
    const base::Bytes list = [] {
        try {
            return base::readFile("/sys/kernel/security/lsm");
        } catch (const base::Failure&) {
            return base::Bytes();
        }
    }();
    return list.empty() || base::asText(list).find("landlock") != std::string_view::npos;
}

} // namespace

class TestImport : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> dir_;
    fs::path folder() const { return dir_->path().toStdString(); }
    static base::Problem opening(const fs::path& file, const source::Trust& trust = {}) {
        return tests::problemOf([&] { source::open(file, {}, {}, source::kFrameCacheBytes, trust); });
    }
    fs::path written(const char* name, std::string_view bytes) const {
        base::writeFile(folder() / name, bytes);
        return folder() / name;
    }

private Q_SLOTS:
    void init() { dir_ = std::make_unique<QTemporaryDir>(); }

    void theListOfExtensionsIsTheLibrarys() {
        std::set<std::string> wanted;
        std::istringstream library(importer::libraryExtensions());
        for (std::string word; std::getline(library, word, ';');) {
            wanted.insert(word.substr(1));
        }
        for (const char* other : {".gltf", ".glb", ".obj", ".ply", ".xml", ".mesh.xml", ".raw"}) {
            wanted.erase(other);
        }
        std::istringstream ours(source::sceneFileExtensions());
        std::set<std::string> listed;
        for (std::string word; ours >> word;) {
            listed.insert(word);
        }
        QVERIFY(listed == wanted);
    }
    void whatComesIsWhatTheLibraryRead_data() {
        QTest::addColumn<QString>("file");
        for (const char* file : {"X/Testwuson.X", "Collada/duck.dae", "FBX/huesitos.fbx", "3DS/fels.3ds",
                                 "MD5/SimpleCube.md5mesh", "STL/Spider_ascii.stl"}) {
            QTest::newRow(file) << file;
        }
    }
    void whatComesIsWhatTheLibraryRead() {
        QFETCH(QString, file);
        const fs::path path = kModels / file.toStdString();
        const source::ImportedScene direct = importer::readScene(path, {});
        QVERIFY(source::isSound(direct));
        const source::ImportedScene got = source::receiveScene(sentScene(direct), "x");
        const source::Scene& a = direct.scene;
        const source::Scene& b = got.scene;
        QVERIFY(a.geometry.mesh.positions == b.geometry.mesh.positions);
        QVERIFY(a.geometry.mesh.normals == b.geometry.mesh.normals);
        QVERIFY(a.geometry.mesh.uvSets == b.geometry.mesh.uvSets);
        QVERIFY(a.geometry.mesh.indices == b.geometry.mesh.indices);
        QCOMPARE(a.nodes.size(), b.nodes.size());
        for (std::size_t n = 0; n < a.nodes.size(); ++n) {
            QCOMPARE(a.nodes[n].name, b.nodes[n].name);
            QCOMPARE(a.nodes[n].parent, b.nodes[n].parent);
            QVERIFY(a.nodes[n].matrix == b.nodes[n].matrix);
        }
        QCOMPARE(a.geometry.parts.size(), b.geometry.parts.size());
        for (std::size_t p = 0; p < a.geometry.parts.size(); ++p) {
            QVERIFY(a.geometry.parts[p].weights.joints == b.geometry.parts[p].weights.joints);
            QVERIFY(a.geometry.parts[p].weights.weights == b.geometry.parts[p].weights.weights);
        }
        QCOMPARE(a.animations.size(), b.animations.size());
        for (std::size_t i = 0; i < a.animations.size(); ++i) {
            QCOMPARE(a.animations[i].channels.size(), b.animations[i].channels.size());
            for (std::size_t c = 0; c < a.animations[i].channels.size(); ++c) {
                QVERIFY(a.animations[i].channels[c].times == b.animations[i].channels[c].times);
                QVERIFY(a.animations[i].channels[c].values == b.animations[i].channels[c].values);
            }
        }
        QCOMPARE(direct.materials.size(), got.materials.size());
        // And through the program, as it is opened.
        QVERIFY(source::open(path)->mesh().indices.size() == a.geometry.mesh.indices.size());
    }
    void spoiltAnswersAreProblemsOrSoundScenes() {
        const base::Bytes whole = sentScene(importer::readScene(kModels / "X/Testwuson.X", {}));
        const base::Bytes small =
            sentScene(importer::readScene(kModels / "Collada/box_nested_animation.dae", {}));
        int refused = 0;
        for (unsigned seed = 0; seed < 1500; ++seed) {
            std::mt19937 random(seed);
            const base::Bytes bytes = tests::spoil(seed % 30 == 0 ? whole : small, random);
            try {
                QVERIFY(source::isSound(source::receiveScene(bytes, "file.x")));
            } catch (const base::Failure& failure) {
                ++refused;
                QVERIFY(says(failure.problem(), "file.x", "no sound scene"));
            }
        }
        QVERIFY(refused > 300);
    }
    void impossibleScenesAreRefused_data() {
        QTest::addColumn<int>("way");
        for (int way = 0; way < 12; ++way) {
            QTest::addRow("way %d", way) << way;
        }
    }
    void impossibleScenesAreRefused() {
        QFETCH(int, way);
        source::ImportedScene scene = importer::readScene(kModels / "X/Testwuson.X", {});
        QVERIFY(source::isSound(scene));
        source::SceneGeometry& geometry = scene.scene.geometry;
        source::ScenePart& part = geometry.parts[0];
        switch (way) {
        case 0:
            geometry.mesh.indices[7] = static_cast<std::uint32_t>(geometry.mesh.vertexCount());
            break;
        case 1:
            scene.scene.nodes[2].parent = 2;
            break;
        case 2:
            part.weights.joints[3] = 999;
            break;
        case 3:
            geometry.skins[0].joints[0] = scene.scene.nodes.size();
            break;
        case 4:
            part.weights.influences = 3;
            break;
        case 5:
            geometry.mesh.positions[5].y = std::numeric_limits<float>::infinity();
            break;
        case 6:
            scene.scene.animations[0].channels[0].values.pop_back();
            break;
        case 7:
            for (source::SceneChannel& channel : scene.scene.animations[0].channels) {
                std::reverse(channel.times.begin(), channel.times.end());
            }
            break;
        case 8:
            geometry.mesh.parts[0].material = scene.materials.size();
            break;
        case 9:
            geometry.mesh.parts[0].vertexCount += 1;
            break;
        case 10:
            geometry.mesh.uvSets[0].pop_back();
            break;
        default:
            part.node = scene.scene.nodes.size();
        }
        QVERIFY(!source::isSound(scene));
        const base::Bytes bytes = sentScene(scene);
        QVERIFY(says(tests::problemOf([&] { source::receiveScene(bytes, "a.x"); }), "a.x", "no sound scene"));
    }
    void problemsComeAsTheyWere() {
        const base::Problem problem{"a.fbx", "is encrypted", "export it again"};
        const base::Bytes bytes = sent([&](int file) { source::sendProblem(file, problem); });
        QVERIFY(tests::problemOf([&] { source::receiveScene(bytes, "a.fbx"); }) == problem);
    }
    void filesThatTakeTheLibraryDownAreProblems() {
        // 25 bytes that say they hold two thousand million corners.
        QVERIFY(says(opening(written("huge.off", "OFF\n2000000000 2000000000 0")), "huge.off"));
        QVERIFY(says(opening(written("none.off", "OFF\n1 1 0\n0 0 0\n4294967295 0")), "none.off"));
        QVERIFY(
            says(opening(written("odd.x", "xof 0303txt 0032\nMesh {\n4000000000;\n1;1;1;;\n}")), "odd.x"));
        QVERIFY(says(opening(written("empty.fbx", "")), "empty.fbx"));
        QVERIFY(says(opening(written("text.blend", "no scene at all")), "text.blend"));
        // And the words are ours: no code, no part of the file.
        for (const char* name : {"huge.off", "none.off", "odd.x", "empty.fbx", "text.blend"}) {
            const std::string line = opening(folder() / name).line();
            for (const char* word : {"assert", "std::", "Exception", "::", "xof", "0x", "no scene at all"}) {
                QVERIFY2(line.find(word) == std::string::npos, line.c_str());
            }
            QVERIFY2(line.find("; export it ") != std::string::npos ||
                         line.find("one that is sound") != std::string::npos,
                     line.c_str());
        }
    }
    void memoryAndTimeHaveTheirLimits() {
#if defined(__SANITIZE_ADDRESS__)
        QSKIP("a checking build takes terabytes of address space");
#endif
        source::Trust tight;
        tight.import.gigabytes = 0.1;
        const fs::path file = written("large.stl", tests::binaryStl(2000000));
        QVERIFY(says(opening(file, tight), "large.stl", "memory", "102 MiB", "--import-memory"));
        tight.import.gigabytes = 4.0;
        tight.import.seconds = 0.02; // on the clock four times that
        const fs::path slow = written("slow.stl", tests::textStl(400000));
        const base::Problem problem = opening(slow, tight);
        QVERIFY(says(problem, "slow.stl", "longer to read than the 0.02", "--import-seconds"));
        tight.import.seconds = 120.0;
        QCOMPARE(source::open(file, {}, {}, source::kFrameCacheBytes, tight)->mesh().triangleCount(),
                 std::size_t(2000000));
    }
    void cancelEndsIt() {
        const fs::path file = written("long.stl", tests::textStl(400000));
        base::Progress progress;
        std::thread later([&] {
            std::this_thread::sleep_for(std::chrono::milliseconds(150));
            progress.cancel();
        });
        QVERIFY_EXCEPTION_THROWN(source::open(file, {}, progress), base::Cancelled);
        later.join();
        // Nobody is left: all children of this process were waited for.
        QCOMPARE(::waitpid(-1, nullptr, WNOHANG), -1);
    }
    void nothingButTheFilesFolderCanBeRead() {
        if (!kernelHasLandlock()) {
            QSKIP("this kernel has no Landlock");
        }
        fs::create_directory(folder() / "model");
        const fs::path file = written("model/a.x", "xof");
        const fs::path beside = written("model/b.png", "png");
        const fs::path outside = written("secret", "secret");
        fs::create_symlink(outside, folder() / "model/link");
        QCOMPARE(confined(file, [&] { return opens(file, O_RDONLY) ? 1 : 0; }), 1);
        QCOMPARE(confined(file, [&] { return opens(beside, O_RDONLY) ? 1 : 0; }), 1);
        QCOMPARE(confined(file, [&] { return opens(outside, O_RDONLY) ? 1 : 0; }), 0);
        QCOMPARE(confined(file, [&] { return opens(folder() / "model/link", O_RDONLY) ? 1 : 0; }), 0);
        QCOMPARE(confined(file, [&] { return opens("/etc/passwd", O_RDONLY) ? 1 : 0; }), 0);
        QCOMPARE(confined(file, [&] { return opens(beside, O_WRONLY) ? 1 : 0; }), 0);
        QCOMPARE(confined(file, [&] { return opens(folder() / "model/new", O_WRONLY | O_CREAT) ? 1 : 0; }),
                 0);
        QCOMPARE(confined(file, [&] { return ::unlink(beside.c_str()) == 0 ? 1 : 0; }), 0);
        // A file that is opened through a link is read, wherever it lies.
        fs::create_symlink(outside, folder() / "model/asked.x");
        const fs::path asked = folder() / "model/asked.x";
        QCOMPARE(confined(asked, [&] { return opens(asked, O_RDONLY) ? 1 : 0; }), 1);
    }
    void programsThatAreMissingAreSaid() {
        QVERIFY(says(tests::problemOf([] { base::programBeside("ripple-nothing"); }), "ripple-nothing",
                     "install"));
        const base::Progress progress;
        QVERIFY(
            says(tests::problemOf([&] { base::ChildProgram child(folder() / "none", {}, 1.0, progress); }),
                 "none", "could not be started"));
    }
    void whatBecomesOfAChildIsKnown() {
        const base::Progress progress;
        using End = base::ChildProgram::End;
        const auto ends = [&](const char* words) {
            return base::ChildProgram("/bin/sh", {"-c", words}, 0.3, progress).end();
        };
        QVERIFY(ends("exit 0") == End::done);
        QVERIFY(ends("exit 7") == End::failed);
        QVERIFY(ends("kill -SEGV $$") == End::crashed);
        QVERIFY(ends("kill -XCPU $$") == End::tooLong);
        QVERIFY(ends("sleep 60") == End::tooLong); // by the clock
        // One that hangs up and lives on is waited for no longer than any.
        QVERIFY(ends("exec 4>&-; sleep 60") == End::tooLong);
        QVERIFY(ends("exec 4>&-; sleep 0.1; exit 7") == End::failed);
        const base::ChildProgram talks("/bin/sh", {"-c", "echo words >&3; echo lost; echo lost >&2"}, 9.0,
                                       progress);
        QCOMPARE(std::string(base::asText(talks.answer())), std::string("words\n"));
    }
};

QTEST_GUILESS_MAIN(TestImport)
#include "test_import.moc"
