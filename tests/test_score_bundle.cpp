// Scores as code: what is written for each ready-made one, that its own files move its own mesh as the score
// does, and that a check sees what was changed.

#include "base/files.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "bundle/check_score.h"
#include "bundle/score_bundle.h"
#include "bundle/write_bundle.h"
#include "every_parameter.h"
#include "motion/ready_scores.h"
#include "motion/score_file.h"
#include "motion/time_loss.h"
#include "problem_of.h"
#include "rich_sheet.h"
#include "source/open.h"
#include "suite.h"
#include "vertex_stage.h"
#include "voices.h"

#include <QDir>
#include <QFile>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <QTest>

#include <glm/gtc/matrix_transform.hpp>
#include <glm/gtc/packing.hpp>
#include <glm/gtc/type_ptr.hpp>
#include <nlohmann/json.hpp>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

using namespace ripple;
using tests::richSheet;
using tests::says;
using tests::still;

namespace {

QByteArray contentOf(const QString& path) {
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
}

void putContent(const QString& path, const QByteArray& content) {
    QFile file(path);
    QVERIFY(file.open(QIODevice::WriteOnly));
    QCOMPARE(file.write(content), qint64(content.size()));
}

/// Where the shipped stage puts its vertices: world position and velocity.
struct Shipped {
    glm::vec4 place;
    glm::vec3 velocity;
};

/// Runs NAME.vertex.glsl with the attributes of NAME.glb, as an engine would, by nothing but the files.
std::vector<Shipped> runShipped(const QString& folder, const QString& name, float seconds,
                                const glm::mat4& objectToWorld, bool es) {
    std::string stage = contentOf(folder + "/" + name + ".vertex.glsl").toStdString();
    if (es) {
        stage.replace(0, stage.find('\n'), "#version 300 es");
    }
    const auto opened = source::open((folder + "/" + name + ".glb").toStdString());
    const mesh::Mesh& mesh = opened->mesh();
    std::vector<tests::VertexStage::Attribute> attributes;
    const QRegularExpression line("layout\\(location = (\\d+)\\) in \\w+ \\w+; // (\\w+)");
    auto found = line.globalMatch(QString::fromStdString(stage));
    while (found.hasNext()) {
        const auto match = found.next();
        const QString gltf = match.captured(2);
        const int location = match.captured(1).toInt();
        if (gltf == "POSITION") {
            attributes.push_back({location, 3, mesh.positions.data()});
        } else if (gltf == "NORMAL") {
            attributes.push_back({location, 3, mesh.normals.data()});
        } else if (gltf == "COLOR_0") {
            attributes.push_back({location, 4, mesh.colours.data()});
        } else {
            const auto set = static_cast<std::size_t>(gltf.mid(QString("TEXCOORD_").size()).toInt());
            attributes.push_back({location, 2, mesh.uvSets.at(set).data()});
        }
    }
    const tests::VertexStage run(stage, {"gl_Position", "world_velocity"}, 7, attributes, mesh.vertexCount());
    return run.run<Shipped>([&] {
        const glm::mat4 none(1.0f);
        glUniformMatrix4fv(run.uniform("object_to_world"), 1, GL_FALSE, glm::value_ptr(objectToWorld));
        glUniformMatrix4fv(run.uniform("world_to_clip"), 1, GL_FALSE, glm::value_ptr(none));
        glUniform1f(run.uniform("seconds"), seconds);
        glUniform1f(run.uniform("copy_id"), 0.0f);
    });
}

} // namespace

class TestScoreBundle : public QObject {
    Q_OBJECT

    tests::HeadlessGl gl_;
    QTemporaryDir out_;

    QString folder(const char* name) { return out_.filePath(name); }
    bundle::ScoreManifest write(const source::FrameSource& source, const motion::Score& score,
                                const char* name, const bundle::ScoreChoices& choices = {}) {
        bundle::Origin origin;
        origin.score = std::make_shared<motion::Score>(score);
        base::Progress progress;
        return bundle::writeScoreBundle(source, origin, folder(name).toStdString(), choices, progress);
    }
    /// The shipped stage does what the score does on the source; `half`: what half precision may lose,
    /// metres.
    void movesAsTheScore(const source::FrameSource& source, const motion::Score& score, const char* name,
                         double half = 0.0) {
        const motion::Performance performance(score, source.mesh());
        const double size = performance.model().size;
        motion::Copy copy;
        copy.axes = glm::mat3(glm::rotate(glm::mat4(1.0f), 0.6f, glm::vec3(0, 1, 0)));
        copy.origin = {1.5f, 0.2f, -2.0f};
        copy.scale = 1.25f;
        glm::mat4 world(copy.scale * copy.axes);
        world[3] = glm::vec4(copy.origin, 1.0f);
        std::vector<glm::vec3> wanted(source.mesh().vertexCount());
        std::vector<glm::vec3> after(wanted.size());
        for (const double turn : {0.0, 0.3, 0.77}) {
            const auto seconds = static_cast<float>(turn * score.loopSeconds);
            const bool es = turn == 0.3;
            const auto got = runShipped(folder(name), name, seconds, world, es);
            QCOMPARE(got.size(), wanted.size());
            performance.pose(turn, copy, wanted, {});
            performance.pose(turn + 1e-4, copy, after, {});
            double worst = 0.0;
            double speed = 0.0;
            double apart = 0.0;
            for (std::size_t v = 0; v < wanted.size(); ++v) {
                const glm::vec3 right = copy.origin + copy.scale * (copy.axes * wanted[v]);
                worst = std::max(worst, static_cast<double>(glm::distance(glm::vec3(got[v].place), right)));
                const glm::vec3 moves =
                    copy.scale *
                    (copy.axes * ((after[v] - wanted[v]) / static_cast<float>(1e-4 * score.loopSeconds)));
                speed = std::max(speed, static_cast<double>(glm::length(moves)));
                apart += static_cast<double>(glm::distance(got[v].velocity, moves));
            }
            QVERIFY2(worst < 2e-5 * size + 1.5 * copy.scale * half,
                     qPrintable(QString("%1: %2").arg(name).arg(worst)));
            // Differences in single precision are coarse; at kinks speeds differ by side.
            QVERIFY2(apart / static_cast<double>(wanted.size()) < 0.02 * speed + 1e-3,
                     qPrintable(QString("%1: %2 of %3").arg(name).arg(apart).arg(speed)));
        }
    }

private Q_SLOTS:
    void initTestCase() { QVERIFY(gl_.works()); }
    void readyScoresOnTheirOwnModels_data() {
        QTest::addColumn<int>("index");
        for (int i = 0; i < static_cast<int>(motion::readyScores().size()); ++i) {
            QTest::addRow("%s", motion::readyScores()[static_cast<std::size_t>(i)].id) << i;
        }
    }
    void readyScoresOnTheirOwnModels() {
        QFETCH(int, index);
        const motion::ReadyScore& ready = motion::readyScores()[static_cast<std::size_t>(index)];
        const std::string model = std::string(DEMO_FOLDER) + "/" + ready.demoModel;
        const auto source = source::open(
            QFile::exists(QString::fromStdString(model + ".glb")) ? model + ".glb" : model + "_0000.obj");
        motion::Score score = motion::makeReady(ready, source->mesh());
        for (const char* field : {"strength", "heading"}) {
            score.parameters.push_back(motion::parameterOf(score, *motion::adjustableAt(score, 0, field)));
        }
        // The name has signs that no identifier has.
        const std::string name = std::string(ready.id) + " on-it";
        const bundle::ScoreManifest manifest = write(*source, score, name.c_str());
        QCOMPARE(manifest.parameters.size(), std::size_t(2));
        QCOMPARE(manifest.languages, (std::vector<std::string>{"glsl", "hlsl", "wgsl"}));
        const bundle::CheckReport report = bundle::check(folder(name.c_str()).toStdString(), source.get());
        QVERIFY2(report.ok(), report.ok() ? "" : report.problems[0].line().c_str());
        QVERIFY(report.error && report.error->all.max <= 1e-6 * manifest.model.size);
        movesAsTheScore(*source, score, name.c_str());
        const QByteArray notes = contentOf(folder(name.c_str()) + "/IMPORT.md");
        for (const motion::Voice& voice : score.voices) {
            QVERIFY(notes.contains(("**" + voice.name + "**").c_str()));
        }
    }
    void everythingAScoreReadsIsPlaced() {
        mesh::Mesh mesh = richSheet();
        const auto source = still(mesh);
        std::vector<motion::Voice> voices = {tests::voiceOf(0, 0, 3, 4), tests::voiceOf(1, 2, 4, 5),
                                             tests::voiceOf(4, 7, 3, 1)};
        voices[0].course.uvSet = 0;
        voices[2].course.uvSet = 0;
        motion::Score score = tests::scoreOf(voices);
        motion::giveIds(score);
        const bundle::ScoreManifest manifest = write(*source, score, "rich");
        QStringList places;
        for (const bundle::PlacedInput& input : manifest.inputs) {
            places << QString::fromStdString(input.name + " " + input.from[0]);
        }
        QVERIFY(places.contains("vertex_colour COLOR_0"));
        QVERIFY(places.contains("uv_set_0 TEXCOORD_0"));
        QVERIFY(places.contains("stored_age TEXCOORD_" + QString::number(mesh.uvSets.size()) + ".x") ||
                !places.filter("stored_age TEXCOORD_").isEmpty());
        QVERIFY(!places.filter("slope").isEmpty());
        QVERIFY(contentOf(folder("rich") + "/IMPORT.md").contains("vertex colours are taken for sRGB"));
        const bundle::CheckReport report = bundle::check(folder("rich").toStdString(), source.get());
        QVERIFY2(report.ok(), report.ok() ? "" : report.problems[0].line().c_str());
        movesAsTheScore(*source, score, "rich");
    }
    void verticesWithoutANormalMoveAsTheMeshThatIsShipped() {
        mesh::Mesh mesh = richSheet();
        mesh.normals[7] = glm::vec3(0.0f); // as files have it; the GLB must not
        const auto source = still(mesh);
        motion::Score score = tests::scoreOf({tests::voiceOf(0, 2, 1, -1)}); // along the normal
        write(*source, score, "bald");
        const bundle::CheckReport report = bundle::check(folder("bald").toStdString(), source.get());
        QVERIFY2(report.ok(), report.ok() ? "" : report.problems[0].line().c_str());
        movesAsTheScore(*source, score, "bald");
    }
    void masksAreStored() {
        mesh::Mesh mesh = richSheet();
        const auto source = still(mesh);
        motion::Score score = tests::scoreOf({tests::voiceOf(0, 0, 4, 2), tests::voiceOf(1, 0, 1, 4)});
        score.voices[0].name = "Swell";
        score.voices[1].name = "Cross";
        motion::giveIds(score);
        const auto plain = write(*source, score, "plain");
        const auto stored = write(*source, score, "stored", {.storeMasks = true});
        QVERIFY(!plain.storesMasks && stored.storesMasks);
        QVERIFY(stored.model.storedVoices[0].mask && stored.model.storedVoices[0].along);
        QVERIFY(contentOf(folder("stored") + "/stored.glsl").size() <
                contentOf(folder("plain") + "/plain.glsl").size());
        QVERIFY(contentOf(folder("stored") + "/stored.glsl").contains("stored_Swell_mask"));
        const bundle::CheckReport report = bundle::check(folder("stored").toStdString(), source.get());
        QVERIFY2(report.ok(), report.ok() ? "" : report.problems[0].line().c_str());
        // A check measures what normals lose, as writing did.
        QVERIFY(stored.normalLossDeg && *stored.normalLossDeg > 0.1);
        QVERIFY(report.error->normalMaxDegrees > 0.5 * *stored.normalLossDeg);
        QVERIFY(report.error->normalMaxDegrees < 1.5 * *stored.normalLossDeg);
        movesAsTheScore(*source, score, "stored");
        // What a parameter changes cannot be stored.
        score.parameters = {
            motion::parameterOf(score, *motion::adjustableAt(score, score.voices[0].id, "mask 1 low"))};
        const auto live = write(*source, score, "live", {.storeMasks = true});
        QVERIFY(!live.model.storedVoices[0].mask && live.model.storedVoices[1].mask);
        movesAsTheScore(*source, score, "live");
    }
    void halfPrecisionIsOfferedWhereItIsGoodEnough() {
        const auto source = still(richSheet());
        motion::Score score = tests::scoreOf(
            {tests::voiceOf(0, 0, 1, 0), tests::voiceOf(3, 2, 4, 4), tests::voiceOf(4, 0, 1, -1)});
        motion::giveIds(score);
        const double size = motion::modelOf(source->mesh()).size;
        const auto manifest = write(*source, score, "halves", {.halfWithin = 0.01 * size});
        QVERIFY(manifest.halfLossMetres && *manifest.halfLossMetres > 0.0);
        QVERIFY2(*manifest.halfLossMetres < 1e-3 * size,
                 qPrintable(QString::number(*manifest.halfLossMetres / size)));
        QVERIFY(contentOf(folder("halves") + "/halves.glsl").contains("mediump float"));
        QVERIFY(contentOf(folder("halves") + "/halves.glsl").contains("mediump vec3"));
        QVERIFY(contentOf(folder("halves") + "/halves.hlsl").contains("min16float3"));
        QVERIFY(contentOf(folder("halves") + "/halves.wgsl").startsWith("enable f16;"));
        const bundle::CheckReport report = bundle::check(folder("halves").toStdString(), source.get());
        QVERIFY2(report.ok(), report.ok() ? "" : report.problems[0].line().c_str());
        // In ES the software driver has 16-bit floats where the code allows them.
        movesAsTheScore(*source, score, "halves", *manifest.halfLossMetres);
        const base::Problem problem = tests::problemOf(
            [&] { write(*source, score, "coarse", {.halfWithin = 0.1 * *manifest.halfLossMetres}); });
        QVERIFY(says(problem, "half precision", "full precision"));
        QVERIFY(!QFile::exists(folder("coarse")));
    }
    void roundsAsHalvesDo() {
        motion::Graph graph;
        std::vector<float> values;
        for (const float value : {0.1f, 1.0f / 3.0f, -2.7182817f, 1000.3f, 65519.0f, 1e6f, 0.0f, -0.00061f,
                                  3.1e-6f, -1e-12f, 65521.0f}) {
            const motion::NodeId roots[] = {graph.add(motion::Op::half, {graph.add(motion::Op::copyScale)})};
            motion::Copy copy;
            copy.scale = value;
            const glm::vec3 nowhere(0.0f);
            motion::VertexFields fields;
            fields.positions = fields.normals = {&nowhere, 1};
            float got = 0.0f;
            const motion::Evaluator::Target target{{&got, 1}, {}};
            motion::Evaluator(graph, roots).run(fields, copy, 0.0f, {&target, 1});
            const float wanted = glm::unpackHalf1x16(glm::packHalf1x16(value));
            QCOMPARE(got, wanted);
        }
    }
    void theSameBytesEachTime() {
        const auto source = still(richSheet());
        const motion::Score score = motion::makeReady(motion::readyScores()[1], source->mesh());
        write(*source, score, "twice");
        const auto all = [&] {
            QByteArray bytes;
            for (const QString& file : QDir(folder("twice")).entryList(QDir::Files, QDir::Name)) {
                bytes += file.toUtf8() + contentOf(folder("twice") + "/" + file);
            }
            return bytes;
        };
        const QByteArray first = all();
        putContent(folder("twice") + "/importer.settings", "kept");
        write(*source, score, "twice"); // over itself; what is not ours stays
        QVERIFY(QFile::remove(folder("twice") + "/importer.settings"));
        QVERIFY(all() == first);
    }
    void aManifestLeadsNowhereElse() {
        const auto source = still(richSheet());
        write(*source, tests::scoreOf({tests::voiceOf(0, 0, 1, -1)}), "inside");
        putContent(out_.filePath("outside.glsl"), "not for reading");
        const QString path = folder("inside") + "/inside.bundle.json";
        QByteArray text = contentOf(path);
        text.replace("\"name\": \"inside\"", "\"name\": \"../outside\"");
        putContent(path, text);
        std::string all;
        for (const base::Problem& problem : bundle::check(folder("inside").toStdString(), nullptr).problems) {
            all += problem.line() + "\n";
        }
        QVERIFY2(all.find("not in its folder") != std::string::npos, all.c_str());
    }
    void aCheckSeesWhatWasChanged() {
        const auto source = still(richSheet());
        motion::Score score = tests::scoreOf({tests::voiceOf(0, 0, 1, 5)});
        motion::giveIds(score);
        score.parameters = {
            motion::parameterOf(score, *motion::adjustableAt(score, score.voices[0].id, "amplitude"))};
        const auto fresh = [&] {
            write(*source, score, "seen");
            return folder("seen");
        };
        const auto problemsAfter = [&](const QString& file, const char* from, const char* to) {
            const QString path = fresh() + "/" + file;
            QByteArray content = contentOf(path);
            content.replace(from, to);
            putContent(path, content);
            std::string all;
            for (const base::Problem& problem :
                 bundle::check(folder("seen").toStdString(), source.get()).problems) {
                all += problem.line() + "\n";
            }
            return all;
        };
        const std::string loop =
            problemsAfter("seen.hlsl", "seen_loop_seconds = 2.0", "seen_loop_seconds = 3.0");
        QVERIFY2(loop.find("states another seen_loop_seconds") != std::string::npos, loop.c_str());
        const std::string usual = problemsAfter("seen.wgsl", "= 0.15;", "= 0.25;");
        QVERIFY2(usual.find("defaults.v0016_amplitude") != std::string::npos, usual.c_str());
        const std::string manifest =
            problemsAfter("seen.bundle.json", "\"loop_seconds\": 2.0", "\"loop_seconds\": 2.5");
        QVERIFY2(manifest.find("was changed after it was written") != std::string::npos, manifest.c_str());
        QVERIFY(QFile::remove(fresh() + "/seen.glsl"));
        QVERIFY(!bundle::check(folder("seen").toStdString(), nullptr).ok());
        // Another mesh in its place: it has not what the code reads.
        fresh();
        write(*still(mesh::makeTestShape({"sheet", 1.0, 12, 12})),
              tests::scoreOf({tests::voiceOf(0, 0, 1, -1)}), "bare");
        QVERIFY(QFile::remove(folder("seen") + "/seen.glb"));
        QVERIFY(QFile::copy(folder("bare") + "/bare.glb", folder("seen") + "/seen.glb"));
        const bundle::CheckReport report = bundle::check(folder("seen").toStdString(), nullptr);
        QVERIFY(!report.ok());
    }
    void whatHasNoPlaceIsSaid() {
        mesh::Mesh mesh = mesh::makeTestShape({"sheet", 1.0, 4, 4});
        std::vector<motion::Voice> voices;
        for (int i = 0; i < 5; ++i) {
            const std::string name = "value " + std::to_string(i);
            std::vector<float> values;
            for (const glm::vec3& p : mesh.positions) {
                values.push_back(p.x * static_cast<float>(i + 1));
            }
            mesh.stored.push_back({name, values});
            motion::Voice voice = tests::voiceOf(0, 0, 1, 5);
            voice.heldBy[0].stored = name;
            voices.push_back(voice);
        }
        const auto source = still(mesh);
        const base::Problem problem =
            tests::problemOf([&] { write(*source, tests::scoreOf(voices), "full"); });
        QVERIFY(says(problem, "UV sets", "value_4"));
        QVERIFY(!QFile::exists(folder("full")));
        // A UV set that the mesh lacks.
        motion::Voice voice = tests::voiceOf(0, 0, 3, -1);
        voice.course.uvSet = 3;
        QVERIFY(
            says(tests::problemOf([&] { write(*source, tests::scoreOf({voice}), "lacking"); }), "UV set 3"));
    }
    void manifestsFitTheSchema() {
        const auto load = [](const QString& path) {
            return nlohmann::json::parse(contentOf(path).toStdString());
        };
        const nlohmann::json schemaJson = load(QString(SOURCE_FOLDER) + "/docs/score-bundle.schema.json");
        valijson::Schema schema;
        valijson::SchemaParser parser;
        parser.populateSchema(valijson::adapters::NlohmannJsonAdapter(schemaJson), schema);
        const auto fits = [&](const nlohmann::json& json) {
            valijson::Validator validator;
            return validator.validate(schema, valijson::adapters::NlohmannJsonAdapter(json), nullptr);
        };
        const auto source = still(richSheet());
        const motion::Score score = tests::withEveryParameter(
            tests::scoreOf({tests::voiceOf(4, 0, 4, 5), tests::voiceOf(2, 9, 1, 4)}));
        write(*source, score, "fits", {.storeMasks = true});
        const nlohmann::json manifest = load(folder("fits") + "/fits.bundle.json");
        QVERIFY(fits(manifest));
        nlohmann::json wrong = manifest;
        wrong["inputs"][0]["from"][0] = "TEXCOORD_x";
        QVERIFY(!fits(wrong));
        wrong = manifest;
        wrong["score"].erase("loop_seconds");
        QVERIFY(!fits(wrong));
        // What is read is what was written.
        const std::string text = contentOf(folder("fits") + "/fits.bundle.json").toStdString();
        QCOMPARE(bundle::scoreManifestText(bundle::parseScoreManifest(text, "fits")), text);
        // What could lead a reader astray is refused.
        const auto problemOf = [&](const nlohmann::json& json) {
            return tests::problemOf([&] { bundle::parseScoreManifest(json.dump(), "odd"); });
        };
        wrong = manifest;
        wrong["version"] = 5;
        QVERIFY(says(problemOf(wrong), "version 5"));
        wrong = manifest;
        wrong["score"]["model"]["stored_voices"][0][0] = 99;
        QVERIFY(says(problemOf(wrong), "not stored"));
        wrong = manifest;
        wrong["score"]["parameters"][0]["least"] = 1e9;
        QVERIFY(says(problemOf(wrong), "default"));
    }
    void timeInFloatsIsLost() {
        // Between 65 536 and 131 072 floats lie 1/128 apart, between 262 144 and 524 288 1/32.
        QCOMPARE(motion::secondsLost(24.0), 0.5 / 128.0);
        QCOMPARE(motion::secondsLost(100.0), 0.5 / 32.0);
        const auto losses = motion::timeLosses(4.0, 2.0);
        QCOMPARE(losses.size(), std::size_t(4));
        QCOMPARE(losses[3].turns, 0.5 / 32.0 / 4.0);
        QCOMPARE(losses[3].metres, 2.0 * 0.5 / 32.0 / 4.0);
        const auto source = still(richSheet());
        motion::Score score = tests::scoreOf({tests::voiceOf(0, 0, 0, -1)});
        score.voices[0].amplitude = {0.1, false};
        score.voices[0].turns = 2;
        // 0.1 m · sin(2π · 2φ) is at most 0.1 · 4π metres a turn.
        const double speed = motion::fastest(motion::Performance(score, source->mesh()));
        QVERIFY(std::abs(speed - 0.4 * 3.14159265) < 0.005);
    }
};

static const ripple::tests::SuiteOf<TestScoreBundle> kSuite;
#include "test_score_bundle.moc"
