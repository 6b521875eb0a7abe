#include "bake/columns.h"

#include "base/parallel.h"

#include <cstring>
#include <unordered_map>

namespace ripple::bake {

namespace {

std::uint64_t mix(std::uint64_t hash, std::uint64_t value) {
    hash ^= value;
    hash *= 0x9E3779B97F4A7C15ull;
    return hash ^ (hash >> 29);
}

std::uint64_t mixBytes(std::uint64_t hash, const std::byte* bytes, std::size_t count) {
    while (count > 0) {
        std::uint64_t word = 0;
        const std::size_t take = count < sizeof word ? count : sizeof word;
        std::memcpy(&word, bytes, take);
        hash = mix(hash, word);
        bytes += take;
        count -= take;
    }
    return hash;
}

bool equal(std::span<const Texels* const> textures, std::size_t a, std::size_t b) {
    for (const Texels* texels : textures) {
        for (std::size_t f = 0; f < texels->frames; ++f) {
            if (std::memcmp(texels->at(f, a), texels->at(f, b), texels->bytesPerTexel) != 0) {
                return false;
            }
        }
    }
    return true;
}

} // namespace

Columns shareColumns(std::span<const Texels* const> textures) {
    const std::size_t vertices = textures.front()->vertices;
    std::vector<std::uint64_t> hash(vertices, 0);
    base::parallelFor(vertices, 4096, [&](std::size_t begin, std::size_t end) {
        for (const Texels* texels : textures) {
            for (std::size_t f = 0; f < texels->frames; ++f) {
                const std::byte* at = texels->at(f, begin);
                for (std::size_t v = begin; v < end; ++v, at += texels->bytesPerTexel) {
                    hash[v] = mixBytes(hash[v], at, texels->bytesPerTexel);
                }
            }
        }
    });
    Columns columns;
    columns.ofVertex.resize(vertices);
    std::unordered_multimap<std::uint64_t, std::uint32_t> known;
    known.reserve(vertices);
    for (std::size_t v = 0; v < vertices; ++v) {
        // Equal hashes only suggest equality; the bytes decide.
        const auto [begin, end] = known.equal_range(hash[v]);
        auto found = begin;
        while (found != end && !equal(textures, columns.first[found->second], v)) {
            ++found;
        }
        if (found != end) {
            columns.ofVertex[v] = found->second;
            continue;
        }
        const auto column = static_cast<std::uint32_t>(columns.count());
        columns.ofVertex[v] = column;
        columns.first.push_back(static_cast<std::uint32_t>(v));
        known.emplace(hash[v], column);
    }
    return columns;
}

} // namespace ripple::bake
