#pragma once

#include "base/files.h"
#include "base/problem.h"
#include "source/open.h"

#include <cstdint>
#include <cstdlib>
#include <filesystem>
#include <new>
#include <string>

#include <unistd.h>

namespace ripple::fuzz {

/// A folder of this process' own, in memory where there is such a place.
inline const std::filesystem::path& folder() {
    static const std::filesystem::path kFolder = [] {
        const std::filesystem::path base = std::filesystem::exists("/dev/shm") ? "/dev/shm" : "/tmp";
        const std::filesystem::path own = base / ("ripple-fuzz-" + std::to_string(::getpid()));
        std::filesystem::create_directories(own);
        std::atexit([] { std::filesystem::remove_all(folder()); });
        return own;
    }();
    return kFolder;
}

/// Asks a source for some poses.
inline void play(const source::FrameSource& source) {
    std::vector<glm::vec3> positions(source.mesh().vertexCount());
    std::vector<glm::vec3> normals(positions.size());
    for (std::size_t c = 0; c < source.clips().size() && c < 3; ++c) {
        const source::Clip& clip = source.clips()[c];
        for (const double part : {0.0, 0.4, 1.0}) {
            source.sample(c, clip.start + part * clip.duration, positions, normals);
        }
    }
}

/// A problem in words is a good end of `work`; anything else that is thrown is a find.
template <typename Work>
int inWords(const Work& work) {
    try {
        work();
    } catch (const base::Failure& failure) {
        const base::Problem& problem = failure.problem();
        if (problem.where.empty() || problem.what.empty() || problem.fix.empty()) {
            std::abort(); // a problem must say where, what and what to do
        }
    }
    return 0;
}

/// Writes the bytes as NAME, opens it as a source and plays it.
inline int openAndPlay(const std::uint8_t* data, std::size_t size, const char* name) {
    const std::filesystem::path file = folder() / name;
    base::writeFile(file, std::span(reinterpret_cast<const std::byte*>(data), size));
    return inWords([&] { play(*source::open(file)); });
}

} // namespace ripple::fuzz
