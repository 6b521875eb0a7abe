#pragma once

#include "base/problem.h"
#include "source/frame_cache.h"
#include "source/frame_source.h"

#include <cstddef>
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace ripple::source {

/// Reads the stored frames of a sequence or point cache, each by itself and in any order.
class FrameReader {
public:
    virtual ~FrameReader() = default;
    /// At least 1.
    virtual std::size_t frames() const = 0;
    /// Throws base::Failure naming the file (and line) that cannot be read or does not fit the first frame.
    /// Safe to call from several threads.
    virtual void read(std::size_t frame, StoredFrame& out) const = 0;
    /// Reading costs no more than fetching from memory: frames are not kept.
    virtual bool quick() const { return false; }
};

/// All that a sequence's reader found.
struct SequenceParts {
    mesh::Mesh mesh; ///< topology; positions and normals are filled from the first frame
    std::unique_ptr<const FrameReader> reader;
    std::string name;   ///< for problems: the file or pattern
    std::string format; ///< "OBJ sequence"
    std::string clip = "whole sequence";
    double rate = 0.0; ///< frames per second that the file states; 0: it does not
    std::vector<std::filesystem::path> files;
    base::Findings findings;
};

/// Frames are read when they are asked for and kept up to `cacheBytes`. Only the first is read here.
std::shared_ptr<const FrameSource> playSequence(SequenceParts parts, std::size_t cacheBytes);

} // namespace ripple::source
