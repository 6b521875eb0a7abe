#include "app/benches/bake/bake_bench.h"

#include "app/shell/theme.h"

namespace ripple::app {

BakeBench::BakeBench(Session& session)
    : session_(session),
      panel_(new BakePanel(session)),
      strip_(new StripTabs),
      positions_(new TextureSheet(session)),
      normals_(new TextureSheet(session)),
      errors_(new FrameChart) {
    normals_->showNormals(true);
    strip_->add(tr("Positions"), positions_);
    strip_->add(tr("Normals"), normals_);
    strip_->add(tr("Errors"), errors_);
    connect(&session_, &Session::bakeFinished, this, &BakeBench::refreshErrors);
    connect(&session_.playhead(), &Playhead::clipsChanged, this, &BakeBench::refreshErrors);
    connect(&session_.playhead(), &Playhead::moved, this, [this] {
        if (errors_->isVisible()) {
            errors_->setFrame(session_.playhead().frame());
        }
    });
    connect(errors_, &FrameChart::framePicked, this, [this](double frame) {
        session_.playhead().setPlaying(false);
        session_.playhead().setFrame(frame);
    });
    refreshErrors();
}

void BakeBench::restyle() {
    errors_->restyle();
    refreshErrors();
}

void BakeBench::refreshErrors() {
    const auto bake = session_.bake();
    const bake::BakedClip* clip = session_.playhead().clip();
    if (!bake || !clip || bake->error.maxPerFrame.size() < clip->firstFrame + clip->frames) {
        errors_->setLines({}, -1, {});
        return;
    }
    const auto begin = bake->error.maxPerFrame.begin() + static_cast<std::ptrdiff_t>(clip->firstFrame);
    errors_->setLines({{tr("largest error at each kept frame"),
                        theme().coral,
                        {begin, begin + static_cast<std::ptrdiff_t>(clip->frames)},
                        true}},
                      -1, {});
    errors_->setFrame(session_.playhead().frame());
}

} // namespace ripple::app
