#pragma once

#include "base/files.h"
#include "image/image.h"

#include <filesystem>
#include <span>
#include <string>

namespace ripple::image {

/// Encodes Pixel::half or Pixel::float32 as a single-part scan-line OpenEXR file with channels R, G, B (and
/// A), ZIP compression. The same image gives the same bytes on any number of threads.
base::Bytes encodeExr(const Image& image);

/// The same bytes straight into a file, holding only a few rows of it in memory. Throws base::Failure.
void writeExr(const Image& image, const std::filesystem::path& path);

/// Decodes a file with channels R, G, B of one type, half or float. `where` names the file in problems.
Image decodeExr(std::span<const std::byte> bytes, const std::string& where);
/// The same from a file, which is not held in memory.
Image readExr(const std::filesystem::path& path);

} // namespace ripple::image
