#pragma once

#include "base/progress.h"
#include "source/frame_source.h"
#include "source/reading.h"

#include <filesystem>
#include <memory>
#include <string>

namespace ripple::source {

/// How a source is opened.
struct OpenRequest {
    Reading reading;
    std::size_t cacheBytes = kFrameCacheBytes; ///< frames of a sequence that are kept in memory
    bool single = false; ///< this very file, also where it has the name of a frame of a sequence
};

/// A kind of source. To add one, write its `open` and put a row into the table in open.cpp.
struct Reader {
    std::string format;     ///< for people: "glTF 2.0"
    std::string extensions; ///< lower case, blank-separated: ".gltf .glb"
    bool sequence = false;  ///< numbered files make one source
    /// Takes what of `request.reading` its kind of source can; see Adjusted for the rest.
    std::shared_ptr<const FrameSource> (*open)(const std::filesystem::path& path, const OpenRequest& request,
                                               const base::Progress& progress) = nullptr;
};

const std::vector<Reader>& readers();

/// Opens a source by any of its files, by a pattern whose '#' stand for frame digits, or by the folder that a
/// sequence lies in. Reads no more than is needed to show something: topology and the first frame.
/// Throws base::Failure for bad input, base::Cancelled after progress.cancel().
std::shared_ptr<const FrameSource> open(const std::filesystem::path& path, const Reading& reading = {},
                                        const base::Progress& progress = {},
                                        std::size_t cacheBytes = kFrameCacheBytes);

} // namespace ripple::source
