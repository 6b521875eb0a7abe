#include "cli/frame_options.h"

#include "bake/recipe.h"

#include <charconv>
#include <iostream>

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

bool readClosing(const std::string& text, bake::Recipe& recipe, bool& bestWindow) {
    const std::string name = text.substr(0, text.find(':'));
    const auto closing = bake::closingByName(name);
    std::size_t frames = 0;
    const char* end = text.data() + text.size();
    const bool fade = closing == bake::Closing::fade;
    const bool counted =
        fade && text.size() > 5 && std::from_chars(text.data() + 5, end, frames).ptr == end && frames > 0;
    if (!closing || fade != counted || (!fade && name != text)) {
        std::cerr << "ripple: --close " << text << ": write drop, fade:12, window or as-is\n";
        return false;
    }
    recipe.closing = *closing;
    recipe.fadeFrames = fade ? frames : recipe.fadeFrames;
    bestWindow = *closing == bake::Closing::window;
    return true;
}

} // namespace ripple::cli
