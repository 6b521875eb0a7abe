#include "bundle/test_vector.h"
#include "fuzz/fuzz_file.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace ripple;
    const std::string text(reinterpret_cast<const char*>(data), size);
    return fuzz::inWords([&] {
        const bundle::TestVector client = bundle::parseTest(text, "spoilt.test.json");
        bundle::TestVector expected = client;
        for (bundle::TestMoment& moment : expected.moments) {
            moment.normals.resize(moment.positions.size(), {0.0f, 1.0f, 0.0f});
        }
        bundle::compareClient(expected, client, 1.0, {}, 0);
    });
}
