#include "project/document.h"

#include "bake/store.h"
#include "bake/kind.h"
#include "base/files.h"
#include "base/problem.h"
#include "base/text.h"
#include "base/unfinished.h"
#include "motion/score_file.h"

#include <algorithm>

#include <nlohmann/json.hpp>

namespace ripple::project {

namespace {

using Json = nlohmann::ordered_json;

constexpr const char* kFormat = "curly-ripple-project";
constexpr int kVersion = 4;

std::string relative(const std::string& path, const std::filesystem::path& folder) {
    if (path.empty()) {
        return path;
    }
    const std::filesystem::path near = std::filesystem::path(path).lexically_relative(folder);
    return near.empty() ? path : near.generic_string();
}

std::string absolute(const std::string& path, const std::filesystem::path& folder) {
    return path.empty() ? path : (folder / path).lexically_normal().string();
}

/// Paths are bytes and JSON is text: one that is no UTF-8 is written percent-encoded, under another key.
void putPath(Json& json, const std::string& key, const std::string& path) {
    const bool text = base::likelyUtf8(path) == path;
    json[text ? key : key + "_bytes"] = text ? path : base::percentEncoded(path);
}

std::filesystem::path whole(const std::filesystem::path& folder) {
    return std::filesystem::absolute(folder).lexically_normal();
}

template <typename T>
T value(const Json& json, const char* key, T otherwise, const std::string& where) {
    if (!json.contains(key)) {
        return otherwise; // absent: the default of this version
    }
    try {
        return json.at(key).get<T>();
    } catch (const Json::exception&) {
        base::fail(where,
                   std::string("\"") + key + "\" holds " + json.at(key).dump() +
                       ", which is not possible there",
                   "correct it by hand or start a new project");
    }
}

std::string pathIn(const Json& json, const std::string& key, const std::string& where) {
    const auto bytes = value<std::string>(json, (key + "_bytes").c_str(), "", where);
    return bytes.empty() ? value<std::string>(json, key.c_str(), "", where) : base::percentDecoded(bytes);
}

std::size_t positive(const Json& json, const char* key, std::size_t otherwise, const std::string& where) {
    const auto number = value<long long>(json, key, static_cast<long long>(otherwise), where);
    if (number < 1) {
        base::fail(where, std::string("\"") + key + "\" is " + std::to_string(number),
                   "it must be at least 1");
    }
    return static_cast<std::size_t>(number);
}

/// One of a list of names.
template <typename Value>
Value named(const Json& json, const char* key, Value otherwise,
            std::optional<Value> (*byName)(const std::string&), const std::string& where) {
    const auto text = value<std::string>(json, key, bake::name(otherwise), where);
    const auto found = byName(text);
    if (!found) {
        base::fail(where, std::string("\"") + key + "\" is \"" + text + "\", which is not possible there",
                   "correct it by hand");
    }
    return *found;
}

const Json& section(const Json& root, const char* key) {
    static const Json kEmpty = Json::object();
    return root.contains(key) && root.at(key).is_object() ? root.at(key) : kEmpty;
}

Json recipeJson(const bake::Recipe& recipe) {
    Json clips = Json::array();
    for (const bake::ClipChoice& clip : recipe.clips) {
        Json entry = {{"name", clip.name}};
        if (clip.window) {
            entry["first_frame"] = clip.window->first;
            entry["last_frame"] = clip.window->last;
        }
        if (clip.closing) {
            entry["closing"] = bake::name(*clip.closing);
        }
        clips.push_back(entry);
    }
    return {{"clips", clips},
            {"step", recipe.step},
            {"thin_m", recipe.thin},
            {"fps", recipe.fps},
            {"closing", bake::name(recipe.closing)},
            {"fade_frames", recipe.fadeFrames},
            {"kind", recipe.kind->id},
            {"shapes", recipe.shapes},
            {"content", bake::name(recipe.content)},
            {"position_store", recipe.positionStore},
            {"normal_store", recipe.normalStore},
            {"normals_in_alpha", recipe.normalsInAlpha},
            {"tangents", recipe.tangents},
            {"range_per_clip", recipe.rangePerClip},
            {"max_width", recipe.maxWidth},
            {"power_of_two", recipe.powerOfTwo},
            {"lookup_uv_set", recipe.lookupUvSet ? Json(*recipe.lookupUvSet) : Json(nullptr)},
            {"half_uvs", recipe.halfUvs}};
}

bake::Recipe parseRecipe(const Json& json, const std::string& where) {
    bake::Recipe recipe;
    for (const Json& entry : json.value("clips", Json::array())) {
        bake::ClipChoice clip;
        clip.name = value<std::string>(entry, "name", "", where + ": bake clips");
        if (entry.contains("first_frame") && entry.contains("last_frame")) {
            const auto first = value<long long>(entry, "first_frame", 0, where);
            const auto last = value<long long>(entry, "last_frame", 0, where);
            if (first < 0 || last < first) {
                base::fail(where, "the window of clip \"" + clip.name + "\" is not possible",
                           "choose it again");
            }
            clip.window = {static_cast<std::size_t>(first), static_cast<std::size_t>(last)};
        }
        if (entry.contains("closing")) {
            clip.closing = named(entry, "closing", bake::Closing::drop, &bake::closingByName, where);
        }
        recipe.clips.push_back(std::move(clip));
    }
    recipe.step = positive(json, "step", recipe.step, where);
    recipe.fps = value(json, "fps", recipe.fps, where);
    recipe.thin = value(json, "thin_m", recipe.thin, where);
    // Up to version 2 there was only the choice to drop the repeated frame or not.
    recipe.closing = value(json, "drop_repeated", true, where) ? bake::Closing::drop : bake::Closing::asIs;
    recipe.closing = named(json, "closing", recipe.closing, &bake::closingByName, where);
    recipe.fadeFrames = positive(json, "fade_frames", recipe.fadeFrames, where);
    const auto kind = value<std::string>(json, "kind", recipe.kind->id, where);
    recipe.kind = bake::kindByName(kind);
    if (!recipe.kind) {
        base::fail(where, "\"kind\" is \"" + kind + "\", which is not possible there", "correct it by hand");
    }
    recipe.shapes = positive(json, "shapes", recipe.shapes, where);
    recipe.content = named(json, "content", recipe.content, &bake::contentByName, where);
    recipe.normalsInAlpha = value(json, "normals_in_alpha", recipe.normalsInAlpha, where);
    recipe.tangents = value(json, "tangents", recipe.tangents, where);
    recipe.rangePerClip = value(json, "range_per_clip", recipe.rangePerClip, where);
    recipe.powerOfTwo = value(json, "power_of_two", recipe.powerOfTwo, where);
    if (json.contains("lookup_uv_set") && !json["lookup_uv_set"].is_null()) {
        recipe.lookupUvSet = value(json, "lookup_uv_set", std::size_t{0}, where);
    }
    recipe.halfUvs = value(json, "half_uvs", recipe.halfUvs, where);
    recipe.positionStore =
        bake::positionStore(value(json, "position_store", recipe.positionStore, where)).name;
    recipe.normalStore = bake::normalStore(value(json, "normal_store", recipe.normalStore, where)).name;
    recipe.maxWidth = positive(json, "max_width", recipe.maxWidth, where);
    // Older versions kept choices that the kind does not store, and left them out of the bake.
    return bake::withKind(recipe, *recipe.kind);
}

/// Version 1 knew one mesh by name, and kept the rate of a sequence with the bake.
void migrateFirst(const Json& source, const std::string& where, Document& document) {
    const auto mesh = value<std::string>(source, "mesh", "", where);
    if (!mesh.empty()) {
        document.source.reading.meshes = {mesh};
    }
    if (base::extensionOf(document.source.path) == ".obj") {
        document.source.reading.time.rate = std::max(document.recipe.fps, 0.0);
        document.recipe.fps = 0.0;
    }
}

bake::Tolerance toleranceIn(const Json& root, const std::string& where) {
    bake::Tolerance tolerance;
    tolerance.share = value(root, "tolerance_of_size", tolerance.share, where);
    if (root.contains("tolerance_m")) {
        tolerance.length = value(root, "tolerance_m", 0.0, where);
    }
    if (!(tolerance.metres(1.0) > 0.0)) {
        base::fail(where, "the tolerance is not over 0", "correct it by hand");
    }
    return tolerance;
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
    root["view"] = {{"bench", document.view.bench},  {"look", document.view.look},
                    {"uv_set", document.view.uvSet}, {"channel", document.view.channel},
                    {"error", document.view.error},  {"curtain", document.view.curtain},
                    {"voice", document.view.voice},  {"probe", document.view.probe}};
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
    const int version = value(root, "version", 0, where);
    if (version < 1 || version > kVersion) {
        base::fail(where,
                   "is of version " + std::to_string(version) + ", this program knows up to " +
                       std::to_string(kVersion),
                   "update Curly Ripple");
    }
    const std::filesystem::path base = whole(folder);
    Document document;
    const Json& source = section(root, "source");
    document.source.path = absolute(pathIn(source, "path", where), base);
    document.source.reading = source::parseReading(section(source, "reading").dump(), where + ": reading");
    if (source.contains("shape")) {
        const Json& shape = section(source, "shape");
        document.source.shape = {value<std::string>(shape, "kind", "", where),
                                 value(shape, "size", 1.0, where), positive(shape, "across", 16, where),
                                 positive(shape, "along", 16, where)};
    }
    document.recipe = parseRecipe(section(root, "bake"), where);
    if (version == 1) {
        migrateFirst(source, where, document);
    }
    document.tolerance = toleranceIn(root, where);
    if (root.contains("score")) {
        document.score = motion::parseScore(section(root, "score").dump(), where + ": score");
        motion::giveIds(document.score); // voices are edited by them
    }
    document.scoreOnTop = value(root, "score_on_top", document.scoreOnTop, where);
    const Json& ship = section(root, "ship");
    document.ship.folder = absolute(pathIn(ship, "folder", where), base);
    document.ship.name = value<std::string>(ship, "name", "", where);
    const Json& view = section(root, "view");
    document.view.bench = value(view, "bench", document.view.bench, where);
    document.view.look = value(view, "look", document.view.look, where);
    document.view.uvSet = value(view, "uv_set", document.view.uvSet, where);
    document.view.channel = value(view, "channel", document.view.channel, where);
    document.view.error = value(view, "error", document.view.error, where);
    document.view.probe = value(view, "probe", document.view.probe, where);
    document.view.voice = value(view, "voice", document.view.voice, where);
    document.view.curtain = value(view, "curtain", document.view.curtain, where);
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
