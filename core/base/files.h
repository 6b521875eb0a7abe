#pragma once

#include <cstddef>
#include <filesystem>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace ripple::base {

using Bytes = std::vector<std::byte>;

/// The whole file. Fails when it does not exist, is no regular file or cannot be read.
Bytes readFile(const std::filesystem::path& path);

/// The system's words for the error of its last call (errno).
std::string systemReason();

/// Writes the whole file; fails (disk full, no permission) with the path and the system's reason.
void writeFile(const std::filesystem::path& path, std::span<const std::byte> bytes);
void writeFile(const std::filesystem::path& path, std::string_view text);

/// Where the file system can't say (a name too long, no rights), neither is there.
bool exists(const std::filesystem::path& path);
bool isFolder(const std::filesystem::path& path);

/// Throws base::Failure if there is no such regular file.
void requireFile(const std::filesystem::path& path);

/// Of a whole file, which is not held in memory. Fails like readFile().
std::string sha256OfFile(const std::filesystem::path& path);

/// Lower-case hexadecimal SHA-256 (FIPS 180-4).
std::string sha256(std::span<const std::byte> bytes);
/// The digest itself: 32 bytes.
Bytes sha256Bytes(std::span<const std::byte> bytes);
/// RFC 4648, with padding.
std::string base64(std::span<const std::byte> bytes);

inline std::string_view asText(std::span<const std::byte> bytes) {
    return {reinterpret_cast<const char*>(bytes.data()), bytes.size()};
}
inline std::span<const std::byte> asBytes(std::string_view text) {
    return {reinterpret_cast<const std::byte*>(text.data()), text.size()};
}

/// Lower-case extension with its dot: ".glb".
std::string extensionOf(const std::filesystem::path& path);

} // namespace ripple::base
