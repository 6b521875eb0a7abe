// Pictures that others follow at once: fewer pixels, and what stays the same is not drawn again.

#include "app/stage/scene_renderer.h"

#include <algorithm>

namespace ripple::app {

void SceneRenderer::prepareDraftTargets(const SceneView& view) {
    const QSize size(std::max(1, static_cast<int>(view.width * view.scale)),
                     std::max(1, static_cast<int>(view.height * view.scale)));
    if (!draft_ || draft_->size() != size) {
        QOpenGLFramebufferObjectFormat format;
        draftSky_ = std::make_unique<QOpenGLFramebufferObject>(size, format);
        draftGround_ = std::make_unique<QOpenGLFramebufferObject>(size, format);
        groundSeen_.reset();
        format.setAttachment(QOpenGLFramebufferObject::CombinedDepthStencil);
        draft_ = std::make_unique<QOpenGLFramebufferObject>(size, format);
        draftSkyTheme_.reset();
    }
}

void SceneRenderer::renderDraft(const SceneView& view) {
    prepareDraftTargets(view);
    const QSize size = draft_->size();
    if (draftSkyTheme_ != themeKind()) {
        draftSkyTheme_ = themeKind();
        draftSky_->bind();
        drawSky(size);
    }
    SceneView smaller = view;
    smaller.width = size.width();
    smaller.height = size.height();
    smaller.curtain = view.curtain < 0 ? -1 : static_cast<int>(view.curtain * view.scale);
    // From above nothing of the ground lies before the model.
    const bool standsOnGround =
        view.keepsShadow && view.curtain < 0 && view.eye.y > view.groundY && !mesh_.empty();
    if (standsOnGround) {
        drawBackdrop(smaller);
    }
    QOpenGLFramebufferObject::blitFramebuffer(draft_.get(),
                                              (standsOnGround ? draftGround_ : draftSky_).get());
    draft_->bind();
    render(smaller, standsOnGround ? Backdrop::ground : Backdrop::sky);
}

void SceneRenderer::drawBackdrop(const SceneView& view) {
    const glm::mat4 light = lightMatrix(view);
    const ShadowMap& shadow = drawShadow(view, light, leftSide(view));
    const GroundSeen seen{view.viewProjection, view.groundY, view.gridCell, view.bounds,
                          themeKind(),         &shadow,      shadow.count};
    if (groundSeen_ == seen) {
        return;
    }
    groundSeen_ = seen;
    QOpenGLFramebufferObject::blitFramebuffer(draftGround_.get(), draftSky_.get());
    draftGround_->bind();
    glViewport(0, 0, view.width, view.height);
    glDisable(GL_SCISSOR_TEST);
    glDisable(GL_DEPTH_TEST);
    drawGround(view, light);
}

void SceneRenderer::readDraft(const QSize& size) {
    if (draft_->size() == size) {
        readImage(*draft_);
        return;
    }
    if (!shown_ || shown_->size() != size) {
        shown_ = std::make_unique<QOpenGLFramebufferObject>(size);
    }
    if (image_.size() != size) {
        image_ = QImage(size, QImage::Format_RGB32);
    }
    // Enlarged here, where all cores do it, and turned over: OpenGL counts rows from below.
    glDisable(GL_SCISSOR_TEST);
    glBindFramebuffer(GL_READ_FRAMEBUFFER, draft_->handle());
    glBindFramebuffer(GL_DRAW_FRAMEBUFFER, shown_->handle());
    glBlitFramebuffer(0, 0, draft_->width(), draft_->height(), 0, size.height(), size.width(), 0,
                      GL_COLOR_BUFFER_BIT, GL_LINEAR);
    glBindFramebuffer(GL_FRAMEBUFFER, shown_->handle());
    glReadPixels(0, 0, size.width(), size.height(), GL_BGRA, GL_UNSIGNED_INT_8_8_8_8_REV, image_.bits());
    shown_->release();
}

} // namespace ripple::app
