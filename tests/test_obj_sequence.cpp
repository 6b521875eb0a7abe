#include "base/files.h"
#include "problem_of.h"
#include "source/obj_parse.h"
#include "source/open.h"

#include <QTemporaryDir>
#include <QTest>

#include <glm/geometric.hpp>

using namespace ripple;
using tests::says;

namespace {

const char* kSquare =
    "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\n";

std::string replaced(std::string text, const std::string& from, const std::string& to) {
    text.replace(text.find(from), from.size(), to);
    return text;
}

} // namespace

class TestObjSequence : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> dir_;
    std::filesystem::path folder() const { return dir_->path().toStdString(); }
    void put(const std::string& name, const std::string& text) { base::writeFile(folder() / name, text); }
    base::Problem opening(const std::string& name) {
        return tests::problemOf([&] { source::open(folder() / name); });
    }

private Q_SLOTS:
    void init() { dir_ = std::make_unique<QTemporaryDir>(); }

    void framesAreFoundByFileAndByPattern() {
        for (int f = 0; f < 3; ++f) {
            put("cloth_00" + std::to_string(8 + f).insert(0, f < 2 ? "0" : "") + ".obj",
                replaced(kSquare, "v 1 1 0", "v 1 1 " + std::to_string(f)));
        }
        put("cloth_notes.obj", "hello");
        for (const char* name : {"cloth_0009.obj", "cloth_####.obj", "cloth_#.obj"}) {
            const auto source = source::open(folder() / name);
            QCOMPARE(source->clips()[0].frames, std::size_t(3));
            QCOMPARE(source->clips()[0].fps, 30.0);
            QCOMPARE(source->mesh().vertexCount(), std::size_t(4));
            std::vector<glm::vec3> p(4);
            std::vector<glm::vec3> n(4);
            source->sample(0, 2.0 / 30.0, p, n);
            QCOMPARE(p[2], glm::vec3(1, 1, 2));
            source->sample(0, 0.5 / 30.0, p, n);
            QCOMPARE(p[2], glm::vec3(1, 1, 0.5f));
            source->sample(0, 99.0, p, n);
            QCOMPARE(p[2], glm::vec3(1, 1, 2));
        }
    }
    void polygonsUvsAndColours() {
        put("one.obj", replaced(kSquare, "v 1 0 0", "v 1 0 0 1.0 0.5 0.25"));
        const auto source = source::open(folder() / "one.obj");
        const mesh::Mesh& mesh = source->mesh();
        QCOMPARE(mesh.indices, (std::vector<std::uint32_t>{0, 1, 2, 0, 2, 3}));
        QCOMPARE(mesh.uvSets[0][0], glm::vec2(0, 1)); // V from the bottom becomes V from the top
        QCOMPARE(mesh.colours[1], glm::vec4(1.0f, 0.5f, 0.25f, 1.0f));
        QCOMPARE(mesh.normals[0], glm::vec3(0, 0, 1));
        QVERIFY(tests::has(source->findings(), "single-frame"));
    }
    void negativeIndicesTabsAndCarriageReturns() {
        put("dos.obj", "v 0 0 0\r\nv\t1 0\t0\r\nv 0 1 0  \r\nf -3 -2 -1\r\n");
        QCOMPARE(source::open(folder() / "dos.obj")->mesh().indices, (std::vector<std::uint32_t>{0, 1, 2}));
    }
    void uvSeamsShareANormalButHardEdgesFromTheFileStay() {
        // Two faces at a right angle that share an edge of positions; the UVs there differ.
        const std::string bent =
            "v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nvt 0 0\nvt 1 0\nvt 1 1\nf 1/1 2/2 3/3\nf 1/2 3/1 4/3\n";
        put("bent.obj", bent);
        const auto smooth = source::open(folder() / "bent.obj");
        QCOMPARE(smooth->mesh().vertexCount(), std::size_t(6));
        QCOMPARE(smooth->mesh().normals[0], smooth->mesh().normals[1]); // position 0, twice
        put("hard.obj",
            "v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nvn 0 0 1\nvn 1 0 0\nf 1//1 2//1 3//1\nf 1//2 3//2 4//2\n");
        const auto hard = source::open(folder() / "hard.obj");
        QCOMPARE(hard->mesh().normals[0], glm::vec3(0, 0, 1));
        QCOMPARE(hard->mesh().normals[1], glm::vec3(1, 0, 0));
    }
    void normalsMayBeNumberedAnewInEachFrame() {
        put("n_1.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nvn 0 0 1\nf 1//1 2//1 3//1\n");
        put("n_2.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nvn 1 0 0\nvn 0 1 0\nvn 0 0 1\nf 1//3 2//2 3//1\n");
        const auto source = source::open(folder() / "n_1.obj");
        std::vector<glm::vec3> p(3);
        std::vector<glm::vec3> n(3);
        source->sample(0, 1.0 / 30.0, p, n);
        // All corners share one vertex normal in the first frame, so each takes its own corner's here.
        QCOMPARE(n[0], glm::vec3(0, 0, 1));
        QCOMPARE(n[1], glm::vec3(0, 1, 0));
        QCOMPARE(n[2], glm::vec3(1, 0, 0));
    }
    void otherTopologyNamesTheFrame() {
        put("t_0.obj", kSquare);
        put("t_1.obj", kSquare);
        put("t_2.obj", std::string(kSquare) + "v 2 2 2\n");
        QVERIFY(says(opening("t_0.obj"), "t_2.obj (frame 2)", "has 5 vertices, the first frame has 4"));
        put("t_2.obj", replaced(kSquare, "f 1/1 2/2 3/3 4/4", "f 1/1 2/2 3/3"));
        QVERIFY(says(opening("t_0.obj"), "t_2.obj (frame 2)", "1 faces of 3 corners"));
        put("t_2.obj", replaced(kSquare, "f 1/1 2/2", "f 2/2 1/1"));
        QVERIFY(says(opening("t_0.obj"), "t_2.obj (frame 2)", "face 1 joins other vertices"));
        // The same faces in other words are the same faces.
        put("t_2.obj", replaced(kSquare, "f 1/1 2/2", "f  -4/-4  2/2"));
        QCOMPARE(source::open(folder() / "t_0.obj")->clips()[0].frames, std::size_t(3));
    }
    void gapsAndDoublesAreProblems() {
        for (const char* name : {"g_08.obj", "g_09.obj", "g_12.obj"}) {
            put(name, kSquare);
        }
        QVERIFY(says(opening("g_08.obj"), "g_##.obj", "frames 10 to 11 are missing"));
        put("g_10.obj", kSquare);
        QVERIFY(says(opening("g_08.obj"), "frame 11 is missing"));
        put("g_11.obj", kSquare);
        put("g_9.obj", kSquare);
        QVERIFY(says(opening("g_08.obj"), "frame 9 is there twice"));
        QVERIFY(says(opening("h_##.obj"), "no file fits"));
        QVERIFY(says(opening("h_01.obj"), "no such file"));
    }
    void badTextNamesTheLine() {
        const auto with = [&](const std::string& from, const std::string& to) {
            put("bad.obj", replaced(kSquare, from, to));
            return opening("bad.obj");
        };
        QVERIFY(says(with("v 1 1 0", "v 1 nan 0"), "line 3", "\"nan\""));
        QVERIFY(says(with("v 1 1 0", "v 1 1e99 0"), "line 3", "1e99"));
        QVERIFY(says(with("v 1 1 0", "v 1,5 1 0"), "line 3", "1,5"));
        QVERIFY(says(with("v 1 1 0", "v 1 1"), "line 3", "breaks off"));
        QVERIFY(says(with("f 1/1 2/2", "f 1/1 9/2"), "line 9", "9 of 4"));
        QVERIFY(says(with("f 1/1 2/2", "f 0/1 2/2"), "line 9", "0 of 4"));
        QVERIFY(says(with("f 1/1 2/2 3/3 4/4", "f 1/1 2/2"), "line 9", "fewer than three"));
        put("none.obj", "");
        QVERIFY(says(opening("none.obj"), "no faces"));
        put("n_0.obj", kSquare);
        put("n_1.obj", std::string(kSquare).substr(0, 30));
        QVERIFY(says(opening("n_0.obj"), "n_1.obj (frame 1)"));
    }
    void materialsAndMissingImages() {
        put("m.mtl", "newmtl red\nKd 0.5 0.25 0.125\nmap_Kd gone.png\nnewmtl leaf\nKd 1 1 1\nmap_d "
                     "leaf.png\nmap_Kd .\\leaf.png\n");
        put("leaf.png", "bytes");
        put("m.obj", "mtllib m.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl red\nf 1 2 3\nusemtl leaf\nf 3 2 1\n");
        const auto source = source::open(folder() / "m.obj");
        const mesh::Mesh& mesh = source->mesh();
        QCOMPARE(mesh.parts.size(), std::size_t(2));
        QCOMPARE(mesh.materials[mesh.parts[0].material].baseColour, glm::vec4(0.5f, 0.25f, 0.125f, 1.0f));
        QVERIFY(tests::has(source->findings(), "texture-missing"));
        const mesh::Material& leaf = mesh.materials[mesh.parts[1].material];
        QCOMPARE(leaf.alphaMode, mesh::AlphaMode::mask);
        QCOMPARE(leaf.baseColourImage->bytes.size(), std::size_t(5));
    }
    void cancelStopsReading() {
        for (int f = 0; f < 8; ++f) {
            put("c_" + std::to_string(f) + ".obj", kSquare);
        }
        base::Progress progress;
        progress.cancel();
        QVERIFY_EXCEPTION_THROWN(source::open(folder() / "c_0.obj", {}, progress), base::Cancelled);
    }
};

QTEST_GUILESS_MAIN(TestObjSequence)
#include "test_obj_sequence.moc"
