#include "app/stage/decoded_side.h"

#include "bake/joint_texels.h"
#include "bake/kind.h"
#include "bundle/mesh_file.h"
#include "emit/reader_code.h"

#include <algorithm>

namespace ripple::app {

namespace {

struct TexelFormat {
    GLint inside;
    GLenum channels;
    GLenum type;
};

TexelFormat formatOf(const image::Image& image) {
    const bool alpha = image.channels == 4;
    const GLenum channels = alpha ? GL_RGBA : GL_RGB;
    switch (image.pixel) {
    case image::Pixel::u8:
        break;
    case image::Pixel::u16:
        return {alpha ? GL_RGBA16 : GL_RGB16, channels, GL_UNSIGNED_SHORT};
    case image::Pixel::half:
        return {alpha ? GL_RGBA16F : GL_RGB16F, channels, GL_HALF_FLOAT};
    case image::Pixel::float32:
        return {alpha ? GL_RGBA32F : GL_RGB32F, channels, GL_FLOAT};
    }
    return {alpha ? GL_RGBA8 : GL_RGB8, channels, GL_UNSIGNED_BYTE};
}

/// What the reading code takes of each vertex, as the decoded side's vertex stage calls it.
std::string vertexArguments(const bake::BakeFormat& format, const VertexPlace& place) {
    const std::string joints =
        format.joints.influences == 8 ? "a_joints, a_weights, a_more_weights, " : "a_joints.xy, a_weights, ";
    return (format.joints.inUvs ? joints : std::string("a_lookup, ")) + place.position + ", " + place.normal +
           ", " + (emit::readerWantsPivot(format) ? "a_pivot, " : "");
}

ShippedVertices shippedVertices(const bake::Baked& baked, const mesh::Mesh& mesh) {
    const bake::TextureSet& set = baked.textures;
    ShippedVertices shipped;
    shipped.lookups.reserve(mesh.vertexCount());
    for (const std::uint32_t column : baked.columnOfVertex) {
        shipped.lookups.push_back(set.joints.inUvs ? glm::vec2(0.0f) : set.layout.lookupUv(column));
    }
    shipped.pivots.assign(mesh.vertexCount(), glm::vec3(0.0f));
    for (std::size_t v = 0; v < shipped.pivots.size() && !set.pivots.empty(); ++v) {
        shipped.pivots[v] = set.pivots[baked.columnOfVertex[v]];
    }
    if (baked.rig) {
        shipped.positions = baked.rig->positions;
        shipped.normals = baked.rig->normals;
    }
    if (set.joints.inUvs) {
        bake::JointInputs joints =
            bake::jointInputs(bundle::uvSetsOf(set, baked.columnOfVertex), set.joints.influences);
        shipped.joints = {std::move(joints.pairs), std::move(joints.weights), std::move(joints.moreWeights)};
    }
    return shipped;
}

} // namespace

/// Room for it; its rows come when they are drawn.
GLuint DecodedSide::makeTexture(const image::Image& image) {
    const TexelFormat format = formatOf(image);
    GLuint texture = 0;
    glGenTextures(1, &texture);
    glBindTexture(GL_TEXTURE_2D, texture);
    glTexImage2D(GL_TEXTURE_2D, 0, format.inside, static_cast<GLsizei>(image.width),
                 static_cast<GLsizei>(image.height), 0, format.channels, format.type, nullptr);
    for (const GLenum parameter : {GL_TEXTURE_MIN_FILTER, GL_TEXTURE_MAG_FILTER}) {
        glTexParameteri(GL_TEXTURE_2D, parameter, GL_NEAREST);
    }
    for (const GLenum parameter : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T}) {
        glTexParameteri(GL_TEXTURE_2D, parameter, GL_CLAMP_TO_EDGE);
    }
    return texture;
}

void DecodedSide::uploadRows(std::size_t first, std::size_t count) {
    glPixelStorei(GL_UNPACK_ALIGNMENT, 1);
    for (std::size_t t = 0; t < textures_.size(); ++t) {
        const image::Image& image = bake_->textures.images[t];
        const std::size_t rows = std::min(count, image.height - std::min(first, image.height));
        if (rows == 0) {
            continue;
        }
        const TexelFormat format = formatOf(image);
        glBindTexture(GL_TEXTURE_2D, textures_[t]);
        glTexSubImage2D(GL_TEXTURE_2D, 0, 0, static_cast<GLint>(first), static_cast<GLsizei>(image.width),
                        static_cast<GLsizei>(rows), format.channels, format.type, image.texel(0, first));
    }
    glPixelStorei(GL_UNPACK_ALIGNMENT, 4);
}

void DecodedSide::uploadFrame(int shownClip, float frame, bool all) {
    const bake::TextureSet& set = bake_->textures;
    const auto clip = static_cast<std::size_t>(std::max(shownClip, 0));
    if (set.kind->approximates || clip >= set.clips.size()) {
        return;
    }
    if (all) {
        if (std::ranges::find(uploaded_, false) != uploaded_.end()) {
            uploadRows(0, bake::kLargestTexture);
            uploaded_.assign(uploaded_.size(), true);
        }
        return;
    }
    const bake::FramePair pair = bake::framePair(set.clips[clip], frame);
    for (const std::size_t block : {pair.first, pair.second}) {
        if (!uploaded_[block]) {
            uploadRows(block * set.layout.rowsPerBlock, set.layout.rowsPerBlock);
            uploaded_[block] = true;
        }
    }
}

void DecodedSide::create() {
    initializeOpenGLFunctions();
}

void DecodedSide::deleteTextures() {
    glDeleteTextures(static_cast<GLsizei>(textures_.size()), textures_.data());
    textures_.clear();
}

void DecodedSide::clear() {
    problem_.clear();
    decoder_ = nullptr;
    bake_.reset();
    deleteTextures();
}

void DecodedSide::forgetPrograms() {
    decoders_.clear();
    decoder_ = nullptr;
}

void DecodedSide::setUniforms(QOpenGLShaderProgram& program, int firstUnit, int clip, float frame, bool all) {
    glActiveTexture(GL_TEXTURE0 + static_cast<GLenum>(firstUnit)); // what is bound for others stays
    uploadFrame(clip, frame, all);
    for (std::size_t t = 0; t < textures_.size(); ++t) {
        const int unit = firstUnit + static_cast<int>(t);
        program.setUniformValue(("u_" + samplers_[t]).c_str(), unit);
        glActiveTexture(GL_TEXTURE0 + static_cast<GLenum>(unit));
        glBindTexture(GL_TEXTURE_2D, textures_[t]);
    }
}

DecodedSide::Decoder* DecodedSide::decoderOf(const bake::Baked& baked, const std::string& name) {
    constexpr std::size_t kKept = 8; // going to and fro between stores builds no shader twice
    const std::string code = emit::readerCode(emit::glsl(), name, baked.textures, baked.bounds);
    const std::string place = place_.before + place_.functions;
    auto known = std::ranges::find_if(
        decoders_, [&](const auto& decoder) { return decoder->code == code && decoder->place == place; });
    if (known == decoders_.end()) {
        auto decoder = std::make_unique<Decoder>(Decoder{code, place, SidePrograms(linker_)});
        decoder->programs.setVertexStage(
            [code, id = emit::identifier(name), samplers = emit::readerSamplers(baked.textures),
             vertex = vertexArguments(baked.textures, place_), of = place_](Finish finish) {
                return decodedVertexShader(finish, code, id, samplers, vertex, of);
            });
        decoders_.resize(std::min(decoders_.size(), kKept - 1));
        known = decoders_.insert(decoders_.begin(), std::move(decoder));
    }
    std::rotate(decoders_.begin(), known, known + 1);
    return decoders_.front().get();
}

void DecodedSide::setMerged(const std::optional<scatter::Keeps>& keeps, const mesh::Bounds& box,
                            Finish finish, bool cuts) {
    place_ = placeOfVertex(keeps, box);
    if (bake_) {
        decoder_ = decoderOf(*bake_, name_);
        if (!decoder_->programs.surface(finish, cuts)) {
            clear();
        }
    }
}

bool DecodedSide::set(std::shared_ptr<const bake::Baked> bake, const mesh::Mesh& mesh,
                      const std::string& name, MeshOnGpu& onGpu, Finish finish) {
    const bake::Baked& baked = *bake;
    problem_.clear();
    GLint most = largestTexture_;
    if (most == 0) {
        glGetIntegerv(GL_MAX_TEXTURE_SIZE, &most);
    }
    for (const bake::TextureFormat& texture : baked.textures.textures) {
        const std::size_t side = std::max(texture.width, texture.height);
        if (side > static_cast<std::size_t>(most)) {
            clear();
            problem_ =
                QObject::tr(
                    "Can't be decoded here: a texture of %1 × %2 texels is larger than the %3 that this "
                    "graphics processor takes.")
                    .arg(texture.width)
                    .arg(texture.height)
                    .arg(most);
            return false;
        }
    }
    name_ = name;
    decoder_ = decoderOf(baked, name);
    if (!decoder_->programs.surface(finish, onGpu.cutsOut())) {
        std::erase_if(decoders_, [this](const auto& decoder) { return decoder.get() == decoder_; });
        clear();
        problem_ = QObject::tr("Can't be decoded here: the shipped code does not compile on this graphics "
                               "processor.");
        return false;
    }
    deleteTextures();
    for (const image::Image& pixels : baked.textures.images) {
        textures_.push_back(makeTexture(pixels));
    }
    bake_ = std::move(bake);
    uploaded_.assign(baked.textures.layout.blocks, false);
    if (baked.textures.kind->approximates) {
        uploadRows(0, bake::kLargestTexture); // every frame is made of all of them
    }
    samplers_ = emit::readerSamplers(baked.textures);
    onGpu.setShipped(shippedVertices(baked, mesh));
    return true;
}

} // namespace ripple::app
