#include "bake/recipe.h"

#include "bake/kind.h"

#include <algorithm>
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

const char* name(Ending ending) {
    return ending == Ending::loop ? "loop" : ending == Ending::once ? "once" : "hold";
}

std::optional<Ending> endingByName(const std::string& text) {
    static constexpr std::array kAll = {Ending::loop, Ending::once, Ending::hold};
    return byName<Ending>(kAll, text);
}

const char* name(Blend blend) {
    return blend == Blend::linear ? "linear" : "cubic";
}

std::optional<Blend> blendByName(const std::string& text) {
    static constexpr std::array kAll = {Blend::linear, Blend::cubic};
    return byName<Blend>(kAll, text);
}

const char* name(JointForm form) {
    return form == JointForm::automatic ? "automatic" : form == JointForm::rigid ? "rigid" : "matrix";
}

std::optional<JointForm> jointFormByName(const std::string& text) {
    static constexpr std::array kAll = {JointForm::automatic, JointForm::rigid, JointForm::matrix};
    return byName<JointForm>(kAll, text);
}

std::size_t oversamplingOf(const Recipe& recipe) {
    return recipe.thin > 0.0 ? 1 : recipe.oversampling.value_or(recipe.kind->oversampling);
}

double rateOf(const Recipe& recipe, const std::string& clip) {
    for (const ClipChoice& choice : recipe.clips) {
        if (choice.name == clip && choice.fps > 0.0) {
            return choice.fps;
        }
    }
    return recipe.fps;
}

Closing closingOf(const Recipe& recipe, const std::string& clip) {
    for (const ClipChoice& choice : recipe.clips) {
        if (choice.name == clip) {
            return choice.closing.value_or(recipe.closing);
        }
    }
    return recipe.closing;
}

namespace {

/// But for what is no matter to the poses: names that are shipped, and what players do at the end.
bool clipsAlike(const std::vector<ClipChoice>& a, const std::vector<ClipChoice>& b) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const ClipChoice& x, const ClipChoice& y) {
        return x.name == y.name && x.window == y.window && x.closing == y.closing && x.fps == y.fps;
    });
}

} // namespace

bool samplesAlike(const Recipe& a, const Recipe& b) {
    // Which clips fade is among the clips; how long counts where any does.
    bool fades = a.closing == Closing::fade;
    for (const ClipChoice& clip : a.clips) {
        fades = fades || clip.closing == Closing::fade;
    }
    const bool fadesAlike = !fades || a.fadeFrames == b.fadeFrames;
    const bool keepsAlike =
        a.thin == b.thin && (a.thin > 0.0 || a.step == b.step) && oversamplingOf(a) == oversamplingOf(b);
    return clipsAlike(a.clips, b.clips) && keepsAlike && a.fps == b.fps && a.closing == b.closing &&
           fadesAlike;
}

} // namespace ripple::bake
