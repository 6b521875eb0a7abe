// Many copies of the model, and what they stand on.

#include "app/stage/scene_renderer.h"

#include "app/look/theme.h"
#include "app/stage/qt_vectors.h"

namespace ripple::app {

std::size_t SceneRenderer::trianglesSeen() const {
    std::size_t all = 0;
    for (std::size_t level = 0; level < copies_.levels(); ++level) {
        std::size_t own = 0;
        for (const DrawnPart& part : mesh_.parts()) {
            const DrawnPart::Run& run = level == 0 ? part.runs[0] : part.levels[level - 1];
            own += static_cast<std::size_t>(run.count) / 3;
        }
        all += own * static_cast<std::size_t>(copies_.seenAt(level).count);
    }
    return all;
}

bool SceneRenderer::setMerged(const std::optional<scatter::Keeps>& keeps, const mesh::Bounds& box) {
    if (merged_ == keeps && mergedBox_.min == box.min && mergedBox_.max == box.max) {
        return false;
    }
    merged_ = keeps;
    mergedBox_ = box;
    decoded_.setMerged(merged_, box, firstFinish(), mesh_.cutsOut());
    scored_.setMerged(merged_, box);
    return true;
}

void SceneRenderer::setCopies(std::vector<DrawnCopy> copies, const CrowdView& crowd) {
    outdate();
    shadowsChanged();
    many_ = !copies.empty();
    setMerged(crowd.merged, crowd.box);
    copies_.set(std::move(copies), crowd);
}

void SceneRenderer::drawScenery(const SceneView& view, const glm::mat4& light) {
    if (scenery_.empty()) {
        return;
    }
    const bool dusk = themeKind() == ThemeKind::dusk;
    const auto tone = [](const QColor& c) { return glm::vec3(c.redF(), c.greenF(), c.blueF()); };
    scenery_.setPaint({tone(dusk ? QColor("#2C4B52") : QColor("#B9C4BE")),
                       tone(dusk ? QColor("#3C6B76") : QColor("#7FA3A6")), tone(theme().coral),
                       view.gridCell});
    scenery_.draw([&](QOpenGLShaderProgram& program) {
        program.setUniformValue("u_view_projection", toQt(view.viewProjection));
        program.setUniformValue("u_light", toQt(light));
        program.setUniformValue("u_key", toQt(kKey));
        program.setUniformValue("u_depth", kShadowUnit);
        program.setUniformValue("u_texel", 1.0f / kShadowSide);
    });
}

void SceneRenderer::drawOneByOne(const SceneView& view, std::span<const DrawnCopy> copies,
                                 const std::function<void(std::size_t copy)>& pose) {
    outdate();
    setMerged({}, {});
    many_ = true;
    beginPicture(view);
    beginScene(view);
    glClear(GL_DEPTH_BUFFER_BIT);
    const glm::mat4 light = lightMatrix(view);
    drawShadow(view, light, Side::source);
    for (std::size_t c = 0; c < copies.size(); ++c) {
        pose(c);
        copies_.set({copies[c]}, {view.bounds});
        drawSurface(view, light, Side::source, {});
    }
    outdate();
}

void SceneRenderer::placeCopies(const SceneView& view) {
    if (!many_) {
        DrawnCopy alone; // as it was made, where it was made
        alone.clip = view.clip;
        alone.frame = view.frame;
        alone.clipBefore = view.clipBefore;
        alone.frameBefore = view.frameBefore;
        alone.fade = view.fade;
        alone.turn = view.turn;
        copies_.set({alone}, {view.bounds});
    }
    copies_.cull(view.viewProjection, view.eye);
}

} // namespace ripple::app
