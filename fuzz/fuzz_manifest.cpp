#include "bundle/manifest.h"
#include "bundle/score_manifest.h"
#include "fuzz/fuzz_file.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace ripple;
    const std::string text(reinterpret_cast<const char*>(data), size);
    fuzz::inWords([&] { bundle::parseManifest(text, "spoilt.bundle.json"); });
    return fuzz::inWords([&] { bundle::parseScoreManifest(text, "spoilt.bundle.json"); });
}
