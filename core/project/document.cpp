#include "project/document.h"

#include "base/files.h"
#include "base/json_section.h"
#include "base/text.h"
#include "base/unfinished.h"
#include "motion/score_file.h"
#include "project/paths.h"
#include "project/recipe_section.h"
#include "project/scatter_section.h"

#include <algorithm>
#include <limits>

namespace ripple::project {

namespace {

using Json = nlohmann::ordered_json;
using Section = base::JsonSection;

constexpr const char* kFormat = "curly-ripple-project";
constexpr int kVersion = 7;

/// Version 1 knew one mesh by name, and kept the rate of a sequence with the bake.
void migrateFirst(const Section& source, Document& document) {
    const std::string mesh = source.get("mesh", "");
    if (!mesh.empty()) {
        document.source.reading.meshes = {mesh};
    }
    if (base::extensionOf(document.source.path) == ".obj") {
        document.source.reading.time.rate = std::max(document.recipe.fps, 0.0);
        document.recipe.fps = 0.0;
    }
}

bake::Tolerance toleranceIn(const Section& root) {
    bake::Tolerance tolerance;
    tolerance.share = root.get("tolerance_of_size", tolerance.share);
    if (root.has("tolerance_m")) {
        tolerance.length = root.get("tolerance_m", 0.0);
    }
    if (!(tolerance.metres(1.0) > 0.0)) {
        base::fail(root.where(), "the tolerance is not over 0", kAdvice);
    }
    return tolerance;
}

SourceChoice sourceIn(const Section& section, const std::filesystem::path& base) {
    SourceChoice source;
    source.path = absolute(pathIn(section, "path"), base);
    const Section reading = section.part("reading");
    source.reading = source::parseReading(reading.json().dump(), reading.where());
    if (section.has("shape")) {
        const Section shape = section.object("shape");
        source.shape = {shape.get("kind", ""), shape.get("size", 1.0), positive(shape, "across", 16),
                        positive(shape, "along", 16)};
    }
    return source;
}

View viewIn(const Section& section) {
    View view;
    view.bench = section.get("bench", view.bench);
    view.look = section.get("look", view.look);
    view.uvSet = section.get("uv_set", view.uvSet);
    view.channel = section.get("channel", view.channel);
    view.error = section.get("error", view.error);
    view.probe = section.get("probe", view.probe);
    view.language = section.get("language", view.language);
    view.pixelsHigh = section.within("pixels_high", view.pixelsHigh, 10.0, 8000.0);
    view.voice = section.get("voice", view.voice);
    view.curtain = section.get("curtain", view.curtain);
    return view;
}

} // namespace

std::string Document::assetName() const {
    if (source.shape) {
        return source.shape->kind;
    }
    if (source.path.empty()) {
        return "untitled";
    }
    std::string name = std::filesystem::path(source.path).stem().string();
    while (!name.empty() && (name.back() == '#' || name.back() == '_' || name.back() == '-' ||
                             name.back() == '.' || (name.back() >= '0' && name.back() <= '9'))) {
        name.pop_back();
    }
    return name.empty() ? "untitled" : name;
}

std::string documentText(const Document& document, const std::filesystem::path& folder) {
    const std::filesystem::path base = whole(folder);
    Json root;
    root["format"] = kFormat;
    root["version"] = kVersion;
    root["source"] = Json::object();
    putPath(root["source"], "path", relative(document.source.path, base));
    root["source"]["reading"] = Json::parse(source::readingText(document.source.reading));
    if (const auto& shape = document.source.shape) {
        root["source"]["shape"] = {
            {"kind", shape->kind}, {"size", shape->size}, {"across", shape->across}, {"along", shape->along}};
    }
    root["bake"] = recipeJson(document.recipe);
    if (document.tolerance.length) {
        root["tolerance_m"] = *document.tolerance.length;
    } else {
        root["tolerance_of_size"] = document.tolerance.share;
    }
    root["score"] = Json::parse(motion::scoreText(document.score));
    root["score_on_top"] = document.scoreOnTop;
    root["ship"] = Json::object();
    putPath(root["ship"], "folder", relative(document.ship.folder, base));
    root["ship"]["name"] = document.ship.name;
    root["ship"]["as_code"] = document.ship.asCode;
    root["ship"]["exact_sine"] = document.ship.exactSine;
    root["ship"]["half"] = document.ship.half;
    root["ship"]["target"] = bundle::targetJson(document.ship.target);
    root["ship"]["page"] = bundle::name(document.ship.page);
    root["targets"] = Json::array();
    for (const bundle::Target& target : document.targets) {
        root["targets"].push_back(bundle::targetJson(target));
    }
    root["ship"]["store_masks"] = document.ship.storeMasks;
    root["scatter"] = scatterJson(document.scatter, base);
    root["view"] = {{"bench", document.view.bench},       {"look", document.view.look},
                    {"uv_set", document.view.uvSet},      {"channel", document.view.channel},
                    {"error", document.view.error},       {"curtain", document.view.curtain},
                    {"voice", document.view.voice},       {"probe", document.view.probe},
                    {"language", document.view.language}, {"pixels_high", document.view.pixelsHigh}};
    return root.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

Document parseDocument(const std::string& text, const std::filesystem::path& folder,
                       const std::string& where) {
    Json root;
    try {
        root = Json::parse(text);
    } catch (const Json::parse_error& error) {
        base::fail(where, "its JSON is damaged at byte " + std::to_string(error.byte),
                   "restore it from a copy");
    } catch (const Json::exception&) {
        base::fail(where, "its JSON holds a number that is too large", "restore it from a copy");
    }
    if (!root.is_object() || root.value("format", Json("")) != kFormat) {
        base::fail(where, "is not a Curly Ripple project",
                   "open a .curly file, or a source with \"Open source\"");
    }
    const Section section(root, where, kAdvice);
    const int version = section.get("version", 0);
    if (version < 1 || version > kVersion) {
        base::fail(where,
                   "is of version " + std::to_string(version) + ", this program knows up to " +
                       std::to_string(kVersion),
                   "update Curly Ripple");
    }
    const std::filesystem::path base = whole(folder);
    Document document;
    document.source = sourceIn(section.part("source"), base);
    document.recipe = parseRecipe(section.part("bake"));
    if (version == 1) {
        migrateFirst(section.part("source"), document);
    }
    document.tolerance = toleranceIn(section);
    if (section.has("score")) {
        const Section score = section.object("score");
        document.score = motion::parseScore(score.json().dump(), score.where());
        motion::giveIds(document.score); // voices are edited by them
    }
    document.scoreOnTop = section.get("score_on_top", document.scoreOnTop);
    const Section ship = section.part("ship");
    document.ship.folder = absolute(pathIn(ship, "folder"), base);
    document.ship.name = ship.get("name", "");
    document.ship.asCode = ship.get("as_code", false);
    document.ship.exactSine = ship.get("exact_sine", false);
    document.ship.half = ship.get("half", false);
    document.ship.target = bundle::parseTarget(ship.part("target"));
    const auto page = bundle::pageByName(ship.get("page", bundle::name(document.ship.page)));
    if (!page) {
        ship.refuse("page", "it must be none, beside or inside");
    }
    document.ship.page = *page;
    if (section.has("targets")) {
        for (const Section& own : section.list("targets")) {
            document.targets.push_back(bundle::parseTarget(own));
        }
    }
    document.ship.storeMasks = ship.get("store_masks", false);
    document.scatter = parseScatter(section.part("scatter"), base);
    document.view = viewIn(section.part("view"));
    return document;
}

void saveDocument(const Document& document, const std::filesystem::path& file) {
    base::replaceFile(file, documentText(document, whole(file).parent_path()));
}

Document loadDocument(const std::filesystem::path& file) {
    const base::Bytes bytes = base::readFile(file);
    return parseDocument(std::string(base::asText(bytes)), whole(file).parent_path(),
                         file.filename().string());
}

} // namespace ripple::project
