// A model from elsewhere must not take files of this machine along, and names in it are names wherever they
// go.

#include "base/files.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "bundle/read_bundle.h"
#include "bundle/write_bundle.h"
#include "emit/score_code.h"
#include "gltf_fixture.h"
#include "image/png.h"
#include "inspect/survey.h"
#include "mesh/uv_sets.h"
#include "motion/loop_bounds.h"
#include "motion/perform.h"
#include "motion/ready_scores.h"
#include "problem_of.h"
#include "project/document.h"
#include "project/fixes.h"
#include "small_png.h"
#include "source/companions.h"
#include "source/gltf_write.h"
#include "source/open.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>

using namespace ripple;
using tests::has;
using tests::says;

namespace fs = std::filesystem;

namespace {

base::Bytes smallPng() {
    const std::string png = tests::smallPng();
    const auto bytes = base::asBytes(png);
    return base::Bytes(bytes.begin(), bytes.end());
}

/// Two big-endian bytes of the kind that JPEG has.
void put(base::Bytes& to, std::initializer_list<int> bytes) {
    for (const int byte : bytes) {
        to.push_back(static_cast<std::byte>(byte));
    }
}

/// The segments of a JPEG without anything in its scan.
base::Bytes bareJpeg(int width, int height) {
    base::Bytes bytes;
    put(bytes,
        {0xFF, 0xD8, 0xFF, 0xC0, 0, 11, 8, height >> 8, height & 255, width >> 8, width & 255, 1, 1, 17, 0});
    put(bytes, {0xFF, 0xDA, 0, 8, 1, 1, 0, 0, 63, 0, 0x12, 0xFF, 0, 0x34, 0xFF, 0xD0, 0x56, 0xFF, 0xD9});
    return bytes;
}

std::string wholeText(const fs::path& file) {
    return std::string(base::asText(base::readFile(file)));
}

const base::Finding* findingOf(std::span<const base::Finding> findings, const std::string& id) {
    const auto found =
        std::find_if(findings.begin(), findings.end(), [&](const auto& f) { return f.id == id; });
    return found == findings.end() ? nullptr : &*found;
}

const std::string kNasty = "x\n#error stop\r*/ @max@ `|<img src=/etc/passwd>\\\"; rm \xe2\x80\xae";

} // namespace

class TestHostile : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> dir_;
    fs::path root() const { return fs::canonical(dir_->path().toStdString()); }
    fs::path folder() const { return root() / "tree" / "models"; }

    static std::shared_ptr<const source::FrameSource> opened(const fs::path& file, bool follow = false) {
        return source::open(file, {}, {}, source::kFrameCacheBytes, {follow, {}});
    }
    /// A glTF file with one image, by its URI.
    fs::path gltfWith(const std::string& uri) const {
        tests::GltfFixture f;
        f.mesh({{"POSITION", f.floats(tests::GltfFixture::triangle(), "VEC3", 3)},
                {"TEXCOORD_0", f.floats({0, 0, 1, 0, 0, 1}, "VEC2", 2)}});
        f.node({{"mesh", 0}});
        f.root["images"] = {{{"uri", uri}}};
        f.root["textures"] = {{{"source", 0}}};
        f.root["materials"] = {{{"pbrMetallicRoughness", {{"baseColorTexture", {{"index", 0}}}}}}};
        f.root["meshes"][0]["primitives"][0]["material"] = 0;
        return f.write(folder(), "model");
    }
    fs::path objWith(const std::string& image) const {
        base::writeFile(folder() / "model.mtl", "newmtl skin\nmap_Kd " + image + "\n");
        base::writeFile(folder() / "model.obj",
                        std::string_view("mtllib model.mtl\nusemtl skin\nv 0 0 0\nv 1 0 0\n"
                                         "v 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\n"
                                         "f 1/1 2/2 3/3\n"));
        return folder() / "model.obj";
    }
    fs::path daeWith(const std::string& image) const {
        std::string text = wholeText(fs::path(MODELS_FOLDER) / "Collada/duck.dae");
        const std::size_t at = text.find("duckCM.tga");
        const std::size_t begin = text.rfind('>', at) + 1;
        text.replace(begin, text.find('<', at) - begin, image);
        base::writeFile(folder() / "model.dae", text);
        return folder() / "model.dae";
    }

private Q_SLOTS:
    void init() {
        dir_ = std::make_unique<QTemporaryDir>();
        fs::create_directories(folder() / "below");
        fs::create_directories(root() / "tree/textures");
        fs::create_directories(root() / "secret");
        for (const char* place : {"tree/models/own.png", "tree/models/below/deep.png",
                                  "tree/textures/near.png", "secret/image.png"}) {
            base::writeFile(root() / place, smallPng());
        }
        base::writeFile(root() / "secret/keys.txt", std::string_view("the secret words"));
        fs::create_symlink(root() / "secret/image.png", folder() / "link.png");
        fs::create_directory_symlink(root() / "secret", folder() / "way");
        fs::create_symlink("../textures/near.png", folder() / "near.png");
    }

    void onlyTheTreeIsFollowed_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<bool>("inside");
        QTest::addColumn<bool>("above");
        QTest::newRow("own") << "own.png" << true << false;
        QTest::newRow("below") << "below/deep.png" << true << false;
        QTest::newRow("the other slash") << "below\\deep.png" << true << false;
        QTest::newRow("round about") << "below/../own.png" << true << false;
        QTest::newRow("a folder up") << "../textures/near.png" << true << true;
        QTest::newRow("a link a folder up") << "near.png" << true << true;
        QTest::newRow("two folders up") << "../../secret/image.png" << false << false;
        QTest::newRow("absolute") << "SECRET/image.png" << false << false;
        QTest::newRow("a link that leaves") << "link.png" << false << false;
        QTest::newRow("a folder that leaves") << "way/image.png" << false << false;
        QTest::newRow("a scheme") << "https://example.org/a.png" << false << false;
        QTest::newRow("a file scheme") << "file:///etc/passwd" << false << false;
        QTest::newRow("another system's path") << "C:\\Users\\me\\x.png" << false << false;
        QTest::newRow("another system's path, beside") << "C:\\Users\\me\\own.png" << true << false;
    }
    void onlyTheTreeIsFollowed() {
        QFETCH(QString, name);
        QFETCH(bool, inside);
        QFETCH(bool, above);
        const std::string asked =
            name.replace("SECRET", QString::fromStdString((root() / "secret").string())).toStdString();
        source::Companions companions(folder() / "model.gltf", false);
        const auto path = companions.find(asked);
        QCOMPARE(path.has_value(), inside);
        base::Findings findings;
        companions.report(findings);
        QCOMPARE(has(findings, "file-above"), above);
        QCOMPARE(has(findings, "file-outside"), !inside);
        if (inside) {
            QCOMPARE(base::readFile(*path).size(), smallPng().size());
        }
        // Followed, if a person says so; another machine's, never.
        source::Companions trusting(folder() / "model.gltf", true);
        const bool another =
            asked.starts_with("https") || asked.starts_with("file:") || asked.ends_with("x.png");
        QCOMPARE(trusting.find(asked).has_value(), !another);
    }
    void rootsTreeIsNobodys() {
        // The folder above a folder in the root is everything.
        source::Companions companions("/tmp/model.gltf", false);
        QVERIFY(!companions.find("../etc/passwd"));
    }
    void everyReaderHoldsToIt_data() {
        QTest::addColumn<QString>("kind");
        for (const char* kind : {"gltf", "obj", "dae"}) {
            QTest::newRow(kind) << kind;
        }
    }
    void everyReaderHoldsToIt() {
        QFETCH(QString, kind);
        const auto write = [&](const std::string& image) {
            return kind == "gltf" ? gltfWith(image) : kind == "obj" ? objWith(image) : daeWith(image);
        };
        const auto image = [](const source::FrameSource& source) {
            return source.mesh().materials[0].baseColourImage;
        };
        const std::string secret = (root() / "secret/image.png").string();
        const auto first = opened(write(secret));
        QVERIFY(!image(*first));
        const base::Finding* outside = findingOf(first->findings(), "file-outside");
        QVERIFY(outside && outside->severity == base::Severity::look);
        QVERIFY(says(outside->problem, "image.png", "--follow-outside"));
        QVERIFY(image(*opened(write(secret), true)));
        // A folder up is followed, and said.
        const auto near = opened(write("../textures/near.png"));
        QVERIFY(image(*near));
        QVERIFY(findingOf(near->findings(), "file-above"));
        const auto own = opened(write("own.png"));
        QVERIFY(image(*own) && !findingOf(own->findings(), "file-above"));
        // What is no image stays where it is, even if a person trusts the model.
        for (const char* name : {"secret/keys.txt", "tree/models/model.gltf"}) {
            const auto source = opened(write((root() / name).string()), true);
            QVERIFY(!image(*source));
            QVERIFY(findingOf(source->findings(), "texture-missing"));
        }
        const auto passwd = opened(write("/etc/passwd"));
        QVERIFY(!image(*passwd));
        QVERIFY(findingOf(passwd->findings(), "file-outside"));
    }
    void nothingOfItIsShipped() {
        for (const bool trusted : {false, true}) {
            const auto source = opened(gltfWith((root() / "secret/keys.txt").string()), trusted);
            base::Progress progress;
            const fs::path out = root() / (trusted ? "trusted" : "plain");
            bundle::writeBundle(*source, {}, {}, out, progress);
            for (const auto& entry : fs::directory_iterator(out)) {
                QVERIFY2(wholeText(entry.path()).find("the secret words") == std::string::npos,
                         entry.path().c_str());
            }
        }
    }
    void buffersNeither() {
        tests::GltfFixture f;
        f.mesh({{"POSITION", f.floats(tests::GltfFixture::triangle(), "VEC3", 3)}});
        f.node({{"mesh", 0}});
        const fs::path file = f.write(folder(), "model");
        fs::rename(folder() / "model.bin", root() / "secret/model.bin");
        std::string text = wholeText(file);
        const auto naming = [&](const std::string& uri) {
            f.root["buffers"][0]["uri"] = uri;
            base::writeFile(file, f.root.dump());
        };
        for (const std::string& uri : {std::string("../../secret/model.bin"), std::string("way/model.bin"),
                                       (root() / "secret/model.bin").string()}) {
            naming(uri);
            QVERIFY(says(tests::problemOf([&] { opened(file); }), "model.gltf", "outside its folder",
                         "--follow-outside"));
            QCOMPARE(opened(file, true)->mesh().vertexCount(), std::size_t(3));
        }
        naming("absent.bin");
        QVERIFY(says(tests::problemOf([&] { opened(file); }), "absent.bin", "no such file", "put it beside"));
        // Only beside the file, never in the folder that the program was started in.
        base::writeFile(root() / "model.bin", base::readFile(root() / "secret/model.bin"));
        const fs::path before = fs::current_path();
        fs::current_path(root());
        naming("model.bin");
        const base::Problem problem = tests::problemOf([&] { opened(file); });
        fs::current_path(before);
        QVERIFY(says(problem, "model.bin", "no such file"));
    }
    void thatAFileIsFollowedIsAFixAndNeverSaved() {
        const auto source = opened(gltfWith((root() / "secret/image.png").string()));
        const inspect::MeshFacts facts = inspect::meshFacts(source->mesh());
        const source::Reading reading;
        const bake::Recipe recipe;
        const auto found = inspect::inspect({*source, reading, recipe, nullptr, "model"}, facts);
        const auto one = std::find_if(found.begin(), found.end(),
                                      [](const auto& o) { return o.finding.id == "file-outside"; });
        QVERIFY(one != found.end() && one->fixes.size() == 1);
        project::Document document;
        document.source.path = (folder() / "model.gltf").string();
        project::applyFix(document, one->fixes[0]);
        QVERIFY(document.source.followOutside);
        // A project from elsewhere can't say it either.
        const std::string text = project::documentText(document, folder());
        QVERIFY(text.find("outside") == std::string::npos);
        QVERIFY(!project::parseDocument(text, folder(), "p").source.followOutside);
    }
    void imagesAreLookedThrough_data() {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QString>("fault");
        const auto row = [](const char* name, base::Bytes bytes, const char* fault) {
            QTest::newRow(name) << QByteArray(reinterpret_cast<const char*>(bytes.data()),
                                              static_cast<qsizetype>(bytes.size()))
                                << fault;
        };
        const base::Bytes png = smallPng();
        row("png", png, "");
        base::Bytes cut = png;
        cut.resize(png.size() - 5);
        row("png cut", cut, "cut short");
        base::Bytes flipped = png;
        flipped[flipped.size() - 20] ^= std::byte{1};
        row("png flipped", flipped, "damaged");
        row("only the signature's start", base::Bytes(png.begin(), png.begin() + 6), "cut short");
        base::Bytes onlyStart(png.begin(), png.begin() + 8);
        const auto secret =
            base::asBytes(std::string_view("root:x:0:0 and much more that is no chunk at all"));
        onlyStart.insert(onlyStart.end(), secret.begin(), secret.end());
        row("text behind a signature", onlyStart, "cut short");
        row("jpeg", bareJpeg(640, 480), "");
        base::Bytes jpegCut = bareJpeg(640, 480);
        jpegCut.resize(jpegCut.size() - 2);
        row("jpeg cut", jpegCut, "cut short");
        row("jpeg too large", bareJpeg(20000, 20), "20000 × 20 pixels, more than 16384 on a side");
        base::Bytes jpegText;
        put(jpegText, {0xFF, 0xD8, 0xFF, 0xE0, 0, 4, 1, 2});
        jpegText.insert(jpegText.end(), secret.begin(), secret.end());
        row("text behind a jpeg's start", jpegText, "damaged");
        base::Bytes webp(30, std::byte{0});
        std::memcpy(webp.data(), "RIFF\x16\0\0\0WEBPVP8X\x0a\0\0\0", 20);
        row("webp", webp, "");
        webp[26] = std::byte{1}; // 65 537 wide
        row("webp too large", webp, "65537 × 1 pixels, more than 16384 on a side");
        row(
            "ktx cut",
            [] {
                base::Bytes bytes(20, std::byte{0});
                std::memcpy(bytes.data(), "\xABKTX 20\xBB\r\n\x1A\n", 12);
                return bytes;
            }(),
            "cut short");
        row("text", base::Bytes(secret.begin(), secret.end()), "no image that is known");
    }
    void imagesAreLookedThrough() {
        QFETCH(QByteArray, bytes);
        QFETCH(QString, fault);
        const std::string found = source::imageFault(
            {reinterpret_cast<const std::byte*>(bytes.data()), static_cast<std::size_t>(bytes.size())});
        QCOMPARE(QString::fromStdString(found), fault);
    }
    void imagesOfOtherProgramsAreSound() {
        int seen = 0;
        for (const auto& entry : fs::recursive_directory_iterator(MODELS_FOLDER)) {
            const std::string extension = base::extensionOf(entry.path());
            if (extension == ".png" || extension == ".jpg" || extension == ".jpeg") {
                ++seen;
                const std::string fault = source::imageFault(base::readFile(entry.path()));
                QVERIFY2(fault.empty(), (entry.path().string() + " is " + fault).c_str());
            }
        }
        QVERIFY(seen > 40);
    }
    void sizesAreBoundedBeforeAnythingIsDecoded() {
        // 60 000 × 60 000 in a few bytes, its checksum right.
        image::Image tiny(1, 1, 3, image::Pixel::u8);
        base::Bytes bytes = image::encodePng(tiny);
        bytes[18] = std::byte{0xEA};
        bytes[19] = std::byte{0x60};
        base::writeFile(folder() / "own.png", bytes);
        const auto source = opened(gltfWith("own.png"));
        QVERIFY(!source->mesh().materials[0].baseColourImage);
        QVERIFY(findingOf(source->findings(), "texture-missing"));
        QVERIFY(says(tests::problemOf([&] { image::decodePng(bytes, "own.png"); }), "own.png"));
    }
    void namesAreDataWhereverTheyGo() {
        tests::GltfFixture f;
        const int position = f.floats(tests::GltfFixture::triangle(), "VEC3", 3);
        f.mesh({{"POSITION", position}, {"_MASK\n#error", f.floats({0, 0.5f, 1}, "SCALAR", 1)}});
        f.root["meshes"][0]["name"] = kNasty;
        f.root["materials"] = {{{"name", kNasty}}};
        f.root["meshes"][0]["primitives"][0]["material"] = 0;
        f.node({{"mesh", 0}, {"name", kNasty}});
        f.channel(0, "translation", f.floats({0, 1}, "SCALAR", 1), f.floats({0, 0, 0, 1, 1, 1}, "VEC3", 3),
                  "LINEAR");
        f.root["animations"][0]["name"] = kNasty;
        const auto source = opened(f.writeGlb(folder(), "model"));
        base::Progress progress;
        const std::string name = "he`ron|<b>@max@";
        const fs::path out = root() / name;
        const bundle::Manifest manifest = bundle::writeBundle(*source, {}, {}, out, progress);
        QVERIFY(bundle::check(out, source.get()).ok()); // JSON reads back as it was
        QCOMPARE(bundle::readManifest(out).textures.clips[0].name, kNasty);
        // Code: outside of comments there is nothing of the names, and none ends a comment's line.
        const std::string code = wholeText(out / (name + ".glsl"));
        std::istringstream lines(code);
        for (std::string line; std::getline(lines, line);) {
            const std::string plain = line.substr(0, line.find("//"));
            for (const char* word : {"error", "stop", "passwd", "rm ", "<b>", "@", "`"}) {
                QVERIFY2(plain.find(word) == std::string::npos, line.c_str());
            }
            QVERIFY2(line.empty() || line.back() != '\\', line.c_str());
        }
        QVERIFY(code.find('\r') == std::string::npos);
        // Markdown: no markup of a name is any, and a table's row is one line.
        const std::string notes = wholeText(out / "IMPORT.md");
        QVERIFY(notes.find("<img") == std::string::npos || notes.find("\\<img") != std::string::npos);
        std::istringstream rows(notes);
        int clips = 0;
        for (std::string line; std::getline(rows, line);) {
            QVERIFY2(line.find("#error") != 0 && line.find("# error") != 0, line.c_str());
            if (line.starts_with("| 0 |")) {
                ++clips;
                // Seven edges of six cells; those in the name are escaped.
                QCOMPARE(std::count(line.begin(), line.end(), '|') - 1, 7);
            }
        }
        QCOMPARE(clips, 1);
        // Problems are one line on a terminal.
        base::Problem problem{kNasty, kNasty, kNasty};
        QVERIFY(problem.line().find('\n') == std::string::npos &&
                problem.line().find('\r') == std::string::npos);
    }
    void namesOfScoresAndMasksAreComments() {
        const auto source = opened(gltfWith("own.png"));
        motion::Score score = motion::makeReady(motion::readyScores()[0], source->mesh());
        score.name = kNasty;
        for (motion::Voice& voice : score.voices) {
            voice.name = kNasty;
        }
        const motion::Performance performance(score, source->mesh());
        const std::string code = emit::scoreCode(emit::glsl(), score.name, performance.composition(),
                                                 {.bounds = motion::boundsOfLoop(performance)})
                                     .code;
        std::istringstream lines(code);
        for (std::string line; std::getline(lines, line);) {
            const std::string plain = line.substr(0, line.find("//"));
            QVERIFY2(plain.find("#error") == std::string::npos && plain.find("passwd>") == std::string::npos,
                     line.c_str());
            QVERIFY2(line.empty() || line.back() != '\\', line.c_str());
        }
    }
};

static const ripple::tests::SuiteOf<TestHostile> kSuite;
#include "test_hostile.moc"
