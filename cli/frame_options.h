#pragma once

#include <string>

namespace CLI {
class App;
}

namespace ripple::bake {
struct Recipe;
}

namespace ripple::cli {

/// What needs reading of the options for joints and for what lies between frames.
struct FrameWords {
    std::string jointForm = "automatic";
    std::string influencesIn = "texture";
    std::string blend = "linear";
};

/// How joints are stored, how many frames, and how those are blended. Both must outlive the parsing.
void addFrameOptions(CLI::App& bake, FrameWords& words, bake::Recipe& recipe);
void takeFrameOptions(const FrameWords& words, bake::Recipe& recipe);

/// How loops close, of "drop", "fade:12", "window" or "as-is". False, with words on stderr, for another text.
bool readClosing(const std::string& text, bake::Recipe& recipe, bool& bestWindow);

} // namespace ripple::cli
