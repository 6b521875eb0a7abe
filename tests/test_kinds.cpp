// That a kind of bake is one row: a toy kind, which is written in this file alone, is baked on the command
// line, stands in the manifest and in the ladder, is read back, and is drawn by emitted code.

#include "analytic_source.h"
#include "bake/encode.h"
#include "bake/error.h"
#include "bake/kind.h"
#include "bake/ladder_climb.h"
#include "bake/reading_code.h"
#include "bake/texture_reader.h"
#include "base/json_section.h"
#include "base/units.h"
#include "bundle/check.h"
#include "bundle/import_notes.h"
#include "bundle/read_bundle.h"
#include "bundle/write_bundle.h"
#include "cli/commands.h"
#include "emit/reader_code.h"
#include "project/document.h"
#include "suite.h"
#include "vertex_stage.h"

#include <QTemporaryDir>
#include <QTest>

#include <numeric>

#include <nlohmann/json.hpp>

using namespace ripple;

namespace {

using Json = nlohmann::ordered_json;

/// One column for the whole mesh: how far it has gone. Twice as far is stored in a second texture, so that
/// there is a quantity that no other kind has.
constexpr bake::Quantity kTwice = {"twice", "doubles", "Doubles", "toy", false};

bake::Baked encodeToy(const source::FrameSource& source, const bake::SamplePlan& plan,
                      const bake::Poses& poses, const bake::Recipe& recipe, const base::Progress& progress,
                      const bake::Baked*) {
    bake::Baked baked;
    bake::TextureSet& set = baked.textures;
    set.kind = recipe.kind;
    set.positionStore = bake::positionStore(recipe.positionStore);
    set.normalStore = bake::kNoNormals;
    set.clips = bake::clipsOf(plan);
    const auto rest = std::span(source.mesh().positions);
    std::vector<glm::vec3> ways(poses.frames());
    bake::Poses::Scratch scratch;
    bake::Range range;
    for (std::size_t f = 0; f < poses.frames(); ++f) {
        const auto pose = poses.at(f, bake::Poses::Want::positions, scratch);
        for (std::size_t v = 0; v < rest.size(); ++v) {
            ways[f] += (pose.positions[v] - rest[v]) / static_cast<float>(rest.size());
        }
        range.min = glm::min(range.min, ways[f]);
        range.max = glm::max(range.max, 2.0f * ways[f]);
    }
    set.ranges = {range};
    set.layout = bake::makeLayout(1, poses.frames(), bake::limitsOf(recipe));
    set.textures = recipe.kind->textures(set);
    for (const bake::TextureFormat& texture : set.textures) {
        image::Image& pixels =
            set.images.emplace_back(texture.width, texture.height, texture.channels, texture.pixel);
        std::fill(pixels.data.begin(), pixels.data.end(), std::byte{0});
        for (std::size_t f = 0; f < ways.size(); ++f) {
            const glm::vec3 way = *texture.quantity == kTwice ? 2.0f * ways[f] : ways[f];
            std::byte* texel = pixels.texel(0, f);
            set.positionStore.encode({&way, 1}, range, &texel);
        }
    }
    baked.columnOfVertex.assign(rest.size(), 0);
    baked.bounds = bake::boundsOf(bake::measureExtents(set.clips, poses, rest, progress));
    return baked;
}

class ToyDecoder : public bake::PoseDecoder {
public:
    using PoseDecoder::PoseDecoder;
    void blend(const bake::FrameBlend& moment, std::span<glm::vec3> positions,
               std::span<glm::vec3> normals) const override {
        glm::vec3 way(0.0f);
        for (std::size_t i = 0; i < moment.count; ++i) {
            glm::vec3 stored;
            reader_.storedPositions(moment.frames[i], {&stored, 1});
            way += stored * moment.weights[i];
        }
        for (std::size_t v = 0; v < positions.size(); ++v) {
            positions[v] = reader_.rest()[v] + way;
        }
        std::copy_n(reader_.unposedNormals().begin(), normals.size(), normals.begin());
    }
};

void addToyCode(bake::ReadingCode& code) {
    using code::Base;
    const auto ways = [&](code::Body& body, const bake::BlendedFrames& frames) {
        std::vector<code::Value> all;
        for (const auto& entry : frames.entries) {
            // Half of what is stored twice.
            const code::Value texel = body.fixed("texel_" + std::to_string(all.size()),
                                                 code::sample(code.texture(kTwice), code.uvOf(entry.frame)));
            all.push_back(0.5f * code.decoded({texel}, entry.frame));
        }
        return all;
    };
    code.addBlends(
        [&](code::Body& body, const bake::BlendedFrames& frames) {
            const code::Value way = frames.sum(ways(body, frames));
            const code::Value pose = body.variable("pose", code.pose());
            body.assign(pose.field("position", Base::vec3), code.restPosition() + way);
            body.assign(pose.field("normal", Base::vec3), code.restNormal());
            body.giveBack(pose);
        },
        [&](code::Body& body, const bake::BlendedFrames& frames) {
            body.giveBack(frames.rate(ways(body, frames)));
        });
}

const bake::Kind kToy = {
    .id = "toy",
    .label = "Toy",
    .about = "Moves all as one",
    .column = "toy",
    .block = "frame",
    .holdsVertices = false,
    .hasPivots = false,
    .approximates = true,
    .ownNormals = false,
    .absolute = false,
    .followsJoints = false,
    .arcs = false,
    .cubic = false,
    .oversampling = 1,
    .everySampling = false,
    .requireFitting =
        [](const bake::Recipe& recipe) {
            if (bake::positionStore(recipe.positionStore).planes > 1) {
                base::fail("toy", "takes one plane", "choose another store");
            }
        },
    .adapt = [](bake::Recipe& recipe) { recipe.content = bake::Content::offset; },
    .blocks = [](const bake::Recipe&, std::size_t frames) { return frames; },
    .encode = &encodeToy,
    .textures =
        [](const bake::BakeFormat& format) {
            std::vector<bake::TextureFormat> textures;
            bake::addStored(textures, format, bake::kPosition, 3, "the way of all");
            bake::addStored(textures, format, kTwice, 3, "twice the way of all");
            return textures;
        },
    .decoder = [](const bake::TextureReader& reader) -> std::unique_ptr<bake::PoseDecoder> {
        return std::make_unique<ToyDecoder>(reader);
    },
    .errorBound = [](const bake::BakeFormat&, double position, const mesh::Bounds&) { return position; },
    .writeSections = [](Json& root, const bake::BakeFormat&) { root["toy"]["times"] = 2; },
    .readSections =
        [](const base::JsonSection& root, bake::BakeFormat&) {
            if (root.object("toy").count("times", 2) != 2) {
                root.object("toy").wrong("times", "is not 2");
            }
        },
    .framesIn = nullptr,
    .addCode = &addToyCode,
    .readingNote = [](const bake::BakeFormat&) { return std::string("A toy. "); },
    .rungs = [](const bake::Climb&) { return std::size_t{1}; },
    .climb =
        [](bake::Climb& climb) {
            bake::Recipe own = bake::withKind(climb.recipe(), kToy);
            own.positionStore = "float32";
            climb.attempt(own);
        },
    .rungLabel = [](const bake::Rung& rung) { return base::plural(rung.columns, "toy"); },
};

/// Everything drifts, a metre a second.
const tests::AnalyticSource& drifting() {
    static const tests::AnalyticSource kSource(6, tests::timed(1.0), tests::drift(1.0f));
    return kSource;
}

} // namespace

class TestKinds : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    std::filesystem::path path(const char* name) const { return folder_.filePath(name).toStdString(); }

private Q_SLOTS:
    void initTestCase() { bake::addKind(kToy); }

    void isThereByName() {
        QCOMPARE(bake::kinds().size(), std::size_t{5});
        QVERIFY(bake::kindByName("toy") == &kToy);
        QVERIFY(!bake::kindByName("toys"));
        const bake::Recipe recipe = bake::withKind({}, kToy);
        project::Document document;
        document.recipe = recipe;
        QVERIFY(project::parseDocument(project::documentText(document, path(".")), path("."), "p").recipe ==
                recipe);
    }

    void isBakedWrittenAndReadBack() {
        bake::Recipe recipe = bake::withKind({}, kToy);
        recipe.positionStore = "float32";
        base::Progress progress;
        const bundle::Manifest written = bundle::writeBundle(drifting(), recipe, {}, path("sail"), progress);
        QCOMPARE(written.textureFiles, (std::vector<std::string>{"sail.position.exr", "sail.twice.exr"}));
        const Json json = Json::parse(bundle::manifestText(written));
        QCOMPARE(json["kind"].get<std::string>(), std::string("toy"));
        QCOMPARE(json["toy"]["files"][0].get<std::string>(), std::string("sail.twice.exr"));
        const std::string notes = bundle::importNotes(written);
        QVERIFY(notes.find("twice the way of all") != std::string::npos);
        QVERIFY(notes.find("A toy. ") != std::string::npos);
        const bundle::Bundle back = bundle::readBundle(path("sail"));
        QVERIFY(back.manifest.textures.kind == &kToy);
        const bake::TextureReader reader = back.reader();
        std::vector<glm::vec3> positions(reader.vertexCount());
        reader.at(back.manifest.textures.clips[0], 7.5f, positions, {});
        for (std::size_t v = 0; v < positions.size(); ++v) {
            QVERIFY(glm::distance(positions[v], back.mesh.positions[v] + glm::vec3(0.25f, 0.0f, 0.0f)) <
                    1e-6f);
        }
        const bundle::CheckReport report = bundle::check(path("sail"), &drifting());
        QVERIFY2(report.ok(), report.problems.empty() ? "" : report.problems[0].line().c_str());
    }

    void isARungOfTheLadder() {
        const auto ladder = bake::climbLadder(drifting(), {}, {}, base::Progress());
        QVERIFY(ladder->complete());
        const auto rung = std::find_if(ladder->rungs.begin(), ladder->rungs.end(),
                                       [](const bake::Rung& each) { return each.recipe.kind == &kToy; });
        QVERIFY(rung != ladder->rungs.end());
        QCOMPARE(rung->label(), std::string("1 toy"));
        QVERIFY(rung->error < 1e-6);
        QCOMPARE(rung->memory, std::size_t{31 * 2 * 16}); // frames × textures × four floats
    }

    void isDrawnByEmittedCode() {
        const tests::HeadlessGl gl;
        QVERIFY(gl.works());
        bake::Recipe recipe = bake::withKind({}, kToy);
        recipe.positionStore = "half";
        const bake::Baked baked = bake::bake(drifting(), recipe);
        const std::string code = emit::readerCode(emit::glsl(), "sail", baked.textures, baked.bounds);
        QVERIFY(
            code.find("sail_at_seconds(highp sampler2D positions, highp sampler2D doubles, vec2 lookup_uv") !=
            std::string::npos);
        const std::string text =
            "#version 330 core\nlayout(location = 0) in vec3 rest;\nuniform sampler2D one;\nuniform "
            "sampler2D two;\nout vec3 posed;\n" +
            code +
            "void main() { posed = sail_at_frame(one, two, vec2(0.5, 0.5 / 31.0), rest, vec3(0.0), "
            "0, 7.5).position; gl_Position = vec4(0.0); }\n";
        const auto& rest = drifting().mesh().positions;
        const tests::VertexStage stage(text, {"posed"}, 3, {{0, 3, rest.data()}}, rest.size());
        GLuint texture = 0;
        glGenTextures(1, &texture);
        glActiveTexture(GL_TEXTURE1);
        glBindTexture(GL_TEXTURE_2D, texture);
        const image::Image& pixels = baked.textures.image(kTwice);
        glPixelStorei(GL_UNPACK_ALIGNMENT, 1);
        glTexImage2D(GL_TEXTURE_2D, 0, GL_RGB16F, 1, 31, 0, GL_RGB, GL_HALF_FLOAT, pixels.data.data());
        glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_NEAREST);
        const auto posed = stage.run<glm::vec3>([&] { glUniform1i(stage.uniform("two"), 1); });
        glDeleteTextures(1, &texture);
        for (std::size_t v = 0; v < rest.size(); ++v) {
            QVERIFY(glm::distance(posed[v], rest[v] + glm::vec3(0.25f, 0.0f, 0.0f)) < 1e-3f);
        }
    }

    void isOnTheCommandLine() {
        const std::string source = std::string(DEMO_FOLDER) + "/windsock.glb";
        const std::string out = path("windsock").string();
        std::vector<std::string> words = {"ripple",  "bake",    source,  "--kind", "toy",
                                          "--store", "float32", "--out", out};
        std::vector<char*> arguments;
        for (std::string& word : words) {
            arguments.push_back(word.data());
        }
        QCOMPARE(cli::run(static_cast<int>(arguments.size()), arguments.data()),
                 static_cast<int>(cli::kDone));
        QVERIFY(bundle::readManifest(out).textures.kind == &kToy);
        words[4] = "toys";
        arguments[4] = words[4].data();
        QCOMPARE(cli::run(static_cast<int>(arguments.size()), arguments.data()),
                 static_cast<int>(cli::kUsage));
    }

    void refusesWhatDoesNotGoTogether() {
        bake::Recipe recipe = bake::withKind({}, kToy);
        recipe.positionStore = "unorm8x2";
        QVERIFY_EXCEPTION_THROWN(bake::requireFitting(recipe), base::Failure);
    }
};

static const ripple::tests::SuiteOf<TestKinds> kSuite;
#include "test_kinds.moc"
