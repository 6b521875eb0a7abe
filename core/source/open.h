#pragma once

#include "base/no_progress.h"
#include "source/frame_source.h"
#include "source/reading.h"

#include <filesystem>
#include <memory>
#include <string>

namespace ripple::source {

/// What a scene file may use up while it is imported (scene_file.h).
struct ImportLimits {
    double gigabytes = 2.0; ///< of memory, in units of 2^30 bytes
    double seconds = 60.0;  ///< of computing time
};

/// How far a source is believed. Never part of a file: who wrote that file may not decide it.
struct Trust {
    bool followOutside = false; ///< also files that it names outside its own tree (companions.h)
    ImportLimits import;
};

// What to do about what a source was not trusted with. The words stand for the choice: who shows a problem
// with them can offer it.

inline constexpr const char* kFollowOutsideFix =
    "put it beside the model; or, if you know where the model comes from, follow it (--follow-outside)";
inline constexpr const char* kMoreMemoryFix =
    "it may be damaged; one that is sound and large can be given more memory (--import-memory)";
inline constexpr const char* kMoreTimeFix =
    "it may be damaged; one that is sound and large can be given more time (--import-seconds)";

/// How a source is opened.
struct OpenRequest {
    Reading reading;
    std::size_t cacheBytes = kFrameCacheBytes; ///< frames of a sequence that are kept in memory
    bool single = false; ///< this very file, also where it has the name of a frame of a sequence
    Trust trust;
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

/// As its reader opens it: nothing of a Reading is done that is not the reader's own to do.
std::shared_ptr<const FrameSource> openPlain(const std::filesystem::path& path, const OpenRequest& request,
                                             const base::Progress& progress);

/// Opens a source by any of its files, by a pattern whose '#' stand for frame digits, or by the folder that a
/// sequence lies in. Reads no more than is needed to show something: topology and the first frame.
/// Throws base::Failure for bad input, base::Cancelled after progress.cancel().
std::shared_ptr<const FrameSource> open(const std::filesystem::path& path, const Reading& reading = {},
                                        const base::Progress& progress = base::noProgress(),
                                        std::size_t cacheBytes = kFrameCacheBytes, const Trust& trust = {});

} // namespace ripple::source
