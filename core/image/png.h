#pragma once

#include "base/files.h"
#include "image/image.h"

#include <filesystem>
#include <span>
#include <string>

namespace ripple::image {

/// Encodes 8 or 16 bits per channel, RGB or RGBA, without gamma, profile or text chunks (PNG specification,
/// third edition). The same image gives the same bytes.
base::Bytes encodePng(const Image& image);

/// The same bytes straight into a file. Throws base::Failure.
void writePng(const Image& image, const std::filesystem::path& path);

/// Decodes RGB or RGBA with 8 or 16 bits per channel; grey and palette images are expanded to RGB or RGBA
/// with 8 bits. `where` names the file in problems. Widths and heights over 32768 are refused.
Image decodePng(std::span<const std::byte> bytes, const std::string& where);
/// The same from a file, which is not held in memory.
Image readPng(const std::filesystem::path& path);

/// The file without all that says more than its pixels: profiles, gamma, sizes of pixels, dates, text, which
/// glTF's loaders must not look at. Bytes that are no whole PNG, or have nothing of that, come back as they
/// are.
base::Bytes pixelsAlone(const base::Bytes& png);

} // namespace ripple::image
