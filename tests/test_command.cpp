// The ripple command as a build pipeline uses it.

#include "suite.h"

#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QRegularExpression>
#include <QTest>

#include <cmath>
#include <filesystem>

class TestCommand : public QObject {
    Q_OBJECT

    struct Ran {
        int status = -1;
        QString out;
        QString err;
        QJsonObject json() const { return QJsonDocument::fromJson(out.toUtf8()).object(); }
    };

    QTemporaryDir dir_;

    static Ran ripple(const QStringList& words, const QStringList& environment = {}) {
        QProcess process;
        process.setEnvironment(QProcess::systemEnvironment() + environment);
        process.start(RIPPLE_COMMAND, words);
        process.waitForFinished(120000);
        return {process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1,
                process.readAllStandardOutput(), process.readAllStandardError()};
    }
    QString in(const QString& name) const { return dir_.filePath(name); }
    static QString demo(const QString& name) { return QString(DEMO_FOLDER) + "/" + name; }

private Q_SLOTS:
    void infoSaysWhatIsThere() {
        const Ran text = ripple({"info", demo("heron.glb")});
        QCOMPARE(text.status, 0);
        QVERIFY(text.out.contains("clip \"stroll\": 42 frames"));
        QVERIFY(text.err.isEmpty()); // no bar where it is no terminal
        const QJsonObject json = ripple({"info", demo("heron.glb"), "--json"}).json();
        QCOMPARE(json["clips"].toArray().size(), 3);
        QCOMPARE(json["clips"][0]["closed"].toBool(), true);
        QCOMPARE(json["joints"].toArray().size(), 24);
        QCOMPARE(json["free_uv_set"].toInt(), 1);
        QCOMPARE(json["influences"].toInt(), 2);
        QCOMPARE(json["space"]["stated"].toBool(), true);
        QCOMPARE(json["uv_sets"][0]["base_colour_of"].toArray().size(), 1);
        // Peck stands still for a while before its end: a window of it loops with a gap below a hundredth of
        // its steps, in velocity too.
        QVERIFY(json["clips"][1]["loop_windows"][0]["gap_m"].toDouble() <
                0.01 * json["clips"][1]["median_step_m"].toDouble());
    }
    /// Copies that are smaller than the bounds hold are said, with what mends it.
    void copiesBeyondTheBoundsAreSaid() {
        QFile project(demo("bulrushes.curly"));
        QVERIFY(project.open(QIODevice::ReadOnly));
        QByteArray text =
            QJsonDocument(QJsonDocument::fromJson(project.readAll()).object()["score"].toObject()).toJson();
        text.replace("\"kind\": \"bend\"", "\"kind\": \"world\"");
        QFile score(in("gust.score"));
        QVERIFY(score.open(QIODevice::WriteOnly));
        score.write(text);
        score.close();
        const auto written = [&](const QStringList& more) {
            return ripple(
                QStringList{"score", demo("bulrush.glb"), "--score", score.fileName(), "--out", in("gust")} +
                more);
        };
        const QStringList scatter = {"scatter", in("gust"), "--out", in("gust.glb"), "--smallest", "0.25"};
        QCOMPARE(written({}).status, 0);
        const Ran beyond = ripple(scatter);
        QCOMPARE(beyond.status, 0);
        QVERIFY2(beyond.err.contains("write the bundle with --copy-sizes 0.25 2"), qPrintable(beyond.err));
        QCOMPARE(written({"--copy-sizes", "0.25", "2"}).status, 0);
        QVERIFY(ripple(scatter).err.isEmpty());
        QCOMPARE(ripple({"check", in("gust")}).status, 0);
    }
    void copiesAreWrittenMergedAndWithTheirCode() {
        QCOMPARE(ripple({"bake", demo("crab.glb"), "--kind", "joints", "--out", in("crab")}).status, 0);
        const Ran plain = ripple({"scatter", in("crab"), "--out", in("crabs.glb"), "--copies", "25",
                                  "--pattern", "even", "--clips", "walk=3", "--clips", "wait"});
        QCOMPARE(plain.status, 0);
        QVERIFY2(plain.out.contains("25 copies of crab"), qPrintable(plain.out));
        const Ran merged = ripple(
            {"scatter", in("crab"), "--out", in("one.glb"), "--copies", "25", "--merge", "uvs", "--code"});
        QCOMPARE(merged.status, 0);
        QVERIFY(merged.out.contains("merged"));
        const QJsonObject one = ripple({"info", in("one.glb"), "--json"}).json();
        const QJsonObject crab = ripple({"info", demo("crab.glb"), "--json"}).json();
        QCOMPARE(one["vertices"].toInt(), 25 * crab["vertices"].toInt());
        for (const char* language : {"glsl", "hlsl", "wgsl"}) {
            QFile code(in(QString("one.%1").arg(language)));
            QVERIFY(code.open(QIODevice::ReadOnly));
            const QByteArray text = code.readAll();
            QVERIFY(text.contains("crab_crowd_copy_of") && text.contains("crab_crowd_unmerged_direction"));
        }
        const Ran colours = ripple({"scatter", in("crab"), "--out", in("c.glb"), "--merge", "colours"});
        QCOMPARE(colours.status, 0);
        const Ran many =
            ripple({"scatter", in("crab"), "--out", in("m.glb"), "--copies", "20000", "--merge", "nothing"});
        QVERIFY(many.status != 0 && many.err.contains("merge fewer copies"));
        QVERIFY(!QFile::exists(in("m.glb")));
    }
    void targetsAreListedFoundAndWrittenFor() {
        const Ran listed = ripple({"target", "--list"});
        QCOMPARE(listed.status, 0);
        QVERIFY2(listed.out.contains("5  Z up, left-handed, centimetres"), qPrintable(listed.out));
        const Ran probe = ripple({"target", "--probe", in("arrows")});
        QCOMPARE(probe.status, 0);
        QCOMPARE(ripple({"check", in("arrows")}).status, 0);
        const Ran found = ripple({"target", "--arrows", "+X -Z +Y", "--length", "100", "--out",
                                  in("engine.target.json"), "--json"});
        QCOMPARE(found.status, 0);
        QCOMPARE(found.json()["unit_metres"].toDouble(), 0.01);
        QCOMPARE(found.json()["axes"].toArray(), QJsonArray({"+X", "+Z", "-Y"}));
        for (const QString& target : {in("engine.target.json"), QString("5")}) {
            QCOMPARE(ripple({"bake", demo("crab.glb"), "--kind", "joints", "--target", target, "--test-row",
                             "--out", in("abroad")})
                         .status,
                     0);
            const Ran checked = ripple({"check", in("abroad"), "--against", demo("crab.glb"), "--json"});
            QVERIFY2(checked.status == 0, qPrintable(checked.out + checked.err));
            QVERIFY(checked.json()["position_error_m"].toObject()["max"].toDouble() < 0.01);
            QVERIFY(QFile::exists(in("abroad/abroad.html")));
            // Merged copies keep pivots that no importer converts: said, and nothing written.
            const Ran merged = ripple({"scatter", in("abroad"), "--merge", "uvs", "--out", in("far.glb")});
            QVERIFY(merged.status == 1 && merged.err.contains("glTF's axes"));
            QVERIFY(!QFile::exists(in("far.glb")));
        }
        QCOMPARE(ripple({"score", demo("bulrush.glb"), "--score", "stalk", "--target", "2", "--page", "none",
                         "--out", in("stalk")})
                     .status,
                 0);
        QVERIFY(!QFile::exists(in("stalk/stalk.html")));
        QCOMPARE(ripple({"check", in("stalk"), "--against", demo("bulrush.glb")}).status, 0);
        QCOMPARE(ripple({"target", "--arrows", "+X +X +Y"}).status, 1);
        QCOMPARE(ripple({"target", "--arrows", "+X"}).status, 1);
        QCOMPARE(ripple({"target", "--length", "3"}).status, 2);
        QCOMPARE(ripple({"bake", demo("crab.glb"), "--target", "nowhere", "--out", in("lost")}).status, 1);
        QCOMPARE(ripple({"bake", demo("crab.glb"), "--page", "somewhere", "--out", in("lost")}).status, 2);
        QVERIFY(!QFile::exists(in("lost")));
    }
    void whatABakeLeavesOutIsSaid() {
        // A voice that slides the texture is no part of a pose.
        const Ran written =
            ripple({"score", demo("swell.glb"), "--score", "calm", "--out", in("slide.score")});
        QCOMPARE(written.status, 0);
        QFile file(in("slide.score"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        QString text = QString::fromUtf8(file.readAll());
        file.close();
        static const QRegularExpression kPush("\"push\": \\{\\s*\"kind\": \"[a-z-]+\"");
        const auto first = kPush.match(text);
        QVERIFY(first.hasMatch());
        text.replace(first.capturedStart(), first.capturedLength(), "\"push\": { \"kind\": \"uv-slide\"");
        QVERIFY(file.open(QIODevice::WriteOnly) && file.write(text.toUtf8()) > 0);
        file.close();
        const Ran baked =
            ripple({"bake", demo("swell.glb"), "--score", in("slide.score"), "--out", in("swell"), "--json"});
        QCOMPARE(baked.status, 0);
        QVERIFY2(baked.err.contains("moves the texture") && baked.err.contains("left out"),
                 qPrintable(baked.err));
        QVERIFY(!baked.json().isEmpty()); // standard output stays one document
    }
    void whatCannotBePrintedWasNotDone() {
        const auto into = [](const QString& words) {
            QProcess process;
            process.start("/bin/sh", {"-c", QString("exec \"$0\" %1").arg(words), RIPPLE_COMMAND});
            process.waitForFinished(60000);
            return Ran{process.exitCode(), process.readAllStandardOutput(), process.readAllStandardError()};
        };
        for (const QString& words :
             {"info '" + demo("crates.pc2") + "' > /dev/full",
              "info --json '" + demo("crates.pc2") + "' > /dev/full", QString("--help > /dev/full")}) {
            const Ran ran = into(words);
            QCOMPARE(ran.status, 1);
            QVERIFY2(ran.err.contains("standard output: could not be written whole (No space left"),
                     qPrintable(ran.err));
        }
        QCOMPARE(into("--version > /dev/null").status, 0);
        // A reader that goes away early is no crash.
        QVERIFY(into("info '" + demo("heron.glb") + "' | head -c 1").out.size() == 1);
    }
    void namesThatNoFileCanHaveAreProblems() {
        const QString endless(5000, 'a');
        for (const QStringList& words :
             {QStringList{"info", endless + ".glb"}, QStringList{"info", endless + "/a_##.obj"},
              QStringList{"info", endless + ".pc2"}, QStringList{"check", endless},
              QStringList{"bake", demo("heron.glb"), "--out", in(endless)},
              QStringList{"score", demo("heron.glb"), "--score", endless},
              QStringList{"score", demo("heron.glb"), "--score", "wings", "--out", in(endless)}}) {
            const Ran ran = ripple(words);
            QCOMPARE(ran.status, 1);
            QCOMPARE(ran.err.count('\n'), 1);
            QVERIFY2(!ran.err.contains("fault of the program") && !ran.err.contains("filesystem"),
                     qPrintable(ran.err.right(200)));
        }
    }
    void pathsNeedNotBeText() {
        const QByteArray folder = in("f").toLocal8Bit() + "\xe4rgen";
        std::filesystem::create_directories(folder.toStdString());
        std::filesystem::copy_file(demo("windsock.glb").toStdString(), folder.toStdString() + "/s\xff.glb");
        const auto run = [&](const QByteArray& words) {
            QFile script(in("run.sh"));
            if (script.open(QIODevice::WriteOnly)) {
                script.write("exec \"" RIPPLE_COMMAND "\" " + words +
                             "\n"); // the process' arguments would be text
            }
            script.close();
            QProcess process;
            process.start("/bin/sh", {in("run.sh")});
            process.waitForFinished(60000);
            return Ran{process.exitCode(), process.readAllStandardOutput(), process.readAllStandardError()};
        };
        const QByteArray source = "'" + folder + "/s\xff.glb'";
        QCOMPARE(run("info " + source).status, 0);
        const Ran info = run("info --json " + source);
        QCOMPARE(info.status, 0);
        QVERIFY(info.json().contains("clips"));
        QCOMPARE(run("bake " + source + " --out '" + folder + "/sock'").status, 0);
        QVERIFY(std::filesystem::exists(folder.toStdString() + "/sock/sock.bundle.json"));
        QCOMPARE(run("check '" + folder + "/sock' --against " + source).status, 0);
        QCOMPARE(run("bake " + source + " --out '" + folder + "/n\xe4me'").status, 1);
        const Ran missing = run("info '" + folder + "/none.glb'");
        QCOMPARE(missing.status, 1);
        QVERIFY(missing.err.contains("there is no such file"));
    }
    void sizesAreAnsweredAtOnce() {
        // At a thousandth of its speed 1.4 s are 42 000 frames.
        const Ran slow =
            ripple({"bake", demo("heron.glb"), "--clip", "stroll", "--speed", "0.001", "--out", in("slow")});
        QCOMPARE(slow.status, 1);
        QVERIFY2(slow.err.contains("frames: are 42"), qPrintable(slow.err));
        QVERIFY(slow.err.contains("a higher speed"));
        QVERIFY(!QFile::exists(in("slow")));
        const Ran unnamed = ripple({"bake", demo("heron.glb"), "--out", ""});
        QCOMPARE(unnamed.status, 1);
        QVERIFY(unnamed.err.contains("the bundle's folder: is not named"));
        QCOMPARE(ripple({"demo", "--out", ""}).status, 1);
    }
    void modelsCannotTakeFilesAlong() {
        QDir(dir_.path()).mkpath("model");
        QFile secret(in("secret.png"));
        QVERIFY(QFile::copy(demo("crates.png"), secret.fileName()));
        QDir(dir_.path()).mkpath("elsewhere/deep");
        const QString picture = in("secret.png");
        QFile mtl(in("elsewhere/deep/m.mtl"));
        QVERIFY(mtl.open(QIODevice::WriteOnly));
        mtl.write("newmtl skin\nmap_Kd " + picture.toLocal8Bit() + "\n");
        mtl.close();
        QFile obj(in("elsewhere/deep/m.obj"));
        QVERIFY(obj.open(QIODevice::WriteOnly));
        obj.write(
            "mtllib m.mtl\nusemtl skin\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nf 1/1 2/2 3/3\n");
        obj.close();
        const auto size = [&](const QStringList& more) {
            const Ran ran =
                ripple(QStringList{"bake", in("elsewhere/deep/m.obj"), "--out", in("taken")} + more);
            return std::pair(ran, QFileInfo(in("taken/taken.glb")).size());
        };
        const auto [plain, without] = size({});
        QCOMPARE(plain.status, 0);
        QVERIFY2(plain.err.contains("outside its folder") && plain.err.contains("--follow-outside"),
                 qPrintable(plain.err));
        const auto [trusted, with] = size({"--follow-outside"});
        QCOMPARE(trusted.status, 0);
        QVERIFY(!trusted.err.contains("outside its folder"));
        QVERIFY(with > without + QFileInfo(picture).size() / 2);
    }
    void scoresAreBakedAndPrinted() {
        const Ran baked = ripple({"bake", demo("skate.glb"), "--score", "wings", "--out", in("skate"),
                                  "--store", "unorm16", "--json"});
        QCOMPARE(baked.status, 0);
        const QJsonObject clip = baked.json()["clips"][0].toObject();
        QCOMPARE(clip["name"].toString(), QString("Wing-wave swimmer"));
        QCOMPARE(clip["frames"].toInt(), 72);
        QVERIFY(clip["closed"].toBool());
        // The manifest holds the score: no more words are needed, and others are taken instead of it.
        QCOMPARE(ripple({"check", in("skate"), "--against", demo("skate.glb")}).status, 0);
        QCOMPARE(ripple({"check", in("skate"), "--against", demo("skate.glb"), "--score", "wings"}).status,
                 0);
        QCOMPARE(ripple({"check", in("skate"), "--against", demo("skate.glb"), "--score", "side"}).status, 1);
        // Its text is a file that can be given again, and its code is GLSL.
        QCOMPARE(ripple({"score", demo("skate.glb"), "--score", "wings", "--out", in("w.score")}).status, 0);
        QCOMPARE(
            ripple({"check", in("skate"), "--against", demo("skate.glb"), "--score", in("w.score")}).status,
            0);
        QVERIFY(ripple({"score", demo("skate.glb"), "--score", in("w.score"), "--code"})
                    .out.contains("Wing_wave_swimmer_moved Wing_wave_swimmer_at_turn("));
        const auto code = [&](const char* language) {
            return ripple({"score", demo("skate.glb"), "--score", in("w.score"), "--language", language});
        };
        QVERIFY(code("glsl").out.contains("vec3 rest_position, "));
        QVERIFY(code("hlsl").out.contains("Wing_wave_swimmer_at_turn(float3 rest_position, "));
        QVERIFY(code("wgsl").out.contains("fn Wing_wave_swimmer_at_turn(rest_position: vec3<f32>, "));
        // A folder takes a bundle without textures; a check reads it back.
        const Ran reeds = ripple({"score", demo("bulrush.glb"), "--score", "stalk", "--language", "hlsl",
                                  "--language", "glsl", "--store-masks", "--out", in("reeds")});
        QCOMPARE(reeds.status, 0);
        QVERIFY(QFile::exists(in("reeds/reeds.hlsl")) && !QFile::exists(in("reeds/reeds.wgsl")));
        const Ran sound = ripple({"check", in("reeds"), "--against", demo("bulrush.glb"), "--json"});
        QCOMPARE(sound.status, 0);
        QCOMPARE(sound.json()["ok"].toBool(), true);
        QVERIFY(sound.json()["position_error_m"].toObject()["max"].toDouble() < 1e-5);
        QCOMPARE(ripple({"check", in("reeds"), "--against", demo("skate.glb")}).status, 1);
        const Ran half =
            ripple({"score", demo("skate.glb"), "--score", "wings", "--half", "0.5%", "--out", in("half")});
        QCOMPARE(half.status, 0);
        QCOMPARE(ripple({"check", in("half"), "--against", demo("skate.glb")}).status, 0);
        QCOMPARE(ripple({"score", demo("skate.glb"), "--score", "wings", "--half", "0.00001mm", "--out",
                         in("none")})
                     .status,
                 1);
        QCOMPARE(
            ripple({"score", demo("skate.glb"), "--score", "wings", "--half", "much", "--out", in("none")})
                .status,
            2);
        const Ran two = ripple({"score", demo("skate.glb"), "--score", "wings", "--language", "hlsl",
                                "--language", "glsl", "--out", in("one.glsl")});
        QCOMPARE(two.status, 1);
        QVERIFY(two.err.contains("folder"));
        QCOMPARE(ripple({"score", demo("skate.glb"), "--score", "wings", "--out", in("wings.wgsl")}).status,
                 0);
        const Ran other = code("cg");
        QCOMPARE(other.status, 2);
        QVERIFY(other.err.contains("wgsl"));
        QVERIFY(ripple({"score", demo("skate.glb"), "--score", "wings", "--language", "wgsl", "--exact-sine"})
                    .out.contains("fn Wing_wave_swimmer_sine(turns: f32) -> f32"));
        const Ran on = ripple(
            {"bake", demo("heron.glb"), "--score", "wings", "--on-top", "--out", in("heron"), "--json"});
        QCOMPARE(on.json()["clips"].toArray().size(), 3);
        const Ran unknown = ripple({"bake", demo("skate.glb"), "--score", "moonwalk", "--out", in("no")});
        QCOMPARE(unknown.status, 1);
        QVERIFY(unknown.err.contains("moonwalk") && unknown.err.contains("lantern"));
    }
    void infoSaysWhatTheBenchFinds() {
        const QJsonObject json = ripple({"info", demo("awning_0003.obj"), "--json"}).json();
        QStringList ids;
        for (const QJsonValue& problem : json["problems"].toArray()) {
            ids << problem.toObject()["id"].toString();
            QVERIFY(!problem.toObject()["fix"].toString().isEmpty());
        }
        for (const char* id : {"open-ends", "normals-made", "rate-unknown", "still"}) {
            QVERIFY2(ids.contains(id), id);
        }
        QCOMPARE(json["problems"][0]["id"].toString(), QString("open-ends")); // the worst first
        QCOMPARE(json["vertices_that_never_move"].toInt(),
                 json["problems"].toArray().last()["vertices"].toArray().size());
    }
    void howASourceIsReadIsSaidInWords() {
        const QJsonObject plain = ripple({"info", demo("awning_####.obj"), "--json"}).json();
        const QJsonObject json =
            ripple({"info", demo("awning_####.obj"), "--json", "--unit", "cm", "--up", "z", "--rate", "24",
                    "--speed", "2", "--range", "10..49", "--subdivide", "1"})
                .json();
        QCOMPARE(json["triangles"].toInt(), 4 * plain["triangles"].toInt());
        QCOMPARE(json["clips"][0]["frames"].toInt(), 40);
        QCOMPARE(json["clips"][0]["fps"].toDouble(), 48.0);
        QCOMPARE(json["space"]["metres_per_unit"].toDouble(), 0.01);
        const auto high = [](const QJsonObject& of, int axis) {
            return of["rest_bounds"]["max"][axis].toDouble() - of["rest_bounds"]["min"][axis].toDouble();
        };
        // What was deep is high, a hundredth of it; the range begins ten frames on, so only roughly.
        QVERIFY(std::abs(high(json, 1) - 0.01 * high(plain, 2)) < 0.002);
        QCOMPARE(ripple({"info", demo("heron.glb"), "--range", "9..3"}).status, 2);
        QCOMPARE(ripple({"info", demo("heron.glb"), "--unit", "parsec"}).status, 2);
        const Ran gone = ripple({"info", demo("heron.glb"), "--mesh", "swan"});
        QCOMPARE(gone.status, 1);
        QVERIFY(gone.err.contains("swan") && gone.err.contains("heron"));
    }
    void aBakeIsCheckedAsItWasRead() {
        const QString out = in("small");
        QCOMPARE(ripple({"bake", demo("heron.glb"), "--out", out, "--clip", "stroll", "--unit", "cm",
                         "--reversed"})
                     .status,
                 0);
        const Ran check = ripple({"check", out, "--against", demo("heron.glb"), "--json"});
        QCOMPARE(check.status, 0);
        const QJsonObject report = check.json();
        QVERIFY(report["position_error_m"]["max"].toDouble() < 1e-4);
    }
    void demoBakesPassTheirCheck_data() {
        QTest::addColumn<QString>("source");
        QTest::addColumn<QStringList>("how");
        QTest::addColumn<double>("mostAtFrames");
        QTest::newRow("awning") << demo("awning_####.obj")
                                << QStringList{"--store", "unorm16", "--content", "offset"} << 1e-5;
        QTest::newRow("awning by one file")
            << demo("awning_0007.obj") << QStringList{"--store", "float32"} << 1e-6;
        QTest::newRow("heron") << demo("heron.glb") << QStringList{"--store", "half", "--content", "absolute"}
                               << 1e-3;
        QTest::newRow("heron, one clip")
            << demo("heron.glb") << QStringList{"--clip",  "stroll",    "--fps", "60",          "--store",
                                                "unorm16", "--normals", "none",  "--max-width", "512"}
            << 1e-4;
        QTest::newRow("window") << demo("awning_####.obj")
                                << QStringList{"--frames", "18..113", "--step", "3"} << 1e-3;
        QTest::newRow("two bytes, normals in alpha")
            << demo("awning_####.obj")
            << QStringList{"--store", "unorm8x2", "--normals", "oct16", "--normals-in-alpha"} << 1e-5;
        QTest::newRow("faded, thinned")
            << demo("awning_####.obj") << QStringList{"--close", "fade:12", "--thin", "8mm"} << 1e-3;
        QTest::newRow("faded, every 5th")
            << demo("awning_####.obj")
            << QStringList{"--close", "fade:9", "--step", "5", "--frames", "20..119"} << 1e-3;
        QTest::newRow("the best window")
            << demo("awning_####.obj") << QStringList{"--close", "window"} << 1e-3;
        QTest::newRow("sampled anew")
            << demo("awning_####.obj") << QStringList{"--rate", "30", "--fps", "24"} << 1e-3;
        QTest::newRow("powers of two, half UVs")
            << demo("heron.glb")
            << QStringList{"--power-of-two", "--half-uvs", "--range-per-clip", "--store", "unorm16"} << 1e-4;
        QTest::newRow("thinned clips")
            << demo("heron.glb") << QStringList{"--thin", "3mm", "--normals", "oct32"} << 2e-3;
        QTest::newRow("pieces") << demo("crates.pc2") << QStringList{"--kind", "pieces", "--store", "unorm16"}
                                << 1e-4;
        QTest::newRow("shapes") << demo("awning_####.obj")
                                << QStringList{"--kind", "shapes", "--shapes", "40", "--store", "unorm16"}
                                << 0.02;
    }
    void demoBakesPassTheirCheck() {
        QFETCH(QString, source);
        QFETCH(QStringList, how);
        QFETCH(double, mostAtFrames);
        const Ran bake = ripple(QStringList{"bake", source, "--out", in("out"), "--json"} + how);
        QVERIFY2(bake.status == 0, qPrintable(bake.err));
        QCOMPARE(bake.json()["format"].toString(), QString("curly-ripple-bundle"));
        QCOMPARE(bake.json()["name"].toString(), QString("out"));
        const Ran check = ripple({"check", in("out"), "--against", source, "--json"});
        QVERIFY2(check.status == 0, qPrintable(check.err));
        const QJsonObject report = check.json();
        QVERIFY(report["ok"].toBool());
        QVERIFY(report["problems"].toArray().isEmpty());
        QVERIFY(report["position_error_m"]["max"].isDouble() &&
                report["position_error_m"]["rms"].isDouble() && report["position_error_m"]["p99"].isDouble());
        QVERIFY(report["normal_error_deg"]["max"].isDouble());
        QVERIFY(report["position_error_at_frames_m"]["max"].toDouble() <= mostAtFrames);
        QVERIFY(report["clips"][0]["seam_gap_m"].isDouble());
    }
    void theToleranceTakesTheCheapestWay() {
        const Ran crates =
            ripple({"bake", demo("crates.pc2"), "--out", in("crates"), "--tolerance", "0.1mm", "--json"});
        QVERIFY2(crates.status == 0, qPrintable(crates.err));
        QCOMPARE(crates.json()["kind"].toString(), QString("pieces"));
        QVERIFY(crates.err.contains("chosen: 10 pieces"));
        QVERIFY(crates.json()["error"].toObject()["position_max_m"].toDouble() <= 1e-4);
        // A share of the size as well.
        const Ran share =
            ripple({"bake", demo("crates.pc2"), "--out", in("share"), "--tolerance", "0.01 %", "--json"});
        QVERIFY2(share.status == 0, qPrintable(share.err));
        QCOMPARE(share.json()["kind"].toString(), QString("pieces"));
        // What is given stays as it is given.
        const Ran kept = ripple({"bake", demo("crates.pc2"), "--out", in("kept"), "--tolerance", "0.1mm",
                                 "--kind", "vertices", "--store", "float32", "--json"});
        QVERIFY2(kept.status == 0, qPrintable(kept.err));
        QCOMPARE(kept.json()["kind"].toString(), QString("vertices"));
        QCOMPARE(kept.json()["position"].toObject()["store"].toString(), QString("float32"));
        const Ran none = ripple({"bake", demo("crab.glb"), "--out", in("none"), "--tolerance", "0.000001mm"});
        QCOMPARE(none.status, 1);
        QVERIFY2(none.err.contains("no way to store") && none.err.contains("the best"), qPrintable(none.err));
        QVERIFY(!QFileInfo::exists(in("none")));
    }
    void checkWithoutASourceStillReports() {
        ripple({"bake", demo("heron.glb"), "--out", in("alone"), "--clip", "stroll"});
        const QJsonObject report = ripple({"check", in("alone"), "--json"}).json();
        QVERIFY(report["ok"].toBool());
        QVERIFY(report["position_error_m"]["max"].isNull());
        QCOMPARE(report["clips"][0]["name"].toString(), QString("stroll"));
    }
    void aBadBundleIsStatusOne() {
        ripple({"bake", demo("heron.glb"), "--out", in("spoilt"), "--clip", "stroll"});
        QFile file(in("spoilt/spoilt.normal.png"));
        QVERIFY(file.open(QIODevice::ReadWrite));
        file.resize(file.size() / 2);
        file.close();
        const Ran check = ripple({"check", in("spoilt"), "--json"});
        QCOMPARE(check.status, 1);
        QCOMPARE(check.json()["ok"].toBool(), false);
        QVERIFY(check.err.contains("spoilt.normal.png"));
    }
    void badInputIsStatusOneAndLeavesNothing() {
        QFile empty(in("empty.glb"));
        QVERIFY(empty.open(QIODevice::WriteOnly));
        const QList<QStringList> calls = {
            {"info", in("none.glb")},
            {"bake", in("empty.glb"), "--out", in("never")},
            {"bake", demo("heron.glb"), "--out", in("never"), "--clip", "fly"},
            {"bake", demo("heron.glb"), "--out", in("never"), "--mesh", "crow"},
            {"bake", demo("awning_####.obj"), "--out", in("never"), "--frames", "100..200"},
            {"bake", demo("heron.glb"), "--out", "/proc/never"},
            {"bake", demo("heron.glb"), "--out", in("never"), "--max-width", "16", "--fps", "1000"},
            {"check", in("")},
        };
        for (const QStringList& call : calls) {
            const Ran ran = ripple(call);
            QVERIFY2(ran.status == 1, qPrintable(call.join(' ')));
            QVERIFY2(ran.err.startsWith("ripple: ") && ran.err.count('\n') == 1 && ran.err.contains("; "),
                     qPrintable(ran.err));
            QVERIFY(!QFile::exists(in("never")));
        }
    }
    void oddWordsAreStatusTwo() {
        const QList<QStringList> calls = {
            {},
            {"sing"},
            {"bake", demo("heron.glb")},
            {"bake", demo("heron.glb"), "--out", in("x"), "--store", "jpeg"},
            {"bake", demo("heron.glb"), "--out", in("x"), "--frames", "9..3"},
            {"bake", demo("heron.glb"), "--out", in("x"), "--step", "0"},
            {"bake", demo("heron.glb"), "--out", in("x"), "--kind", "sprites"},
            {"bake", demo("heron.glb"), "--out", in("x"), "--close", "fade"},
            {"bake", demo("heron.glb"), "--out", in("x"), "--close", "fade:0"},
            {"bake", demo("heron.glb"), "--out", in("x"), "--close", "drop:3"},
            {"bake", demo("heron.glb"), "--out", in("x"), "--close", "sew"},
            {"bake", demo("heron.glb"), "--out", in("x"), "--tolerance", "thin"},
            {"bake", demo("heron.glb"), "--out", in("x"), "--thin", "-1mm"},
            {"check", in("x"), "--colour"},
        };
        for (const QStringList& call : calls) {
            QVERIFY2(ripple(call).status == 2, qPrintable(call.join(' ')));
        }
        QCOMPARE(ripple({"--help"}).status, 0);
        QCOMPARE(ripple({"bake", "--help"}).status, 0);
    }
};

static const ripple::tests::SuiteOf<TestCommand> kSuite;
#include "test_command.moc"
