// Scene files through the import library, adjusted sources, and the glTF extensions that are read.

#include "bake/bake.h"
#include "base/files.h"
#include "base/progress.h"
#include "gltf_fixture.h"
#include "inspect/survey.h"
#include "problem_of.h"
#include "project/fixes.h"
#include "source/open.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <cmath>

#include <glm/geometric.hpp>
#include <glm/gtc/quaternion.hpp>
#include <glm/mat4x4.hpp>
#include <meshoptimizer.h>

using namespace ripple;
using tests::says;

namespace {

const std::filesystem::path kModels = MODELS_FOLDER;

} // namespace

class TestSceneFiles : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;
    std::filesystem::path folder() const { return dir_.path().toStdString(); }

private Q_SLOTS:
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

static const ripple::tests::SuiteOf<TestSceneFiles> kSuite;
#include "test_scene_files.moc"
