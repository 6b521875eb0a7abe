#pragma once

#include <cmath>
#include <cstdint>
#include <filesystem>
#include <fstream>
#include <vector>

namespace ripple::bench {

/// A waving sheet of side × side vertices as a PC2 cache with its OBJ mesh of quads, in a folder of temporary
/// files; made once for each size. Returns the cache; the mesh is beside it.
inline std::filesystem::path wavingSheet(std::size_t side, std::size_t frames) {
    const auto folder = std::filesystem::temp_directory_path() /
                        ("ripple-bench-sheet-" + std::to_string(side) + "-" + std::to_string(frames));
    if (std::filesystem::exists(folder / "done")) {
        return folder / "sheet.pc2";
    }
    std::filesystem::create_directories(folder);
    std::ofstream obj(folder / "sheet.obj");
    for (std::size_t v = 0; v < side * side; ++v) {
        obj << "v " << static_cast<double>(v % side) * 0.01 << " 0 " << static_cast<double>(v / side) * 0.01
            << "\n";
    }
    for (std::size_t z = 0; z + 1 < side; ++z) {
        for (std::size_t x = 0; x + 1 < side; ++x) {
            const std::size_t a = z * side + x + 1;
            obj << "f " << a << ' ' << a + side << ' ' << a + side + 1 << ' ' << a + 1 << "\n";
        }
    }
    std::ofstream cache(folder / "sheet.pc2", std::ios::binary);
    const auto put = [&](const void* bytes, std::size_t count) {
        cache.write(static_cast<const char*>(bytes), static_cast<std::streamsize>(count));
    };
    const std::int32_t header[] = {1, static_cast<std::int32_t>(side * side)};
    const float times[] = {0.0f, 1.0f};
    const auto count = static_cast<std::int32_t>(frames);
    put("POINTCACHE2", 12);
    put(header, sizeof header);
    put(times, sizeof times);
    put(&count, sizeof count);
    std::vector<float> row(side * 3);
    for (std::size_t f = 0; f < frames; ++f) {
        for (std::size_t z = 0; z < side; ++z) {
            for (std::size_t x = 0; x < side; ++x) {
                const double wave =
                    0.2 * std::sin(0.011 * static_cast<double>(x) + 0.1 * static_cast<double>(f)) +
                    0.03 * std::sin(0.07 * static_cast<double>(z) - 0.2 * static_cast<double>(f));
                row[x * 3] = static_cast<float>(x) * 0.01f;
                row[x * 3 + 1] = static_cast<float>(wave);
                row[x * 3 + 2] = static_cast<float>(z) * 0.01f;
            }
            put(row.data(), row.size() * sizeof(float));
        }
    }
    std::ofstream(folder / "done") << "done";
    return folder / "sheet.pc2";
}

} // namespace ripple::bench
