// The GLSL that is shipped, run on software OpenGL without a display, against the core's own decoding: what
// test_languages does not look at.

#include "analytic_source.h"
#include "every_bake.h"
#include "model_files.h"
#include "random_rig.h"
#include "shader_job.h"
#include "suite.h"
#include "turning_pieces.h"
#include "two_clips.h"
#include "vertex_stage.h"
#include "bake/joint_texels.h"
#include "bake/kind.h"
#include "bake/bake.h"
#include "bake/texture_reader.h"
#include "bundle/mesh_file.h"
#include "emit/reader_code.h"
#include "source/open.h"

#include <QRegularExpression>
#include <QTest>

#include <glm/geometric.hpp>

using namespace ripple;
using tests::AnalyticSource;
using tests::textureOf;
using tests::TwoClips;

namespace {

struct Posed {
    glm::vec3 position;
    glm::vec3 normal;
};

/// The vertex stage alone, its results captured by transform feedback.
class VertexRun {
public:
    /// `captured`: what of the pose comes back as Posed::normal.
    VertexRun(const source::FrameSource& source, const bake::Baked& baked, const std::string& call,
              const std::string& captured = "pose.normal", const std::string& times = "clip, at")
        : vertices_(source.mesh().vertexCount()) {
        samplers_ = emit::readerSamplers(baked.textures);
        std::string uniforms;
        std::string arguments;
        for (const std::string& sampler : samplers_) {
            uniforms += "uniform sampler2D " + sampler + ";\n";
            arguments += sampler + ", ";
        }
        const std::string code = "#version 330 core\n" +
                                 emit::readerCode(emit::glsl(), "test", baked.textures, baked.bounds) + R"(
layout(location = 0) in vec3 rest;
layout(location = 1) in vec3 rest_normal;
layout(location = 2) in vec2 lookup;
layout(location = 3) in vec3 pivot;
layout(location = 4) in vec4 joint_pairs;
layout(location = 5) in vec4 joint_weights;
layout(location = 6) in vec4 more_joint_weights;
)" + uniforms + R"(
uniform int clip;
uniform float at;
out vec3 posed;
out vec3 posed_normal;
void main() {
    test_pose pose = test_)" + call +
                                 "(" + arguments + lookupOf(baked.textures.joints) +
                                 R"(rest, rest_normal, )" +
                                 (emit::readerWantsPivot(baked.textures) ? "pivot, " : "") + times + R"();
    posed = pose.position;
    posed_normal = )" + captured +
                                 R"(;
    gl_Position = vec4(0.0);
}
)";
        std::vector<glm::vec2> lookups;
        for (const std::uint32_t column : baked.columnOfVertex) {
            lookups.push_back(baked.textures.layout.lookupUv(column));
        }
        std::vector<glm::vec3> pivots(vertices_, glm::vec3(0.0f));
        for (std::size_t v = 0; v < vertices_ && !baked.textures.pivots.empty(); ++v) {
            pivots[v] = baked.textures.pivots[baked.columnOfVertex[v]];
        }
        const auto inputs = baked.textures.joints.inUvs
                                ? bake::jointInputs(bundle::uvSetsOf(baked.textures, baked.columnOfVertex),
                                                    baked.textures.joints.influences)
                                : bake::JointInputs{};
        std::vector<tests::VertexStage::Attribute> attributes = {
            {0, 3, baked.shippedPositions(source.mesh()).data()},
            {1, 3, baked.shippedNormals(source.mesh()).data()},
            {2, 2, lookups.data()}};
        if (baked.textures.joints.inUvs) {
            attributes.push_back({4, 4, inputs.pairs.data()});
            attributes.push_back({5, 4, inputs.weights.data()});
            attributes.push_back({6, 4, inputs.moreWeights.data()});
        }
        if (emit::readerWantsPivot(baked.textures)) {
            attributes.push_back({3, 3, pivots.data()});
        }
        stage_ = std::make_unique<tests::VertexStage>(code, std::vector<const char*>{"posed", "posed_normal"},
                                                      sizeof(Posed) / sizeof(float), attributes, vertices_);
        for (const image::Image& pixels : baked.textures.images) {
            textures_.push_back(textureOf(pixels));
        }
    }

    std::vector<Posed> run(int clip, float at) {
        return stage_->run<Posed>([&] {
            for (std::size_t t = 0; t < textures_.size(); ++t) {
                glActiveTexture(GL_TEXTURE0 + static_cast<GLenum>(t));
                glBindTexture(GL_TEXTURE_2D, textures_[t]);
                glUniform1i(stage_->uniform(samplers_[t]), static_cast<GLint>(t));
            }
            glUniform1i(stage_->uniform("clip"), clip);
            glUniform1f(stage_->uniform("at"), at);
        });
    }

private:
    static std::string lookupOf(const bake::JointFormat& joints) {
        return !joints.inUvs            ? "lookup, "
               : joints.influences == 8 ? "joint_pairs, joint_weights, more_joint_weights, "
                                        : "joint_pairs.xy, joint_weights, ";
    }
    std::size_t vertices_;
    std::unique_ptr<tests::VertexStage> stage_;
    std::vector<GLuint> textures_;
    std::vector<std::string> samplers_;
};

} // namespace

class TestEmittedGlsl : public QObject {
    Q_OBJECT

    tests::HeadlessGl gl_;

private Q_SLOTS:
    void initTestCase() { QVERIFY(gl_.works()); }
    void readsTangentsLikeTheCore() {
        TwoClips source;
        for (std::size_t v = 0; v < source.mesh().vertexCount(); ++v) {
            const float angle = 0.1f * static_cast<float>(v);
            source.editMesh().tangents.emplace_back(std::cos(angle), 0.0f, std::sin(angle), 1.0f);
        }
        for (const char* normals : {"unorm8", "oct16", "oct32"}) {
            bake::Recipe recipe;
            recipe.positionStore = "unorm16";
            recipe.normalStore = normals;
            recipe.normalsInAlpha = recipe.normalStore == "oct16";
            recipe.tangents = true;
            recipe.maxWidth = 100;
            const bake::Baked baked = bake::bake(source, recipe);
            const bake::TextureReader reader = baked.reader(source.mesh());
            VertexRun run(source, baked, "at_frame", "pose.tangent");
            std::vector<glm::vec3> tangents(source.mesh().vertexCount());
            for (const float frame : {0.0f, 2.5f, 9.25f}) {
                reader.tangentsAt(baked.textures.clips[0], frame, tangents);
                const std::vector<Posed> gpu = run.run(0, frame);
                for (std::size_t v = 0; v < tangents.size(); ++v) {
                    QVERIFY(glm::distance(gpu[v].normal, tangents[v]) < 1e-5f);
                }
            }
            agrees(source, recipe);
        }
    }
    void readsEightInfluencesInUvSetsLikeTheCore() {
        const auto source =
            tests::randomRig({.joints = 9, .influences = 8, .bindApart = true, .seed = 3});
        for (const bake::Recipe& recipe : tests::everyBakeOfJoints()) {
            if (recipe.influences == 8 && recipe.influencesInUvs) {
                agrees(*source, recipe);
            }
        }
    }
    void readsFiftyRigsLikeTheirSource() {
        for (const tests::RigPlan& plan : tests::manyRigs()) {
            source::Reading reading;
            reading.mending.maxInfluences = 8; // as many as are stored
            isWhereItsSourceIs(*source::playScene(tests::randomScene(plan), reading));
        }
    }
    void readsAnimatedModelsLikeTheirSource() {
        isWhereItsSourceIs(*source::open(std::filesystem::path(DEMO_FOLDER) / "heron.glb"));
        std::size_t looked = 0;
        for (const auto& file : tests::modelFiles()) {
            std::shared_ptr<const source::FrameSource> source;
            try {
                source = source::open(file);
                source->rig();
            } catch (const base::Failure&) {
                continue; // not read, or moved by more than joints
            }
            const source::Clip& clip = source->clips()[0];
            if (clip.duration > 0.0 && clip.duration * clip.fps < 2000.0 && source->influences() <= 8) {
                isWhereItsSourceIs(*source);
                ++looked;
            }
        }
        QVERIFY2(looked > 20, qPrintable(QString::number(looked)));
    }

private:
    /// Joints in full floats, read by the graphics card at kept frames of the first clip: within a
    /// hundred-thousandth of the size of where the source itself has the vertices.
    static void isWhereItsSourceIs(const source::FrameSource& source) {
        bake::Recipe recipe;
        recipe.kind = &bake::kJoints;
        recipe.positionStore = "float32";
        recipe.influences = 8;
        recipe.oversampling = 1;
        recipe.maxWidth = bake::kLargestTexture;
        recipe.closing = bake::Closing::asIs;
        recipe.clips = {{source.clips()[0].name, std::nullopt, std::nullopt}};
        const bake::SamplePlan plan = bake::planSampling(source, recipe);
        const bake::Baked baked = bake::bake(source, plan, recipe);
        VertexRun run(source, baked, "at_frame");
        const std::vector<double>& seconds = plan.clips[0].seconds;
        std::vector<glm::vec3> truth(source.mesh().vertexCount());
        for (const std::size_t frame : {std::size_t(0), seconds.size() / 3, seconds.size() - 1}) {
            bake::samplePose(source, plan.clips[0], seconds[frame], truth, {});
            const std::vector<Posed> gpu = run.run(0, static_cast<float>(frame));
            for (std::size_t v = 0; v < truth.size(); ++v) {
                QVERIFY2(glm::distance(gpu[v].position, truth[v]) < 1e-5f * baked.bounds.diagonal(),
                         qPrintable(QString("%1, frame %2, vertex %3: %4 of %5")
                                        .arg(QString::fromStdString(source.meshes()[0].name))
                                        .arg(frame)
                                        .arg(v)
                                        .arg(glm::distance(gpu[v].position, truth[v]))
                                        .arg(baked.bounds.diagonal())));
            }
        }
    }
    /// From the first clip to the last, at both ends and between.
    static void fadesAgree(const source::FrameSource& source, const bake::Baked& baked, float near) {
        const bake::TextureReader reader = baked.reader(source.mesh());
        const bake::BakedClip& from = baked.textures.clips.front();
        const bake::BakedClip& to = baked.textures.clips.back();
        const int last = static_cast<int>(baked.textures.clips.size()) - 1;
        VertexRun run(source, baked, "faded_at_frames", "pose.normal",
                      "clip, 1.25 + 4.0 * at, " + std::to_string(last) + ", 3.5 + 2.0 * at, at");
        std::vector<glm::vec3> p(source.mesh().vertexCount());
        std::vector<glm::vec3> n(p.size());
        for (const float at : {0.0f, 0.125f, 0.5f, 0.875f, 1.0f, 1.5f}) {
            const bake::FrameBlend moment =
                bake::faded(bake::blendAt(from, 1.25f + 4.0f * at, baked.textures.blend),
                            bake::blendAt(to, 3.5f + 2.0f * at, baked.textures.blend),
                            static_cast<float>(bake::easedFade(static_cast<double>(at))));
            reader.blended(moment, p, n);
            const std::vector<Posed> gpu = run.run(0, at);
            for (std::size_t v = 0; v < p.size(); ++v) {
                QVERIFY2(glm::distance(gpu[v].position, p[v]) < 2.0f * near,
                         qPrintable(QString("%1 at %2: vertex %3 off by %4")
                                        .arg(baked.textures.kind->id)
                                        .arg(at)
                                        .arg(v)
                                        .arg(glm::distance(gpu[v].position, p[v]))));
                QVERIFY(glm::distance(gpu[v].normal, n[v]) < 3e-5f);
            }
        }
    }
    /// The emitted code gives what the core's reader gives, in and between frames, inside and outside of
    /// clips.
    static void agrees(const source::FrameSource& source, const bake::Recipe& recipe) {
        const bake::Baked baked = bake::bake(source, recipe);
        const bake::TextureReader reader = baked.reader(source.mesh());
        VertexRun run(source, baked, "at_frame");
        const std::size_t vertices = source.mesh().vertexCount();
        // A joint's place is the sum of a few numbers as large as the model.
        const float near = recipe.kind == &bake::kJoints ? 2e-6f * (1.0f + baked.bounds.diagonal()) : 2e-6f;
        fadesAgree(source, baked, near);
        std::vector<glm::vec3> p(vertices);
        std::vector<glm::vec3> n(vertices);
        for (int clip = 0; clip < static_cast<int>(baked.textures.clips.size()); ++clip) {
            for (const float frame :
                 {0.0f, 1.0f, 2.5f, 4.75f, 9.0f, 9.5f, 10.0f, 27.25f, -0.5f, -3.0f, 1000000.0f}) {
                reader.at(baked.textures.clips[static_cast<std::size_t>(clip)], frame, p, n);
                const std::vector<Posed> gpu = run.run(clip, frame);
                for (std::size_t v = 0; v < vertices; ++v) {
                    QVERIFY2(glm::distance(gpu[v].position, p[v]) < near,
                             qPrintable(QString("clip %1 frame %2 vertex %3").arg(clip).arg(frame).arg(v)));
                    QVERIFY2(glm::distance(gpu[v].normal, n[v]) < 1e-5f,
                             qPrintable(QString("%1 clip %2 frame %3 normal %4 off by %5")
                                            .arg(baked.textures.positionStore.name)
                                            .arg(clip)
                                            .arg(frame)
                                            .arg(v)
                                            .arg(glm::distance(gpu[v].normal, n[v]))));
                }
            }
        }
    }
private Q_SLOTS:
    void turnsAndSecondsAreTheSameTime() {
        const TwoClips source;
        const bake::Baked baked = bake::bake(source, {});
        const auto samePose = [](const std::vector<Posed>& a, const std::vector<Posed>& b) {
            for (std::size_t v = 0; v < a.size(); ++v) {
                if (glm::distance(a[v].position, b[v].position) > 1e-6f) {
                    return false;
                }
            }
            return true;
        };
        VertexRun frames(source, baked, "at_frame");
        VertexRun turns(source, baked, "at_turn");
        VertexRun seconds(source, baked, "at_seconds");
        QVERIFY(samePose(turns.run(0, 0.25f), frames.run(0, 2.5f)));
        QVERIFY(samePose(turns.run(0, 3.25f), frames.run(0, 2.5f))); // a closed clip wraps
        QVERIFY(samePose(turns.run(1, 1.0f), frames.run(1, 6.0f)));  // an open one ends on its last frame
        QVERIFY(samePose(turns.run(1, 7.0f), frames.run(1, 6.0f)));
        QVERIFY(samePose(seconds.run(0, 0.25f), frames.run(0, 2.5f)));
        QVERIFY(!samePose(frames.run(0, 0.0f), frames.run(0, 2.5f)));
    }
    void theLargestTexturesAreReadAtTheirCentres() {
        // 16 384 texels high: float UVs must still hit every row.
        const AnalyticSource source(8, tests::sequence(2048), tests::drift(0.01f));
        bake::Recipe recipe;
        recipe.maxWidth = 8;
        recipe.content = bake::Content::absolute;
        recipe.positionStore = "float32";
        const bake::Baked baked = bake::bake(source, recipe);
        QCOMPARE(baked.textures.layout.height(), std::size_t(16384));
        const bake::TextureReader reader = baked.reader(source.mesh());
        VertexRun run(source, baked, "at_frame");
        std::vector<glm::vec3> p(64);
        std::vector<glm::vec3> n(64);
        for (int frame = 0; frame < 2048; frame += 31) {
            reader.frame(static_cast<std::size_t>(frame), p, n);
            const auto gpu = run.run(0, static_cast<float>(frame));
            for (std::size_t v = 0; v < 64; ++v) {
                QCOMPARE(gpu[v].position, p[v]);
            }
        }
    }
    void compilesAsTheEmbeddedDialectToo() {
        const TwoClips source;
        for (int choice = 0; choice < 8; ++choice) {
            const bake::PositionStore& store = bake::positionStores()[static_cast<std::size_t>(choice % 4)];
            bake::Recipe recipe;
            recipe.positionStore = store.name;
            recipe.normalStore = "oct16";
            recipe.normalsInAlpha = store.holdsNormals() && choice != 6;
            recipe.thin = choice < 4 ? 0.0 : 0.02;
            recipe.kind = choice == 6 ? &bake::kShapes : &bake::kVertices;
            const bake::Baked baked = bake::bake(source, recipe);
            const std::string code =
                "#version 300 es\n" +
                emit::readerCode(emit::glsl(), "two clips", baked.textures, baked.bounds) +
                "void main() { gl_Position = vec4(0.0); }\n";
            QVERIFY(tests::shaderOf(GL_VERTEX_SHADER, code) != 0);
            // A vertex stage's numbers are highp by themselves; samplers are lowp unless the code says more.
            static const QRegularExpression kSampler("(\\w+) sampler2D");
            for (auto all = kSampler.globalMatch(QString::fromStdString(code)); all.hasNext();) {
                QCOMPARE(all.next().captured(1), QString("highp"));
            }
        }
    }
    void openClipsOfOneFrameStandStill() {
        const AnalyticSource source(4, tests::timed(0.0), tests::drift(1.0f));
        const bake::Baked baked = bake::bake(source, {});
        VertexRun run(source, baked, "at_seconds");
        for (const float at : {0.0f, 0.7f, 1e6f}) {
            QCOMPARE(run.run(0, at)[5].position, source.mesh().positions[5]);
        }
    }
    void namesBecomeIdentifiers() {
        QCOMPARE(emit::identifier("market awning (2)"), std::string("market_awning_2"));
        QCOMPARE(emit::identifier("3d__wave"), std::string("m3d_wave"));
        QCOMPARE(emit::identifier("glow"), std::string("mglow"));
        QCOMPARE(emit::identifier("水"), std::string("bake"));
    }
};

static const ripple::tests::SuiteOf<TestEmittedGlsl> kSuite;
#include "test_emitted_glsl.moc"
