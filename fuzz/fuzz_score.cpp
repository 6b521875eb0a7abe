#include "fuzz/fuzz_file.h"
#include "motion/score_file.h"
#include "motion/score_source.h"
#include "source/shape_source.h"

/// A score that can be read moves a small mesh through its loop.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace ripple;
    static const auto kSheet = source::openTestShape({"sheet", 1.0, 4, 4}, {});
    return fuzz::inWords([&] {
        const motion::Score score =
            motion::parseScore(std::string(reinterpret_cast<const char*>(data), size), "spoilt.score");
        fuzz::play(*motion::playScore(kSheet, score, motion::Play::alone));
    });
}
