#include "base/files.h"
#include "base/text.h"
#include "bundle/mesh_file.h"
#include "gltf_fixture.h"
#include "inspect/inspection.h"
#include "mesh/uv_sets.h"
#include "problem_of.h"
#include "source/open.h"
#include "small_png.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>

using namespace ripple;
using nlohmann::json;

namespace {

/// A PNG that is told apart by what stands behind its end.
std::string png(const std::string& content) {
    return tests::smallPng(content);
}

/// The JSON of a GLB and the bytes of its images.
struct Glb {
    json root;
    std::string bin;

    explicit Glb(const base::Bytes& bytes) {
        const std::string text(base::asText(bytes));
        const auto number = [&](std::size_t at) {
            std::uint32_t value = 0;
            std::memcpy(&value, text.data() + at, 4);
            return std::size_t{value};
        };
        root = json::parse(text.substr(20, number(12)));
        bin = text.substr(28 + number(12));
    }
    std::string image(int index) const {
        const json& view =
            root["bufferViews"][root["images"][std::size_t(index)]["bufferView"].get<std::size_t>()];
        return bin.substr(view.value("byteOffset", std::size_t{0}), view["byteLength"]);
    }
};

/// A material with its textures written out: what they show and how instead of their index.
json resolved(const json& material, const json& root, const std::function<std::string(int)>& image) {
    if (!material.is_object()) {
        return material;
    }
    json out = json::object();
    for (const auto& [key, value] : material.items()) {
        const bool texture = value.is_object() && value.contains("index");
        out[key] = resolved(value, root, image);
        if (texture) {
            const json& from = root["textures"][value["index"].get<std::size_t>()];
            out[key].erase("index");
            out[key]["shows"] = image(from["source"]);
            if (value.value("texCoord", 0) == 0) {
                out[key].erase("texCoord"); // the default
            }
            out[key]["sampler"] =
                from.contains("sampler") ? root["samplers"][from["sampler"].get<std::size_t>()] : json();
        }
    }
    return out;
}

Glb written(const source::FrameSource& source, std::optional<std::size_t> lookupSet = {}) {
    const mesh::Mesh& mesh = source.mesh();
    const std::vector<glm::vec2> lookup(mesh.vertexCount(), glm::vec2(0.5f));
    return Glb(bundle::encodeMesh(mesh, lookup, lookupSet.value_or(mesh::freeUvSet(mesh)), {}, "asset"));
}

std::vector<inspect::Observation> observed(const source::FrameSource& source,
                                           const source::Reading& reading = {},
                                           const bake::Recipe& recipe = {}) {
    return inspect::inspect({source, reading, recipe, nullptr, "file"}, inspect::meshFacts(source.mesh()));
}

const inspect::Observation* find(const std::vector<inspect::Observation>& all, const std::string& id) {
    const auto found =
        std::find_if(all.begin(), all.end(), [&](const auto& one) { return one.finding.id == id; });
    return found == all.end() ? nullptr : &*found;
}

} // namespace

class TestMaterials : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void initTestCase() { QVERIFY(folder_.isValid()); }

    void whateverAGltfMaterialHasIsPassedOn() {
        tests::GltfFixture f = withTextures();
        const auto file = f.write(folder(), "all");
        const auto source = source::open(file);
        const Glb glb = written(*source);
        // The material that nothing uses is gone, and none is added for the part that names none.
        QCOMPARE(glb.root["materials"].size(), std::size_t(2));
        QVERIFY(!glb.root["meshes"][0]["primitives"][2].contains("material"));
        QCOMPARE(glb.root["meshes"][0]["name"].get<std::string>(), std::string("shape"));
        const auto original = [](int image) { return std::string(image == 0 ? "red" : "blue and longer"); };
        const auto shipped = [&](int image) { return glb.image(image).substr(png("").size()); };
        for (std::size_t m = 0; m < 2; ++m) {
            const std::size_t from = m == 0 ? 0 : 2;
            const json wanted = resolved(f.root["materials"][from], f.root, original);
            const json got = resolved(glb.root["materials"][m], glb.root, shipped);
            QVERIFY2(got == wanted, json::diff(wanted, got).dump().c_str());
            QCOMPARE(glb.root["meshes"][0]["primitives"][m]["material"].get<std::size_t>(), m);
        }
        QCOMPARE(glb.root["images"].size(), std::size_t(2)); // each once, however often it is named
        for (const char* extension : {"KHR_texture_transform", "KHR_materials_clearcoat"}) {
            const json& used = glb.root["extensionsUsed"];
            QVERIFY(std::find(used.begin(), used.end(), extension) != used.end());
        }
        const auto findings = observed(*source);
        QVERIFY(find(findings, "normal-map-tangents"));
        QVERIFY(find(findings, "normal-map-tangents")->finding.problem.fix.find("made from UVs") !=
                std::string::npos);
    }
    void aTextureWithoutAReadableImageIsLeftOut() {
        tests::GltfFixture f = withTextures();
        base::writeFile(folder() / "blue.png", std::string("BM this is a bitmap"));
        const auto source = source::open(f.write(folder(), "part"));
        QVERIFY(tests::has(source->findings(), "texture-missing"));
        const Glb glb = written(*source);
        QVERIFY(!glb.root["materials"][0].contains("normalTexture"));
        QVERIFY(glb.root["materials"][0]["pbrMetallicRoughness"].contains("baseColorTexture"));
        QVERIFY(!glb.root["materials"][0].contains("extensions")); // its texture is what it is about
    }
    void droppedUvSetsAreReadWhereTheyWentTo() {
        // Sets 1 and 2 repeat set 0; the clear coat reads set 2, the base colour set 3.
        tests::GltfFixture f = withTextures();
        const auto file = f.write(folder(), "sets");
        const auto all = source::open(file);
        QCOMPARE(mesh::freeUvSet(all->mesh()), std::size_t(6)); // of six sets none is free
        const auto findings = observed(*all);
        const inspect::Observation* spare = find(findings, "no-free-uv-set");
        QVERIFY(spare && spare->fixes.size() == 2);
        QVERIFY(spare->fixes[0].reading->mending.dropRepeatedUvs);
        source::Reading reading = *spare->fixes[0].reading;
        reading.mending.dropUnreadUvs = spare->fixes[1].reading->mending.dropUnreadUvs;
        const auto fewer = source::open(file, reading);
        const mesh::Mesh& mesh = fewer->mesh();
        QCOMPARE(mesh.uvSets.size(), std::size_t(2)); // 0 and 3; 4 and 5 are read by nothing
        QCOMPARE(mesh.uvSets[1], all->mesh().uvSets[3]);
        QCOMPARE(mesh::freeUvSet(mesh), std::size_t(2));
        const json material = written(*fewer).root["materials"][0];
        const json& base = material["pbrMetallicRoughness"]["baseColorTexture"];
        QCOMPARE(base["texCoord"].get<int>(), 1);
        const json& coat = material["extensions"]["KHR_materials_clearcoat"]["clearcoatTexture"];
        QCOMPARE(coat.value("texCoord", 0), 0);
        QCOMPARE(material["normalTexture"]["extensions"]["KHR_texture_transform"]["texCoord"].get<int>(), 1);
        QVERIFY(!find(observed(*fewer, reading), "no-free-uv-set"));
    }
    void theLookupSetCanBeChosen() {
        tests::GltfFixture f = withTextures();
        const auto source = source::open(f.write(folder(), "chosen"));
        bake::Recipe recipe;
        recipe.lookupUvSet = 3;
        const auto conflict = observed(*source, {}, recipe);
        QVERIFY(find(conflict, "lookup-conflict"));
        QVERIFY(find(conflict, "lookup-conflict")->finding.problem.what.find("gold") != std::string::npos);
        QVERIFY(find(conflict, "lookup-conflict")->fixes[0].lookupByItself);
        recipe.lookupUvSet = 4; // read by nothing
        QVERIFY(!find(observed(*source, {}, recipe), "lookup-conflict"));
        QVERIFY(find(observed(*source, {}, recipe), "lookup-far"));
        const json primitive = written(*source, 1).root["meshes"][0]["primitives"][0];
        QVERIFY(!primitive["attributes"].contains("TEXCOORD_6"));
        // Behind the mesh's own sets those between are there, or importers would renumber them.
        const json far = written(*source, 7).root["meshes"][0]["primitives"][0];
        QVERIFY(far["attributes"].contains("TEXCOORD_6") && far["attributes"].contains("TEXCOORD_7"));
    }
    void mtlFilesSayWhatTheySay() {
        base::writeFile(folder() / "glow.png", png("glow"));
        base::writeFile(folder() / "bumps.png", png("bumps"));
        base::writeFile(folder() / "paint.tga", std::string(40, '\2'));
        base::writeFile(
            folder() / "m.mtl",
            std::string(
                "newmtl grey\nKd 0.8\nd -halo 0.5\nNs 98\n"
                "newmtl lamp\nKd 1 1 1\nKe 2 1 0\nmap_Ke -s 1 2 1 -clamp on glow.png\nnorm bumps.png\n"
                "Pr 0.25\nPm 1\nbump bumps.png\n"
                "newmtl odd\nKd spectral file.rfl 1\nmap_Kd paint.tga\n"));
        base::writeFile(folder() / "m.obj",
                        std::string("mtllib m.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl grey\nf 1 2 "
                                    "3\nusemtl lamp\nf 1 2 3\nusemtl odd\nf 1 2 3\n"));
        const auto source = source::open(folder() / "m.obj");
        const mesh::Mesh& mesh = source->mesh();
        QCOMPARE(mesh.materials[0].baseColour, glm::vec4(0.8f, 0.8f, 0.8f, 0.5f));
        QCOMPARE(mesh.materials[2].baseColour, glm::vec4(1.0f)); // a spectrum is not read, and that is said
        QVERIFY(!mesh.materials[2].baseColourImage);
        QVERIFY(tests::has(source->findings(), "material-part"));
        QVERIFY(tests::has(source->findings(), "texture-missing"));
        const json root = written(*source).root;
        // 2 / (98 + 2) is 0.02, and the fourth root of that 0.376.
        QVERIFY(std::abs(root["materials"][0]["pbrMetallicRoughness"]["roughnessFactor"].get<double>() -
                         0.37606) < 1e-4);
        const json& lamp = root["materials"][1];
        QCOMPARE(lamp["emissiveFactor"][0].get<double>(), 2.0);
        QVERIFY(lamp.contains("emissiveTexture") && lamp.contains("normalTexture"));
        QCOMPARE(lamp["pbrMetallicRoughness"]["roughnessFactor"].get<double>(), 0.25);
        QCOMPARE(lamp["pbrMetallicRoughness"].value("metallicFactor", 1.0), 1.0);
    }
    void namesInOtherEncodingsBecomeReadable() {
        QCOMPARE(base::likelyUtf8("gr\xC3\xBCn"), std::string("grün"));
        QCOMPARE(base::likelyUtf8("gr\xFCn"), std::string("grün"));
        QCOMPARE(base::likelyUtf8("\x80 5"), std::string("€ 5"));
        QCOMPARE(base::likelyUtf8("a\xFF\xC3"), std::string("aÿÃ"));
        base::writeFile(folder() / "n.mtl", std::string("newmtl gr\xFCn\nKd 0 1 0\n"));
        base::writeFile(folder() / "n.obj",
                        std::string("mtllib n.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl gr\xFCn\nf 1 2 3\n"));
        const auto source = source::open(folder() / "n.obj");
        QCOMPARE(source->mesh().materials[0].name, std::string("grün"));
        QCOMPARE(source->mesh().materials[0].baseColour, glm::vec4(0, 1, 0, 1));
        QCOMPARE(written(*source).root["materials"][0]["name"].get<std::string>(), std::string("grün"));
        // A scene file with such names of its mesh, material and clip.
        base::writeFile(
            folder() / "n.x",
            std::string(
                "xof 0303txt 0032\nMaterial bl\xE4u { 1.0; 0.5; 0.25; 1.0;; 0.0; 0.0; 0.0; 0.0;; 0.0; "
                "0.0; 0.0;; }\nFrame k\xF6rper { Mesh k\xF6rper { 3; 0.0; 0.0; 0.0;, 1.0; 0.0; 0.0;, 0.0; "
                "1.0; 0.0;; 1; 3; 0, 1, 2;; MeshMaterialList { 1; 1; 0;; { bl\xE4u } } } }\n"
                "AnimationSet dr\xFC"
                "ber { Animation { { k\xF6rper } AnimationKey { 2; 2; 0; 3; 0.0, 0.0, 0.0;;, 30; 3; "
                "1.0, 0.0, 0.0;;; } } }\n"));
        const auto scene = source::open(folder() / "n.x");
        QCOMPARE(scene->clips()[0].name, std::string("drüber"));
        QCOMPARE(scene->meshes()[0].name, std::string("körper"));
        QCOMPARE(scene->mesh().materials[scene->mesh().parts[0].material].name, std::string("bläu"));
    }
    void gltfWithNamesOfAnOldEncodingIsRead() {
        tests::GltfFixture f;
        f.mesh({{"POSITION", f.floats(tests::GltfFixture::triangle(), "VEC3", 3)}});
        f.node({{"mesh", 0}});
        f.root["meshes"][0]["name"] = "ROHR";
        const auto file = f.write(folder(), "latin");
        std::string text(base::asText(base::readFile(file)));
        text.replace(text.find("ROHR"), 4, "r\xF6hr");
        base::writeFile(file, text);
        const auto source = source::open(file);
        QCOMPARE(source->meshes()[0].name, std::string("röhr"));
        QVERIFY(tests::has(source->findings(), "gltf-encoding"));
    }

private:
    std::filesystem::path folder() const { return folder_.path().toStdString(); }

    /// Three primitives: "gold" with everything, "tin", and one without a material; "unused" lies between
    /// them.
    tests::GltfFixture withTextures() {
        base::writeFile(folder() / "red.png", png("red"));
        base::writeFile(folder() / "blue.png", png("blue and longer"));
        tests::GltfFixture f;
        f.root["images"] = {{{"uri", "red.png"}}, {{"uri", "blue.png"}}};
        f.root["samplers"] = {{{"magFilter", 9728}, {"minFilter", 9985}, {"wrapS", 33071}, {"wrapT", 33648}}};
        f.root["textures"] = {{{"source", 0}, {"sampler", 0}}, {{"source", 1}}};
        const json turned = {{"KHR_texture_transform", {{"offset", {0.5, 0.25}}, {"texCoord", 3}}}};
        f.root["materials"] = {
            {{"name", "gold"},
             {"pbrMetallicRoughness",
              {{"baseColorFactor", {1.0, 0.5, 0.25, 1.0}},
               {"baseColorTexture", {{"index", 0}, {"texCoord", 3}}},
               {"metallicFactor", 0.75},
               {"roughnessFactor", 0.25},
               {"metallicRoughnessTexture", {{"index", 1}}}}},
             {"normalTexture", {{"index", 1}, {"scale", 0.5}, {"extensions", turned}}},
             {"occlusionTexture", {{"index", 0}, {"strength", 0.25}}},
             {"emissiveTexture", {{"index", 0}}},
             {"emissiveFactor", {0.5, 0.25, 0.125}},
             {"alphaMode", "MASK"},
             {"alphaCutoff", 0.25},
             {"doubleSided", true},
             {"extensions",
              {{"KHR_materials_clearcoat",
                {{"clearcoatFactor", 0.5}, {"clearcoatTexture", {{"index", 1}, {"texCoord", 2}}}}}}}},
            {{"name", "unused"}, {"emissiveFactor", {1.0, 1.0, 1.0}}},
            {{"name", "tin"},
             {"pbrMetallicRoughness", {{"metallicFactor", 0.5}, {"baseColorTexture", {{"index", 1}}}}}}};
        f.root["extensionsUsed"] = {"KHR_texture_transform", "KHR_materials_clearcoat"};
        const int positions = f.floats(tests::GltfFixture::triangle(), "VEC3", 3);
        const int uv = f.floats({0, 0, 1, 0, 0, 1}, "VEC2", 2);
        const int other = f.floats({0.5f, 0, 1, 0.5f, 0, 1}, "VEC2", 2);
        const int light = f.floats({0.25f, 0, 1, 0.25f, 0, 1}, "VEC2", 2);
        const int more = f.floats({0.125f, 0, 1, 0.25f, 0, 1}, "VEC2", 2);
        const json attributes = {{"POSITION", positions}, {"TEXCOORD_0", uv},    {"TEXCOORD_1", uv},
                                 {"TEXCOORD_2", uv},      {"TEXCOORD_3", other}, {"TEXCOORD_4", light},
                                 {"TEXCOORD_5", more}};
        f.root["meshes"] = {{{"name", "shape"},
                             {"primitives",
                              {{{"attributes", attributes}, {"material", 0}},
                               {{"attributes", attributes}, {"material", 2}},
                               {{"attributes", attributes}}}}}};
        f.node({{"mesh", 0}});
        return f;
    }

    QTemporaryDir folder_;
};

static const ripple::tests::SuiteOf<TestMaterials> kSuite;
#include "test_materials.moc"
