#include "fuzz/fuzz_file.h"
#include "project/document.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    try {
        ripple::project::parseDocument(std::string(reinterpret_cast<const char*>(data), size), "/p",
                                       "spoilt");
    } catch (const ripple::base::Failure&) {
        // a problem in words
    }
    return 0;
}
