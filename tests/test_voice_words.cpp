// Voices in words, and what their words may become: every choice plays on every model of the demo.

#include "app/benches/move/voice_words.h"
#include "motion/kinds.h"
#include "motion/ready_scores.h"
#include "motion/score_file.h"
#include "problem_of.h"
#include "source/open.h"
#include "suite.h"

#include <QRegularExpression>
#include <QSet>
#include <QTest>

using namespace ripple;
using namespace ripple::app;

namespace {

QString plain(QString html) {
    return html.remove(QRegularExpression("<[^>]*>"));
}

} // namespace

class TestVoiceWords : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void sentencesSayTheFourChoices() {
        motion::Voice voice;
        voice.course.direction = {0, 1, 0};
        voice.push.direction = {1, 0, 0};
        voice.turns = 2;
        motion::MaskTerm term;
        voice.heldBy = {term};
        QCOMPARE(
            plain(voiceSentence(voice, "#fff")),
            QString(
                "Runs along the height as a sine, pushes sideways, held at the bottom, 2 turns per loop."));
        voice.heldBy[0].flip = true;
        voice.course.kind = motion::CourseKind::unison;
        voice.push.kind = motion::PushKind::bend;
        voice.shape.kind = motion::ShapeKind::noise;
        voice.turns = -1;
        QCOMPARE(
            plain(voiceSentence(voice, "#fff")),
            QString("Swings in unison as noise, bends about X, held at the top, 1 turn per loop, backward."));
        voice.heldBy.clear();
        voice.push.direction = {1, 1, 0};
        QCOMPARE(plain(voiceSentence(voice, "#fff")),
                 QString("Swings in unison as noise, bends about a custom axis, free everywhere, 1 turn per "
                         "loop, backward."));
    }
    /// Read aloud: every combination is a sentence of these clauses, and every clause occurs.
    void allSentencesAreGrammatical() {
        const QString masks =
            "(at the (left|right|bottom|top|back|front)|at a slanted end|along [UV]|"
            "(everywhere but )?(in the middle|along the spine)|by painted (red|green|blue|alpha)|"
            "by “piece”)";
        const QRegularExpression sentence(
            "^(Swings in unison|Runs (along (the (width|height|length)|a custom direction( of the "
            "world)?|the world's "
            "[XYZ]|[UV] of UV set \\d)|outward from a (point|line))) as (a (sine|triangle wave|pulse|crested "
            "wave|drawn curve)|noise), (pushes (sideways|up and down|back and forth|in a custom direction( "
            "of the "
            "world)?|along the (normal|world's [XYZ])|away from a point)|moves in circles, like "
            "water|(bends|twists) "
            "about ([XYZ]|a custom axis)|(slides|rotates) the texture|cuts holes into the alpha), (free "
            "everywhere|"
            "held " +
            masks + "( and " + masks +
            ")*), (1 turn|\\d+ turns) per loop(, backward)?\\.$|^It (makes way for|bends away from) a moving "
            "point, (free "
            "everywhere|held " +
            masks + "( and " + masks + ")*)\\.$");
        QVERIFY2(sentence.isValid(), qPrintable(sentence.errorString()));
        QSet<QString> said;
        motion::Voice voice;
        voice.name = "v";
        const std::vector<glm::vec3> ways = {{1, 0, 0}, {0, 1, 0}, {0, 0, -1}, {1, 1, 0}};
        std::vector<std::vector<motion::MaskTerm>> held = {{}};
        for (const auto& row : motion::maskKinds()) {
            for (const bool flip : {false, true}) {
                for (const glm::vec3& way : ways) {
                    motion::MaskTerm term;
                    term.kind = row.kind;
                    term.flip = flip;
                    term.direction = way;
                    term.channel = static_cast<int>(held.size() % 4);
                    term.uvAxis = static_cast<int>(held.size() % 2);
                    term.stored = "piece";
                    held.push_back({term});
                    held.push_back({term, held[held.size() / 2].empty() ? term : held[held.size() / 2][0]});
                }
            }
        }
        std::size_t count = 0;
        for (const auto& course : motion::courseKinds()) {
            for (const auto& shape : motion::shapeKinds()) {
                for (const auto& push : motion::pushKinds()) {
                    for (const glm::vec3& way : ways) {
                        voice.course.kind = course.kind;
                        voice.course.direction = way;
                        voice.shape.kind = shape.kind;
                        voice.push.kind = push.kind;
                        voice.push.direction = way;
                        voice.heldBy = held[count % held.size()];
                        voice.turns = static_cast<int>(count % 7) - 3;
                        ++count;
                        const QString words = plain(voiceSentence(voice, "#fff"));
                        QVERIFY2(sentence.match(words).hasMatch(), qPrintable(words));
                        said.insert(words);
                    }
                }
            }
        }
        for (const auto& terms : held) {
            voice.heldBy = terms;
            const QString words = plain(voiceSentence(voice, "#fff"));
            QVERIFY2(sentence.match(words).hasMatch(), qPrintable(words));
        }
        QVERIFY(said.size() > 1000);
    }
    void everyWordIsALink() {
        const QString sentence = voiceSentence(motion::Voice(), "#fff");
        for (const char* part : {"course", "shape", "push", "mask", "turns"}) {
            QVERIFY(sentence.contains(QString("href=\"%1\"").arg(part)));
        }
    }
    void heldEndsAreNamedByWhatStaysStill() {
        motion::Voice voice;
        voice.heldBy.emplace_back();
        motion::MaskTerm& term = voice.heldBy[0];
        const auto words = [&](const glm::vec3& direction, bool flip, double low, double high) {
            term.direction = direction;
            term.flip = flip;
            term.low = low;
            term.high = high;
            return maskWords(voice);
        };
        QCOMPARE(words({0, 0, 1}, false, 0, 1), QString("held at the back"));
        QCOMPARE(words({0, 0, -1}, false, 0, 1), QString("held at the front"));
        QCOMPARE(words({0, 0, 1}, true, 0, 1), QString("held at the front"));
        QCOMPARE(words({1, 0, 0}, false, 1, 0), QString("held at the right")); // low lies above high
        QCOMPARE(words({-1, 0, 0}, true, 0, 1), QString("held at the left"));
    }
    void everyChoicePlaysOnEveryModel_data() {
        QTest::addColumn<QString>("model");
        for (const char* model :
             {"bulrush", "windsock", "swell", "skate", "gull", "anemone", "lantern", "heron"}) {
            QTest::addRow("%s", model) << model;
        }
    }
    void everyChoicePlaysOnEveryModel() {
        QFETCH(QString, model);
        const auto source = source::open(std::filesystem::path(DEMO_FOLDER) / (model.toStdString() + ".glb"));
        mesh::Bounds rest;
        rest.add(source->mesh().positions);
        const motion::Model of = motion::modelOf(source->mesh());
        for (const motion::Voice& begun : newVoices(rest)) {
            const auto plays = [&](const motion::Voice& voice, const QString& by) {
                motion::Score score;
                score.name = "t";
                score.voices = {voice};
                const base::Problem problem = tests::problemOf([&] { motion::composeScore(score, of); });
                QVERIFY2(problem.what.empty(),
                         qPrintable(by + ": " + QString::fromStdString(problem.line())));
                QVERIFY(motion::parseScore(motion::scoreText(score), "t") == score);
            };
            plays(begun, "new");
            for (const auto& choices : {courseChoices(begun, of, rest), shapeChoices(begun),
                                        pushChoices(begun, of, rest), maskChoices(begun, of, rest)}) {
                QVERIFY(choices.size() >= 4);
                QSet<QString> words;
                int now = 0;
                for (const Becomes& one : choices) {
                    words.insert(one.words);
                    now += one.now;
                    motion::Voice changed = begun;
                    one.change(changed);
                    plays(changed, one.words);
                }
                QCOMPARE(words.size(), static_cast<qsizetype>(choices.size())); // none is offered twice
                QVERIFY(now <= 1);
            }
        }
    }
    void maskTermsComeAndGo() {
        mesh::Bounds rest;
        rest.add(glm::vec3(-1.0f));
        rest.add(glm::vec3(1.0f));
        motion::Voice voice;
        motion::Model model;
        for (int i = 0; i < 3; ++i) {
            maskChoices(voice, model, rest)[static_cast<std::size_t>(i)].change(voice);
        }
        QCOMPARE(voice.heldBy.size(), std::size_t(3));
        while (!voice.heldBy.empty()) {
            const Becomes last = maskChoices(voice, model, rest).back();
            QVERIFY(last.words.startsWith("no longer held"));
            last.change(voice);
        }
        QVERIFY(!maskChoices(voice, model, rest).back().words.startsWith("let go"));
    }
};

static const ripple::tests::SuiteOf<TestVoiceWords> kSuite;
#include "test_voice_words.moc"
