#include "bake/columns.h"

#include "base/parallel.h"
#include "base/progress.h"

#include <algorithm>
#include <cstring>
#include <unordered_map>

namespace ripple::bake {

namespace {

std::uint64_t mix(std::uint64_t hash, std::uint64_t value) {
    hash ^= value;
    hash *= 0x9E3779B97F4A7C15ull;
    return hash ^ (hash >> 29);
}

/// `Size` known to the compiler makes the copies single loads; that is most of this file's time.
template <std::size_t Size>
void mixRow(const std::byte* at, std::span<std::uint64_t> hashes) {
    for (std::uint64_t& hash : hashes) {
        for (std::size_t from = 0; from < Size; from += 8) {
            std::uint64_t word = 0;
            std::memcpy(&word, at + from, Size - from < 8 ? Size - from : 8);
            hash = mix(hash, word);
        }
        at += Size;
    }
}

void mixRow(std::size_t size, const std::byte* at, std::span<std::uint64_t> hashes) {
    switch (size) {
    case 3:
        return mixRow<3>(at, hashes);
    case 4:
        return mixRow<4>(at, hashes);
    case 6:
        return mixRow<6>(at, hashes);
    case 8:
        return mixRow<8>(at, hashes);
    case 12:
        return mixRow<12>(at, hashes);
    case 16:
        return mixRow<16>(at, hashes);
    default: // no store has texels of another size; should one come, its bytes go in one by one
        for (std::uint64_t& hash : hashes) {
            for (std::size_t i = 0; i < size; ++i, ++at) {
                hash = mix(hash, std::to_integer<std::uint64_t>(*at));
            }
        }
    }
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

/// A number for each vertex's texels in every `step`-th frame.
std::vector<std::uint64_t> hashes(std::span<const Texels* const> textures, std::size_t step,
                                  const base::Progress& progress) {
    const std::size_t vertices = textures.front()->vertices;
    std::vector<std::uint64_t> hash(vertices, 0);
    base::parallelFor(vertices, 4096, [&](std::size_t begin, std::size_t end) {
        progress.checkpoint();
        for (const Texels* texels : textures) {
            for (std::size_t f = 0; f < texels->frames; f += step) {
                mixRow(texels->bytesPerTexel, texels->at(f, begin),
                       std::span(hash).subspan(begin, end - begin));
            }
        }
    });
    return hash;
}

/// Whether more vertices have one number than it costs little to compare in pairs.
bool crowded(std::span<const std::uint64_t> hash) {
    constexpr std::uint32_t kMostInPairs = 32;
    std::unordered_map<std::uint64_t, std::uint32_t> counts;
    counts.reserve(hash.size());
    return std::ranges::any_of(hash, [&](std::uint64_t of) { return ++counts[of] > kMostInPairs; });
}

/// Most vertices differ from all others in a few frames already; where many agree in those (what rests while
/// a pulse goes by elsewhere), all frames are looked at: so the time is linear in the texels for any motion.
std::vector<std::uint64_t> tellingHashes(std::span<const Texels* const> textures,
                                         const base::Progress& progress) {
    constexpr std::size_t kFew = 6;
    const std::size_t step = (textures.front()->frames + kFew - 1) / kFew;
    std::vector<std::uint64_t> hash = hashes(textures, step, progress);
    return step > 1 && crowded(hash) ? hashes(textures, 1, progress) : hash;
}

} // namespace

Columns shareColumns(std::span<const Texels* const> textures, const base::Progress& progress) {
    const std::size_t vertices = textures.front()->vertices;
    const std::vector<std::uint64_t> hash = tellingHashes(textures, progress);
    Columns columns;
    columns.ofVertex.resize(vertices);
    std::unordered_multimap<std::uint64_t, std::uint32_t> known;
    known.reserve(vertices);
    for (std::size_t v = 0; v < vertices; ++v) {
        if (v % 4096 == 0) {
            progress.checkpoint();
        }
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
