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
    // What is decoded casts the shadow of the pose that it stores; of a crowd each copy has its own.
    return programsOf(side == Side::decoded && !many_ ? Side::source : side).depth();
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

void SceneRenderer::bindImages(QOpenGLShaderProgram& program) {
    for (int i = 0; i < 3; ++i) {
        const int unit = kFirstImageUnit + i;
        const auto at = static_cast<std::size_t>(i);
        glActiveTexture(GL_TEXTURE0 + static_cast<GLenum>(unit));
        glBindTexture(GL_TEXTURE_2D, at < images_.size() ? images_[at] : white_);
        program.setUniformValue(("u_image" + std::to_string(i + 1)).c_str(), unit);
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
