#pragma once

#include "base/problem.h"
#include "mesh/mesh.h"

#include <filesystem>
#include <memory>
#include <optional>
#include <set>
#include <string>

namespace ripple::source {

/// Finds the files that a source names beside itself: images, buffers, material libraries. A model from
/// elsewhere must not be able to take a file of this machine along, so only what lies in the source's own
/// folder, or below the folder above it, is followed, after all links; anything else only if a person said
/// so.
class Companions {
public:
    /// `source`: the file that names them. `followOutside`: follow absolute paths, and paths and links that
    /// leave the tree.
    Companions(const std::filesystem::path& source, bool followOutside);

    /// Where the file lies that the source calls `name`: relative to its folder, with either slash. Of an
    /// absolute name (exporters write their own machine's) a file of that last name beside the source is
    /// taken first. None if it may not be followed; report() says so. The file need not exist.
    std::optional<std::filesystem::path> find(const std::string& name);

    /// The image in that file; null, with a finding, if it may not be followed, can't be read, is none of the
    /// encodings that are passed on (PNG, JPEG), is damaged or is too large. `what`: "base-colour".
    std::shared_ptr<const mesh::EncodedImage> image(const std::string& name, const std::string& what,
                                                    base::Findings& findings);
    /// The same for an image that lies inside the source.
    std::shared_ptr<const mesh::EncodedImage> imageInside(const base::Bytes& bytes, const std::string& name,
                                                          const std::string& what,
                                                          base::Findings& findings) const;

    /// Says which files were not followed ("file-outside") and which were, a folder up ("file-above").
    void report(base::Findings& findings) const;
    /// The problem of a file that was not followed and that the source can't do without.
    [[noreturn]] void failOutside(const std::string& name) const;

private:
    std::filesystem::path source_;
    std::filesystem::path folder_; ///< canonical
    bool followOutside_ = false;
    std::set<std::string> outside_;
    std::set<std::string> above_;
};

/// Largest side of an image that is passed on, in pixels.
constexpr std::size_t kLargestImageSide = 16384;

/// What is wrong with an encoded image as a file, in words that follow "the image is"; empty if nothing is.
/// PNG and JPEG are looked through from their header to their end (every PNG chunk's checksum, every JPEG
/// segment); WebP and KTX2 have their headers looked at. No pixel is decoded.
std::string imageFault(std::span<const std::byte> bytes);

} // namespace ripple::source
