#include "base/files.h"
#include "gltf_fixture.h"
#include "problem_of.h"
#include "source/open.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <bit>
#include <cstring>

#include <glm/geometric.hpp>

using namespace ripple;
using tests::says;

namespace {

const char* kMesh =
    "v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nvt 0.5 0.5\nf 1/1 2/2 3/3\nf 1/4 3/3 2/2\n";

void put(std::string& out, std::uint32_t value, bool big) {
    value = big ? __builtin_bswap32(value) : value;
    out.append(reinterpret_cast<const char*>(&value), 4);
}
void put(std::string& out, float value, bool big) {
    put(out, std::bit_cast<std::uint32_t>(value), big);
}

/// Frames in which point p is at (p, frame, 0.25).
void putFrames(std::string& out, std::uint32_t frames, std::uint32_t points, bool big) {
    for (std::uint32_t f = 0; f < frames; ++f) {
        for (std::uint32_t p = 0; p < points; ++p) {
            put(out, static_cast<float>(p), big);
            put(out, static_cast<float>(f), big);
            put(out, 0.25f, big);
        }
    }
}

std::string pc2(std::uint32_t frames, std::uint32_t points, bool big = false) {
    std::string out("POINTCACHE2\0", 12);
    put(out, std::uint32_t(1), big);
    put(out, points, big);
    put(out, 0.0f, big);
    put(out, 1.0f, big);
    put(out, frames, big);
    putFrames(out, frames, points, big);
    return out;
}

std::string mdd(std::uint32_t frames, std::uint32_t points, double fps, bool big = true) {
    std::string out;
    put(out, frames, big);
    put(out, points, big);
    for (std::uint32_t f = 0; f < frames; ++f) {
        put(out, static_cast<float>(f / fps), big);
    }
    putFrames(out, frames, points, big);
    return out;
}

} // namespace

class TestPointCache : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> dir_;
    std::filesystem::path folder() const { return dir_->path().toStdString(); }
    void write(const std::string& name, const std::string& text) { base::writeFile(folder() / name, text); }
    base::Problem opening(const std::string& name) {
        return tests::problemOf([&] { source::open(folder() / name); });
    }

private Q_SLOTS:
    void init() { dir_ = std::make_unique<QTemporaryDir>(); }

    void bothLayoutsMoveTheMeshBesideThem() {
        write("flag.obj", kMesh);
        write("flag.pc2", pc2(4, 3));
        write("flag.mdd", mdd(4, 3, 24.0));
        for (const char* name : {"flag.pc2", "flag.mdd"}) {
            const auto source = source::open(folder() / name);
            // Corner 1/4 splits the first position: four vertices, three points.
            QCOMPARE(source->mesh().vertexCount(), std::size_t(4));
            QCOMPARE(source->clips()[0].frames, std::size_t(4));
            std::vector<glm::vec3> p(4);
            std::vector<glm::vec3> n(4);
            const double fps = source->clips()[0].fps;
            source->sample(0, 2.0 / fps, p, n);
            QCOMPARE(p[0], glm::vec3(0, 2, 0.25f));
            QCOMPARE(p[1], p[0]);
            QCOMPARE(p[3], glm::vec3(2, 2, 0.25f));
            source->sample(0, 2.5 / fps, p, n);
            QCOMPARE(p[2], glm::vec3(1, 2.5f, 0.25f));
            QCOMPARE(source->files().size(), std::size_t(2));
        }
        QCOMPARE(source::open(folder() / "flag.mdd")->clips()[0].fps, 24.0);
        QVERIFY(source::open(folder() / "flag.mdd")->clips()[0].rateKnown);
        QVERIFY(!source::open(folder() / "flag.pc2")->clips()[0].rateKnown);
    }
    void aGlbCanBeTheMesh() {
        tests::GltfFixture f;
        f.mesh({{"POSITION", f.floats(tests::GltfFixture::triangle(), "VEC3", 3)}});
        f.node({{"mesh", 0}});
        f.writeGlb(folder(), "leaf");
        write("leaf.pc2", pc2(2, 3));
        const auto source = source::open(folder() / "leaf.pc2");
        std::vector<glm::vec3> p(3);
        std::vector<glm::vec3> n(3);
        source->sample(0, 1.0 / 30.0, p, n);
        QCOMPARE(p[1], glm::vec3(1, 1, 0.25f));
    }
    void aMeshWithANumberIsNoFrameOfASequence() {
        const auto ply = [](const char* third) {
            return std::string("ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float "
                               "y\nproperty "
                               "float z\nelement face 1\nproperty list uchar int "
                               "vertex_indices\nend_header\n0 0 0\n1 0 "
                               "0\n") +
                   third + "\n3 0 1 2\n";
        };
        write("flag1.ply", ply("0 1 0"));
        write("flag2.ply",
              "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float "
              "z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 "
              "0\n3 2 1 0\n");
        write("flag2.pc2", pc2(2, 3));
        const auto source = source::open(folder() / "flag2.pc2");
        QCOMPARE(source->mesh().indices, (std::vector<std::uint32_t>{2, 1, 0})); // of flag2, not of flag1
        QCOMPARE(source->files()[1].filename().string(), std::string("flag2.ply"));
    }
    void normalsAreSharedAcrossUvSeamsAndNotAcrossHardEdges() {
        // A roof of two triangles whose ridge is a UV seam: 0 1 2 and 3 4 5 with 1 = 3 and 2 = 4. Once smooth
        // (the ridge's normals agree) and once hard (they are those of the faces).
        for (const bool hard : {false, true}) {
            tests::GltfFixture f;
            const std::vector<float> p = {-1, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 1, 0, 0, -1, 1, 0, 0};
            const float side = hard ? 0.6f : 0.0f;
            const float up = hard ? 0.8f : 1.0f;
            std::vector<float> n;
            for (int v = 0; v < 6; ++v) {
                n.insert(n.end(), {v < 3 ? -side : side, up, 0});
            }
            f.mesh({{"POSITION", f.floats(p, "VEC3", 3)},
                    {"NORMAL", f.floats(n, "VEC3", 3)},
                    {"TEXCOORD_0", f.floats({0, 0, 0.4f, 0, 0.4f, 1, 0.6f, 0, 0.6f, 1, 1, 0}, "VEC2", 2)}},
                   f.shorts({0, 1, 2, 3, 5, 4}, "SCALAR", 1));
            f.node({{"mesh", 0}});
            f.writeGlb(folder(), "roof");
            // The second frame lifts the ridge.
            std::string cache = pc2(0, 6);
            const std::uint32_t frames = 2;
            cache.replace(cache.size() - 4, 4, reinterpret_cast<const char*>(&frames), 4);
            for (int frame = 0; frame < 2; ++frame) {
                for (std::size_t v = 0; v < 6; ++v) {
                    const bool ridge = v >= 1 && v <= 4;
                    put(cache, p[3 * v], false);
                    put(cache, frame == 1 && ridge ? 1.0f : 0.0f, false);
                    put(cache, p[3 * v + 2], false);
                }
            }
            write("roof.pc2", cache);
            const auto source = source::open(folder() / "roof.pc2");
            std::vector<glm::vec3> positions(6);
            std::vector<glm::vec3> normals(6);
            source->sample(0, source->clips()[0].duration, positions, normals);
            if (hard) {
                QVERIFY(normals[1].x < -0.6f && normals[3].x > 0.6f);
            } else {
                QCOMPARE(normals[1], normals[3]); // no crack of light
                QVERIFY(glm::distance(normals[1], glm::vec3(0, 1, 0)) < 1e-6f);
            }
        }
    }
    void theOnlyMeshInTheFolderIsItsMesh() {
        write("other.obj", kMesh);
        write("c.pc2", pc2(2, 3));
        QCOMPARE(source::open(folder() / "c.pc2")->clips()[0].frames, std::size_t(2));
        write("second.obj", kMesh);
        QVERIFY(says(opening("c.pc2"), "several meshes", "c.obj"));
    }
    void theOtherByteOrderIsReadAndSaid() {
        write("f.obj", kMesh);
        write("f.pc2", pc2(3, 3, true));
        write("f.mdd", mdd(3, 3, 25.0, false));
        for (const char* name : {"f.pc2", "f.mdd"}) {
            const auto source = source::open(folder() / name);
            QVERIFY(tests::has(source->findings(), "cache-byte-order"));
            std::vector<glm::vec3> p(4);
            std::vector<glm::vec3> n(4);
            source->sample(0, 2.0 / source->clips()[0].fps, p, n);
            QCOMPARE(p[3], glm::vec3(2, 2, 0.25f));
        }
    }
    void unevenTimesAreSaid() {
        std::string text = mdd(4, 3, 24.0);
        const std::uint32_t late = __builtin_bswap32(std::bit_cast<std::uint32_t>(0.07f));
        std::memcpy(text.data() + 8 + 4, &late, 4);
        write("u.obj", kMesh);
        write("u.mdd", text);
        QVERIFY(tests::has(source::open(folder() / "u.mdd")->findings(), "cache-times"));
    }
    void countsThatLieAreProblems() {
        write("f.obj", kMesh);
        write("f.pc2", pc2(3, 3).substr(0, 90));
        QVERIFY(says(opening("f.pc2"), "3 frames of 3 points", "90 bytes"));
        std::string huge = pc2(3, 3);
        std::memset(huge.data() + 16, 0xFF, 4);
        write("f.pc2", huge);
        QVERIFY(says(opening("f.pc2"), "4294967295 points"));
        write("f.pc2", pc2(3, 5));
        QVERIFY(says(opening("f.pc2"), "holds 5 points", "f.obj has 3 vertices"));
        write("f.pc2", "hello");
        QVERIFY(says(opening("f.pc2"), "does not begin"));
        write("f.mdd", std::string("\0\0", 2));
        QVERIFY(says(opening("f.mdd"), "2 bytes"));
        write("f.mdd", mdd(0, 3, 24));
        QVERIFY(says(opening("f.mdd"), "0 frames"));
        std::filesystem::remove(folder() / "f.obj");
        write("f.pc2", pc2(3, 3));
        QVERIFY(says(opening("f.pc2"), "its mesh is not beside it"));
        QVERIFY(says(opening("gone.pc2"), "gone.pc2", "cannot be opened"));
    }
    void aCacheThatIsCutWhileOpenIsAProblem() {
        write("f.obj", kMesh);
        write("f.pc2", pc2(400, 3));
        const auto source = source::open(folder() / "f.pc2");
        std::filesystem::resize_file(folder() / "f.pc2", 100);
        std::vector<glm::vec3> p(4);
        std::vector<glm::vec3> n(4);
        QVERIFY(says(tests::problemOf([&] { source->sample(0, 12.0, p, n); }), "f.pc2", "rewritten"));
        write("g.pc2", pc2(4, 3));
        write("g.obj", kMesh);
        const auto other = source::open(folder() / "g.pc2");
        std::filesystem::remove(folder() / "g.pc2");
        QVERIFY(says(tests::problemOf([&] { other->sample(0, 1.0 / 30.0, p, n); }), "g.pc2", "removed"));
    }
};

static const ripple::tests::SuiteOf<TestPointCache> kSuite;
#include "test_point_cache.moc"
