#pragma once

#include "base/files.h"
#include "image/image.h"

#include <span>
#include <string>

namespace ripple::image {

/// Encodes Pixel::half or Pixel::float32 as a single-part scan-line OpenEXR file with channels R, G, B (and
/// A), ZIP compression. The same image gives the same bytes on any number of threads.
base::Bytes encodeExr(const Image& image);

/// Decodes a file with channels R, G, B of one type, half or float. `where` names the file in problems.
Image decodeExr(std::span<const std::byte> bytes, const std::string& where);

} // namespace ripple::image
