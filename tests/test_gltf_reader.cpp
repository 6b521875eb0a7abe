#include "gltf_fixture.h"
#include "problem_of.h"
#include "source/open.h"
#include "small_png.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <ctime>

#include <cmath>

#include <glm/geometric.hpp>

using namespace ripple;
using tests::GltfFixture;

namespace {

struct Pose {
    std::vector<glm::vec3> positions;
    std::vector<glm::vec3> normals;
};

Pose poseAt(const source::FrameSource& source, double seconds) {
    Pose pose{std::vector<glm::vec3>(source.mesh().vertexCount()),
              std::vector<glm::vec3>(source.mesh().vertexCount())};
    source.sample(0, seconds, pose.positions, pose.normals);
    return pose;
}

bool near(const glm::vec3& a, const glm::vec3& b) {
    return glm::distance(a, b) < 1e-5f;
}

/// A triangle whose third corner follows a second joint half.
GltfFixture skinned() {
    GltfFixture f;
    const int position = f.floats(GltfFixture::triangle(), "VEC3", 3);
    const int joints = f.shorts({0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0}, "VEC4", 4);
    const int weights = f.floats({1, 0, 0, 0, 1, 0, 0, 0, 0.5f, 0.5f, 0, 0}, "VEC4", 4);
    f.mesh({{"POSITION", position}, {"JOINTS_0", joints}, {"WEIGHTS_0", weights}});
    f.node({{"mesh", 0}, {"skin", 0}, {"translation", {50, 0, 0}}}); // ignored: joints place a skinned mesh
    f.node({{"name", "hip"}, {"children", {2}}});
    f.node({{"name", "tip"}, {"translation", {0, 1, 0}}});
    f.root["scenes"][0]["nodes"] = {0, 1};
    const int inverse = f.floats({1,      0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0,  0, 1,
                                  /**/ 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, -1, 0, 1},
                                 "MAT4", 16);
    f.root["skins"] = {{{"joints", {1, 2}}, {"inverseBindMatrices", inverse}}};
    f.channel(2, "translation", f.floats({0, 1}, "SCALAR", 1), f.floats({0, 1, 0, 4, 1, 0}, "VEC3", 3),
              "LINEAR");
    return f;
}

} // namespace

class TestGltfReader : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;
    std::filesystem::path folder() const { return dir_.path().toStdString(); }

    base::Problem problemWith(GltfFixture f, const char* name) {
        return tests::problemOf([&] { source::open(f.write(folder(), name)); });
    }
    static GltfFixture plain() {
        GltfFixture f;
        f.mesh({{"POSITION", f.floats(GltfFixture::triangle(), "VEC3", 3)}});
        f.node({{"mesh", 0}});
        return f;
    }

private Q_SLOTS:
    void skinFollowsItsJoints() {
        for (const bool glb : {false, true}) {
            GltfFixture f = skinned();
            const auto source =
                source::open(glb ? f.writeGlb(folder(), "skinned") : f.write(folder(), "skinned"));
            QCOMPARE(source->clips()[0].name, std::string("move"));
            QCOMPARE(source->clips()[0].duration, 1.0);
            QVERIFY(near(source->mesh().positions[2], {0, 1, 0}));
            const Pose pose = poseAt(*source, 0.5); // the tip has gone 2 m to the right; half of it counts
            QVERIFY(near(pose.positions[0], {0, 0, 0}));
            QVERIFY(near(pose.positions[2], {1, 1, 0}));
            QCOMPARE(source->joints(), (std::vector<std::string>{"hip", "tip"}));
        }
    }
    void eightInfluences() {
        GltfFixture f = skinned();
        // The other half of the third corner's weight sits in the second set.
        auto& attributes = f.root["meshes"][0]["primitives"][0]["attributes"];
        attributes["WEIGHTS_0"] = f.floats({1, 0, 0, 0, 1, 0, 0, 0, 0.25f, 0.25f, 0, 0}, "VEC4", 4);
        attributes["JOINTS_1"] = f.shorts({0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0}, "VEC4", 4);
        attributes["WEIGHTS_1"] = f.floats({0, 0, 0, 0, 0, 0, 0, 0, 0.5f, 0, 0, 0}, "VEC4", 4);
        const auto source = source::open(f.write(folder(), "eight"));
        QVERIFY(near(poseAt(*source, 1.0).positions[2], {3, 1, 0}));
    }
    void weightsThatAreOffAreFound() {
        GltfFixture f = skinned();
        f.root["meshes"][0]["primitives"][0]["attributes"]["WEIGHTS_0"] =
            f.floats({1, 0, 0, 0, 2, 0, 0, 0, 0.4f, 0.4f, 0, 0}, "VEC4", 4);
        const auto source = source::open(f.write(folder(), "off"));
        QVERIFY(tests::has(source->findings(), "weights-off"));
        QVERIFY(near(poseAt(*source, 1.0).positions[2], {2, 1, 0}));
    }
    void nodeTransformsPlaceAndAnimate() {
        GltfFixture f = plain();
        f.root["nodes"][0]["scale"] = {2, 2, 2};
        f.root["nodes"][0]["rotation"] = {0, 0, std::sqrt(0.5), std::sqrt(0.5)};
        f.node({{"children", {0}}, {"translation", {0, 0, 5}}});
        f.root["scenes"][0]["nodes"] = {1};
        f.channel(0, "scale", f.floats({0, 2}, "SCALAR", 1), f.floats({2, 2, 2, 4, 4, 4}, "VEC3", 3), "STEP");
        const auto source = source::open(f.write(folder(), "nodes"));
        QVERIFY(near(source->mesh().positions[1], {0, 2, 5}));
        QVERIFY(near(poseAt(*source, 1.9).positions[1], {0, 2, 5}));
        QVERIFY(near(poseAt(*source, 2.0).positions[1], {0, 4, 5}));
    }
    void severalPrimitivesWithoutNormalsOrIndices() {
        GltfFixture f = plain();
        nlohmann::json second = {
            {"attributes", {{"POSITION", f.floats({0, 0, 1, 0, 1, 1, 0, 0, 2}, "VEC3", 3)}}}};
        f.root["meshes"][0]["primitives"].push_back(second);
        const auto source = source::open(f.write(folder(), "several"));
        QCOMPARE(source->mesh().parts.size(), std::size_t(2));
        QCOMPARE(source->mesh().vertexCount(), std::size_t(6));
        QCOMPARE(source->mesh().indices, (std::vector<std::uint32_t>{0, 1, 2, 3, 4, 5}));
        QVERIFY(near(source->mesh().normals[0], {0, 0, 1}));
        QVERIFY(near(source->mesh().normals[3], {1, 0, 0}));
        QVERIFY(tests::has(source->findings(), "normals-made"));
    }
    void stripsAndFansBecomeTriangles() {
        GltfFixture f;
        const int position = f.floats({0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0}, "VEC3", 3);
        f.mesh({{"POSITION", position}});
        f.node({{"mesh", 0}});
        f.root["meshes"][0]["primitives"][0]["mode"] = 5;
        QCOMPARE(source::open(f.write(folder(), "strip"))->mesh().indices,
                 (std::vector<std::uint32_t>{0, 1, 2, 2, 1, 3}));
        f.root["meshes"][0]["primitives"][0]["mode"] = 6;
        QCOMPARE(source::open(f.write(folder(), "fan"))->mesh().indices,
                 (std::vector<std::uint32_t>{0, 1, 2, 0, 2, 3}));
        f.root["meshes"][0]["primitives"][0]["mode"] = 1;
        QVERIFY(tests::says(problemWith(f, "lines"), "no triangles"));
    }
    void sparseAccessorsReplaceValues() {
        GltfFixture f = plain();
        const int indices = f.view(std::vector<std::uint16_t>{2, 0});
        const int values = f.view(std::vector<float>{7, 8, 9});
        f.root["accessors"][0]["sparse"] = {{"count", 1},
                                            {"indices", {{"bufferView", indices}, {"componentType", 5123}}},
                                            {"values", {{"bufferView", values}}}};
        QVERIFY(near(source::open(f.write(folder(), "sparse"))->mesh().positions[2], {7, 8, 9}));
        // Without a buffer view of its own, an accessor starts from zeros.
        f.root["accessors"][0].erase("bufferView");
        f.root["accessors"][0].erase("byteOffset");
        const auto source = source::open(f.write(folder(), "sparse-zero"));
        QVERIFY(near(source->mesh().positions[1], {0, 0, 0}));
        QVERIFY(near(source->mesh().positions[2], {7, 8, 9}));
    }
    void interleavedAndUnalignedStrides() {
        GltfFixture f;
        const int view =
            f.view(std::vector<float>{0, 0, 0, 0.1f, 0.2f, 1, 0, 0, 0.3f, 0.4f, 0, 1, 0, 0.5f, 0.6f}, 20);
        f.mesh({{"POSITION", f.accessor(view, GltfFixture::kFloat, "VEC3", 3)},
                {"TEXCOORD_0", f.accessor(view, GltfFixture::kFloat, "VEC2", 3, 12)}});
        f.node({{"mesh", 0}});
        const auto source = source::open(f.write(folder(), "interleaved"));
        QCOMPARE(source->mesh().positions[1], glm::vec3(1, 0, 0));
        QCOMPARE(source->mesh().uvSets[0][2], glm::vec2(0.5f, 0.6f));
        // 13 bytes a vertex: not allowed, but written; read with a finding, from .gltf and .glb.
        GltfFixture odd;
        std::vector<std::uint8_t> packed;
        const auto corners = GltfFixture::triangle();
        for (int v = 0; v < 3; ++v) {
            const auto* bytes = reinterpret_cast<const std::uint8_t*>(corners.data() + 3 * v);
            packed.insert(packed.end(), bytes, bytes + 12);
            packed.push_back(0xEE);
        }
        odd.mesh({{"POSITION", odd.accessor(odd.view(packed, 13), GltfFixture::kFloat, "VEC3", 3)}});
        odd.node({{"mesh", 0}});
        for (const auto& file : {odd.write(folder(), "odd"), odd.writeGlb(folder(), "odd")}) {
            const auto read = source::open(file);
            QCOMPARE(read->mesh().positions[2], glm::vec3(0, 1, 0));
            QVERIFY(tests::has(read->findings(), "gltf-stride"));
        }
    }
    void normalisedIntegersAreScaled() {
        GltfFixture f = plain();
        f.root["meshes"][0]["primitives"][0]["attributes"]["TEXCOORD_0"] =
            f.accessor(f.view(std::vector<std::uint16_t>{0, 65535, 32768, 0, 0, 0}), GltfFixture::kUshort,
                       "VEC2", 3, 0, true);
        const auto source = source::open(f.write(folder(), "normalised"));
        QCOMPARE(source->mesh().uvSets[0][0].y, 1.0f);
        QCOMPARE(source->mesh().uvSets[0][1].x, 32768.0f / 65535.0f);
    }
    void morphTargetsAddUp() {
        GltfFixture f = plain();
        f.root["meshes"][0]["primitives"][0]["targets"] = {
            {{"POSITION", f.floats({0, 0, 1, 0, 0, 2, 0, 0, 0}, "VEC3", 3)}}};
        f.root["meshes"][0]["weights"] = {0.5};
        f.channel(0, "weights", f.floats({0, 1}, "SCALAR", 1), f.floats({0, 1}, "SCALAR", 1), "LINEAR");
        const auto source = source::open(f.write(folder(), "morph"));
        QVERIFY(near(source->mesh().positions[1], {1, 0, 1}));
        QVERIFY(near(poseAt(*source, 0.75).positions[1], {1, 0, 1.5f}));
    }
    void repeatedKeyTimesAreReadWithAFinding() {
        GltfFixture f = plain();
        f.channel(0, "translation", f.floats({0, 1, 1, 2}, "SCALAR", 1),
                  f.floats({0, 0, 0, 1, 0, 0, 5, 0, 0, 5, 0, 0}, "VEC3", 3), "LINEAR");
        const auto source = source::open(f.write(folder(), "keys"));
        QVERIFY(tests::has(source->findings(), "gltf-key-times"));
        QVERIFY(near(poseAt(*source, 1.5).positions[0], {5, 0, 0}));
    }
    void oneMeshByName() {
        GltfFixture f = plain();
        f.root["meshes"].push_back(f.root["meshes"][0]);
        f.root["meshes"][1]["name"] = "other";
        f.node({{"mesh", 1}, {"translation", {0, 0, 9}}});
        f.root["scenes"][0]["nodes"] = {0, 1};
        const auto file = f.write(folder(), "two");
        QCOMPARE(source::open(file)->mesh().vertexCount(), std::size_t(6));
        const auto one = source::open(file, source::Reading{.meshes = {"other"}});
        QCOMPARE(one->mesh().vertexCount(), std::size_t(3));
        QVERIFY(near(one->mesh().positions[0], {0, 0, 9}));
        QVERIFY(
            tests::says(tests::problemOf([&] { source::open(file, source::Reading{.meshes = {"none"}}); }),
                        "none", "shape, other"));
    }
    void materialsComeAlong() {
        GltfFixture f = plain();
        f.root["materials"] = {
            {{"name", "leaf"},
             {"alphaMode", "MASK"},
             {"alphaCutoff", 0.3},
             {"doubleSided", true},
             {"pbrMetallicRoughness",
              {{"baseColorFactor", {1, 0.5, 0.25, 1}}, {"baseColorTexture", {{"index", 0}}}}}}};
        f.root["textures"] = {{{"source", 0}}};
        const std::string png = tests::smallPng();
        const int view = f.view(std::vector<std::uint8_t>(png.begin(), png.end()));
        f.root["images"] = {{{"bufferView", view}, {"mimeType", "image/png"}}};
        f.root["meshes"][0]["primitives"][0]["material"] = 0;
        const auto source = source::open(f.write(folder(), "material"));
        const mesh::Material& material = source->mesh().materials[source->mesh().parts[0].material];
        QCOMPARE(material.alphaMode, mesh::AlphaMode::mask);
        QCOMPARE(material.alphaCutoff, 0.3f);
        QVERIFY(material.doubleSided);
        QCOMPARE(material.baseColour.g, 0.5f);
        QVERIFY(material.baseColourImage);
        QCOMPARE(std::string(base::asText(material.baseColourImage->bytes)), png);
    }
    void badFilesAreProblems() {
        using tests::says;
        const auto opening = [&](const char* name, const std::string& content) {
            base::writeFile(folder() / name, content);
            return tests::problemOf([&] { source::open(folder() / name); });
        };
        QVERIFY(says(opening("empty.glb", ""), "empty"));
        QVERIFY(says(opening("empty.gltf", ""), "empty"));
        QVERIFY(says(opening("text.gltf", "{\"asset\": {\"version\": \"2.0\"}, "), "JSON", "byte"));
        QVERIFY(says(opening("old.gltf", "{\"asset\": {\"version\": \"1.0\"}}"), "2.0"));
        QVERIFY(says(opening("other.xyz", "hello"), ".xyz", ".gltf .glb"));

        const base::Bytes whole = base::readFile(skinned().writeGlb(folder(), "whole"));
        for (const std::size_t length :
             {std::size_t(3), std::size_t(11), std::size_t(25), whole.size() / 2, whole.size() - 1}) {
            const std::string cut(base::asText(whole).substr(0, length));
            QVERIFY(says(opening("cut.glb", cut), "cut.glb"));
        }
    }
    void skinsWithoutJointsAreProblems() {
        GltfFixture f = skinned();
        f.root["skins"][0]["joints"] = nlohmann::json::array();
        f.root["skins"][0].erase("inverseBindMatrices");
        f.root["meshes"][0]["primitives"][0]["attributes"]["WEIGHTS_0"] =
            f.floats({0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0}, "VEC4", 4);
        QVERIFY(tests::says(problemWith(f, "jointless"), "skin 0", "joints"));
    }
    void deeplyNestedNodesTakeTimeAsTheirNumber() {
        // Work is counted by the processor's time of this process, of one depth against another in one run.
        bool placed = true;
        const auto seconds = [&](int depth) {
            GltfFixture f = plain();
            f.root["nodes"][0] = {{"mesh", 0}, {"translation", {0, 1, 0}}};
            for (int n = 1; n < depth; ++n) {
                f.node({{"children", {n - 1}}});
            }
            f.root["scenes"][0]["nodes"] = {depth - 1};
            const auto file = f.write(folder(), "nested");
            const std::clock_t begun = std::clock();
            const auto source = source::open(file);
            std::vector<glm::vec3> p(3);
            std::vector<glm::vec3> n(3);
            source->sample(0, 0.0, p, n);
            placed = placed && p[0].y == 1.0f;
            return static_cast<double>(std::clock() - begun) / CLOCKS_PER_SEC;
        };
        const double few = seconds(5000);
        const double many = seconds(40000);
        QVERIFY(placed);
        // Eight times as many: eight times as long, were it quadratic sixty-four times.
        QVERIFY2(many < 30.0 * few, qPrintable(QString("%1 s and %2 s").arg(few).arg(many)));
    }
    void badReferencesAreProblems() {
        using tests::says;
        GltfFixture f = plain();
        f.root["meshes"][0]["primitives"][0]["indices"] = f.shorts({0, 1, 7}, "SCALAR", 1);
        QVERIFY(says(problemWith(f, "index"), "index 2", "vertex 7", "there are 3"));

        f = plain();
        f.root["accessors"][0]["count"] = 4;
        QVERIFY(says(problemWith(f, "count"), "accessor 0", "4 elements"));
        f.root["accessors"][0]["count"] = 4000000000u;
        QVERIFY(says(problemWith(f, "huge"), "accessor 0", "4000000000"));

        f = plain();
        f.bin[0] = f.bin[1] = f.bin[2] = f.bin[3] = std::byte{0xFF}; // a NaN
        QVERIFY(says(problemWith(f, "nan"), "vertex 0", "not a number"));

        f = plain();
        f.root["nodes"][0]["children"] = {1};
        f.node({{"children", {0}}});
        QVERIFY(says(problemWith(f, "cycle"), "circle"));

        f = plain();
        f.root["extensionsRequired"] = {"KHR_draco_mesh_compression"};
        f.root["extensionsUsed"] = {"KHR_draco_mesh_compression"};
        QVERIFY(says(problemWith(f, "extension"), "KHR_draco_mesh_compression"));

        f = skinned();
        f.root["meshes"][0]["primitives"][0]["attributes"]["JOINTS_0"] =
            f.shorts({0, 0, 0, 0, 0, 0, 0, 0, 9, 1, 0, 0}, "VEC4", 4);
        QVERIFY(says(problemWith(f, "joint"), "joint 9", "its skin has 2"));

        f = plain();
        const auto file = f.write(folder(), "alone");
        std::filesystem::remove(folder() / "alone.bin");
        QVERIFY(says(tests::problemOf([&] { source::open(file); }), "alone"));
    }
};

static const ripple::tests::SuiteOf<TestGltfReader> kSuite;
#include "test_gltf_reader.moc"
