#include "base/files.h"
#include "problem_of.h"
#include "source/open.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <cstring>

using namespace ripple;
using tests::says;

namespace {

const char* kHead =
    "ply\nformat ascii 1.0\ncomment a square\nelement vertex 4\nproperty float x\nproperty float y\n"
    "property float z\nproperty float s\nproperty float t\nproperty uchar red\nproperty uchar "
    "green\nproperty uchar blue\nelement face 1\nproperty list uchar int "
    "vertex_indices\nend_header\n";
const char* kBody = "0 0 0 0 0 255 0 51\n1 0 0 1 0 0 0 0\n1 1 0.5 1 1 0 0 0\n0 1 0 0 1 0 0 0\n4 0 1 2 3\n";

template <typename T>
void put(std::string& out, T value, bool swap) {
    char bytes[sizeof(T)];
    std::memcpy(bytes, &value, sizeof(T));
    if (swap) {
        std::reverse(bytes, bytes + sizeof(T));
    }
    out.append(bytes, sizeof(T));
}

/// Three vertices with normals and one triangle, the third vertex at height `z`.
std::string binary(bool big, float z, std::int32_t lastIndex = 2) {
    std::string text = std::string("ply\nformat ") + (big ? "binary_big_endian" : "binary_little_endian") +
                       " 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n"
                       "property float nx\nproperty float ny\nproperty float nz\nelement face 1\n"
                       "property list uchar int vertex_index\nend_header\n";
    const float vertices[3][6] = {{0, 0, 0, 0, 0, 2}, {1, 0, 0, 0, 0, 2}, {0, 1, z, 0, 0, 2}};
    for (const auto& vertex : vertices) {
        for (const float value : vertex) {
            put(text, value, big);
        }
    }
    put(text, static_cast<std::uint8_t>(3), big);
    for (const std::int32_t index : {0, 1, lastIndex}) {
        put(text, index, big);
    }
    return text;
}

} // namespace

class TestPly : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> dir_;
    std::filesystem::path folder() const { return dir_->path().toStdString(); }
    void write(const std::string& name, const std::string& text) { base::writeFile(folder() / name, text); }
    base::Problem opening(const std::string& name, const std::string& text) {
        write(name, text);
        return tests::problemOf([&] { source::open(folder() / name); });
    }

private Q_SLOTS:
    void init() { dir_ = std::make_unique<QTemporaryDir>(); }

    void textWithUvsColoursAndPolygons() {
        write("one.ply", std::string(kHead) + kBody);
        const auto source = source::open(folder() / "one.ply");
        const mesh::Mesh& mesh = source->mesh();
        QCOMPARE(mesh.positions[2], glm::vec3(1, 1, 0.5f));
        QCOMPARE(mesh.indices, (std::vector<std::uint32_t>{0, 1, 2, 0, 2, 3}));
        QCOMPARE(mesh.uvSets[0][0], glm::vec2(0, 1)); // V from the bottom becomes V from the top
        QCOMPARE(mesh.colours[0], glm::vec4(1.0f, 0.0f, 0.2f, 1.0f));
        QVERIFY(tests::has(source->findings(), "normals-made"));
        QCOMPARE(source->format(), std::string("PLY"));
    }
    void binarySequencesOfBothOrders() {
        for (const bool big : {false, true}) {
            const std::string name = big ? "big_" : "little_";
            for (int f = 0; f < 3; ++f) {
                write(name + std::to_string(f) + ".ply", binary(big, static_cast<float>(f)));
            }
            const auto source = source::open(folder() / (name + "1.ply"));
            QCOMPARE(source->clips()[0].frames, std::size_t(3));
            std::vector<glm::vec3> p(3);
            std::vector<glm::vec3> n(3);
            source->sample(0, 1.5 / 30.0, p, n);
            QCOMPARE(p[2], glm::vec3(0, 1, 1.5f));
            QCOMPARE(n[0], glm::vec3(0, 0, 1)); // made unit length
            QCOMPARE(source->mesh().indices, (std::vector<std::uint32_t>{0, 1, 2}));
        }
    }
    void anotherTopologyNamesItsFrame() {
        write("t_0.ply", binary(false, 0));
        write("t_1.ply", binary(false, 0, 1));
        const auto source = source::open(folder() / "t_0.ply");
        std::vector<glm::vec3> p(3);
        std::vector<glm::vec3> n(3);
        QVERIFY(says(tests::problemOf([&] { source->sample(0, 1.0 / 30.0, p, n); }), "t_1.ply (frame 1)",
                     "face 1 joins other vertices"));
        // The same faces, written as text, are the same faces.
        write(
            "t_1.ply",
            "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n"
            "property float nx\nproperty float ny\nproperty float nz\nelement face 1\n"
            "property list uchar int vertex_index\nend_header\n0 0 0 0 0 1\n1 0 0 0 0 1\n0 1 7 0 0 1\n3 0 1 "
            "2\n");
        const auto again = source::open(folder() / "t_0.ply");
        again->sample(0, 1.0 / 30.0, p, n);
        QCOMPARE(p[2], glm::vec3(0, 1, 7));
    }
    void facesWithoutPropertiesAreProblemsAtOnce() {
        for (const char* format : {"ascii", "binary_little_endian"}) {
            const std::string text =
                std::string("ply\nformat ") + format +
                " 1.0\nelement nothing 4000000000000\nelement vertex 0\nproperty float x\n"
                "property float y\nproperty float z\nelement face 4000000000000\nend_header\n";
            QVERIFY(says(opening("endless.ply", text), "endless.ply", "faces without properties"));
        }
    }
    void countsThatLieAreProblems() {
        const auto changed = [](std::string text, const std::string& from, const std::string& to) {
            return text.replace(text.find(from), from.size(), to);
        };
        const std::string whole = binary(false, 0);
        QVERIFY(says(opening("a.ply", changed(whole, "vertex 3", "vertex 400000000")), "a.ply", "400000000",
                     "more than its"));
        QVERIFY(says(opening("b.ply", changed(whole, "face 1", "face 9")), "b.ply"));
        QVERIFY(says(opening("c.ply", whole.substr(0, whole.size() - 5)), "c.ply", "the file is"));
        QVERIFY(says(opening("d.ply", binary(false, 0, 3)), "face 0", "vertex 3", "there are 3"));
        QVERIFY(says(opening("e.ply", binary(false, 0, -1)), "face 0"));
        QVERIFY(says(opening("f.ply", changed(whole, "float y", "real y")), "line 5", "real"));
        QVERIFY(says(opening("g.ply", "solid\n"), "does not begin"));
        QVERIFY(says(opening("h.ply", changed(whole, "binary_little", "binary_middle")), "binary_middle"));
        QVERIFY(says(opening("i.ply", std::string(kHead) + "0 0 0 0 0 255 0 51\n1,5 0 0 0 0 0 0 0\n" + kBody),
                     "1,5"));
        QVERIFY(says(
            opening("j.ply", changed(whole, "element face 1\nproperty list uchar int vertex_index\n", "")),
            "no faces"));
        // Bytes in the other order than the header says make indices that cannot be.
        QVERIFY(says(opening("k.ply", changed(binary(true, 0), "big", "little")), "k.ply"));
    }
    void binaryDataMayBeginAsOtherTextsDo() {
        // The first vertex's x is FE FF … in this order of bytes: no mark of an encoding.
        for (const std::uint32_t bits : {0xFEFF0000u, 0x0000FEFFu, 0x4100FFFEu}) {
            std::string text = binary(true, 0);
            const std::size_t at = text.find("end_header") + 11;
            std::string x;
            put(x, bits, true);
            text.replace(at, 4, x);
            write("mark.ply", text);
            float wanted;
            std::memcpy(&wanted, &bits, 4);
            QCOMPARE(source::open(folder() / "mark.ply")->mesh().positions[0].x, wanted);
        }
    }
    void listsCannotAskForMoreThanTheFileHolds() {
        std::string text = binary(false, 0);
        text = text.replace(text.find("uchar int"), 9, "uint int ");
        text = text.substr(0, text.find("end_header") + 11);
        for (int i = 0; i < 18; ++i) {
            put(text, 0.0f, false);
        }
        put(text, std::uint32_t(0x7FFFFFFF), false);
        text += "abcdefgh";
        QVERIFY(says(opening("list.ply", text), "2147483647 values", "shorter"));
    }
};

static const ripple::tests::SuiteOf<TestPly> kSuite;
#include "test_ply.moc"
