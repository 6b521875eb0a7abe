#pragma once

#include "base/problem.h"
#include "base/units.h"

#include <cmath>
#include <cstdint>
#include <limits>
#include <string>
#include <type_traits>
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
    std::string text(const char* key) const { return valueOf<std::string>(key, need(key)); }
    std::string json(const char* key) const { return need(key).dump(); }
    std::string text() const {
        if (!json_.is_string()) {
            fail(where_, "is not a text", advice_);
        }
        return json_.get<std::string>();
    }
    bool has(const char* key) const { return json_.is_object() && json_.contains(key); }
    bool flag(const char* key) const { return valueOf<bool>(key, need(key)); }
    double number(const char* key) const { return valueOf<double>(key, need(key)); }
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
    // What may be absent: then `otherwise` is what it says.

    /// A flag, a text, a finite number, a whole number that fits, a vector, or a list of these.
    template <typename T>
    T get(const char* key, const T& otherwise) const {
        return has(key) ? valueOf<T>(key, json_[key]) : otherwise;
    }
    std::string get(const char* key, const char* otherwise) const { return get(key, std::string(otherwise)); }
    /// A number from `least` to `most`, both included.
    template <typename T>
    T within(const char* key, T otherwise, T least, T most) const {
        const T number = get(key, otherwise);
        if (!(number >= least && number <= most)) {
            refuse(key, most == std::numeric_limits<T>::max()
                            ? "it must be at least " + shortText(least)
                            : "it must be from " + shortText(least) + " to " + shortText(most));
        }
        return number;
    }
    /// A section of its own, which may be absent: then everything in it is.
    JsonSection part(const char* key) const {
        static const nlohmann::ordered_json kEmpty = nlohmann::ordered_json::object();
        return has(key) ? object(key) : JsonSection{kEmpty, where_ + ": " + key, advice_};
    }

    const std::string& where() const { return where_; }
    const nlohmann::ordered_json& json() const { return json_; }
    [[noreturn]] void wrong(const char* key, const std::string& what) const {
        fail(where_, std::string("\"") + key + "\" " + what, advice_);
    }
    /// For a value that is read, and impossible: says it.
    [[noreturn]] void refuse(const char* key, const std::string& advice) const {
        fail(where_,
             std::string("\"") + key + "\" " +
                 (has(key) ? "holds " + json_[key].dump() + ", which is not possible there" : "is missing"),
             advice);
    }

private:
    template <typename T>
    T valueOf(const char* key, const nlohmann::ordered_json& value) const {
        if constexpr (std::is_same_v<T, bool>) {
            return value.is_boolean() ? value.get<bool>() : refuseAs<T>(key);
        } else if constexpr (std::is_same_v<T, std::string>) {
            return value.is_string() ? value.get<std::string>() : refuseAs<T>(key);
        } else if constexpr (std::is_arithmetic_v<T>) {
            if (!value.is_number() || !std::isfinite(value.get<double>())) {
                wrong(key, "is " + value.dump() + ", which is no finite number");
            }
            if (std::is_integral_v<T> && value.is_number_float()) {
                wrong(key, "is " + value.dump() + ", which is no whole number");
            }
            return isInRange<T>(value) ? value.get<T>() : refuseAs<T>(key);
        } else if constexpr (std::is_same_v<T, glm::vec3>) {
            return vector(key);
        } else {
            T items;
            for (const nlohmann::ordered_json& item :
                 value.is_array() ? value : refuseAs<decltype(value)>(key)) {
                items.push_back(valueOf<typename T::value_type>(key, item));
            }
            return items;
        }
    }
    template <typename T>
    [[noreturn]] T refuseAs(const char* key) const {
        refuse(key, advice_);
    }
    /// JSON's numbers are not bound to the type that they are read into: −1 is no count.
    template <typename T>
    static bool isInRange(const nlohmann::ordered_json& value) {
        if constexpr (std::is_floating_point_v<T>) {
            return true;
        } else if (value.is_number_unsigned()) {
            return value.get<std::uint64_t>() <= static_cast<std::uint64_t>(std::numeric_limits<T>::max());
        } else {
            return std::is_signed_v<T> &&
                   value.get<std::int64_t>() >= std::int64_t(std::numeric_limits<T>::min());
        }
    }
    template <typename T>
    static std::string shortText(T number) {
        if constexpr (std::is_integral_v<T>) {
            return std::to_string(number);
        } else {
            return numberText(number);
        }
    }
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
