#pragma once

#include "base/raw_vector.h"

#include <cstddef>
#include <functional>
#include <list>
#include <memory>
#include <mutex>
#include <unordered_map>

#include <glm/vec3.hpp>

namespace ripple::source {

/// One pose as a file of a sequence holds it.
struct StoredFrame {
    base::RawVector<glm::vec3> positions; ///< vertices
    base::RawVector<glm::vec3> normals;   ///< vertices, or empty where they are made from the triangles

    std::size_t bytes() const { return (positions.size() + normals.size()) * sizeof(glm::vec3); }
};

/// Frames that were read last, up to a number of bytes; the longest unused go first. Safe to use from several
/// threads; two that ask for the same absent frame at once may both load it.
class FrameCache {
public:
    explicit FrameCache(std::size_t limitBytes) : limit_(limitBytes) {}

    /// The frame, from memory or by `load`, whose exceptions pass through.
    std::shared_ptr<const StoredFrame> get(std::size_t frame, const std::function<void(StoredFrame&)>& load);

    /// Bytes held at present; at most the limit, or one frame.
    std::size_t bytes() const;

private:
    struct Entry {
        std::size_t frame;
        std::shared_ptr<const StoredFrame> stored;
    };

    std::size_t limit_;
    mutable std::mutex mutex_;
    std::list<Entry> recent_; // the newest first
    std::unordered_map<std::size_t, std::list<Entry>::iterator> at_;
    std::size_t bytes_ = 0;
};

} // namespace ripple::source
