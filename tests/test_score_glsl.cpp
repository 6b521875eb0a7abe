// Scores as GLSL, run on software OpenGL without a display, against the core's own evaluation: what test_languages
// does not look at.

#include "emit/score_code.h"
#include "motion/kinds.h"
#include "motion/evaluate.h"
#include "suite.h"
#include "vertex_stage.h"
#include "voices.h"

#include <QTest>

#include <set>

#include <cmath>

#include <glm/gtc/matrix_transform.hpp>
#include <glm/gtc/type_ptr.hpp>

using namespace ripple;
using namespace ripple::motion;
using tests::LinearFields;
using tests::scoreOf;
using tests::voiceOf;

namespace {

struct Out {
    glm::vec3 position;
    glm::vec3 normal;
    glm::vec2 uvShift;
    float alpha;
};

/// Runs the emitted code on the vertices of `fields`.
std::vector<Out> onGpu(const emit::ScoreCode& made, const VertexFields& fields, const Copy& copy,
                       float turn) {
    std::string head = "#version 330 core\n" + made.code;
    std::string arguments;
    std::vector<tests::VertexStage::Attribute> attributes;
    std::vector<std::vector<float>> held; // pairs and fours that are apart on the processor
    held.reserve(made.inputs.size());
    int location = 0;
    const auto attribute = [&](const std::string& type, int width, const void* data) {
        const std::string name = "a" + std::to_string(location);
        head += "layout(location = " + std::to_string(location) + ") in " + type + " " + name + ";\n";
        attributes.push_back({location++, width, data});
        arguments += name + ", ";
    };
    const auto interleaved = [&](const std::vector<std::span<const float>>& lists, std::size_t first,
                                 std::size_t count) {
        std::vector<float> all;
        for (std::size_t v = 0; v < fields.size(); ++v) {
            for (std::size_t k = 0; k < count; ++k) {
                all.push_back(lists[first + k][v]);
            }
        }
        held.push_back(std::move(all));
        return held.back().data();
    };
    for (const emit::ScoreInput& input : made.inputs) {
        const auto which = static_cast<std::size_t>(input.whole);
        switch (input.op) {
        case Op::position:
            attribute("vec3", 3, fields.positions.data());
            break;
        case Op::normal:
            attribute("vec3", 3, fields.normals.data());
            break;
        case Op::uv:
            attribute("vec2", 2, interleaved(fields.uvs, 2 * which, 2));
            break;
        case Op::uvSlope:
            attribute("vec3", 3, fields.uvSlopes[which].data());
            break;
        case Op::colour:
            attribute("vec4", 4, interleaved(fields.colours, 0, 4));
            break;
        case Op::colourSlope:
            attribute("vec3", 3, fields.colourSlopes[which].data());
            break;
        case Op::stored:
            attribute("float", 1, fields.stored[which].data());
            break;
        case Op::storedSlope:
            attribute("vec3", 3, fields.storedSlopes[which].data());
            break;
        default: // the copy's
            head += "uniform " + input.type + " u_" + input.name + ";\n";
            arguments += "u_" + input.name + ", ";
        }
    }
    head +=
        "uniform float u_turn;\nout vec3 position;\nout vec3 normal;\nout vec2 uv_shift;\nout float alpha;\n"
        "void main() {\n    test_moved moved = test_at_turn(" +
        arguments + "u_turn);\n    position = moved.position;\n    normal = moved.normal;\n    uv_shift = " +
        (made.shiftsUv() ? "moved.uv_shift" : "vec2(0.0)") +
        ";\n    alpha = " + (made.cutsOut() ? "test_alpha(" + arguments + "u_turn)" : "1.0") +
        ";\n    gl_Position = vec4(0.0);\n}\n";
    const tests::VertexStage stage(head, {"position", "normal", "uv_shift", "alpha"},
                                   sizeof(Out) / sizeof(float), attributes, fields.size());
    return stage.run<Out>([&] {
        glUniform1f(stage.uniform("u_turn"), turn);
        glUniform1f(stage.uniform("u_copy_id"), copy.id);
        glUniform1f(stage.uniform("u_copy_scale"), copy.scale);
        glUniform3fv(stage.uniform("u_copy_origin"), 1, glm::value_ptr(copy.origin));
        glUniformMatrix3fv(stage.uniform("u_copy_axes"), 1, GL_FALSE, glm::value_ptr(copy.axes));
        if (!made.numbers.empty()) {
            glUniform1fv(stage.uniform("test_number"), static_cast<GLsizei>(made.numbers.size()),
                         made.numbers.data());
        }
    });
}

} // namespace

class TestScoreGlsl : public QObject {
    Q_OBJECT

    tests::HeadlessGl gl_;
    LinearFields vertices_{300};

    void agrees(const Score& score, emit::Numbers numbers) {
        const Composition composition = composeScore(score, LinearFields::model());
        const emit::ScoreCode made = emit::scoreCode(emit::glsl(), "test", composition, {.numbers = numbers});
        std::vector<NodeId> roots = {composition.position, composition.normal};
        roots.push_back(composition.uvShift.value_or(composition.position));
        if (composition.alpha) {
            roots.push_back(*composition.alpha);
        }
        Copy copy;
        copy.id = 0.375f;
        copy.origin = {0.5f, -0.25f, 1.0f};
        copy.axes =
            glm::mat3(glm::rotate(glm::mat4(1.0f), 0.7f, glm::normalize(glm::vec3(0.2f, 1.0f, 0.1f))));
        copy.scale = 1.5f;
        const std::size_t n = vertices_.fields.size();
        for (const float turn : {0.0f, 0.3125f, 0.8f}) {
            std::vector<glm::vec3> p(n);
            std::vector<glm::vec3> normals(n);
            std::vector<glm::vec3> shift(n);
            std::vector<float> alpha(n, 1.0f);
            std::vector<Evaluator::Target> targets = {{{}, p}, {{}, normals}, {{}, shift}, {alpha, {}}};
            targets.resize(roots.size());
            Evaluator(composition.graph, roots).run(vertices_.fields, copy, turn, targets);
            const std::vector<Out> gpu = onGpu(made, vertices_.fields, copy, turn);
            const float size = static_cast<float>(LinearFields::model().size);
            for (std::size_t v = 0; v < n; ++v) {
                const QByteArray where = QString("%1 vertex %2 turn %3: off by %4")
                                             .arg(score.voices.empty() ? "" : score.voices[0].name.c_str())
                                             .arg(v)
                                             .arg(turn)
                                             .arg(glm::distance(gpu[v].position, p[v]))
                                             .toUtf8();
                QVERIFY2(glm::distance(gpu[v].position, p[v]) < 1e-5f * size, where);
                if (glm::length(normals[v]) > 0.5f) {
                    // A step of a mask, or a kink, may fall to the other side by a bit; then positions agree
                    // still.
                    QVERIFY2(glm::distance(gpu[v].normal, normals[v]) < 2e-3f, where);
                }
                if (made.shiftsUv()) {
                    QVERIFY2(glm::distance(gpu[v].uvShift, glm::vec2(shift[v])) < 1e-5f, where);
                }
                if (made.cutsOut()) {
                    QVERIFY2(std::abs(gpu[v].alpha - alpha[v]) < 2e-4f, where);
                }
            }
        }
    }

private Q_SLOTS:
    void initTestCase() { QVERIFY(gl_.works()); }

    void storedValuesOfLikeNamesAreInputsOfTheirOwn() {
        // "age!" and "age?" have no identifier but "age"; and "slope_age" is what the slope of "age" is
        // called.
        Model model = LinearFields::model();
        model.stored = {"age!", "age?", "slope_age"};
        std::vector<Voice> voices;
        for (const std::string& name : model.stored) {
            Voice voice = voiceOf(0, 0, 1, 5); // held by a stored value
            voice.heldBy[0].stored = name;
            voice.turns = static_cast<int>(voices.size()) + 1;
            voices.push_back(voice);
        }
        const emit::ScoreCode made =
            emit::scoreCode(emit::glsl(), "test", composeScore(scoreOf(voices), model));
        std::set<std::string> names;
        std::set<std::int32_t> values;
        for (const emit::ScoreInput& input : made.inputs) {
            QVERIFY2(names.insert(input.name).second, input.name.c_str());
            if (input.op == Op::stored) {
                values.insert(input.whole);
                // Read in the body, and not only listed.
                QVERIFY(QString::fromStdString(made.code).count(QString::fromStdString(input.name)) >= 2);
            }
        }
        QCOMPARE(values, (std::set<std::int32_t>{0, 1, 2}));
    }
    void wholeScores() {
        const std::vector<Voice> voices = {voiceOf(0, 5, 1, 0), voiceOf(0, 6, 0, -1), voiceOf(3, 4, 1, 0),
                                           voiceOf(4, 2, 1, 2), voiceOf(0, 7, 3, 1),  voiceOf(4, 9, 1, 0)};
        agrees(scoreOf(voices), emit::Numbers::written);
        agrees(scoreOf(voices), emit::Numbers::loose);
        agrees(scoreOf({}), emit::Numbers::written);
    }
    void draggedNumbersNeedNoNewShader() {
        Score score = scoreOf({voiceOf(0, 0, 1, 0), voiceOf(0, 5, 1, -1)});
        score.voices[1].turns = 3; // nothing that both share: that would be another expression
        score.voices[1].phase = 0.29;
        const auto code = [&] {
            return emit::scoreCode(emit::glsl(), "test", composeScore(score, LinearFields::model()),
                                   {.numbers = emit::Numbers::loose});
        };
        const emit::ScoreCode before = code();
        score.voices[0].amplitude.value = 0.31;
        score.voices[0].wavelength.value = 0.9;
        score.voices[0].turns = 5;
        score.voices[0].phase = 0.77;
        score.voices[0].heldBy[0].high = 0.4;
        score.voices[1].degrees = 12.0;
        const emit::ScoreCode after = code();
        QCOMPARE(QString::fromStdString(after.code), QString::fromStdString(before.code));
        QVERIFY(after.numbers != before.numbers);
        score.voices[0].shape.kind = ShapeKind::crested;
        QVERIFY(code().code != before.code);
    }
    void compilesAsTheEmbeddedDialectToo() {
        for (int shape = 0; shape < 6; ++shape) {
            const Composition composition = composeScore(
                scoreOf({voiceOf(shape, 0, shape, shape), voiceOf(shape, 5, 1, -1), voiceOf(shape, 9, 1, 0)}),
                LinearFields::model());
            const std::string code = "#version 300 es\nprecision highp float;\nprecision highp int;\n" +
                                     emit::scoreCode(emit::glsl(), "my score", composition).code +
                                     "void main() { gl_Position = vec4(0.0); }\n";
            QVERIFY(tests::shaderOf(GL_VERTEX_SHADER, code) != 0);
        }
    }
};

static const ripple::tests::SuiteOf<TestScoreGlsl> kSuite;
#include "test_score_glsl.moc"
