#include "inspect/gram.h"

#include "base/parallel.h"
#include "base/progress.h"

#include <algorithm>
#include <atomic>

namespace ripple::inspect {

namespace {

constexpr std::size_t kRun = 1024; // numbers summed in 32 bits; a block of rows of that length fits the cache
constexpr std::size_t kBlock = 48; // rows of a tile

// Eight floats: one register with AVX2, two without; the sums come out the same.
// It may lie at any address and alias floats. Functions take it by pointer only: how a register that wide is
// passed depends on the processor.
typedef float Lane __attribute__((vector_size(32), aligned(4), may_alias));

const Lane* lanes(const float* at) {
    return reinterpret_cast<const Lane*>(at);
}

// One function for each kind of processor, chosen when the program is loaded.
#if defined(__GNUC__) && !defined(__clang__)
#define RIPPLE_CLONES __attribute__((target_clones("avx2", "default")))
#else
#define RIPPLE_CLONES
#endif

/// sums[r · 4 + c] = dot products of three rows and four others, over `count` numbers (a multiple of 8).
RIPPLE_CLONES void threeByFour(const float* const* rows, const float* const* others, std::size_t count,
                               float* sums) {
    Lane acc[12] = {};
    for (std::size_t k = 0; k < count; k += 8) {
        const Lane b0 = *lanes(others[0] + k);
        const Lane b1 = *lanes(others[1] + k);
        const Lane b2 = *lanes(others[2] + k);
        const Lane b3 = *lanes(others[3] + k);
        for (std::size_t r = 0; r < 3; ++r) {
            const Lane a = *lanes(rows[r] + k);
            acc[4 * r] += a * b0;
            acc[4 * r + 1] += a * b1;
            acc[4 * r + 2] += a * b2;
            acc[4 * r + 3] += a * b3;
        }
    }
    for (std::size_t i = 0; i < 12; ++i) {
        const auto* lane = reinterpret_cast<const float*>(&acc[i]);
        sums[i] = ((lane[0] + lane[4]) + (lane[2] + lane[6])) + ((lane[1] + lane[5]) + (lane[3] + lane[7]));
    }
}

struct Tile {
    std::size_t row = 0;
    std::size_t column = 0;
};

/// One tile of the matrix; rows past the end repeat the last and are not stored.
void addTile(const float* vectors, std::size_t rows, std::size_t length, const Tile& tile,
             std::vector<double>& result) {
    const std::size_t rowEnd = std::min(tile.row + kBlock, rows);
    const std::size_t columnEnd = std::min(tile.column + kBlock, rows);
    std::vector<float> tails; // the last run, filled up to a multiple of 8
    for (std::size_t from = 0; from < length; from += kRun) {
        const std::size_t count = std::min(kRun, length - from);
        const std::size_t padded = (count + 7) / 8 * 8;
        const bool tail = padded != count;
        if (tail) {
            tails.assign(2 * kBlock * padded, 0.0f);
            for (std::size_t i = 0; i < kBlock; ++i) {
                std::copy_n(vectors + std::min(tile.row + i, rows - 1) * length + from, count,
                            tails.begin() + static_cast<std::ptrdiff_t>(i * padded));
                std::copy_n(vectors + std::min(tile.column + i, rows - 1) * length + from, count,
                            tails.begin() + static_cast<std::ptrdiff_t>((kBlock + i) * padded));
            }
        }
        const auto at = [&](std::size_t first, std::size_t i, std::size_t side) {
            return tail ? tails.data() + (side * kBlock + i - first) * padded
                        : vectors + std::min(i, rows - 1) * length + from;
        };
        for (std::size_t i = tile.row; i < rowEnd; i += 3) {
            const float* a[3];
            for (std::size_t r = 0; r < 3; ++r) {
                a[r] = at(tile.row, std::min(i + r, tile.row + kBlock - 1), 0);
            }
            for (std::size_t j = tile.column; j < columnEnd; j += 4) {
                const float* b[4];
                for (std::size_t c = 0; c < 4; ++c) {
                    b[c] = at(tile.column, std::min(j + c, tile.column + kBlock - 1), 1);
                }
                float sums[12];
                threeByFour(a, b, padded, sums);
                for (std::size_t r = 0; r < 3 && i + r < rowEnd; ++r) {
                    for (std::size_t c = 0; c < 4 && j + c < columnEnd; ++c) {
                        result[(i + r) * rows + j + c] += static_cast<double>(sums[4 * r + c]);
                    }
                }
            }
        }
    }
}

} // namespace

std::vector<double> gramMatrix(const float* vectors, std::size_t rows, std::size_t length,
                               const base::Progress& progress) {
    std::vector<double> result(rows * rows, 0.0);
    std::vector<Tile> tiles;
    for (std::size_t r = 0; r < rows; r += kBlock) {
        for (std::size_t c = 0; c <= r; c += kBlock) {
            tiles.push_back({r, c});
        }
    }
    std::atomic<std::size_t> done{0};
    base::parallelFor(tiles.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t t = begin; t < end; ++t) {
            addTile(vectors, rows, length, tiles[t], result);
            progress.report(static_cast<double>(++done) / static_cast<double>(tiles.size()));
        }
    });
    for (std::size_t i = 0; i < rows; ++i) {
        for (std::size_t j = i + 1; j < rows; ++j) {
            result[i * rows + j] = result[j * rows + i];
        }
    }
    return result;
}

} // namespace ripple::inspect
