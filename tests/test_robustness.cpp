// Spoilt files, by the thousand: whatever comes, it is read or it is a problem in words. Nothing else.

#include "analytic_source.h"
#include "base/files.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "bundle/write_bundle.h"
#include "gltf_fixture.h"
#include "image/exr.h"
#include "image/png.h"
#include "project/document.h"
#include "source/obj_parse.h"
#include "source/open.h"
#include "spoil.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <random>

using namespace ripple;

namespace {

/// Reads `rounds` spoilt copies; a quarter of them unless RIPPLE_DAMAGED is set, since the fuzz targets go on from there.
/// True if every one was read or failed with a complete problem.
template <typename Read>
bool survives(const base::Bytes& whole, int rounds, const Read& read) {
    rounds = qEnvironmentVariableIsSet("RIPPLE_DAMAGED") ? rounds : rounds / 4;
    int failed = 0;
    for (int seed = 0; seed < rounds; ++seed) {
        std::mt19937 random(static_cast<unsigned>(seed));
        const base::Bytes bytes = tests::spoil(whole, random);
        try {
            read(bytes);
        } catch (const base::Failure& failure) {
            ++failed;
            const base::Problem& problem = failure.problem();
            if (problem.where.empty() || problem.what.empty() || problem.fix.empty()) {
                qWarning("seed %d: an incomplete problem: %s", seed, problem.line().c_str());
                return false;
            }
        } catch (const std::exception& error) {
            qWarning("seed %d: %s", seed, error.what());
            return false;
        }
    }
    return failed > 0; // some of the damage must have been noticed
}

tests::GltfFixture skinnedAndMorphed() {
    tests::GltfFixture f;
    const int position = f.floats(tests::GltfFixture::triangle(), "VEC3", 3);
    const int uv = f.floats({0, 0, 1, 0, 0, 1}, "VEC2", 2);
    const int joints = f.shorts({0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0}, "VEC4", 4);
    const int weights = f.floats({1, 0, 0, 0, 1, 0, 0, 0, 0.5f, 0.5f, 0, 0}, "VEC4", 4);
    const int indices = f.shorts({0, 1, 2}, "SCALAR", 1);
    f.mesh({{"POSITION", position}, {"TEXCOORD_0", uv}, {"JOINTS_0", joints}, {"WEIGHTS_0", weights}},
           indices);
    f.root["meshes"][0]["primitives"][0]["targets"] = {
        {{"POSITION", f.floats({0, 0, 1, 0, 0, 1, 0, 0, 1}, "VEC3", 3)}}};
    const int sparse = f.view(std::vector<std::uint16_t>{1, 0});
    const int values = f.view(std::vector<float>{1, 1, 1});
    f.root["accessors"][0]["sparse"] = {{"count", 1},
                                        {"indices", {{"bufferView", sparse}, {"componentType", 5123}}},
                                        {"values", {{"bufferView", values}}}};
    f.node({{"mesh", 0}, {"skin", 0}});
    f.node({{"children", {2}}});
    f.node({{"translation", {0, 1, 0}}});
    f.root["scenes"][0]["nodes"] = {0, 1};
    f.root["skins"] = {{{"joints", {1, 2}}}};
    f.channel(2, "translation", f.floats({0, 1}, "SCALAR", 1), f.floats({0, 1, 0, 4, 1, 0}, "VEC3", 3),
              "LINEAR");
    f.channel(0, "weights", f.floats({0, 1}, "SCALAR", 1), f.floats({0, 1}, "SCALAR", 1), "STEP");
    return f;
}

} // namespace

class TestRobustness : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;
    std::filesystem::path folder() const { return dir_.path().toStdString(); }

    static void openAndSample(const std::filesystem::path& file) {
        const auto source = source::open(file);
        const std::size_t vertices = source->mesh().vertexCount();
        std::vector<glm::vec3> p(vertices);
        std::vector<glm::vec3> n(vertices);
        for (std::size_t clip = 0; clip < source->clips().size(); ++clip) {
            source->sample(clip, source->clips()[clip].start + 0.3, p, n);
        }
    }

private Q_SLOTS:
    void glb() {
        const base::Bytes whole = base::readFile(skinnedAndMorphed().writeGlb(folder(), "whole"));
        QVERIFY(survives(whole, 3000, [&](const base::Bytes& bytes) {
            base::writeFile(folder() / "spoilt.glb", bytes);
            openAndSample(folder() / "spoilt.glb");
        }));
    }
    void gltf() {
        const base::Bytes whole = base::readFile(skinnedAndMorphed().write(folder(), "whole"));
        QVERIFY(survives(whole, 3000, [&](const base::Bytes& bytes) {
            base::writeFile(folder() / "spoilt.gltf", bytes);
            openAndSample(folder() / "spoilt.gltf");
        }));
    }
    void obj() {
        std::string text = "mtllib a.mtl\nusemtl red\n";
        for (int i = 0; i < 12; ++i) {
            text += "v " + std::to_string(0.37 * i) + " 1.5e-3 -" + std::to_string(i) +
                    "\nvt 0.25 0.5\nvn 0 1 0\n";
        }
        text += "f 1/1/1 2/2/2 3/3/3 4/4/4\nf -3/-3/-3 -2//-2 -1\nusemtl blue\nf 5 6 7\n";
        const auto span = base::asBytes(text);
        QVERIFY(survives(base::Bytes(span.begin(), span.end()), 5000, [&](const base::Bytes& bytes) {
            base::writeFile(folder() / "spoilt.obj", bytes);
            openAndSample(folder() / "spoilt.obj");
        }));
    }
    void ply() {
        std::string text =
            "ply\nformat binary_little_endian 1.0\nelement vertex 5\nproperty float x\nproperty float y\n"
            "property float z\nproperty uchar red\nproperty uchar green\nproperty uchar blue\n"
            "element face 2\nproperty list uchar int vertex_indices\nend_header\n";
        for (int v = 0; v < 5; ++v) {
            const float p[3] = {0.3f * static_cast<float>(v), static_cast<float>(v % 2), 1.0f};
            text.append(reinterpret_cast<const char*>(p), sizeof p);
            text += "abc";
        }
        const std::int32_t faces[] = {0, 1, 2, 0, 2, 3, 4};
        text += '\3';
        text.append(reinterpret_cast<const char*>(faces), 12);
        text += '\4';
        text.append(reinterpret_cast<const char*>(faces + 3), 16);
        const auto span = base::asBytes(text);
        QVERIFY(survives(base::Bytes(span.begin(), span.end()), 4000, [&](const base::Bytes& bytes) {
            base::writeFile(folder() / "spoilt.ply", bytes);
            openAndSample(folder() / "spoilt.ply");
        }));
    }
    void pointCaches() {
        base::writeFile(folder() / "cache.obj", std::string_view("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"));
        std::string text("POINTCACHE2\0", 12);
        const std::uint32_t head[] = {1, 3, 0, 0x3F800000u, 6};
        text.append(reinterpret_cast<const char*>(head), sizeof head);
        text += std::string(6 * 36, '\0');
        const auto span = base::asBytes(text);
        QVERIFY(survives(base::Bytes(span.begin(), span.end()), 2000, [&](const base::Bytes& bytes) {
            base::writeFile(folder() / "cache.pc2", bytes);
            openAndSample(folder() / "cache.pc2");
        }));
    }
    void images() {
        image::Image picture(48, 40, 3, image::Pixel::half);
        std::fill(picture.data.begin(), picture.data.end(), std::byte{0x21});
        QVERIFY(survives(image::encodeExr(picture), 2000,
                         [](const base::Bytes& bytes) { image::decodeExr(bytes, "spoilt.exr"); }));
        image::Image deep(48, 40, 3, image::Pixel::u16);
        std::fill(deep.data.begin(), deep.data.end(), std::byte{0x21});
        QVERIFY(survives(image::encodePng(deep), 2000,
                         [](const base::Bytes& bytes) { image::decodePng(bytes, "spoilt.png"); }));
    }
    void manifests() {
        const tests::AnalyticSource source(6, tests::timed(1.0, 8.0), tests::wave(1.0));
        base::Progress progress;
        bundle::writeBundle(source, {}, {}, folder() / "sheet", progress);
        const base::Bytes whole = base::readFile(folder() / "sheet/sheet.bundle.json");
        QVERIFY(survives(whole, 1500, [&](const base::Bytes& bytes) {
            base::writeFile(folder() / "sheet/sheet.bundle.json", bytes);
            const bundle::CheckReport report = bundle::check(folder() / "sheet", &source);
            if (!report.ok()) {
                throw base::Failure(report.problems.front());
            }
        }));
    }
    void projects() {
        project::Document document;
        document.source.path = "/a/b.glb";
        document.recipe.clips = {{"one", bake::FrameWindow{1, 5}, {}}};
        const std::string text = project::documentText(document, "/a");
        const auto span = base::asBytes(text);
        QVERIFY(survives(base::Bytes(span.begin(), span.end()), 3000, [](const base::Bytes& bytes) {
            project::parseDocument(std::string(base::asText(bytes)), "/a", "spoilt.curly");
        }));
    }
};

static const ripple::tests::SuiteOf<TestRobustness> kSuite;
#include "test_robustness.moc"
