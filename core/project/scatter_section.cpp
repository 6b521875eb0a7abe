#include "project/scatter_section.h"

#include "project/paths.h"
#include "project/recipe_section.h"

namespace ripple::project {

using Json = nlohmann::ordered_json;
using Section = base::JsonSection;

namespace {

constexpr double kFar = 1e5; // metres

const char* const kPlays[] = {"itself", "bake", "score"};

template <typename Row, typename Value>
Value named(const Section& section, const char* key, std::span<const Row> rows, Value Row::*value,
            Value otherwise) {
    const std::string id = section.get(key, "");
    for (const Row& row : rows) {
        if (id == row.id) {
            return row.*value;
        }
    }
    if (!id.empty()) {
        section.refuse(key, kAdvice);
    }
    return otherwise;
}

Json vectorJson(const glm::vec3& v) {
    return {static_cast<double>(v.x), static_cast<double>(v.y), static_cast<double>(v.z)};
}

glm::vec3 vectorIn(const Section& section, const char* key, const glm::vec3& otherwise, double least,
                   double most) {
    if (!section.has(key)) {
        return otherwise;
    }
    const std::vector<double> numbers = section.get(key, std::vector<double>());
    if (numbers.size() != 3) {
        section.refuse(key, kAdvice);
    }
    for (const double number : numbers) {
        if (!(number >= least && number <= most)) {
            section.refuse(key, kAdvice);
        }
    }
    return glm::vec3(glm::dvec3(numbers[0], numbers[1], numbers[2]));
}

float partIn(const Section& section, const char* key, float otherwise, double least, double most) {
    return static_cast<float>(section.within(key, static_cast<double>(otherwise), least, most));
}

std::optional<double> maybeIn(const Section& section, const char* key, double least, double most) {
    return section.has(key) ? std::optional(section.within(key, least, least, most)) : std::nullopt;
}

bool isBuiltIn(const std::string& ground) {
    return ground == "flat" || ground == "uneven";
}

void parsePlacement(const Section& section, scatter::Choices& choices) {
    scatter::Placement& placement = choices.placement;
    placement.pattern = section.get("pattern", placement.pattern);
    if (!scatter::patternByName(placement.pattern)) {
        section.refuse("pattern", kAdvice);
    }
    placement.count = section.within("copies", placement.count, std::size_t(1), scatter::kMostCopies);
    placement.size = vectorIn(section, "area_m", placement.size, 1e-3, kFar);
    placement.alongSurface = section.get("along_surface", placement.alongSurface);
    scatter::Differences& own = choices.differences;
    own.seed = section.get("seed", own.seed);
    placement.seed = own.seed;
    own.leastSize = partIn(section, "smallest", own.leastSize, 1e-3, 1e3);
    own.mostSize = partIn(section, "largest", own.mostSize, 1e-3, 1e3);
    own.turnSpread = partIn(section, "turn_spread", own.turnSpread, 0.0, 1.0);
    own.startSpread = partIn(section, "start_spread", own.startSpread, 0.0, 1.0);
    own.rateSpread = partIn(section, "rate_spread", own.rateSpread, 0.0, 0.95);
}

} // namespace

Json scatterJson(const scatter::Choices& choices, const std::filesystem::path& folder) {
    const scatter::Differences& own = choices.differences;
    Json mix = Json::array();
    for (const scatter::ClipShare& share : choices.mix) {
        mix.push_back({{"clip", share.clip}, {"weight", share.weight}});
    }
    Json json = {{"pattern", choices.placement.pattern},
                 {"copies", choices.placement.count},
                 {"area_m", vectorJson(choices.placement.size)},
                 {"along_surface", choices.placement.alongSurface},
                 {"seed", own.seed},
                 {"smallest", own.leastSize},
                 {"largest", own.mostSize},
                 {"turn_spread", own.turnSpread},
                 {"start_spread", own.startSpread},
                 {"rate_spread", own.rateSpread},
                 {"tints", {vectorJson(choices.tints[0]), vectorJson(choices.tints[1])}},
                 {"plays", kPlays[static_cast<std::size_t>(choices.plays)]},
                 {"mix", mix},
                 {"fade_s", choices.fade},
                 {"travel", scatter::rowOf(choices.travel).id},
                 {"merged", choices.merged},
                 {"keeps", scatter::rowOf(choices.keeps).id},
                 {"levels", choices.levels},
                 {"level_pixels", choices.levelPixels},
                 {"far_rate", choices.farRate},
                 {"hide_beyond_m", choices.hideBeyond},
                 {"ball", choices.ball},
                 {"ball_radius_m", choices.ballRadius}};
    putPath(json, "ground", isBuiltIn(choices.ground) ? choices.ground : relative(choices.ground, folder));
    json["images"] = Json::array();
    for (const std::string& image : choices.images) {
        Json entry = Json::object();
        putPath(entry, "path", relative(image, folder));
        json["images"].push_back(entry);
    }
    const auto maybe = [&](const char* key, const std::optional<double>& value) {
        if (value) {
            json[key] = *value;
        }
    };
    maybe("speed_m_s", choices.speed);
    maybe("fastest_m_s", choices.fastest);
    maybe("facing_turns", choices.facing);
    return json;
}

scatter::Choices parseScatter(const Section& section, const std::filesystem::path& folder) {
    scatter::Choices choices;
    parsePlacement(section, choices);
    const std::string ground = pathIn(section, "ground");
    choices.ground = ground.empty() ? choices.ground : isBuiltIn(ground) ? ground : absolute(ground, folder);
    if (section.has("tints")) {
        const auto rows = section.json()["tints"];
        for (std::size_t t = 0; t < choices.tints.size(); ++t) {
            const Json wrapped = {{"tint", rows.is_array() && rows.size() > t ? rows[t] : Json()}};
            choices.tints[t] = vectorIn(Section(wrapped, section.where() + ": tints", kAdvice), "tint",
                                        choices.tints[t], 0.0, 1.0);
        }
    }
    if (section.has("images")) {
        for (const Section& image : section.list("images")) {
            choices.images.push_back(absolute(pathIn(image, "path"), folder));
        }
        choices.images.resize(std::min(choices.images.size(), scatter::Choices::kMostImages));
    }
    const std::string plays = section.get("plays", kPlays[0]);
    for (std::size_t i = 0; i < 3; ++i) {
        choices.plays = plays == kPlays[i] ? static_cast<scatter::Plays>(i) : choices.plays;
    }
    if (section.has("mix")) {
        for (const Section& share : section.list("mix")) {
            choices.mix.push_back({share.get("clip", ""), share.within("weight", 1.0, 0.0, 1e6)});
        }
    }
    choices.fade = section.within("fade_s", choices.fade, 0.0, bake::kLongestFade);
    choices.travel =
        named(section, "travel", scatter::travelRows(), &scatter::TravelRow::travel, choices.travel);
    choices.speed = maybeIn(section, "speed_m_s", 0.0, 1000.0);
    choices.fastest = maybeIn(section, "fastest_m_s", 0.0, 1000.0);
    choices.facing = maybeIn(section, "facing_turns", 0.0, 1.0);
    choices.merged = section.get("merged", choices.merged);
    choices.keeps = named(section, "keeps", scatter::keepsRows(), &scatter::KeepsRow::keeps, choices.keeps);
    choices.levels = section.within("levels", choices.levels, std::size_t(0), scatter::Choices::kMostLevels);
    choices.levelPixels = section.within("level_pixels", choices.levelPixels, 0.05, 1000.0);
    choices.farRate = section.within("far_rate", choices.farRate, 0.0, 1000.0);
    choices.hideBeyond = section.within("hide_beyond_m", choices.hideBeyond, 0.0, kFar);
    choices.ball = section.get("ball", choices.ball);
    choices.ballRadius = section.within("ball_radius_m", choices.ballRadius, 1e-3, 1000.0);
    return choices;
}

} // namespace ripple::project
