#include "bake/recipe.h"

#include <array>
#include <span>

namespace ripple::bake {

namespace {

template <typename Value>
std::optional<Value> byName(std::span<const Value> values, const std::string& text) {
    for (const Value value : values) {
        if (text == name(value)) {
            return value;
        }
    }
    return std::nullopt;
}

} // namespace

const char* name(Content content) {
    return content == Content::absolute ? "absolute" : "offset";
}

std::optional<Content> contentByName(const std::string& text) {
    static constexpr std::array kAll = {Content::absolute, Content::offset};
    return byName<Content>(kAll, text);
}

const char* name(Closing closing) {
    return closing == Closing::asIs     ? "as-is"
           : closing == Closing::drop   ? "drop"
           : closing == Closing::window ? "window"
                                        : "fade";
}

std::optional<Closing> closingByName(const std::string& text) {
    static constexpr std::array kAll = {Closing::asIs, Closing::drop, Closing::window, Closing::fade};
    return byName<Closing>(kAll, text);
}

Closing closingOf(const Recipe& recipe, const std::string& clip) {
    for (const ClipChoice& choice : recipe.clips) {
        if (choice.name == clip) {
            return choice.closing.value_or(recipe.closing);
        }
    }
    return recipe.closing;
}

bool samplesAlike(const Recipe& a, const Recipe& b) {
    // Which clips fade is among the clips; how long counts where any does.
    bool fades = a.closing == Closing::fade;
    for (const ClipChoice& clip : a.clips) {
        fades = fades || clip.closing == Closing::fade;
    }
    const bool fadesAlike = !fades || a.fadeFrames == b.fadeFrames;
    const bool keepsAlike = a.thin == b.thin && (a.thin > 0.0 || a.step == b.step);
    return a.clips == b.clips && keepsAlike && a.fps == b.fps && a.closing == b.closing && fadesAlike;
}

} // namespace ripple::bake
