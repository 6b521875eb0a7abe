#include "base/files.h"

#include "base/problem.h"

#include <algorithm>
#include <array>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <memory>
#include <system_error>

#include <openssl/evp.h>

namespace ripple::base {

namespace {

struct CloseFile {
    void operator()(std::FILE* file) const { std::fclose(file); }
};
using File = std::unique_ptr<std::FILE, CloseFile>;

std::string reason() {
    return std::generic_category().message(errno);
}

} // namespace

bool exists(const std::filesystem::path& path) {
    std::error_code error;
    return std::filesystem::exists(path, error);
}

bool isFolder(const std::filesystem::path& path) {
    std::error_code error;
    return std::filesystem::is_directory(path, error);
}

void requireFile(const std::filesystem::path& path) {
    std::error_code error;
    const auto status = std::filesystem::status(path, error);
    if (status.type() == std::filesystem::file_type::none) {
        fail(path.string(), "cannot be looked at (" + error.message() + ")", "check the name and the folder");
    }
    if (!std::filesystem::exists(status)) {
        fail(path.string(), "there is no such file", "check the name and the folder");
    }
    if (!std::filesystem::is_regular_file(status)) {
        fail(path.string(), "this is not a file", "name a file, not a folder or device");
    }
}

Bytes readFile(const std::filesystem::path& path) {
    requireFile(path);
    std::error_code error;
    const auto size = std::filesystem::file_size(path, error);
    File file(error ? nullptr : std::fopen(path.c_str(), "rb"));
    if (!file) {
        fail(path.string(), "cannot be opened (" + (error ? error.message() : reason()) + ")",
             "check who may read it");
    }
    Bytes bytes(size);
    if (!bytes.empty() && std::fread(bytes.data(), 1, bytes.size(), file.get()) != bytes.size()) {
        fail(path.string(), "ended while it was read", "it may be being written; try again");
    }
    return bytes;
}

void writeFile(const std::filesystem::path& path, std::span<const std::byte> bytes) {
    File file(std::fopen(path.c_str(), "wb"));
    const char* advice = "check that the folder exists, may be written to and is on a disk with room";
    if (!file) {
        fail(path.string(), "cannot be written (" + reason() + ")", advice);
    }
    const bool written =
        bytes.empty() || std::fwrite(bytes.data(), 1, bytes.size(), file.get()) == bytes.size();
    // Closing writes what is still buffered, so a full disk may only show here.
    if (!written || std::fclose(file.release()) != 0) {
        fail(path.string(), "could not be written whole (" + reason() + ")", advice);
    }
}

void writeFile(const std::filesystem::path& path, std::string_view text) {
    writeFile(path, asBytes(text));
}

namespace {

struct FreeDigest {
    void operator()(EVP_MD_CTX* context) const { EVP_MD_CTX_free(context); }
};

/// A digest that grows.
class Sha256 {
public:
    Sha256() : context_(EVP_MD_CTX_new()) { must(EVP_DigestInit_ex(context_.get(), EVP_sha256(), nullptr)); }
    void add(std::span<const std::byte> bytes) {
        must(EVP_DigestUpdate(context_.get(), bytes.data(), bytes.size()));
    }
    std::string text() {
        std::array<unsigned char, EVP_MAX_MD_SIZE> digest{};
        unsigned int length = 0;
        must(EVP_DigestFinal_ex(context_.get(), digest.data(), &length));
        std::string text;
        for (unsigned int i = 0; i < length; ++i) {
            constexpr char kDigits[] = "0123456789abcdef";
            text += kDigits[digest[i] >> 4];
            text += kDigits[digest[i] & 15];
        }
        return text;
    }

private:
    static void must(int code) {
        if (code != 1) {
            fail("sha256", "the digest could not be computed", "report this as a fault of the program");
        }
    }
    std::unique_ptr<EVP_MD_CTX, FreeDigest> context_;
};

} // namespace

std::string sha256(std::span<const std::byte> bytes) {
    Sha256 digest;
    digest.add(bytes);
    return digest.text();
}

std::string sha256OfFile(const std::filesystem::path& path) {
    requireFile(path);
    const File file(std::fopen(path.c_str(), "rb"));
    if (!file) {
        fail(path.string(), "cannot be opened (" + reason() + ")", "check who may read it");
    }
    Sha256 digest;
    Bytes part(std::size_t{1} << 20);
    while (const std::size_t count = std::fread(part.data(), 1, part.size(), file.get())) {
        digest.add(std::span(part).first(count));
    }
    if (std::ferror(file.get())) {
        fail(path.string(), "ended while it was read", "it may be being written; try again");
    }
    return digest.text();
}

std::string extensionOf(const std::filesystem::path& path) {
    std::string text = path.extension().string();
    std::transform(text.begin(), text.end(), text.begin(),
                   [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; });
    return text;
}

} // namespace ripple::base
