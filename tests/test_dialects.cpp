// The tree of shader code: that a language is one class, which prints everything without a word of another;
// that parentheses stand where the tree has them, by running random trees; and that the frames between which
// a shader blends are those of bake::framePair(), for every frame.

#include "analytic_source.h"
#include "bake/bake.h"
#include "code/library.h"
#include "emit/reader_code.h"
#include "emit/score_code.h"
#include "suite.h"
#include "vertex_stage.h"
#include "voices.h"

#include <QRegularExpression>
#include <QTest>

#include <array>
#include <cmath>
#include <random>

using namespace ripple;
using code::Base;
using code::Body;
using code::Value;
using tests::AnalyticSource;

namespace {

/// A language that nobody speaks: other names, no "?:", textures that are called.
class Toy : public emit::Dialect {
public:
    const char* id() const override { return "toy"; }
    const char* about() const override { return "Toy 1"; }
    std::string vertexStage(const emit::VertexStage& stage) const override { return stage.code; }

protected:
    TypeNames typeNames() const override {
        return {"truth", "integer", "cardinal", "real",       "real2",       "real3",
                "real4", "matrix",  "picture",  "short real", "short real3", "form "};
    }
    std::string function(code::Op op) const override { return "the_" + Dialect::function(op); }
    std::string sample(const Arguments& in) const override { return in[0] + "(" + in[1] + ")"; }
    std::string fetch(const Arguments& in) const override { return in[0] + "(" + in[1] + ", " + in[2] + ")"; }
    std::string choose(const Arguments& in) const override {
        return "pick(" + in[1] + ", " + in[2] + ", " + in[0] + ")";
    }
    std::string signature(const code::Function& function, const std::string& parameters) const override {
        return "to " + function.name + "(" + parameters + ") give " + type(function.result);
    }
    std::string local(const code::Type& of, const std::string& name, const std::string& value,
                      bool changes) const override {
        return (changes ? "vary " : "keep ") + name + ": " + type(of) + (value.empty() ? "" : " = " + value);
    }
};

/// Comments may say what they like.
QString withoutComments(const std::string& text) {
    return QString::fromStdString(text).remove(QRegularExpression("//[^\n]*"));
}

/// A random tree over three numbers, and what it gives.
struct Random {
    std::mt19937& random;
    std::array<float, 3> numbers;

    std::pair<Value, float> leaf() {
        constexpr std::array kNames = {"a", "b", "c"};
        const std::size_t which = random() % 4;
        if (which < 3) {
            return {code::named(kNames[which], Base::scalar), numbers[which]};
        }
        const float number = static_cast<float>(static_cast<int>(random() % 17) - 8) / 4.0f;
        return {Value(number), number};
    }
    std::pair<Value, float> tree(int depth) {
        if (depth == 0) {
            return leaf();
        }
        const auto [a, x] = tree(depth - 1);
        const auto [b, y] = tree(static_cast<int>(random() % static_cast<unsigned>(depth)));
        switch (random() % 8) {
        case 0:
            return {a + b, x + y};
        case 1:
            return {b - a, y - x};
        case 2:
            return {a - b, x - y};
        case 3:
            return {a * b, x * y};
        case 4:
            return {-a, -x};
        case 5:
            return {b / (code::absolute(a) + 1.0f), y / (std::abs(x) + 1.0f)};
        case 6:
            return {code::choose(a < b, a, b - a), x < y ? x : y - x};
        default:
            return {code::least(a, b) * (a - b), std::min(x, y) * (x - y)};
        }
    }
};

} // namespace

class TestDialects : public QObject {
    Q_OBJECT

    tests::HeadlessGl gl_;

    /// frames_at() of the emitted code, for each of `frames`.
    std::vector<glm::vec3> framesOnGpu(const bake::Baked& baked, std::size_t clip,
                                       std::vector<float> frames) {
        const std::string text = "#version 330 core\nlayout(location = 0) in float frame;\nout vec3 pair;\n" +
                                 emit::readerCode(emit::glsl(), "t", baked.textures, baked.bounds) +
                                 "void main() { pair = t_frames_at(" + std::to_string(clip) +
                                 ", frame); gl_Position = vec4(0.0); }\n";
        return tests::VertexStage(text, {"pair"}, 3, {{0, 1, frames.data()}}, frames.size())
            .run<glm::vec3>([] {});
    }

private Q_SLOTS:
    void initTestCase() { QVERIFY(gl_.works()); }

    void aLanguageIsOneClass() {
        const Toy toy;
        bake::Recipe recipe;
        recipe.normalStore = "oct32";
        recipe.positionStore = "unorm8x2";
        recipe.thin = 0.01;
        const AnalyticSource source(8, tests::timed(2.0), tests::wave(1.0));
        const bake::Baked baked = bake::bake(source, recipe);
        const QString reader = withoutComments(emit::readerCode(toy, "sail", baked.textures, baked.bounds));
        QVERIFY(reader.contains(
            "to sail_at_seconds(picture positions_high, picture positions_low, picture normals, "
            "real2 lookup_uv, real3 rest_position, real3 rest_normal, integer clip, real "
            "seconds) give form sail_pose\n"));
        QVERIFY(reader.contains("    keep high: real4 = positions_high(sail_from_top(uv, sail_rows_from_below));\n"));
        QVERIFY(reader.contains("pick(-under, under, n.x >= 0.0)"));
        motion::Voice noisy = tests::voiceOf(0, 0, 0, -1);
        noisy.shape.kind = motion::ShapeKind::noise;
        const auto composition = motion::composeScore(tests::scoreOf({noisy}), tests::LinearFields::model());
        const emit::ScoreCode score = emit::scoreCode(toy, "sway", composition);
        QVERIFY(withoutComments(score.code).contains("keep in_loop: real = the_fract(turn);"));
        QCOMPARE(score.inputs[0].type, std::string("real3"));
        for (const QString& text : {reader, withoutComments(score.code)}) {
            static const QRegularExpression kGlsl(
                "\\b(vec[234]|float|int|uint|bool|mat3|sampler2D|textureLod|texelFetch|mod)\\b|\\?");
            const auto found = kGlsl.match(text);
            QVERIFY2(!found.hasMatch(), qPrintable(found.captured() + " in " + text));
        }
    }

    void parenthesesStandWhereTheyAreNeededOnly() {
        const Value a = code::named("a", Base::scalar);
        const Value b = code::named("b", Base::scalar);
        const Value c = code::named("c", Base::scalar);
        const auto text = [](const Value& value) { return emit::glsl().expression(value.expression()); };
        QCOMPARE(text(a * (b + c)), std::string("a * (b + c)"));
        QCOMPARE(text(a * b + c), std::string("a * b + c"));
        QCOMPARE(text(a - (b - c)), std::string("a - (b - c)"));
        QCOMPARE(text(a - b - c), std::string("a - b - c"));
        QCOMPARE(text(a / (b * c)), std::string("a / (b * c)"));
        QCOMPARE(text(a - -b), std::string("a - (-b)"));
        QCOMPARE(text(-2.0f * a), std::string("-2.0 * a"));
        QCOMPARE(text(a * -2.0f), std::string("a * (-2.0)"));
        QCOMPARE(text((a + b).x()), std::string("(a + b).x"));
        QCOMPARE(text(code::choose(a < b, a, b) * c), std::string("(a < b ? a : b) * c"));
        QCOMPARE(text((code::natural(6) ^ code::natural(5)) >> 2), std::string("(6u ^ 5u) >> 2u"));
    }

    void randomTreesGiveWhatTheyMean() {
        constexpr int kTrees = 60;
        std::mt19937 random(7);
        code::Module module{"t", {}};
        std::vector<float> wanted;
        std::vector<float> which;
        Body body;
        const std::array<float, 3> numbers = {0.75f, -1.25f, 2.5f};
        for (int t = 0; t < kTrees; ++t) {
            const auto [tree, value] = Random{random, numbers}.tree(2 + t % 4);
            wanted.push_back(value);
            which.push_back(static_cast<float>(t));
            body.when(code::named("which", Base::scalar) == static_cast<float>(t),
                      [&, made = tree](Body& inner) { inner.giveBack(made); });
        }
        body.giveBack(0.0f);
        module.add(code::Function{
            {},
            Base::scalar,
            "t_tree",
            {{Base::scalar, "which"}, {Base::scalar, "a"}, {Base::scalar, "b"}, {Base::scalar, "c"}},
            body.take()});
        const std::string text =
            "#version 330 core\nlayout(location = 0) in float which;\nout float result;\n" +
            emit::glsl().print(module).text +
            "void main() { result = t_tree(which, 0.75, -1.25, 2.5); gl_Position = vec4(0.0); }\n";
        const auto got =
            tests::VertexStage(text, {"result"}, 1, {{0, 1, which.data()}}, which.size()).run<float>([] {});
        for (std::size_t t = 0; t < wanted.size(); ++t) {
            const float size = std::max(1.0f, std::abs(wanted[t]));
            QVERIFY2(std::abs(got[t] - wanted[t]) <= 1e-5f * size, qPrintable(QString::number(t)));
        }
    }

    void aFunctionOfTheLibraryIsThereOnce() {
        code::Module module{"t", {}};
        const Value q = code::named("q", Base::vec4);
        const Value v = code::named("v", Base::vec3);
        code::rotated(module, q, code::rotated(module, q, v));
        QCOMPARE(module.items.size(), std::size_t{1});
        QCOMPARE(emit::glsl().expression(code::rotated(module, q, v).expression()),
                 std::string("t_rotated(q, v)"));
    }

    void framesOfTheShaderAreThoseOfTheProcessor_data() {
        QTest::addColumn<double>("thin");
        QTest::addColumn<bool>("closes");
        for (const bool closes : {true, false}) {
            QTest::addRow("even, %s", closes ? "closed" : "open") << 0.0 << closes;
            QTest::addRow("uneven, %s", closes ? "closed" : "open") << 0.003 << closes;
        }
    }
    void framesOfTheShaderAreThoseOfTheProcessor() {
        QFETCH(double, thin);
        QFETCH(bool, closes);
        // A hook and a rest, so that thinning leaves uneven gaps.
        const AnalyticSource source(4, tests::timed(2.0), [&](glm::vec3 rest, double seconds) {
            const double way =
                closes ? std::pow(std::sin(3.14159265358979 * seconds / 2.0), 4.0) : seconds * seconds;
            return rest + glm::vec3(0.0f, static_cast<float>(0.2 * way), 0.0f);
        });
        bake::Recipe recipe;
        recipe.thin = thin;
        const bake::Baked baked = bake::bake(source, recipe);
        for (std::size_t c = 0; c < baked.textures.clips.size(); ++c) {
            const bake::BakedClip& clip = baked.textures.clips[c];
            QCOMPARE(!clip.times.empty(), thin > 0.0);
            QCOMPARE(clip.closed, closes);
            // Every frame and its quarters, two trips before the clip and after it; and what rounding makes
            // of ends.
            std::vector<float> frames;
            const int length = static_cast<int>(clip.length());
            for (int quarter = -8 * length; quarter <= 12 * length; ++quarter) {
                frames.push_back(static_cast<float>(quarter) / 4.0f);
            }
            for (const float end : {0.0f, static_cast<float>(length - 1), static_cast<float>(length)}) {
                frames.push_back(std::nextafter(end, -1e9f));
                frames.push_back(std::nextafter(end, 1e9f));
            }
            frames.push_back(-1e-8f);
            const auto gpu = framesOnGpu(baked, c, frames);
            for (std::size_t i = 0; i < frames.size(); ++i) {
                const bake::FramePair pair = bake::framePair(clip, frames[i]);
                const QByteArray where =
                    "frame " + QByteArray::number(static_cast<double>(frames[i]), 'g', 9);
                QVERIFY2(gpu[i].x == static_cast<float>(pair.first), where);
                QVERIFY2(gpu[i].y == static_cast<float>(pair.second), where);
                QVERIFY2(std::abs(gpu[i].z - pair.fraction) <= 1e-6f, where);
            }
        }
    }
};

static const ripple::tests::SuiteOf<TestDialects> kSuite;
#include "test_dialects.moc"
