// Scene files through the import library, adjusted sources, and the glTF extensions that are read.

#include "bake/bake.h"
#include "base/files.h"
#include "base/progress.h"
#include "gltf_fixture.h"
#include "inspect/survey.h"
#include "problem_of.h"
#include "project/fixes.h"
#include "source/open.h"

#include <QTemporaryDir>
#include <QTest>

#include <cmath>

#include <assimp/Importer.hpp>
#include <assimp/scene.h>
#include <glm/geometric.hpp>
#include <glm/gtc/quaternion.hpp>
#include <glm/mat4x4.hpp>
#include <meshoptimizer.h>

using namespace ripple;
using tests::says;

namespace {

const std::filesystem::path kModels = MODELS_FOLDER;

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

} // namespace

class TestSceneFiles : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;
    std::filesystem::path folder() const { return dir_.path().toStdString(); }

private Q_SLOTS:
    void skinsAgreeWithDoublePrecision_data() {
        QTest::addColumn<QString>("file");
        QTest::newRow("fbx") << "FBX/huesitos.fbx";
        QTest::newRow("x") << "X/Testwuson.X";
        QTest::newRow("dae") << "Collada/box_nested_animation.dae";
    }
    void skinsAgreeWithDoublePrecision() {
        QFETCH(QString, file);
        const std::filesystem::path path = kModels / file.toStdString();
        const auto source = source::open(path);
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
    void everyAnimatedModelOpensPlaysAndBakes() {
        std::size_t animated = 0;
        for (const char* kind : {"FBX", "Collada", "X", "B3D", "MD5", "SMD", "MS3D", "glTF2", "BVH", "MD2",
                                 "MDL", "IQM", "LWS", "ASE"}) {
            for (const auto& entry : std::filesystem::recursive_directory_iterator(kModels / kind)) {
                Assimp::Importer importer;
                const std::string extension = base::extensionOf(entry.path());
                if (!entry.is_regular_file() || !importer.IsExtensionSupported(extension) ||
                    extension == ".json") {
                    continue;
                }
                const aiScene* scene = importer.ReadFile(entry.path().string(), 0);
                if (!scene || scene->mNumAnimations == 0 || scene->mNumMeshes == 0) {
                    continue;
                }
                std::shared_ptr<const source::FrameSource> source;
                const base::Problem problem = tests::problemOf([&] { source = source::open(entry.path()); });
                if (!source) {
                    // What the library reads and glTF 2.0 forbids is a problem in words.
                    QVERIFY2(extension == ".gltf" || extension == ".glb",
                             (entry.path().string() + ": " + problem.line()).c_str());
                    QVERIFY(says(problem));
                    continue;
                }
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
    void unitsComeFromTheFile() {
        const auto source = source::open(kModels / "FBX/huesitos.fbx");
        QVERIFY(source->space().stated);
        QCOMPARE(source->space().metresPerUnit, 0.01);
        source::Reading metres;
        metres.metresPerUnit = 1.0;
        const auto large = source::open(kModels / "FBX/huesitos.fbx", metres);
        QVERIFY(glm::distance(large->mesh().positions[3], 100.0f * source->mesh().positions[3]) < 1e-2f);
    }
    void absentAndDamagedScenesAreProblems() {
        QVERIFY(
            says(tests::problemOf([&] { source::open(folder() / "none.fbx"); }), "none.fbx", "no such file"));
        base::writeFile(folder() / "bad.dae", "<COLLADA><asset>");
        QVERIFY(
            says(tests::problemOf([&] { source::open(folder() / "bad.dae"); }), "bad.dae", "can't be read"));
        QVERIFY(says(tests::problemOf([&] { source::open(folder() / "odd.xyzzy"); }), ".xyzzy", ".glb"));
    }
    void ownTimeUpAxisAndMeshes() {
        tests::GltfFixture f;
        const int position = f.floats(tests::GltfFixture::triangle(), "VEC3", 3);
        f.mesh({{"POSITION", position}});
        f.node({{"mesh", 0}, {"name", "left"}});
        f.node({{"mesh", 0}, {"name", "right"}, {"translation", {0, 0, 5}}});
        f.node({{"mesh", 0}, {"name", "third"}});
        f.root["meshes"][0].erase("name");
        f.root["scenes"][0]["nodes"] = {0, 1, 2};
        f.channel(0, "translation", f.floats({0, 2}, "SCALAR", 1), f.floats({0, 0, 0, 8, 0, 0}, "VEC3", 3),
                  "LINEAR");
        const auto file = f.write(folder(), "time");
        source::Reading reading;
        reading.meshes = {"left", "third"};
        reading.time.speed = 2.0;
        reading.time.reversed = true;
        reading.up = source::Axis::z;
        const auto source = source::open(file, reading);
        QCOMPARE(source->mesh().vertexCount(), std::size_t(6));
        QVERIFY(!source->meshes()[1].included);
        QCOMPARE(source->clips()[0].duration, 1.0);
        std::vector<glm::vec3> p(6);
        std::vector<glm::vec3> n(6);
        source->sample(0, 0.25, p, n); // a quarter of one second backward: at 1.5 of 2 s
        QCOMPARE(p[0], glm::vec3(6, 0, 0));
        QVERIFY(glm::distance(p[2], glm::vec3(6, 0, -1)) < 1e-6f); // (6, 1, 0) with +Z up
        QVERIFY(says(tests::problemOf([&] {
                         source::open(file, source::Reading{.meshes = {"left", "gone"}});
                     }),
                     "gone", "left"));
    }
    void sequencesHaveARangeAndARate() {
        for (int i = 0; i < 6; ++i) {
            base::writeFile(folder() / ("r_" + std::to_string(i) + ".obj"),
                            "v " + std::to_string(i) + " 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
        }
        source::Reading reading;
        reading.time = {10.0, source::FrameRange{1, 4}, 2.0, false};
        const auto source = source::open(folder() / "r_#.obj", reading);
        QCOMPARE(source->clips()[0].frames, std::size_t(4));
        QCOMPARE(source->storedFrames(), std::size_t(6));
        QCOMPARE(source->clips()[0].fps, 20.0);
        QVERIFY(source->clips()[0].rateKnown);
        std::vector<glm::vec3> p(3);
        std::vector<glm::vec3> n(3);
        source->sample(0, 0.1, p, n); // two frames in
        QCOMPARE(p[0], glm::vec3(3, 0, 0));
        reading.time.range->last = 6;
        QVERIFY(says(tests::problemOf([&] { source::open(folder() / "r_#.obj", reading); }), "1 to 6",
                     "6 frames"));
    }
    void framesBeyondTheCacheAreReadAgain() {
        for (int i = 0; i < 6; ++i) {
            base::writeFile(folder() / ("r_" + std::to_string(i) + ".obj"),
                            "v " + std::to_string(i) + " 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
        }
        const auto source = source::open(folder() / "r_#.obj", {}, {}, 2 * 3 * sizeof(glm::vec3));
        std::vector<glm::vec3> p(3);
        std::vector<glm::vec3> n(3);
        for (const int frame : {5, 4, 3, 5}) { // 5 gives way to 3
            source->sample(0, frame / 30.0, p, n);
            QCOMPARE(p[0].x, static_cast<float>(frame));
        }
        std::filesystem::remove(folder() / "r_3.obj");
        QVERIFY(says(tests::problemOf([&] {
                         source->sample(0, 0.0, p, n);
                         source->sample(0, 1.0 / 30.0, p, n);
                         source->sample(0, 3.0 / 30.0, p, n);
                     }),
                     "r_3.obj"));
    }
    void changesOnDiskAreDescribed() {
        const auto sequence = [&](int frames, const char* extra) {
            for (int i = 0; i < frames; ++i) {
                base::writeFile(folder() / ("c_" + std::to_string(i) + ".obj"),
                                "v 0 0 " + std::to_string(i) + "\nv 1 0 0\nv 0 1 0\n" + extra + "f 1 2 3\n");
            }
            return source::open(folder() / "c_0.obj");
        };
        const auto before = sequence(4, "");
        const auto after = sequence(6, "v 1 1 0\n");
        const std::vector<std::string> lines = project::describeChange(*before, *after);
        QCOMPARE(lines, (std::vector<std::string>{"4 vertices, were 3", "6 frames, were 4"}));
        QVERIFY(project::describeChange(*before, *before).empty());
        project::Document document;
        document.recipe.clips = {{"whole sequence", bake::FrameWindow{2, 9}, {}}, {"gone", std::nullopt, {}}};
        QCOMPARE(project::dropStaleChoices(document, *after).size(), std::size_t(2));
        QCOMPARE(document.recipe.clips.size(), std::size_t(1));
        QVERIFY(!document.recipe.clips[0].window);
    }
    void compressedBuffersAreUnpacked() {
        // A fan of triangles, packed as vertex and index streams.
        std::vector<float> positions;
        std::vector<std::uint32_t> indices;
        for (int i = 0; i < 40; ++i) {
            positions.insert(positions.end(), {std::cos(0.1f * i), std::sin(0.1f * i), 0.01f * i});
        }
        for (std::uint32_t i = 2; i < 40; ++i) {
            indices.insert(indices.end(), {0, i - 1, i});
        }
        std::vector<unsigned char> vertices(meshopt_encodeVertexBufferBound(40, 12));
        vertices.resize(
            meshopt_encodeVertexBuffer(vertices.data(), vertices.size(), positions.data(), 40, 12));
        std::vector<unsigned char> faces(meshopt_encodeIndexBufferBound(indices.size(), 40));
        faces.resize(meshopt_encodeIndexBuffer(faces.data(), faces.size(), indices.data(), indices.size()));
        tests::GltfFixture f;
        const auto packed = [&](const std::vector<unsigned char>& bytes, std::size_t count,
                                std::size_t stride, const char* mode) {
            const int view = f.view(bytes);
            auto& json = f.root["bufferViews"][static_cast<std::size_t>(view)];
            json["extensions"] = {{"EXT_meshopt_compression",
                                   {{"buffer", 0},
                                    {"byteOffset", json["byteOffset"]},
                                    {"byteLength", bytes.size()},
                                    {"byteStride", stride},
                                    {"count", count},
                                    {"mode", mode}}}};
            json["buffer"] = 1; // the fallback, which holds nothing
            json["byteLength"] = count * stride;
            json["byteOffset"] = 0;
            return view;
        };
        const int vertexView = packed(vertices, 40, 12, "ATTRIBUTES");
        const int indexView = packed(faces, indices.size(), 4, "TRIANGLES");
        f.mesh({{"POSITION", f.accessor(vertexView, tests::GltfFixture::kFloat, "VEC3", 40)}},
               f.accessor(indexView, tests::GltfFixture::kUint, "SCALAR", indices.size()));
        f.node({{"mesh", 0}});
        f.root["extensionsRequired"] = {"EXT_meshopt_compression"};
        const auto withFallback = [&](const std::string& name) {
            f.root["buffers"] = {
                {{"uri", name + ".bin"}, {"byteLength", f.bin.size()}},
                {{"byteLength", 4096}, {"extensions", {{"EXT_meshopt_compression", {{"fallback", true}}}}}}};
            base::writeFile(folder() / (name + ".bin"), f.bin);
            base::writeFile(folder() / (name + ".gltf"), f.root.dump());
            return folder() / (name + ".gltf");
        };
        const auto source = source::open(withFallback("packed"));
        QCOMPARE(source->mesh().triangleCount(), indices.size() / 3);
        for (std::size_t v = 0; v < 40; ++v) {
            QCOMPARE(source->mesh().positions[v],
                     glm::vec3(positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]));
        }
        auto& extension = f.root["bufferViews"][0]["extensions"]["EXT_meshopt_compression"];
        extension["count"] = 400000000;
        QVERIFY(says(tests::problemOf([&] { source::open(withFallback("huge")); }), "buffer view 0",
                     "400000000"));
        extension["count"] = 40;
        extension["byteLength"] = 9999999;
        QVERIFY(says(tests::problemOf([&] { source::open(withFallback("long")); }), "reaches past"));
        extension["byteLength"] = vertices.size() / 2;
        QVERIFY(says(tests::problemOf([&] { source::open(withFallback("cut")); }), "can't be unpacked"));
    }
    void quantizedMeshesAndTextureTransforms() {
        tests::GltfFixture f;
        const int position =
            f.accessor(f.view(std::vector<std::int16_t>{0, 0, 0, 0, 32767, 0, 0, 0, 0, -32767, 0, 0}, 8),
                       5122, "VEC3", 3, 0, true);
        const int uv = f.floats({0, 0, 1, 0, 0, 1}, "VEC2", 2);
        f.mesh({{"POSITION", position}, {"TEXCOORD_0", uv}, {"TEXCOORD_1", uv}});
        f.root["meshes"][0]["primitives"][0]["material"] = 0;
        f.node({{"mesh", 0}, {"scale", {2, 2, 2}}});
        f.root["extensionsRequired"] = {"KHR_mesh_quantization", "KHR_texture_transform"};
        f.root["materials"] = {
            {{"pbrMetallicRoughness",
              {{"baseColorTexture",
                {{"index", 0},
                 {"extensions",
                  {{"KHR_texture_transform",
                    {{"offset", {0.25, 0.5}}, {"rotation", 1.5}, {"scale", {2, 3}}, {"texCoord", 1}}}}}}}}}}};
        f.root["textures"] = {{{"source", 0}}};
        f.root["images"] = {{{"uri", "none.png"}}};
        const auto source = source::open(f.write(folder(), "quantized"));
        QCOMPARE(source->mesh().positions[1], glm::vec3(2, 0, 0));
        QCOMPARE(source->mesh().positions[2], glm::vec3(0, -2, 0));
        const mesh::Material& material = source->mesh().materials[0];
        QCOMPARE(material.baseColourUvSet, std::size_t(1));
        QVERIFY((material.baseColourTransform == mesh::UvTransform{{0.25f, 0.5f}, 1.5f, {2, 3}}));
        f.root["extensionsRequired"] = {"KHR_draco_mesh_compression"};
        QVERIFY(says(tests::problemOf([&] { source::open(f.write(folder(), "required")); }),
                     "KHR_draco_mesh_compression", "not read"));
    }
    void morphTargetsHaveNames() {
        tests::GltfFixture f;
        f.mesh({{"POSITION", f.floats(tests::GltfFixture::triangle(), "VEC3", 3)}});
        f.root["meshes"][0]["primitives"][0]["targets"] = {
            {{"POSITION", f.floats({0, 0, 1, 0, 0, 1, 0, 0, 1}, "VEC3", 3)}}};
        f.root["meshes"][0]["extras"] = {{"targetNames", {"squeezed"}}};
        f.node({{"mesh", 0}});
        QCOMPARE(source::open(f.write(folder(), "named"))->morphs(), std::vector<std::string>{"squeezed"});
    }
};

QTEST_GUILESS_MAIN(TestSceneFiles)
#include "test_scene_files.moc"
