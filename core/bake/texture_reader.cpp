#include "bake/texture_reader.h"

#include "bake/alpha.h"
#include "bake/kind.h"
#include "bake/joint_texels.h"
#include "bake/quaternions.h"

#include <algorithm>
#include <array>
#include <cstring>

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace ripple::bake {

glm::vec3 turned(const glm::vec4& q, const glm::vec3& v) {
    const glm::vec3 axis(q);
    const glm::vec3 t = 2.0f * glm::cross(axis, v);
    return v + q.w * t + glm::cross(axis, t);
}

glm::vec4 nearTo(const glm::vec4& other, const glm::vec4& q) {
    return glm::dot(other, q) < 0.0f ? -q : q;
}

glm::vec3 unitOr(const glm::vec3& n, const glm::vec3& otherwise) {
    const float length = glm::length(n);
    return length > 0.0f ? n / length : otherwise;
}

TextureReader::TextureReader(const TextureSet& textures, std::span<const std::uint32_t> columnOfVertex,
                             std::span<const glm::vec3> rest, std::span<const glm::vec3> unposedNormals)
    : textures_(textures),
      columns_(columnOfVertex),
      rest_(rest),
      unposedNormals_(unposedNormals) {
    if (textures.space.changes()) {
        placedRest_.assign(rest.begin(), rest.end());
        turnedNormals_.assign(unposedNormals.begin(), unposedNormals.end());
        textures.space.place(placedRest_);
        textures.space.turn(turnedNormals_);
        rest_ = placedRest_;
        unposedNormals_ = turnedNormals_;
    }
}

TextureReader::~TextureReader() = default;

const PoseDecoder& TextureReader::decoder() const {
    std::call_once(decoderMade_, [this] { decoder_ = textures_.kind->decoder(*this); });
    return *decoder_;
}

bool TextureReader::holdsVertices() const {
    return textures_.kind->holdsVertices;
}

std::array<const std::byte*, kMostPlanes> TextureReader::planesOf(const Quantity& quantity,
                                                                  std::size_t block) const {
    // The rows of a block follow each other, so its columns are one run of texels.
    std::array<const std::byte*, kMostPlanes> planes{};
    for (std::size_t p = 0; p < textures_.positionStore.planes; ++p) {
        planes[p] = textures_.image(quantity, p).texel(0, block * textures_.layout.rowsPerBlock);
    }
    return planes;
}

void TextureReader::splitBlock(std::size_t block, std::vector<std::byte>& planes,
                               std::vector<std::byte>& oct) const {
    const PositionStore& store = textures_.positionStore;
    const std::size_t columns = textures_.layout.columns;
    const std::size_t planeSize = columns * 3 * image::bytesPer(store.pixel);
    planes.resize(planeSize * store.planes);
    oct.resize(columns * 3);
    const auto joined = planesOf(kPosition, block);
    std::array<std::byte*, kMostPlanes> apart{};
    for (std::size_t p = 0; p < store.planes; ++p) {
        apart[p] = planes.data() + p * planeSize;
    }
    splitAlpha(store, columns, joined.data(), apart.data(), oct.data());
}

void TextureReader::storedPositions(std::size_t block, std::span<glm::vec3> values) const {
    const PositionStore& store = textures_.positionStore;
    const Range& range = textures_.rangeOf(block);
    if (!textures_.normalsInAlpha) {
        store.decode(planesOf(kPosition, block).data(), range, values);
        return;
    }
    std::vector<std::byte> apart;
    std::vector<std::byte> oct;
    splitBlock(block, apart, oct);
    std::array<const std::byte*, kMostPlanes> planes{};
    for (std::size_t p = 0; p < store.planes; ++p) {
        planes[p] = apart.data() + p * apart.size() / store.planes;
    }
    store.decode(planes.data(), range, values);
}

void TextureReader::storedNormals(std::size_t block, std::span<glm::vec3> values) const {
    if (textures_.normalsInAlpha) {
        std::vector<std::byte> apart;
        std::vector<std::byte> oct;
        splitBlock(block, apart, oct);
        textures_.normalStore.decode(oct.data(), values);
        return;
    }
    const TextureFormat& format = *textures_.find(kNormal);
    const std::byte* texels = textures_.image(kNormal).texel(0, block * textures_.layout.rowsPerBlock);
    if (format.quantity->directions) {
        textures_.normalStore.decode(texels, values);
    } else {
        textures_.positionStore.decode(&texels, textures_.normalRange, values);
    }
}

void TextureReader::storedTangents(std::size_t block, std::span<glm::vec3> values) const {
    textures_.normalStore.decode(textures_.image(kTangent).texel(0, block * textures_.layout.rowsPerBlock),
                                 values);
}

void TextureReader::tangentsAt(const BakedClip& clip, float frame, std::span<glm::vec3> tangents) const {
    blendDirections(blendAt(clip, frame, textures_.blend), &TextureReader::storedTangents, tangents);
    if (textures_.space.changes()) {
        textures_.space.back().turn(tangents);
    }
}

void TextureReader::storedRotations(std::size_t block, std::span<glm::vec4> values) const {
    decodeQuaternions(textures_.positionStore, planesOf(kRotation, block).data(), values);
}

void TextureReader::storedJoints(std::size_t frame, std::span<glm::vec4> values) const {
    const JointFormat& joints = textures_.joints;
    const std::byte* texels = textures_.image(kJoint).texel(0, frame * joints.layout.rowsPerBlock);
    decodeJoints(textures_, texels, values);
}

std::vector<JointInfluences> TextureReader::storedInfluences() const {
    return textures_.joints.inUvs ? textures_.influences : decodeInfluences(textures_);
}

void TextureReader::storedWeights(std::size_t frame, std::span<float> values) const {
    std::memcpy(values.data(), textures_.image(kWeight).texel(0, frame), values.size_bytes());
}

void TextureReader::frame(std::size_t frame, std::span<glm::vec3> positions,
                          std::span<glm::vec3> normals) const {
    FrameBlend only;
    only.add(frame, 1.0f);
    blended(only, positions, normals);
}

void TextureReader::at(const BakedClip& clip, float clipFrame, std::span<glm::vec3> positions,
                       std::span<glm::vec3> normals) const {
    blended(blendAt(clip, clipFrame, textures_.blend), positions, normals);
}

void TextureReader::blended(const FrameBlend& moment, std::span<glm::vec3> positions,
                            std::span<glm::vec3> normals) const {
    decoder().blend(moment, positions, normals);
    if (textures_.space.changes()) {
        const mesh::AxisMap back = textures_.space.back();
        back.place(positions);
        back.turn(normals);
    }
}

void TextureReader::spread(std::span<glm::vec3> values) const {
    // Columns are numbered by their first vertex, so that none lies before its own; from the last vertex on
    // nothing is written over that is still wanted.
    for (std::size_t v = columns_.size(); v-- > 0 && columns_.size() != textures_.layout.columns;) {
        values[v] = values[columns_[v]];
    }
}

void TextureReader::blendDirections(const FrameBlend& moment, Stored stored,
                                    std::span<glm::vec3> directions) const {
    const std::size_t columns = textures_.layout.columns;
    (this->*stored)(moment.frames[0], directions.first(columns));
    spread(directions);
    if (moment.count == 1) {
        return;
    }
    const std::vector<glm::vec3> first(directions.begin(), directions.end());
    for (glm::vec3& own : directions) {
        own *= moment.weights[0];
    }
    std::vector<glm::vec3> next(columns);
    for (std::size_t i = 1; i < moment.count; ++i) {
        (this->*stored)(moment.frames[i], next);
        for (std::size_t v = 0; v < columns_.size(); ++v) {
            directions[v] += next[columns_[v]] * moment.weights[i];
        }
    }
    for (std::size_t v = 0; v < columns_.size(); ++v) {
        directions[v] = unitOr(directions[v], first[v]);
    }
}

PoseReader::Decoded& PoseReader::decoded(std::size_t frame, bool positions, bool normals,
                                         const Decoded* keep) {
    const auto has = [&](const Decoded& d) { return (d.positionsMade || d.normalsMade) && d.frame == frame; };
    Decoded& slot = has(held_[0])       ? held_[0]
                    : has(held_[1])     ? held_[1]
                    : &held_[0] == keep ? held_[1]
                                        : held_[0];
    if (!has(slot)) {
        slot.frame = frame;
        slot.positionsMade = slot.normalsMade = false;
    }
    const bool wantsPositions = positions && !slot.positionsMade;
    const bool wantsNormals = normals && !slot.normalsMade;
    slot.positions.resize(positions ? reader_.vertexCount() : slot.positions.size());
    slot.normals.resize(normals ? reader_.vertexCount() : slot.normals.size());
    if (wantsPositions || wantsNormals) {
        reader_.frame(frame, wantsPositions ? std::span<glm::vec3>(slot.positions) : std::span<glm::vec3>(),
                      wantsNormals ? std::span<glm::vec3>(slot.normals) : std::span<glm::vec3>());
    }
    slot.positionsMade = slot.positionsMade || positions;
    slot.normalsMade = slot.normalsMade || normals;
    return slot;
}

void PoseReader::at(const BakedClip& clip, float frame, std::span<glm::vec3> positions,
                    std::span<glm::vec3> normals) {
    constexpr std::size_t kManyVertices = 200000;
    const FrameBlend moment = blendAt(clip, frame, reader_.textures().blend);
    if (!reader_.holdsVertices() || reader_.vertexCount() > kManyVertices || moment.count > 2) {
        return reader_.blended(moment, positions, normals);
    }
    const Decoded& first = decoded(moment.frames[0], !positions.empty(), !normals.empty(), nullptr);
    if (moment.count == 1) {
        std::copy_n(first.positions.begin(), positions.size(), positions.begin());
        std::copy_n(first.normals.begin(), normals.size(), normals.begin());
        return;
    }
    const float fraction = moment.weights[1];
    const Decoded& second = decoded(moment.frames[1], !positions.empty(), !normals.empty(), &first);
    const auto* from = reinterpret_cast<const float*>(first.positions.data());
    const auto* to = reinterpret_cast<const float*>(second.positions.data());
    auto* out = reinterpret_cast<float*>(positions.data());
    for (std::size_t i = 0; i < 3 * positions.size(); ++i) { // glm::mix(), over flat numbers
        out[i] = from[i] * (1.0f - fraction) + to[i] * fraction;
    }
    for (std::size_t v = 0; v < normals.size(); ++v) {
        normals[v] = unitOr(glm::mix(first.normals[v], second.normals[v], fraction), first.normals[v]);
    }
}

} // namespace ripple::bake
