// Writing a bundle where one lies already, and what its manifest says of itself and of what was baked.

#include "base/files.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "bundle/read_bundle.h"
#include "bundle/write_bundle.h"
#include "bundle_fixture.h"
#include "motion/ready_scores.h"
#include "motion/score_file.h"
#include "motion/score_source.h"
#include "problem_of.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <map>

#include <nlohmann/json.hpp>

using namespace ripple;
using tests::AnalyticSource;

using tests::entriesIn;
using tests::filesIn;
using tests::recipeOf;
using tests::sheet;
constexpr auto writing = [](const std::filesystem::path& to) { return tests::writingTo(to); };

class TestRebake : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> dir_;
    std::filesystem::path folder() const { return dir_->path().toStdString(); }
    bundle::Manifest write(const std::string& name, const bake::Recipe& recipe) {
        return tests::writeTo(folder() / name, recipe);
    }

private Q_SLOTS:
    void init() { dir_ = std::make_unique<QTemporaryDir>(); }

    void otherPeoplesFoldersAreLeftAlone() {
        std::filesystem::create_directories(folder() / "photos");
        base::writeFile(folder() / "photos/cat.txt", "miaow");
        QVERIFY(tests::says(writing(folder() / "photos"), "cat.txt", "is no bundle", "left as it is"));
        QCOMPARE(entriesIn(folder() / "photos"), std::size_t(1));
        base::writeFile(folder() / "file", "text");
        QVERIFY(tests::says(writing(folder() / "file"), "is a file"));
        // Two bundles in a folder are nobody's to sort out.
        write("two", recipeOf("half"));
        std::filesystem::copy_file(folder() / "two/two.bundle.json", folder() / "two/other.bundle.json");
        QVERIFY(tests::says(writing(folder() / "two"), "two bundles", "other.bundle.json"));
        // An old bundle and an empty folder may be replaced.
        write("sheet", recipeOf("half"));
        write("sheet", recipeOf("unorm16"));
        QVERIFY(!std::filesystem::exists(folder() / "sheet/sheet.position.exr"));
        std::filesystem::create_directories(folder() / "empty");
        write("empty", recipeOf("half"));
    }
    void whatOthersPutBesideABundleIsKept() {
        const auto at = [this](const char* file) { return folder() / "sheet" / file; };
        write("sheet", recipeOf("half"));
        base::writeFile(at("sheet.glb.meta"), "settings");
        base::writeFile(at("sheet.position.exr.meta"), "settings of a file that goes");
        base::writeFile(at("notes.txt"), "keep me");
        std::filesystem::create_directories(at("variants/red"));
        base::writeFile(at("variants/red/a.txt"), "red");
        write("sheet", recipeOf("unorm16"));
        auto files = filesIn(folder() / "sheet");
        QCOMPARE(files["sheet.glb.meta"], std::string("settings"));
        QCOMPARE(files["sheet.position.exr.meta"], std::string("settings of a file that goes"));
        QCOMPARE(files["notes.txt"], std::string("keep me"));
        QVERIFY(!std::filesystem::exists(at("sheet.position.exr")));
        QVERIFY(std::filesystem::exists(at("sheet.position.png")));
        QCOMPARE(std::string(base::asText(base::readFile(at("variants/red/a.txt")))), std::string("red"));
        QVERIFY(bundle::check(folder() / "sheet", &sheet()).ok());
        QCOMPARE(entriesIn(folder()), std::size_t(1)); // no hidden folder
        // With the manifest gone only the importers' files are left: they are kept too.
        for (const char* file :
             {"sheet.glb", "sheet.position.png", "sheet.normal.png", "sheet.glsl", "sheet.hlsl", "sheet.wgsl",
              "sheet.vertex.glsl", "sheet.vertex.hlsl", "sheet.vertex.wgsl", "sheet.test.json", "IMPORT.md",
              "sheet.bundle.json", "notes.txt"}) {
            std::filesystem::remove(at(file));
        }
        std::filesystem::remove_all(at("variants"));
        write("sheet", recipeOf("half"));
        QCOMPARE(filesIn(folder() / "sheet")["sheet.glb.meta"], std::string("settings"));
    }
    void whatIsInTheWayIsNamed() {
        // Somebody's own model under the name that the bundle's takes.
        std::filesystem::create_directories(folder() / "sheet");
        base::writeFile(folder() / "sheet/sheet.glb", "my model");
        QVERIFY(tests::says(writing(folder() / "sheet"), "sheet.glb", "in the way"));
        QCOMPARE(filesIn(folder() / "sheet")["sheet.glb"], std::string("my model"));
        std::filesystem::remove(folder() / "sheet/sheet.glb");
        write("sheet", recipeOf("half"));
        base::writeFile(folder() / "sheet/sheet.position.png", "my picture");
        const auto before = filesIn(folder() / "sheet");
        base::Progress progress;
        QVERIFY(tests::says(tests::problemOf([&] {
                                bundle::writeBundle(sheet(), recipeOf("unorm16"), {}, folder() / "sheet",
                                                    progress);
                            }),
                            "sheet.position.png", "in the way"));
        QVERIFY(filesIn(folder() / "sheet") == before);
        // A manifest from elsewhere can't have other files removed by listing them.
        write("listed", recipeOf("half"));
        base::writeFile(folder() / "listed/notes.txt", "keep me");
        const auto manifest = folder() / "listed/listed.bundle.json";
        auto json = nlohmann::ordered_json::parse(base::asText(base::readFile(manifest)));
        json["files"].push_back({{"file", "notes.txt"}, {"sha256", ""}, {"bytes", 7}});
        json["files"].push_back({{"file", "../sheet/sheet.glb"}, {"sha256", ""}, {"bytes", 7}});
        base::writeFile(manifest, json.dump());
        write("listed", recipeOf("unorm16"));
        QCOMPARE(filesIn(folder() / "listed")["notes.txt"], std::string("keep me"));
        QVERIFY(std::filesystem::exists(folder() / "sheet/sheet.glb"));
        // One that can't be read any more: the names that it can have listed are ours.
        base::writeFile(manifest, "{\"format\": ");
        write("listed", recipeOf("half"));
        QVERIFY(bundle::check(folder() / "listed", &sheet()).ok());
        QVERIFY(!std::filesystem::exists(folder() / "listed/listed.position.png"));
        bundle::writeBundle(sheet(), recipeOf("half"), {}, folder() / "listed", progress,
                            {.page = bundle::Page::beside});
        QVERIFY(std::filesystem::exists(folder() / "listed/listed.html"));
        base::writeFile(manifest, "{\"format\": ");
        write("listed", recipeOf("half"));
        QVERIFY(!std::filesystem::exists(folder() / "listed/listed.html"));
    }
    void namesThatCannotBeAreRefused() {
        for (const char* name : {"",
                                 "bad\xff"
                                 "name",
                                 "two\nlines"}) {
            const base::Problem problem = *name ? writing(folder() / name) : writing("");
            QVERIFY(tests::says(problem, "last part"));
        }
        QVERIFY(std::filesystem::is_empty(folder()));
        // Folders above may have any name.
        const auto odd = folder() / "f\xe4rgen" / "sheet";
        QCOMPARE(writing(odd).line(), std::string());
        QVERIFY(std::filesystem::exists(odd / "sheet.bundle.json"));
        QVERIFY(bundle::check(odd, &sheet()).ok());
    }
    void linksLeadToTheBundle() {
        write("builds", recipeOf("half"));
        std::filesystem::create_directory_symlink("builds", folder() / "sheet");
        QCOMPARE(writing(folder() / "sheet").line(), std::string());
        QVERIFY(std::filesystem::is_symlink(folder() / "sheet"));
        // Named as it was asked for; what the other name wrote is gone.
        QVERIFY(std::filesystem::exists(folder() / "builds/sheet.bundle.json"));
        QVERIFY(!std::filesystem::exists(folder() / "builds/builds.bundle.json"));
        QVERIFY(bundle::check(folder() / "sheet", &sheet()).ok());
    }
    void anEditedManifestIsNamedAsSuch_data() {
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        QTest::addColumn<QString>("against"); ///< what a comparison with the source says beside it
        QTest::newRow("rate") << "\"fps\": 12.0"
                              << "\"fps\": 24.0"
                              << "rate (fps) is 24.0";
        QTest::newRow("step") << "\"source_step\": 1.0"
                              << "\"source_step\": 2.0"
                              << "step (source_step) is 2.0";
        QTest::newRow("start") << "\"source_frame\": 0.0"
                               << "\"source_frame\": 3.0"
                               << "first frame (source_frame) is 3.0";
        QTest::newRow("closing") << "\"closed\": true"
                                 << "\"closed\": false"
                                 << "is open in the manifest";
        QTest::newRow("up") << "\"up\": \"+Y\""
                            << "\"up\": \"+Z\""
                            << "another convention";
        QTest::newRow("unit") << "\"unit_metres\": 1.0"
                              << "\"unit_metres\": 0.01"
                              << "another convention";
        QTest::newRow("generator") << "\"generator\": \"curly"
                                   << "\"generator\": \"Curly"
                                   << "";
    }
    void anEditedManifestIsNamedAsSuch() {
        QFETCH(QString, from);
        QFETCH(QString, to);
        QFETCH(QString, against);
        write("sheet", recipeOf("half"));
        const auto file = folder() / "sheet/sheet.bundle.json";
        const std::string whole(base::asText(base::readFile(file)));
        QVERIFY(bundle::check(folder() / "sheet", &sheet()).ok());
        QString edited = QString::fromStdString(whole);
        edited.replace(edited.indexOf(from), from.size(), to); // in one of the places that say so
        QVERIFY(edited.toStdString() != whole);
        base::writeFile(file, edited.toStdString());
        const bundle::CheckReport report = bundle::check(folder() / "sheet", &sheet());
        QVERIFY(!report.ok());
        QVERIFY(tests::says(report.problems[0], "sheet.bundle.json", "was changed after it was written"));
        QCOMPARE(report.clips.size(), std::size_t(1)); // and it is read all the same
        const bool said =
            std::any_of(report.problems.begin(), report.problems.end(), [&](const base::Problem& p) {
                return p.line().find(against.toStdString()) != std::string::npos;
            });
        QVERIFY2(said, qPrintable(against));
        // Line ends of another system are no edit; neither is a manifest of an older version, without a
        // digest.
        QString lines = QString::fromStdString(whole);
        base::writeFile(file, lines.replace("\n", "\r\n").toStdString());
        QVERIFY(bundle::check(folder() / "sheet", &sheet()).ok());
        auto json = nlohmann::ordered_json::parse(whole);
        json.erase("digest");
        base::writeFile(file, json.dump(2));
        QVERIFY(bundle::check(folder() / "sheet", &sheet()).ok());
    }
    void versionsThatNeverWereAreRefused() {
        write("sheet", recipeOf("half"));
        const auto file = folder() / "sheet/sheet.bundle.json";
        auto json = nlohmann::ordered_json::parse(base::asText(base::readFile(file)));
        json["version"] = 0;
        base::writeFile(file, json.dump());
        QVERIFY(
            tests::says(bundle::check(folder() / "sheet", nullptr).problems[0], "version 0", "never was"));
    }
    void theScoreThatWasBakedIsInTheManifest() {
        auto under = std::make_shared<AnalyticSource>(12, tests::timed(2.0, 12.0), tests::wave(2.0));
        const auto scores = motion::readyScores();
        const auto water = std::find_if(scores.begin(), scores.end(),
                                        [](const auto& ready) { return std::string(ready.id) == "choppy"; });
        QVERIFY(water != scores.end());
        const motion::Score score = motion::makeReady(*water, under->mesh());
        for (const bool onTop : {false, true}) {
            const auto moved =
                motion::playScore(under, score, onTop ? motion::Play::onTop : motion::Play::alone);
            base::Progress progress;
            bundle::writeBundle(*moved, recipeOf("half"), {{}, std::make_shared<motion::Score>(score), onTop},
                                folder() / "moved", progress);
            const bundle::Origin origin = bundle::originOf(folder() / "moved");
            QVERIFY(origin.score != nullptr);
            QCOMPARE(origin.scoreOnTop, onTop);
            QCOMPARE(motion::scoreText(*origin.score), motion::scoreText(score));
            const auto again = motion::playScore(
                under, *origin.score, origin.scoreOnTop ? motion::Play::onTop : motion::Play::alone);
            QVERIFY(bundle::check(folder() / "moved", again.get()).ok());
            // The source without it, or with it the other way, is another motion.
            QVERIFY(!bundle::check(folder() / "moved", under.get()).ok());
        }
        write("still", recipeOf("half"));
        QVERIFY(!bundle::originOf(folder() / "still").score);
    }
};

static const ripple::tests::SuiteOf<TestRebake> kSuite;
#include "test_rebake.moc"
