// What the renderer keeps on the graphics card: programs, buffers, textures.

#include "app/stage/scene_renderer.h"

#include "app/stage/uv_grid.h"
#include "emit/reader_code.h"

#include <QImage>

namespace ripple::app {

SceneRenderer::SceneRenderer() {
    // Until there is a context that offers more.
    linker_.setProblem(
        "This display offers no OpenGL 3.3, so the model can't be drawn. Everything else works.");
}

bool SceneRenderer::initialise() {
    if (!initializeOpenGLFunctions()) {
        return false;
    }
    linker_.setProblem({});
    const QByteArray renderer(reinterpret_cast<const char*>(glGetString(GL_RENDERER)));
    software_ = renderer.contains("llvmpipe") || renderer.contains("softpipe");
    posed_.setVertexStage([](Finish finish) { return sourceVertexShader(finish); });
    sky_ = linker_.link(kScreenVertexShader, kSkyFragmentShader);
    ground_ = linker_.link(kGroundVertexShader, withGrid(kGroundFragmentShader));
    if (!surfaceProgram(Side::source, Finish::finished) || !posed_.flat() || !posed_.depth() || !sky_ ||
        !ground_) {
        return false;
    }
    QImage white(1, 1, QImage::Format_RGBA8888);
    white.fill(Qt::white);
    glGenTextures(1, &white_);
    glBindTexture(GL_TEXTURE_2D, white_);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_SRGB8_ALPHA8, 1, 1, 0, GL_RGBA, GL_UNSIGNED_BYTE, white.constBits());
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_NEAREST);
    const QImage grid = uvGridImage(1024);
    glGenTextures(1, &grid_);
    glBindTexture(GL_TEXTURE_2D, grid_);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_SRGB8_ALPHA8, grid.width(), grid.height(), 0, GL_RGBA, GL_UNSIGNED_BYTE,
                 grid.constBits());
    glGenerateMipmap(GL_TEXTURE_2D);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR_MIPMAP_LINEAR);

    shadow_ = makeShadowMap(kShadowSide);
    draftShadow_ = makeShadowMap(kDraftShadowSide);
    mesh_.create();
    copies_.create();
    scenery_.create(linker_);
    decoded_.create();
    noArrays_ = std::make_unique<QOpenGLVertexArrayObject>();
    noArrays_->create();
    return true;
}

SceneRenderer::ShadowMap SceneRenderer::makeShadowMap(int side) {
    ShadowMap map;
    map.side = side;
    glGenTextures(1, &map.texture);
    glBindTexture(GL_TEXTURE_2D, map.texture);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_DEPTH_COMPONENT24, side, side, 0, GL_DEPTH_COMPONENT, GL_UNSIGNED_INT,
                 nullptr);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MAG_FILTER, GL_LINEAR);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_S, GL_CLAMP_TO_EDGE);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_T, GL_CLAMP_TO_EDGE);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_COMPARE_MODE, GL_COMPARE_REF_TO_TEXTURE);
    GLint before = 0;
    glGetIntegerv(GL_FRAMEBUFFER_BINDING, &before);
    glGenFramebuffers(1, &map.target);
    glBindFramebuffer(GL_FRAMEBUFFER, map.target);
    glFramebufferTexture2D(GL_FRAMEBUFFER, GL_DEPTH_ATTACHMENT, GL_TEXTURE_2D, map.texture, 0);
    glDrawBuffer(GL_NONE);
    glReadBuffer(GL_NONE);
    glBindFramebuffer(GL_FRAMEBUFFER, static_cast<GLuint>(before));
    return map;
}

void SceneRenderer::shadowsChanged() {
    shadow_.of.reset();
    draftShadow_.of.reset();
}

void SceneRenderer::release() {
    clearScore();
    targets_.clear();
    clearBake();
    decoded_.forgetPrograms();
    clearMesh();
    const GLuint textures[] = {white_, grid_, shadow_.texture, draftShadow_.texture};
    glDeleteTextures(4, textures);
    const GLuint targets[] = {shadow_.target, draftShadow_.target};
    glDeleteFramebuffers(2, targets);
    mesh_.destroy();
    copies_.destroy();
    scenery_.destroy();
    setImages({});
    noArrays_.reset();
    posed_.forget();
    sky_.reset();
    ground_.reset();
}

void SceneRenderer::outdate() {
    drawnView_.reset();
    pieces_.clear();
}

void SceneRenderer::clearMesh() {
    clearScore();
    outdate();
    shadowsChanged();
    meshPieces_.clear();
    mesh_.clear();
}

void SceneRenderer::beginMesh(const mesh::Mesh& mesh, const PreparedMesh& prepared) {
    clearMesh();
    shadow_.drawn = draftShadow_.drawn = false;
    mesh_.begin(mesh, prepared, white_, meshPieces_);
    meshPieces_.add([this, cutBefore = mesh_.cutsOut()] {
        if (mesh_.cutsOut() != cutBefore) { // surfaces are drawn by other programs
            posed_.forget();
            decoded_.forgetPrograms();
            scored_.programs().forget();
        }
        surfaceProgram(Side::source, firstFinish());
    });
}

void SceneRenderer::setLevels(std::span<const mesh::Coarse> levels) {
    outdate();
    mesh_.setLevels(levels);
}

void SceneRenderer::setImages(std::span<const QImage> images) {
    outdate();
    glDeleteTextures(static_cast<GLsizei>(images_.size()), images_.data());
    images_.clear();
    for (const QImage& each : images) {
        const QImage image = each.convertToFormat(QImage::Format_RGBA8888);
        GLuint texture = 0;
        glGenTextures(1, &texture);
        glBindTexture(GL_TEXTURE_2D, texture);
        glTexImage2D(GL_TEXTURE_2D, 0, GL_SRGB8_ALPHA8, image.width(), image.height(), 0, GL_RGBA,
                     GL_UNSIGNED_BYTE, image.constBits());
        glGenerateMipmap(GL_TEXTURE_2D);
        glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR_MIPMAP_LINEAR);
        images_.push_back(texture);
    }
}

void SceneRenderer::setPose(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals) {
    outdate();
    shadowsChanged();
    mesh_.setPose(positions, normals);
}

void SceneRenderer::setComparedPose(std::span<const glm::vec3> positions,
                                    std::span<const glm::vec3> normals) {
    outdate();
    shadowsChanged();
    mesh_.setComparedPose(positions, normals);
}

void SceneRenderer::setGridUvs(std::span<const glm::vec2> uvs) {
    outdate();
    mesh_.setGridUvs(uvs);
}

void SceneRenderer::setShades(std::span<const glm::vec4> shades) {
    outdate();
    mesh_.setShades(shades);
}

} // namespace ripple::app
