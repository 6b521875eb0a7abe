// Which programs draw a side of the picture.

#include "app/stage/scene_renderer.h"

namespace ripple::app {

SidePrograms& SceneRenderer::programsOf(Side side) {
    return side == Side::decoded ? decoded_.programs() : side == Side::scored ? scored_.programs() : posed_;
}

QOpenGLShaderProgram* SceneRenderer::surfaceProgram(Side side, Finish finish) {
    return programsOf(side).surface(finish, mesh_.cutsOut() || (side == Side::scored && scored_.cutsOut()));
}

QOpenGLShaderProgram* SceneRenderer::depthProgram(Side side) {
    // What is decoded casts the shadow of the pose that it stores.
    return programsOf(side == Side::decoded ? Side::source : side).depth();
}

QOpenGLShaderProgram* SceneRenderer::flatProgram(Side side) {
    return programsOf(side).flat();
}

void SceneRenderer::setUniformsOf(Side side, QOpenGLShaderProgram& program, const SceneView& view) {
    if (side == Side::decoded) {
        decoded_.setUniforms(program, kFirstBakeUnit, view.clip, view.frame, many_ || view.fade < 1.0f);
    } else if (side == Side::scored) {
        scored_.setUniforms(program);
    }
}

bool SceneRenderer::setBake(std::shared_ptr<const bake::Baked> bake, const mesh::Mesh& mesh,
                            const std::string& name) {
    outdate();
    return decoded_.set(std::move(bake), mesh, name, mesh_, firstFinish());
}

void SceneRenderer::clearBake() {
    outdate();
    decoded_.clear();
}

bool SceneRenderer::setScore(const emit::ScoreCode& score, const std::string& name,
                             const motion::VertexFields& fields) {
    outdate();
    shadowsChanged();
    return scored_.set(score, name, fields, mesh_, firstFinish());
}

void SceneRenderer::clearScore() {
    outdate();
    shadowsChanged();
    scored_.clear();
}

} // namespace ripple::app
