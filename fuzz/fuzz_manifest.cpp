#include "bundle/manifest.h"
#include "fuzz/fuzz_file.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace ripple;
    return fuzz::inWords([&] {
        bundle::parseManifest(std::string(reinterpret_cast<const char*>(data), size), "spoilt.bundle.json");
    });
}
