#include "bundle/manifest.h"

#include "base/files.h"
#include "base/version.h"
#include "bundle/clip_section.h"
#include "bundle/json_section.h"
#include "motion/score_file.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstring>

#include <nlohmann/json.hpp>

namespace ripple::bundle {

namespace {

using Json = nlohmann::ordered_json;

constexpr const char* kFormat = "curly-ripple-bundle";
constexpr int kVersion = 2;

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
            {"compression", import.compression},  {"address", import.address},  {"resize", import.resize},
            {"channels", import.channels}};
}

constexpr std::size_t kMost = std::size_t{1} << 40;

bake::Layout parseLayout(const Section& texture) {
    bake::Layout layout;
    layout.columns = texture.count("columns", kMost);
    layout.width = texture.count("width", bake::kLargestTexture);
    layout.rowsPerFrame = texture.count("rows_per_frame", bake::kLargestTexture);
    layout.frames = texture.count("frames", bake::kLargestTexture);
    const std::size_t height = texture.count("height", bake::kLargestTexture);
    const bool padded = texture.has("padded") && texture.flag("padded");
    if (layout.width == 0 || layout.rowsPerFrame == 0 || layout.frames == 0 || layout.columns == 0 ||
        layout.columns > layout.width * layout.rowsPerFrame || height < layout.usedHeight() ||
        (!padded && height != layout.usedHeight())) {
        texture.wrong("height", "does not fit columns, width, rows and frames");
    }
    layout.paddedHeight = padded ? height : 0;
    return layout;
}

/// The files of one quantity: as many as its store has planes.
void parseFiles(const Section& section, std::size_t count, std::vector<std::string>& files) {
    const auto names = section.list("files");
    if (names.size() != count) {
        section.wrong("files", "does not fit the store");
    }
    for (const Section& name : names) {
        files.push_back(name.text());
    }
}

void parseRanges(const Section& root, const Section& position, bake::TextureSet& set) {
    if (!set.positionStore.usesRange) {
        return;
    }
    if (position.has("min")) {
        set.ranges = {{position.vector("min"), position.vector("max")}};
        return;
    }
    set.ranges.clear();
    for (const Section& clip : root.list("clips")) {
        set.ranges.push_back({clip.vector("min"), clip.vector("max")});
    }
    if (set.ranges.size() < 2) {
        position.wrong("min", "is missing");
    }
}

void parseNormals(const Section& root, Manifest& manifest) {
    bake::TextureSet& set = manifest.textures;
    const Section normal = root.object("normal");
    set.normalStore = bake::normalStore(normal.text("store"));
    set.normalsInAlpha = normal.has("alpha") && normal.flag("alpha");
    if (set.normalsInAlpha && (!set.positionStore.holdsNormals() || set.kind != bake::Kind::vertices ||
                               set.normalStore.name != std::string(bake::kOct16Normals.name))) {
        normal.wrong("alpha", "does not fit the stores");
    }
    const bool own = set.hasNormals() && !set.normalsInAlpha && set.kind != bake::Kind::pieces;
    parseFiles(normal, own ? 1 : 0, manifest.textureFiles);
    if (root.has("tangent")) {
        if (set.kind != bake::Kind::vertices || !set.hasNormals()) {
            root.wrong("tangent", "does not fit the kind and the store of normals");
        }
        set.tangents = true;
        parseFiles(root.object("tangent"), 1, manifest.textureFiles);
    }
    if (set.kind == bake::Kind::shapes && set.hasNormals() && set.positionStore.usesRange) {
        set.normalRange = {normal.vector("min"), normal.vector("max")};
    }
}

void parseTextures(const Section& root, Manifest& manifest) {
    bake::TextureSet& set = manifest.textures;
    set.layout = parseLayout(root.object("texture"));
    const Section position = root.object("position");
    const auto content = bake::contentByName(position.text("content"));
    if (!content) {
        position.wrong("content", "is neither absolute nor offset");
    }
    set.content = *content;
    set.positionStore = bake::positionStore(position.text("store"));
    parseRanges(root, position, set);
    // The files come in the order of bake::expectedTextures().
    const std::size_t planes = set.positionStore.planes;
    parseFiles(position, planes, manifest.textureFiles);
    if (set.kind == bake::Kind::pieces) {
        const Section pieces = root.object("pieces");
        parseFiles(pieces, planes, manifest.textureFiles);
        manifest.pivotUvSet = pieces.count("pivot_uv_set", 64);
    }
    parseNormals(root, manifest);
    if (set.kind == bake::Kind::shapes) {
        if (planes != 1) {
            position.wrong("store", "does not hold shapes");
        }
        parseFiles(root.object("weights"), 1, manifest.textureFiles);
    }
}

/// The files of textures that hold one quantity.
Json filesOf(const Manifest& manifest, std::initializer_list<bake::Role> roles) {
    Json files = Json::array();
    for (std::size_t t = 0; t < manifest.textures.textures.size(); ++t) {
        if (std::find(roles.begin(), roles.end(), manifest.textures.textures[t].role) != roles.end()) {
            files.push_back(manifest.textureFiles[t]);
        }
    }
    return files;
}

void putTextures(Json& root, const Manifest& manifest) {
    const bake::TextureSet& set = manifest.textures;
    root["kind"] = bake::name(set.kind);
    root["texture"] = {{"columns", set.layout.columns},
                       {"width", set.layout.width},
                       {"height", set.layout.height()},
                       {"rows_per_frame", set.layout.rowsPerFrame},
                       {"frames", set.layout.frames}};
    if (set.layout.paddedHeight) {
        root["texture"]["padded"] = true;
    }
    Json position = {{"content", bake::name(set.content)},
                     {"store", set.positionStore.name},
                     {"files", filesOf(manifest, {bake::Role::position, bake::Role::positionLow})}};
    if (set.positionStore.usesRange && set.ranges.size() == 1) {
        position["min"] = vec3(set.ranges[0].min);
        position["max"] = vec3(set.ranges[0].max);
    }
    root["position"] = position;
    root["normal"] = {{"store", set.normalStore.name}, {"files", filesOf(manifest, {bake::Role::normal})}};
    if (set.normalsInAlpha) {
        root["normal"]["alpha"] = true;
    }
    if (set.tangents) {
        root["tangent"] = {{"store", set.normalStore.name},
                           {"files", filesOf(manifest, {bake::Role::tangent})}};
    }
    if (set.kind == bake::Kind::shapes) {
        if (set.hasNormals() && set.positionStore.usesRange) {
            root["normal"]["min"] = vec3(set.normalRange.min);
            root["normal"]["max"] = vec3(set.normalRange.max);
        }
        root["weights"] = {{"shapes", set.layout.frames},
                           {"frames", set.frameCount()},
                           {"files", filesOf(manifest, {bake::Role::weight})}};
    }
    if (set.kind == bake::Kind::pieces) {
        root["pieces"] = {{"pivot_uv_set", manifest.pivotUvSet},
                          {"files", filesOf(manifest, {bake::Role::rotation, bake::Role::rotationLow})}};
    }
}

Json convention() {
    return {{"up", "+Y"},
            {"forward", "+Z"},
            {"handedness", "right"},
            {"unit_metres", 1.0},
            {"uv_origin", "top-left"}};
}

constexpr const char* kDigest = "\"digest\": \"";

/// The text with its digest filled in; `text` ends in an empty one.
std::string sealed(std::string text) {
    const std::string digest = base::sha256(base::asBytes(text));
    return text.insert(text.rfind(kDigest) + std::strlen(kDigest), digest);
}

/// False if the text is another than the one that was sealed. Line ends do not count: version control changes
/// them. Manifests of older versions have no digest.
bool asSealed(std::string text, const Section& root) {
    if (!root.has("digest")) {
        return true;
    }
    const std::string digest = root.text("digest");
    std::erase(text, '\r');
    const std::size_t at = text.rfind(kDigest + digest + "\"");
    return at != std::string::npos &&
           base::sha256(base::asBytes(text.erase(at + std::strlen(kDigest), digest.size()))) == digest;
}

/// 1, unless a reader of version 1 would go wrong: it knows no frames at uneven times.
int versionOf(const bake::TextureSet& set) {
    const bool uneven = std::any_of(set.clips.begin(), set.clips.end(),
                                    [](const bake::BakedClip& clip) { return !clip.times.empty(); });
    return uneven ? kVersion : 1;
}

} // namespace

std::string manifestText(const Manifest& manifest) {
    const bake::TextureSet& set = manifest.textures;
    Json root;
    root["format"] = kFormat;
    root["version"] = versionOf(set);
    root["generator"] = base::generatorName();
    root["name"] = manifest.name;
    root["convention"] = convention();
    root["mesh"] = {{"file", manifest.meshFile},
                    {"vertices", manifest.vertices},
                    {"triangles", manifest.triangles},
                    {"lookup_uv_set", manifest.lookupUvSet}};
    putTextures(root, manifest);
    root["clips"] = Json::array();
    for (std::size_t c = 0; c < set.clips.size(); ++c) {
        root["clips"].push_back(clipJson(manifest, c));
    }
    root["bounds"] = boundsJson(manifest.bounds);
    root["error"] = {{"position_max_m", rounded(manifest.error.all.max)},
                     {"position_rms_m", rounded(manifest.error.all.rms)},
                     {"normal_max_deg", rounded(manifest.error.normalMaxDegrees)}};
    root["source"] = {{"reading", Json::parse(source::readingText(manifest.origin.reading))},
                      {"fps", manifest.sourceFps},
                      {"step", manifest.sourceStep}};
    if (std::any_of(set.clips.begin(), set.clips.end(),
                    [](const bake::BakedClip& clip) { return clip.sourceClosing == bake::Closing::fade; })) {
        root["source"]["fade"] = manifest.sourceFade;
    }
    if (manifest.origin.score) {
        root["source"]["score"] = Json::parse(motion::scoreText(*manifest.origin.score));
        root["source"]["score_on_top"] = manifest.origin.scoreOnTop;
    }
    root["files"] = Json::array();
    for (const FileEntry& file : manifest.files) {
        Json entry = {{"file", file.file}, {"sha256", file.sha256}, {"bytes", file.bytes}};
        if (file.isTexture) {
            entry["import"] = importJson(file.import);
        }
        root["files"].push_back(entry);
    }
    root["digest"] = "";
    return sealed(root.dump(2) + "\n");
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
    const std::size_t version = root.count("version", kMost);
    if (version < 1 || version > kVersion) {
        base::fail(where,
                   "is of version " + std::to_string(version) +
                       (version < 1 ? ", which there never was" : ", newer than this program"),
                   "update Curly Ripple, or write the bundle again");
    }
    const auto kind = bake::kindByName(root.text("kind"));
    if (!kind) {
        base::fail(where, "holds a bake of kind \"" + root.text("kind") + "\", which this version can't read",
                   "update Curly Ripple");
    }
    Manifest manifest;
    if (!asSealed(text, root)) {
        manifest.doubts.push_back(
            {where, "was changed after it was written", "take the change back, or write the bundle again"});
    }
    if (root.has("convention") && json["convention"] != convention()) {
        manifest.doubts.push_back({where,
                                   "states another convention than the files are written in: axes, unit and "
                                   "UV origin are " +
                                       convention().dump(),
                                   "take the change back, or write the bundle again"});
    }
    manifest.generator = root.text("generator");
    manifest.name = root.text("name");
    const Section mesh = root.object("mesh");
    manifest.meshFile = mesh.text("file");
    manifest.vertices = mesh.count("vertices", kMost);
    manifest.triangles = mesh.count("triangles", kMost);
    manifest.lookupUvSet = mesh.count("lookup_uv_set", 64);
    bake::TextureSet& set = manifest.textures;
    set.kind = *kind;
    parseTextures(root, manifest);
    const std::size_t frames = *kind == bake::Kind::shapes
                                   ? root.object("weights").count("frames", bake::kLargestTexture)
                                   : set.layout.frames;
    for (const Section& clip : root.list("clips")) {
        set.clips.push_back(parseClip(clip, frames));
        if (clip.has("bounds")) {
            manifest.clipBounds.push_back(parseBounds(clip.object("bounds")));
        }
    }
    if (set.clips.empty()) {
        root.wrong("clips", "is empty");
    }
    if (set.frameCount() != frames) {
        root.wrong("clips", "do not add up to the frames that are stored");
    }
    set.textures = bake::expectedTextures(set);
    manifest.bounds = parseBounds(root.object("bounds"));
    const Section error = root.object("error");
    manifest.error.all.max = error.number("position_max_m");
    manifest.error.all.rms = error.number("position_rms_m");
    manifest.error.normalMaxDegrees = error.number("normal_max_deg");
    if (root.has("source")) {
        const Section source = root.object("source");
        manifest.origin.reading = source::parseReading(source.json("reading"), where + ": source.reading");
        if (source.has("score")) {
            manifest.origin.score = std::make_shared<motion::Score>(
                motion::parseScore(source.json("score"), where + ": source.score"));
            manifest.origin.scoreOnTop = source.has("score_on_top") && source.flag("score_on_top");
        }
        manifest.sourceFps = source.number("fps");
        manifest.sourceStep = source.count("step", kMost);
        manifest.sourceFade = source.has("fade") ? source.count("fade", kMost) : 0;
    }
    for (const Section& from : root.list("files")) {
        FileEntry file;
        file.file = from.text("file");
        file.sha256 = from.text("sha256");
        file.bytes = from.count("bytes", kMost);
        if (from.has("import")) {
            const Section import = from.object("import");
            file.isTexture = true;
            file.import = {import.text("colour_space"),
                           import.flag("mip_maps"),
                           import.text("filter"),
                           import.text("compression"),
                           import.text("address"),
                           import.flag("resize"),
                           import.has("channels") ? import.text("channels") : "RGB"};
        }
        manifest.files.push_back(std::move(file));
    }
    return manifest;
}

} // namespace ripple::bundle
