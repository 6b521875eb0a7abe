#include "bundle/target.h"
#include "fuzz/fuzz_file.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace ripple;
    const std::string text(reinterpret_cast<const char*>(data), size);
    return fuzz::inWords([&] {
        const bundle::Target target = bundle::parseTargetText(text, "spoilt.target.json");
        bundle::parseTargetText(bundle::targetText(target), "written.target.json");
    });
}
