#include "cli/frame_options.h"

#include "bake/recipe.h"

#include <CLI/CLI.hpp>

namespace ripple::cli {

void addFrameOptions(CLI::App& bake, FrameWords& words, bake::Recipe& recipe) {
    bake.add_option(
            "--joint-form", words.jointForm,
            "how joints are stored: rigid (place, scale, rotation), matrix, or automatic (matrices where a "
            "joint is sheared or scaled unevenly)")
        ->check(CLI::IsMember({"automatic", "rigid", "matrix"}))
        ->capture_default_str();
    bake.add_option("--influences", recipe.influences,
                    "joints that a vertex follows at most, the strongest kept, for --kind joints")
        ->check(CLI::IsMember({4, 8}))
        ->capture_default_str();
    bake.add_option("--influences-in", words.influencesIn,
                    "where a vertex finds its joints: in a texture, or in UV sets of the mesh")
        ->check(CLI::IsMember({"texture", "uvs"}))
        ->capture_default_str();
    bake.add_option("--oversampling", recipe.oversampling,
                    "frames stored for each that the sampling rate gives (default: 4 of joints, else 1)")
        ->check(CLI::Range(std::size_t{1}, ripple::bake::kMostOversampling));
    bake.add_option("--blend", words.blend,
                    "how frames are blended: of two (linear), or of four on a curve (cubic)")
        ->check(CLI::IsMember({"linear", "cubic"}))
        ->capture_default_str();
}

void takeFrameOptions(const FrameWords& words, bake::Recipe& recipe) {
    recipe.jointForm = *bake::jointFormByName(words.jointForm);
    recipe.influencesInUvs = words.influencesIn == "uvs";
    recipe.blend = *bake::blendByName(words.blend);
}

} // namespace ripple::cli
