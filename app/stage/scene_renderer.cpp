#include "app/stage/scene_renderer.h"

#include "app/shell/theme.h"
#include "emit/glsl_reader.h"

#include <QImage>
#include <QMatrix4x4>
#include <QPainter>

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>
#include <glm/gtc/matrix_transform.hpp>
#include <glm/gtc/type_ptr.hpp>

namespace ripple::app {

namespace {

constexpr int kShadowSide = 1024;
const glm::vec3 kKey = glm::normalize(glm::vec3(0.42f, 0.86f, 0.50f)); // toward the light

QMatrix4x4 toQt(const glm::mat4& m) {
    return QMatrix4x4(glm::value_ptr(m)).transposed();
}
QVector3D toQt(const glm::vec3& v) {
    return {v.x, v.y, v.z};
}
QVector3D rgb(const QColor& c) {
    return {c.redF(), c.greenF(), c.blueF()};
}

enum Unit { kBaseUnit = 0, kGridUnit = 1, kShadowUnit = 2, kPositionUnit = 3, kNormalUnit = 4 };

GLint wrapMode(mesh::Wrap wrap) {
    return wrap == mesh::Wrap::clamp    ? GL_CLAMP_TO_EDGE
           : wrap == mesh::Wrap::mirror ? GL_MIRRORED_REPEAT
                                        : GL_REPEAT;
}

} // namespace

QImage uvGridImage(int side) {
    QImage image(side, side, QImage::Format_RGBA8888);
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    const int cells = 8;
    const qreal cell = static_cast<qreal>(side) / cells;
    for (int row = 0; row < cells; ++row) {
        for (int column = 0; column < cells; ++column) {
            // Hue tells the column, lightness the row; neighbours differ as on a chess board.
            const bool dark = (row + column) % 2;
            const QColor fill = QColor::fromHslF(0.47f + 0.46f * static_cast<float>(column) / cells, 0.34f,
                                                 (dark ? 0.40f : 0.60f) + 0.16f * (0.5f - static_cast<float>(row) / cells));
            const QRectF box(column * cell, row * cell, cell, cell);
            painter.fillRect(box, fill);
            painter.setPen(QPen(QColor(255, 255, 255, 120), side / 512.0));
            painter.drawRect(box);
            painter.setPen(dark ? QColor("#EAE4D3") : QColor("#0F1F26"));
            painter.setFont(textFont(cell * 0.36, QFont::DemiBold));
            painter.drawText(box, Qt::AlignCenter, QString(QChar('A' + column)) + QString::number(row + 1));
        }
    }
    return image;
}

bool SceneRenderer::initialise() {
    if (!initializeOpenGLFunctions()) {
        problem_ = "This display offers no OpenGL 3.3, so the model can't be drawn. Everything else works.";
        return false;
    }
    source_ = link(sourceVertexShader(), kSurfaceFragmentShader);
    sourceFlat_ = link(sourceVertexShader(), kFlatFragmentShader);
    sourceDepth_ = link(sourceVertexShader(), kEmptyFragmentShader);
    sky_ = link(kScreenVertexShader, kSkyFragmentShader);
    ground_ = link(kGroundVertexShader, kGroundFragmentShader);
    if (!source_ || !sourceFlat_ || !sourceDepth_ || !sky_ || !ground_) {
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
    glTexImage2D(GL_TEXTURE_2D, 0, GL_SRGB8_ALPHA8, grid.width(), grid.height(), 0, GL_RGBA, GL_UNSIGNED_BYTE, grid.constBits());
    glGenerateMipmap(GL_TEXTURE_2D);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR_MIPMAP_LINEAR);

    glGenTextures(1, &shadow_);
    glBindTexture(GL_TEXTURE_2D, shadow_);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_DEPTH_COMPONENT24, kShadowSide, kShadowSide, 0, GL_DEPTH_COMPONENT, GL_UNSIGNED_INT, nullptr);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MAG_FILTER, GL_LINEAR);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_S, GL_CLAMP_TO_EDGE);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_T, GL_CLAMP_TO_EDGE);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_COMPARE_MODE, GL_COMPARE_REF_TO_TEXTURE);
    GLint before = 0;
    glGetIntegerv(GL_FRAMEBUFFER_BINDING, &before);
    glGenFramebuffers(1, &shadowTarget_);
    glBindFramebuffer(GL_FRAMEBUFFER, shadowTarget_);
    glFramebufferTexture2D(GL_FRAMEBUFFER, GL_DEPTH_ATTACHMENT, GL_TEXTURE_2D, shadow_, 0);
    glDrawBuffer(GL_NONE);
    glReadBuffer(GL_NONE);
    glBindFramebuffer(GL_FRAMEBUFFER, static_cast<GLuint>(before));

    for (QOpenGLBuffer* buffer : {&rest_, &restNormals_, &posed_, &posedNormals_, &uvs_, &lookups_, &indices_}) {
        buffer->create();
    }
    for (auto* arrays : {&sourceArrays_, &decodedArrays_, &noArrays_}) {
        *arrays = std::make_unique<QOpenGLVertexArrayObject>();
        (*arrays)->create();
    }
    return true;
}

void SceneRenderer::release() {
    clearBake();
    clearMesh();
    const GLuint textures[] = {white_, grid_, shadow_};
    glDeleteTextures(3, textures);
    glDeleteFramebuffers(1, &shadowTarget_);
    for (QOpenGLBuffer* buffer : {&rest_, &restNormals_, &posed_, &posedNormals_, &uvs_, &lookups_, &indices_}) {
        buffer->destroy();
    }
    sourceArrays_.reset();
    decodedArrays_.reset();
    noArrays_.reset();
    for (auto* program : {&source_, &sourceFlat_, &sourceDepth_, &sky_, &ground_}) {
        program->reset();
    }
}

std::unique_ptr<QOpenGLShaderProgram> SceneRenderer::link(const std::string& vertex, const char* fragment) {
    auto program = std::make_unique<QOpenGLShaderProgram>();
    if (!program->addShaderFromSourceCode(QOpenGLShader::Vertex, vertex.c_str()) ||
        !program->addShaderFromSourceCode(QOpenGLShader::Fragment, fragment) || !program->link()) {
        problem_ = "A shader could not be built: " + program->log();
        return nullptr;
    }
    return program;
}

GLuint SceneRenderer::uploadImage(const mesh::Material& material) {
    if (!material.baseColourImage) {
        return white_;
    }
    const auto& bytes = material.baseColourImage->bytes;
    QImage image;
    image.loadFromData(reinterpret_cast<const uchar*>(bytes.data()), static_cast<int>(bytes.size()));
    if (image.isNull()) {
        return white_;
    }
    image = image.convertToFormat(QImage::Format_RGBA8888);
    GLuint texture = 0;
    glGenTextures(1, &texture);
    glBindTexture(GL_TEXTURE_2D, texture);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_SRGB8_ALPHA8, image.width(), image.height(), 0, GL_RGBA, GL_UNSIGNED_BYTE, image.constBits());
    glGenerateMipmap(GL_TEXTURE_2D);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR_MIPMAP_LINEAR);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_S, wrapMode(material.wrapU));
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_T, wrapMode(material.wrapV));
    materialTextures_.push_back(texture);
    return texture;
}

GLuint SceneRenderer::uploadTexture(const image::Image& image) {
    GLint format = GL_RGB8;
    GLenum type = GL_UNSIGNED_BYTE;
    switch (image.pixel) {
    case image::Pixel::u8:
        break;
    case image::Pixel::u16:
        format = GL_RGB16;
        type = GL_UNSIGNED_SHORT;
        break;
    case image::Pixel::half:
        format = GL_RGB16F;
        type = GL_HALF_FLOAT;
        break;
    case image::Pixel::float32:
        format = GL_RGB32F;
        type = GL_FLOAT;
        break;
    }
    GLuint texture = 0;
    glGenTextures(1, &texture);
    glBindTexture(GL_TEXTURE_2D, texture);
    glPixelStorei(GL_UNPACK_ALIGNMENT, 1);
    glTexImage2D(GL_TEXTURE_2D, 0, format, static_cast<GLsizei>(image.width), static_cast<GLsizei>(image.height), 0, GL_RGB, type,
                 image.data.data());
    glPixelStorei(GL_UNPACK_ALIGNMENT, 4);
    for (const GLenum parameter : {GL_TEXTURE_MIN_FILTER, GL_TEXTURE_MAG_FILTER}) {
        glTexParameteri(GL_TEXTURE_2D, parameter, GL_NEAREST);
    }
    for (const GLenum parameter : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T}) {
        glTexParameteri(GL_TEXTURE_2D, parameter, GL_CLAMP_TO_EDGE);
    }
    return texture;
}

void SceneRenderer::bindAttribute(QOpenGLBuffer& buffer, int location, int width) {
    if (buffer.size() <= 0) {
        return;
    }
    buffer.bind();
    glEnableVertexAttribArray(static_cast<GLuint>(location));
    glVertexAttribPointer(static_cast<GLuint>(location), width, GL_FLOAT, GL_FALSE, 0, nullptr);
}

void SceneRenderer::makeVertexArrays() {
    const QOpenGLVertexArrayObject::Binder source(sourceArrays_.get());
    bindAttribute(posed_, 0, 3);
    bindAttribute(posedNormals_, 1, 3);
    bindAttribute(uvs_, 2, 2);
    indices_.bind();
    const QOpenGLVertexArrayObject::Binder decoded(decodedArrays_.get());
    bindAttribute(rest_, 0, 3);
    bindAttribute(restNormals_, 1, 3);
    bindAttribute(uvs_, 2, 2);
    bindAttribute(lookups_, 3, 2);
    indices_.bind();
}

void SceneRenderer::clearMesh() {
    parts_.clear();
    vertices_ = 0;
    if (!materialTextures_.empty()) {
        glDeleteTextures(static_cast<GLsizei>(materialTextures_.size()), materialTextures_.data());
        materialTextures_.clear();
    }
}

void SceneRenderer::setMesh(const mesh::Mesh& mesh) {
    clearMesh();
    vertices_ = mesh.vertexCount();
    const auto fill = [](QOpenGLBuffer& buffer, const auto& values) {
        buffer.bind();
        buffer.allocate(values.data(), static_cast<int>(values.size() * sizeof(values[0])));
    };
    fill(rest_, mesh.positions);
    fill(restNormals_, mesh.normals);
    fill(posed_, mesh.positions);
    fill(posedNormals_, mesh.normals);
    fill(uvs_, mesh.uvSets.empty() ? std::vector<glm::vec2>(vertices_, glm::vec2(0.0f)) : mesh.uvSets[0]);
    fill(lookups_, std::vector<glm::vec2>(vertices_, glm::vec2(0.0f)));
    sourceArrays_->bind(); // an index buffer belongs to the bound vertex array
    fill(indices_, mesh.indices);
    sourceArrays_->release();
    makeVertexArrays();
    std::vector<GLuint> textures;
    for (const mesh::Material& material : mesh.materials) {
        textures.push_back(uploadImage(material));
    }
    for (const mesh::Part& part : mesh.parts) {
        const mesh::Material& material = mesh.materials[part.material];
        DrawnPart drawn;
        drawn.texture = textures[part.material];
        drawn.factor = material.baseColour;
        drawn.cutoff = material.alphaMode == mesh::AlphaMode::opaque ? -1.0f
                       : material.alphaMode == mesh::AlphaMode::mask ? material.alphaCutoff
                                                                     : 0.35f;
        drawn.twoSided = material.doubleSided;
        drawn.count = static_cast<GLsizei>(part.indexCount);
        drawn.offset = part.firstIndex * sizeof(std::uint32_t);
        parts_.push_back(drawn);
    }
}

void SceneRenderer::setPose(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals) {
    if (positions.size() != vertices_) {
        return;
    }
    posed_.bind();
    posed_.write(0, positions.data(), static_cast<int>(positions.size_bytes()));
    posedNormals_.bind();
    posedNormals_.write(0, normals.data(), static_cast<int>(normals.size_bytes()));
}

void SceneRenderer::clearBake() {
    decoded_.reset();
    decodedFlat_.reset();
    decodedCode_.clear();
    const GLuint textures[] = {positionTexture_, normalTexture_};
    glDeleteTextures(2, textures);
    positionTexture_ = normalTexture_ = 0;
}

bool SceneRenderer::setBake(const bake::Baked& baked, const mesh::Mesh& mesh, const std::string& name) {
    const std::string code = emit::glslReader(name, baked.textures, baked.bounds);
    if (code != decodedCode_ || !decoded_) {
        const std::string vertex = decodedVertexShader(code, emit::identifier(name));
        clearBake();
        decoded_ = link(vertex, kSurfaceFragmentShader);
        decodedFlat_ = link(vertex, kFlatFragmentShader);
        if (!decoded_ || !decodedFlat_) {
            clearBake();
            return false;
        }
        decodedCode_ = code;
    }
    const GLuint old[] = {positionTexture_, normalTexture_};
    glDeleteTextures(2, old);
    positionTexture_ = uploadTexture(baked.textures.positions);
    normalTexture_ = baked.textures.normalStore.stored() ? uploadTexture(baked.textures.normals) : 0;
    std::vector<glm::vec2> lookups;
    lookups.reserve(mesh.vertexCount());
    for (const std::uint32_t column : baked.columnOfVertex) {
        lookups.push_back(baked.textures.layout.lookupUv(column));
    }
    lookups_.bind();
    lookups_.allocate(lookups.data(), static_cast<int>(lookups.size() * sizeof(glm::vec2)));
    makeVertexArrays();
    return true;
}

glm::mat4 SceneRenderer::lightMatrix(const SceneView& view) const {
    // Everything that moves, and where its shadow falls on the ground.
    mesh::Bounds all = view.bounds;
    const glm::vec3 low = all.min;
    const glm::vec3 high = all.max;
    for (int corner = 0; corner < 8; ++corner) {
        const glm::vec3 p((corner & 1) ? high.x : low.x, (corner & 2) ? high.y : low.y, (corner & 4) ? high.z : low.z);
        all.add(p - kKey * ((p.y - view.groundY) / kKey.y));
    }
    const glm::mat4 look = glm::lookAt(all.centre() + kKey, all.centre(), glm::vec3(0.0f, 1.0f, 0.0f));
    mesh::Bounds seen;
    for (int corner = 0; corner < 8; ++corner) {
        const glm::vec3 p((corner & 1) ? all.max.x : all.min.x, (corner & 2) ? all.max.y : all.min.y,
                          (corner & 4) ? all.max.z : all.min.z);
        seen.add(glm::vec3(look * glm::vec4(p, 1.0f)));
    }
    const float margin = 0.03f * seen.diagonal() + 1e-4f;
    return glm::ortho(seen.min.x - margin, seen.max.x + margin, seen.min.y - margin, seen.max.y + margin, -seen.max.z - margin,
                      -seen.min.z + margin) *
           look;
}

void SceneRenderer::drawParts(QOpenGLShaderProgram& program, Side side, bool withMaterials) {
    const QOpenGLVertexArrayObject::Binder arrays(side == Side::source ? sourceArrays_.get() : decodedArrays_.get());
    for (const DrawnPart& part : parts_) {
        if (withMaterials) {
            glActiveTexture(GL_TEXTURE0 + kBaseUnit);
            glBindTexture(GL_TEXTURE_2D, part.texture);
            program.setUniformValue("u_base_factor", part.factor.r, part.factor.g, part.factor.b, part.factor.a);
            program.setUniformValue("u_cutoff", part.cutoff);
            program.setUniformValue("u_two_sided", part.twoSided);
            part.twoSided ? glDisable(GL_CULL_FACE) : glEnable(GL_CULL_FACE);
        }
        glDrawElements(GL_TRIANGLES, part.count, GL_UNSIGNED_INT, reinterpret_cast<const void*>(part.offset));
    }
    glDisable(GL_CULL_FACE);
}

void SceneRenderer::drawShadow(const SceneView& view, const glm::mat4& light) {
    GLint before = 0;
    glGetIntegerv(GL_FRAMEBUFFER_BINDING, &before);
    glBindFramebuffer(GL_FRAMEBUFFER, shadowTarget_);
    glViewport(0, 0, kShadowSide, kShadowSide);
    glClear(GL_DEPTH_BUFFER_BIT);
    glEnable(GL_DEPTH_TEST);
    sourceDepth_->bind();
    sourceDepth_->setUniformValue("u_view_projection", toQt(light));
    sourceDepth_->setUniformValue("u_light", toQt(light));
    sourceDepth_->setUniformValue("u_base", kBaseUnit);
    drawParts(*sourceDepth_, Side::source, true);
    glBindFramebuffer(GL_FRAMEBUFFER, static_cast<GLuint>(before));
    glViewport(0, 0, view.width, view.height);
}

void SceneRenderer::drawSky(const SceneView& view) {
    const QOpenGLVertexArrayObject::Binder arrays(noArrays_.get());
    glDisable(GL_DEPTH_TEST);
    sky_->bind();
    sky_->setUniformValue("u_middle", rgb(theme().skyTop));
    sky_->setUniformValue("u_edge", rgb(theme().skyEdge));
    sky_->setUniformValue("u_aspect", static_cast<float>(view.width) / static_cast<float>(view.height));
    glDrawArrays(GL_TRIANGLES, 0, 3);
    glEnable(GL_DEPTH_TEST);
}

void SceneRenderer::drawGround(const SceneView& view, const glm::mat4& light) {
    const QOpenGLVertexArrayObject::Binder arrays(noArrays_.get());
    const float reach = 3.2f * std::max(view.bounds.diagonal(), 0.01f);
    const glm::vec3 centre(view.bounds.centre().x, view.groundY, view.bounds.centre().z);
    glEnable(GL_BLEND);
    // The picture itself stays opaque, or a compositor would show what lies behind the window.
    glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE);
    ground_->bind();
    ground_->setUniformValue("u_view_projection", toQt(view.viewProjection));
    ground_->setUniformValue("u_light", toQt(light));
    ground_->setUniformValue("u_centre", toQt(centre));
    ground_->setUniformValue("u_reach", reach);
    ground_->setUniformValue("u_cell", view.gridCell);
    ground_->setUniformValue("u_line", rgb(themeKind() == ThemeKind::dusk ? QColor("#3C6B76") : QColor("#7FA3A6")));
    ground_->setUniformValue("u_shade", themeKind() == ThemeKind::dusk ? 0.62f : 0.34f);
    ground_->setUniformValue("u_depth", kShadowUnit);
    ground_->setUniformValue("u_texel", 1.0f / kShadowSide);
    glDrawArrays(GL_TRIANGLE_STRIP, 0, 4);
    glDisable(GL_BLEND);
}

void SceneRenderer::setDecodedUniforms(QOpenGLShaderProgram& program, const SceneView& view) {
    program.setUniformValue("u_positions", kPositionUnit);
    program.setUniformValue("u_normals", kNormalUnit);
    program.setUniformValue("u_clip", view.clip);
    program.setUniformValue("u_frame", view.frame);
    glActiveTexture(GL_TEXTURE0 + kPositionUnit);
    glBindTexture(GL_TEXTURE_2D, positionTexture_);
    glActiveTexture(GL_TEXTURE0 + kNormalUnit);
    glBindTexture(GL_TEXTURE_2D, normalTexture_ ? normalTexture_ : white_);
}

void SceneRenderer::drawSide(const SceneView& view, const glm::mat4& light, Side side) {
    QOpenGLShaderProgram& program = side == Side::source ? *source_ : *decoded_;
    program.bind();
    program.setUniformValue("u_view_projection", toQt(view.viewProjection));
    program.setUniformValue("u_light", toQt(light));
    program.setUniformValue("u_look", static_cast<int>(view.look));
    program.setUniformValue("u_base", kBaseUnit);
    program.setUniformValue("u_grid", kGridUnit);
    program.setUniformValue("u_depth", kShadowUnit);
    program.setUniformValue("u_eye", toQt(view.eye));
    program.setUniformValue("u_key", toQt(kKey));
    program.setUniformValue("u_texel", 1.0f / kShadowSide);
    if (side == Side::decoded) {
        setDecodedUniforms(program, view);
    }
    glEnable(GL_POLYGON_OFFSET_FILL);
    glPolygonOffset(1.0f, 1.0f);
    drawParts(program, side, true);
    glDisable(GL_POLYGON_OFFSET_FILL);
    if (view.look == Look::wire) {
        QOpenGLShaderProgram& flat = side == Side::source ? *sourceFlat_ : *decodedFlat_;
        flat.bind();
        flat.setUniformValue("u_view_projection", toQt(view.viewProjection));
        flat.setUniformValue("u_colour", 0.04f, 0.10f, 0.13f, wireStrength());
        if (side == Side::decoded) {
            setDecodedUniforms(flat, view);
        }
        glEnable(GL_BLEND);
        glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE);
        glDepthFunc(GL_LEQUAL);
        glPolygonMode(GL_FRONT_AND_BACK, GL_LINE);
        drawParts(flat, side, false);
        glPolygonMode(GL_FRONT_AND_BACK, GL_FILL);
        glDepthFunc(GL_LESS);
        glDisable(GL_BLEND);
    }
}

float SceneRenderer::wireStrength() const {
    // A dense mesh must not drown in its own lines.
    std::size_t indices = 0;
    for (const DrawnPart& part : parts_) {
        indices += static_cast<std::size_t>(part.count);
    }
    return std::clamp(0.62f - 0.000012f * static_cast<float>(indices), 0.18f, 0.55f);
}

void SceneRenderer::draw(const SceneView& view) {
    glDisable(GL_SCISSOR_TEST);
    glDisable(GL_BLEND);
    glDisable(GL_CULL_FACE);
    glDepthMask(GL_TRUE);
    glDepthFunc(GL_LESS);
    glCullFace(GL_BACK);
    glEnable(GL_MULTISAMPLE);
    glm::mat4 light(1.0f);
    if (!parts_.empty()) {
        light = lightMatrix(view);
        glActiveTexture(GL_TEXTURE0 + kShadowUnit);
        glBindTexture(GL_TEXTURE_2D, white_); // never the target of its own pass
        drawShadow(view, light);
    }
    glViewport(0, 0, view.width, view.height);
    glClearColor(0.0f, 0.0f, 0.0f, 1.0f);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    drawSky(view);
    if (!parts_.empty()) {
        glActiveTexture(GL_TEXTURE0 + kGridUnit);
        glBindTexture(GL_TEXTURE_2D, grid_);
        glActiveTexture(GL_TEXTURE0 + kShadowUnit);
        glBindTexture(GL_TEXTURE_2D, shadow_);
        const bool both = view.curtain >= 0 && hasBake();
        glEnable(GL_SCISSOR_TEST);
        glScissor(0, 0, both ? view.curtain : view.width, view.height);
        drawSide(view, light, Side::source);
        if (both) {
            glScissor(view.curtain, 0, view.width - view.curtain, view.height);
            drawSide(view, light, Side::decoded);
        }
        glDisable(GL_SCISSOR_TEST);
        drawGround(view, light);
    }
    // QPainter draws over this with state of its own.
    glActiveTexture(GL_TEXTURE0);
    glBindTexture(GL_TEXTURE_2D, 0);
    glDisable(GL_DEPTH_TEST);
    glUseProgram(0);
}

} // namespace ripple::app
