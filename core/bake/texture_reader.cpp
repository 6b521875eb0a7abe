#include "bake/texture_reader.h"

#include "bake/alpha.h"
#include "bake/quaternions.h"

#include <algorithm>
#include <array>
#include <cstring>

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace ripple::bake {

namespace {

glm::vec3 unitOr(const glm::vec3& n, const glm::vec3& otherwise) {
    const float length = glm::length(n);
    return length > 0.0f ? n / length : otherwise;
}

/// The second frame is the first where nothing of it shows.
FramePair neededPair(const BakedClip& clip, float frame) {
    FramePair pair = framePair(clip, frame);
    if (pair.fraction == 0.0f) {
        pair.second = pair.first;
    }
    return pair;
}

} // namespace

glm::vec3 turned(const glm::vec4& q, const glm::vec3& v) {
    const glm::vec3 axis(q);
    const glm::vec3 t = 2.0f * glm::cross(axis, v);
    return v + q.w * t + glm::cross(axis, t);
}

TextureReader::TextureReader(const TextureSet& textures, std::span<const std::uint32_t> columnOfVertex,
                             std::span<const glm::vec3> rest, std::span<const glm::vec3> unposedNormals)
    : textures_(textures),
      columns_(columnOfVertex),
      rest_(rest),
      unposedNormals_(unposedNormals) {
    const std::size_t columns = textures.layout.columns;
    if (textures.kind != Kind::shapes || !textures.find(Role::weight)) {
        return;
    }
    shapes_.resize(textures.layout.frames * columns);
    shapeNormals_.resize(textures.hasNormals() ? shapes_.size() : 0);
    for (std::size_t s = 0; s < textures.layout.frames; ++s) {
        storedPositions(s, std::span(shapes_).subspan(s * columns, columns));
        if (!shapeNormals_.empty()) {
            storedNormals(s, std::span(shapeNormals_).subspan(s * columns, columns));
        }
    }
}

void TextureReader::splitRow(std::size_t row, std::vector<std::byte>& planes,
                             std::vector<std::byte>& oct) const {
    const PositionStore& store = textures_.positionStore;
    const std::size_t columns = textures_.layout.columns;
    const std::size_t planeSize = columns * 3 * image::bytesPer(store.pixel);
    planes.resize(planeSize * store.planes);
    oct.resize(columns * 3);
    const std::size_t y = row * textures_.layout.rowsPerFrame;
    std::array<const std::byte*, kMostPlanes> joined{};
    std::array<std::byte*, kMostPlanes> apart{};
    for (std::size_t p = 0; p < store.planes; ++p) {
        joined[p] = textures_.image(p == 0 ? Role::position : Role::positionLow).texel(0, y);
        apart[p] = planes.data() + p * planeSize;
    }
    splitAlpha(store, columns, joined.data(), apart.data(), oct.data());
}

void TextureReader::storedPositions(std::size_t row, std::span<glm::vec3> values) const {
    const PositionStore& store = textures_.positionStore;
    const Range& range = textures_.kind == Kind::shapes ? textures_.ranges.front() : textures_.rangeOf(row);
    std::array<const std::byte*, kMostPlanes> planes{};
    if (textures_.normalsInAlpha) {
        std::vector<std::byte> apart;
        std::vector<std::byte> oct;
        splitRow(row, apart, oct);
        for (std::size_t p = 0; p < store.planes; ++p) {
            planes[p] = apart.data() + p * apart.size() / store.planes;
        }
        store.decode(planes.data(), range, values);
        return;
    }
    // The rows of a frame follow each other, so its columns are one run of texels.
    for (std::size_t p = 0; p < store.planes; ++p) {
        const Role role = p == 0 ? Role::position : Role::positionLow;
        planes[p] = textures_.image(role).texel(0, row * textures_.layout.rowsPerFrame);
    }
    store.decode(planes.data(), range, values);
}

void TextureReader::storedNormals(std::size_t row, std::span<glm::vec3> values) const {
    if (textures_.normalsInAlpha) {
        std::vector<std::byte> apart;
        std::vector<std::byte> oct;
        splitRow(row, apart, oct);
        textures_.normalStore.decode(oct.data(), values);
        return;
    }
    const std::byte* texels = textures_.image(Role::normal).texel(0, row * textures_.layout.rowsPerFrame);
    if (textures_.kind == Kind::shapes) {
        textures_.positionStore.decode(&texels, textures_.normalRange, values);
    } else {
        textures_.normalStore.decode(texels, values);
    }
}

void TextureReader::storedTangents(std::size_t row, std::span<glm::vec3> values) const {
    textures_.normalStore.decode(textures_.image(Role::tangent).texel(0, row * textures_.layout.rowsPerFrame),
                                 values);
}

void TextureReader::tangentsAt(const BakedClip& clip, float frame, std::span<glm::vec3> tangents) const {
    blendDirections(neededPair(clip, frame), &TextureReader::storedTangents, tangents);
}

void TextureReader::storedRotations(std::size_t frame, std::span<glm::vec4> values) const {
    std::array<const std::byte*, kMostPlanes> planes{};
    for (std::size_t p = 0; p < textures_.positionStore.planes; ++p) {
        const Role role = p == 0 ? Role::rotation : Role::rotationLow;
        planes[p] = textures_.image(role).texel(0, frame * textures_.layout.rowsPerFrame);
    }
    decodeQuaternions(textures_.positionStore, planes.data(), values);
}

void TextureReader::storedWeights(std::size_t frame, std::span<float> values) const {
    std::memcpy(values.data(), textures_.image(Role::weight).texel(0, frame), values.size_bytes());
}

void TextureReader::frame(std::size_t frame, std::span<glm::vec3> positions,
                          std::span<glm::vec3> normals) const {
    BakedClip only; // a clip of just this frame
    only.firstFrame = frame;
    only.frames = 1;
    at(only, 0.0f, positions, normals);
}

void TextureReader::at(const BakedClip& clip, float clipFrame, std::span<glm::vec3> positions,
                       std::span<glm::vec3> normals) const {
    const FramePair pair = neededPair(clip, clipFrame);
    switch (textures_.kind) {
    case Kind::vertices:
        return blendVertices(pair, positions, normals);
    case Kind::pieces:
        return blendPieces(pair, positions, normals);
    case Kind::shapes:
        return blendShapes(pair, positions, normals);
    }
}

void TextureReader::spread(std::span<glm::vec3> values) const {
    // Columns are numbered by their first vertex, so that none lies before its own; from the last vertex on
    // nothing is written over that is still wanted.
    for (std::size_t v = columns_.size(); v-- > 0 && columns_.size() != textures_.layout.columns;) {
        values[v] = values[columns_[v]];
    }
}

void TextureReader::blendVertices(const FramePair& pair, std::span<glm::vec3> positions,
                                  std::span<glm::vec3> normals) const {
    // Decoded in place: a large mesh needs no more than one pose beside the one that is asked for.
    if (!positions.empty()) {
        const std::size_t columns = textures_.layout.columns;
        const bool blends = pair.second != pair.first;
        std::vector<glm::vec3> next(blends ? columns : 0);
        storedPositions(pair.first, positions.first(columns));
        spread(positions);
        if (blends) {
            storedPositions(pair.second, next);
        }
        const bool offset = textures_.content == Content::offset;
        if (offset && !blends) { // over flat numbers
            const auto* rest = reinterpret_cast<const float*>(rest_.data());
            auto* own = reinterpret_cast<float*>(positions.data());
            for (std::size_t i = 0; i < 3 * columns_.size(); ++i) {
                own[i] = rest[i] + own[i];
            }
        }
        for (std::size_t v = 0; v < columns_.size() && blends; ++v) {
            const glm::vec3 base = offset ? rest_[v] : glm::vec3(0.0f);
            const glm::vec3 own = base + positions[v];
            positions[v] = glm::mix(own, base + next[columns_[v]], pair.fraction);
        }
    }
    if (normals.empty()) {
        return;
    }
    if (!textures_.hasNormals()) {
        std::copy(unposedNormals_.begin(), unposedNormals_.end(), normals.begin());
        return;
    }
    blendDirections(pair, &TextureReader::storedNormals, normals);
}

void TextureReader::blendDirections(const FramePair& pair, Stored stored,
                                    std::span<glm::vec3> directions) const {
    const std::size_t columns = textures_.layout.columns;
    (this->*stored)(pair.first, directions.first(columns));
    spread(directions);
    if (pair.second == pair.first) {
        return;
    }
    std::vector<glm::vec3> next(columns);
    (this->*stored)(pair.second, next);
    for (std::size_t v = 0; v < columns_.size(); ++v) {
        directions[v] = unitOr(glm::mix(directions[v], next[columns_[v]], pair.fraction), directions[v]);
    }
}

void TextureReader::blendPieces(const FramePair& pair, std::span<glm::vec3> positions,
                                std::span<glm::vec3> normals) const {
    const std::size_t pieces = textures_.layout.columns;
    std::vector<glm::vec3> places(pieces);
    std::vector<glm::vec4> turns(pieces);
    storedPositions(pair.first, places);
    storedRotations(pair.first, turns);
    if (pair.second != pair.first) {
        std::vector<glm::vec3> nextPlaces(pieces);
        std::vector<glm::vec4> nextTurns(pieces);
        storedPositions(pair.second, nextPlaces);
        storedRotations(pair.second, nextTurns);
        for (std::size_t p = 0; p < pieces; ++p) {
            places[p] = glm::mix(places[p], nextPlaces[p], pair.fraction);
            const glm::vec4 near = glm::dot(turns[p], nextTurns[p]) < 0.0f ? -nextTurns[p] : nextTurns[p];
            turns[p] = glm::normalize(glm::mix(turns[p], near, pair.fraction));
        }
    }
    const bool offset = textures_.content == Content::offset;
    for (std::size_t v = 0; v < columns_.size(); ++v) {
        const std::size_t p = columns_[v];
        const glm::vec3& pivot = textures_.pivots[p];
        const glm::vec3 place = offset ? pivot + places[p] : places[p];
        positions[v] = place + turned(turns[p], rest_[v] - pivot);
        if (!normals.empty()) {
            normals[v] = turned(turns[p], unposedNormals_[v]);
        }
    }
}

void TextureReader::blendShapes(const FramePair& pair, std::span<glm::vec3> positions,
                                std::span<glm::vec3> normals) const {
    const std::size_t shapes = textures_.layout.frames;
    std::vector<float> weights(shapes);
    storedWeights(pair.first, weights);
    if (pair.second != pair.first) {
        std::vector<float> next(shapes);
        storedWeights(pair.second, next);
        for (std::size_t s = 0; s < shapes; ++s) {
            weights[s] = glm::mix(weights[s], next[s], pair.fraction);
        }
    }
    const std::size_t columns = textures_.layout.columns;
    std::copy(rest_.begin(), rest_.end(), positions.begin());
    std::copy_n(unposedNormals_.begin(), normals.size(), normals.begin());
    for (std::size_t s = 0; s < shapes; ++s) {
        const glm::vec3* shape = shapes_.data() + s * columns;
        for (std::size_t v = 0; v < columns_.size(); ++v) {
            positions[v] += weights[s] * shape[columns_[v]];
        }
        if (!normals.empty() && !shapeNormals_.empty()) {
            const glm::vec3* own = shapeNormals_.data() + s * columns;
            for (std::size_t v = 0; v < columns_.size(); ++v) {
                normals[v] += weights[s] * own[columns_[v]];
            }
        }
    }
    for (std::size_t v = 0; v < normals.size(); ++v) {
        normals[v] = unitOr(normals[v], unposedNormals_[v]);
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
    if (!reader_.holdsVertices() || reader_.vertexCount() > kManyVertices) {
        return reader_.at(clip, frame, positions, normals);
    }
    const FramePair pair = neededPair(clip, frame);
    const Decoded& first = decoded(pair.first, !positions.empty(), !normals.empty(), nullptr);
    if (pair.second == pair.first) {
        std::copy_n(first.positions.begin(), positions.size(), positions.begin());
        std::copy_n(first.normals.begin(), normals.size(), normals.begin());
        return;
    }
    const Decoded& second = decoded(pair.second, !positions.empty(), !normals.empty(), &first);
    const auto* from = reinterpret_cast<const float*>(first.positions.data());
    const auto* to = reinterpret_cast<const float*>(second.positions.data());
    auto* out = reinterpret_cast<float*>(positions.data());
    for (std::size_t i = 0; i < 3 * positions.size(); ++i) { // glm::mix(), over flat numbers
        out[i] = from[i] * (1.0f - pair.fraction) + to[i] * pair.fraction;
    }
    for (std::size_t v = 0; v < normals.size(); ++v) {
        normals[v] = unitOr(glm::mix(first.normals[v], second.normals[v], pair.fraction), first.normals[v]);
    }
}

} // namespace ripple::bake
