#include "app/look/closing_words.h"

#include <QObject>

namespace ripple::app {

QString closingWords(const bake::ClipPlan& clip) {
    if (!clip.closed) {
        return QObject::tr("open");
    }
    if (clip.fade.length > 0.0) {
        return QObject::tr("cross-fade");
    }
    if (clip.repeatDropped) {
        return QObject::tr("repeat dropped");
    }
    if (clip.leadsRound) {
        return QObject::tr("end leads to start");
    }
    return clip.closing == bake::Closing::window ? QObject::tr("loop range")
                                                 : QObject::tr("closes by itself");
}

} // namespace ripple::app
