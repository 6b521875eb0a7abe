#include "base/parallel.h"
#include "image/exr.h"
#include "image/png.h"
#include "problem_of.h"
#include "suite.h"

#include <QImage>
#include <QTest>

#include <cstring>
#include <random>

using namespace ripple;
using image::Image;
using image::Pixel;

namespace {

Image noise(std::size_t width, std::size_t height, std::size_t channels, Pixel pixel) {
    Image picture(width, height, channels, pixel);
    std::mt19937 random(3);
    if (pixel == Pixel::float32) {
        auto* values = reinterpret_cast<float*>(picture.data.data());
        for (std::size_t i = 0; i < width * height * channels; ++i) {
            values[i] = static_cast<float>(random()) / 1e9f - 2.0f;
        }
        return picture;
    }
    for (std::byte& byte : picture.data) {
        byte = static_cast<std::byte>(random() & 0x3B); // no bit pattern here is a NaN as half
    }
    return picture;
}

bool contains(const base::Bytes& bytes, const char* chunk) {
    return base::asText(bytes).find(chunk) != std::string_view::npos;
}

} // namespace

class TestImages : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void roundTrip_data() {
        QTest::addColumn<int>("pixel");
        QTest::addColumn<int>("channels");
        QTest::newRow("png 8 rgb") << int(Pixel::u8) << 3;
        QTest::newRow("png 16 rgb") << int(Pixel::u16) << 3;
        QTest::newRow("png 16 rgba") << int(Pixel::u16) << 4;
        QTest::newRow("exr half") << int(Pixel::half) << 3;
        QTest::newRow("exr float") << int(Pixel::float32) << 3;
    }
    void roundTrip() {
        QFETCH(int, pixel);
        QFETCH(int, channels);
        const auto kind = static_cast<Pixel>(pixel);
        const Image picture = noise(37, 21, static_cast<std::size_t>(channels), kind);
        const bool png = kind == Pixel::u8 || kind == Pixel::u16;
        const base::Bytes bytes = png ? image::encodePng(picture) : image::encodeExr(picture);
        const Image back = png ? image::decodePng(bytes, "t") : image::decodeExr(bytes, "t");
        QVERIFY(back == picture);
    }
    void otherProgramsReadOurPng() {
        Image picture(2, 1, 3, Pixel::u8);
        const unsigned char values[] = {1, 2, 3, 250, 128, 7};
        std::memcpy(picture.data.data(), values, 6);
        const base::Bytes bytes = image::encodePng(picture);
        const QImage read =
            QImage::fromData(reinterpret_cast<const uchar*>(bytes.data()), static_cast<int>(bytes.size()));
        QCOMPARE(read.pixelColor(1, 0), QColor(250, 128, 7));
        for (const char* chunk : {"gAMA", "iCCP", "sRGB", "tIME", "tEXt"}) {
            QVERIFY(!contains(bytes, chunk));
        }
    }
    void sixteenBitsAreBigEndianInTheFileAndNativeInMemory() {
        QImage source(1, 1, QImage::Format_RGBX64);
        source.setPixelColor(0, 0, QColor::fromRgba64(0x1234, 0xFFFF, 0, 0xFFFF));
        Image picture(1, 1, 3, Pixel::u16);
        const std::uint16_t values[] = {0x1234, 0xFFFF, 0};
        std::memcpy(picture.data.data(), values, 6);
        const base::Bytes bytes = image::encodePng(picture);
        const QImage read =
            QImage::fromData(reinterpret_cast<const uchar*>(bytes.data()), static_cast<int>(bytes.size()));
        QCOMPARE(read.pixelColor(0, 0).rgba64().red(), 0x1234);
    }
    void exrBytesDoNotDependOnThreads() {
        const Image picture = noise(64, 300, 3, Pixel::half);
        base::Bytes one;
        {
            const base::ThreadLimit limit(1);
            one = image::encodeExr(picture);
        }
        const base::ThreadLimit limit(2);
        QVERIFY(one == image::encodeExr(picture));
    }
    void filesHoldTheVeryBytesAndComeBack() {
        QTemporaryDir dir;
        const std::filesystem::path folder = dir.path().toStdString();
        for (const std::size_t channels : {3u, 4u}) {
            for (const Pixel pixel : {Pixel::u8, Pixel::u16, Pixel::half, Pixel::float32}) {
                const bool exr = pixel == Pixel::half || pixel == Pixel::float32;
                const Image picture = noise(70, 41, channels, pixel);
                const auto file = folder / (exr ? "a.exr" : "a.png");
                (exr ? image::writeExr : image::writePng)(picture, file);
                QVERIFY(base::readFile(file) ==
                        (exr ? image::encodeExr(picture) : image::encodePng(picture)));
                QVERIFY((exr ? image::readExr(file) : image::readPng(file)) == picture);
                std::filesystem::resize_file(file, std::filesystem::file_size(file) / 2);
                QVERIFY(tests::says(
                    tests::problemOf([&] { exr ? image::readExr(file) : image::readPng(file); }), "a."));
            }
        }
        const auto nowhere = folder / "none" / "a.png";
        QVERIFY(tests::says(tests::problemOf([&] { image::readPng(nowhere); }), "no such file"));
        QVERIFY(tests::says(tests::problemOf([&] { image::writePng(noise(4, 4, 3, Pixel::u8), nowhere); }),
                            "written"));
        QVERIFY(tests::says(tests::problemOf([&] { image::writeExr(noise(4, 4, 3, Pixel::half), nowhere); }),
                            "written"));
    }
    void aFullDiskIsCalledSo() {
        // A device that is always full.
        const image::Image deep(64, 64, 3, image::Pixel::u16);
        QVERIFY(tests::says(tests::problemOf([&] { image::writePng(deep, "/dev/full"); }), "/dev/full",
                            "could not be written whole", "No space left", "disk with room"));
        const image::Image half(64, 64, 3, image::Pixel::half);
        QVERIFY(tests::says(tests::problemOf([&] { image::writeExr(half, "/dev/full"); }), "/dev/full",
                            "could not be written whole", "No space left"));
        for (const auto& write : {&image::writePng, &image::writeExr}) {
            QVERIFY(tests::says(tests::problemOf([&] { write(half, "/nowhere/a.exr"); }), "/nowhere/a.exr",
                                "No such file"));
        }
    }
    void problemsOfImagesAreInOurWords() {
        const image::Image deep(8, 8, 3, image::Pixel::u16);
        base::Bytes cut = image::encodePng(deep);
        cut.resize(cut.size() / 2);
        QVERIFY(tests::says(tests::problemOf([&] { image::decodePng(cut, "a.png"); }), "a.png", "cut short"));
        const auto text = base::asBytes("no picture");
        QVERIFY(tests::says(tests::problemOf([&] { image::decodePng(text, "b.png"); }), "b.png", "is"));
        const base::Problem exr = tests::problemOf([&] { image::decodeExr(text, "c.exr"); });
        QVERIFY(tests::says(exr, "c.exr", "none at all"));
        QVERIFY(exr.line().find('(') == std::string::npos); // where a library's words would stand
    }
    void damagedFilesAreProblems() {
        const base::Bytes png = image::encodePng(noise(40, 40, 3, Pixel::u8));
        const base::Bytes exr = image::encodeExr(noise(40, 40, 3, Pixel::half));
        for (const double part : {0.0, 0.05, 0.5, 0.95}) {
            const auto cut = [&](const base::Bytes& bytes) {
                return std::span(bytes).first(
                    static_cast<std::size_t>(part * static_cast<double>(bytes.size())));
            };
            QVERIFY(tests::says(tests::problemOf([&] { image::decodePng(cut(png), "a.png"); }), "a.png"));
            QVERIFY(tests::says(tests::problemOf([&] { image::decodeExr(cut(exr), "a.exr"); }), "a.exr"));
        }
        base::Bytes flipped = png;
        flipped[flipped.size() / 2] ^= std::byte{0x40};
        QVERIFY(tests::says(tests::problemOf([&] { image::decodePng(flipped, "a.png"); }), "damaged"));
    }
};

static const ripple::tests::SuiteOf<TestImages> kSuite;
#include "test_images.moc"
