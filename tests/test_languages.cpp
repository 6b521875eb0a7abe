// Scores and reading code in every shader language, run and compared with the core: GLSL and HLSL on software
// OpenGL (HLSL compiled by the reference compiler and translated), WGSL in a browser.

#include "bake/bake.h"
#include "bake/joint_texels.h"
#include "bake/kind.h"
#include "bake/pose_decoder.h"
#include "bake/test_row.h"
#include "image/texels.h"
#include "bake/texture_reader.h"
#include "bundle/score_bundle.h"
#include "code/value.h"
#include "emit/reader_code.h"
#include "emit/score_code.h"
#include "every_bake.h"
#include "every_parameter.h"
#include "exact_joints.h"
#include "hlsl_run.h"
#include "pairwise.h"
#include "random_rig.h"
#include "mesh/test_shapes.h"
#include "motion/evaluate.h"
#include "motion/ready_scores.h"
#include "motion/velocity.h"
#include "scatter/copy_code.h"
#include "scatter/merge_code.h"
#include "shader_job.h"
#include "suite.h"
#include "turning_pieces.h"
#include "two_clips.h"
#include "voices.h"
#include "wgsl_run.h"

#include <QTest>

#include <cmath>
#include <random>
#include <set>

#include <glm/gtc/matrix_transform.hpp>

using namespace ripple;
using namespace ripple::motion;
using tests::LinearFields;
using tests::scoreOf;
using tests::ShaderJob;
using tests::ShaderRow;
using tests::voiceOf;

namespace {

constexpr std::size_t kInputs = 16;
constexpr double kLoopSeconds = 2.5;

/// What the rows of a job hold for each input of a score.
std::string argumentOf(const emit::Dialect& dialect, const emit::ScoreInput& input) {
    const auto whole = [&](int first) { return "i" + std::to_string(first + input.whole) + ".xyz"; };
    if (input.op == Op::position) {
        return "i0.xyz";
    }
    if (input.op == Op::normal) {
        return "i1.xyz";
    }
    if (input.op == Op::uv) {
        return input.whole == 0 ? "i6.xy" : "i6.zw";
    }
    if (input.op == Op::uvSlope) {
        return whole(8);
    }
    if (input.op == Op::colour) {
        return "i7";
    }
    if (input.op == Op::colourSlope) {
        return whole(12);
    }
    if (input.op == Op::stored) {
        return "i5.w";
    }
    if (input.op == Op::storedSlope) {
        return dialect.type(code::Base::vec3) + "(i8.w, i9.w, i10.w)";
    }
    if (input.op == Op::copyId) {
        return "i2.w";
    }
    if (input.op == Op::copyScale) {
        return "i3.w";
    }
    if (input.op == Op::copyOrigin) {
        return "i2.xyz";
    }
    return dialect.type(code::Base::mat3) + "(i3.xyz, i4.xyz, i5.xyz)"; // axes
}

/// A function NAME_tried() that gives the parameters these values.
std::string triedParameters(const emit::Dialect& dialect, const std::string& name,
                            const Composition& composition, const std::vector<double>& values) {
    code::Module module{name, {}};
    const code::Type type = code::Type::of(module.own("parameters"));
    code::Body body;
    const code::Value tried = body.variable("tried", type);
    for (std::size_t i = 0; i < values.size(); ++i) {
        const CodeParameter& parameter = composition.parameters[i];
        const code::Type own = parameter.whole ? code::Base::whole : code::Base::scalar;
        body.assign(tried.field(parameter.name, own),
                    parameter.whole ? code::Value(static_cast<int>(values[i])) : code::Value(values[i]));
    }
    body.giveBack(tried);
    module.add(code::Function{{}, type, module.own("tried"), {}, body.take()});
    return dialect.print(module).text;
}

/// `values`: of the parameters; none: as the code has them.
ShaderJob::Case caseOf(const emit::Dialect& dialect, const std::string& name, const Composition& composition,
                       emit::Sine sine, const bundle::Target& target,
                       const std::vector<double>& values = {}) {
    const emit::ScoreCode made = emit::scoreCode(dialect, name, composition,
                                                 {.sine = sine,
                                                  .loopSeconds = kLoopSeconds,
                                                  .space = target.space(),
                                                  .vFromBelow = target.vFromBelow});
    std::string arguments;
    for (const emit::ScoreInput& input : made.inputs) {
        arguments += argumentOf(dialect, input) + ", ";
    }
    if (!composition.parameters.empty()) {
        arguments += name + (values.empty() ? "_defaults(), " : "_tried(), ");
    }
    const std::string moved = name + "_at_turn(" + arguments + "i1.w)";
    const std::string velocity = name + "_velocity_at_turn(" + arguments + "i1.w)";
    const std::string four = dialect.type(code::Base::vec4);
    return {made.code +
                (values.empty() ? std::string() : triedParameters(dialect, name, composition, values)),
            {four + "(" + moved + ".position, " +
                 (made.cutsOut() ? name + "_alpha(" + arguments + "i1.w)" : std::string("1.0")) + ")",
             four + "(" + moved + ".normal, " + velocity + ".x)",
             four + "(" + (made.shiftsUv() ? moved + ".uv_shift, " : std::string("0.0, 0.0, ")) + velocity +
                 ".yz)"}};
}

/// A row of `fields` with everything that a score may read.
void addRow(ShaderJob& job, const VertexFields& fields, std::size_t v, const Copy& copy, float turn,
            std::size_t which) {
    const auto uv = [&](std::size_t k) { return fields.uvs[k][v]; };
    const auto colour = [&](std::size_t k) { return fields.colours[k][v]; };
    const glm::vec3& stored = fields.storedSlopes[0][v];
    job.rows.emplace_back(fields.positions[v], static_cast<float>(which));
    job.rows.emplace_back(fields.normals[v], turn);
    job.rows.emplace_back(copy.origin, copy.id);
    job.rows.emplace_back(copy.axes[0], copy.scale);
    job.rows.emplace_back(copy.axes[1], 0.0f);
    job.rows.emplace_back(copy.axes[2], fields.stored[0][v]);
    job.rows.emplace_back(uv(0), uv(1), uv(2), uv(3));
    job.rows.emplace_back(colour(0), colour(1), colour(2), colour(3));
    for (std::size_t k = 0; k < 4; ++k) {
        job.rows.emplace_back(fields.uvSlopes[k][v], k < 3 ? stored[static_cast<int>(k)] : 0.0f);
    }
    for (std::size_t k = 0; k < 4; ++k) {
        job.rows.emplace_back(fields.colourSlopes[k][v], 0.0f);
    }
}

struct Truth {
    glm::vec3 position;
    glm::vec3 normal;
    glm::vec3 shift;
    float alpha;
    glm::vec3 velocity; ///< metres a turn
};

std::vector<Truth> truthOf(Composition composition, const VertexFields& fields, const Copy& copy,
                           float turn) {
    std::vector<NodeId> roots = {composition.position, composition.normal,
                                 composition.uvShift.value_or(composition.position)};
    roots.push_back(addVelocity(composition));
    const std::size_t n = fields.size();
    std::vector<glm::vec3> speeds(n);
    std::vector<glm::vec3> p(n);
    std::vector<glm::vec3> normals(n);
    std::vector<glm::vec3> shift(n);
    std::vector<float> alpha(n, 1.0f);
    std::vector<Evaluator::Target> targets = {{{}, p}, {{}, normals}, {{}, shift}, {{}, speeds}};
    if (composition.alpha) {
        roots.push_back(*composition.alpha);
        targets.push_back({alpha, {}});
    }
    Evaluator(composition.graph, roots).run(fields, copy, turn, targets);
    std::vector<Truth> truth(n);
    for (std::size_t v = 0; v < n; ++v) {
        truth[v] = {p[v], normals[v], composition.uvShift ? shift[v] : glm::vec3(0.0f), alpha[v], speeds[v]};
    }
    return truth;
}

Copy randomCopy(std::mt19937& random) {
    std::uniform_real_distribution<float> any(-1.0f, 1.0f);
    Copy copy;
    copy.id = std::abs(any(random));
    copy.origin = 3.0f * glm::vec3(any(random), any(random), any(random));
    copy.scale = 1.0f + 0.5f * any(random);
    copy.axes = glm::mat3(glm::rotate(glm::mat4(1.0f), 3.0f * any(random),
                                      glm::normalize(glm::vec3(any(random), 1.0f, any(random)))));
    return copy;
}

} // namespace

class TestLanguages : public QObject {
    Q_OBJECT

    /// The software driver that interprets: the other one compiles each of the many programs for a tenth of a
    /// second.
    const bool interpreted_ = qputenv("GALLIUM_DRIVER", "softpipe");
    tests::HeadlessGl gl_;
    std::unique_ptr<tests::WgslBrowser> browser_;
    /// The language that is tested; null: all.
    const emit::Dialect* only_ = emit::dialectByName(qEnvironmentVariable("RIPPLE_LANGUAGE").toStdString());
    static constexpr std::size_t kTogether = 4; ///< scores in one program

    std::vector<ShaderRow> run(const emit::Dialect& dialect, const ShaderJob& job) {
        if (&dialect == &emit::glsl()) {
            return tests::runGlsl(job);
        }
        if (&dialect == &emit::hlsl()) {
            return tests::runHlsl(job);
        }
        auto rows = browser_->run(job);
        if (rows.empty()) {
            qWarning("%s", qPrintable(browser_->error()));
        }
        return rows;
    }

    bundle::Target target_; ///< that scores are written for

    /// What an importer of the target makes of the inputs of a score.
    void importRow(ShaderJob& job, std::size_t first) const {
        const mesh::AxisMap space = target_.space();
        const auto set = [&](std::size_t i, const glm::dvec3& made) {
            job.rows[first + i] = glm::vec4(glm::vec3(made), job.rows[first + i].w);
        };
        const auto given = [&](std::size_t i) { return glm::dvec3(job.rows[first + i]); };
        set(0, space.of(given(0)));
        set(1, space.turned(given(1)));
        set(2, space.of(given(2)));
        // The copy's rotation, seen in the target's axes.
        const glm::dmat3 turn = space.matrix();
        const glm::dmat3 axes = turn * glm::dmat3(given(3), given(4), given(5)) * glm::transpose(turn);
        for (int c = 0; c < 3; ++c) {
            set(3 + static_cast<std::size_t>(c), axes[c]);
        }
        if (target_.vFromBelow) {
            job.rows[first + 6].y = 1.0f - job.rows[first + 6].y;
            job.rows[first + 6].w = 1.0f - job.rows[first + 6].w;
        }
    }
    /// What the code gives for the target, back in metres.
    void exportRow(glm::vec4* out) const {
        const mesh::AxisMap ours = target_.space().back();
        const glm::vec3 position(ours.of(glm::dvec3(out[0])));
        const glm::vec3 normal(ours.turned(glm::dvec3(out[1])));
        const glm::vec3 velocity(ours.of(glm::dvec3(out[1].w, out[2].z, out[2].w)));
        out[0] = glm::vec4(position, out[0].w);
        out[1] = glm::vec4(normal, velocity.x);
        out[2] = glm::vec4(out[2].x, target_.vFromBelow ? -out[2].y : out[2].y, velocity.y, velocity.z);
    }

    std::size_t inputs_ = 2000; ///< vertices that a score is run on

    /// Runs the scores together, each at four turns, one of which lies hours after the
    /// start.
    void agree(const emit::Dialect& dialect, const std::vector<Score>& scores, emit::Sine sine,
               const std::vector<std::vector<double>>& values = {}) {
        const float size = static_cast<float>(LinearFields::model().size);
        // The browser's own sine is good to 2e-4.
        const bool coarse = &dialect == &emit::wgsl() && sine == emit::Sine::own;
        // Parameters go to twice the strength of twice the sizes.
        const float further = values.empty() ? 1.0f : 4.0f;
        const float tolerance = (coarse ? 5e-4f : &dialect == &emit::wgsl() ? 1e-4f : 1e-5f) * size * further;
        ShaderJob job;
        job.inputs = kInputs;
        std::vector<Truth> truth;
        std::mt19937 random(7);
        for (std::size_t s = 0; s < scores.size(); ++s) {
            Composition composition = composeScore(scores[s], LinearFields::model());
            job.cases.push_back(caseOf(dialect, "s" + std::to_string(s), composition, sine, target_,
                                       values.empty() ? std::vector<double>() : values[s]));
            if (!values.empty()) {
                composition = composeScore(settledAt(scores[s], values[s]), LinearFields::model());
            }
            for (const float turn : {0.0f, 0.3125f, 0.875f, 4096.5f}) {
                const LinearFields vertices(inputs_ / 4, static_cast<unsigned>(random()));
                const Copy copy = randomCopy(random);
                for (std::size_t v = 0; v < vertices.fields.size(); ++v) {
                    addRow(job, vertices.fields, v, copy, turn, s);
                    importRow(job, job.rows.size() - kInputs);
                }
                // The loop closes: a whole number of turns is none.
                const auto more = truthOf(composition, vertices.fields, copy, turn - std::floor(turn));
                truth.insert(truth.end(), more.begin(), more.end());
            }
        }
        std::vector<ShaderRow> rows = run(dialect, job);
        QCOMPARE(rows.size(), truth.size());
        for (ShaderRow& row : rows) {
            exportRow(row.out);
        }
        std::size_t otherSides = 0;
        for (std::size_t r = 0; r < rows.size(); ++r) {
            const Score& score = scores[static_cast<std::size_t>(job.rows[r * kInputs].w)];
            const glm::vec4* out = rows[r].out;
            const float off = glm::distance(glm::vec3(out[0]), truth[r].position);
            const QByteArray where = QString("%1 %2 row %3: off by %4")
                                         .arg(dialect.id())
                                         .arg(score.voices.empty() ? "" : score.voices[0].name.c_str())
                                         .arg(r)
                                         .arg(static_cast<double>(off))
                                         .toUtf8();
            QVERIFY2(off < tolerance, where); // false for what is no number, too
            if (glm::length(truth[r].normal) > 0.5f) {
                // A step of a mask, or a kink, may fall to the other side by a bit.
                QVERIFY2(glm::distance(glm::vec3(out[1]), truth[r].normal) < 2e-3f, where);
            }
            QVERIFY2(glm::distance(glm::vec2(out[2]), glm::vec2(truth[r].shift)) < tolerance, where);
            QVERIFY2(std::abs(out[0].w - truth[r].alpha) < 1e-3f, where);
            const glm::vec3 velocity =
                static_cast<float>(kLoopSeconds) * glm::vec3(out[1].w, out[2].z, out[2].w);
            const float apart = glm::distance(velocity, truth[r].velocity);
            QVERIFY2(std::isfinite(apart), where);
            // At a kink, or a step of a mask, speeds differ by side.
            otherSides += apart > 20.0f * tolerance + 1e-4f * glm::length(truth[r].velocity);
        }
        QVERIFY2(otherSides <= rows.size() / 100,
                 qPrintable(QString("%1 of %2 speeds of %3")
                                .arg(otherSides)
                                .arg(rows.size())
                                .arg(scores[0].voices.empty() ? "" : scores[0].voices[0].name.c_str())));
    }

    /// The score with its parameters at these values, held within their ranges.
    static Score settledAt(Score score, const std::vector<double>& values) {
        for (std::size_t i = 0; i < values.size(); ++i) {
            const Parameter& parameter = score.parameters[i];
            setAdjustable(score, parameter.voice, parameter.field,
                          std::clamp(values[i], parameter.least, parameter.most));
        }
        return score;
    }

    void eachLanguage() {
        QTest::addColumn<QString>("language");
        for (const emit::Dialect* dialect : languages()) {
            QTest::addRow("%s", dialect->id()) << dialect->id();
        }
    }
    std::vector<const emit::Dialect*> languages() const {
        return only_ ? std::vector<const emit::Dialect*>{only_} : emit::dialects();
    }
    const emit::Dialect& language() {
        QFETCH(QString, language);
        return *emit::dialectByName(language.toStdString());
    }
    /// All of them in GLSL; in each other language another third, since compilers take long there. With
    /// RIPPLE_EVERY_SCORE set, all.
    template <typename T>
    std::vector<T> ofThese(const std::vector<T>& all) {
        const emit::Dialect& dialect = language();
        if (&dialect == &emit::glsl() || qEnvironmentVariableIsSet("RIPPLE_EVERY_SCORE")) {
            return all;
        }
        std::vector<T> third;
        for (std::size_t i = &dialect == &emit::hlsl() ? 0 : 1; i < all.size(); i += 3) {
            third.push_back(all[i]);
        }
        return third;
    }
    void agreeInParts(const std::vector<Score>& scores, std::size_t together,
                      std::optional<emit::Sine> given = {}) {
        const emit::Dialect& dialect = language();
        const emit::Sine sine =
            given.value_or(&dialect == &emit::wgsl() ? emit::Sine::exact : emit::Sine::own);
        for (std::size_t s = 0; s < scores.size() && !QTest::currentTestFailed(); s += together) {
            agree(dialect,
                  {scores.begin() + static_cast<std::ptrdiff_t>(s),
                   scores.begin() + static_cast<std::ptrdiff_t>(std::min(s + together, scores.size()))},
                  sine);
        }
    }

    /// The reading code gives what the core's reader gives: at stored frames, between them, at wraps,
    /// outside.
    /// `target`: whose importer has made of mesh, V and images what the target says.
    void readsLikeTheCore(const source::FrameSource& source, const bake::Recipe& recipe,
                          const bundle::Target& target = {}) {
        const emit::Dialect& dialect = language();
        const mesh::AxisMap space = target.space();
        const bake::Baked baked = bundle::bakeFor(target, source, bake::planSampling(source, recipe), recipe);
        const bake::BakeFormat& format = baked.textures;
        const bake::TextureReader reader = baked.reader(source.mesh());
        ShaderJob job;
        job.inputs = 4;
        std::vector<image::Image> images = baked.textures.images;
        for (image::Image& image : images) {
            image = target.rowsFromBelow ? upsideDown(image) : image;
            job.textures.push_back(&image);
        }
        job.cases.push_back(
            {emit::readerCode(dialect, "b", format, baked.bounds), readingCall(dialect, format)});
        std::optional<tests::ExactJoints> exact; // rigid joints are held against double precision
        if (format.kind == &bake::kJoints && !format.joints.matrix && !space.changes()) {
            exact.emplace(baked, source.mesh());
        }
        struct Pose {
            glm::vec3 position;
            glm::vec3 normal;
            std::optional<glm::vec3> velocity; ///< metres a second; none at stored frames, where it may jump
        };
        std::vector<Pose> truth;
        const std::size_t vertices = source.mesh().vertexCount();
        std::vector<glm::vec3> p(vertices);
        std::vector<glm::vec3> n(vertices);
        // How fast positions change, by differences over `step` to both sides and over twice of that, whose
        // errors cancel to the fourth order: in single precision wide steps are needed.
        const auto speedsOf = [&](float step, float seconds, const auto& poseAt) {
            std::vector<glm::vec3> speeds(vertices);
            const auto addUp = [&](float steps, float weight) {
                poseAt(steps * step);
                for (std::size_t v = 0; v < vertices; ++v) {
                    speeds[v] += weight / (12.0f * seconds) * p[v];
                }
            };
            addUp(1.0f, 8.0f);
            addUp(-1.0f, -8.0f);
            addUp(2.0f, -1.0f);
            addUp(-2.0f, 1.0f);
            return speeds;
        };
        for (std::size_t clip = 0; clip < format.clips.size(); ++clip) {
            for (const float frame :
                 {0.0f, 0.3f, 0.5f, 1.0f, 2.5f, 4.75f, 9.0f, 9.5f, 10.0f, 27.25f, -0.5f, -3.0f, 1e6f}) {
                constexpr float kStep = 0.03f;
                const std::vector<glm::vec3> speeds =
                    speedsOf(kStep, kStep / static_cast<float>(format.clips[clip].fps),
                             [&](float away) { reader.at(format.clips[clip], frame + away, p, n); });
                reader.at(format.clips[clip], frame, p, n);
                for (std::size_t v = 0; v < vertices; ++v) {
                    addReadingRow(job, baked, source.mesh(), v, 0.0f, frame);
                    job.rows[job.rows.size() - 2].z = static_cast<float>(clip);
                    truth.push_back(
                        {p[v], n[v], frame == std::floor(frame) ? std::nullopt : std::optional(speeds[v])});
                    if (exact) {
                        const bake::BakedClip& own = format.clips[clip];
                        const double moment = static_cast<double>(frame);
                        const glm::dvec3 apart =
                            exact->position(exact->at(own, moment), v) - glm::dvec3(truth.back().position);
                        QVERIFY2(glm::length(apart) <
                                     4e-6 * (1.0 + static_cast<double>(baked.bounds.diagonal())),
                                 qPrintable(QString("frame %1 vertex %2: the reader is off by %3")
                                                .arg(moment)
                                                .arg(v)
                                                .arg(glm::length(apart))));
                        if (truth.back().velocity) {
                            truth.back().velocity = glm::vec3(exact->velocity(
                                [&](double seconds) { return exact->at(own, seconds * own.fps); },
                                moment / own.fps, v));
                        }
                    }
                }
            }
        }
        // A cross-fade from the first clip to the last while both play on.
        job.cases.push_back({"", fadingCall(dialect, format)});
        for (const float t : {0.0f, 0.03f, 0.11f, 0.27f, 0.38f, 0.4f, 0.55f}) {
            const float step = 0.03f / static_cast<float>(format.clips.front().fps);
            const auto [between, moment] = fadeAt(format, t);
            const bool smooth = between == fadeAt(format, t - 2.0f * step).first &&
                                between == fadeAt(format, t + 2.0f * step).first && t > 2.0f * step &&
                                std::abs(t - kFade) > 2.0f * step; // where it sets in its speed has a kink
            const std::vector<glm::vec3> speeds = speedsOf(
                step, step, [&](float away) { reader.blended(fadeAt(format, t + away).second, p, n); });
            reader.blended(moment, p, n);
            for (std::size_t v = 0; v < vertices; ++v) {
                addReadingRow(job, baked, source.mesh(), v, 1.0f, t);
                truth.push_back({p[v], n[v], smooth ? std::optional(speeds[v]) : std::nullopt});
                if (exact && smooth) {
                    truth.back().velocity = glm::vec3(exact->velocity(
                        [&](double seconds) {
                            const bake::BakedClip& from = format.clips.front();
                            const bake::BakedClip& to = format.clips.back();
                            return tests::ExactJoints::faded(
                                exact->at(from, (static_cast<double>(0.12f) + seconds) * from.fps),
                                exact->at(to, (static_cast<double>(0.05f) + seconds) * to.fps),
                                bake::easedFade(seconds / static_cast<double>(kFade)));
                        },
                        static_cast<double>(t), v));
                }
            }
        }
        for (std::size_t r = 0; r < job.rows.size(); r += job.inputs) {
            job.rows[r] = glm::vec4(glm::vec3(space.of(glm::dvec3(job.rows[r]))), job.rows[r].w);
            job.rows[r + 1] =
                glm::vec4(glm::vec3(space.turned(glm::dvec3(job.rows[r + 1]))), job.rows[r + 1].w);
        }
        for (Pose& pose : truth) {
            pose.position = glm::vec3(space.of(glm::dvec3(pose.position)));
            pose.normal = glm::vec3(space.turned(glm::dvec3(pose.normal)));
            if (pose.velocity) {
                pose.velocity = glm::vec3(space.of(glm::dvec3(*pose.velocity)));
            }
        }
        for (std::size_t r = 0; target.vFromBelow && r < job.rows.size(); r += job.inputs) {
            glm::vec4& lookup = job.rows[r + 2];
            glm::vec4& more = job.rows[r + 3];
            lookup.y = 1.0f - lookup.y;
            more.y = 1.0f - more.y;
            more.w = format.joints.inUvs ? 1.0f - more.w : more.w;
        }
        const std::vector<ShaderRow> rows = run(dialect, job);
        QCOMPARE(rows.size(), truth.size());
        const double size = static_cast<double>(baked.bounds.diagonal());
        // In GLSL in the target's own metres nothing but rounding differs; a joint's place is the sum of a
        // few numbers as large as the model.
        const bool tight = &dialect == &emit::glsl() && !space.changes();
        const double tightest = format.kind == &bake::kJoints ? 2e-6 * (1.0 + size) : 2e-6;
        float fastest = 0.0f;
        for (const Pose& pose : truth) {
            fastest = std::max(fastest, glm::length(pose.velocity.value_or(glm::vec3(0.0f))));
        }
        for (std::size_t r = 0; r < rows.size(); ++r) {
            const double off =
                static_cast<double>(glm::distance(glm::vec3(rows[r].out[0]), truth[r].position));
            const bool fades = job.rows[r * job.inputs].w > 0.5f;
            QVERIFY2(off < (tight ? (fades ? 2.0 : 1.0) * tightest : 1e-5 * size),
                     qPrintable(QString("%1 %2 %3 row %4: off by %5")
                                    .arg(format.kind->id, format.positionStore.name, format.normalStore.name)
                                    .arg(r)
                                    .arg(off)));
            QVERIFY(glm::distance(glm::vec3(rows[r].out[1]), truth[r].normal) < (!tight  ? 1e-4f
                                                                                 : fades ? 3e-5f
                                                                                         : 1e-5f));
            if (truth[r].velocity) {
                const glm::vec3 got(rows[r].out[2]);
                const float apart = glm::distance(got, *truth[r].velocity);
                // What single precision leaves of the differences: of the size by the step, and of the speed.
                const float noise =
                    (exact ? 1e-6f : 4e-6f) * static_cast<float>(size * format.clips.front().fps);
                QVERIFY2(apart < noise + 1e-5f * fastest,
                         qPrintable(QString("%1 row %2: %3 m/s, off by %4")
                                        .arg(format.kind->id)
                                        .arg(r)
                                        .arg(static_cast<double>(glm::length(got)))
                                        .arg(static_cast<double>(apart))));
            }
        }
    }
    static constexpr float kFade = 0.4f; // seconds

    static image::Image upsideDown(const image::Image& image) {
        image::Image turned = image;
        const std::size_t row = image.data.size() / image.height;
        for (std::size_t y = 0; y < image.height; ++y) {
            std::copy_n(image.data.begin() + static_cast<std::ptrdiff_t>(y * row), row,
                        turned.data.begin() + static_cast<std::ptrdiff_t>((image.height - 1 - y) * row));
        }
        return turned;
    }

    /// Of the cross-fade after `t` seconds: the stretches between stored frames that both clips are in, and
    /// the frames with their weights.
    static std::pair<std::array<float, 2>, bake::FrameBlend> fadeAt(const bake::BakeFormat& format, float t) {
        const bake::BakedClip& from = format.clips.front();
        const bake::BakedClip& to = format.clips.back();
        const float first = (0.12f + t) * static_cast<float>(from.fps);
        const float second = (0.05f + t) * static_cast<float>(to.fps);
        return {{std::floor(first), std::floor(second)},
                bake::faded(bake::blendAt(from, first, format.blend), bake::blendAt(to, second, format.blend),
                            static_cast<float>(bake::easedFade(static_cast<double>(t / kFade))))};
    }

    /// A vertex as the inputs of readingCall() and fadingCall(): `at` is a frame, or seconds.
    static void addReadingRow(ShaderJob& job, const bake::Baked& baked, const mesh::Mesh& mesh, std::size_t v,
                              float which, float at) {
        const bake::TextureSet& set = baked.textures;
        const std::uint32_t column = baked.columnOfVertex[v];
        glm::vec2 lookup = set.layout.lookupUv(column);
        glm::vec4 more(set.pivots.empty() ? glm::vec3(0.0f) : set.pivots[column], 0.0f);
        if (set.joints.inUvs) {
            const bake::JointInfluences& own = set.influences[column];
            const auto sets = bake::influencesAsUvs({&own, 1}, set.joints.influences);
            lookup = sets[0][0];
            more = glm::vec4(sets[1][0], sets[2][0]);
        }
        job.rows.emplace_back(baked.shippedPositions(mesh)[v], which);
        job.rows.emplace_back(baked.shippedNormals(mesh)[v], at);
        job.rows.emplace_back(lookup, 0.0f, 0.0f);
        job.rows.push_back(more);
    }

    /// faded_at_seconds() of the same inputs.
    static std::array<std::string, ShaderJob::kOutputs> fadingCall(const emit::Dialect& dialect,
                                                                   const bake::BakeFormat& format) {
        using code::Base;
        std::vector<code::Value> arguments = vertexArguments(format);
        const code::Value t = code::named("i1", Base::vec4).w();
        const auto last = static_cast<int>(format.clips.size()) - 1;
        arguments.insert(arguments.end(), {0, t + 0.12f, last, t + 0.05f, t / kFade});
        const code::Value pose = code::call("b_faded_at_seconds", code::Type::of("b_pose"), arguments);
        arguments.push_back(kFade);
        return spelled(dialect, pose, code::call("b_velocity_faded_at_seconds", Base::vec3, arguments));
    }

    static std::array<std::string, ShaderJob::kOutputs>
    spelled(const emit::Dialect& dialect, const code::Value& pose, const code::Value& velocity) {
        using code::Base;
        const auto four = [&](const code::Value& three) {
            return dialect.expression(code::make(Base::vec4, {three, 0.0f}).expression());
        };
        return {four(pose.field("position", Base::vec3)), four(pose.field("normal", Base::vec3)),
                four(velocity)};
    }

    /// Textures, lookup, rest pose and pivot.
    static std::vector<code::Value> vertexArguments(const bake::BakeFormat& format) {
        using code::Base;
        const auto input = [](int i) { return code::named("i" + std::to_string(i), Base::vec4); };
        std::vector<code::Value> arguments;
        for (std::size_t t = 0; t < format.textures.size(); ++t) {
            arguments.push_back(code::named("t" + std::to_string(t), Base::texture));
        }
        arguments.push_back(input(2).xy());
        if (format.joints.inUvs) {
            arguments.push_back(input(3));
        }
        arguments.push_back(input(0).xyz());
        arguments.push_back(input(1).xyz());
        if (emit::readerWantsPivot(format)) {
            arguments.push_back(input(3).xyz());
        }
        return arguments;
    }

    /// at_frame() of the inputs of readsLikeTheCore().
    static std::array<std::string, ShaderJob::kOutputs> readingCall(const emit::Dialect& dialect,
                                                                    const bake::BakeFormat& format) {
        using code::Base;
        const auto input = [](int i) { return code::named("i" + std::to_string(i), Base::vec4); };
        std::vector<code::Value> arguments = vertexArguments(format);
        arguments.push_back(code::make(Base::whole, {input(2).z()}));
        arguments.push_back(input(1).w());
        const code::Value pose = code::call("b_at_frame", code::Type::of("b_pose"), arguments);
        return spelled(dialect, pose, code::call("b_velocity_at_frame", Base::vec3, arguments));
    }

private Q_SLOTS:
    void initTestCase() {
        QVERIFY(gl_.works());
        if (!only_ || only_ == &emit::wgsl()) {
            browser_ = std::make_unique<tests::WgslBrowser>();
        }
    }
    void everyBakeOfVertices_data() { eachLanguage(); }
    void everyBakeOfVertices() {
        const tests::TwoClips source;
        const auto& positions = bake::positionStores();
        const auto& normals = bake::normalStores();
        std::set<std::string> seen;
        for (const auto& chosen : ofThese(tests::pairwiseChoices(
                 {static_cast<int>(positions.size()), static_cast<int>(normals.size()), 2}))) {
            bake::Recipe recipe;
            recipe.positionStore = positions[static_cast<std::size_t>(chosen[0])].name;
            recipe.normalStore = normals[static_cast<std::size_t>(chosen[1])].name;
            recipe.content = chosen[2] ? bake::Content::absolute : bake::Content::offset;
            recipe.maxWidth = 100; // three rows to a frame
            readsLikeTheCore(source, recipe);
            seen.insert({"positions " + recipe.positionStore, "normals " + recipe.normalStore});
        }
        QCOMPARE(seen.size(), positions.size() + normals.size()); // in every language
        unsigned choice = 0;
        for (const bake::PositionStore& store : positions) {
            // All further choices at once, and one of them alone.
            for (const unsigned chosen : {7u, 1u << (choice++ % 3)}) {
                bake::Recipe other;
                other.positionStore = store.name;
                other.rangePerClip = chosen & 1;
                other.powerOfTwo = chosen & 2;
                other.thin = chosen & 4 ? 0.02 : 0.0;
                other.maxWidth = 100;
                other.normalsInAlpha = store.holdsNormals();
                other.normalStore = store.holdsNormals() ? "oct16" : "oct32";
                readsLikeTheCore(source, other);
            }
        }
    }
    void everyBakeOfPiecesAndShapes_data() { eachLanguage(); }
    void everyBakeOfPiecesAndShapes() {
        const tests::TurningPieces turning(3);
        for (const bake::Recipe& recipe : tests::everyBakeOfPieces()) {
            readsLikeTheCore(turning, recipe);
        }
        const tests::TwoClips waving;
        for (const bake::Recipe& recipe : tests::everyBakeOfShapes()) {
            readsLikeTheCore(waving, recipe);
        }
    }
    void everyBakeOfJoints_data() { eachLanguage(); }
    void everyBakeOfJoints() {
        const auto even = tests::randomRig({.joints = 7, .influences = 4, .bindApart = true, .seed = 3});
        const auto uneven =
            tests::randomRig({.joints = 12, .influences = 8, .uneven = true, .mirrored = true, .seed = 4});
        for (const bake::Recipe& recipe : ofThese(tests::everyBakeOfJoints())) {
            if (recipe.influences == 4 ||
                !recipe.influencesInUvs) { // six sets are more than a row has room for
                readsLikeTheCore(recipe.influences == 8 ? *uneven : *even, recipe);
            }
        }
        // Those that turn far between two stored frames: by more than half a turn over two of them.
        std::vector<std::pair<double, bake::Blend>> turns;
        for (const double degrees : {20.0, 72.0, 90.0, 170.0, 175.0}) {
            turns.insert(turns.end(), {{degrees, bake::Blend::linear}, {degrees, bake::Blend::cubic}});
        }
        for (const auto& [degrees, blend] : ofThese(turns)) {
            bake::Recipe far = bake::withKind({}, bake::kJoints);
            far.positionStore = "float32";
            far.fps = 6.0; // one frame a key
            far.oversampling = 1;
            far.blend = blend;
            readsLikeTheCore(*tests::randomRig({.joints = 3,
                                                .influences = 2,
                                                .seed = static_cast<unsigned>(degrees),
                                                .degreesPerKey = degrees}),
                             far);
            if (QTest::currentTestFailed()) {
                qWarning("%g degrees a frame, %s", degrees, bake::name(blend));
                return;
            }
        }
        bake::Recipe curved;
        curved.positionStore = "float32";
        curved.blend = bake::Blend::cubic;
        curved.normalStore = "oct32";
        readsLikeTheCore(tests::TwoClips(), curved);
        curved.step = 3; // so few that a clip has no curve
        readsLikeTheCore(tests::TwoClips(), curved);
    }
    void turnedRowsAndVReadAlike_data() { eachLanguage(); }
    void turnedRowsAndVReadAlike() {
        const bundle::Target turned = turnedTarget();
        bake::Recipe vertices;
        vertices.positionStore = "unorm16";
        vertices.normalStore = "oct16";
        vertices.maxWidth = 100;
        readsEveryKind(vertices, turned);
    }
    void testRowsTellWhoReadsWrong_data() { eachLanguage(); }
    void testRowsTellWhoReadsWrong() {
        const emit::Dialect& dialect = language();
        for (const bake::PositionStore& store : bake::positionStores()) {
            bake::Recipe recipe;
            recipe.positionStore = store.name;
            recipe.normalStore = "oct16";
            recipe.testRow = true;
            const bake::Baked baked = bake::bake(tests::TwoClips(), recipe);
            const bake::BakeFormat& format = baked.textures;
            std::vector<code::Value> textures;
            for (std::size_t t = 0; t < format.textures.size(); ++t) {
                textures.push_back(code::named("t" + std::to_string(t), code::Base::texture));
            }
            const code::Value right = code::choose(code::call("b_reads_right", code::Base::boolean, textures),
                                                   code::Value(1.0f), code::Value(0.0f));
            const std::string four =
                dialect.expression(code::make(code::Base::vec4, {right, 0.0f, 0.0f, 0.0f}).expression());
            const auto readsRight = [&](const std::vector<image::Image>& images) {
                ShaderJob job;
                for (const image::Image& image : images) {
                    job.textures.push_back(&image);
                }
                job.cases.push_back(
                    {emit::readerCode(dialect, "b", format, baked.bounds), {four, four, four}});
                job.rows.emplace_back(0.0f);
                const auto rows = run(dialect, job);
                return rows.size() == 1 ? rows[0].out[0].x : -1.0f;
            };
            std::vector<image::Image> images = baked.textures.images;
            QCOMPARE(readsRight(images), 1.0f);
            images[0] = upsideDown(images[0]);
            QCOMPARE(readsRight(images), 0.0f);
            images = baked.textures.images;
            setValue(images.back(), 0, *bake::testRowOf(format, format.textures.back()), 1, 0.5f);
            QCOMPARE(readsRight(images), 0.0f);
        }
    }
    void otherAxesAndUnitsReadAlike_data() { eachLanguage(); }
    void otherAxesAndUnitsReadAlike() {
        bake::Recipe vertices;
        vertices.positionStore = "float32";
        vertices.normalStore = "oct32";
        readsEveryKind(vertices, bundle::readyTargets().back());
        bundle::Target odd = turnedTarget(); // mirrors, in inches
        odd.axes = *mesh::axesByLetters({"-Z", "+X", "+Y"});
        odd.metresPerUnit = 0.0254;
        QVERIFY(odd.axes.mirrors());
        vertices.positionStore = "unorm16";
        vertices.content = bake::Content::absolute;
        readsEveryKind(vertices, odd);
    }
    void scoresForOtherAxesMoveAlike_data() { eachLanguage(); }
    void scoresForOtherAxesMoveAlike() {
        target_ = turnedTarget();
        target_.axes = *mesh::axesByLetters({"+Y", "-X", "-Z"});
        target_.metresPerUnit = 0.01;
        std::vector<Score> scores;
        mesh::Mesh mesh = mesh::makeTestShape({"sheet", 1.0, 8, 8});
        for (const ReadyScore& ready : readyScores()) {
            scores.push_back(makeReady(ready, mesh));
        }
        const auto pushes = static_cast<int>(std::size(pushKinds()));
        const auto courses = static_cast<int>(std::size(courseKinds()));
        constexpr int kStep = 5;
        for (int i = 0; i < pushes * courses; i += kStep) {
            scores.push_back(scoreOf({voiceOf(i % 3, i % pushes, i / pushes, i % 2)}));
        }
        inputs_ = 400;
        agreeInParts(scores, 4, emit::Sine::exact);
        inputs_ = 2000;
        target_ = {};
    }

private:
    static bundle::Target turnedTarget() {
        bundle::Target turned;
        turned.rowsFromBelow = turned.vFromBelow = true;
        return turned;
    }
    void readsEveryKind(const bake::Recipe& vertices, const bundle::Target& target) {
        readsLikeTheCore(tests::TwoClips(), vertices, target);
        readsLikeTheCore(tests::TurningPieces(3), tests::everyBakeOfPieces().front(), target);
        readsLikeTheCore(tests::TwoClips(), tests::everyBakeOfShapes().front(), target);
        const auto rig = tests::randomRig({.joints = 7, .influences = 4, .bindApart = true, .seed = 3});
        for (const bool inUvs : {false, true}) {
            bake::Recipe joints = bake::withKind({}, bake::kJoints);
            joints.positionStore = "float32";
            joints.influencesInUvs = inUvs;
            readsLikeTheCore(*rig, joints, target);
        }
    }

private Q_SLOTS:
    void copiesDifferAlikeEverywhere_data() { eachLanguage(); }
    void copiesDifferAlikeEverywhere() {
        using code::Base;
        const emit::Dialect& dialect = language();
        scatter::Differences differences;
        differences.clipWeights = {2.0f, 1.0f, 0.0f, 4.0f};
        differences.leastSize = 0.7f;
        differences.mostSize = 1.6f;
        differences.rateSpread = 0.15f;
        differences.startSpread = 0.75f;
        code::Module module{"b", {}};
        scatter::addCopyCode(module, differences);
        const auto input = code::named("i0", Base::vec4);
        const auto natural = [](const code::Value& number) { return code::make(Base::natural, {number}); };
        const code::Value copy =
            code::call("b_copy_of", code::Type::of("b_copy"), {natural(input.x()), natural(input.y())});
        const auto field = [&](const char* name) { return copy.field(name, Base::scalar); };
        const auto four = [&](const std::vector<code::Value>& parts) {
            return dialect.expression(code::make(Base::vec4, parts).expression());
        };
        ShaderJob job;
        job.cases.push_back(
            {dialect.print(module).text,
             {four({code::make(Base::scalar, {copy.field("clip", Base::whole)}), field("start"),
                    field("rate"), field("turn")}),
              four({field("size"), field("tint"), field("id"), 0.0f}), four({0.0f, 0.0f, 0.0f, 0.0f})}});
        std::vector<scatter::Difference> truth;
        for (std::uint32_t i = 0; i < 3000; ++i) {
            differences.seed = 1 + i % 7;
            job.rows.emplace_back(static_cast<float>(differences.seed), static_cast<float>(i * 5), 0.0f,
                                  0.0f);
            truth.push_back(scatter::differenceOf(differences, i * 5));
        }
        const std::vector<ShaderRow> rows = run(dialect, job);
        QCOMPARE(rows.size(), truth.size());
        std::set<int> clips;
        for (std::size_t r = 0; r < rows.size(); ++r) {
            const glm::vec4* out = rows[r].out;
            const scatter::Difference& own = truth[r];
            QCOMPARE(static_cast<int>(out[0].x), own.clip);
            clips.insert(own.clip);
            QVERIFY(glm::distance(glm::vec3(out[0].y, out[0].z, out[0].w),
                                  glm::vec3(own.start, own.rate, own.turn)) < 1e-6f);
            QVERIFY(glm::distance(glm::vec3(out[1]), glm::vec3(own.size, own.tint, own.id)) < 1e-6f);
        }
        QCOMPARE(clips.size(), std::size_t(3));
    }
    void mergedCopiesFindTheirPivotsEverywhere_data() { eachLanguage(); }
    void mergedCopiesFindTheirPivotsEverywhere() {
        using code::Base;
        const emit::Dialect& dialect = language();
        scatter::Placement placement;
        placement.count = 200;
        placement.pattern = "even";
        placement.alongSurface = true;
        scatter::Differences differences;
        differences.leastSize = 0.5f;
        differences.mostSize = 2.0f;
        const auto copies = scatter::placeCopies(placement, differences, *scatter::unevenGround());
        const mesh::Bounds box = scatter::boxOf(copies);
        const glm::vec3 local(0.3f, 1.2f, -0.4f);
        for (const auto& [keeps, tilted] :
             {std::pair(scatter::Keeps::uvs, true), std::pair(scatter::Keeps::uvs, false),
              std::pair(scatter::Keeps::colours, false)}) {
            code::Module module{"b", {}};
            scatter::addMergeCode(module, keeps, tilted, box);
            const auto in = [](int i) { return code::named("i" + std::to_string(i), Base::vec4); };
            const auto uv = [&](int i) {
                return i % 2 ? in(1 + i / 2).components("zw") : in(1 + i / 2).xy();
            };
            const code::Type type = code::Type::of("b_pivot");
            std::vector<code::Value> arguments;
            for (int k = 0; k < (tilted ? 4 : 3); ++k) {
                arguments.push_back(uv(k));
            }
            if (keeps == scatter::Keeps::colours) {
                arguments = {in(1)};
            }
            const code::Value pivot = code::call("b_pivot_of", type, arguments);
            const auto four = [&](const code::Value& v, const code::Value& w) {
                return dialect.expression(code::make(Base::vec4, {v, w}).expression());
            };
            const auto way = [&](const char* name, const code::Value& v) {
                return code::call(std::string("b_") + name, Base::vec3, {pivot, v});
            };
            const code::Value there = way("merged", code::vec3(local));
            const code::Value axes = code::call("b_pivot_axes", Base::mat3, {pivot});
            ShaderJob job;
            job.cases.push_back(
                {dialect.print(module).text,
                 {four(there, pivot.field("id", Base::scalar)), four(way("unmerged", there), 0.0f),
                  four(code::column(axes, 2) - way("merged_direction", code::vec3({0, 0, 1})),
                       code::dot(way("unmerged_direction", way("merged_direction", code::vec3({0, 1, 0}))),
                                 code::vec3({0, 1, 0})))}});
            std::vector<scatter::Pivot> truth;
            for (const scatter::Copy& copy : copies) {
                scatter::Pivot own = scatter::pivotOf(copy);
                job.rows.push_back(glm::vec4(0.0f)); // which case
                if (keeps == scatter::Keeps::colours) {
                    const glm::vec4 colour = scatter::inColour(own, box);
                    own = scatter::fromColour(colour, box);
                    job.rows.push_back(colour);
                    job.rows.push_back(glm::vec4(0.0f));
                } else {
                    own.tilt = tilted ? own.tilt : glm::vec2(0.0f);
                    const auto uvs = scatter::inUvs(own, true);
                    job.rows.emplace_back(uvs[0].x, uvs[0].y, uvs[1].x, uvs[1].y);
                    job.rows.emplace_back(uvs[2].x, uvs[2].y, uvs[3].x, uvs[3].y);
                }
                truth.push_back(own);
            }
            job.inputs = 3;
            const std::vector<ShaderRow> rows = run(dialect, job);
            QCOMPARE(rows.size(), truth.size());
            for (std::size_t r = 0; r < rows.size(); ++r) {
                const scatter::Pivot& own = truth[r];
                const glm::vec3 wanted = own.origin + own.scale * bake::turned(own.rotation(), local);
                QVERIFY2(glm::distance(glm::vec3(rows[r].out[0]), wanted) < 2e-5f,
                         qPrintable(QString::number(
                             static_cast<double>(glm::distance(glm::vec3(rows[r].out[0]), wanted)))));
                QCOMPARE(rows[r].out[0].w, own.id);
                QVERIFY(glm::distance(glm::vec3(rows[r].out[1]), local) < 2e-5f);
                QVERIFY(glm::length(glm::vec3(rows[r].out[2])) < 1e-6f);
                QVERIFY(std::abs(rows[r].out[2].w - 1.0f) < 1e-6f);
            }
        }
    }
    void examplesCompileAsTheyStand_data() { eachLanguage(); }
    void examplesCompileAsTheyStand() {
        const emit::Dialect& dialect = language();
        std::vector<std::string> stages;
        // Every input and every result of scores, with parameters and without.
        mesh::Mesh mesh = mesh::makeTestShape({"sheet", 1.0, 6, 6});
        mesh.colours.assign(mesh.vertexCount(), glm::vec4(0.5f));
        mesh.stored = {{"age", std::vector<float>(mesh.vertexCount(), 0.25f)}};
        mesh.uvSets.resize(2, mesh.uvSets[0]);
        for (int push = 0; push < static_cast<int>(pushKinds().size()); ++push) {
            Voice voice = voiceOf(push % 6, push, push % 6, push % 6);
            voice.copyPhase.kind = phaseKinds()[static_cast<std::size_t>(push) % phaseKinds().size()].kind;
            voice.copyPhase.stored = "age";
            Score score = scoreOf({voice});
            score = push % 2 ? tests::withEveryParameter(score) : score;
            bundle::ScoreChoices choices;
            choices.storeMasks = push % 3 == 0;
            if (push % 4 == 1 && &dialect != &emit::wgsl()) { // which wants a device that has it
                choices.halfWithin = 1e9;
            }
            const auto on = bundle::scoreOnMesh(score, mesh, choices);
            stages.push_back(bundle::exampleOf(on, dialect, "example " + std::to_string(push), choices));
        }
        const tests::TwoClips waving;
        std::vector<bake::Recipe> recipes = tests::everyBakeOfShapes();
        recipes.emplace_back();
        recipes.back().thin = 0.02;
        const auto addBake = [&](const source::FrameSource& source, const bake::Recipe& recipe) {
            const bake::Baked baked = bake::bake(source, recipe);
            stages.push_back(emit::readerExample(dialect, "a bake", baked.textures, baked.bounds, {1, 2, 0}));
        };
        for (const bake::Recipe& recipe : recipes) {
            addBake(waving, recipe);
        }
        const tests::TurningPieces turning(3);
        for (const bake::Recipe& recipe : tests::everyBakeOfPieces()) {
            addBake(turning, recipe);
        }
        const auto rig = tests::randomRig({.joints = 7, .influences = 6});
        for (const bake::Recipe& recipe : tests::everyBakeOfJoints()) {
            addBake(*rig, recipe);
        }
        QVERIFY(stages.size() > 20);
        for (std::string stage : stages) {
            if (&dialect == &emit::wgsl()) {
                QVERIFY2(browser_->compiles(stage), qPrintable(browser_->error()));
            } else if (&dialect == &emit::hlsl()) {
                QVERIFY(!tests::spirvOfHlsl(stage, false).empty());
            } else {
                QVERIFY(tests::shaderOf(GL_VERTEX_SHADER, stage));
                stage.replace(0, stage.find('\n'), "#version 300 es");
                QVERIFY(tests::shaderOf(GL_VERTEX_SHADER, stage));
            }
        }
    }
    void everyReadyScore_data() { eachLanguage(); }
    void everyReadyScore() {
        mesh::Mesh mesh = mesh::makeTestShape({"sheet", 1.0, 8, 8});
        std::vector<Score> scores;
        for (const ReadyScore& ready : readyScores()) {
            scores.push_back(makeReady(ready, mesh));
        }
        QCOMPARE(scores.size(), std::size_t(11));
        agreeInParts(scores, 4, emit::Sine::own);
        agreeInParts(scores, 4, emit::Sine::exact);
    }
    /// A cover of every two kinds that may stand together; with RIPPLE_EVERY_SCORE set, of every four.
    void everyShapePushCourseAndMask_data() { eachLanguage(); }
    void everyShapePushCourseAndMask() {
        const auto countOf = [](const auto& kinds) { return static_cast<int>(std::size(kinds)); };
        const std::vector<int> counts = {countOf(pushKinds()), countOf(maskKinds()) + 1,
                                         countOf(shapeKinds()), countOf(courseKinds())};
        const bool every = qEnvironmentVariableIsSet("RIPPLE_EVERY_SCORE");
        std::vector<Score> scores;
        for (const auto& kinds : every ? tests::allChoices(counts) : tests::pairwiseChoices(counts)) {
            scores.push_back(scoreOf({voiceOf(kinds[2], kinds[0], kinds[3], kinds[1] - 1)}));
        }
        agreeInParts(scores, kTogether);
    }
    void parametersOfEveryKind_data() { eachLanguage(); }
    void parametersOfEveryKind() {
        const emit::Dialect& dialect = language();
        std::mt19937 random(13);
        inputs_ = 240;
        const auto count = static_cast<int>(pushKinds().size() * (&dialect == &emit::wgsl() ? 1 : 6));
        std::vector<Score> scores;
        std::vector<std::vector<double>> tried;
        for (int i = 0; i < count && !QTest::currentTestFailed(); ++i) {
            const int pushes = static_cast<int>(pushKinds().size());
            Voice voice = voiceOf(i % static_cast<int>(shapeKinds().size()), i % pushes, (i / pushes + i) % 6,
                                  i % static_cast<int>(maskKinds().size() + 1) - 1);
            voice.copyPhase.kind = phaseKinds()[static_cast<std::size_t>(i) % phaseKinds().size()].kind;
            voice.copyPhase.stored = "age";
            const Score score = tests::withEveryParameter(scoreOf({voice}));
            std::vector<double> values;
            for (const Parameter& parameter : score.parameters) {
                const double inside = tests::anyValue(score, parameter, random);
                // Some lie beyond the range: the code holds them.
                values.push_back(random() % 5 == 0 ? parameter.most + 100.0 : inside);
            }
            if (i == 0) {
                agree(dialect, {score}, emit::Sine::exact); // the defaults
            }
            scores.push_back(score);
            tried.push_back(values);
            if (scores.size() == kTogether || i + 1 == count) {
                agree(dialect, scores, emit::Sine::exact, tried);
                scores.clear();
                tried.clear();
            }
        }
        inputs_ = 2000;
    }
    void randomScores_data() { eachLanguage(); }
    void randomScores() {
        std::mt19937 random(11);
        const auto below = [&](std::size_t count) { return static_cast<int>(random() % count); };
        std::vector<Score> scores;
        const int count = qEnvironmentVariableIsSet("RIPPLE_EVERY_SCORE") ? 300 : 96;
        for (int s = 0; s < count; ++s) {
            std::vector<Voice> voices;
            for (int v = 0; v <= below(3); ++v) {
                Voice voice = voiceOf(below(shapeKinds().size()), below(pushKinds().size()),
                                      below(courseKinds().size()), below(maskKinds().size() + 1) - 1);
                voice.turns = below(9) - 4;
                voice.phase = 0.01 * below(100);
                voice.copyPhase.kind = phaseKinds()[random() % phaseKinds().size()].kind;
                voice.copyPhase.stored = "age";
                voice.shape.seed = static_cast<std::uint32_t>(random());
                voices.push_back(voice);
            }
            scores.push_back(scoreOf(voices));
        }
        agreeInParts(ofThese(scores), kTogether);
    }
};

static const ripple::tests::SuiteOf<TestLanguages> kSuite;
#include "test_languages.moc"
