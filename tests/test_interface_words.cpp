// All words of the interface in one list, so that they can be read in one go; and what none of them may be.

#include "base/files.h"
#include "bake/kind.h"
#include "bake/store.h"
#include "mesh/test_shapes.h"
#include "motion/kinds.h"
#include "motion/parameter.h"
#include "motion/ready_scores.h"
#include "motion/score.h"
#include "suite.h"

#include <QDirIterator>
#include <QFile>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <QTest>
#include <QXmlStreamReader>

#include <algorithm>
#include <array>

using namespace ripple;

namespace {

struct Message {
    QString context;
    QString source;
    bool plural = false;
    QStringList forms; ///< of a plural: one, several
};

std::vector<Message> messagesIn(const QString& file) {
    QFile ts(file);
    if (!ts.open(QIODevice::ReadOnly)) {
        return {};
    }
    std::vector<Message> all;
    QString context;
    QXmlStreamReader xml(&ts);
    while (!xml.atEnd()) {
        if (xml.readNext() != QXmlStreamReader::StartElement) {
            continue;
        }
        if (xml.name() == QString("name")) {
            context = xml.readElementText().section("::", -1);
        } else if (xml.name() == QString("message")) {
            all.push_back({context, {}, xml.attributes().value("numerus") == QString("yes"), {}});
        } else if (xml.name() == QString("source")) {
            all.back().source = xml.readElementText();
        } else if (xml.name() == QString("numerusform")) {
            all.back().forms << xml.readElementText();
        }
    }
    return all;
}

/// What lupdate finds in the application's code.
std::vector<Message> wordsOfTheCode(const QStringList& more, const QTemporaryDir& folder) {
    const QString file = folder.filePath("words.ts");
    QProcess lupdate;
    lupdate.setWorkingDirectory(SOURCE_FOLDER);
    lupdate.start(LUPDATE, QStringList{"-silent", "-I", ".", "app", "-locations", "none", "-no-obsolete",
                                       "-source-language", "en", "-target-language", "en"} +
                               more + QStringList{"-ts", file});
    return lupdate.waitForFinished(60000) && lupdate.exitCode() == 0 ? messagesIn(file)
                                                                     : std::vector<Message>();
}

/// "BakePanel: Keep every", one a line, as they are in the code; then those that come from the core's tables.
QStringList listOf(const std::vector<Message>& messages) {
    QStringList lines;
    const auto add = [&](const QString& context, QString words) {
        lines << context + ": " + words.replace('\n', "\\n");
    };
    for (const Message& message : messages) {
        add(message.context, message.source);
    }
    const auto table = [&](const char* name, const auto& rows) {
        for (const auto& row : rows) {
            add(name, row.words);
        }
    };
    table("easings", motion::easings());
    const auto field = [&](const auto& each) {
        for (const char* words : {each.label, each.beside, each.caption}) {
            if (*words) {
                add("fields of voices", words);
            }
        }
    };
    const auto fieldsOf = [&](const auto& rows) {
        for (const auto& row : rows) {
            std::for_each(row.fields.begin(), row.fields.end(), field);
            if (*row.note) {
                add("notes of voices", row.note);
            }
        }
    };
    fieldsOf(motion::courseKinds());
    fieldsOf(motion::shapeKinds());
    fieldsOf(motion::pushKinds());
    fieldsOf(motion::maskKinds());
    fieldsOf(motion::phaseKinds());
    for (const motion::PushRow& push : motion::pushKinds()) {
        field(push.size);
    }
    for (const motion::CourseRow& course : motion::courseKinds()) {
        if (course.wavelength) {
            field(*course.wavelength);
        }
    }
    for (const auto& each : motion::overallFields()) {
        field(each);
    }
    field(motion::turnsField());
    field(motion::wishedRateField());
    field(motion::phaseField());
    table("shapes of voices", motion::shapeKinds());
    table("phases of copies", motion::phaseKinds());
    // On a model that has everything, and each once more in a direction of its own and flipped.
    motion::Model model;
    model.uvSets = 1;
    model.colours = true;
    model.stored = {"value"};
    mesh::Bounds rest;
    rest.add(glm::vec3(0.0f));
    rest.add(glm::vec3(1.0f));
    const auto phrases = [&](const char* name, const auto& rows, const auto& others) {
        for (const auto& row : rows) {
            for (const auto& start : row.starts(model, rest)) {
                add(name, start.words.words);
                for (const auto& other : others(start.part)) {
                    add(name, row.phrase(other).words);
                }
            }
        }
    };
    const auto turned = [](auto part) {
        const auto straight = part;
        part.direction = glm::vec3(1.0f);
        return std::array{straight, part};
    };
    phrases("courses of voices", motion::courseKinds(), turned);
    phrases("pushes of voices", motion::pushKinds(), turned);
    phrases("masks of voices", motion::maskKinds(), [](motion::MaskTerm term) {
        auto flipped = term;
        flipped.flip = !term.flip;
        term.direction = glm::vec3(1.0f);
        return std::array{flipped, term};
    });
    for (const bool flip : {false, true}) {
        motion::MaskTerm term;
        term.flip = flip;
        term.floor = 0.5;
        const auto edges = motion::edgeFields(term);
        std::for_each(edges.begin(), edges.end(), field);
    }
    for (const mesh::ShapeKind& shape : mesh::testShapes()) {
        add("test shapes", QString("%1: %2").arg(shape.name, shape.words));
    }
    for (const motion::ReadyScore& ready : motion::readyScores()) {
        add("ready-made scores", QString("%1: %2").arg(ready.name, ready.words));
    }
    for (const bake::PositionStore& store : bake::positionStores()) {
        add("position stores", QString("%1: %2").arg(store.label, store.about));
    }
    for (const bake::NormalStore& store : bake::normalStores()) {
        add("normal stores", QString("%1: %2").arg(store.label, store.about));
    }
    for (const bake::Kind* kind : bake::kinds()) {
        add("kinds of bake", QString("%1: %2").arg(kind->label, kind->about));
        bake::BakeFormat format;
        format.positionStore = bake::kFloat32Store;
        format.normalStore = bake::kOct32Normals;
        format.tangents = kind->holdsVertices;
        for (const bake::TextureFormat& texture : kind->textures(format)) {
            add("textures", texture.quantity->label);
        }
    }
    lines.removeDuplicates();
    lines.sort();
    return lines;
}

} // namespace

class TestInterfaceWords : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    std::vector<Message> messages_;

private Q_SLOTS:
    void initTestCase() {
        messages_ = wordsOfTheCode({}, folder_);
        QVERIFY(messages_.size() > 500);
    }
    /// A change of words is a change of this list, where whoever reviews it sees them all.
    void theListHoldsAllWords() {
        const QString file = SOURCE_FOLDER "/tests/interface_words.txt";
        const QString now = listOf(messages_).join("\n") + "\n";
        QFile list(file);
        QVERIFY(list.open(QIODevice::ReadOnly));
        if (QString::fromUtf8(list.readAll()) != now) {
            const QString renewed = QDir::tempPath() + "/interface_words.txt";
            QFile out(renewed);
            QVERIFY(out.open(QIODevice::WriteOnly));
            out.write(now.toUtf8());
            QFAIL(qPrintable("the words have changed; read those that are new in " + renewed +
                             " and put it in the place of tests/interface_words.txt"));
        }
    }
    void wordsStandAlone() {
        static const QRegularExpression kFragment("^(\\s|[,;:.)?!]|or |and (?!%n more)|but )|\\s$");
        for (const Message& message : messages_) {
            const QString& words = message.source;
            QVERIFY2(!kFragment.match(words).hasMatch(), qPrintable("a fragment: \"" + words + "\""));
            QVERIFY2(message.plural || !words.contains("(s)"), qPrintable(words));
            QVERIFY2(message.plural == words.contains("%n"), qPrintable(words));
        }
    }
    /// What was said before, and had to be guessed.
    void oldWordsAreGone_data() {
        QTest::addColumn<QString>("words");
        for (const char* words : {"held by nothing",
                                  "all at once",
                                  "as water does",
                                  "along a slant",
                                  "as a noise",
                                  "let go",
                                  "Never below",
                                  "Wished rate",
                                  "In the loop",
                                  "Still at",
                                  "Free at",
                                  "go there",
                                  "Take it",
                                  "anew",
                                  "jolt",
                                  "Widest",
                                  "fetch less",
                                  "Nothing open: ready",
                                  "Its time",
                                  "Made at",
                                  "off by",
                                  "within even",
                                  "Keep one in",
                                  "Plays at",
                                  "Frames that are blended",
                                  "drop last",
                                  "The importer must",
                                  "make no mips",

                                  "target has half UVs",

                                  "other…"}) {
            QTest::newRow(words) << words;
        }
    }
    void oldWordsAreGone() {
        QFETCH(QString, words);
        for (const QString& line : listOf(messages_)) {
            const QString shown = line.section(": ", 1);
            QVERIFY2(!shown.contains(words), qPrintable(line));
        }
    }
    void pluralsHaveTwoForms() {
        const std::vector<Message> asked = wordsOfTheCode({"-pluralonly"}, folder_);
        const std::vector<Message> held = messagesIn(SOURCE_FOLDER "/app/words/english.ts");
        QVERIFY(!asked.empty());
        for (const Message& message : asked) {
            const auto same = std::find_if(held.begin(), held.end(), [&](const Message& other) {
                return other.context == message.context && other.source == message.source;
            });
            QVERIFY2(same != held.end(), qPrintable("app/words/english.ts lacks \"" + message.source + "\""));
            QCOMPARE(same->forms.size(), qsizetype(2));
            for (const QString& form : same->forms) {
                QVERIFY2(!form.isEmpty() && !form.contains("(s)"), qPrintable(message.source));
            }
        }
        QCOMPARE(held.size(), asked.size()); // and nothing that is no longer said
    }
    /// Words that are put on the screen past tr() would be in no list.
    void noWordsGoPastTheList() {
        static const QRegularExpression kLiteral("(?:QString|setText|setToolTip|setWindowTitle|quietLabel|"
                                                 "sectionLabel|setAccessibleName|\\bedit)\\(\"([^\"]*)\"");
        static const QRegularExpression kWords("[A-Za-z]{3,}.* .*[A-Za-z]{3,}|^[A-Z][a-z]{2,}");
        QDirIterator files(SOURCE_FOLDER "/app", {"*.cpp"}, QDir::Files, QDirIterator::Subdirectories);
        int looked = 0;
        while (files.hasNext()) {
            const QString path = files.next();
            if (path.endsWith("pictures.cpp")) {
                continue; // its undo steps are seen by nobody
            }
            QFile file(path);
            QVERIFY(file.open(QIODevice::ReadOnly));
            const QString code = QString::fromUtf8(file.readAll());
            auto found = kLiteral.globalMatch(code);
            while (found.hasNext()) {
                const QString words = found.next().captured(1);
                ++looked;
                const bool objectName = words.startsWith("mask ") || words.startsWith("let go ");
                QVERIFY2(objectName || !kWords.match(words).hasMatch(), qPrintable(path + ": " + words));
            }
        }
        QVERIFY(looked > 20);
    }
};

static const ripple::tests::SuiteOf<TestInterfaceWords> kSuite;
#include "test_interface_words.moc"
