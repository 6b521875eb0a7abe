#include "fuzz/fuzz_file.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    return ripple::fuzz::openAndPlay(data, size, "spoilt.ply");
}
