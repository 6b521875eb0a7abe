#include "source/gltf_required.h"

#include "base/problem.h"

#include <algorithm>
#include <array>

#include <nlohmann/json.hpp>

namespace ripple::source {

namespace {

// Extensions that change nothing that we read, or that we read; those of materials are passed on.
constexpr std::array kHarmless = {
    "KHR_mesh_quantization",
    "EXT_meshopt_compression",
    "KHR_texture_transform",
    "KHR_materials_unlit",
    "KHR_materials_clearcoat",
    "KHR_materials_ior",
    "KHR_materials_sheen",
    "KHR_materials_specular",
    "KHR_materials_transmission",
    "KHR_materials_volume",
    "KHR_materials_emissive_strength",
    "KHR_lights_punctual",
    "KHR_materials_variants",
    "KHR_xmp_json_ld",
    "KHR_materials_pbrSpecularGlossiness",
    "KHR_materials_anisotropy",
    "KHR_materials_diffuse_transmission",
    "KHR_materials_dispersion",
    "KHR_materials_iridescence",
    "KHR_texture_basisu",
    "EXT_texture_webp",
};

} // namespace

void requireVersion(const nlohmann::json& root, const std::string& file) {
    const nlohmann::json* asset = root.is_object() && root.contains("asset") ? &root["asset"] : nullptr;
    const std::string version =
        asset && asset->is_object() ? asset->value("version", nlohmann::json("")).dump() : "";
    if (version.rfind("\"2.", 0) != 0) {
        base::fail(file,
                   version.size() > 2 ? "is glTF of version " + version : "does not say that it is glTF 2.0",
                   "export it as glTF 2.0");
    }
}

void requireReadableExtensions(const nlohmann::json& root, const std::string& file) {
    const auto required = root.find("extensionsRequired");
    if (required == root.end() || !required->is_array()) {
        return;
    }
    for (const nlohmann::json& item : *required) {
        const std::string extension = item.is_string() ? item.get<std::string>() : item.dump();
        if (std::find(kHarmless.begin(), kHarmless.end(), extension) == kHarmless.end()) {
            base::fail(file, "requires the extension " + extension + ", which is not read",
                       "export it without that extension");
        }
    }
}

} // namespace ripple::source
