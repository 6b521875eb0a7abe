#include "project/paths.h"

#include "base/files.h"
#include "base/text.h"

namespace ripple::project {

using Json = nlohmann::ordered_json;
using Section = base::JsonSection;

std::string relative(const std::string& path, const std::filesystem::path& folder) {
    if (path.empty()) {
        return path;
    }
    const std::filesystem::path near = std::filesystem::path(path).lexically_relative(folder);
    return near.empty() ? path : near.generic_string();
}

std::string absolute(const std::string& path, const std::filesystem::path& folder) {
    return path.empty() ? path : (folder / path).lexically_normal().string();
}

void putPath(Json& json, const std::string& key, const std::string& path) {
    const bool text = base::likelyUtf8(path) == path;
    json[text ? key : key + "_bytes"] = text ? path : base::percentEncoded(path);
}

std::filesystem::path whole(const std::filesystem::path& folder) {
    return std::filesystem::absolute(folder).lexically_normal();
}

std::string pathIn(const Section& section, const std::string& key) {
    const std::string bytes = section.get((key + "_bytes").c_str(), "");
    return bytes.empty() ? section.get(key.c_str(), "") : base::percentDecoded(bytes);
}

} // namespace ripple::project
