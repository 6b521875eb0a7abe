#include "source/point_cache_file.h"

#include "base/files.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstring>
#include <string>

namespace ripple::source {

namespace {

constexpr const char* kDamagedCache = "the file is damaged or was cut short; write the cache again";
constexpr char kPc2Magic[12] = "POINTCACHE2";
constexpr std::size_t kPc2Header = 32;
constexpr std::size_t kPointBytes = sizeof(glm::vec3);

std::uint32_t word(std::span<const std::byte> bytes, std::size_t at, bool swap) {
    std::uint32_t value = 0;
    std::memcpy(&value, bytes.data() + at, sizeof value);
    return swap ? __builtin_bswap32(value) : value;
}

float real(std::span<const std::byte> bytes, std::size_t at, bool swap) {
    return std::bit_cast<float>(word(bytes, at, swap));
}

/// Whether `frames` of `points` points, each frame with `extra` bytes in the header, fill `bytes` exactly.
bool fits(std::uint64_t bytes, std::uint64_t header, std::uint32_t frames, std::uint32_t points,
          std::uint64_t extra) {
    const std::uint64_t perFrame = std::uint64_t{points} * kPointBytes + extra;
    return bytes >= header && frames > 0 && points > 0 && (bytes - header) / perFrame == frames &&
           (bytes - header) % perFrame == 0;
}

} // namespace

PointCacheFile::PointCacheFile(const std::filesystem::path& path)
    : name_(path.filename().string()),
      file_(path) {
    static_assert(std::endian::native == std::endian::little);
    base::extensionOf(path) == ".mdd" ? readMdd() : readPc2();
}

void PointCacheFile::requireRoom(std::size_t header, std::size_t perFrame) const {
    const std::size_t bytes = file_.bytes().size();
    const bool fit = frames_ > 0 && points_ > 0 && bytes >= header &&
                     frames_ <= (bytes - header) / std::max<std::size_t>(perFrame, 1);
    if (!fit) {
        base::fail(name_,
                   "says that it holds " + std::to_string(frames_) + " frames of " + std::to_string(points_) +
                       " points, but has " + std::to_string(bytes) + " bytes",
                   kDamagedCache);
    }
}

void PointCacheFile::readPc2() {
    const auto bytes = file_.bytes();
    if (bytes.size() < kPc2Header || std::memcmp(bytes.data(), kPc2Magic, sizeof kPc2Magic) != 0) {
        base::fail(name_, "does not begin as a .pc2 cache does", "this is another kind of file, or damaged");
    }
    points_ = word(bytes, 16, false);
    frames_ = word(bytes, 28, false);
    offset_ = kPc2Header;
    const std::uint32_t otherPoints = word(bytes, 16, true);
    const std::uint32_t otherFrames = word(bytes, 28, true);
    if (fits(bytes.size(), kPc2Header, otherFrames, otherPoints, 0)) {
        swap_ = true;
        points_ = otherPoints;
        frames_ = otherFrames;
        findings_.push_back({"cache-byte-order",
                             base::Severity::look,
                             {name_, "its numbers are big-endian, which .pc2 files are not",
                              "read all the same; other programs may not"}});
    }
    requireRoom(kPc2Header, points_ * kPointBytes);
    const float perSample = real(bytes, 24, swap_);
    if (std::isfinite(perSample) && perSample > 0.0f && perSample != 1.0f) {
        findings_.push_back({"cache-step",
                             base::Severity::note,
                             {name_, "holds a sample every " + std::to_string(perSample) + " frames",
                              "each sample is one frame here; divide the frame rate by it"}});
    }
}

void PointCacheFile::readMdd() {
    const auto bytes = file_.bytes();
    if (bytes.size() < 8) {
        base::fail(name_, "is only " + std::to_string(bytes.size()) + " bytes long", kDamagedCache);
    }
    swap_ = true;
    const std::uint32_t littleFrames = word(bytes, 0, false);
    const std::uint32_t littlePoints = word(bytes, 4, false);
    frames_ = word(bytes, 0, true);
    points_ = word(bytes, 4, true);
    if (fits(bytes.size(), 8, littleFrames, littlePoints, 4) &&
        !fits(bytes.size(), 8, static_cast<std::uint32_t>(frames_), static_cast<std::uint32_t>(points_), 4)) {
        swap_ = false;
        frames_ = littleFrames;
        points_ = littlePoints;
        findings_.push_back({"cache-byte-order",
                             base::Severity::look,
                             {name_, "its numbers are little-endian, which .mdd files are not",
                              "read all the same; other programs may not"}});
    }
    requireRoom(8, points_ * kPointBytes + 4);
    offset_ = 8 + 4 * frames_;
    takeTimes();
}

/// The rate that the frames' times make; uneven ones are played evenly, and said.
void PointCacheFile::takeTimes() {
    if (frames_ < 2) {
        return;
    }
    const auto time = [this](std::size_t f) {
        return static_cast<double>(real(file_.bytes(), 8 + 4 * f, swap_));
    };
    const double whole = time(frames_ - 1) - time(0);
    const double step = whole / static_cast<double>(frames_ - 1);
    if (!(step > 0.0) || !std::isfinite(step)) {
        return;
    }
    // Times are 32-bit seconds: a rate within a thousandth of a whole one is that one.
    rate_ = 1.0 / step;
    rate_ = std::abs(rate_ - std::round(rate_)) < 1e-3 * rate_ ? std::round(rate_) : rate_;
    double worst = 0.0;
    for (std::size_t f = 0; f < frames_; ++f) {
        worst = std::max(worst, std::abs(time(f) - time(0) - static_cast<double>(f) * step));
    }
    if (!(worst <= 0.05 * step)) {
        findings_.push_back(
            {"cache-times",
             base::Severity::look,
             {name_,
              "its frames lie at uneven times, off by up to " + std::to_string(worst / step) + " frames",
              "they are played evenly; write the cache with an even step"}});
    }
}

void PointCacheFile::read(std::size_t frame, std::span<glm::vec3> out) const {
    file_.requireUnchanged();
    file_.read(offset_ + frame * points_ * kPointBytes, std::as_writable_bytes(out));
    if (swap_) {
        auto* words = reinterpret_cast<std::uint32_t*>(out.data());
        for (std::size_t i = 0; i < out.size() * 3; ++i) {
            words[i] = __builtin_bswap32(words[i]);
        }
    }
}

} // namespace ripple::source
