#include "source/reading.h"

#include "base/problem.h"

#include <array>
#include <cmath>
#include <iterator>

#include <nlohmann/json.hpp>

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

/// Reads values and checks what they may be.
class Values {
public:
    Values(const Json& json, const std::string& where) : json_(json), where_(where) {}

    double positive(const char* key, double otherwise) const {
        const double number = get(key, otherwise);
        return std::isfinite(number) && number > 0.0 && number < 1e9 ? number
                                                                     : refuse(key, "it must be above 0");
    }
    std::size_t count(const char* key, std::size_t otherwise, std::size_t most) const {
        const auto number = get<long long>(key, static_cast<long long>(otherwise));
        if (number < 0 || static_cast<unsigned long long>(number) > most) {
            refuse(key, "it must be from 0 to " + std::to_string(most));
        }
        return static_cast<std::size_t>(number);
    }
    template <typename T>
    T get(const char* key, T otherwise) const {
        if (!json_.contains(key)) {
            return otherwise;
        }
        try {
            return json_.at(key).get<T>();
        } catch (const Json::exception&) {
            refuse(key, "correct it by hand");
        }
    }
    bool has(const char* key) const { return json_.contains(key); }
    [[noreturn]] double refuse(const char* key, const std::string& fix) const {
        base::fail(where_,
                   std::string("\"") + key + "\" " +
                       (has(key) ? "holds " + json_.at(key).dump() + ", which is not possible there"
                                 : "is not there"),
                   fix);
    }

private:
    const Json& json_;
    const std::string& where_;
};

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
    const Values values(json, where);
    constexpr std::size_t kMost = 100000000;
    Reading reading;
    reading.meshes = values.get("meshes", reading.meshes);
    if (values.has("metres_per_unit")) {
        reading.metresPerUnit = values.positive("metres_per_unit", 1.0);
    }
    if (values.has("up")) {
        reading.up = axisByName(values.get<std::string>("up", ""));
        if (!reading.up) {
            values.refuse("up", "write x, y or z");
        }
    }
    reading.subdivisions = values.count("subdivisions", 0, kMostSubdivisions);
    if (values.has("rate")) {
        reading.time.rate = values.positive("rate", 30.0);
    }
    if (values.has("first_frame") || values.has("last_frame")) {
        reading.time.range = {values.count("first_frame", 0, kMost), values.count("last_frame", 0, kMost)};
        if (reading.time.range->last < reading.time.range->first) {
            values.refuse("last_frame", "it must not come before first_frame");
        }
    }
    reading.time.speed = values.positive("speed", 1.0);
    reading.time.reversed = values.get("reversed", false);
    for (const Flag& flag : kFlags) {
        reading.mending.*flag.member = values.get(flag.key, false);
    }
    reading.mending.maxInfluences = values.count("max_influences", 0, 64);
    return reading;
}

} // namespace ripple::source
