#include "motion/score_file.h"

#include "base/files.h"
#include "base/unfinished.h"
#include "base/problem.h"
#include "base/units.h"
#include "motion/kinds.h"

#include <cmath>

#include <nlohmann/json.hpp>

namespace ripple::motion {

namespace {

using Json = nlohmann::ordered_json;

constexpr const char* kFormat = "curly-ripple-score";
constexpr int kVersion = 1;

// One description of the fields serves both ways.

class Writer {
public:
    explicit Writer(Json& json) : json_(json) {}
    template <typename T>
    void field(const char* key, const T& value) {
        json_[key] = value;
    }
    void field(const char* key, const glm::vec3& v) {
        json_[key] = {static_cast<double>(v.x), static_cast<double>(v.y), static_cast<double>(v.z)};
    }
    void field(const char* key, const Length& length) {
        json_[key] = {{length.ofSize ? "of_size" : "value", length.value}};
    }
    template <typename Kind, typename Row>
    void kind(const char* key, const Kind& value, const std::vector<Row>& rows) {
        for (const Row& row : rows) {
            if (row.kind == value) {
                json_[key] = row.id;
            }
        }
    }
    template <typename Part>
    void part(const char* key, Part& value) {
        json_[key] = Json::object();
        Writer inside(json_[key]);
        describe(inside, value);
    }
    template <typename Part>
    void list(const char* key, std::vector<Part>& values) {
        json_[key] = Json::array();
        for (Part& value : values) {
            json_[key].push_back(Json::object());
            Writer inside(json_[key].back());
            describe(inside, value);
        }
    }

private:
    Json& json_;
};

class Reader {
public:
    Reader(const Json& json, std::string where) : json_(json), where_(std::move(where)) {
        if (!json.is_object()) {
            base::fail(where_, "is not an object", "save the score again");
        }
    }
    void field(const char* key, bool& value) {
        take(key, value, &Json::is_boolean, "neither true nor false");
    }
    void field(const char* key, std::string& value) { take(key, value, &Json::is_string, "no text"); }
    void field(const char* key, double& value) { value = number(key, value); }
    void field(const char* key, int& value) { value = static_cast<int>(whole(key, value, -1e6, 1e6)); }
    void field(const char* key, unsigned& value) {
        value = static_cast<unsigned>(whole(key, value, 0, 4294967295.0));
    }
    void field(const char* key, std::size_t& value) {
        value = static_cast<std::size_t>(whole(key, static_cast<double>(value), 0, 1e6));
    }
    void field(const char* key, glm::vec3& v) {
        if (!json_.contains(key)) {
            return;
        }
        const Json& list = json_[key];
        if (!list.is_array() || list.size() != 3 || !list[0].is_number() || !list[1].is_number() ||
            !list[2].is_number()) {
            wrong(key, "is no list of three numbers");
        }
        v = {list[0].get<float>(), list[1].get<float>(), list[2].get<float>()};
    }
    void field(const char* key, std::vector<float>& values) {
        if (!json_.contains(key)) {
            return;
        }
        values.clear();
        for (const Json& value : json_[key]) {
            if (!value.is_number()) {
                wrong(key, "is no list of numbers");
            }
            values.push_back(value.get<float>());
        }
    }
    void field(const char* key, Length& length) {
        if (!json_.contains(key)) {
            return;
        }
        const Reader inside(json_[key], where_ + ", " + key);
        length.ofSize = json_[key].contains("of_size");
        length.value = inside.number(length.ofSize ? "of_size" : "value", length.value);
    }
    template <typename Kind, typename Row>
    void kind(const char* key, Kind& value, const std::vector<Row>& rows) {
        std::string id;
        field(key, id);
        for (const Row& row : rows) {
            if (id == row.id) {
                value = row.kind;
                return;
            }
        }
        if (!id.empty()) {
            wrong(key, "is \"" + id + "\", which this version does not know");
        }
    }
    template <typename Part>
    void part(const char* key, Part& value) {
        if (json_.contains(key)) {
            Reader inside(json_[key], where_ + ", " + key);
            describe(inside, value);
        }
    }
    template <typename Part>
    void list(const char* key, std::vector<Part>& values) {
        if (!json_.contains(key)) {
            return;
        }
        if (!json_[key].is_array()) {
            wrong(key, "is no list");
        }
        values.clear();
        for (const Json& each : json_[key]) {
            const bool named = each.is_object() && each.contains("name") && each["name"].is_string();
            Reader inside(each, where_ + ": " +
                                    (named ? "voice \"" + each["name"].get<std::string>() + "\""
                                           : std::string(key) + " " + std::to_string(values.size())));
            values.emplace_back();
            describe(inside, values.back());
        }
    }

private:
    double number(const char* key, double otherwise) const {
        if (!json_.contains(key)) {
            return otherwise;
        }
        if (!json_[key].is_number() || !std::isfinite(json_[key].get<double>())) {
            wrong(key, "is no finite number");
        }
        return json_[key].get<double>();
    }
    double whole(const char* key, double otherwise, double least, double most) const {
        const double value = number(key, otherwise);
        if (value < least || value > most) {
            wrong(key, "is out of its range");
        }
        if (value != std::floor(value)) {
            if (std::string_view(key) == "turns") {
                wholeTurns(value, where_ + ", " + key); // says what closes
            }
            wrong(key, "is " + base::numberText(value) + ", which is no whole number");
        }
        return value;
    }
    template <typename T>
    void take(const char* key, T& value, bool (Json::*is)() const noexcept, const char* what) const {
        if (!json_.contains(key)) {
            return;
        }
        if (!(json_[key].*is)()) {
            wrong(key, std::string("is ") + what);
        }
        value = json_[key].get<T>();
    }
    [[noreturn]] void wrong(const char* key, const std::string& what) const {
        base::fail(where_ + ", " + key, what, "correct it by hand, or save the score again");
    }

    const Json& json_;
    std::string where_;
};

template <typename Io>
void describe(Io& io, Course& course) {
    io.kind("kind", course.kind, courseKinds());
    io.field("direction", course.direction);
    io.field("point", course.point);
    io.field("uv_set", course.uvSet);
    io.field("uv_axis", course.uvAxis);
}

template <typename Io>
void describe(Io& io, Shape& shape) {
    io.kind("kind", shape.kind, shapeKinds());
    io.field("duty", shape.duty);
    io.field("softness", shape.softness);
    io.field("sharpness", shape.sharpness);
    io.field("detail", shape.detail);
    io.field("seed", shape.seed);
    io.field("curve", shape.curve);
}

template <typename Io>
void describe(Io& io, Push& push) {
    io.kind("kind", push.kind, pushKinds());
    io.field("direction", push.direction);
    io.field("point", push.point);
    io.field("length", push.length);
    io.field("span", push.span);
    io.field("rise", push.rise);
}

template <typename Io>
void describe(Io& io, MaskTerm& term) {
    io.kind("kind", term.kind, maskKinds());
    io.field("direction", term.direction);
    io.field("point", term.point);
    io.field("uv_set", term.uvSet);
    io.field("uv_axis", term.uvAxis);
    io.field("channel", term.channel);
    io.field("stored", term.stored);
    io.field("low", term.low);
    io.field("high", term.high);
    io.kind("easing", term.easing, easings());
    io.field("flip", term.flip);
    io.field("floor", term.floor);
}

template <typename Io>
void describe(Io& io, CopyPhase& phase) {
    io.kind("kind", phase.kind, phaseKinds());
    io.field("turns", phase.turns);
    io.field("direction", phase.direction);
    io.field("wavelength", phase.wavelength);
    io.field("stored", phase.stored);
}

template <typename Io>
void describe(Io& io, Voice& voice) {
    io.field("name", voice.name);
    io.field("id", voice.id);
    io.field("muted", voice.muted);
    io.field("solo", voice.solo);
    io.part("runs_along", voice.course);
    io.part("shape", voice.shape);
    io.part("push", voice.push);
    io.field("amplitude", voice.amplitude);
    io.field("degrees", voice.degrees);
    io.field("amount", voice.amount);
    io.field("wavelength", voice.wavelength);
    io.field("turns", voice.turns);
    io.field("wished_rate", voice.wishedRate);
    io.field("phase", voice.phase);
    io.part("phase_per_copy", voice.copyPhase);
    io.list("held_by", voice.heldBy);
}

template <typename Io>
void describe(Io& io, Score& score) {
    io.field("name", score.name);
    io.field("words", score.words);
    io.field("loop_seconds", score.loopSeconds);
    io.list("voices", score.voices);
}

} // namespace

std::string scoreText(const Score& score) {
    Json root;
    root["format"] = kFormat;
    root["version"] = kVersion;
    Writer writer(root);
    Score copy = score;
    describe(writer, copy);
    return root.dump(2) + "\n";
}

Score parseScore(const std::string& text, const std::string& where) {
    const Json root = Json::parse(text, nullptr, false);
    if (root.is_discarded() || !root.is_object() || root.value("format", Json()) != kFormat) {
        base::fail(where, "is no score", std::string("its format must be ") + kFormat);
    }
    Reader reader(root, where);
    int version = 0;
    reader.field("version", version);
    if (version < 1 || version > kVersion) {
        base::fail(where,
                   "is of version " + std::to_string(version) + ", newer than this program, which reads " +
                       std::to_string(kVersion),
                   "update Curly Ripple");
    }
    Score score;
    describe(reader, score);
    requireSound(score);
    return score;
}

void saveScore(const Score& score, const std::filesystem::path& file) {
    base::replaceFile(file, scoreText(score));
}

Score loadScore(const std::filesystem::path& file) {
    const base::Bytes bytes = base::readFile(file);
    return parseScore(std::string(base::asText(bytes)), file.filename().string());
}

} // namespace ripple::motion
