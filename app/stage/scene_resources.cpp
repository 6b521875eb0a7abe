// What the renderer keeps on the graphics card: programs, buffers, textures.

#include "app/stage/scene_renderer.h"

#include "app/stage/uv_grid.h"
#include "emit/reader_code.h"

#include <QBuffer>
#include <QImage>
#include <QImageReader>

#include <algorithm>

#include <cmath>

namespace ripple::app {

namespace {

/// Materials without a base colour are drawn in a middle grey: the white that glTF has them be shows little
/// of a surface.
glm::vec4 shownFactor(const mesh::Material& material) {
    constexpr float kGrey = 0.34f; // linear
    const bool none = !material.baseColourImage && glm::vec3(material.baseColour) == glm::vec3(1.0f);
    return none ? glm::vec4(glm::vec3(kGrey), material.baseColour.a) : material.baseColour;
}

GLint wrapMode(mesh::Wrap wrap) {
    return wrap == mesh::Wrap::clamp    ? GL_CLAMP_TO_EDGE
           : wrap == mesh::Wrap::mirror ? GL_MIRRORED_REPEAT
                                        : GL_REPEAT;
}

/// For each vertex the UV at which its material's base colour is read: its set, and where that lies.
std::vector<glm::vec2> baseColourUvs(const mesh::Mesh& mesh) {
    std::vector<glm::vec2> uvs(mesh.vertexCount(), glm::vec2(0.0f));
    for (const mesh::Part& part : mesh.parts) {
        const mesh::Material& material = mesh.materials[part.material];
        if (material.baseColourUvSet >= mesh.uvSets.size()) {
            continue;
        }
        const auto& set = mesh.uvSets[material.baseColourUvSet];
        const mesh::UvTransform& t = material.baseColourTransform;
        const float c = std::cos(t.rotation);
        const float s = std::sin(t.rotation);
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
            const glm::vec2 scaled = t.scale * set[v];
            uvs[v] = t.offset + glm::vec2(c * scaled.x + s * scaled.y, c * scaled.y - s * scaled.x);
        }
    }
    return uvs;
}

} // namespace

bool SceneRenderer::initialise() {
    if (!initializeOpenGLFunctions()) {
        return false;
    }
    problem_.clear();
    const QByteArray renderer(reinterpret_cast<const char*>(glGetString(GL_RENDERER)));
    software_ = renderer.contains("llvmpipe") || renderer.contains("softpipe");
    sourceFlat_ = link(sourceVertexShader(Finish::finished), kFlatFragmentShader);
    sourceDepth_ = link(sourceVertexShader(Finish::finished), kEmptyFragmentShader);
    sky_ = link(kScreenVertexShader, kSkyFragmentShader);
    ground_ = link(kGroundVertexShader, kGroundFragmentShader);
    if (!surfaceProgram(Side::source, Finish::finished) || !sourceFlat_ || !sourceDepth_ || !sky_ ||
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
    for (QOpenGLBuffer* buffer : buffers()) {
        buffer->create();
    }
    for (auto* arrays : {&sourceArrays_, &decodedArrays_, &comparedArrays_, &scoredArrays_, &noArrays_}) {
        *arrays = std::make_unique<QOpenGLVertexArrayObject>();
        (*arrays)->create();
    }
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
    for (auto* target : {&sampled_, &picture_, &draft_, &draftSky_, &draftGround_, &shown_}) {
        target->reset();
    }
    clearBake();
    decoders_.clear();
    clearMesh();
    const GLuint textures[] = {white_, grid_, shadow_.texture, draftShadow_.texture};
    glDeleteTextures(4, textures);
    const GLuint targets[] = {shadow_.target, draftShadow_.target};
    glDeleteFramebuffers(2, targets);
    for (QOpenGLBuffer* buffer : buffers()) {
        buffer->destroy();
    }
    sourceArrays_.reset();
    decodedArrays_.reset();
    comparedArrays_.reset();
    scoredArrays_.reset();
    noArrays_.reset();
    source_ = {};
    for (auto* program : {&sourceFlat_, &sourceDepth_, &sky_, &ground_}) {
        program->reset();
    }
}

namespace {

/// Decoded as large as it is looked at here, however large it is shipped.
QImage shownImage(const base::Bytes& bytes) {
    constexpr int kLargestShown = 4096;
    // Sides were bounded when it was read (source::kLargestImageSide): four bytes for each pixel of the
    // largest.
    constexpr int kMegabytes = 1100;
    QImageReader::setAllocationLimit(kMegabytes);
    QByteArray data = QByteArray::fromRawData(reinterpret_cast<const char*>(bytes.data()),
                                              static_cast<qsizetype>(bytes.size()));
    QBuffer buffer(&data);
    QImageReader reader(&buffer);
    const QSize size = reader.size();
    if (size.width() > kLargestShown || size.height() > kLargestShown) {
        reader.setScaledSize(size.scaled(kLargestShown, kLargestShown, Qt::KeepAspectRatio));
    }
    return reader.read();
}

} // namespace

GLuint SceneRenderer::uploadImage(const mesh::Material& material) {
    if (!material.baseColourImage) {
        return white_;
    }
    QImage image = shownImage(material.baseColourImage->bytes);
    if (image.isNull()) {
        return white_;
    }
    image = image.convertToFormat(QImage::Format_RGBA8888);
    GLuint texture = 0;
    glGenTextures(1, &texture);
    glBindTexture(GL_TEXTURE_2D, texture);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_SRGB8_ALPHA8, image.width(), image.height(), 0, GL_RGBA,
                 GL_UNSIGNED_BYTE, image.constBits());
    glGenerateMipmap(GL_TEXTURE_2D);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR_MIPMAP_LINEAR);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_S, wrapMode(material.wrapU));
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_T, wrapMode(material.wrapV));
    materialTextures_.push_back(texture);
    return texture;
}

void SceneRenderer::bindAttribute(QOpenGLBuffer& buffer, int location, int width) {
    // Its size is that of what is bound.
    if (!buffer.bind() || buffer.size() <= 0) {
        return;
    }
    glEnableVertexAttribArray(static_cast<GLuint>(location));
    glVertexAttribPointer(static_cast<GLuint>(location), width, GL_FLOAT, GL_FALSE, 0, nullptr);
}

std::vector<QOpenGLBuffer*> SceneRenderer::buffers() {
    return {&rest_,         &unposedNormals_, &posed_, &posedNormals_, &compared_, &comparedNormals_,
            &shades_,       &gridUvs_,        &uvs_,   &lookups_,      &pivots_,   &indices_,
            &coarseIndices_};
}

QOpenGLVertexArrayObject* SceneRenderer::arraysOf(Side side) {
    return side == Side::source     ? sourceArrays_.get()
           : side == Side::compared ? comparedArrays_.get()
           : side == Side::scored   ? scoredArrays_.get()
                                    : decodedArrays_.get();
}

void SceneRenderer::makeVertexArrays() {
    struct Row {
        Side side;
        QOpenGLBuffer& positions;
        QOpenGLBuffer& normals;
    };
    for (const Row& row :
         {Row{Side::source, posed_, posedNormals_}, Row{Side::decoded, rest_, unposedNormals_},
          Row{Side::compared, compared_, comparedNormals_}}) {
        const QOpenGLVertexArrayObject::Binder arrays(arraysOf(row.side));
        bindAttribute(row.positions, 0, 3);
        bindAttribute(row.normals, 1, 3);
        bindAttribute(uvs_, 2, 2);
        bindAttribute(lookups_, 3, 2);
        bindAttribute(shades_, 4, 4);
        bindAttribute(gridUvs_, 5, 2);
        bindAttribute(pivots_, 6, 3);
        indices_.bind();
    }
}

void SceneRenderer::clearMesh() {
    clearScore();
    drawnView_.reset();
    shadowsChanged();
    parts_.clear();
    coarse_ = false;
    vertices_ = 0;
    if (!materialTextures_.empty()) {
        glDeleteTextures(static_cast<GLsizei>(materialTextures_.size()), materialTextures_.data());
        materialTextures_.clear();
    }
}

void SceneRenderer::setMesh(const mesh::Mesh& mesh) {
    clearMesh();
    shadow_.drawn = draftShadow_.drawn = false;
    vertices_ = mesh.vertexCount();
    const auto fill = [](QOpenGLBuffer& buffer, const auto& values) {
        buffer.bind();
        buffer.allocate(values.data(), static_cast<int>(values.size() * sizeof(values[0])));
    };
    fill(rest_, mesh.positions);
    fill(unposedNormals_, mesh.normals);
    fill(posed_, mesh.positions);
    fill(posedNormals_, mesh.normals);
    fill(compared_, mesh.positions);
    fill(comparedNormals_, mesh.normals);
    fill(uvs_, baseColourUvs(mesh));
    fill(gridUvs_, mesh.uvSets.empty() ? std::vector<glm::vec2>(vertices_, glm::vec2(0.0f)) : mesh.uvSets[0]);
    fill(shades_, std::vector<glm::vec4>(vertices_, glm::vec4(1.0f)));
    shaded_ = false;
    fill(lookups_, std::vector<glm::vec2>(vertices_, glm::vec2(0.0f)));
    sourceArrays_->bind(); // an index buffer belongs to the bound vertex array
    fill(indices_, mesh::drawingOrder(mesh));
    sourceArrays_->release();
    makeVertexArrays();
    std::vector<GLuint> textures;
    for (const mesh::Material& material : mesh.materials) {
        textures.push_back(uploadImage(material));
    }
    const bool cuts = std::any_of(mesh.materials.begin(), mesh.materials.end(), [](const mesh::Material& m) {
        return m.alphaMode != mesh::AlphaMode::opaque;
    });
    if (cuts != cutsOut_) {
        cutsOut_ = cuts;
        source_ = {};
        decoders_.clear();
        decoded_ = nullptr;
        scored_ = {};
    }
    for (const mesh::Part& part : mesh.parts) {
        const mesh::Material& material = mesh.materials[part.material];
        DrawnPart drawn;
        drawn.texture = textures[part.material];
        drawn.factor = shownFactor(material);
        drawn.cutoff = material.alphaMode == mesh::AlphaMode::opaque ? -1.0f
                       : material.alphaMode == mesh::AlphaMode::mask ? material.alphaCutoff
                                                                     : 0.35f;
        drawn.twoSided = material.doubleSided;
        drawn.count = static_cast<GLsizei>(part.indexCount);
        drawn.offset = part.firstIndex * sizeof(std::uint32_t);
        parts_.push_back(drawn);
    }
}

void SceneRenderer::setCoarse(const mesh::Coarse& coarse, const mesh::Coarse& forShadows) {
    std::vector<std::uint32_t> both = coarse.indices;
    both.insert(both.end(), forShadows.indices.begin(), forShadows.indices.end());
    sourceArrays_->bind();
    coarseIndices_.bind();
    coarseIndices_.allocate(both.data(), static_cast<int>(both.size() * sizeof(std::uint32_t)));
    sourceArrays_->release();
    for (std::size_t p = 0; p < parts_.size(); ++p) {
        parts_[p].coarseCount = static_cast<GLsizei>(coarse.parts[p].indexCount);
        parts_[p].coarseOffset = coarse.parts[p].firstIndex * sizeof(std::uint32_t);
        parts_[p].shadowCount = static_cast<GLsizei>(forShadows.parts[p].indexCount);
        parts_[p].shadowOffset =
            (coarse.indices.size() + forShadows.parts[p].firstIndex) * sizeof(std::uint32_t);
    }
    coarse_ = true;
}

void SceneRenderer::setPose(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals) {
    drawnView_.reset();
    shadowsChanged();
    if (positions.size() != vertices_) {
        return;
    }
    posed_.bind();
    posed_.write(0, positions.data(), static_cast<int>(positions.size_bytes()));
    posedNormals_.bind();
    posedNormals_.write(0, normals.data(), static_cast<int>(normals.size_bytes()));
}

void SceneRenderer::setComparedPose(std::span<const glm::vec3> positions,
                                    std::span<const glm::vec3> normals) {
    drawnView_.reset();
    shadowsChanged();
    if (positions.size() == vertices_) {
        compared_.bind();
        compared_.write(0, positions.data(), static_cast<int>(positions.size_bytes()));
        comparedNormals_.bind();
        comparedNormals_.write(0, normals.data(), static_cast<int>(normals.size_bytes()));
    }
}

void SceneRenderer::setGridUvs(std::span<const glm::vec2> uvs) {
    drawnView_.reset();
    if (uvs.size() == vertices_) {
        gridUvs_.bind();
        gridUvs_.write(0, uvs.data(), static_cast<int>(uvs.size_bytes()));
    }
}

void SceneRenderer::setShades(std::span<const glm::vec4> shades) {
    drawnView_.reset();
    shaded_ = shades.size() == vertices_ && vertices_ > 0;
    if (shaded_) {
        shades_.bind();
        shades_.write(0, shades.data(), static_cast<int>(shades.size_bytes()));
    }
}

} // namespace ripple::app
