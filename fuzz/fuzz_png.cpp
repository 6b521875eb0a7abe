#include "fuzz/fuzz_file.h"
#include "image/png.h"
#include "source/companions.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace ripple;
    const std::span bytes(reinterpret_cast<const std::byte*>(data), size);
    source::imageFault(bytes);
    return fuzz::inWords([&] { image::decodePng(bytes, "spoilt.png"); });
}
