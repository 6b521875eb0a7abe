#include "bake/kind.h"
#include "bake/transitions.h"
#include "bundle/import_notes.h"
#include "bundle/manifest.h"
#include "problem_of.h"
#include "suite.h"

#include <QTest>

#include <nlohmann/json.hpp>

using namespace ripple;

namespace {

bundle::Manifest sample() {
    bundle::Manifest m;
    m.name = "market awning";
    m.meshFile = "market awning.glb";
    m.vertices = 4225;
    m.triangles = 8192;
    m.lookupUvSet = 2;
    m.textures.content = bake::Content::absolute;
    m.textures.positionStore = bake::positionStore("unorm16");
    m.textures.normalStore = bake::normalStore("unorm8");
    m.textures.ranges = {{{-0.1f, 1.0f / 3.0f, -1e-7f}, {0.2f, 0.7f, 12345.678f}}};
    m.textures.layout = {4225, 1409, 3, 100};
    m.textures.clips = {{"breeze",
                         "breeze",
                         bake::Ending::loop,
                         {},
                         0,
                         60,
                         29.97,
                         true,
                         18.0,
                         1.0,
                         bake::Closing::fade,
                         60,
                         {},
                         0},
                        {"lull",
                         "calm",
                         bake::Ending::once,
                         bake::SpeedRange{0.5, 1.5},
                         60,
                         40,
                         30.0 / 7.0,
                         false,
                         3.0,
                         7.0,
                         bake::Closing::drop,
                         280,
                         {},
                         0}};
    m.textures.transitions =
        bake::transitionsOf(m.textures.clips, std::vector<bake::Transition>{{"lull", "breeze", 1.25}});
    m.textures.textures = m.textures.kind->textures(m.textures);
    m.textureFiles = {"market awning.position.png", "market awning.normal.png"};
    m.sourceFade = 9;
    m.bounds = {{-2.0f, 1.7f, -1.4f}, {2.0f, 2.9f, 1.3f}};
    m.error.all.max = 0.00123456789;
    m.error.all.rms = 1e-9;
    m.error.normalMaxDegrees = 0.4;
    m.origin.reading.meshes = {"canvas"};
    m.origin.reading.up = source::Axis::z;
    m.sourceFps = 24.0;
    m.sourceStep = 7;
    m.files.push_back({"market awning.position.png", std::string(64, 'a'), 12, true, {}});
    return m;
}

} // namespace

class TestManifest : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void allComesBackThroughText() {
        const bundle::Manifest m = sample();
        const bundle::Manifest back = bundle::parseManifest(bundle::manifestText(m), "t");
        QCOMPARE(back.name, m.name);
        QCOMPARE(back.lookupUvSet, m.lookupUvSet);
        QVERIFY(back.textures.layout == m.textures.layout);
        QVERIFY(back.textures.ranges == m.textures.ranges); // floats to the last bit
        QVERIFY(back.textures.clips == m.textures.clips);
        QVERIFY(back.textures.content == m.textures.content);
        QVERIFY(back.bounds == m.bounds);
        QCOMPARE(back.error.all.max, 0.00123457); // six digits
        QCOMPARE(back.error.all.rms, 1e-9);
        QVERIFY(back.origin.reading == m.origin.reading);
        QCOMPARE(back.sourceStep, m.sourceStep);
        QVERIFY(back.files[0].import == m.files[0].import);
        QCOMPARE(bundle::manifestText(back), bundle::manifestText(m));
    }
    void whatIsNotStoredIsNotNamed() {
        bundle::Manifest m = sample();
        m.textures.positionStore = bake::positionStore("half");
        m.textures.normalStore = bake::normalStore("none");
        m.textures.textures = m.textures.kind->textures(m.textures);
        m.textureFiles = {"market awning.position.exr"};
        const nlohmann::json json = nlohmann::json::parse(bundle::manifestText(m));
        QVERIFY(!json["position"].contains("min"));
        QVERIFY(json["normal"]["files"].empty());
        QCOMPARE(bundle::parseManifest(json.dump(), "t").textureFiles, m.textureFiles);
    }
    void eachKeyThatIsNeededIsMissedByName() {
        const nlohmann::json whole = nlohmann::json::parse(bundle::manifestText(sample()));
        for (const char* path : {"/version",
                                 "/generator",
                                 "/name",
                                 "/mesh",
                                 "/mesh/file",
                                 "/mesh/vertices",
                                 "/mesh/lookup_uv_set",
                                 "/texture",
                                 "/texture/columns",
                                 "/texture/width",
                                 "/texture/height",
                                 "/texture/rows_per_frame",
                                 "/texture/frames",
                                 "/position",
                                 "/position/content",
                                 "/position/store",
                                 "/position/files",
                                 "/position/min",
                                 "/position/max",
                                 "/normal/store",
                                 "/clips",
                                 "/clips/0/name",
                                 "/clips/0/first_frame",
                                 "/clips/0/frames",
                                 "/clips/0/fps",
                                 "/clips/0/closed",
                                 "/bounds/min",
                                 "/error/position_max_m",
                                 "/files/0/sha256",
                                 "/files/0/import/filter"}) {
            nlohmann::json cut = whole;
            const nlohmann::json::json_pointer pointer(path);
            const std::string key = pointer.back();
            cut[pointer.parent_pointer()].erase(key);
            const base::Problem problem =
                tests::problemOf([&] { bundle::parseManifest(cut.dump(), "awning.bundle.json"); });
            QVERIFY2(tests::says(problem, "awning.bundle.json", "\"" + key + "\" is missing"), path);
        }
    }
    void strangeValuesAreProblems() {
        const nlohmann::json whole = nlohmann::json::parse(bundle::manifestText(sample()));
        const auto with = [&](const char* path, const nlohmann::json& value) {
            nlohmann::json odd = whole;
            odd[nlohmann::json::json_pointer(path)] = value;
            return tests::problemOf([&] { bundle::parseManifest(odd.dump(), "m"); });
        };
        QVERIFY(tests::says(with("/texture/width", 0), "height"));
        QVERIFY(tests::says(with("/texture/width", -4), "width"));
        QVERIFY(tests::says(with("/texture/frames", 1.5), "frames"));
        QVERIFY(tests::says(with("/clips/0/fps", 0), "frames"));
        QVERIFY(tests::says(with("/clips/0/fps", "fast"), "fps"));
        QVERIFY(tests::says(with("/clips/1/first_frame", 61), "clips[1]"));
        QVERIFY(tests::says(with("/clips", nlohmann::json::array()), "clips"));
        QVERIFY(tests::says(with("/position/store", "bc1"), "bc1"));
        QVERIFY(tests::says(with("/position/content", "relative"), "content"));
        QVERIFY(tests::says(with("/position/min", {1, 2}), "three numbers"));
        QVERIFY(tests::says(with("/kind", "joints"), "joints"));
    }
    void timesRangesAndAlphaComeBack() {
        bundle::Manifest m = sample();
        QCOMPARE(nlohmann::json::parse(bundle::manifestText(m))["version"].get<int>(), 1);
        m.textures.clips[1].frames = 3;
        m.textures.clips[1].times = {0, 7, 39};
        m.textures.clips[1].timesLength = 40;
        m.textures.layout.blocks = 63;
        m.textures.layout.paddedHeight = 256;
        m.textures.ranges = {{{-1, 0, 0.1f}, {1, 2, 3}}, {{-0.25f, 0, 0}, {0.5f, 0, 1}}};
        m.textures.normalStore = bake::normalStore("oct16");
        m.textures.normalsInAlpha = true;
        m.textures.textures = m.textures.kind->textures(m.textures);
        m.textureFiles = {"market awning.position.png"};
        const std::string text = bundle::manifestText(m);
        const bundle::Manifest back = bundle::parseManifest(text, "t");
        QVERIFY(back.textures.clips == m.textures.clips);
        QVERIFY(back.textures.ranges == m.textures.ranges);
        QVERIFY(back.textures.layout == m.textures.layout);
        QVERIFY(back.textures.normalsInAlpha);
        QCOMPARE(back.textures.textures.size(), std::size_t(1));
        QCOMPARE(back.textures.textures[0].channels, std::size_t(4));
        QCOMPARE(bundle::manifestText(back), text);
        // A reader of the first version would play such a clip wrongly: it must refuse it.
        nlohmann::json json = nlohmann::json::parse(text);
        QCOMPARE(json["version"].get<int>(), 2);
        const auto with = [&](const char* path, const nlohmann::json& value) {
            nlohmann::json odd = json;
            odd[nlohmann::json::json_pointer(path)] = value;
            return tests::problemOf([&] { bundle::parseManifest(odd.dump(), "m"); });
        };
        QVERIFY(tests::says(with("/clips/1/times", {0, 39, 7}), "times", "ascend"));
        QVERIFY(tests::says(with("/clips/1/times", {1, 7, 39}), "times"));
        QVERIFY(tests::says(with("/clips/1/times", {0, 7, 41}), "times"));
        QVERIFY(tests::says(with("/clips/1/times", {0, 7}), "times"));
        QVERIFY(tests::says(with("/clips/1/times/1", "soon"), "times[1]"));
        QVERIFY(tests::says(with("/clips/0/source_closing", "glue"), "source_closing"));
        QVERIFY(tests::says(with("/normal/store", "oct32"), "alpha"));
        QVERIFY(tests::says(with("/texture/padded", false), "height"));
        QVERIFY(tests::says(with("/clips/0/frames", 59), "add up"));
    }
    void piecesAndShapesNameTheirFiles() {
        bundle::Manifest m = sample();
        m.textures.kind = &bake::kPieces;
        m.textures.positionStore = bake::positionStore("unorm8x2");
        m.textures.normalStore = bake::kNoNormals;
        m.textures.layout = {12, 12, 1, 100};
        m.textures.textures = m.textures.kind->textures(m.textures);
        m.textureFiles = {"a.position-high.png", "a.position-low.png", "a.rotation-high.png",
                          "a.rotation-low.png"};
        m.textures.pivotUvSet = 3;
        const bundle::Manifest pieces = bundle::parseManifest(bundle::manifestText(m), "t");
        QVERIFY(pieces.textures.kind == &bake::kPieces);
        QCOMPARE(pieces.textureFiles, m.textureFiles);
        QCOMPARE(pieces.textures.pivotUvSet, std::size_t(3));
        QVERIFY(bundle::importNotes(m).find("UV sets 3 and 4") != std::string::npos);
        m.textures.kind = &bake::kShapes;
        m.textures.positionStore = bake::positionStore("unorm16");
        m.textures.normalStore = bake::normalStore("unorm8");
        m.textures.normalRange = {{-1, -2, -3}, {1, 2, 3}};
        m.textures.layout = {4225, 1409, 3, 9};
        m.textures.textures = m.textures.kind->textures(m.textures);
        m.textureFiles = {"a.position.png", "a.normal.png", "a.weights.exr"};
        const bundle::Manifest shapes = bundle::parseManifest(bundle::manifestText(m), "t");
        QCOMPARE(shapes.textures.frameCount(), std::size_t(100));
        QCOMPARE(shapes.textures.layout.blocks, std::size_t(9));
        QVERIFY(shapes.textures.normalRange == m.textures.normalRange);
        const bake::TextureFormat& weights = *shapes.textures.find(bake::kWeight);
        QCOMPARE(weights.width, std::size_t(3)); // nine shapes, four to a texel
        QCOMPARE(weights.height, std::size_t(100));
        QCOMPARE(shapes.textureFiles, m.textureFiles);
    }
    void unknownKeysAreIgnored() {
        nlohmann::json more = nlohmann::json::parse(bundle::manifestText(sample()));
        more["tomorrow"] = {{"a", 1}};
        more["texture"]["padding"] = 7;
        QCOMPARE(bundle::parseManifest(more.dump(), "m").vertices, std::size_t(4225));
    }
    void importersAreToldOfEveryTexture() {
        const bundle::Manifest m = sample();
        int linear = 0;
        bool uv = false;
        for (const bundle::ImportSetting& setting : bundle::importSettings(m)) {
            QVERIFY(!setting.why.empty() && !setting.files.empty() && !setting.value.empty());
            QVERIFY(setting.files.size() == 1 || setting.files == m.textureFiles);
            linear += setting.value == "linear data (no sRGB)";
            uv = uv || setting.setting == "UV set 2 (3 counted from 1)";
        }
        QCOMPARE(linear, 1); // one row, for all textures
        QVERIFY(uv);
        const std::string notes = bundle::importNotes(m);
        QVERIFY(notes.find("| 1 | lull | 60 | 40 |") != std::string::npos);
        QVERIFY(notes.find("| Mipmaps | **off** | all textures |") != std::string::npos);
        QVERIFY(notes.find("`f × 3 / 300`") != std::string::npos);
        QVERIFY(notes.find("market_awning_at_seconds") != std::string::npos);
    }
};

static const ripple::tests::SuiteOf<TestManifest> kSuite;
#include "test_manifest.moc"
