#include "app/stage/side_programs.h"

namespace ripple::app {

std::unique_ptr<QOpenGLShaderProgram> Linker::link(const std::string& vertex, const std::string& fragment) {
    auto program = std::make_unique<QOpenGLShaderProgram>();
    if (!program->addShaderFromSourceCode(QOpenGLShader::Vertex, vertex.c_str()) ||
        !program->addShaderFromSourceCode(QOpenGLShader::Fragment, fragment.c_str()) || !program->link()) {
        problem_ = "A shader could not be built: " + program->log();
        return nullptr;
    }
    warm_.erase(program.get()); // another one may have been there
    return program;
}

void SidePrograms::setVertexStage(VertexStage stage) {
    forget();
    stage_ = std::move(stage);
}

void SidePrograms::forget() {
    surface_ = {};
    flat_.reset();
    depth_.reset();
}

QOpenGLShaderProgram* SidePrograms::surface(Finish finish, bool cuts) {
    auto& program = surface_[static_cast<std::size_t>(finish)];
    if (!program) {
        program = linker_.link(stage_(finish), surfaceShader(finish, cuts));
    }
    return program.get();
}

QOpenGLShaderProgram* SidePrograms::flat() {
    if (!flat_) {
        flat_ = linker_.link(stage_(Finish::finished), kFlatFragmentShader);
    }
    return flat_.get();
}

QOpenGLShaderProgram* SidePrograms::depth() {
    if (!depth_) {
        depth_ = linker_.link(stage_(Finish::finished), kEmptyFragmentShader);
    }
    return depth_.get();
}

} // namespace ripple::app
