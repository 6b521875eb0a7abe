#include "bundle/target.h"

#include "base/files.h"
#include "base/unfinished.h"
#include "base/units.h"
#include "emit/dialect.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace ripple::bundle {

namespace {

using Json = nlohmann::ordered_json;

constexpr const char* kTargetFormat = "curly-ripple-target";
constexpr const char* kTargetAdvice = "write the target again, or take a ready one";

struct NamedUnit {
    double metres;
    const char* name;
};
constexpr std::array kUnits = {NamedUnit{1.0, "metres"}, NamedUnit{0.01, "centimetres"},
                               NamedUnit{0.001, "millimetres"}, NamedUnit{0.0254, "inches"},
                               NamedUnit{0.3048, "feet"}};

/// Which of the engine's axes is our +Y: "Z up", "−Z up".
std::string upWords(const mesh::AxisMap& axes) {
    const std::string up = axes.back().letters()[1];
    return (up[0] == '-' ? "−" : "") + up.substr(1) + " up";
}

bool names(const std::vector<std::string>& list, const char* what) {
    return std::find(list.begin(), list.end(), what) != list.end();
}

Target ready(const std::array<std::string, 3>& letters, double metres, bool fromBelow, bool clockwise) {
    Target target;
    target.axes = *mesh::axesByLetters(letters);
    target.metresPerUnit = metres;
    target.vFromBelow = target.rowsFromBelow = fromBelow;
    target.clockwise = clockwise;
    return target;
}

} // namespace

mesh::AxisMap Target::space() const {
    mesh::AxisMap map = axes;
    map.unit = 1.0 / metresPerUnit;
    return map;
}

bake::Recipe Target::fitted(bake::Recipe recipe) const {
    recipe.halfUvs = recipe.halfUvs || halfUvs;
    recipe.maxWidth = std::min(recipe.maxWidth, maxWidth);
    return recipe;
}

void Target::putInto(bake::BakeFormat& format) const {
    format.space = space();
    format.rowsFromBelow = rowsFromBelow;
    format.vFromBelow = vFromBelow;
}

void Target::requireReadable(const bake::BakeFormat& format) const {
    for (const bake::TextureFormat& texture : format.textures) {
        const bool exr = std::string(bake::extensionOf(texture.pixel)) == ".exr";
        if (exr ? !readsExr : !readsPng) {
            base::fail("the target \"" + titleOf(*this) + "\"",
                       std::string("imports no ") + (exr ? "EXR" : "PNG") + " without loss, and the " +
                           texture.quantity->section + " texture is one",
                       exr ? "store positions as unorm16 or unorm8x2" : "store positions as half or float32");
        }
    }
}

std::string unitWords(const Target& target) {
    for (const NamedUnit& unit : kUnits) {
        if (std::abs(target.metresPerUnit - unit.metres) <= 1e-9 * unit.metres) {
            return unit.name;
        }
    }
    return "units of " + base::numberText(target.metresPerUnit) + " m";
}

std::string words(const Target& target) {
    std::string text = upWords(target.axes) + ", " + (target.axes.mirrors() ? "left" : "right") +
                       "-handed, " + unitWords(target);
    if (target.vFromBelow) {
        text += ", V from below";
    }
    return text;
}

std::string titleOf(const Target& target) {
    return target.name.empty() ? words(target) : target.name;
}

std::vector<const emit::Dialect*> dialectsOf(const Target& target) {
    std::vector<const emit::Dialect*> chosen;
    for (const emit::Dialect* dialect : emit::dialects()) {
        if (names(target.languages, dialect->id())) {
            chosen.push_back(dialect);
        }
    }
    return chosen;
}

const std::vector<Target>& readyTargets() {
    static const std::vector<Target> kReady = {
        Target{},
        ready({"+X", "+Y", "-Z"}, 1.0, true, true),
        ready({"+X", "-Z", "+Y"}, 1.0, false, false),
        ready({"+Z", "+X", "+Y"}, 0.01, false, false),
        ready({"+X", "+Z", "+Y"}, 0.01, false, true),
    };
    return kReady;
}

Json targetJson(const Target& target) {
    Json images = Json::array();
    if (target.readsExr) {
        images.push_back("exr");
    }
    if (target.readsPng) {
        images.push_back("png");
    }
    return {{"name", titleOf(target)},
            {"axes", target.axes.letters()},
            {"unit_metres", target.metresPerUnit},
            {"uv_origin", target.vFromBelow ? "bottom-left" : "top-left"},
            {"first_row", target.rowsFromBelow ? "bottom" : "top"},
            {"uv_numbering", target.firstUvSet},
            {"winding", target.clockwise ? "clockwise" : "counterclockwise"},
            {"half_uvs", target.halfUvs},
            {"max_width", target.maxWidth},
            {"images", images},
            {"language", target.languages},
            {"time", target.bySeconds ? "seconds" : "turn"}};
}

namespace {

/// One of two words.
bool either(const base::JsonSection& section, const char* key, const char* no, const char* yes) {
    const std::string text = section.get(key, no);
    if (text != no && text != yes) {
        section.refuse(key, std::string("it must be \"") + no + "\" or \"" + yes + "\"");
    }
    return text == yes;
}

} // namespace

Target parseTarget(const base::JsonSection& section) {
    Target target;
    const auto letters = section.get("axes", std::vector<std::string>{"+X", "+Y", "+Z"});
    const auto axes = letters.size() == 3
                          ? mesh::axesByLetters(std::array{letters[0], letters[1], letters[2]})
                          : std::nullopt;
    if (!axes) {
        section.refuse("axes",
                       "it must name X, Y and Z once each with their signs: [\"+X\", \"-Z\", \"+Y\"]");
    }
    target.axes = *axes;
    target.metresPerUnit = section.within("unit_metres", 1.0, 1e-6, 1e6);
    target.vFromBelow = either(section, "uv_origin", "top-left", "bottom-left");
    target.rowsFromBelow = either(section, "first_row", "top", "bottom");
    target.firstUvSet = section.within("uv_numbering", std::size_t{0}, std::size_t{0}, std::size_t{1});
    target.clockwise = either(section, "winding", "counterclockwise", "clockwise");
    target.halfUvs = section.get("half_uvs", false);
    target.maxWidth =
        section.within("max_width", bake::kLargestTexture, std::size_t{1}, bake::kLargestTexture);
    const auto images = section.get("images", std::vector<std::string>{"exr", "png"});
    target.readsExr = names(images, "exr");
    target.readsPng = names(images, "png");
    if (!target.readsExr && !target.readsPng) {
        section.refuse("images", "it must name \"exr\", \"png\" or both");
    }
    const std::vector<std::string> asked = section.get("language", target.languages);
    target.languages.clear();
    for (const emit::Dialect* dialect : emit::dialects()) {
        if (names(asked, dialect->id())) {
            target.languages.push_back(dialect->id());
        }
    }
    if (target.languages.empty() || target.languages.size() != asked.size()) {
        section.refuse("language", "it must name \"glsl\", \"hlsl\" or \"wgsl\"");
    }
    target.bySeconds = !either(section, "time", "seconds", "turn");
    target.name = section.get("name", "");
    if (target.name == words(target)) {
        target.name.clear();
    }
    return target;
}

std::string targetText(const Target& target) {
    Json root = {{"format", kTargetFormat}, {"version", 1}};
    root.update(targetJson(target));
    return root.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

Target parseTargetText(const std::string& text, const std::string& where) {
    const Json root = Json::parse(text, nullptr, false);
    if (!root.is_object() || root.value("format", Json()) != kTargetFormat) {
        base::fail(where, "is no target", std::string("its format must be ") + kTargetFormat);
    }
    if (root.value("version", Json()) != 1) {
        base::fail(where, "is of a version that this program does not know", "update Curly Ripple");
    }
    return parseTarget({root, where, kTargetAdvice});
}

void saveTarget(const Target& target, const std::filesystem::path& file) {
    base::replaceFile(file, targetText(target));
}

Target loadTarget(const std::filesystem::path& file) {
    const base::Bytes bytes = base::readFile(file);
    return parseTargetText(std::string(base::asText(bytes)), file.filename().string());
}

Target targetCalled(const std::string& nameOrFile) {
    std::size_t number = 0;
    const char* end = nameOrFile.data() + nameOrFile.size();
    const bool counted = std::from_chars(nameOrFile.data(), end, number).ptr == end;
    const std::vector<Target>& all = readyTargets();
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (words(all[i]) == nameOrFile || (counted && number == i + 1)) {
            return all[i];
        }
    }
    std::error_code error;
    if (!std::filesystem::exists(nameOrFile, error)) {
        base::fail("the target \"" + nameOrFile + "\"", "is neither a ready one nor a file",
                   "\"ripple target --list\" names the ready ones");
    }
    return loadTarget(nameOrFile);
}

Target targetByArrows(const std::array<std::string, 3>& arrows, double length) {
    // Where our axes lie in the engine's is the way back.
    const auto there = mesh::axesByLetters(arrows);
    if (!there || !(length > 0.0) || !std::isfinite(length)) {
        base::fail("the arrows",
                   there ? "can't be of that length" : "must lie along X, Y and Z of the engine, once each",
                   "say for the arrows X, Y and Z which way each points, as \"+X -Z +Y\", and the length of "
                   "one in the engine's units");
    }
    Target target;
    target.axes = there->back();
    target.metresPerUnit = 1.0 / length;
    target.clockwise = target.axes.mirrors();
    return target;
}

} // namespace ripple::bundle
