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

} // namespace

std::string systemReason() {
    return std::generic_category().message(errno);
}

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
        fail(path.string(), "cannot be opened (" + (error ? error.message() : systemReason()) + ")",
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
        fail(path.string(), "cannot be written (" + systemReason() + ")", advice);
    }
    const bool written =
        bytes.empty() || std::fwrite(bytes.data(), 1, bytes.size(), file.get()) == bytes.size();
    // Closing writes what is still buffered, so a full disk may only show here.
    if (!written || std::fclose(file.release()) != 0) {
        fail(path.string(), "could not be written whole (" + systemReason() + ")", advice);
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
    Bytes bytes() {
        Bytes digest(EVP_MAX_MD_SIZE);
        unsigned int length = 0;
        must(EVP_DigestFinal_ex(context_.get(), reinterpret_cast<unsigned char*>(digest.data()), &length));
        digest.resize(length);
        return digest;
    }
    std::string text() {
        std::string text;
        for (const std::byte byte : bytes()) {
            constexpr char kDigits[] = "0123456789abcdef";
            text += kDigits[std::to_integer<unsigned>(byte) >> 4];
            text += kDigits[std::to_integer<unsigned>(byte) & 15];
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

Bytes sha256Bytes(std::span<const std::byte> bytes) {
    Sha256 digest;
    digest.add(bytes);
    return digest.bytes();
}

std::string base64(std::span<const std::byte> bytes) {
    std::string text;
    text.reserve((bytes.size() + 2) / 3 * 4 + 1);
    constexpr std::size_t kPart = 3 << 20; // whole groups of three: parts can be put together
    for (std::size_t at = 0; at < bytes.size(); at += kPart) {
        const auto part = bytes.subspan(at, std::min(kPart, bytes.size() - at));
        const std::size_t before = text.size();
        text.resize(before + (part.size() + 2) / 3 * 4 + 1); // it ends what it writes with a zero
        EVP_EncodeBlock(reinterpret_cast<unsigned char*>(text.data() + before),
                        reinterpret_cast<const unsigned char*>(part.data()), static_cast<int>(part.size()));
        text.pop_back();
    }
    return text;
}

std::string sha256OfFile(const std::filesystem::path& path) {
    requireFile(path);
    const File file(std::fopen(path.c_str(), "rb"));
    if (!file) {
        fail(path.string(), "cannot be opened (" + systemReason() + ")", "check who may read it");
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
