// How a picture of the model comes about: at once as a draft, finished when nothing changes.

#include "app/stage/stage.h"

#include <QElapsedTimer>
#include <QPainter>

#include <algorithm>
#include <utility>

namespace ripple::app {

SceneView Stage::makeReady(bool draft) {
    if (sourceDirty_) {
        takeSource();
    }
    if (bakeDirty_) {
        takeBake();
    }
    changeCamera();
    takeCrowd();
    if (scoreDirty_) {
        takeScore();
    }
    if (poseDirty_ && !(draft && poseCanWait())) {
        poseSource();
    }
    if (comparedDirty_) {
        poseCompared();
    }
    if (shadesDirty_) {
        refreshShades();
    }
    SceneView view;
    const qreal ratio = devicePixelRatio();
    view.width = static_cast<int>(width() * ratio);
    view.height = static_cast<int>(height() * ratio);
    viewProjection_ = camera_.projection(aspect()) * camera_.view();
    view.viewProjection = viewProjection_;
    view.eye = camera_.eye();
    view.curtain = curtainShown() ? static_cast<int>(session_.document().view.curtain * view.width) : -1;
    view.compared = benchOf(session_.document().view).curtain == Curtain::compared || rehearsed();
    view.culled = restIsCulled();
    view.look = lookOf(session_.document().view).drawn;
    if (view.look == Look::shades && shades_.colours.empty()) {
        view.look = Look::lit; // this source has nothing of the kind
    }
    view.clip = session_.playhead().clipIndex();
    view.frame = static_cast<float>(session_.playhead().frame());
    if (const auto moment = session_.transition().moment(); moment && renderer_.hasBake()) {
        view.curtain = 0; // a fade is the shipped code's: the source has none to show beside it
        view.clip = moment->to;
        view.frame = static_cast<float>(moment->frameTo);
        view.clipBefore = moment->from;
        view.frameBefore = static_cast<float>(moment->frameFrom);
        view.fade = static_cast<float>(moment->progress);
    }
    view.gridCell = gridCell();
    view.groundY = groundY();
    view.bounds = bounds_;
    view.scored = scoreIsDrawn();
    view.turn = view.scored ? static_cast<float>(session_.playhead().turn()) : 0.0f;
    view.draft = draft;
    view.scale = draft ? draftScale_ : 1.0;
    view.keepsShadow = draft && draftScale_ <= kLeastScale;
    placeCrowd(view);
    return view;
}

void Stage::finish() {
    if (!composed_ && renderer_.finishesInPieces() && gl_.makeCurrent()) {
        renderer_.beginFinished(makeReady(false));
        pieces_.start(0);
        return;
    }
    finishing_ = true;
    update();
}

void Stage::drawModel(QPainter& painter) {
    QElapsedTimer clock;
    clock.start();
    // Where the processor draws, a picture that others may follow at once is a draft; the finished one comes
    // when nothing has changed for a moment.
    const bool draft = draftsNow();
    finishing_ = false;
    const SceneView view = makeReady(draft);
    if (draft && renderer_.warmUp(view)) {
        painter.drawImage(rect(), renderer_.lastImage()); // it stands for a moment longer
        if (finishes_) {
            settle_.start(); // what is to come is no finished picture yet
        }
        update();
        return;
    }
    if (renderer_.draw(view)) {
        if (finishes_) {
            settle_.start();
        }
    }
    const bool anew = renderer_.drewAnew() || ahead_;
    painter.drawImage(rect(), renderer_.image());
    const double ahead = std::exchange(aheadMilliseconds_, 0.0);
    if (anew) { // a picture that is only shown again was not drawn
        drawMilliseconds_ = static_cast<double>(clock.nsecsElapsed()) * 1e-6 + ahead;
    }
    ahead_ = false;
    if (draft && anew && !keepsDraftPixels_) {
        adaptDrafts();
    }
}

SharedPicture Stage::drawShared() {
    if (!initialised_) {
        initialise();
    }
    if (!ready_ || !gl_.makeCurrent()) {
        return {};
    }
    QElapsedTimer clock;
    clock.start();
    finishing_ = false;
    renderer_.draw(makeReady(false));
    const SharedPicture picture = renderer_.shared();
    if (renderer_.drewAnew()) {
        drawMilliseconds_ = static_cast<double>(clock.nsecsElapsed()) * 1e-6;
    }
    return picture;
}

void Stage::drawAhead() {
    // The other threads draw while this one brings the panels up to date. Once for each picture that is seen.
    if (ahead_ || !ready_ || !isVisible() || !draftsNow() || !gl_.makeCurrent()) {
        return;
    }
    QElapsedTimer clock;
    clock.start();
    ahead_ = true;
    const SceneView view = makeReady(true);
    if (renderer_.finishesInPieces()) {
        ahead_ = false; // it may have to be prepared piece by piece
        return;
    }
    renderer_.draw(view);
    aheadMilliseconds_ = static_cast<double>(clock.nsecsElapsed()) * 1e-6;
}

void Stage::adaptDrafts() {
    // Motion that flows is worth more than its last pixels, until it stops.
    constexpr double kSlow = 20.0; // milliseconds: with what else there is to do, 30 pictures a second
    constexpr double kQuick = 9.0;
    constexpr double kStep = 0.75;
    if (drawMilliseconds_ > kSlow) {
        draftScale_ = std::max(kLeastScale, draftScale_ * kStep);
    } else if (drawMilliseconds_ < kQuick) {
        draftScale_ = std::min(1.0, draftScale_ / kStep);
    }
}

} // namespace ripple::app
