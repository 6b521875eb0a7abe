#pragma once

#include "base/mapped_file.h"
#include "base/problem.h"

#include <filesystem>
#include <span>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::source {

/// A point cache's frames × points positions, as they lie in its file.
///
/// .pc2: "POINTCACHE2\0", then int32 version (1), int32 points, float32 first frame, float32 frames per
/// sample, int32 samples, all little-endian; then samples × points × 3 float32. .mdd: int32 frames, int32
/// points, frames × float32 seconds, then frames × points × 3 float32, all big-endian.
class PointCacheFile {
public:
    /// Throws base::Failure when the header's counts do not fit the file. An .mdd of the other byte order is
    /// read with a finding.
    explicit PointCacheFile(const std::filesystem::path& path);

    std::size_t frames() const { return frames_; }
    std::size_t points() const { return points_; }
    double rate() const { return rate_; } ///< frames per second that the file states; 0: it does not
    const base::Findings& findings() const { return findings_; }

    /// `out` has points() elements. Throws base::Failure if the file was changed since.
    void read(std::size_t frame, std::span<glm::vec3> out) const;

private:
    void readPc2();
    void readMdd();
    void takeTimes();
    void requireRoom(std::size_t header, std::size_t perFrame) const;

    std::string name_;
    base::MappedFile file_;
    std::size_t frames_ = 0;
    std::size_t points_ = 0;
    std::size_t offset_ = 0; ///< bytes before the first frame
    bool swap_ = false;
    double rate_ = 0.0;
    base::Findings findings_;
};

} // namespace ripple::source
