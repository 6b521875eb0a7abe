#include "app/stage/mesh_on_gpu.h"

#include <algorithm>

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

template <typename Values>
void fill(QOpenGLBuffer& buffer, const Values& values) {
    buffer.bind();
    buffer.allocate(values.data(), static_cast<int>(values.size() * sizeof(values[0])));
}

/// Room for so many elements, which the next pose fills: what is in it is not drawn.
void makeRoom(QOpenGLBuffer& buffer, std::size_t bytes) {
    buffer.bind();
    buffer.allocate(static_cast<int>(bytes));
}

} // namespace

void MeshOnGpu::create() {
    initializeOpenGLFunctions();
    for (QOpenGLBuffer* buffer : buffers()) {
        buffer->create();
    }
    for (auto& arrays : arrays_) {
        arrays = std::make_unique<QOpenGLVertexArrayObject>();
        arrays->create();
    }
}

void MeshOnGpu::destroy() {
    clear();
    for (QOpenGLBuffer* buffer : buffers()) {
        buffer->destroy();
    }
    arrays_ = {};
}

std::vector<QOpenGLBuffer*> MeshOnGpu::buffers() {
    return {&rest_,           &unposedNormals_, &posed_,     &posedNormals_, &compared_, &comparedNormals_,
            &shades_,         &gridUvs_,        &uvs_,       &lookups_,      &pivots_,   &shipped_,
            &shippedNormals_, &joints_[0],      &joints_[1], &joints_[2],    &indices_,  &coarseIndices_,
            &levelIndices_};
}

void MeshOnGpu::clear() {
    parts_.clear();
    coarse_ = false;
    vertices_ = 0;
    materialTextures_.clear();
    if (!textures_.empty()) {
        glDeleteTextures(static_cast<GLsizei>(textures_.size()), textures_.data());
        textures_.clear();
    }
}

std::size_t MeshOnGpu::triangles() const {
    std::size_t indices = 0;
    for (const DrawnPart& part : parts_) {
        indices += static_cast<std::size_t>(part.runs[0].count);
    }
    return indices / 3;
}

void MeshOnGpu::addImage(const mesh::Material& material, const std::vector<QImage>& levels, GLuint white,
                         Pieces& pieces) {
    if (levels.empty()) {
        pieces.add([this, white] { materialTextures_.push_back(white); });
        return;
    }
    for (std::size_t level = 0; level < levels.size(); ++level) {
        pieces.add([this, level, wrapU = material.wrapU, wrapV = material.wrapV, &levels] {
            if (level == 0) {
                GLuint texture = 0;
                glGenTextures(1, &texture);
                textures_.push_back(texture);
                materialTextures_.push_back(texture);
            }
            glBindTexture(GL_TEXTURE_2D, textures_.back());
            const QImage& image = levels[level];
            glTexImage2D(GL_TEXTURE_2D, static_cast<GLint>(level), GL_SRGB8_ALPHA8, image.width(),
                         image.height(), 0, GL_RGBA, GL_UNSIGNED_BYTE, image.constBits());
            glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MAX_LEVEL, static_cast<GLint>(level));
            glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR_MIPMAP_LINEAR);
            glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_S, wrapMode(wrapU));
            glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_T, wrapMode(wrapV));
        });
    }
}

void MeshOnGpu::addBuffers(const mesh::Mesh& mesh, const PreparedMesh& prepared, Pieces& pieces) {
    const auto fills = [&](QOpenGLBuffer& buffer, const auto& values) {
        pieces.add([&buffer, &values] { fill(buffer, values); });
    };
    const auto room = [&](QOpenGLBuffer& buffer, std::size_t width) {
        pieces.add([&buffer, bytes = mesh.vertexCount() * width] { makeRoom(buffer, bytes); });
    };
    fills(rest_, mesh.positions);
    fills(unposedNormals_, mesh.normals);
    fills(posed_, mesh.positions);
    fills(posedNormals_, mesh.normals);
    fills(uvs_, prepared.baseColourUvs);
    room(compared_, sizeof(glm::vec3));
    room(comparedNormals_, sizeof(glm::vec3));
    room(lookups_, sizeof(glm::vec2));
    room(pivots_, sizeof(glm::vec3));
    if (mesh.uvSets.empty()) {
        pieces.add([this, count = mesh.vertexCount()] {
            fill(gridUvs_, std::vector<glm::vec2>(count, glm::vec2(0.0f)));
        });
    } else {
        fills(gridUvs_, mesh.uvSets[0]);
    }
    pieces.add([this, count = mesh.vertexCount()] {
        fill(shades_, std::vector<glm::vec4>(count, glm::vec4(1.0f)));
        shaded_ = false;
    });
    pieces.add([this, &prepared] {
        arraysOf(Side::source)->bind(); // an index buffer belongs to the bound vertex array
        fill(indices_, prepared.indices);
        arraysOf(Side::source)->release();
    });
}

void MeshOnGpu::begin(const mesh::Mesh& mesh, const PreparedMesh& prepared, GLuint white, Pieces& pieces) {
    clear();
    addBuffers(mesh, prepared, pieces);
    for (std::size_t m = 0; m < mesh.materials.size(); ++m) {
        addImage(mesh.materials[m], prepared.images[m], white, pieces);
    }
    pieces.add([this, &mesh, &prepared] { setParts(mesh, prepared); });
}

void MeshOnGpu::setParts(const mesh::Mesh& mesh, const PreparedMesh& prepared) {
    vertices_ = mesh.vertexCount();
    makeVertexArrays();
    cutsOut_ = std::any_of(mesh.materials.begin(), mesh.materials.end(),
                           [](const mesh::Material& m) { return m.alphaMode != mesh::AlphaMode::opaque; });
    for (const mesh::Part& part : mesh.parts) {
        const mesh::Material& material = mesh.materials[part.material];
        DrawnPart drawn;
        drawn.texture = materialTextures_[part.material];
        drawn.factor = shownFactor(material);
        drawn.cutoff = material.alphaMode == mesh::AlphaMode::opaque ? -1.0f
                       : material.alphaMode == mesh::AlphaMode::mask ? material.alphaCutoff
                                                                     : 0.35f;
        drawn.twoSided = material.doubleSided;
        drawn.runs[0] = {static_cast<GLsizei>(part.indexCount), part.firstIndex};
        parts_.push_back(drawn);
    }
    if (prepared.coarse) {
        setCoarse(*prepared.coarse, *prepared.coarseForShadows);
    }
}

void MeshOnGpu::setCoarse(const mesh::Coarse& coarse, const mesh::Coarse& forShadows) {
    std::vector<std::uint32_t> both = coarse.indices;
    both.insert(both.end(), forShadows.indices.begin(), forShadows.indices.end());
    arraysOf(Side::source)->bind();
    fill(coarseIndices_, both);
    arraysOf(Side::source)->release();
    for (std::size_t p = 0; p < parts_.size(); ++p) {
        parts_[p].runs[1] = {static_cast<GLsizei>(coarse.parts[p].indexCount), coarse.parts[p].firstIndex};
        parts_[p].runs[2] = {static_cast<GLsizei>(forShadows.parts[p].indexCount),
                             coarse.indices.size() + forShadows.parts[p].firstIndex};
    }
    coarse_ = true;
}

void MeshOnGpu::setLevels(std::span<const mesh::Coarse> levels) {
    std::vector<std::uint32_t> all;
    for (DrawnPart& part : parts_) {
        part.levels.clear();
    }
    for (const mesh::Coarse& level : levels) {
        if (level.parts.size() != parts_.size()) {
            return; // of another mesh
        }
        for (std::size_t p = 0; p < parts_.size(); ++p) {
            parts_[p].levels.push_back(
                {static_cast<GLsizei>(level.parts[p].indexCount), all.size() + level.parts[p].firstIndex});
        }
        all.insert(all.end(), level.indices.begin(), level.indices.end());
    }
    if (!all.empty()) {
        arraysOf(Side::source)->bind();
        fill(levelIndices_, all);
        arraysOf(Side::source)->release();
    }
}

void MeshOnGpu::bindAttribute(QOpenGLBuffer& buffer, int location, int width) {
    // Its size is that of what is bound.
    if (!buffer.bind() || buffer.size() <= 0) {
        return;
    }
    glEnableVertexAttribArray(static_cast<GLuint>(location));
    glVertexAttribPointer(static_cast<GLuint>(location), width, GL_FLOAT, GL_FALSE, 0, nullptr);
}

void MeshOnGpu::bindRest() {
    bindAttribute(rest_, 0, 3);
    bindAttribute(unposedNormals_, 1, 3);
    bindAttribute(uvs_, 2, 2);
    bindAttribute(shades_, 4, 4);
    bindAttribute(gridUvs_, 5, 2);
}

void MeshOnGpu::makeVertexArrays() {
    struct Row {
        Side side;
        QOpenGLBuffer& positions;
        QOpenGLBuffer& normals;
    };
    for (const Row& row :
         {Row{Side::source, posed_, posedNormals_}, Row{Side::decoded, rest_, unposedNormals_},
          Row{Side::compared, compared_, comparedNormals_}}) {
        const QOpenGLVertexArrayObject::Binder arrays(arraysOf(row.side));
        bindRest();
        bindAttribute(row.positions, 0, 3);
        bindAttribute(row.normals, 1, 3);
        bindAttribute(lookups_, 3, 2);
        bindAttribute(pivots_, 6, 3);
        indices_.bind();
    }
}

void MeshOnGpu::write(QOpenGLBuffer& buffer, const void* values, std::size_t bytes) {
    buffer.bind();
    buffer.write(0, values, static_cast<int>(bytes));
}

void MeshOnGpu::setPose(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals) {
    if (positions.size() == vertices_) {
        write(posed_, positions.data(), positions.size_bytes());
        write(posedNormals_, normals.data(), normals.size_bytes());
    }
}

void MeshOnGpu::setComparedPose(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals) {
    if (positions.size() == vertices_) {
        write(compared_, positions.data(), positions.size_bytes());
        write(comparedNormals_, normals.data(), normals.size_bytes());
    }
}

void MeshOnGpu::setGridUvs(std::span<const glm::vec2> uvs) {
    if (uvs.size() == vertices_) {
        write(gridUvs_, uvs.data(), uvs.size_bytes());
    }
}

void MeshOnGpu::setShades(std::span<const glm::vec4> shades) {
    shaded_ = shades.size() == vertices_ && vertices_ > 0;
    if (shaded_) {
        write(shades_, shades.data(), shades.size_bytes());
    }
}

void MeshOnGpu::setShipped(const ShippedVertices& shipped) {
    if (shipped.lookups.size() != vertices_) {
        return;
    }
    write(lookups_, shipped.lookups.data(), shipped.lookups.size() * sizeof(glm::vec2));
    write(pivots_, shipped.pivots.data(), shipped.pivots.size() * sizeof(glm::vec3));
    const QOpenGLVertexArrayObject::Binder arrays(arraysOf(Side::decoded));
    const bool own = shipped.positions.size() == vertices_;
    if (own) {
        fill(shipped_, shipped.positions);
        fill(shippedNormals_, shipped.normals);
    }
    bindAttribute(own ? shipped_ : rest_, 0, 3);
    bindAttribute(own ? shippedNormals_ : unposedNormals_, 1, 3);
    for (int i = 0; i < 3; ++i) {
        if (shipped.joints[static_cast<std::size_t>(i)].size() == vertices_) {
            fill(joints_[i], shipped.joints[static_cast<std::size_t>(i)]);
            bindAttribute(joints_[i], kFirstJointAttribute + i, 4);
        }
    }
}

} // namespace ripple::app
