#include "base/mapped_file.h"

#include "base/problem.h"

#include <cerrno>
#include <system_error>

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

namespace ripple::base {

namespace {

long long writtenAt(const struct stat& state) {
    return static_cast<long long>(state.st_mtim.tv_sec) * 1000000000LL + state.st_mtim.tv_nsec;
}

} // namespace

MappedFile::MappedFile(const std::filesystem::path& path) : path_(path) {
    file_ = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    struct stat state = {};
    if (file_ < 0 || ::fstat(file_, &state) != 0) {
        const std::string why = systemReason();
        if (file_ >= 0) {
            ::close(file_);
        }
        fail(path.string(), "cannot be opened (" + why + ")",
             "check the name, the folder and who may read it");
    }
    if (!S_ISREG(state.st_mode)) {
        ::close(file_);
        fail(path.string(), "this is not a file", "name a file, not a folder or device");
    }
    size_ = static_cast<std::size_t>(state.st_size);
    written_ = writtenAt(state);
    if (size_ == 0) {
        return; // an empty mapping is an error of its own
    }
    void* mapped = ::mmap(nullptr, size_, PROT_READ, MAP_PRIVATE, file_, 0);
    if (mapped == MAP_FAILED) {
        const std::string why = systemReason();
        ::close(file_);
        fail(path.string(), "cannot be mapped (" + why + ")", "close other programs and try again");
    }
    data_ = static_cast<const std::byte*>(mapped);
}

MappedFile::~MappedFile() {
    if (data_) {
        ::munmap(const_cast<std::byte*>(data_), size_);
    }
    if (file_ >= 0) {
        ::close(file_);
    }
}

void MappedFile::read(std::size_t offset, std::span<std::byte> out) const {
    while (!out.empty()) {
        const ssize_t count = ::pread(file_, out.data(), out.size(), static_cast<off_t>(offset));
        if (count <= 0) {
            fail(path_.string(), count < 0 ? "cannot be read (" + systemReason() + ")" : "ended while it was read",
                 "open it again");
        }
        offset += static_cast<std::size_t>(count);
        out = out.subspan(static_cast<std::size_t>(count));
    }
}

void MappedFile::requireUnchanged() const {
    struct stat state = {};
    const bool known = ::fstat(file_, &state) == 0;
    if (!known || static_cast<std::size_t>(state.st_size) != size_ || writtenAt(state) != written_) {
        fail(path_.string(), "was rewritten while it was open", "open it again");
    }
    if (state.st_nlink == 0) {
        fail(path_.string(), "was removed while it was open", "put it back and open it again");
    }
}

} // namespace ripple::base
