// The GLSL of every ready-made score against one that was written by hand for the same motion: that both give
// the same positions and normals, and that ours has no more than 110 % of its vertex-stage instructions, as
// the reference compiler and the SPIR-V optimiser count them.

#include "bake/bake.h"
#include "bake/kind.h"
#include "emit/reader_code.h"
#include "emit/score_code.h"
#include "mesh/bounds.h"
#include "motion/perform.h"
#include "motion/ready_scores.h"
#include "shader_job.h"
#include "source/open.h"
#include "suite.h"
#include "vertex_stage.h"

#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

#include <cmath>

#include <glm/geometric.hpp>

using namespace ripple;
using namespace ripple::motion;

namespace {

constexpr double kMostInstructions = 1.10; // of the hand-written one's

struct Moved {
    glm::vec3 position;
    glm::vec3 normal;
    glm::vec2 uvShift;
};

std::string vec3Of(const glm::vec3& v) {
    const auto number = [](float x) {
        return QByteArray::number(static_cast<double>(x), 'e', 9).toStdString();
    };
    return "vec3(" + number(v.x) + ", " + number(v.y) + ", " + number(v.z) + ")";
}

/// What both vertex shaders have: the same inputs and outputs.
std::string around(const emit::ScoreCode& made, const std::string& body, const std::string& main) {
    std::string text = "#version 450\n";
    int location = 0;
    for (const emit::ScoreInput& input : made.inputs) {
        text += "layout(location = " + std::to_string(location++) + ") in " + input.type + " " + input.name +
                ";\n";
    }
    text +=
        "layout(location = " + std::to_string(location) +
        ") in float phase_in;\nlayout(location = 0) out vec3 out_position;\nlayout(location = 1) out vec3 "
        "out_normal;\nlayout(location = 2) out vec2 out_uv_shift;\n";
    return text + body + "void main()\n{\n    out_uv_shift = vec2(0.0);\n" + main + "}\n";
}

std::string emitted(const emit::ScoreCode& made) {
    std::string arguments;
    for (const emit::ScoreInput& input : made.inputs) {
        arguments += input.name + ", ";
    }
    return around(made, made.code,
                  "    test_moved moved = test_at_turn(" + arguments +
                      "phase_in);\n    out_position = moved.position;\n    out_normal = moved.normal;\n" +
                      (made.shiftsUv() ? "    out_uv_shift = moved.uv_shift;\n" : ""));
}

/// A hand-written one reads the inputs by their names, the corners of the model's rest bounds, and has the
/// same noise and curve functions at hand, for they are not what is compared.
std::string handWritten(const emit::ScoreCode& made, const QString& id, const mesh::Bounds& bounds) {
    const auto read = [](const QString& name) {
        QFile file(QString(SOURCE_FOLDER) + "/bench/hand_written/" + name + ".glsl");
        if (!file.open(QIODevice::ReadOnly)) {
            qFatal("no hand-written %s", qPrintable(name));
        }
        return file.readAll().toStdString();
    };
    const std::string library = made.code.substr(0, made.code.find("\ntest_moved test_at_turn("));
    const std::string corners =
        "const vec3 low = " + vec3Of(bounds.min) + ";\nconst vec3 high = " + vec3Of(bounds.max) + ";\n";
    return around(made, corners + library + read("common") + read(id),
                  "    hand(fract(phase_in), out_position, out_normal" +
                      std::string(made.shiftsUv() ? ", out_uv_shift" : "") + ");\n");
}

QByteArray runTool(const QString& program, const QStringList& arguments) {
    QProcess process;
    process.start(program, arguments);
    if (!process.waitForFinished(60000) || process.exitCode() != 0) {
        qFatal("%s: %s%s", qPrintable(program), process.readAllStandardError().constData(),
               process.readAllStandardOutput().constData());
    }
    return process.readAllStandardOutput();
}

/// Instructions of all functions that are left after inlining and optimising, without labels and
/// declarations of variables.
int instructionsOf(const std::string& glsl, const QString& folder) {
    const QString text = folder + "/shader.vert";
    const QString raw = folder + "/raw.spv";
    const QString small = folder + "/small.spv";
    QFile file(text);
    if (!file.open(QIODevice::WriteOnly) || file.write(QByteArray::fromStdString(glsl)) < 0) {
        qFatal("cannot write %s", qPrintable(text));
    }
    file.close();
    runTool("glslangValidator", {"-V", text, "-o", raw});
    runTool("spirv-opt", {"-O", raw, "-o", small});
    int count = 0;
    bool inside = false;
    for (const QByteArray& line : runTool("spirv-dis", {"--no-color", "--no-header", small}).split('\n')) {
        const QByteArray words = line.simplified();
        if (words.contains("= OpFunction ")) {
            inside = true;
        } else if (words == "OpFunctionEnd") {
            inside = false;
        } else if (inside && !words.isEmpty() && !words.contains("= OpLabel") &&
                   !words.contains("= OpVariable ")) {
            ++count;
        }
    }
    return count;
}

} // namespace

class TestInstructions : public QObject {
    Q_OBJECT

    tests::HeadlessGl gl_;
    QTemporaryDir folder_;

private Q_SLOTS:
    void initTestCase() { QVERIFY(gl_.works()); }

    void jointsAreReadInNoMoreThanByHand() {
        const auto source = source::open(std::filesystem::path(DEMO_FOLDER) / "heron.glb");
        bake::Recipe recipe = bake::withKind({}, bake::kJoints);
        const bake::Baked baked = bake::bake(*source, recipe);
        const bake::BakeFormat& format = baked.textures;
        QCOMPARE(format.layout.rowsPerBlock, std::size_t(1));
        QCOMPARE(format.joints.layout.rowsPerBlock, std::size_t(1));
        std::string head =
            "#version 450\nlayout(location = 0) in vec3 rest;\nlayout(location = 1) in vec3 n;\n"
            "layout(location = 2) in vec2 lookup;\nlayout(location = 3) in vec2 when;\n"
            "layout(binding = 0) uniform sampler2D joints;\n"
            "layout(binding = 1) uniform sampler2D influences;\n"
            "layout(location = 0) out vec3 out_position;\nlayout(location = 1) out vec3 "
            "out_normal;\n";
        const auto list = [&](const char* type, const char* name, const auto& valueOf) {
            std::string text = std::string("const ") + type + " " + name + "[] = " + type + "[](";
            for (std::size_t c = 0; c < format.clips.size(); ++c) {
                text += (c ? ", " : "") + valueOf(format.clips[c]);
            }
            return text + ");\n";
        };
        const auto number = [](double value) {
            return QByteArray::number(static_cast<double>(static_cast<float>(value)), 'e', 9).toStdString();
        };
        using bake::BakedClip;
        QFile file(QString(SOURCE_FOLDER) + "/bench/hand_written/joints.glsl");
        QVERIFY(file.open(QIODevice::ReadOnly));
        const std::string hand =
            head +
            list("float", "firsts",
                 [&](const BakedClip& c) { return number(static_cast<double>(c.firstFrame)); }) +
            list("float", "counts",
                 [&](const BakedClip& c) { return number(static_cast<double>(c.frames)); }) +
            list("float", "rates", [&](const BakedClip& c) { return number(c.fps); }) +
            list("bool", "closes",
                 [](const BakedClip& c) { return std::string(c.closed ? "true" : "false"); }) +
            file.readAll().toStdString() +
            "void main() { hand(joints, influences, lookup, rest, n, int(when.x), when.y, out_position, "
            "out_normal); }\n";
        const std::string ours =
            head + emit::readerCode(emit::glsl(), "test", format, baked.bounds) +
            "void main() { test_pose pose = test_at_seconds(joints, influences, lookup, rest, n, "
            "int(when.x), "
            "when.y);\n    out_position = pose.position;\n    out_normal = pose.normal; }\n";

        const std::size_t vertices = source->mesh().vertexCount();
        std::vector<glm::vec2> lookups;
        std::vector<glm::vec2> when;
        for (std::size_t v = 0; v < vertices; ++v) {
            lookups.push_back(format.layout.lookupUv(baked.columnOfVertex[v]));
            when.push_back({static_cast<float>(v % 3), 0.0173f * static_cast<float>(v % 200)});
        }
        const auto run = [&](const std::string& code) {
            tests::VertexStage stage(code, {"out_position", "out_normal"}, 6,
                                     {{0, 3, baked.rig->positions.data()},
                                      {1, 3, baked.rig->normals.data()},
                                      {2, 2, lookups.data()},
                                      {3, 2, when.data()}},
                                     vertices);
            const GLuint textures[] = {tests::textureOf(baked.textures.images[0]),
                                       tests::textureOf(baked.textures.images[1])};
            struct Pose {
                glm::vec3 position;
                glm::vec3 normal;
            };
            return stage.run<Pose>([&] {
                for (int t = 0; t < 2; ++t) {
                    glActiveTexture(GL_TEXTURE0 + static_cast<GLenum>(t));
                    glBindTexture(GL_TEXTURE_2D, textures[t]);
                    glUniform1i(stage.uniform(t == 0 ? "joints" : "influences"), t);
                }
            });
        };
        const auto own = run(ours);
        const auto theirs = run(hand);
        float moved = 0.0f;
        for (std::size_t v = 0; v < vertices; ++v) {
            QVERIFY(glm::distance(own[v].position, theirs[v].position) < 1e-6f);
            QVERIFY(glm::distance(own[v].normal, theirs[v].normal) < 1e-5f);
            moved = std::max(moved, glm::distance(own[v].position, baked.rig->positions[v]));
        }
        QVERIFY(moved > 0.1f);
        const int count = instructionsOf(ours, folder_.path());
        const int bar = instructionsOf(hand, folder_.path());
        qInfo("joints: %d instructions, written by hand %d: %.2f", count, bar,
              static_cast<double>(count) / bar);
        QVERIFY2(count <= kMostInstructions * bar, qPrintable(QString("%1 against %2").arg(count).arg(bar)));
    }

    void emittedCodeIsNoLongerThanHandWritten_data() {
        QTest::addColumn<QString>("id");
        for (const ReadyScore& row : readyScores()) {
            QTest::addRow("%s", row.id) << row.id;
        }
    }
    void emittedCodeIsNoLongerThanHandWritten() {
        QFETCH(QString, id);
        const auto found = std::find_if(readyScores().begin(), readyScores().end(),
                                        [&](const ReadyScore& row) { return id == row.id; });
        const std::filesystem::path demo = DEMO_FOLDER;
        const std::string model = found->demoModel;
        const auto source = source::open(demo / (model == "awning" ? "awning_####.obj" : model + ".glb"));
        const mesh::Mesh& mesh = source->mesh();
        const Score score = makeReady(*found, mesh);
        const Performance performance(score, mesh);
        const emit::ScoreCode made = emit::scoreCode(emit::glsl(), "test", performance.composition());
        if (qEnvironmentVariableIsSet("RIPPLE_SHOW_CODE")) {
            std::puts(emitted(made).c_str());
            std::printf("%s: %d\n", qPrintable(id), instructionsOf(emitted(made), folder_.path()));
            if (!QFile::exists(QString(SOURCE_FOLDER) + "/bench/hand_written/" + id + ".glsl")) {
                return;
            }
        }
        const std::string hand = handWritten(made, id, boundsForReady(mesh));
        const std::size_t n = mesh.vertexCount();
        const VertexFields& fields = performance.fields();
        std::vector<tests::VertexStage::Attribute> attributes;
        std::vector<std::vector<float>> held;
        held.reserve(made.inputs.size() + 1);
        const auto attribute = [&](int width, const void* data) {
            attributes.push_back({static_cast<int>(attributes.size()), width, data});
        };
        const auto interleaved = [&](const std::vector<std::span<const float>>& lists, std::size_t first,
                                     std::size_t count) {
            std::vector<float> all;
            for (std::size_t v = 0; v < n; ++v) {
                for (std::size_t k = 0; k < count; ++k) {
                    all.push_back(lists[first + k].empty() ? 0.0f : lists[first + k][v]);
                }
            }
            held.push_back(std::move(all));
            return held.back().data();
        };
        for (const emit::ScoreInput& input : made.inputs) {
            const auto which = static_cast<std::size_t>(input.whole);
            switch (input.op) {
            case Op::position:
                attribute(3, fields.positions.data());
                break;
            case Op::normal:
                attribute(3, fields.normals.data());
                break;
            case Op::uv:
                attribute(2, interleaved(fields.uvs, 2 * which, 2));
                break;
            case Op::colour:
                attribute(4, interleaved(fields.colours, 0, 4));
                break;
            case Op::colourSlope:
                attribute(3, fields.colourSlopes[which].data());
                break;
            case Op::stored:
                attribute(1, fields.stored[which].data());
                break;
            case Op::storedSlope:
                attribute(3, fields.storedSlopes[which].data());
                break;
            default:
                held.emplace_back(n, 0.25f); // copy_id
                attribute(1, held.back().data());
            }
        }
        std::vector<float>& turns = held.emplace_back(n);
        for (std::size_t v = 0; v < n; ++v) {
            turns[v] = static_cast<float>(v % 61) / 61.0f; // all over the loop
        }
        attribute(1, turns.data());
        const std::vector<const char*> outputs = {"out_position", "out_normal", "out_uv_shift"};
        const auto run = [&](const std::string& code) {
            return tests::VertexStage(code, outputs, sizeof(Moved) / sizeof(float), attributes, n)
                .run<Moved>([] {});
        };
        const std::vector<Moved> ours = run(emitted(made));
        const std::vector<Moved> theirs = run(hand);
        const float size = static_cast<float>(modelOf(mesh).size);
        for (std::size_t v = 0; v < n; ++v) {
            const QByteArray where = QString("vertex %1 at turn %2: %3 m and %4 apart")
                                         .arg(v)
                                         .arg(turns[v])
                                         .arg(glm::distance(ours[v].position, theirs[v].position))
                                         .arg(glm::distance(ours[v].normal, theirs[v].normal))
                                         .toUtf8();
            QVERIFY2(glm::distance(ours[v].position, theirs[v].position) < 1e-5f * size, where);
            QVERIFY2(glm::distance(ours[v].normal, theirs[v].normal) < 2e-3f, where);
            QVERIFY2(glm::distance(ours[v].uvShift, theirs[v].uvShift) < 1e-5f, where);
        }
        const int own = instructionsOf(emitted(made), folder_.path());
        const int bar = instructionsOf(hand, folder_.path());
        const QByteArray figures = QString("%1 %2 instructions, written by hand %3: %4")
                                       .arg(id, -8)
                                       .arg(own, 5)
                                       .arg(bar, 5)
                                       .arg(static_cast<double>(own) / bar, 0, 'f', 2)
                                       .toUtf8();
        qInfo("%s", figures.constData());
        QVERIFY2(own <= kMostInstructions * bar, figures);
        // What the window says of the cost is counted without a compiler.
        const QByteArray counted = QString("%1: %2 counted, %3 left by the optimiser")
                                       .arg(id)
                                       .arg(made.cost.listed)
                                       .arg(own)
                                       .toUtf8();
        qInfo("%s", counted.constData());
        QVERIFY2(std::abs(made.cost.listed - own) <= 0.06 * own, counted);
    }
};

static const ripple::tests::SuiteOf<TestInstructions> kSuite;
#include "test_instructions.moc"
