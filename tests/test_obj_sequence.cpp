#include "base/files.h"
#include "base/progress.h"
#include "problem_of.h"
#include "small_png.h"
#include "source/obj_parse.h"
#include "source/open.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <cmath>

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

    /// Opens it and asks for every frame.
    base::Problem playing(const std::string& name) {
        return tests::problemOf([&] {
            const auto source = source::open(folder() / name);
            std::vector<glm::vec3> p(source->mesh().vertexCount());
            std::vector<glm::vec3> n(p.size());
            for (std::size_t f = 0; f < source->clips()[0].frames; ++f) {
                source->sample(0, static_cast<double>(f) / source->clips()[0].fps, p, n);
            }
        });
    }
    std::string whatIs(const std::string& id, const std::string& name) {
        const auto source = source::open(folder() / name);
        for (const base::Finding& finding : source->findings()) {
            if (finding.id == id) {
                return finding.problem.what;
            }
        }
        return {};
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
        QVERIFY(says(playing("t_0.obj"), "t_2.obj (frame 2)", "has 5 vertices, the first frame has 4"));
        put("t_2.obj", replaced(kSquare, "f 1/1 2/2 3/3 4/4", "f 1/1 2/2 3/3"));
        QVERIFY(says(playing("t_0.obj"), "t_2.obj (frame 2)", "1 faces of 3 corners"));
        put("t_2.obj", replaced(kSquare, "f 1/1 2/2", "f 2/2 1/1"));
        QVERIFY(says(playing("t_0.obj"), "t_2.obj (frame 2)", "face 1 joins other vertices"));
        // The same faces in other words are the same faces.
        put("t_2.obj", replaced(kSquare, "f 1/1 2/2", "f  -4/-4  2/2"));
        QCOMPARE(playing("t_0.obj"), base::Problem());
    }
    void gapsStepsDoublesAndPaddingsAreSaid() {
        for (const char* name : {"g_08.obj", "g_09.obj", "g_12.obj"}) {
            put(name, kSquare);
        }
        QCOMPARE(whatIs("sequence-gap", "g_08.obj"), std::string("frames are missing: 9 is followed by 12"));
        QCOMPARE(source::open(folder() / "g_08.obj")->clips()[0].frames, std::size_t(3));
        put("g_10.obj", kSquare);
        put("g_11.obj", kSquare);
        QVERIFY(whatIs("sequence-gap", "g_08.obj").empty());
        put("g_9.obj", std::string(kSquare) + "# the other one\n");
        QCOMPARE(whatIs("sequence-duplicate", "g_08.obj"),
                 std::string("1 frame is there twice; left out: g_9.obj"));
        QCOMPARE(whatIs("sequence-padding", "g_08.obj"),
                 std::string("frame numbers are padded to 1 and to 2 digits"));
        QCOMPARE(source::open(folder() / "g_08.obj")->files().size(), std::size_t(5));
        // Numbers that grow beyond their padding are one padding.
        for (const char* name : {"grow_98.obj", "grow_99.obj", "grow_100.obj"}) {
            put(name, kSquare);
        }
        QVERIFY(whatIs("sequence-padding", "grow_99.obj").empty());
        for (const char* name : {"s_000.obj", "s_005.obj", "s_010.obj", "s_020.obj"}) {
            put(name, kSquare);
        }
        QCOMPARE(whatIs("sequence-step", "s_000.obj"), std::string("frame numbers go up by 5"));
        QCOMPARE(whatIs("sequence-gap", "s_000.obj"),
                 std::string("frames are missing: 10 is followed by 20"));
        QVERIFY(says(opening("h_##.obj"), "no file fits"));
        QVERIFY(says(opening("h_01.obj"), "no such file"));
    }
    void aFolderGivesItsLongestSequence() {
        for (const char* name : {"a_1.obj", "b_1.obj", "b_2.obj", "b_3.obj", "notes.txt"}) {
            put(name, kSquare);
        }
        QCOMPARE(source::open(folder())->clips()[0].frames, std::size_t(3));
        std::filesystem::create_directory(folder() / "empty");
        QVERIFY(says(opening("empty"), "holds no source", ".obj"));
    }
    void concavePolygonsKeepToTheirInside() {
        // An arrowhead: its notch is vertex 2 of 4. A fan from the first corner would fold over it.
        put("arrow.obj", "v 0 0 0\nv 2 -1 0\nv 1 0 0\nv 2 1 0\nf 2 3 4 1\n");
        const auto source = source::open(folder() / "arrow.obj");
        double area = 0.0;
        const mesh::Mesh& mesh = source->mesh();
        for (std::size_t i = 0; i < mesh.indices.size(); i += 3) {
            const glm::vec3 a = mesh.positions[mesh.indices[i]];
            const glm::vec3 n =
                glm::cross(mesh.positions[mesh.indices[i + 1]] - a, mesh.positions[mesh.indices[i + 2]] - a);
            QVERIFY(n.z > 0.0f); // no triangle is turned over
            area += 0.5 * static_cast<double>(n.z);
        }
        QVERIFY(std::abs(area - 1.0) < 1e-6);
    }
    void unusedVerticesStay() {
        put("loose.obj", "v 0 0 0\nv 9 9 9\nv 1 0 0\nv 0 1 0\nf 1 3 4\n");
        const auto source = source::open(folder() / "loose.obj");
        QCOMPARE(source->mesh().vertexCount(), std::size_t(4));
        QCOMPARE(source->mesh().positions[3], glm::vec3(9, 9, 9)); // behind those that are used
    }
    void lineEndingsAndEncodings() {
        std::string mac = "v 0 0 0\rv 1 0 0\rv 0 1 0\nf 1 2 3\r\n# end\r";
        put("mac.obj", mac);
        QCOMPARE(source::open(folder() / "mac.obj")->mesh().triangleCount(), std::size_t(1));
        put("bom.obj", std::string("\xEF\xBB\xBF") + kSquare);
        QCOMPARE(source::open(folder() / "bom.obj")->mesh().vertexCount(), std::size_t(4));
        put("wide.obj", std::string("\xFF\xFEv\0 \0", 6));
        QVERIFY(says(opening("wide.obj"), "wide.obj", "UTF-16", "UTF-8"));
        put("bad.obj", "v 0 0 0\rv 1 0 0\rv 0 x 0\r");
        QVERIFY(says(opening("bad.obj"), "line 3"));
    }
    void aFileThatGoesOrChangesIsAProblemWhenItsFrameIsWanted() {
        for (int f = 0; f < 3; ++f) {
            put("v_" + std::to_string(f) + ".obj", kSquare);
        }
        const auto source = source::open(folder() / "v_0.obj");
        std::vector<glm::vec3> p(4);
        std::vector<glm::vec3> n(4);
        std::filesystem::remove(folder() / "v_1.obj");
        const auto frame = [&](int f) {
            return tests::problemOf([&] { source->sample(0, f / 30.0, p, n); });
        };
        QVERIFY(says(frame(1), "v_1.obj", "no such file"));
        put("v_2.obj", "v 0 0");
        QVERIFY(says(frame(2), "v_2.obj", "line 1"));
        QCOMPARE(frame(0), base::Problem()); // it is in memory
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
        QVERIFY(says(playing("n_0.obj"), "n_1.obj (frame 1)"));
    }
    void materialsAndMissingImages() {
        put("m.mtl", "newmtl red\nKd 0.5 0.25 0.125\nmap_Kd gone.png\nnewmtl leaf\nKd 1 1 1\nmap_d "
                     "leaf.png\nmap_Kd .\\leaf.png\n");
        put("leaf.png", tests::smallPng());
        put("m.obj", "mtllib m.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl red\nf 1 2 3\nusemtl leaf\nf 3 2 1\n");
        const auto source = source::open(folder() / "m.obj");
        const mesh::Mesh& mesh = source->mesh();
        QCOMPARE(mesh.parts.size(), std::size_t(2));
        QCOMPARE(mesh.materials[mesh.parts[0].material].baseColour, glm::vec4(0.5f, 0.25f, 0.125f, 1.0f));
        QVERIFY(tests::has(source->findings(), "texture-missing"));
        const mesh::Material& leaf = mesh.materials[mesh.parts[1].material];
        QCOMPARE(leaf.alphaMode, mesh::AlphaMode::mask);
        QVERIFY(leaf.baseColourImage && leaf.baseColourImage->mimeType == "image/png");
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

static const ripple::tests::SuiteOf<TestObjSequence> kSuite;
#include "test_obj_sequence.moc"
