#include "image/png.h"

#include "base/problem.h"

#include <algorithm>
#include <array>
#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <memory>
#include <string_view>
#include <system_error>

#include <spng.h>

namespace ripple::image {

namespace {

struct FreeContext {
    void operator()(spng_ctx* context) const { spng_ctx_free(context); }
};
using Context = std::unique_ptr<spng_ctx, FreeContext>;

constexpr std::uint32_t kLargestPngSide = 32768;

/// What is wrong with a PNG, in our words: the library's are about its own code.
void mustRead(int code, const std::string& where) {
    if (code == 0) {
        return;
    }
    const bool cut = code == SPNG_IO_EOF || code == SPNG_EOF;
    const bool large = code == SPNG_EUSER_WIDTH || code == SPNG_EUSER_HEIGHT;
    base::fail(where,
               cut     ? "the PNG is cut short"
               : large ? "the PNG declares a side over " + std::to_string(kLargestPngSide) + " pixels"
               : code == SPNG_ESIGNATURE ? "is not a PNG"
               : code == SPNG_IO_ERROR   ? "the PNG could not be read from its disk"
                                         : "the PNG is damaged",
               "write it again");
}

struct CloseFile {
    void operator()(std::FILE* file) const { std::fclose(file); }
};
using File = std::unique_ptr<std::FILE, CloseFile>;

/// Encodes to wherever the context writes.
/// Returns the library's code, 0 if all went well.
int encode(spng_ctx* context, const Image& image) {
    // Level 3: textures of motion are near to noise, where higher levels take several times as long for a few
    // percent. The Sub filter alone: a texel's neighbour in its row is a neighbour on the mesh, the one above
    // it is not, and trying several filters on each row takes as long as packing it.
    spng_set_option(context, SPNG_IMG_COMPRESSION_LEVEL, 3);
    spng_set_option(context, SPNG_FILTER_CHOICE, SPNG_FILTER_CHOICE_SUB);
    spng_ihdr header{};
    header.width = static_cast<std::uint32_t>(image.width);
    header.height = static_cast<std::uint32_t>(image.height);
    header.bit_depth = image.pixel == Pixel::u16 ? 16 : 8;
    header.color_type = image.channels == 4 ? SPNG_COLOR_TYPE_TRUECOLOR_ALPHA : SPNG_COLOR_TYPE_TRUECOLOR;
    const int code = spng_set_ihdr(context, &header);
    return code != 0 ? code
                     : spng_encode_image(context, image.data.data(), image.data.size(), SPNG_FMT_PNG,
                                         SPNG_ENCODE_FINALIZE);
}

Image decode(spng_ctx* context, const std::string& where) {
    spng_ihdr header{};
    mustRead(spng_get_ihdr(context, &header), where);
    const bool plain = header.color_type == SPNG_COLOR_TYPE_TRUECOLOR ||
                       header.color_type == SPNG_COLOR_TYPE_TRUECOLOR_ALPHA;
    const bool alpha = header.color_type == SPNG_COLOR_TYPE_TRUECOLOR_ALPHA ||
                       header.color_type == SPNG_COLOR_TYPE_GRAYSCALE_ALPHA;
    const bool deep = plain && header.bit_depth == 16;
    // The library expands to 8-bit RGB or RGBA; 16-bit pixels we take as they are, in the machine's order.
    const int format = deep ? SPNG_FMT_PNG : alpha ? SPNG_FMT_RGBA8 : SPNG_FMT_RGB8;
    std::size_t size = 0;
    mustRead(spng_decoded_image_size(context, format, &size), where);
    Image image(header.width, header.height, alpha ? 4 : 3, deep ? Pixel::u16 : Pixel::u8);
    if (size != image.data.size()) {
        base::fail(where, "the PNG holds another kind of pixels than expected", "write it as RGB or RGBA");
    }
    mustRead(spng_decode_image(context, image.data.data(), image.data.size(), format, 0), where);
    return image;
}

} // namespace

base::Bytes encodePng(const Image& image) {
    const Context context(spng_ctx_new(SPNG_CTX_ENCODER));
    spng_set_option(context.get(), SPNG_ENCODE_TO_BUFFER, 1);
    const int code = encode(context.get(), image);
    std::size_t size = 0;
    int error = 0;
    std::unique_ptr<void, decltype(&std::free)> buffer(spng_get_png_buffer(context.get(), &size, &error),
                                                       &std::free);
    if (code != 0 || error != 0 || !buffer) {
        base::fail("PNG", "could not be written", "bake fewer frames at a time: memory may have run out");
    }
    const auto* begin = static_cast<const std::byte*>(buffer.get());
    return base::Bytes(begin, begin + size);
}

void writePng(const Image& image, const std::filesystem::path& path) {
    File file(std::fopen(path.c_str(), "wb"));
    const auto fail = [&] {
        base::fail(path.string(),
                   "could not be written whole (" + std::generic_category().message(errno) + ")",
                   "check that the folder exists, may be written to and is on a disk with room");
    };
    if (!file) {
        fail();
    }
    {
        const Context context(spng_ctx_new(SPNG_CTX_ENCODER));
        errno = 0;
        const int code = spng_set_png_file(context.get(), file.get());
        if (code != 0 || encode(context.get(), image) != 0) {
            fail();
        }
    }
    // Closing writes what is still buffered, so a full disk may only show here.
    if (std::fclose(file.release()) != 0) {
        fail();
    }
}

Image decodePng(std::span<const std::byte> bytes, const std::string& where) {
    const Context context(spng_ctx_new(0));
    spng_set_image_limits(context.get(), kLargestPngSide, kLargestPngSide);
    mustRead(spng_set_png_buffer(context.get(), bytes.data(), bytes.size()), where);
    return decode(context.get(), where);
}

Image readPng(const std::filesystem::path& path) {
    base::requireFile(path);
    const File file(std::fopen(path.c_str(), "rb"));
    if (!file) {
        base::fail(path.string(), "cannot be opened (" + std::generic_category().message(errno) + ")",
                   "check who may read it");
    }
    const Context context(spng_ctx_new(0));
    spng_set_image_limits(context.get(), kLargestPngSide, kLargestPngSide);
    const std::string where = path.filename().string();
    mustRead(spng_set_png_file(context.get(), file.get()), where);
    return decode(context.get(), where);
}

base::Bytes pixelsAlone(const base::Bytes& png) {
    constexpr std::size_t kSignature = 8;
    constexpr std::array<std::string_view, 5> kKept = {"IHDR", "PLTE", "tRNS", "IDAT", "IEND"};
    const std::string_view text = base::asText(png);
    if (!text.starts_with("\x89PNG\r\n\x1a\n")) {
        return png;
    }
    base::Bytes kept(png.begin(), png.begin() + kSignature);
    std::size_t at = kSignature;
    while (at + 12 <= png.size()) { // length, name, data, checksum
        std::size_t length = 0;
        for (std::size_t i = 0; i < 4; ++i) {
            length = length << 8 | std::to_integer<std::size_t>(png[at + i]);
        }
        const std::string_view name = text.substr(at + 4, 4);
        if (length > png.size() - at - 12) {
            return png;
        }
        const auto begin = png.begin() + static_cast<std::ptrdiff_t>(at);
        at += 12 + length;
        if (std::find(kKept.begin(), kKept.end(), name) != kKept.end()) {
            kept.insert(kept.end(), begin, png.begin() + static_cast<std::ptrdiff_t>(at));
        }
        if (name == "IEND") {
            return kept.size() == at ? png
                                     : kept; // with what may follow, where there is nothing to leave out
        }
    }
    return png;
}

} // namespace ripple::image
