#include "image/exr.h"

#include "base/parallel.h"
#include "base/problem.h"

#include <algorithm>
#include <array>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <memory>
#include <mutex>
#include <system_error>

#include <OpenEXR/ImfChannelList.h>
#include <OpenEXR/ImfFrameBuffer.h>
#include <OpenEXR/ImfHeader.h>
#include <OpenEXR/ImfIO.h>
#include <OpenEXR/ImfInputFile.h>
#include <OpenEXR/ImfOutputFile.h>
#include <OpenEXR/ImfStdIO.h>
#include <OpenEXR/ImfThreading.h>

namespace ripple::image {

namespace {

constexpr std::array<const char*, 4> kChannels = {"R", "G", "B", "A"};
constexpr int kLargestExrSide = 32768;

class MemoryOut : public Imf::OStream {
public:
    explicit MemoryOut(base::Bytes& bytes) : Imf::OStream("memory"), bytes_(bytes) {}
    void write(const char data[], int count) override {
        const std::size_t end = position_ + static_cast<std::size_t>(count);
        if (end > bytes_.size()) {
            bytes_.resize(end);
        }
        std::memcpy(bytes_.data() + position_, data, static_cast<std::size_t>(count));
        position_ = end;
    }
    std::uint64_t tellp() override { return position_; }
    void seekp(std::uint64_t position) override { position_ = position; }

private:
    base::Bytes& bytes_;
    std::uint64_t position_ = 0;
};

class MemoryIn : public Imf::IStream {
public:
    explicit MemoryIn(std::span<const std::byte> bytes) : Imf::IStream("memory"), bytes_(bytes) {}
    bool read(char data[], int count) override {
        const auto wanted = static_cast<std::size_t>(count);
        if (count < 0 || position_ > bytes_.size() || bytes_.size() - position_ < wanted) {
            throw IEX_NAMESPACE::InputExc("the file ends too early");
        }
        std::memcpy(data, bytes_.data() + position_, wanted);
        position_ += wanted;
        return position_ < bytes_.size();
    }
    std::uint64_t tellg() override { return position_; }
    void seekg(std::uint64_t position) override { position_ = position; }

private:
    std::span<const std::byte> bytes_;
    std::uint64_t position_ = 0;
};

Imf::FrameBuffer frameBuffer(Image& image, Imf::PixelType type) {
    Imf::FrameBuffer buffer;
    char* base = reinterpret_cast<char*>(image.data.data());
    for (std::size_t c = 0; c < image.channels; ++c) {
        buffer.insert(kChannels[c], Imf::Slice(type, base + c * bytesPer(image.pixel), image.bytesPerTexel(),
                                               image.bytesPerTexel() * image.width));
    }
    return buffer;
}

int workers() {
    // The library keeps a pool of its own; it must have as many threads as we may use.
    static std::once_flag once;
    std::call_once(once, [] { Imf::setGlobalThreadCount(static_cast<int>(base::threadCount())); });
    return static_cast<int>(base::threadCount());
}

/// A file that remembers why it could not be written: what the library throws by then is in its own words.
class FileOut : public Imf::OStream {
public:
    FileOut() : Imf::OStream("file"), file_(nullptr, &std::fclose) {}
    void open(const std::filesystem::path& path) {
        file_.reset(std::fopen(path.c_str(), "wb"));
        check(file_ != nullptr);
    }
    void write(const char data[], int count) override {
        check(file_ && std::fwrite(data, 1, static_cast<std::size_t>(count), file_.get()) ==
                           static_cast<std::size_t>(count));
    }
    std::uint64_t tellp() override { return file_ ? static_cast<std::uint64_t>(::ftello(file_.get())) : 0; }
    void seekp(std::uint64_t position) override {
        check(file_ && ::fseeko(file_.get(), static_cast<off_t>(position), SEEK_SET) == 0);
    }
    /// Closing writes what is still buffered, so a full disk may only show here. The library's own end is in
    /// a destructor, which swallows what is thrown: what went wrong there counts too.
    void close() {
        const bool earlier = !reason_.empty();
        const bool closed = file_ && std::fclose(file_.release()) == 0;
        if (earlier) {
            throw IEX_NAMESPACE::IoExc("not written");
        }
        check(closed);
    }
    const std::string& reason() const { return reason_; }

private:
    void check(bool done) {
        if (!done) {
            reason_ = std::generic_category().message(errno);
            throw IEX_NAMESPACE::IoExc("not written");
        }
    }

    std::unique_ptr<std::FILE, int (*)(std::FILE*)> file_;
    std::string reason_;
};

void writePixels(const Image& image, Imf::OStream& stream) {
    const Imf::PixelType type = image.pixel == Pixel::half ? Imf::HALF : Imf::FLOAT;
    Imf::Header header(static_cast<int>(image.width), static_cast<int>(image.height));
    header.compression() = Imf::ZIP_COMPRESSION;
    for (std::size_t c = 0; c < image.channels; ++c) {
        header.channels().insert(kChannels[c], Imf::Channel(type));
    }
    Imf::OutputFile file(stream, header, workers());
    file.setFrameBuffer(frameBuffer(const_cast<Image&>(image), type)); // written from, never written to
    file.writePixels(static_cast<int>(image.height));
}

Image readPixels(Imf::IStream& stream, const std::string& where) {
    try {
        Imf::InputFile file(stream, workers());
        const auto window = file.header().dataWindow();
        const int width = window.max.x - window.min.x + 1;
        const int height = window.max.y - window.min.y + 1;
        if (width < 1 || height < 1 || width > kLargestExrSide || height > kLargestExrSide) {
            base::fail(where,
                       "declares " + std::to_string(width) + " × " + std::to_string(height) + " pixels",
                       "the largest side we read is " + std::to_string(kLargestExrSide));
        }
        const Imf::ChannelList& channels = file.header().channels();
        const Imf::Channel* red = channels.findChannel("R");
        if (!red || !channels.findChannel("G") || !channels.findChannel("B")) {
            base::fail(where, "has no channels R, G and B", "write the texture again");
        }
        const bool half = red->type == Imf::HALF;
        Image image(static_cast<std::size_t>(width), static_cast<std::size_t>(height),
                    channels.findChannel("A") ? 4 : 3, half ? Pixel::half : Pixel::float32);
        Imf::FrameBuffer buffer;
        char* base = reinterpret_cast<char*>(image.data.data());
        const auto stride = image.bytesPerTexel();
        // The library addresses by absolute pixel coordinates, so the window's origin is taken off.
        const auto origin = static_cast<std::ptrdiff_t>(window.min.y) * width + window.min.x;
        for (std::size_t c = 0; c < image.channels; ++c) {
            buffer.insert(kChannels[c], Imf::Slice(half ? Imf::HALF : Imf::FLOAT,
                                                   base + c * bytesPer(image.pixel) -
                                                       origin * static_cast<std::ptrdiff_t>(stride),
                                                   stride, stride * image.width));
        }
        file.setFrameBuffer(buffer);
        file.readPixels(window.min.y, window.max.y);
        return image;
    } catch (const base::Failure&) {
        throw;
    } catch (const std::bad_alloc&) {
        throw;
    } catch (const std::exception&) { // whose words are about the library's own code
        base::fail(where, "the EXR is damaged, cut short, or none at all", "write it again");
    }
}

} // namespace

base::Bytes encodeExr(const Image& image) {
    base::Bytes bytes;
    bytes.reserve(image.data.size() + 4096);
    MemoryOut stream(bytes);
    writePixels(image, stream);
    return bytes;
}

void writeExr(const Image& image, const std::filesystem::path& path) {
    FileOut stream;
    try {
        stream.open(path);
        writePixels(image, stream);
        stream.close();
    } catch (const std::bad_alloc&) {
        throw;
    } catch (const std::exception&) {
        base::fail(path.string(),
                   "could not be written whole (" +
                       (stream.reason().empty() ? "for an unknown reason" : stream.reason()) + ")",
                   "check that the folder exists, may be written to and is on a disk with room");
    }
}

Image decodeExr(std::span<const std::byte> bytes, const std::string& where) {
    MemoryIn stream(bytes);
    return readPixels(stream, where);
}

Image readExr(const std::filesystem::path& path) {
    base::requireFile(path);
    try {
        Imf::StdIFStream stream(path.c_str());
        return readPixels(stream, path.filename().string());
    } catch (const base::Failure&) {
        throw;
    } catch (const std::exception&) {
        base::fail(path.string(), "cannot be opened", "check who may read it");
    }
}

} // namespace ripple::image
