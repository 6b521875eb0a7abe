// Shader programs of the scene, linked when they are first wanted.

#include "app/stage/scene_renderer.h"

namespace ripple::app {

std::unique_ptr<QOpenGLShaderProgram> SceneRenderer::link(const std::string& vertex,
                                                          const std::string& fragment) {
    auto program = std::make_unique<QOpenGLShaderProgram>();
    if (!program->addShaderFromSourceCode(QOpenGLShader::Vertex, vertex.c_str()) ||
        !program->addShaderFromSourceCode(QOpenGLShader::Fragment, fragment.c_str()) || !program->link()) {
        problem_ = "A shader could not be built: " + program->log();
        return nullptr;
    }
    warm_.erase(program.get()); // another one may have been there
    return program;
}

QOpenGLShaderProgram* SceneRenderer::surfaceProgram(Side side, Finish finish) {
    auto& programs = side == Side::decoded ? decoded_->surface : side == Side::scored ? scored_ : source_;
    auto& program = programs[static_cast<std::size_t>(finish)];
    if (!program) {
        program = link(side == Side::decoded  ? decoded_->vertex(finish)
                       : side == Side::scored ? scoredVertex_(finish)
                                              : sourceVertexShader(finish),
                       surfaceShader(finish, mesh_.cutsOut() || (side == Side::scored && scoreCuts_)));
    }
    return program.get();
}

QOpenGLShaderProgram* SceneRenderer::depthProgram(Side side) {
    if (side != Side::scored) {
        return sourceDepth_.get();
    }
    if (!scoredDepth_) {
        scoredDepth_ = link(scoredVertex_(Finish::finished), kEmptyFragmentShader);
    }
    return scoredDepth_.get();
}

QOpenGLShaderProgram* SceneRenderer::flatProgram(Side side) {
    auto& program = side == Side::decoded ? decoded_->flat : side == Side::scored ? scoredFlat_ : sourceFlat_;
    if (!program) { // linked when it is first wanted
        program =
            link(side == Side::decoded ? decoded_->vertex(Finish::finished) : scoredVertex_(Finish::finished),
                 kFlatFragmentShader);
    }
    return program.get();
}

} // namespace ripple::app
