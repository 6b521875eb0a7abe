#include "app/benches/move/move_bench.h"

#include "app/benches/move/voice_words.h"
#include "app/look/panel_parts.h"
#include "app/session/score_edits.h"
#include "app/session/words.h"
#include "base/units.h"
#include "motion/fit.h"
#include "motion/ready_scores.h"

#include <QMenu>

#include <algorithm>

namespace ripple::app {

namespace {

/// It moves by itself, so that a score can be added to that.
bool hasMotion(const source::FrameSource& source) {
    return std::ranges::any_of(source.clips(), [](const source::Clip& clip) { return clip.duration > 0.0; });
}

} // namespace

MoveBench::MoveBench(Session& session)
    : session_(session),
      panel_(new PanelColumn(tr("Move"))),
      strip_(new StripTabs),
      trace_(new TracePage(session)),
      parameters_(new ParametersPage(session)),
      words_(quietLabel()),
      loop_(new NumberField),
      findLoop_(new QPushButton(tr("Find a loop length"))),
      play_(new SegmentedChoice({tr("rest pose"), tr("clips")})),
      bounds_(quietLabel()),
      cards_(new QVBoxLayout),
      add_(new QPushButton(tr("Add voice"))),
      details_(new VoiceDetails(session)),
      readyLabel_(sectionLabel(tr("Ready-made scores"))),
      ready_(new QVBoxLayout) {
    QVBoxLayout* column = panel_->column();
    column->addWidget(words_);
    loop_->setObjectName("loop");
    loop_->setFixedWidth(92);
    loop_->setRange(0.05, 3600.0);
    loop_->setDecimals(2);
    loop_->setUnit("s");
    loop_->setDefault(2.0);
    loopRow_ = labelledRow(tr("Loop length"), loop_,
                           tr("The time of one loop; every voice makes a whole number of turns in it"));
    column->addWidget(loopRow_);
    findLoop_->setObjectName("findLoop");
    findLoop_->setToolTip(
        tr("Finds the length, from half to twice this one, at which the target rates change least"));
    column->addWidget(findLoop_);
    connect(findLoop_, &QPushButton::clicked, this, &MoveBench::findLoop);
    play_->setObjectName("playOn");
    play_->setToolTips({tr("The score moves the rest pose"),
                        tr("The clips play on, and the score's displacement is added to each")});
    playRow_ = labelledRow(tr("Added to"), play_, {});
    column->addWidget(playRow_);
    connect(play_, &SegmentedChoice::picked, this, [this](int index) {
        session_.edit(index == 1 ? tr("Add the score to the clips") : tr("Add the score to the rest pose"),
                      [index](project::Document& d) { d.scoreOnTop = index == 1; });
    });
    cards_->setSpacing(6);
    column->addLayout(cards_);
    add_->setObjectName("addVoice");
    column->addWidget(add_);
    column->addWidget(details_);
    connect(details_, &VoiceDetails::choiceWanted, this, [this](unsigned id, const QString& word) {
        for (VoiceCard* card : shown_) {
            if (card->id() == id) {
                card->choose(word);
            }
        }
    });
    bounds_->setObjectName("loopBounds");
    column->addWidget(bounds_);
    connect(&session_, &Session::loopBounded, this, &MoveBench::showBounds);
    column->addWidget(readyLabel_);
    ready_->setSpacing(5);
    column->addLayout(ready_);
    column->addStretch(1);
    strip_->add(tr("Trace"), trace_);
    strip_->add(tr("Parameters"), parameters_);
    connect(loop_, &NumberField::edited, this, [this](double seconds, bool more) {
        session_.edit(
            tr("Loop length"),
            [seconds](project::Document& d) { d.score = motion::withLoopLength(d.score, seconds); },
            session_.gesture(more));
    });
    connect(add_, &QPushButton::clicked, this, [this] {
        const auto source = session_.openedSource();
        if (!source) {
            return;
        }
        mesh::Bounds rest;
        rest.add(source->mesh().positions);
        auto* menu = new QMenu(add_);
        menu->setObjectName("newVoices");
        menu->setAttribute(Qt::WA_DeleteOnClose);
        for (const motion::Voice& voice : newVoices(rest)) {
            menu->addAction(text(voice.name), this, [this, voice] { addVoice(session_, voice); });
        }
        menu->popup(add_->mapToGlobal(QPoint(0, add_->height())));
    });
    connect(&session_, &Session::documentChanged, this, [this](unsigned changes) {
        if (changes & (kScoreChange | kViewChange | kSourceChange)) {
            refresh();
        }
    });
    connect(&session_, &Session::sourceLoaded, this, &MoveBench::refresh);
    connect(&session_, &Session::scoreChanged, this, &MoveBench::refresh);
    refresh();
}

void MoveBench::restyle() {
    shown_.clear();
    emptyLayout(cards_);
    refresh();
    trace_->restyle();
    parameters_->restyle();
}

void MoveBench::refresh() {
    const motion::Score& score = session_.document().score;
    const bool any = !score.voices.empty();
    const bool open = session_.openedSource() != nullptr;
    words_->setText(
        !open ? tr("Open a mesh or a test shape on the Gather bench, then add voices here.")
        : any ? (score.words.empty() ? text(score.name) : text(score.words))
              : tr("A score is a few small motions, each going round a whole number of times in the "
                   "loop: it always closes. Begin with one below, or with a voice of your own."));
    loopRow_->setVisible(any);
    findLoop_->setVisible(!motion::wishedRates(score).empty());
    loop_->setValue(score.loopSeconds);
    add_->setEnabled(open);
    playRow_->setVisible(any && open && hasMotion(*session_.openedSource()));
    play_->show(session_.document().scoreOnTop ? 1 : 0);
    showBounds();
    rebuildCards();
    details_->refresh();
    buildReady();
}

void MoveBench::showBounds() {
    const auto& boxes = session_.loopBounds();
    bounds_->setVisible(boxes.has_value());
    if (boxes) {
        const auto words = [](const mesh::Bounds& box) {
            const auto length = [&](int c) {
                return text(base::lengthText(static_cast<double>(box.size()[c])));
            };
            return QString("%1 × %2 × %3").arg(length(0), length(1), length(2));
        };
        bounds_->setText(boxes->every == boxes->unturned
                             ? tr("Bounds for culling, over the whole loop: %1").arg(words(boxes->unturned))
                             : tr("Bounds for culling, over the whole loop: %1; of copies turned, of half to "
                                  "twice the size: %2")
                                   .arg(words(boxes->unturned), words(boxes->every)));
    }
}

void MoveBench::rebuildCards() {
    const auto& voices = session_.document().score.voices;
    const bool same =
        std::equal(voices.begin(), voices.end(), shown_.begin(), shown_.end(),
                   [](const motion::Voice& voice, const VoiceCard* card) { return voice.id == card->id(); });
    if (!same) {
        shown_.clear();
        emptyLayout(cards_);
        for (const motion::Voice& voice : voices) {
            auto* card = new VoiceCard(session_, voice.id);
            connect(card, &VoiceCard::dropped, this, &MoveBench::drop);
            connect(card, &VoiceCard::wordTaken, details_, &VoiceDetails::showPartOf);
            cards_->addWidget(card);
            shown_.push_back(card);
        }
    }
    for (VoiceCard* card : shown_) {
        card->refresh();
    }
}

void MoveBench::findLoop() {
    const motion::Score& score = session_.document().score;
    const motion::LoopLength best =
        motion::findLoopLength(motion::wishedRates(score), 0.5 * score.loopSeconds, 2.0 * score.loopSeconds);
    session_.edit(tr("Loop of %1 s").arg(best.seconds),
                  [&](project::Document& d) { d.score = motion::withLoopLength(d.score, best.seconds); });
}

void MoveBench::drop(unsigned id, int y) {
    std::size_t place = 0;
    for (const VoiceCard* card : shown_) {
        place += card->id() != id && card->geometry().center().y() < y;
    }
    const std::size_t from = voiceIndex(session_.document().score, id);
    // Places are counted among the others here; past its own place they are one further.
    moveVoice(session_, id, place < from ? place : place + 1);
    cards_->invalidate(); // back into the row, wherever it was let go
    cards_->activate();
}

void MoveBench::buildReady() {
    const auto source = session_.openedSource();
    const QString wanted = source && session_.document().score.voices.empty()
                               ? text(session_.document().assetName())
                               : QString();
    readyLabel_->setVisible(!wanted.isEmpty());
    if (wanted == readyFor_) {
        return;
    }
    readyFor_ = wanted;
    emptyLayout(ready_);
    if (wanted.isEmpty()) {
        return;
    }
    std::vector<const motion::ReadyScore*> rows;
    for (const motion::ReadyScore& ready : motion::readyScores()) {
        rows.push_back(&ready);
    }
    // Those made for this very model first.
    std::stable_partition(rows.begin(), rows.end(),
                          [&](const motion::ReadyScore* ready) { return wanted == ready->demoModel; });
    for (const motion::ReadyScore* ready : rows) {
        auto* card = new Card(tr(ready->name), tr(ready->words), wanted == ready->demoModel ? "fine" : "");
        card->setObjectName(QString("ready %1").arg(ready->id));
        card->setShow([this, id = ready->id] { takeReady(session_, id); });
        ready_->addWidget(card);
    }
}

} // namespace ripple::app
