// Scene files are read by a program of its own: what becomes of it becomes words, and its answer is not
// believed.

#include "bake/bake.h"
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
#include "suite.h"

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

#include <assimp/Importer.hpp>
#include <assimp/scene.h>
#include <glm/geometric.hpp>
#include <glm/gtc/quaternion.hpp>
#include <glm/mat4x4.hpp>

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

glm::dmat4 toGlm(const aiMatrix4x4& m) {
    glm::dmat4 out(1.0);
    for (unsigned r = 0; r < 4; ++r) {
        for (unsigned c = 0; c < 4; ++c) {
            out[static_cast<int>(c)][static_cast<int>(r)] = static_cast<double>(m[r][c]);
        }
    }
    return out;
}

template <typename Key>
const Key* keyBefore(const Key* keys, unsigned count, double ticks, double& into) {
    unsigned k = 0;
    while (k + 1 < count && keys[k + 1].mTime <= ticks) {
        ++k;
    }
    into = k + 1 < count && ticks > keys[k].mTime
               ? (ticks - keys[k].mTime) / (keys[k + 1].mTime - keys[k].mTime)
               : 0.0;
    return keys + k;
}

/// A node's global transform at a time, straight from the library's scene, in double precision.
glm::dmat4 globalOf(const aiNode* node, const aiAnimation& animation, double ticks) {
    glm::dmat4 local = toGlm(node->mTransformation);
    for (unsigned c = 0; c < animation.mNumChannels; ++c) {
        const aiNodeAnim& channel = *animation.mChannels[c];
        if (channel.mNodeName != node->mName) {
            continue;
        }
        double t = 0.0;
        const auto mixed = [&](const aiVectorKey* keys, unsigned count) {
            const aiVectorKey* key = keyBefore(keys, count, ticks, t);
            const glm::dvec3 a(key->mValue.x, key->mValue.y, key->mValue.z);
            return t > 0.0 ? glm::mix(a, glm::dvec3(key[1].mValue.x, key[1].mValue.y, key[1].mValue.z), t)
                           : a;
        };
        const glm::dvec3 position = mixed(channel.mPositionKeys, channel.mNumPositionKeys);
        const glm::dvec3 scale = mixed(channel.mScalingKeys, channel.mNumScalingKeys);
        const aiQuatKey* key = keyBefore(channel.mRotationKeys, channel.mNumRotationKeys, ticks, t);
        const auto q = [](const aiQuaternion& x) { return glm::normalize(glm::dquat(x.w, x.x, x.y, x.z)); };
        const glm::dquat rotation =
            t > 0.0 ? glm::slerp(q(key->mValue), q(key[1].mValue), t) : q(key->mValue);
        local = glm::mat4_cast(rotation);
        for (int i = 0; i < 3; ++i) {
            local[i] *= scale[i];
        }
        local[3] = glm::dvec4(position, 1.0);
    }
    return node->mParent ? globalOf(node->mParent, animation, ticks) * local : local;
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
    static std::shared_ptr<const source::FrameSource> opened(const fs::path& file,
                                                             const source::Trust& trust = {}) {
        return source::open(file, {}, {}, source::kFrameCacheBytes, trust);
    }
    static base::Problem opening(const fs::path& file, const source::Trust& trust = {}) {
        return tests::problemOf([&] { opened(file, trust); });
    }
    fs::path written(const char* name, std::string_view bytes) const {
        base::writeFile(folder() / name, bytes);
        return folder() / name;
    }

private Q_SLOTS:
    void init() { dir_ = std::make_unique<QTemporaryDir>(); }

    void skinsAgreeWithDoublePrecision_data() {
        QTest::addColumn<QString>("file");
        QTest::newRow("fbx") << "FBX/huesitos.fbx";
        QTest::newRow("x") << "X/Testwuson.X";
        QTest::newRow("dae") << "Collada/box_nested_animation.dae";
    }
    void skinsAgreeWithDoublePrecision() {
        QFETCH(QString, file);
        const fs::path path = kModels / file.toStdString();
        const auto source = opened(path);
        Assimp::Importer importer;
        const aiScene* scene = importer.ReadFile(path.string(), 0);
        QVERIFY(scene && scene->mNumAnimations > 0);
        const aiAnimation& animation = *scene->mAnimations[0];
        const double rate = animation.mTicksPerSecond > 0.0 ? animation.mTicksPerSecond : 25.0;
        const source::Clip& clip = source->clips()[0];
        std::vector<glm::vec3> p(source->mesh().vertexCount());
        std::vector<glm::vec3> n(p.size());
        const double unit = source->space().metresPerUnit;
        const glm::dmat3 turn(source::toYUp(source->space().up));
        for (const double part : {0.0, 0.37, 0.81}) {
            const double seconds = clip.start + part * clip.duration;
            source->sample(0, seconds, p, n);
            // Nodes in the library's order, their meshes in theirs: as the source has its vertices.
            std::size_t at = 0;
            double worst = 0.0;
            double size = 1e-9;
            const std::function<void(const aiNode*)> walk = [&](const aiNode* node) {
                for (unsigned m = 0; m < node->mNumMeshes; ++m) {
                    const aiMesh& mesh = *scene->mMeshes[node->mMeshes[m]];
                    std::vector<glm::dvec3> posed(mesh.mNumVertices, glm::dvec3(0.0));
                    std::vector<double> sum(mesh.mNumVertices, 0.0);
                    const auto vertex = [&](unsigned v) {
                        return glm::dvec4(mesh.mVertices[v].x, mesh.mVertices[v].y, mesh.mVertices[v].z, 1.0);
                    };
                    for (unsigned b = 0; b < mesh.mNumBones; ++b) {
                        const aiBone& bone = *mesh.mBones[b];
                        const aiNode* joint = scene->mRootNode->FindNode(bone.mName);
                        const glm::dmat4 matrix =
                            globalOf(joint, animation, seconds * rate) * toGlm(bone.mOffsetMatrix);
                        for (unsigned w = 0; w < bone.mNumWeights; ++w) {
                            const auto weight = static_cast<double>(bone.mWeights[w].mWeight);
                            const unsigned v = bone.mWeights[w].mVertexId;
                            posed[v] += weight * glm::dvec3(matrix * vertex(v));
                            sum[v] += weight;
                        }
                    }
                    for (unsigned v = 0; v < mesh.mNumVertices; ++v, ++at) {
                        if (!mesh.HasBones()) {
                            posed[v] = glm::dvec3(globalOf(node, animation, seconds * rate) * vertex(v));
                        } else if (sum[v] <= 0.0) {
                            continue; // follows its first joint, and is said to
                        } else {
                            posed[v] /= sum[v];
                        }
                        const glm::dvec3 wanted = turn * posed[v] * unit;
                        size = std::max(size, glm::length(wanted));
                        worst = std::max(worst, glm::distance(wanted, glm::dvec3(p[at])));
                    }
                }
                for (unsigned c = 0; c < node->mNumChildren; ++c) {
                    walk(node->mChildren[c]);
                }
            };
            walk(scene->mRootNode);
            QCOMPARE(at, p.size());
            QVERIFY2(worst < 1e-5 * size, qPrintable(QString::number(worst / size)));
        }
    }
    void everyAnimatedSceneFilePlaysAndBakes() {
        std::size_t animated = 0;
        for (const char* kind : {"FBX", "Collada", "X", "B3D", "MD5", "SMD", "MS3D", "BVH", "MD2",
                                 "MDL", "IQM", "LWS", "ASE"}) {
            for (const auto& entry : fs::recursive_directory_iterator(kModels / kind)) {
                Assimp::Importer importer;
                const std::string extension = base::extensionOf(entry.path());
                if (!entry.is_regular_file() || !importer.IsExtensionSupported(extension)) {
                    continue;
                }
                const aiScene* scene = importer.ReadFile(entry.path().string(), 0);
                if (!scene || scene->mNumAnimations == 0 || scene->mNumMeshes == 0) {
                    continue;
                }
                const auto source = opened(entry.path());
                ++animated;
                bake::Recipe recipe;
                // Long recordings are baked in part: what is to be seen is that they bake.
                recipe.clips = bake::withWindow(
                    *source, recipe, 0,
                    {0, std::min<std::size_t>(11, bake::measureClip(*source, 0, recipe).frames - 1)});
                recipe.clips.resize(1);
                const bake::Baked baked = bake::bake(*source, recipe);
                QVERIFY2(!baked.bounds.empty() && std::isfinite(baked.bounds.diagonal()),
                         entry.path().c_str());
            }
        }
        QVERIFY2(animated >= 25, qPrintable(QString::number(animated)));
    }
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
        QVERIFY(opened(path)->mesh().indices.size() == a.geometry.mesh.indices.size());
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
        QCOMPARE(opened(file, tight)->mesh().triangleCount(), std::size_t(2000000));
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

static const ripple::tests::SuiteOf<TestImport> kSuite;
#include "test_import.moc"
