#include "motion/score_file.h"

#include "base/files.h"
#include "base/json_section.h"
#include "base/unfinished.h"
#include "motion/kinds.h"

#include <string_view>

namespace ripple::motion {

namespace {

using Json = nlohmann::ordered_json;

constexpr const char* kFormat = "curly-ripple-score";
constexpr int kVersion = 2; ///< of files with what all voices follow, or parameters; else 1
constexpr const char* kAdvice = "correct it by hand, or save the score again";

// One description of the fields serves both ways.

class Writer {
public:
    explicit Writer(Json& json) : json_(json) {}
    static bool reads() { return false; }
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
    explicit Reader(base::JsonSection section) : section_(std::move(section)) {}
    static bool reads() { return true; }

    template <typename T>
    void field(const char* key, T& value) {
        value = section_.get(key, value);
    }
    void field(const char* key, int& value) {
        if (section_.has(key) && section_.json()[key].is_number() && std::string_view(key) == "turns") {
            // Says which whole numbers close.
            value = wholeTurns(section_.get(key, 0.0), section_.where() + ", " + key);
            return;
        }
        value = section_.within(key, value, -1000000, 1000000);
    }
    void field(const char* key, std::size_t& value) {
        value = section_.within(key, value, std::size_t(0), std::size_t(1000000));
    }
    void field(const char* key, Length& length) {
        if (section_.has(key)) {
            const base::JsonSection inside = section_.object(key);
            length.ofSize = inside.has("of_size");
            length.value = inside.get(length.ofSize ? "of_size" : "value", length.value);
        }
    }
    template <typename Kind, typename Row>
    void kind(const char* key, Kind& value, const std::vector<Row>& rows) {
        const std::string id = section_.get(key, "");
        for (const Row& row : rows) {
            if (id == row.id) {
                value = row.kind;
                return;
            }
        }
        if (!id.empty()) {
            section_.wrong(key, "is \"" + id + "\", which this version does not know");
        }
    }
    template <typename Part>
    void part(const char* key, Part& value) {
        if (section_.has(key)) {
            Reader inside(section_.object(key));
            describe(inside, value);
        }
    }
    template <typename Part>
    void list(const char* key, std::vector<Part>& values) {
        if (!section_.has(key)) {
            return;
        }
        values.clear();
        for (const base::JsonSection& each : section_.list(key)) {
            // Voices are told apart by their names.
            const bool named = each.has("name") && each.json()["name"].is_string();
            Reader inside(named
                              ? base::JsonSection(each.json(),
                                                  section_.where() +
                                                      (std::string_view(key) == "voices" ? ": voice \""
                                                                                         : ": parameter \"") +
                                                      each.json()["name"].get<std::string>() + "\"",
                                                  kAdvice)
                              : each);
            values.emplace_back();
            describe(inside, values.back());
        }
    }

private:
    base::JsonSection section_;
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
    if (rowOf(push).followsMover || io.reads()) {
        io.field("mover_x", push.moverX);
        io.field("mover_y", push.moverY);
        io.field("mover_z", push.moverZ);
        io.field("reach", push.reach);
    }
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
void describe(Io& io, Overall& overall) {
    io.field("strength", overall.strength);
    io.field("heading", overall.heading);
    io.field("rate", overall.rate);
}

template <typename Io>
void describe(Io& io, Parameter& parameter) {
    io.field("name", parameter.name);
    io.field("voice", parameter.voice);
    io.field("number", parameter.field);
    io.field("least", parameter.least);
    io.field("most", parameter.most);
    io.field("help", parameter.help);
}

template <typename Io>
void describe(Io& io, Score& score) {
    io.field("name", score.name);
    io.field("words", score.words);
    io.field("loop_seconds", score.loopSeconds);
    io.list("voices", score.voices);
    if (score.overall != Overall() || io.reads()) {
        io.part("all_voices", score.overall);
    }
    if (!score.parameters.empty() || io.reads()) {
        io.list("parameters", score.parameters);
    }
}

} // namespace

std::string scoreText(const Score& score) {
    Json root;
    root["format"] = kFormat;
    const bool plain = score.overall == Overall() && score.parameters.empty();
    root["version"] = plain ? 1 : kVersion;
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
    const base::JsonSection section(root, where, kAdvice);
    const int version = section.get("version", 0);
    if (version < 1 || version > kVersion) {
        base::fail(where,
                   "is of version " + std::to_string(version) + ", newer than this program, which reads " +
                       std::to_string(kVersion),
                   "update Curly Ripple");
    }
    Score score;
    Reader reader(section);
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
