#pragma once

#include <cstddef>
#include <filesystem>
#include <span>

namespace ripple::base {

/// A file in the address space, read by the page as it is needed.
class MappedFile {
public:
    /// Throws base::Failure when it does not exist, is no regular file or cannot be mapped.
    explicit MappedFile(const std::filesystem::path& path);
    ~MappedFile();
    MappedFile(const MappedFile&) = delete;
    MappedFile& operator=(const MappedFile&) = delete;

    std::span<const std::byte> bytes() const { return {data_, size_}; }
    /// Reads into `out` from `offset` on without touching the mapping: what is read takes no address space,
    /// and a file that was cut meanwhile is a base::Failure.
    void read(std::size_t offset, std::span<std::byte> out) const;
    /// Throws base::Failure if the file was cut, written to or removed since it was mapped. Reading pages
    /// that are no longer in a file ends a program, so ask before each piece of reading.
    void requireUnchanged() const;

private:
    std::filesystem::path path_;
    int file_ = -1;
    const std::byte* data_ = nullptr;
    std::size_t size_ = 0;
    long long written_ = 0; ///< nanoseconds
};

} // namespace ripple::base
