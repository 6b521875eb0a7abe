#include "bake/kind.h"
#include "base/files.h"
#include "problem_of.h"
#include "project/document.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

using namespace ripple;

namespace {

project::Document full() {
    project::Document d;
    d.source.path = "/home/ada/shots/awning_####.obj";
    source::Reading& reading = d.source.reading;
    reading.meshes = {"canvas", "rail"};
    reading.metresPerUnit = 0.01;
    reading.up = source::Axis::z;
    reading.subdivisions = 2;
    reading.time = {24.0, source::FrameRange{3, 90}, 1.5, true};
    reading.mending = {true, true, true, true, true, true, true, true, true, 4};
    d.recipe.clips = {{"stroll", std::nullopt, bake::Closing::asIs}, {"peck", bake::FrameWindow{3, 40}, {}}};
    d.recipe.step = 2;
    d.recipe.fps = 24.0;
    d.recipe.closing = bake::Closing::fade;
    d.recipe.fadeFrames = 7;
    d.recipe.thin = 0.001;
    d.recipe.kind = &bake::kPieces;
    d.recipe.lookupUvSet = 2;
    d.recipe.shapes = 5;
    d.recipe.powerOfTwo = d.recipe.halfUvs = d.recipe.rangePerClip = true;
    d.tolerance.length = 0.02;
    d.recipe.content = bake::Content::absolute;
    d.recipe.positionStore = "unorm16";
    d.recipe.normalStore = "none";
    d.recipe.maxWidth = 512;
    d.ship.folder = "/home/ada/out";
    d.ship.name = "market";
    d.view = {"ship", "wire", 1, "g", "normal", 7, "shape", "wgsl", 720.0, 0.25};
    d.ship.asCode = d.ship.exactSine = d.ship.storeMasks = d.ship.half = true;
    motion::Voice voice;
    voice.id = 7;
    voice.name = "Sway";
    voice.push.kind = motion::PushKind::bend;
    voice.heldBy.emplace_back();
    d.score.name = "wind";
    d.score.loopSeconds = 3.5;
    d.score.voices = {voice};
    d.scoreOnTop = true;
    return d;
}

} // namespace

class TestProject : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void tolerancesAreSharesOrLengths() {
        project::Document document;
        document.tolerance.share = 0.0025;
        QVERIFY(project::parseDocument(project::documentText(document, "/w"), "/w", "t").tolerance ==
                document.tolerance);
        // As versions before kept it: a length.
        const auto older = project::parseDocument(
            R"({"format": "curly-ripple-project", "version": 4, "tolerance_m": 0.002})", "/w", "t");
        QCOMPARE(older.tolerance.metres(500.0), 0.002);
        for (const char* bad : {R"("tolerance_m": 0)", R"("tolerance_of_size": -1)"}) {
            const std::string text =
                std::string(R"({"format": "curly-ripple-project", "version": 4, )") + bad + "}";
            QVERIFY(tests::says(tests::problemOf([&] { project::parseDocument(text, "/w", "t"); }),
                                "the tolerance is not over 0"));
        }
    }
    void everythingComesBack() {
        const std::string text = project::documentText(full(), "/home/ada/projects");
        QVERIFY(project::parseDocument(text, "/home/ada/projects", "t") == full());
        QVERIFY(project::parseDocument(project::documentText({}, "/home/ada"), "/home/ada", "t") ==
                project::Document());
    }
    void voicesOfAFileAreToldApart() {
        project::Document twice = full();
        twice.score.voices.push_back(twice.score.voices[0]); // the same id, as by an edit of the file
        const std::string text = project::documentText(twice, "/home/ada/projects");
        const auto voices = project::parseDocument(text, "/home/ada/projects", "t").score.voices;
        QCOMPARE(voices[0].id, 7u);
        QCOMPARE(voices[1].id, 8u);
    }
    void pathsAreRelativeAndMoveAlong() {
        const std::string text = project::documentText(full(), "/home/ada/projects");
        QVERIFY(text.find("\"../shots/awning_####.obj\"") != std::string::npos);
        QCOMPARE(project::parseDocument(text, "/elsewhere/projects", "t").source.path,
                 std::string("/elsewhere/shots/awning_####.obj"));
    }
    void savingReplacesInOneStep() {
        QTemporaryDir dir;
        const std::filesystem::path file = std::filesystem::path(dir.path().toStdString()) / "a.curly";
        project::saveDocument(full(), file);
        project::saveDocument(full(), file);
        QVERIFY(project::loadDocument(file) == full());
        QCOMPARE(std::distance(std::filesystem::directory_iterator(dir.path().toStdString()), {}),
                 std::ptrdiff_t(1));
        QVERIFY(tests::says(tests::problemOf([] { project::saveDocument({}, "/proc/a.curly"); }),
                            "cannot be written"));
    }
    void testShapesComeBack() {
        project::Document d;
        d.source.shape = mesh::TestShape{"dome", 1.5, 20, 9};
        const auto back = project::parseDocument(project::documentText(d, "/w"), "/w", "t");
        QVERIFY(back == d);
        QCOMPARE(back.assetName(), std::string("dome"));
    }
    void theFirstVersionIsMigrated() {
        const auto d = project::parseDocument(
            R"({"format": "curly-ripple-project", "version": 1,
                "source": {"path": "a_#.obj", "mesh": "canvas"}, "bake": {"fps": 25.0}})",
            "/w", "t");
        QCOMPARE(d.source.reading.meshes, std::vector<std::string>{"canvas"});
        QCOMPARE(d.source.reading.time.rate, 25.0); // the rate of a sequence lay with the bake
        QCOMPARE(d.recipe.fps, 0.0);
    }
    void choicesThatTheKindDoesNotStoreAreLeftAway() {
        // Older versions kept them and baked without a word.
        const auto d = project::parseDocument(
            R"({"format": "curly-ripple-project", "version": 4,
                "bake": {"kind": "shapes", "content": "absolute", "tangents": true, "normals_in_alpha": true,
                         "position_store": "unorm8x2"}})",
            "/w", "t");
        QVERIFY(d.recipe.kind == &bake::kShapes && d.recipe.content == bake::Content::offset);
        QVERIFY(!d.recipe.tangents && !d.recipe.normalsInAlpha);
        QCOMPARE(d.recipe.positionStore, std::string("unorm16"));
    }
    void absentKeysAreDefaults() {
        const auto d = project::parseDocument(
            R"({"format": "curly-ripple-project", "version": 1, "bake": {"step": 3}})", "/w", "t");
        QCOMPARE(d.recipe.step, std::size_t(3));
        QCOMPARE(d.recipe.positionStore, std::string("half"));
        QVERIFY(d.source.path.empty());
    }
    void oddProjectsAreProblems() {
        const auto parsing = [](const char* text) {
            return tests::problemOf([&] { project::parseDocument(text, "/w", "a.curly"); });
        };
        QVERIFY(tests::says(parsing("{"), "a.curly", "byte"));
        QVERIFY(tests::says(parsing("[]"), "not a Curly Ripple project"));
        QVERIFY(tests::says(parsing(R"({"format": "other", "version": 1})"), "not a Curly Ripple project"));
        QVERIFY(tests::says(parsing(R"({"format": "curly-ripple-project", "version": 9})"), "version 9"));
        QVERIFY(tests::says(
            parsing(R"({"format": "curly-ripple-project", "version": 1, "bake": {"step": "two"}})"), "step",
            "two"));
        QVERIFY(
            tests::says(parsing(R"({"format": "curly-ripple-project", "version": 1, "bake": {"step": 0}})"),
                        "step", "0"));
        const auto reading = [&](const std::string& keys) {
            return parsing(
                (R"({"format": "curly-ripple-project", "version": 2, "source": {"reading": {)" + keys + "}}}")
                    .c_str());
        };
        QVERIFY(tests::says(reading(R"("up": "w")"), "up", "x, y or z"));
        QVERIFY(tests::says(reading(R"("speed": 0)"), "speed", "above 0"));
        QVERIFY(tests::says(reading(R"("subdivisions": 9)"), "subdivisions", "from 0 to 4"));
        QVERIFY(tests::says(reading(R"("first_frame": 9, "last_frame": 3)"), "last_frame"));
        QVERIFY(tests::says(
            parsing(
                R"({"format": "curly-ripple-project", "version": 1, "bake": {"position_store": "jpeg"}})"),
            "jpeg"));
    }
    void pathsThatAreNoTextComeBackByteForByte() {
        QTemporaryDir dir;
        const std::filesystem::path folder = dir.path().toStdString() + "/shots";
        std::filesystem::create_directories(folder / "f\xe4rgen");
        project::Document d;
        d.source.path = (folder / "f\xe4rgen" / "100%25 \xff.glb").string();
        d.ship.folder = (folder / "out\x80").string();
        const std::string text = project::documentText(d, folder);
        QVERIFY(text.find("\"path_bytes\": \"f%E4rgen/100%2525%20%FF.glb\"") != std::string::npos);
        QVERIFY(project::parseDocument(text, folder, "p") == d);
        project::saveDocument(d, folder / "p\xe4.curly");
        QVERIFY(project::loadDocument(folder / "p\xe4.curly") == d);
        d.source.path = (folder / "färgen/100%25.glb").string(); // text is written as it is
        QVERIFY(project::documentText(d, folder).find("\"path\": \"färgen/100%25.glb\"") !=
                std::string::npos);
        QVERIFY(project::parseDocument(project::documentText(d, folder), folder, "p") == d);
    }
    void assetNames() {
        const auto name = [](const char* path) {
            project::Document d;
            d.source.path = path;
            return d.assetName();
        };
        QCOMPARE(name("/a/awning_####.obj"), std::string("awning"));
        QCOMPARE(name("/a/awning_0012.obj"), std::string("awning"));
        QCOMPARE(name("/a/heron.glb"), std::string("heron"));
        QCOMPARE(name("/a/0001.obj"), std::string("untitled"));
        QCOMPARE(name(""), std::string("untitled"));
    }
};

static const ripple::tests::SuiteOf<TestProject> kSuite;
#include "test_project.moc"
