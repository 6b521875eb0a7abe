#include "source/reading.h"

#include "base/json_section.h"

#include <array>
#include <cmath>
#include <iterator>

namespace ripple::source {

namespace {

using Json = nlohmann::ordered_json;

struct Flag {
    const char* key;
    bool Mending::*member;
};
constexpr Flag kFlags[] = {{"drop_degenerate", &Mending::dropDegenerate},
                           {"drop_unused", &Mending::dropUnused},
                           {"merge_duplicates", &Mending::mergeDuplicates},
                           {"hold_stray", &Mending::holdStray},
                           {"keep_mirrored", &Mending::keepMirrored},
                           {"make_normals", &Mending::makeNormals},
                           {"drop_repeated_uvs", &Mending::dropRepeatedUvs},
                           {"drop_unread_uvs", &Mending::dropUnreadUvs},
                           {"make_uvs", &Mending::makeUvs}};

constexpr std::array kAxisNames = {"x", "y", "z"};

} // namespace

const char* name(Axis axis) {
    return kAxisNames[static_cast<std::size_t>(axis)];
}

glm::mat3 toYUp(Axis up) {
    switch (up) {
    case Axis::x: // x → y, y → −x
        return glm::mat3(glm::vec3(0, 1, 0), glm::vec3(-1, 0, 0), glm::vec3(0, 0, 1));
    case Axis::z: // z → y, y → −z
        return glm::mat3(glm::vec3(1, 0, 0), glm::vec3(0, 0, -1), glm::vec3(0, 1, 0));
    case Axis::y:
        break;
    }
    return glm::mat3(1.0f);
}

std::optional<Axis> axisByName(const std::string& text) {
    for (std::size_t a = 0; a < kAxisNames.size(); ++a) {
        if (text == kAxisNames[a]) {
            return static_cast<Axis>(a);
        }
    }
    return std::nullopt;
}

std::string readingText(const Reading& reading) {
    const Reading plain;
    Json json = Json::object();
    if (!reading.clipFiles.empty()) {
        json["clip_files"] = reading.clipFiles;
    }
    if (reading.meshes != plain.meshes) {
        json["meshes"] = reading.meshes;
    }
    if (reading.metresPerUnit != plain.metresPerUnit) {
        json["metres_per_unit"] = reading.metresPerUnit;
    }
    if (reading.up) {
        json["up"] = name(*reading.up);
    }
    if (reading.subdivisions != plain.subdivisions) {
        json["subdivisions"] = reading.subdivisions;
    }
    if (reading.time.rate != plain.time.rate) {
        json["rate"] = reading.time.rate;
    }
    if (reading.time.range) {
        json["first_frame"] = reading.time.range->first;
        json["last_frame"] = reading.time.range->last;
    }
    if (reading.time.speed != plain.time.speed) {
        json["speed"] = reading.time.speed;
    }
    if (reading.time.reversed) {
        json["reversed"] = true;
    }
    for (const Flag& flag : kFlags) {
        if (reading.mending.*flag.member) {
            json[flag.key] = true;
        }
    }
    if (reading.mending.maxInfluences != plain.mending.maxInfluences) {
        json["max_influences"] = reading.mending.maxInfluences;
    }
    return json.dump();
}

Reading parseReading(const std::string& text, const std::string& where) {
    const Json json = Json::parse(text, nullptr, false);
    if (!json.is_object()) {
        base::fail(where, "does not hold how the source is read",
                   "correct it by hand, or open the source again");
    }
    const base::JsonSection values(json, where, "correct it by hand");
    constexpr std::size_t kMost = 100000000;
    // Above 0, and no more than a number that somebody may mean.
    const auto positive = [&](const char* key, double otherwise) {
        const double number = values.get(key, otherwise);
        if (!(number > 0.0 && number < 1e9)) {
            values.refuse(key, "it must be above 0");
        }
        return number;
    };
    const auto count = [&](const char* key, std::size_t most) {
        return values.within(key, std::size_t(0), std::size_t(0), most);
    };
    Reading reading;
    reading.clipFiles = values.get("clip_files", reading.clipFiles);
    reading.meshes = values.get("meshes", reading.meshes);
    if (values.has("metres_per_unit")) {
        reading.metresPerUnit = positive("metres_per_unit", 1.0);
    }
    if (values.has("up")) {
        reading.up = axisByName(values.get("up", ""));
        if (!reading.up) {
            values.refuse("up", "write x, y or z");
        }
    }
    reading.subdivisions = count("subdivisions", kMostSubdivisions);
    if (values.has("rate")) {
        reading.time.rate = positive("rate", 30.0);
    }
    if (values.has("first_frame") || values.has("last_frame")) {
        reading.time.range = {count("first_frame", kMost), count("last_frame", kMost)};
        if (reading.time.range->last < reading.time.range->first) {
            values.refuse("last_frame", "it must not come before first_frame");
        }
    }
    reading.time.speed = positive("speed", 1.0);
    reading.time.reversed = values.get("reversed", false);
    for (const Flag& flag : kFlags) {
        reading.mending.*flag.member = values.get(flag.key, false);
    }
    reading.mending.maxInfluences = count("max_influences", 64);
    return reading;
}

} // namespace ripple::source
