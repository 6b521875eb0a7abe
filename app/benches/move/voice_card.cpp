#include "app/benches/move/voice_card.h"

#include "app/benches/move/voice_words.h"
#include "app/session/score_edits.h"
#include "app/look/theme.h"
#include "app/session/words.h"

#include <QApplication>
#include <QContextMenuEvent>
#include <QHBoxLayout>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>

#include <cmath>

namespace ripple::app {

MiniWave::MiniWave(QWidget* parent) : QWidget(parent) {
    setFixedSize(sizeHint());
    setAttribute(Qt::WA_TransparentForMouseEvents);
}

void MiniWave::setWave(std::vector<float> values, const QColor& colour) {
    values_ = std::move(values);
    colour_ = colour;
    update();
}

void MiniWave::setTurn(double turn) {
    turn_ = turn;
    update();
}

void MiniWave::paintEvent(QPaintEvent*) {
    if (values_.empty()) {
        return;
    }
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const auto n = values_.size();
    const double middle = 0.5 * height();
    const auto at = [&](std::size_t i) {
        return QPointF(2.0 + (width() - 4.0) * static_cast<double>(i) / static_cast<double>(n),
                       middle - (middle - 3.0) * static_cast<double>(values_[i % n]));
    };
    QPainterPath path(at(0));
    for (std::size_t i = 1; i <= n; ++i) {
        path.lineTo(at(i)); // back to the first: it closes
    }
    painter.setPen(QPen(colour_, 1.6));
    painter.drawPath(path);
    const auto now = static_cast<std::size_t>(turn_ * static_cast<double>(n));
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().text);
    painter.drawEllipse(at(std::min(now, n)), 2.4, 2.4);
}

VoiceCard::VoiceCard(Session& session, unsigned id, QWidget* parent)
    : QFrame(parent),
      session_(session),
      id_(id),
      name_(new QLabel),
      sentence_(new QLabel),
      solo_(new QToolButton),
      mute_(new QToolButton),
      wave_(new MiniWave) {
    setObjectName(QString("voice %1").arg(id));
    setFocusPolicy(Qt::StrongFocus);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(15, 7, 8, 8);
    column->setSpacing(3);
    auto* head = new QHBoxLayout;
    head->setSpacing(4);
    name_->setProperty("role", "title");
    head->addWidget(name_, 1);
    head->addWidget(wave_);
    const auto button = [&](QToolButton* made, const char* name, const QString& words, const QString& tip) {
        made->setObjectName(QString("%1 %2").arg(name).arg(id));
        made->setText(words);
        made->setToolTip(tip);
        made->setAccessibleName(tip);
        made->setCheckable(true);
        made->setProperty("role", "toggle");
        made->setFixedSize(24, 22);
        head->addWidget(made);
    };
    button(solo_, "solo", tr("S"), tr("Solo: play only this voice (Q)"));
    button(mute_, "mute", tr("M"), tr("Mute: play without this voice (Shift+Q)"));
    column->addLayout(head);
    sentence_->setWordWrap(true);
    sentence_->setTextFormat(Qt::RichText);
    sentence_->setProperty("role", "quiet");
    sentence_->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
    column->addWidget(sentence_);
    connect(sentence_, &QLabel::linkActivated, this, &VoiceCard::choose);
    connect(solo_, &QToolButton::clicked, this, [this](bool on) {
        editVoice(session_, id_, on ? tr("Solo") : tr("End solo"), [on](motion::Voice& v) { v.solo = on; });
    });
    connect(mute_, &QToolButton::clicked, this, [this](bool on) {
        editVoice(session_, id_, on ? tr("Mute") : tr("Unmute"), [on](motion::Voice& v) { v.muted = on; });
    });
    connect(&session_.playhead(), &Playhead::moved, this,
            [this] { wave_->setTurn(session_.playhead().turn()); });
    refresh();
}

void VoiceCard::refresh() {
    const motion::Score& score = session_.document().score;
    const motion::Voice* voice = voiceById(score, id_);
    if (!voice) {
        return;
    }
    const QColor colour = voiceColour(voiceIndex(score, id_));
    const bool heard = motion::isHeard(score, *voice);
    const motion::Voice* chosen = chosenVoice(session_);
    Shown shown{*voice, colour, heard, chosen && chosen->id == id_};
    if (shown_ == shown) {
        return; // while one voice is dragged the others stay as they are
    }
    shown_ = std::move(shown);
    name_->setTextFormat(Qt::PlainText);
    name_->setText(text(voice->name));
    sentence_->setText(voiceSentence(*voice, (heard ? theme().text : theme().quiet).name()));
    solo_->setChecked(voice->solo);
    mute_->setChecked(voice->muted);
    // Over the loop: as many swings as it has turns, begun at its phase.
    constexpr std::size_t kSteps = 96;
    const std::vector<float> swing = motion::swingOf(voice->shape, 240);
    std::vector<float> wave(kSteps);
    for (std::size_t i = 0; i < kSteps; ++i) {
        const double place = voice->turns * static_cast<double>(i) / kSteps + voice->phase;
        const auto at = static_cast<std::size_t>((place - std::floor(place)) * 240.0);
        wave[i] = swing[std::min<std::size_t>(at, 239)];
    }
    wave_->setWave(std::move(wave), heard ? colour : theme().faint);
    wave_->setTurn(session_.playhead().turn());
    update();
}

void VoiceCard::choose(const QString& part) {
    chooseVoice(session_, id_);
    Q_EMIT wordTaken(part);
    const motion::Voice* voice = voiceById(session_.document().score, id_);
    const auto source = session_.openedSource();
    if (!voice || !source || part == "turns") {
        return; // turns are a number, among the details
    }
    mesh::Bounds rest;
    rest.add(source->mesh().positions);
    const motion::Model model = motion::modelOf(source->mesh());
    const std::vector<Becomes> choices = part == "course"  ? courseChoices(*voice, model, rest)
                                         : part == "shape" ? shapeChoices(*voice)
                                         : part == "push"  ? pushChoices(*voice, model, rest)
                                                           : maskChoices(*voice, model, rest);
    auto* menu = new QMenu(this);
    menu->setObjectName("choices");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const Becomes& one : choices) {
        QAction* action = menu->addAction(one.words, this, [this, one] {
            const motion::Voice* of = voiceById(session_.document().score, id_);
            if (of) {
                editVoice(session_, id_, QString("%1: %2").arg(text(of->name), one.words), one.change);
            }
        });
        action->setCheckable(one.now);
        action->setChecked(one.now);
    }
    menu->popup(sentence_->mapToGlobal(QPoint(0, sentence_->height())));
}

void VoiceCard::mousePressEvent(QMouseEvent* event) {
    pressed_ = event->button() == Qt::LeftButton;
    grabbed_ = event->pos();
    dragging_ = false;
    chooseVoice(session_, id_);
}

void VoiceCard::mouseMoveEvent(QMouseEvent* event) {
    if (!pressed_) {
        return;
    }
    dragging_ = dragging_ || (event->pos() - grabbed_).manhattanLength() > QApplication::startDragDistance();
    if (dragging_) {
        raise();
        move(x(), y() + event->pos().y() - grabbed_.y());
    }
}

void VoiceCard::mouseReleaseEvent(QMouseEvent*) {
    pressed_ = false;
    if (dragging_) {
        dragging_ = false;
        Q_EMIT dropped(id_, geometry().center().y());
    }
}

void VoiceCard::contextMenuEvent(QContextMenuEvent* event) {
    auto* menu = new QMenu(this);
    menu->setObjectName("voiceMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction(tr("Duplicate"), this, [this] { duplicateVoice(session_, id_); });
    const std::size_t at = voiceIndex(session_.document().score, id_);
    if (at > 0) {
        menu->addAction(tr("Move up"), this, [this, at] { moveVoice(session_, id_, at - 1); });
    }
    if (at + 1 < session_.document().score.voices.size()) {
        menu->addAction(tr("Move down"), this, [this, at] { moveVoice(session_, id_, at + 2); });
    }
    menu->addAction(tr("Remove"), this, [this] { removeVoice(session_, id_); });
    menu->popup(event->globalPos());
}

void VoiceCard::paintEvent(QPaintEvent*) {
    if (!shown_) {
        return;
    }
    const bool here = shown_->chosen;
    const QColor colour = shown_->colour;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    painter.setPen(QPen(here ? colour : theme().line, here ? 1.4 : 1.0));
    painter.setBrush(theme().deep);
    painter.drawRoundedRect(box, 7, 7);
    painter.setClipRect(QRectF(0, 0, 5, height()));
    painter.setPen(Qt::NoPen);
    painter.setBrush(colour);
    painter.drawRoundedRect(box, 7, 7);
}

} // namespace ripple::app
