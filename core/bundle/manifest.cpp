#include "bundle/manifest.h"

#include "bake/kind.h"
#include "base/files.h"
#include "base/json_section.h"
#include "base/version.h"
#include "bundle/clip_section.h"
#include "bundle/manifest_text.h"
#include "motion/score_file.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstring>
#include <map>

#include <nlohmann/json.hpp>

namespace ripple::bundle {

namespace {

using Json = nlohmann::ordered_json;


/// Six digits say all there is about a measured error.
double rounded(double value) {
    std::array<char, 64> text{};
    const auto end =
        std::to_chars(text.data(), text.data() + text.size(), value, std::chars_format::general, 6);
    double result = 0.0;
    std::from_chars(text.data(), end.ptr, result);
    return result;
}


/// The files of all textures, in their order; each section names as many as there are of it.
void parseTextureFiles(const base::JsonSection& root, Manifest& manifest) {
    std::vector<std::string> sections = {"position", "normal"}; // there also where they hold none
    for (const bake::TextureFormat& texture : manifest.textures.textures) {
        sections.push_back(texture.quantity->section);
    }
    std::map<std::string, std::vector<std::string>> names;
    for (const std::string& name : sections) {
        if (names.contains(name)) {
            continue;
        }
        const base::JsonSection section = root.object(name.c_str());
        for (const base::JsonSection& file : section.list("files")) {
            names[name].push_back(file.text());
        }
        const auto wanted = std::count_if(
            manifest.textures.textures.begin(), manifest.textures.textures.end(),
            [&](const bake::TextureFormat& texture) { return name == texture.quantity->section; });
        if (names[name].size() != static_cast<std::size_t>(wanted)) {
            section.wrong("files", "does not fit the store");
        }
    }
    std::map<std::string, std::size_t> taken;
    for (const bake::TextureFormat& texture : manifest.textures.textures) {
        const std::string name = texture.quantity->section;
        manifest.textureFiles.push_back(names[name][taken[name]++]);
    }
}

void parseRanges(const base::JsonSection& root, const base::JsonSection& position, bake::BakeFormat& set) {
    if (!set.positionStore.usesRange) {
        return;
    }
    if (position.has("min")) {
        set.ranges = {{position.vector("min"), position.vector("max")}};
        return;
    }
    set.ranges.clear();
    for (const base::JsonSection& clip : root.list("clips")) {
        set.ranges.push_back({clip.vector("min"), clip.vector("max")});
    }
    if (set.ranges.size() < 2) {
        position.wrong("min", "is missing");
    }
}

void parseFormat(const base::JsonSection& root, bake::BakeFormat& set) {
    set.layout = bake::parseLayout(root.object("texture"));
    const base::JsonSection position = root.object("position");
    const auto content = bake::contentByName(position.text("content"));
    if (!content) {
        position.wrong("content", "is neither absolute nor offset");
    }
    set.content = *content;
    set.positionStore = bake::positionStore(position.text("store"));
    parseRanges(root, position, set);
    set.normalStore = bake::normalStore(root.object("normal").text("store"));
    const auto blend = bake::blendByName(root.has("blend") ? root.text("blend") : "linear");
    if (!blend || (*blend == bake::Blend::cubic && !set.kind->cubic)) {
        root.wrong("blend", "is no way to blend frames of this kind");
    }
    set.blend = *blend;
    set.kind->readSections(root, set);
}

void putFormat(Json& root, const Manifest& manifest) {
    const bake::BakeFormat& set = manifest.textures;
    root["kind"] = set.kind->id;
    root["texture"] = bake::layoutJson(set.layout);
    Json position = {
        {"content", bake::name(set.content)}, {"store", set.positionStore.name}, {"files", Json::array()}};
    if (set.positionStore.usesRange && set.ranges.size() == 1) {
        position["min"] = base::json(set.ranges[0].min);
        position["max"] = base::json(set.ranges[0].max);
    }
    root["position"] = position;
    root["normal"] = {{"store", set.normalStore.name}, {"files", Json::array()}};
    if (set.blend != bake::Blend::linear) {
        root["blend"] = bake::name(set.blend);
    }
    set.kind->writeSections(root, set);
    for (std::size_t t = 0; t < set.textures.size(); ++t) {
        root[set.textures[t].quantity->section]["files"].push_back(manifest.textureFiles[t]);
    }
}

/// The first version whose readers do not go wrong: 2 knows frames at uneven times, 3 joints and curves, 4
/// other axes and units.
int versionOf(const bake::BakeFormat& set) {
    if (set.space.changes()) {
        return kManifestVersion;
    }
    if (set.kind->followsJoints || set.blend == bake::Blend::cubic) {
        return 3;
    }
    const bool uneven = std::any_of(set.clips.begin(), set.clips.end(),
                                    [](const bake::BakedClip& clip) { return !clip.times.empty(); });
    return uneven ? 2 : 1;
}

} // namespace

std::string manifestText(const Manifest& manifest) {
    const bake::BakeFormat& set = manifest.textures;
    Json root;
    beginManifest(root, versionOf(set), manifest);
    root["mesh"]["lookup_uv_set"] = manifest.lookupUvSet;
    putFormat(root, manifest);
    root["clips"] = Json::array();
    for (std::size_t c = 0; c < set.clips.size(); ++c) {
        root["clips"].push_back(clipJson(manifest, c));
    }
    if (set.clips.size() > 1) {
        root["transitions"] = transitionsJson(set.transitions);
    }
    if (!manifest.levels.empty()) {
        root["levels"] = levelsJson(manifest.levels);
    }
    root["bounds"] = boundsJson(manifest.bounds);
    root["error"] = {{"position_max_m", rounded(manifest.error.all.max)},
                     {"position_rms_m", rounded(manifest.error.all.rms)},
                     {"normal_max_deg", rounded(manifest.error.normalMaxDegrees)}};
    root["source"] = {{"reading", Json::parse(source::readingText(manifest.origin.reading))},
                      {"fps", manifest.sourceFps},
                      {"step", manifest.sourceStep}};
    if (manifest.sourceOversampling > 1) {
        root["source"]["oversampling"] = manifest.sourceOversampling;
    }
    if (std::any_of(set.clips.begin(), set.clips.end(),
                    [](const bake::BakedClip& clip) { return clip.sourceClosing == bake::Closing::fade; })) {
        root["source"]["fade"] = manifest.sourceFade;
    }
    if (manifest.origin.score) {
        root["source"]["score"] = Json::parse(motion::scoreText(*manifest.origin.score));
        root["source"]["score_on_top"] = manifest.origin.scoreOnTop;
    }
    root["files"] = filesJson(manifest.files);
    return sealed(std::move(root));
}

namespace {

/// Throws base::Failure for a file that is no manifest, or one of a newer program.
void requireReadable(const base::JsonSection& root) {
    if (root.has("kind") && isScore(root)) {
        base::fail(root.where(), "is a score as code, which holds no textures",
                   "name a bundle that was baked");
    }
    requireFormat(root, kManifestVersion);
    if (!bake::kindByName(root.text("kind"))) {
        base::fail(root.where(),
                   "holds a bake of kind \"" + root.text("kind") + "\", which this version can't read",
                   "update Curly Ripple");
    }
}

void parseClips(const base::JsonSection& root, Manifest& manifest) {
    bake::BakeFormat& set = manifest.textures;
    const std::size_t frames = set.kind->framesIn ? set.kind->framesIn(root) : set.layout.blocks;
    for (const base::JsonSection& clip : root.list("clips")) {
        set.clips.push_back(parseClip(clip, frames));
        manifest.clipRates.push_back(clip.has("source_fps") ? clip.number("source_fps") : 0.0);
        if (clip.has("bounds")) {
            manifest.clipBounds.push_back(parseBounds(clip.object("bounds")));
        }
    }
    if (set.clips.empty()) {
        root.wrong("clips", "is empty");
    }
    set.transitions = parseTransitions(root, set.clips);
    if (set.frameCount() != frames) {
        root.wrong("clips", "do not add up to the frames that are stored");
    }
}

void parseSource(const base::JsonSection& source, const std::string& where, Manifest& manifest) {
    manifest.origin.reading = source::parseReading(source.json("reading"), where + ": source.reading");
    if (source.has("score")) {
        manifest.origin.score = std::make_shared<motion::Score>(
            motion::parseScore(source.json("score"), where + ": source.score"));
        manifest.origin.scoreOnTop = source.has("score_on_top") && source.flag("score_on_top");
    }
    manifest.sourceFps = source.number("fps");
    manifest.sourceStep = source.count("step", kMostCounted);
    manifest.sourceOversampling =
        source.has("oversampling") ? source.count("oversampling", bake::kMostOversampling) : 1;
    manifest.sourceFade = source.has("fade") ? source.count("fade", kMostCounted) : 0;
}

} // namespace

Manifest parseManifest(const std::string& text, const std::string& where) {
    const Json json = parsedJson(text, where);
    const base::JsonSection root(json, where, "write the bundle again");
    requireReadable(root);
    Manifest manifest;
    readHead(text, root, manifest);
    manifest.lookupUvSet = root.object("mesh").count("lookup_uv_set", 64);
    bake::BakeFormat& set = manifest.textures;
    set.kind = bake::kindByName(root.text("kind"));
    parseFormat(root, set);
    manifest.target.putInto(set);
    parseClips(root, manifest);
    set.textures = set.kind->textures(set);
    parseTextureFiles(root, manifest);
    manifest.levels = parseLevels(root);
    const base::JsonSection error = root.object("error");
    manifest.error.all.max = error.number("position_max_m");
    manifest.error.all.rms = error.number("position_rms_m");
    manifest.error.normalMaxDegrees = error.number("normal_max_deg");
    if (root.has("source")) {
        parseSource(root.object("source"), where, manifest);
    }
    return manifest;
}

} // namespace ripple::bundle
