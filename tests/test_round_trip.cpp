#include "bake/kind.h"
#include "bake/bake.h"
#include "bake/error.h"
#include "problem_of.h"
#include "source/frame_source.h"
#include "suite.h"

#include <QTest>

#include <bit>
#include <random>

#include <glm/geometric.hpp>
#include <glm/vector_relational.hpp>

using namespace ripple;

namespace {

/// A mesh of random triangles in random places and poses: nothing about it is tidy.
class RandomSource : public source::FrameSource {
public:
    explicit RandomSource(unsigned seed) : random_(seed) {
        const std::size_t vertices = 3 + random_() % 90;
        const float size = std::pow(10.0f, within(-2.0f, 2.0f));
        const glm::vec3 middle = glm::vec3(within(-1, 1), within(-1, 1), within(-1, 1)) * size * 3.0f;
        for (std::size_t v = 0; v < vertices; ++v) {
            mesh_.positions.push_back(middle + direction() * size * within(0, 1));
            mesh_.normals.push_back(direction());
        }
        for (std::size_t i = 0; i < vertices / 3 * 3; ++i) {
            mesh_.indices.push_back(static_cast<std::uint32_t>(i));
        }
        mesh::Part part;
        part.vertexCount = static_cast<std::uint32_t>(vertices);
        part.indexCount = static_cast<std::uint32_t>(mesh_.indices.size());
        mesh_.parts.push_back(part);
        mesh_.materials.emplace_back();
        mesh_.uvSets.emplace_back(vertices, glm::vec2(0.0f));
        for (std::size_t c = 0; c < 1 + random_() % 3; ++c) {
            const std::size_t frames = 1 + random_() % 12;
            clips_.push_back(
                {"clip" + std::to_string(c), 0.0, static_cast<double>(frames - 1) / 25.0, frames, 25.0});
            std::vector<std::vector<glm::vec3>> poses;
            const bool flat = random_() % 4 == 0; // nothing moves along y
            const bool still = random_() % 6 == 0;
            const float reach = size * within(0.01f, 1.0f) * static_cast<float>(c + 1);
            for (std::size_t f = 0; f < frames; ++f) {
                poses.emplace_back();
                normals_.emplace_back();
                for (std::size_t v = 0; v < vertices; ++v) {
                    glm::vec3 way = still ? glm::vec3(0.0f) : direction() * reach;
                    way.y = flat ? 0.0f : way.y;
                    poses.back().push_back(mesh_.positions[v] + way);
                    normals_.back().push_back(direction());
                }
            }
            poses_.push_back(poses);
        }
    }

    const mesh::Mesh& mesh() const override { return mesh_; }
    std::span<const source::Clip> clips() const override { return clips_; }
    std::span<const source::MeshEntry> meshes() const override { return {}; }
    std::span<const base::Finding> findings() const override { return {}; }
    std::string format() const override { return "random"; }
    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        const auto f = static_cast<std::size_t>(std::lround(seconds * 25.0));
        std::copy(poses_[clip][f].begin(), poses_[clip][f].end(), positions.begin());
        std::copy_n(normals_[f].begin(), normals.size(), normals.begin());
    }

    float within(float low, float high) {
        return low + (high - low) * static_cast<float>(random_()) / static_cast<float>(random_.max());
    }
    glm::vec3 direction() {
        std::normal_distribution<float> gauss;
        return glm::normalize(glm::vec3(gauss(random_), gauss(random_), gauss(random_)) + 1e-6f);
    }
    std::mt19937& random() { return random_; }

private:
    std::mt19937 random_;
    mesh::Mesh mesh_;
    std::vector<source::Clip> clips_;
    std::vector<std::vector<std::vector<glm::vec3>>> poses_;
    std::vector<std::vector<glm::vec3>> normals_;
};

bool isPowerOfTwo(std::size_t n) {
    return (n & (n - 1)) == 0;
}

/// What must hold of any bake of vertices; the first thing that does not, or nothing.
QString wrongWith(const source::FrameSource& source, const bake::Recipe& recipe) {
    const bake::SamplePlan plan = bake::planSampling(source, recipe);
    const bake::Frames frames = bake::sampleFrames(source, plan);
    const bake::Baked baked = bake::encodeFrames(source, plan, frames, recipe);
    const bake::TextureSet& set = baked.textures;
    const std::size_t vertices = source.mesh().vertexCount();
    if (set.textures.size() != set.kind->textures(set).size()) {
        return "another number of textures";
    }
    for (const image::Image& texture : set.images) {
        if (texture.width > recipe.maxWidth || (recipe.halfUvs && texture.width > 1024) ||
            texture.height != set.layout.height() ||
            texture.data.size() != texture.width * texture.height * texture.bytesPerTexel()) {
            return "a texture of another size";
        }
        if (recipe.powerOfTwo && (!isPowerOfTwo(texture.width) || !isPowerOfTwo(texture.height))) {
            return "no power of two";
        }
    }
    for (std::size_t v = 0; v < vertices; ++v) {
        if (set.layout.columnAt(set.layout.lookupUv(baked.columnOfVertex[v])) != baked.columnOfVertex[v]) {
            return "a lookup that misses its column";
        }
    }
    const bake::TextureReader reader(set, baked.columnOfVertex, source.mesh().positions,
                                     source.mesh().normals);
    std::vector<glm::vec3> p(vertices);
    std::vector<glm::vec3> n(vertices);
    for (std::size_t f = 0; f < set.frameCount(); ++f) {
        reader.frame(f, p, n);
        glm::vec3 largest(0.0f);
        for (const glm::vec3& at : frames.positionsOf(f)) {
            largest = glm::max(largest, glm::abs(at));
        }
        const glm::vec3 bound = set.positionStore.errorBound(set.rangeOf(f)) + largest * 4.8e-7f;
        for (std::size_t v = 0; v < vertices; ++v) {
            if (glm::any(glm::greaterThan(glm::abs(p[v] - frames.positionsOf(f)[v]), bound))) {
                return QString("frame %1, vertex %2 off by %3")
                    .arg(f)
                    .arg(v)
                    .arg(static_cast<double>(glm::distance(p[v], frames.positionsOf(f)[v])));
            }
            const glm::vec3 wanted = set.hasNormals() ? frames.normalsOf(f)[v] : source.mesh().normals[v];
            const double angle =
                2.0 * std::asin(0.5 * static_cast<double>(glm::distance(n[v], wanted))) * 57.29578;
            const double allowed =
                set.hasNormals() ? static_cast<double>(set.normalStore.errorBoundDegrees) + 1e-3 : 1e-3;
            if (angle > allowed) {
                return QString("frame %1, normal %2 turned by %3°").arg(f).arg(v).arg(angle);
            }
        }
    }
    // Asked frame by frame of the source, the bytes are the same.
    return bake::bake(source, plan, recipe).textures.images == set.images ? QString() : "streaming differs";
}

} // namespace

class TestRoundTrip : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void everyStoreContentLayoutAndNormalForm_data() {
        QTest::addColumn<QString>("store");
        QTest::addColumn<QString>("normals");
        for (const bake::PositionStore& store : bake::positionStores()) {
            for (const bake::NormalStore& normals : bake::normalStores()) {
                QTest::addRow("%s %s", store.name, normals.name) << store.name << normals.name;
            }
        }
    }
    void everyStoreContentLayoutAndNormalForm() {
        QFETCH(QString, store);
        QFETCH(QString, normals);
        for (unsigned seed = 0; seed < 40; ++seed) {
            RandomSource source(seed);
            std::mt19937& random = source.random();
            bake::Recipe recipe;
            recipe.positionStore = store.toStdString();
            recipe.normalStore = normals.toStdString();
            recipe.content = random() % 2 ? bake::Content::offset : bake::Content::absolute;
            recipe.normalsInAlpha = normals == "oct16" && store != "half" && random() % 2;
            recipe.rangePerClip = random() % 2;
            recipe.powerOfTwo = random() % 2;
            recipe.halfUvs = random() % 2;
            recipe.closing = random() % 2 ? bake::Closing::asIs : bake::Closing::drop;
            recipe.step = 1 + random() % 3;
            recipe.maxWidth = 1 + random() % 120;
            const QString wrong = wrongWith(source, recipe);
            QVERIFY2(wrong.isEmpty(), qPrintable(QString("seed %1: %2").arg(seed).arg(wrong)));
        }
    }
    void aRangeOfItsOwnKeepsSmallClipsPrecise() {
        // clip2 moves three times as far as clip0: alone, the small one has finer steps.
        for (unsigned seed = 0;; ++seed) {
            RandomSource source(seed);
            if (source.clips().size() < 2) {
                continue;
            }
            bake::Recipe recipe;
            recipe.positionStore = "unorm16";
            const auto bound = [&] {
                const bake::TextureSet set = bake::bake(source, recipe).textures;
                return glm::length(set.positionStore.errorBound(set.rangeOf(0)));
            };
            const float common = bound();
            recipe.rangePerClip = true;
            QVERIFY(bound() <= common);
            QCOMPARE(bake::bake(source, recipe).textures.ranges.size(), source.clips().size());
            return;
        }
    }
    void whatDoesNotGoTogetherIsSaid() {
        const RandomSource source(1);
        bake::Recipe recipe;
        recipe.normalsInAlpha = true;
        recipe.normalStore = "oct16";
        QVERIFY(tests::says(tests::problemOf([&] { bake::bake(source, recipe); }), "half", "unorm16"));
        recipe.positionStore = "unorm16";
        recipe.normalStore = "oct32";
        QVERIFY(tests::says(tests::problemOf([&] { bake::bake(source, recipe); }), "oct32", "oct16"));
        recipe.normalStore = "none"; // nothing to put there: no matter
        QCOMPARE(bake::bake(source, recipe).textures.textures.size(), std::size_t(1));
    }
    void theLimitOfTextureSidesIsSaidWithItsWayOut() {
        const RandomSource source(3);
        bake::Recipe recipe;
        recipe.maxWidth = bake::kLargestTexture + 1;
        QVERIFY(tests::says(tests::problemOf([&] { bake::bake(source, recipe); }), "16385", "16384"));
        // 20 000 columns of one frame fit one above the other; of 16 385 frames none do.
        QCOMPARE(bake::makeLayout(20000, 1, {16384, false}).rowsPerBlock, std::size_t(2));
        QVERIFY(tests::says(tests::problemOf([] {
                                bake::makeLayout(1, 16385, {16384, false});
                            }),
                            "over the limit", "keep fewer frames"));
        QVERIFY(tests::says(tests::problemOf([] {
                                bake::makeLayout(10000, 9000, {2048, false});
                            }),
                            "allow a wider texture"));
        // Padding may pass the limit where the frames alone do not.
        QVERIFY(bake::makeLayout(16000, 16000, {16384, false}).height() <= 16384);
    }
    void padsToTheSmallestPowersOfTwo() {
        const bake::Layout layout = bake::makeLayout(4225, 108, {2048, true});
        QVERIFY(isPowerOfTwo(layout.width) && isPowerOfTwo(layout.height()));
        std::size_t smallest = std::size_t(1) << 40;
        for (std::size_t w = 1; w <= 2048; w *= 2) {
            const std::size_t h = std::bit_ceil((4225 + w - 1) / w * 108);
            smallest = h <= 16384 ? std::min(smallest, w * h) : smallest;
        }
        QCOMPARE(layout.width * layout.height(), smallest);
        QVERIFY(layout.height() >= layout.usedHeight());
    }
    void halfUvsStillHitTheirColumn() {
        bake::Recipe recipe;
        recipe.halfUvs = true;
        recipe.maxWidth = 8192;
        const bake::LayoutLimits limits = bake::limitsOf(recipe);
        QCOMPARE(limits.maxWidth, bake::kWidestForHalfUvs);
        const bake::Layout layout = bake::makeLayout(5000, 3, limits);
        const auto asHalf = [](float value) { // 11 bits, to nearest
            const float unit = std::exp2(std::floor(std::log2(value)) - 10.0f);
            return std::round(value / unit) * unit;
        };
        for (std::size_t c = 0; c < 5000; ++c) {
            const glm::vec2 uv = layout.lookupUv(c);
            QCOMPARE(layout.columnAt({asHalf(uv.x), asHalf(uv.y)}), c);
        }
    }
};

static const ripple::tests::SuiteOf<TestRoundTrip> kSuite;
#include "test_round_trip.moc"
