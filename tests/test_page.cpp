// The page of a bundle, in a browser: what its vertex stage makes of the files is what the core reads; it is
// used by pointer, touch and keys; names are text, and nothing runs or loads but its own.

#include "browser_run.h"
#include "bake/kind.h"
#include "bundle/page.h"
#include "bundle/page_picture.h"
#include "bundle/read_bundle.h"
#include "bundle/score_bundle.h"
#include "bundle/test_moments.h"
#include "base/files.h"
#include "base/progress.h"
#include "mesh/test_shapes.h"
#include "motion/parameter.h"
#include "motion/ready_scores.h"
#include "random_rig.h"
#include "scatter/copies.h"
#include "source/shape_source.h"
#include "suite.h"
#include "turning_pieces.h"
#include "two_clips.h"

#include <QFile>
#include <QJsonArray>
#include <QTemporaryDir>
#include <QTest>

#include <cstring>

#include <glm/geometric.hpp>

using namespace ripple;
using namespace ripple::bundle;

namespace {

constexpr const char* kDriver =
    R"(<!doctype html><meta charset="utf-8"><iframe id="frame" width="900" height="600"></iframe><script>
const Job = (async () => {}).constructor;
(async () => {
  const frame = document.getElementById('frame');
  for (;;) {
    const job = await (await fetch('/job')).json();
    let result;
    try {
      if (job.url) await new Promise(done => { frame.onload = done; frame.src = job.url; });
      result = await Job('page', 'document', job.script)(frame.contentWindow, frame.contentDocument);
    } catch (problem) { result = {error: String(problem.stack)}; }
    await fetch('/result', {method: 'POST', body: JSON.stringify(result || {})});
  }
})();
</script>)";

/// What most jobs begin with: the page has read its files, or said why not.
constexpr const char* kReady =
    "const own = page.curlyRipple; await own.ready; const {state} = own;\n"
    "const floats = a => { const b = new Uint8Array(a.buffer); let t = '';"
    "for (let i = 0; i < b.length; i += 30000) t += btoa(String.fromCharCode(...b.subarray(i, i + 30000)));"
    "return t; };\n";

std::vector<glm::vec3> vectorsIn(const QJsonValue& text) {
    const QByteArray bytes = QByteArray::fromBase64(text.toString().toLatin1());
    std::vector<glm::vec3> made(static_cast<std::size_t>(bytes.size()) / sizeof(glm::vec3));
    std::memcpy(made.data(), bytes.constData(), made.size() * sizeof(glm::vec3));
    return made;
}

double farthest(const std::vector<glm::vec3>& a, const std::vector<glm::vec3>& b) {
    double most = a.size() == b.size() && !a.empty() ? 0.0 : 1e9;
    for (std::size_t i = 0; i < std::min(a.size(), b.size()); ++i) {
        const auto apart = static_cast<double>(glm::distance(a[i], b[i]));
        most = apart <= most ? most : apart; // what is no number counts
    }
    return most;
}

double sizeOf(const std::vector<glm::vec3>& points) {
    mesh::Bounds box;
    box.add(points);
    return static_cast<double>(box.diagonal());
}

Target oddTarget() {
    Target target;
    target.axes = *mesh::axesByLetters({"-Z", "+X", "+Y"});
    target.metresPerUnit = 0.0254;
    target.vFromBelow = target.rowsFromBelow = true;
    return target;
}

} // namespace

class TestPage : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;
    std::unique_ptr<tests::BrowserRun> browser_;
    bool onlyPages_ = false; ///< the server has nothing else

    std::filesystem::path folder(const std::string& name) const {
        return std::filesystem::path(dir_.path().toStdString()) / name;
    }
    std::optional<tests::BrowserRun::Answer> answer(const QString& path) const {
        if (path == "/") {
            return tests::BrowserRun::Answer{"text/html", kDriver};
        }
        QFile file(dir_.path() + path);
        const bool html = path.endsWith(".html");
        if ((onlyPages_ && !html) || !file.open(QIODevice::ReadOnly)) {
            return std::nullopt;
        }
        return tests::BrowserRun::Answer{html ? "text/html" : "application/octet-stream", file.readAll()};
    }
    static QString urlOf(const std::string& name) {
        const QByteArray safe = QByteArray::fromStdString(name).toPercentEncoding();
        return "/" + safe + "/" + safe + ".html";
    }
    QJsonObject run(const QString& url, const QString& script) {
        const auto result = browser_->ask({{"url", url}, {"script", kReady + script}});
        if (!result) {
            qWarning("%s", qPrintable(browser_->error()));
            return {};
        }
        return *result;
    }

    void write(const std::string& name, const source::FrameSource& source, const bake::Recipe& recipe,
               const Target& target = {}, Page page = Page::beside) {
        base::Progress progress;
        writeBundle(source, recipe, {}, folder(name), progress, {target, page});
    }

    /// At instants of each clip, and in the middle of a cross-fade, the page has what the core reads.
    void playsLikeTheCore(const std::string& name) {
        const Bundle bundle = readBundle(folder(name));
        const bake::TextureReader reader = bundle.reader();
        const auto& clips = bundle.manifest.textures.clips;
        const mesh::AxisMap space = bundle.manifest.target.space();
        std::vector<glm::vec3> p(bundle.mesh.vertexCount());
        std::vector<glm::vec3> n(p.size());
        const double size = sizeOf(bundle.mesh.positions) / bundle.manifest.target.metresPerUnit;
        QString url = urlOf(name);
        const auto compare = [&](const QString& moment) {
            const QJsonObject got =
                run(url, "const read = state.player && state.player.verticesAt(" + moment +
                             ");\nreturn {note: document.getElementById('note').textContent,"
                             " p: read && floats(read.positions), n: read && floats(read.normals)};");
            url.clear(); // it is open now
            QVERIFY2(got["note"].toString().startsWith("Reads right"), qPrintable(got["note"].toString()));
            space.place(p);
            space.turn(n);
            QVERIFY2(farthest(vectorsIn(got["p"]), p) < 2e-5 * size,
                     qPrintable(QString("%1: off by %2").arg(moment).arg(farthest(vectorsIn(got["p"]), p))));
            QVERIFY(farthest(vectorsIn(got["n"]), n) < 1e-3);
        };
        for (std::size_t c = 0; c < clips.size(); ++c) {
            for (const float frame : {0.0f, 2.5f, static_cast<float>(clips[c].length()) - 0.75f}) {
                reader.at(clips[c], frame, p, n);
                compare(QString("{clip: %1, seconds: %2, before: 0, secondsBefore: 0, progress: 1}")
                            .arg(c)
                            .arg(static_cast<double>(frame) / clips[c].fps, 0, 'g', 12));
            }
        }
        if (clips.size() > 1) {
            const auto& format = bundle.manifest.textures;
            reader.blended(bake::faded(bake::blendAt(clips[0], 3.25f, format.blend),
                                       bake::blendAt(clips[1], 1.5f, format.blend),
                                       static_cast<float>(bake::easedFade(0.4))),
                           p, n);
            compare(QString("{clip: 1, seconds: %1, before: 0, secondsBefore: %2, progress: 0.4}")
                        .arg(1.5 / clips[1].fps, 0, 'g', 12)
                        .arg(3.25 / clips[0].fps, 0, 'g', 12));
        }
    }

private Q_SLOTS:
    void initTestCase() {
        browser_ = std::make_unique<tests::BrowserRun>(
            [this](const QString& path) { return answer(path); },
            QStringList{"--force-device-scale-factor=0.5"}); // a quarter of the pixels to draw
    }
    void init() { onlyPages_ = false; }

    void playsVertices() {
        int number = 0;
        for (const bake::PositionStore& store : bake::positionStores()) {
            bake::Recipe recipe;
            recipe.positionStore = store.name;
            recipe.normalStore = number % 2 ? "oct16" : "unorm8";
            recipe.maxWidth = 100;
            const std::string name = "waves" + std::to_string(number++);
            write(name, tests::TwoClips(), recipe);
            playsLikeTheCore(name);
        }
    }
    void playsEveryOtherKind() {
        bake::Recipe pieces;
        pieces.kind = &bake::kPieces;
        write("pieces", tests::TurningPieces(3), pieces);
        playsLikeTheCore("pieces");
        bake::Recipe shapes;
        shapes.kind = &bake::kShapes;
        shapes.shapes = 5;
        write("shapes", tests::TwoClips(), shapes);
        playsLikeTheCore("shapes");
        const auto rig = tests::randomRig({.joints = 7, .influences = 4, .bindApart = true, .seed = 3});
        for (const bool inUvs : {false, true}) {
            bake::Recipe joints = bake::withKind({}, bake::kJoints);
            joints.positionStore = "float32";
            joints.influencesInUvs = inUvs;
            write(inUvs ? "joints-uv" : "joints", *rig, joints);
            playsLikeTheCore(inUvs ? "joints-uv" : "joints");
        }
    }
    void obeysTheTarget() {
        bake::Recipe recipe;
        recipe.positionStore = "unorm16";
        write("inches", tests::TwoClips(), recipe, oddTarget());
        playsLikeTheCore("inches");
        bake::Recipe joints = bake::withKind({}, bake::kJoints);
        joints.influencesInUvs = true;
        write("turned", *tests::randomRig({.joints = 5, .influences = 4, .seed = 5}), joints, oddTarget());
        playsLikeTheCore("turned");
    }

    void playsScores() {
        const auto source = source::openTestShape({"sheet", 2.0, 12, 12}, {});
        for (std::size_t i = 0; i < motion::readyScores().size(); ++i) {
            Origin origin;
            origin.score =
                std::make_shared<motion::Score>(motion::makeReady(motion::readyScores()[i], source->mesh()));
            ScoreChoices choices;
            choices.sine = emit::Sine::exact; // the browser's own is good to 2e-4
            choices.page = Page::beside;
            choices.storeMasks = i % 3 == 1;
            if (i % 2) {
                choices.target = oddTarget();
            }
            const std::string name = "score" + std::to_string(i);
            base::Progress progress;
            const ScoreManifest manifest = writeScoreBundle(*source, origin, folder(name), choices, progress);
            const motion::Performance performance(*origin.score, source->mesh());
            std::vector<glm::vec3> p(source->mesh().vertexCount());
            std::vector<glm::vec3> n(p.size());
            performance.pose(0.3125, {}, p, n);
            choices.target.space().place(p);
            const QJsonObject got = run(
                urlOf(name),
                QString("const read = state.player && state.player.verticesAt({clip: 0, seconds: %1, "
                        "before: 0, secondsBefore: 0, progress: 1});\nreturn {note: "
                        "document.getElementById('note').textContent, p: read && floats(read.positions)};")
                    .arg(0.3125 * manifest.loopSeconds, 0, 'g', 12));
            QVERIFY2(got["note"].toString().startsWith("Reads right"),
                     qPrintable(QString::fromStdString(motion::readyScores()[i].id) + ": " +
                                got["note"].toString()));
            const double size = sizeOf(p);
            QVERIFY2(farthest(vectorsIn(got["p"]), p) < 1e-4 * size, motion::readyScores()[i].id);
        }
    }

    void holdsItsFiles() {
        write("mailed", tests::TwoClips(), {}, {}, Page::inside);
        onlyPages_ = true;
        const QJsonObject got =
            run(urlOf("mailed"), "return {note: document.getElementById('note').textContent, policy: "
                                 "document.querySelector('meta[http-equiv]').content};");
        QVERIFY2(got["note"].toString().startsWith("Reads right"), qPrintable(got["note"].toString()));
        QVERIFY(got["policy"].toString().contains("connect-src 'none'"));
        // The same bundle without its files inside says what it wants.
        onlyPages_ = false;
        write("beside", tests::TwoClips(), {});
        onlyPages_ = true;
        const QJsonObject alone =
            run(urlOf("beside"), "return {note: document.getElementById('note').textContent, offers: "
                                 "!document.getElementById('choose').hidden};");
        QVERIFY(alone["note"].toString().startsWith("Choose all files"));
        QVERIFY(alone["offers"].toBool());
    }

    void takesFilesFromAPerson() {
        write("handed", tests::TwoClips(), {});
        // As a browser that opens the page from a disk: its neighbours are not to be had, but chosen.
        const QString script =
            "const names = ['glb', 'bundle.json', 'test.json', 'position.exr', 'normal.png'].map(n => "
            "'handed.' + n);\n"
            "const parent = page.parent, files = new parent.DataTransfer();\n"
            "for (const n of names) files.items.add(new parent.File([await (await parent.fetch('/handed/' + "
            "n)).blob()], n));\n"
            "const choose = document.getElementById('choose');\nchoose.files = files.files;\n"
            "choose.dispatchEvent(new page.Event('change'));\n"
            "for (let i = 0; i < 400 && !state.player; ++i) await new Promise(done => setTimeout(done, "
            "20));\n"
            "for (let i = 0; i < 100 && document.body.className !== 'playing'; ++i) await new Promise(done "
            "=> setTimeout(done, 20));\n"
            "return {note: document.getElementById('note').textContent};";
        const auto bytes = base::readFile(folder("handed") / "handed.html");
        std::string text(base::asText(bytes));
        const std::size_t at = text.find("await findFiles();");
        QVERIFY(at != std::string::npos);
        // Where neighbours can't be read fetch() fails; here by a server that lacks them for the page alone.
        std::filesystem::create_directories(folder("lone"));
        base::writeFile(folder("lone") / "lone.html", text);
        const QJsonObject got = run("/lone/lone.html", script);
        QVERIFY2(got["note"].toString().startsWith("Reads right"), qPrintable(got["note"].toString()));
    }

    void isUsedByPointersTouchAndKeys() {
        write("used", tests::TwoClips(), {});
        const QJsonObject got = run(urlOf("used"), R"(
const canvas = document.getElementById('stage'), seen = {};
const point = (kind, id, x, y) => canvas.dispatchEvent(new page.PointerEvent(kind, {pointerId: id, pointerType: id > 1 ? 'touch' : 'mouse', clientX: x, clientY: y, bubbles: true}));
const key = name => canvas.dispatchEvent(new page.KeyboardEvent('keydown', {key: name, bubbles: true, cancelable: true}));
seen.playing = state.playing;
let before = state.turn;
point('pointerdown', 1, 100, 100); point('pointermove', 1, 140, 100); point('pointerup', 1, 140, 100);
seen.turned = state.turn - before;
before = state.turn;
point('pointermove', 1, 300, 100);
seen.still = state.turn - before;
before = state.distance;
point('pointerdown', 2, 100, 100); point('pointerdown', 3, 200, 100); point('pointermove', 3, 300, 100);
seen.pinched = state.distance / before;
point('pointerup', 2, 0, 0); point('pointerup', 3, 0, 0);
before = state.tilt;
key('ArrowUp');
seen.tilted = state.tilt - before;
before = state.distance;
key('+');
seen.nearer = state.distance / before;
before = state.distance;
canvas.dispatchEvent(new page.WheelEvent('wheel', {deltaY: 100, bubbles: true, cancelable: true}));
seen.wheeled = state.distance / before;
key(' ');
seen.paused = !state.playing && document.getElementById('play').textContent === 'Play';
key('2');
seen.clip = state.clip;
seen.pressed = [...document.getElementById('clips').children].map(b => b.getAttribute('aria-pressed') + ' ' + b.textContent).join(', ');
document.getElementById('play').click();
seen.plays = state.playing;
const time = document.getElementById('time');
time.value = 0.25;
time.dispatchEvent(new page.Event('input'));
seen.seconds = state.seconds;
const copies = document.getElementById('copies');
copies.value = 50;
copies.dispatchEvent(new page.Event('change'));
seen.copies = state.player.copies;
seen.facts = document.getElementById('facts').textContent;
await new Promise(done => page.requestAnimationFrame(() => page.requestAnimationFrame(done)));
seen.clock = document.getElementById('clock').textContent;
seen.fault = state.player.gl.getError();
return seen;)");
        const auto near = [&](const char* what, double wanted) {
            QVERIFY2(std::abs(got[what].toDouble() - wanted) < 1e-9,
                     qPrintable(QString("%1: %2").arg(what).arg(got[what].toDouble())));
        };
        near("turned", -0.4);
        near("still", 0.0);
        near("pinched", 0.5);
        near("tilted", 0.12);
        near("nearer", 0.9);
        near("wheeled", std::exp(0.12));
        near("clip", 1.0);
        near("seconds", 0.25);
        near("copies", 50.0);
        near("fault", 0.0);
        QVERIFY(got["paused"].toBool());
        QVERIFY(got["plays"].toBool());
        const QString first = QString::fromStdString(tests::TwoClips().clips()[0].name);
        QCOMPARE(got["pressed"].toString(), "false " + first + ", true rise");
        QVERIFY2(got["facts"].toString().contains(u"11\u202f250"),
                 qPrintable(got["facts"].toString())); // 225 × 50
        QVERIFY2(got["clock"].toString().startsWith("0.25 of "), qPrintable(got["clock"].toString()));
    }

    /// Copies differ by the project's own hash.
    void copiesDifferAsEverywhere() {
        const QJsonObject got =
            run(urlOf("waves0"), "const all = [];\nfor (let i = 0; i < 200; ++i) "
                                 "all.push(own.hashed(1 + i % 7, 5 * i, i % 12));\nreturn {all};");
        const QJsonArray all = got["all"].toArray();
        QCOMPARE(all.size(), 200);
        for (int i = 0; i < all.size(); ++i) {
            const float wanted =
                scatter::hashed(static_cast<std::uint32_t>(1 + i % 7), static_cast<std::uint32_t>(5 * i),
                                static_cast<scatter::Purpose>(i % 12));
            QCOMPARE(static_cast<float>(all[i].toDouble()), wanted);
        }
    }

    void slidersAreTheParameters() {
        const auto source = source::openTestShape({"sheet", 2.0, 12, 12}, {});
        motion::Score score = motion::makeReady(motion::readyScores()[0], source->mesh());
        score.parameters.push_back(motion::parameterOf(score, *motion::adjustableAt(score, 0, "strength")));
        Origin origin;
        origin.score = std::make_shared<motion::Score>(score);
        ScoreChoices choices;
        choices.page = Page::beside;
        choices.sine = emit::Sine::exact;
        base::Progress progress;
        const ScoreManifest manifest = writeScoreBundle(*source, origin, folder("reed"), choices, progress);
        QVERIFY(!manifest.parameters.empty());
        const QString first = QString::fromStdString(manifest.parameters[0].name);
        const QJsonObject got =
            run(urlOf("reed"),
                QString("const slider = document.getElementById('parameter-%1');\n"
                        "const moment = {clip: 0, seconds: 0.4, before: 0, secondsBefore: 0, progress: 1};\n"
                        "slider.value = slider.min; slider.dispatchEvent(new page.Event('input'));\n"
                        "const read = state.player.verticesAt(moment);\n"
                        "return {count: document.querySelectorAll('#parameters label').length, chosen: "
                        "state.player.chosen['%1'], p: floats(read.positions)};")
                    .arg(first));
        QCOMPARE(static_cast<std::size_t>(got["count"].toInt()), manifest.parameters.size());
        QCOMPARE(got["chosen"].toDouble(), manifest.parameters[0].least);
        motion::setAdjustable(score, 0, "strength", manifest.parameters[0].least);
        const motion::Performance performance(score, source->mesh());
        std::vector<glm::vec3> p(source->mesh().vertexCount());
        performance.pose(0.4 / manifest.loopSeconds, {}, p, {});
        QVERIFY(farthest(vectorsIn(got["p"]), p) < 1e-4 * sizeOf(p));
    }

    void namesAreText() {
        class Named : public tests::TwoClips {
        public:
            Named() {
                clips_ = {TwoClips::clips()[0], TwoClips::clips()[1]};
                clips_[0].name = "</script><script>window.hacked = 1</script>{{files}}";
                clips_[1].name = "<img src=x onerror=\"window.hacked = 2\">";
            }
            std::span<const source::Clip> clips() const override { return clips_; }

        private:
            std::vector<source::Clip> clips_;
        };
        const std::string name = "a<b>&\"{{script}}' onload=x";
        write(name, Named(), {}, {}, Page::inside);
        const QJsonObject got = run(urlOf(name), R"(
const script = document.createElement('script'), image = document.createElement('img');
script.textContent = 'window.hacked = 3';
const refused = [];
document.addEventListener('securitypolicyviolation', event => refused.push(event.effectiveDirective));
document.body.append(script);
image.src = 'http://127.0.0.1:1/elsewhere.png';
document.body.append(image);
let fetched = 'yes';
try { await page.fetch('/'); } catch { fetched = 'no'; }
await new Promise(done => setTimeout(done, 100));
return {title: document.title, heading: document.querySelector('h1').textContent, hacked: page.hacked || 0,
        note: document.getElementById('note').textContent,
        buttons: [...document.getElementById('clips').children].map(b => b.textContent).join('|'),
        refused: refused.sort().join(), fetched};)");
        QVERIFY2(got["note"].toString().startsWith("Reads right"), qPrintable(got["note"].toString()));
        QCOMPARE(got["heading"].toString(), QString::fromStdString(name));
        QCOMPARE(got["hacked"].toInt(), 0);
        QCOMPARE(got["buttons"].toString(), QString("</script><script>window.hacked = 1</script>{{files}}|"
                                                    "<img src=x onerror=\"window.hacked = 2\">"));
        QCOMPARE(got["fetched"].toString(), QString("no"));
        QCOMPARE(got["refused"].toString(), QString("connect-src,img-src,script-src-elem"));
    }

    void showsAPictureWithoutWebGl() {
        write("plain", tests::TwoClips(), {});
        tests::BrowserRun without([this](const QString& path) { return answer(path); },
                                  {"--disable-3d-apis"});
        const auto got = without.ask(
            {{"url", urlOf("plain")},
             {"script", QString(kReady) +
                            "const svg = document.querySelector('svg');\n"
                            "return {note: document.getElementById('note').textContent, shown: "
                            "page.getComputedStyle(svg).display, paths: svg.querySelectorAll('path').length, "
                            "canvas: page.getComputedStyle(document.getElementById('stage')).display};"}});
        QVERIFY2(got, qPrintable(without.error()));
        QVERIFY((*got)["note"].toString().contains("no WebGL 2"));
        QCOMPARE((*got)["shown"].toString(), QString("block"));
        QCOMPARE((*got)["canvas"].toString(), QString("none"));
        QCOMPARE((*got)["paths"].toInt(), 2 * 14 * 14);
    }

    void damagedFilesAreSaid() {
        write("hurt", tests::TwoClips(), {});
        base::writeFile(folder("hurt") / "hurt.glb", std::string("nothing"));
        const QJsonObject got = run(
            urlOf("hurt"),
            "return {note: document.getElementById('note').textContent, still: document.body.className};");
        QVERIFY(!got["note"].toString().isEmpty());
        QVERIFY(!got["note"].toString().startsWith("Reads right"));
        QCOMPARE(got["still"].toString(), QString("still"));
        // Values that are others are told by the bundle's own test.
        write("swapped", tests::TwoClips(), {});
        write("other", tests::TurningPieces(3), {});
        const base::Bytes bytes = base::readFile(folder("swapped") / "swapped.test.json");
        std::string text(base::asText(bytes));
        const std::size_t at = text.find("\"positions\": [");
        const std::size_t number = text.find_first_of("0123456789", at);
        text.insert(number, "7");
        base::writeFile(folder("swapped") / "swapped.test.json", text);
        const QJsonObject swapped =
            run(urlOf("swapped"), "return {note: document.getElementById('note').textContent};");
        QVERIFY2(swapped["note"].toString().startsWith("Does not read right"),
                 qPrintable(swapped["note"].toString()));
    }

    void checkKnowsThePage() {
        write("known", tests::TwoClips(), {});
        const Manifest manifest = readManifest(folder("known"));
        QVERIFY(manifest.page == Page::beside);
        QVERIFY(std::any_of(manifest.files.begin(), manifest.files.end(),
                            [](const FileEntry& entry) { return entry.file == "known.html"; }));
        // Writing it again without a page takes the page away.
        write("known", tests::TwoClips(), {}, {}, Page::none);
        QVERIFY(!std::filesystem::exists(folder("known") / "known.html"));
        const base::Bytes notes = base::readFile(folder("waves0") / "IMPORT.md");
        QVERIFY(base::asText(notes).find("`waves0.html`") != std::string_view::npos);
    }
};

static const ripple::tests::SuiteOf<TestPage> kSuite;
#include "test_page.moc"
