#include "fuzz/fuzz_file.h"

/// The first byte tells which of the two layouts the rest is.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size == 0) {
        return 0;
    }
    const bool mdd = data[0] % 2 == 1;
    ripple::base::writeFile(ripple::fuzz::folder() / "spoilt.obj",
                            std::string_view("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"));
    return ripple::fuzz::openAndPlay(data + 1, size - 1, mdd ? "spoilt.mdd" : "spoilt.pc2");
}
