#include "source/gltf_library.h"
#include "source/gltf_write.h"
#include "bundle/mesh_file.h"
#include "image/png.h"
#include "mesh/faults.h"
#include "mesh/subdivide.h"
#include "mesh/uv_sets.h"
#include "problem_of.h"
#include "source/open.h"
#include "small_png.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>

#include <glm/geometric.hpp>

using namespace ripple;

namespace {

/// Two parts, two materials, two UV sets, colours.
mesh::Mesh twoParts() {
    mesh::Mesh mesh;
    for (int v = 0; v < 7; ++v) {
        const auto f = static_cast<float>(v);
        mesh.positions.push_back({f, 0.1f * f * f, -f});
        mesh.normals.push_back(glm::normalize(glm::vec3(f, 1, 0)));
        mesh.colours.push_back({0.1f * f, 0.2f, 0.3f, 1.0f});
    }
    mesh.uvSets.resize(2);
    for (int v = 0; v < 7; ++v) {
        mesh.uvSets[0].push_back({0.125f * static_cast<float>(v), 0.5f});
        mesh.uvSets[1].push_back({0.5f, -1.25f * static_cast<float>(v)});
    }
    mesh.indices = {0, 1, 2, /**/ 3, 4, 5, 5, 4, 6};
    mesh.parts = {{"a", 1, 0, 3, 0, 3}, {"b", 0, 3, 4, 3, 6}};
    mesh.materials.resize(2);
    mesh.materials[0].name = "leaf";
    mesh.materials[0].alphaMode = mesh::AlphaMode::mask;
    mesh.materials[0].alphaCutoff = 0.25f;
    mesh.materials[0].doubleSided = true;
    mesh.materials[0].wrapU = mesh::Wrap::clamp;
    auto image = std::make_shared<mesh::EncodedImage>();
    image->name = "leaf.png";
    image->mimeType = "image/png";
    const std::string png = tests::smallPng();
    image->bytes = base::Bytes(base::asBytes(png).begin(), base::asBytes(png).end());
    mesh.materials[0].baseColourImage = image;
    mesh.materials[0].baseColourUvSet = 1;
    mesh.materials[1].baseColour = {1.0f, 0.5f, 0.25f, 1.0f};
    return mesh;
}

} // namespace

class TestGltfWrite : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;
    std::shared_ptr<const source::FrameSource> written(const mesh::Mesh& mesh,
                                                       std::span<const glm::vec2> further) {
        const std::filesystem::path file = std::filesystem::path(dir_.path().toStdString()) / "w.glb";
        base::writeFile(file, source::glbBytes(source::gltfModel(mesh, "thing", further), "w.glb"));
        return source::open(file);
    }

private Q_SLOTS:
    void whereATextureLiesComesBack() {
        mesh::Mesh mesh = twoParts();
        mesh.materials[0].baseColourTransform = {{0.25f, -1.5f}, 0.75f, {2.0f, 0.5f}};
        const auto read = written(mesh, {});
        QVERIFY(read->mesh().materials[0].baseColourTransform == mesh.materials[0].baseColourTransform);
        QVERIFY(read->mesh().materials[1].baseColourTransform == mesh::UvTransform{});
        const tinygltf::Model plain = source::gltfModel(twoParts(), "thing", {});
        QVERIFY(plain.extensionsUsed.empty()); // said only where it is used
        const tinygltf::Model moved = source::gltfModel(mesh, "thing", {});
        QCOMPARE(moved.extensionsUsed, std::vector<std::string>{"KHR_texture_transform"});
    }
    void theLookupTakesTheFirstEmptySet() {
        mesh::Mesh mesh = twoParts();
        const std::vector<glm::vec2> lookup(7, glm::vec2(0.125f, 0.25f));
        mesh.uvSets.insert(mesh.uvSets.begin() + 1, std::vector<glm::vec2>(7, glm::vec2(0.0f)));
        mesh.materials[0].baseColourUvSet = 2;
        const std::filesystem::path file = std::filesystem::path(dir_.path().toStdString()) / "free.glb";
        base::writeFile(file, bundle::encodeMesh(mesh, lookup, mesh::freeUvSet(mesh), {}, "free"));
        const auto read = source::open(file);
        QCOMPARE(read->mesh().uvSets.size(), std::size_t(3));
        QCOMPARE(read->mesh().uvSets[1], lookup);
        QCOMPARE(read->mesh().uvSets[2], mesh.uvSets[2]);
        // With all sets taken it goes behind the last.
        mesh.uvSets[1] = mesh.uvSets[0];
        base::writeFile(file, bundle::encodeMesh(mesh, lookup, mesh::freeUvSet(mesh), {}, "free"));
        QCOMPARE(source::open(file)->mesh().uvSets.at(3), lookup);
    }
    void storedValuesComeBackUnderTheirNames() {
        mesh::Mesh mesh = twoParts();
        mesh.stored = {{"STEM", {0.0f, 0.125f, 0.25f, 0.5f, -1.5f, 3.0f, 1e-6f}},
                       {"AGE", {7.0f, 6.0f, 5.0f, 4.0f, 3.0f, 2.0f, 1.0f}}};
        const mesh::Mesh back = written(mesh, {})->mesh();
        QCOMPARE(back.stored.size(), std::size_t(2));
        for (const mesh::StoredValue& value : mesh.stored) {
            QVERIFY(std::find(back.stored.begin(), back.stored.end(), value) != back.stored.end());
        }
        // A part that lacks one has zeros there.
        tinygltf::Model model = source::gltfModel(mesh, "thing", {});
        model.meshes[0].primitives[0].attributes.erase("_AGE");
        const std::filesystem::path file = std::filesystem::path(dir_.path().toStdString()) / "lack.glb";
        base::writeFile(file, source::glbBytes(model, "lack.glb"));
        const auto lacking = source::open(file);
        for (const mesh::StoredValue& value : lacking->mesh().stored) {
            QCOMPARE(value.values.size(), std::size_t(7));
            QCOMPARE(value.values[1], value.name == "AGE" ? 0.0f : 0.125f);
            QCOMPARE(value.values[5], value.name == "AGE" ? 2.0f : 3.0f);
        }
    }
    void storedValuesComeAlongWhenTheMeshIsMended() {
        mesh::Mesh mesh = twoParts();
        mesh.stored = {{"STEM", {0.0f, 1.0f, 2.0f, 3.0f, 4.0f, 5.0f, 6.0f}}};
        mesh::Midpoints midpoints;
        const mesh::Mesh fine = mesh::subdivide(mesh, midpoints);
        QCOMPARE(fine.stored[0].values.size(), fine.vertexCount());
        for (std::size_t v = 0; v < fine.vertexCount(); ++v) {
            const auto [a, b] = midpoints.parents[v];
            QCOMPARE(fine.stored[0].values[v], 0.5f * static_cast<float>(a + b));
        }
        // Vertices that differ in nothing but a stored value stay two.
        mesh.positions[5] = mesh.positions[4];
        mesh.normals[5] = mesh.normals[4];
        mesh.colours[5] = mesh.colours[4];
        for (auto& set : mesh.uvSets) {
            set[5] = set[4];
        }
        QCOMPARE(mesh::firstAlike(mesh)[5], 5u);
        mesh.stored[0].values[5] = mesh.stored[0].values[4];
        QCOMPARE(mesh::firstAlike(mesh)[5], 4u);
    }
    void everythingComesBackInItsOrder() {
        const mesh::Mesh mesh = twoParts();
        const std::vector<glm::vec2> lookup = {{0.1f, 0}, {0.2f, 0}, {0.3f, 0}, {0.4f, 0},
                                               {0.5f, 0}, {0.6f, 0}, {0.7f, 0}};
        const auto read = written(mesh, lookup);
        const mesh::Mesh& back = read->mesh();
        QCOMPARE(back.positions, mesh.positions);
        QCOMPARE(back.indices, mesh.indices);
        QCOMPARE(back.colours, mesh.colours);
        QCOMPARE(back.uvSets.size(), std::size_t(3));
        QCOMPARE(back.uvSets[0], mesh.uvSets[0]);
        QCOMPARE(back.uvSets[1], mesh.uvSets[1]);
        QCOMPARE(back.uvSets[2], lookup);
        for (std::size_t v = 0; v < 7; ++v) {
            QVERIFY(glm::distance(back.normals[v], mesh.normals[v]) < 1e-6f);
        }
        QCOMPARE(back.parts.size(), std::size_t(2));
        QCOMPARE(back.parts[1].firstVertex, 3u);
        QCOMPARE(back.parts[1].material, std::size_t(0));
        QCOMPARE(read->meshes()[0].name, std::string("thing"));
        QVERIFY(!tests::has(read->findings(), "normals-made"));
    }
    void coloursAreHeldWithinWhatTheFormatHas() {
        mesh::Mesh mesh = twoParts();
        mesh.colours[2] = {-1.0f, 2.0f, 0.5f, 1.5f};
        const std::filesystem::path file = std::filesystem::path(dir_.path().toStdString()) / "colours.glb";
        base::writeFile(file, source::glbBytes(source::gltfModel(mesh, "colours", {}), "colours.glb"));
        QCOMPARE(source::open(file)->mesh().colours[2], glm::vec4(0.0f, 1.0f, 0.5f, 1.0f));
    }
    /// Colour profiles and the like of images are not for glTF's loaders, and its validator warns of them.
    void imagesAreWrittenWithoutProfiles() {
        const base::Bytes plain = twoParts().materials[0].baseColourImage->bytes;
        base::Bytes tagged(plain.begin(), plain.begin() + 33); // signature and header
        const unsigned char gamma[] = {0, 0, 0,    4,    'g',  'A',  'M',  'A',
                                       0, 0, 0xB1, 0x8F, 0x0B, 0xFC, 0x61, 0x05};
        for (const unsigned char byte : gamma) {
            tagged.push_back(std::byte(byte));
        }
        tagged.insert(tagged.end(), plain.begin() + 33, plain.end());
        QVERIFY(tagged.size() == plain.size() + 16);
        QVERIFY(image::pixelsAlone(tagged) == image::pixelsAlone(plain));
        QCOMPARE(image::decodePng(image::pixelsAlone(tagged), "it").data, image::decodePng(plain, "it").data);
        const base::Bytes cut(tagged.begin(), tagged.end() - 3);
        QVERIFY(image::pixelsAlone(cut) == cut); // damaged: as it is
        QVERIFY(image::pixelsAlone({}).empty());
    }
    void materialsComeBack() {
        const auto read = written(twoParts(), {});
        const mesh::Material& leaf = read->mesh().materials[0];
        QCOMPARE(leaf.name, std::string("leaf"));
        QCOMPARE(leaf.alphaMode, mesh::AlphaMode::mask);
        QCOMPARE(leaf.alphaCutoff, 0.25f);
        QVERIFY(leaf.doubleSided);
        QCOMPARE(leaf.wrapU, mesh::Wrap::clamp);
        QCOMPARE(leaf.wrapV, mesh::Wrap::repeat);
        QCOMPARE(leaf.baseColourUvSet, std::size_t(1));
        QVERIFY(leaf.baseColourImage);
        QCOMPARE(std::string(base::asText(leaf.baseColourImage->bytes)), tests::smallPng());
        QCOMPARE(read->mesh().materials[1].baseColour, glm::vec4(1.0f, 0.5f, 0.25f, 1.0f));
        QCOMPARE(read->mesh().uvSets.size(), std::size_t(2)); // no further set was given
    }
    void manyVerticesTakeLongIndices() {
        mesh::Mesh mesh;
        constexpr std::uint32_t kCount = 70000;
        for (std::uint32_t v = 0; v < kCount; ++v) {
            mesh.positions.push_back({static_cast<float>(v), 0, 0});
            mesh.normals.push_back({0, 1, 0});
        }
        mesh.indices = {0, 35000, kCount - 1};
        mesh.parts = {{"long", 0, 0, kCount, 0, 3}};
        mesh.materials.resize(1);
        QCOMPARE(written(mesh, {})->mesh().indices, mesh.indices);
    }
    void theSameMeshGivesTheSameBytes() {
        const auto bytes = [] {
            return source::glbBytes(source::gltfModel(twoParts(), "thing", {}), "w.glb");
        };
        QVERIFY(bytes() == bytes());
    }
};

static const ripple::tests::SuiteOf<TestGltfWrite> kSuite;
#include "test_gltf_write.moc"
