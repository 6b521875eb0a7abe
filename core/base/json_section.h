#pragma once

#include "base/problem.h"

#include <cmath>
#include <string>
#include <vector>

#include <glm/vec3.hpp>
#include <nlohmann/json.hpp>

namespace ripple::base {

/// Numbers as a list, through double, so that the shortest text that gives the same double is written; it
/// gives the same float.
inline nlohmann::ordered_json json(const glm::vec3& v) {
    return nlohmann::ordered_json::array(
        {static_cast<double>(v.x), static_cast<double>(v.y), static_cast<double>(v.z)});
}

/// Reads values out of JSON. What is wrong is a base::Failure that names `where` and the key, with `advice`,
/// which must outlive this.
class JsonSection {
public:
    JsonSection(const nlohmann::ordered_json& json, std::string where, const char* advice)
        : json_(json),
          where_(std::move(where)),
          advice_(advice) {}

    JsonSection object(const char* key) const {
        const nlohmann::ordered_json& value = need(key);
        if (!value.is_object()) {
            wrong(key, "is not an object");
        }
        return {value, where_ + ": " + key, advice_};
    }
    std::vector<JsonSection> list(const char* key) const {
        const nlohmann::ordered_json& value = need(key);
        if (!value.is_array()) {
            wrong(key, "is not a list");
        }
        std::vector<JsonSection> items;
        for (std::size_t i = 0; i < value.size(); ++i) {
            items.push_back({value[i], where_ + ": " + key + "[" + std::to_string(i) + "]", advice_});
        }
        return items;
    }
    std::string text(const char* key) const {
        const nlohmann::ordered_json& value = need(key);
        if (!value.is_string()) {
            wrong(key, "is not a text");
        }
        return value.get<std::string>();
    }
    std::string json(const char* key) const { return need(key).dump(); }
    std::string text() const {
        if (!json_.is_string()) {
            fail(where_, "is not a text", advice_);
        }
        return json_.get<std::string>();
    }
    bool has(const char* key) const { return json_.is_object() && json_.contains(key); }
    bool flag(const char* key) const {
        const nlohmann::ordered_json& value = need(key);
        if (!value.is_boolean()) {
            wrong(key, "is neither true nor false");
        }
        return value.get<bool>();
    }
    double number(const char* key) const {
        const nlohmann::ordered_json& value = need(key);
        if (!value.is_number() || !std::isfinite(value.get<double>())) {
            wrong(key, "is not a finite number");
        }
        return value.get<double>();
    }
    std::size_t count(const char* key, std::size_t most) const {
        const nlohmann::ordered_json& value = need(key);
        if (!value.is_number_unsigned() || value.get<std::uint64_t>() > most) {
            wrong(key, "is not a whole number from 0 to " + std::to_string(most));
        }
        return value.get<std::size_t>();
    }
    std::size_t count(std::size_t most) const {
        if (!json_.is_number_unsigned() || json_.get<std::uint64_t>() > most) {
            fail(where_, "is not a whole number from 0 to " + std::to_string(most), advice_);
        }
        return json_.get<std::size_t>();
    }
    glm::vec3 vector(const char* key) const {
        const nlohmann::ordered_json& value = need(key);
        if (!value.is_array() || value.size() != 3 || !value[0].is_number() || !value[1].is_number() ||
            !value[2].is_number()) {
            wrong(key, "is not a list of three numbers");
        }
        return {value[0].get<float>(), value[1].get<float>(), value[2].get<float>()};
    }
    [[noreturn]] void wrong(const char* key, const std::string& what) const {
        fail(where_, std::string("\"") + key + "\" " + what, advice_);
    }

private:
    const nlohmann::ordered_json& need(const char* key) const {
        if (!has(key)) {
            wrong(key, "is missing");
        }
        return json_[key];
    }

    const nlohmann::ordered_json& json_;
    std::string where_;
    const char* advice_;
};

} // namespace ripple::base
