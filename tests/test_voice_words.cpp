// Voices in words, and what their words may become: every choice plays on every model of the demo.

#include "app/benches/move/voice_words.h"
#include "motion/ready_scores.h"
#include "motion/score_file.h"
#include "problem_of.h"
#include "source/open.h"

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
            QString("runs along the height, as a sine, pushes side to side, held by the bottom; 2 turns"));
        voice.heldBy[0].flip = true;
        voice.course.kind = motion::CourseKind::unison;
        voice.push.kind = motion::PushKind::bend;
        voice.shape.kind = motion::ShapeKind::noise;
        voice.turns = 1;
        QCOMPARE(plain(voiceSentence(voice, "#fff")),
                 QString("all at once, as a noise, makes a bend about X, held by the top; 1 turn"));
        voice.push.direction = {1, 1, 0};
        QVERIFY(pushWords(voice).contains("a slant"));
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
        QCOMPARE(words({0, 0, 1}, false, 0, 1), QString("the back"));
        QCOMPARE(words({0, 0, -1}, false, 0, 1), QString("the front"));
        QCOMPARE(words({0, 0, 1}, true, 0, 1), QString("the front"));
        QCOMPARE(words({1, 0, 0}, false, 1, 0), QString("the right")); // low lies above high
        QCOMPARE(words({-1, 0, 0}, true, 0, 1), QString("the left"));
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
            QVERIFY(last.words.startsWith("let go"));
            last.change(voice);
        }
        QVERIFY(!maskChoices(voice, model, rest).back().words.startsWith("let go"));
    }
};

QTEST_GUILESS_MAIN(TestVoiceWords)
#include "test_voice_words.moc"
