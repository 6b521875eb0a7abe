#include "bundle/manifest.h"

#include "base/version.h"

#include <array>
#include <charconv>
#include <cmath>

#include <nlohmann/json.hpp>

namespace ripple::bundle {

namespace {

using Json = nlohmann::ordered_json;

constexpr const char* kFormat = "curly-ripple-bundle";
constexpr int kVersion = 1;

Json vec3(const glm::vec3& v) {
    // Through double, so that the shortest text that gives the same double is written; it gives the same
    // float.
    return Json::array({static_cast<double>(v.x), static_cast<double>(v.y), static_cast<double>(v.z)});
}

/// Six digits say all there is about a measured error.
double rounded(double value) {
    std::array<char, 64> text{};
    const auto end =
        std::to_chars(text.data(), text.data() + text.size(), value, std::chars_format::general, 6);
    double result = 0.0;
    std::from_chars(text.data(), end.ptr, result);
    return result;
}

Json importJson(const ImportSettings& import) {
    return {{"colour_space", import.colourSpace}, {"mip_maps", import.mipMaps}, {"filter", import.filter},
            {"compression", import.compression},  {"address", import.address},  {"resize", import.resize}};
}

/// Reads values out of JSON and names the key that is wrong.
class Section {
public:
    Section(const Json& json, std::string where) : json_(json), where_(std::move(where)) {}

    Section object(const char* key) const {
        const Json& value = need(key);
        if (!value.is_object()) {
            wrong(key, "is not an object");
        }
        return {value, where_ + ": " + key};
    }
    std::vector<Section> list(const char* key) const {
        const Json& value = need(key);
        if (!value.is_array()) {
            wrong(key, "is not a list");
        }
        std::vector<Section> items;
        for (std::size_t i = 0; i < value.size(); ++i) {
            items.push_back({value[i], where_ + ": " + key + "[" + std::to_string(i) + "]"});
        }
        return items;
    }
    std::string text(const char* key) const {
        const Json& value = need(key);
        if (!value.is_string()) {
            wrong(key, "is not a text");
        }
        return value.get<std::string>();
    }
    std::string json(const char* key) const { return need(key).dump(); }
    std::string text() const {
        if (!json_.is_string()) {
            base::fail(where_, "is not a text", kAdvice);
        }
        return json_.get<std::string>();
    }
    bool has(const char* key) const { return json_.is_object() && json_.contains(key); }
    bool flag(const char* key) const {
        const Json& value = need(key);
        if (!value.is_boolean()) {
            wrong(key, "is neither true nor false");
        }
        return value.get<bool>();
    }
    double number(const char* key) const {
        const Json& value = need(key);
        if (!value.is_number() || !std::isfinite(value.get<double>())) {
            wrong(key, "is not a finite number");
        }
        return value.get<double>();
    }
    std::size_t count(const char* key, std::size_t most) const {
        const Json& value = need(key);
        if (!value.is_number_unsigned() || value.get<std::uint64_t>() > most) {
            wrong(key, "is not a whole number from 0 to " + std::to_string(most));
        }
        return value.get<std::size_t>();
    }
    glm::vec3 vector(const char* key) const {
        const Json& value = need(key);
        if (!value.is_array() || value.size() != 3 || !value[0].is_number() || !value[1].is_number() ||
            !value[2].is_number()) {
            wrong(key, "is not a list of three numbers");
        }
        return {value[0].get<float>(), value[1].get<float>(), value[2].get<float>()};
    }
    [[noreturn]] void wrong(const char* key, const std::string& what) const {
        base::fail(where_, std::string("\"") + key + "\" " + what, kAdvice);
    }

private:
    static constexpr const char* kAdvice = "write the bundle again";

    const Json& need(const char* key) const {
        if (!has(key)) {
            wrong(key, "is missing");
        }
        return json_[key];
    }

    const Json& json_;
    std::string where_;
};

constexpr std::size_t kMost = std::size_t{1} << 40;

void parseTextures(const Section& root, Manifest& manifest) {
    bake::TextureSet& set = manifest.textures;
    const Section texture = root.object("texture");
    set.layout.columns = texture.count("columns", kMost);
    set.layout.width = texture.count("width", bake::kLargestTexture);
    set.layout.rowsPerFrame = texture.count("rows_per_frame", bake::kLargestTexture);
    set.layout.frames = texture.count("frames", bake::kLargestTexture);
    const std::size_t height = texture.count("height", bake::kLargestTexture);
    if (set.layout.width == 0 || set.layout.rowsPerFrame == 0 || set.layout.frames == 0 ||
        set.layout.columns == 0 || set.layout.columns > set.layout.width * set.layout.rowsPerFrame ||
        height != set.layout.height()) {
        texture.wrong("height", "does not fit columns, width, rows and frames");
    }
    const Section position = root.object("position");
    const auto content = bake::contentByName(position.text("content"));
    if (!content) {
        position.wrong("content", "is neither absolute nor offset");
    }
    set.content = *content;
    set.positionStore = bake::positionStore(position.text("store"));
    if (set.positionStore.usesRange) {
        set.range = {position.vector("min"), position.vector("max")};
    }
    const auto positionFiles = position.list("files");
    if (positionFiles.size() != 1) {
        position.wrong("files", "must name one file");
    }
    manifest.positionFile = positionFiles[0].text();
    const Section normal = root.object("normal");
    set.normalStore = bake::normalStore(normal.text("store"));
    const auto normalFiles = normal.list("files");
    if (normalFiles.size() != (set.normalStore.stored() ? 1u : 0u)) {
        normal.wrong("files", "does not fit the store");
    }
    if (!normalFiles.empty()) {
        manifest.normalFile = normalFiles[0].text();
    }
}

bake::BakedClip parseClip(const Section& from, std::size_t frames) {
    bake::BakedClip clip;
    clip.name = from.text("name");
    clip.firstFrame = from.count("first_frame", frames);
    clip.frames = from.count("frames", frames);
    clip.fps = from.number("fps");
    clip.closed = from.flag("closed");
    if (clip.frames == 0 || clip.firstFrame + clip.frames > frames || clip.fps <= 0.0) {
        from.wrong("frames", "does not fit the texture");
    }
    if (from.has("source_frame")) {
        clip.sourceFrame = from.number("source_frame");
        clip.sourceStep = from.number("source_step");
    }
    return clip;
}

} // namespace

std::string manifestText(const Manifest& manifest) {
    const bake::TextureSet& set = manifest.textures;
    Json root;
    root["format"] = kFormat;
    root["version"] = kVersion;
    root["generator"] = base::generatorName();
    root["name"] = manifest.name;
    root["convention"] = {{"up", "+Y"},
                          {"forward", "+Z"},
                          {"handedness", "right"},
                          {"unit_metres", 1.0},
                          {"uv_origin", "top-left"}};
    root["mesh"] = {{"file", manifest.meshFile},
                    {"vertices", manifest.vertices},
                    {"triangles", manifest.triangles},
                    {"lookup_uv_set", manifest.lookupUvSet}};
    root["kind"] = "vertices";
    root["texture"] = {{"columns", set.layout.columns},
                       {"width", set.layout.width},
                       {"height", set.layout.height()},
                       {"rows_per_frame", set.layout.rowsPerFrame},
                       {"frames", set.layout.frames}};
    Json position = {{"content", bake::name(set.content)},
                     {"store", set.positionStore.name},
                     {"files", Json::array({manifest.positionFile})}};
    if (set.positionStore.usesRange) {
        position["min"] = vec3(set.range.min);
        position["max"] = vec3(set.range.max);
    }
    root["position"] = position;
    Json normalFiles = Json::array();
    if (!manifest.normalFile.empty()) {
        normalFiles.push_back(manifest.normalFile);
    }
    root["normal"] = {{"store", set.normalStore.name}, {"files", normalFiles}};
    root["clips"] = Json::array();
    for (const bake::BakedClip& clip : set.clips) {
        root["clips"].push_back({{"name", clip.name},
                                 {"first_frame", clip.firstFrame},
                                 {"frames", clip.frames},
                                 {"fps", clip.fps},
                                 {"closed", clip.closed},
                                 {"source_frame", clip.sourceFrame},
                                 {"source_step", clip.sourceStep}});
    }
    root["bounds"] = {{"min", vec3(manifest.bounds.min)}, {"max", vec3(manifest.bounds.max)}};
    root["error"] = {{"position_max_m", rounded(manifest.error.all.max)},
                     {"position_rms_m", rounded(manifest.error.all.rms)},
                     {"normal_max_deg", rounded(manifest.error.normalMaxDegrees)}};
    root["source"] = {{"reading", Json::parse(source::readingText(manifest.sourceReading))},
                      {"fps", manifest.sourceFps},
                      {"step", manifest.sourceStep}};
    root["files"] = Json::array();
    for (const FileEntry& file : manifest.files) {
        Json entry = {{"file", file.file}, {"sha256", file.sha256}, {"bytes", file.bytes}};
        if (file.isTexture) {
            entry["import"] = importJson(file.import);
        }
        root["files"].push_back(entry);
    }
    return root.dump(2) + "\n";
}

Manifest parseManifest(const std::string& text, const std::string& where) {
    Json json;
    try {
        json = Json::parse(text);
    } catch (const Json::parse_error& error) {
        base::fail(where, "its JSON is damaged at byte " + std::to_string(error.byte),
                   "write the bundle again");
    } catch (const Json::exception&) {
        base::fail(where, "its JSON holds a number that is too large", "write the bundle again");
    }
    const Section root(json, where);
    if (!root.has("format") || root.text("format") != kFormat) {
        base::fail(where, "is not the manifest of a bundle", std::string("its format must be ") + kFormat);
    }
    if (root.count("version", kMost) > kVersion) {
        base::fail(where,
                   "is of version " + std::to_string(root.count("version", kMost)) +
                       ", newer than this program",
                   "update Curly Ripple, or write the bundle again");
    }
    if (root.text("kind") != "vertices") {
        base::fail(where, "holds a bake of kind \"" + root.text("kind") + "\", which this version can't read",
                   "update Curly Ripple");
    }
    Manifest manifest;
    manifest.generator = root.text("generator");
    manifest.name = root.text("name");
    const Section mesh = root.object("mesh");
    manifest.meshFile = mesh.text("file");
    manifest.vertices = mesh.count("vertices", kMost);
    manifest.triangles = mesh.count("triangles", kMost);
    manifest.lookupUvSet = mesh.count("lookup_uv_set", 64);
    parseTextures(root, manifest);
    for (const Section& clip : root.list("clips")) {
        manifest.textures.clips.push_back(parseClip(clip, manifest.textures.layout.frames));
    }
    if (manifest.textures.clips.empty()) {
        root.wrong("clips", "is empty");
    }
    const Section bounds = root.object("bounds");
    manifest.bounds = {bounds.vector("min"), bounds.vector("max")};
    const Section error = root.object("error");
    manifest.error.all.max = error.number("position_max_m");
    manifest.error.all.rms = error.number("position_rms_m");
    manifest.error.normalMaxDegrees = error.number("normal_max_deg");
    if (root.has("source")) {
        const Section source = root.object("source");
        manifest.sourceReading = source::parseReading(source.json("reading"), where + ": source.reading");
        manifest.sourceFps = source.number("fps");
        manifest.sourceStep = source.count("step", kMost);
    }
    for (const Section& from : root.list("files")) {
        FileEntry file;
        file.file = from.text("file");
        file.sha256 = from.text("sha256");
        file.bytes = from.count("bytes", kMost);
        if (from.has("import")) {
            const Section import = from.object("import");
            file.isTexture = true;
            file.import = {import.text("colour_space"), import.flag("mip_maps"), import.text("filter"),
                           import.text("compression"),  import.text("address"),  import.flag("resize")};
        }
        manifest.files.push_back(std::move(file));
    }
    return manifest;
}

} // namespace ripple::bundle
