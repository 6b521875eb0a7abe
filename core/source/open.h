#pragma once

#include "base/progress.h"
#include "source/frame_source.h"

#include <filesystem>
#include <memory>
#include <string>

namespace ripple::source {

struct OpenOptions {
    std::string mesh; ///< name of the one mesh to take; empty: all, as one
    double fps = 0.0; ///< playback rate of a sequence whose files do not say; 0: 30
};

/// A kind of source. To add one, write its `open` and put a row into the table in open.cpp.
struct Reader {
    const char* format;     ///< for people: "glTF 2.0"
    const char* extensions; ///< lower case, blank-separated: ".gltf .glb"
    std::shared_ptr<const FrameSource> (*open)(const std::filesystem::path& path, const OpenOptions& options,
                                               const base::Progress& progress);
};

std::span<const Reader> readers();

/// Opens a source by any of its files or by a pattern whose '#' stand for frame digits.
/// Throws base::Failure for bad input, base::Cancelled after progress.cancel().
std::shared_ptr<const FrameSource> open(const std::filesystem::path& path, const OpenOptions& options = {},
                                        const base::Progress& progress = {});

} // namespace ripple::source
