#include "bundle/score_manifest.h"

#include "bundle/clip_section.h"
#include "bundle/manifest_text.h"
#include "motion/score_file.h"

#include <algorithm>

namespace ripple::bundle {

namespace {

using Json = nlohmann::ordered_json;

/// Indices among the stored values; null for what is not stored.
Json voicesJson(const std::vector<motion::StoredVoice>& voices) {
    const auto index = [](const std::optional<std::size_t>& of) { return of ? Json(*of) : Json(); };
    Json list = Json::array();
    for (const motion::StoredVoice& voice : voices) {
        list.push_back(
            {index(voice.mask), index(voice.along), index(voice.across[0]), index(voice.across[1])});
    }
    return list;
}

Json modelJson(const motion::Model& model) {
    Json flat = Json::array();
    for (const char each : model.storedFlat) {
        flat.push_back(each != 0);
    }
    return {{"size_m", model.size},
            {"uv_sets", model.uvSets},
            {"base_uv_set", model.baseUvSet},
            {"colours", model.colours},
            {"stored", model.stored},
            {"flat", std::move(flat)},
            {"stored_voices", voicesJson(model.storedVoices)}};
}

Json parameterJson(const ScoreParameter& parameter) {
    const auto number = [&](double value) {
        return parameter.whole ? Json(static_cast<std::int64_t>(value)) : Json(value);
    };
    return {{"name", parameter.name},
            {"help", parameter.help},
            {"unit", parameter.unit},
            {"whole", parameter.whole},
            {"default", number(parameter.usual)},
            {"least", number(parameter.least)},
            {"most", number(parameter.most)}};
}

ScoreParameter parseParameter(const base::JsonSection& from) {
    ScoreParameter parameter{from.text("name"),  from.text("help"),      from.text("unit"),
                             from.flag("whole"), from.number("default"), from.number("least"),
                             from.number("most")};
    if (!(parameter.least <= parameter.usual && parameter.usual <= parameter.most)) {
        from.wrong("default", "is not between least and most");
    }
    return parameter;
}

std::vector<std::string> texts(const base::JsonSection& section, const char* key) {
    std::vector<std::string> list;
    for (const base::JsonSection& each : section.list(key)) {
        list.push_back(each.text());
    }
    return list;
}

motion::Model parseModel(const base::JsonSection& from, std::size_t voices) {
    motion::Model model;
    model.size = from.number("size_m");
    if (!(model.size > 0.0)) {
        from.wrong("size_m", "is not above 0");
    }
    model.uvSets = from.count("uv_sets", 64);
    model.baseUvSet = from.count("base_uv_set", 64);
    model.colours = from.flag("colours");
    model.stored = texts(from, "stored");
    for (const base::JsonSection& each : from.list("flat")) {
        model.storedFlat.push_back(each.json() == true);
    }
    const auto list = from.list("stored_voices");
    if (model.storedFlat.size() > model.stored.size() || (!list.empty() && list.size() != voices)) {
        from.wrong("stored_voices", "does not fit the score");
    }
    for (const base::JsonSection& each : list) {
        motion::StoredVoice voice;
        std::array<std::optional<std::size_t>*, 4> into = {&voice.mask, &voice.along, &voice.across[0],
                                                           &voice.across[1]};
        const Json& row = each.json();
        for (std::size_t i = 0; row.is_array() && i < std::min<std::size_t>(row.size(), into.size()); ++i) {
            if (row[i].is_number_unsigned()) {
                *into[i] = row[i].get<std::size_t>();
                if (**into[i] >= model.stored.size()) {
                    from.wrong("stored_voices", "names a value that is not stored");
                }
            }
        }
        model.storedVoices.push_back(voice);
    }
    return model;
}

} // namespace

std::string scoreManifestText(const ScoreManifest& manifest) {
    Json root;
    beginManifest(root, manifest.target.space().changes() ? kManifestVersion : 3, manifest);
    root["kind"] = "score";
    Json score = {{"loop_seconds", manifest.loopSeconds},
                  {"languages", manifest.languages},
                  {"exact_sine", manifest.exactSine},
                  {"stores_masks", manifest.storesMasks}};
    if (manifest.halfLossMetres) {
        score["half_loss_m"] = *manifest.halfLossMetres;
        score["half_loss_deg"] = manifest.halfLossDeg;
    }
    if (manifest.normalLossDeg) {
        score["normal_loss_deg"] = *manifest.normalLossDeg;
    }
    score["model"] = modelJson(manifest.model);
    score["parameters"] = Json::array();
    for (const ScoreParameter& parameter : manifest.parameters) {
        score["parameters"].push_back(parameterJson(parameter));
    }
    root["score"] = std::move(score);
    root["inputs"] = Json::array();
    for (const PlacedInput& input : manifest.inputs) {
        root["inputs"].push_back({{"name", input.name}, {"type", input.type}, {"from", input.from}});
    }
    root["bounds"] = boundsJson(manifest.bounds);
    if (manifest.copySizes) {
        root["unturned_bounds"] = boundsJson(manifest.unturnedBounds);
        root["copy_sizes"] = {{"least", (*manifest.copySizes)[0]}, {"most", (*manifest.copySizes)[1]}};
    }
    root["source"] = {{"reading", Json::parse(source::readingText(manifest.origin.reading))},
                      {"score", Json::parse(motion::scoreText(*manifest.origin.score))}};
    root["files"] = filesJson(manifest.files);
    return sealed(std::move(root));
}

ScoreManifest parseScoreManifest(const std::string& text, const std::string& where) {
    const Json json = parsedJson(text, where);
    const base::JsonSection root(json, where, "write the bundle again");
    requireFormat(root, kManifestVersion);
    if (!isScore(root)) {
        base::fail(where, "is no score as code", "name a bundle that \"ripple score --out\" wrote");
    }
    ScoreManifest manifest;
    readHead(text, root, manifest);
    const base::JsonSection score = root.object("score");
    manifest.loopSeconds = score.number("loop_seconds");
    if (!(manifest.loopSeconds > 0.0)) {
        score.wrong("loop_seconds", "is not above 0");
    }
    manifest.languages = texts(score, "languages");
    manifest.exactSine = score.flag("exact_sine");
    manifest.storesMasks = score.flag("stores_masks");
    if (score.has("half_loss_m")) {
        manifest.halfLossMetres = score.number("half_loss_m");
        manifest.halfLossDeg = score.number("half_loss_deg");
    }
    if (score.has("normal_loss_deg")) {
        manifest.normalLossDeg = score.number("normal_loss_deg");
    }
    for (const base::JsonSection& each : score.list("parameters")) {
        manifest.parameters.push_back(parseParameter(each));
    }
    for (const base::JsonSection& each : root.list("inputs")) {
        manifest.inputs.push_back({each.text("name"), each.text("type"), texts(each, "from")});
    }
    manifest.unturnedBounds = manifest.bounds;
    if (root.has("copy_sizes")) {
        const base::JsonSection sizes = root.object("copy_sizes");
        constexpr float kMost = 1e6f;
        const float least = sizes.within("least", 0.0f, 1.0f / kMost, kMost);
        manifest.copySizes = {least, sizes.within("most", 0.0f, least, kMost)};
        manifest.unturnedBounds = parseBounds(root.object("unturned_bounds"));
    }
    const base::JsonSection source = root.object("source");
    manifest.origin.reading = source::parseReading(source.json("reading"), where + ": source.reading");
    manifest.origin.score =
        std::make_shared<motion::Score>(motion::parseScore(source.json("score"), where + ": source.score"));
    manifest.model = parseModel(score.object("model"), manifest.origin.score->voices.size());
    return manifest;
}

bool readsCopyScale(const ScoreManifest& manifest) {
    return std::ranges::find(manifest.inputs, "copy_scale", &PlacedInput::name) != manifest.inputs.end();
}

} // namespace ripple::bundle
