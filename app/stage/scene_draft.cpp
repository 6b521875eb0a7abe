// Pictures that others follow at once: fewer pixels, and what stays the same is not drawn again.

#include "app/stage/scene_renderer.h"

#include <algorithm>

namespace ripple::app {

void SceneRenderer::prepareDraftTargets(const SceneView& view) {
    const QSize size(std::max(1, static_cast<int>(view.width * view.scale)),
                     std::max(1, static_cast<int>(view.height * view.scale)));
    if (targets_.prepareDraft(size)) {
        groundSeen_.reset();
        draftSkyTheme_.reset();
    }
}

void SceneRenderer::renderDraft(const SceneView& view) {
    prepareDraftTargets(view);
    const QSize size = targets_.draft->size();
    if (draftSkyTheme_ != themeKind()) {
        draftSkyTheme_ = themeKind();
        targets_.draftSky->bind();
        drawSky(size);
    }
    SceneView smaller = view;
    smaller.width = size.width();
    smaller.height = size.height();
    smaller.curtain = view.curtain < 0 ? -1 : static_cast<int>(view.curtain * view.scale);
    // From above nothing of the ground lies before the model.
    const bool standsOnGround =
        view.keepsShadow && view.curtain < 0 && view.eye.y > view.groundY && !mesh_.empty() && !many_;
    if (standsOnGround) {
        drawBackdrop(smaller);
    }
    QOpenGLFramebufferObject::blitFramebuffer(
        targets_.draft.get(), (standsOnGround ? targets_.draftGround : targets_.draftSky).get());
    targets_.draft->bind();
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
    QOpenGLFramebufferObject::blitFramebuffer(targets_.draftGround.get(), targets_.draftSky.get());
    targets_.draftGround->bind();
    glViewport(0, 0, view.width, view.height);
    glDisable(GL_SCISSOR_TEST);
    glDisable(GL_DEPTH_TEST);
    drawGround(view, light);
}

} // namespace ripple::app
