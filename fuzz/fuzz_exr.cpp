#include "fuzz/fuzz_file.h"
#include "image/exr.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace ripple;
    return fuzz::inWords([&] {
        image::decodeExr({reinterpret_cast<const std::byte*>(data), size}, "spoilt.exr");
    });
}
