#pragma once

#include "base/files.h"

#include <cstring>
#include <filesystem>
#include <span>
#include <string>
#include <vector>

#include <nlohmann/json.hpp>

namespace ripple::tests {

/// Builds small glTF files piece by piece.
class GltfFixture {
public:
    nlohmann::json root = {{"asset", {{"version", "2.0"}}}, {"scene", 0}, {"scenes", {{{"nodes", {0}}}}}};
    std::vector<std::byte> bin;

    static constexpr int kByte = 5120, kUbyte = 5121, kUshort = 5123, kUint = 5125, kFloat = 5126;

    template <typename T>
    int view(const std::vector<T>& values, std::size_t stride = 0) {
        const auto* bytes = reinterpret_cast<const std::byte*>(values.data());
        nlohmann::json v = {
            {"buffer", 0}, {"byteOffset", bin.size()}, {"byteLength", values.size() * sizeof(T)}};
        if (stride) {
            v["byteStride"] = stride;
        }
        bin.insert(bin.end(), bytes, bytes + values.size() * sizeof(T));
        root["bufferViews"].push_back(v);
        return static_cast<int>(root["bufferViews"].size()) - 1;
    }
    int accessor(int viewIndex, int componentType, const char* type, std::size_t count,
                 std::size_t offset = 0, bool normalised = false) {
        nlohmann::json a = {{"componentType", componentType}, {"type", type}, {"count", count}};
        if (viewIndex >= 0) {
            a["bufferView"] = viewIndex;
            a["byteOffset"] = offset;
        }
        if (normalised) {
            a["normalized"] = true;
        }
        root["accessors"].push_back(a);
        return static_cast<int>(root["accessors"].size()) - 1;
    }
    int floats(const std::vector<float>& values, const char* type, std::size_t width) {
        return accessor(view(values), kFloat, type, values.size() / width);
    }
    int shorts(const std::vector<std::uint16_t>& values, const char* type, std::size_t width) {
        return accessor(view(values), kUshort, type, values.size() / width);
    }
    int mesh(const nlohmann::json& attributes, int indices = -1) {
        nlohmann::json primitive = {{"attributes", attributes}};
        if (indices >= 0) {
            primitive["indices"] = indices;
        }
        root["meshes"].push_back({{"name", "shape"}, {"primitives", {primitive}}});
        return static_cast<int>(root["meshes"].size()) - 1;
    }
    int node(const nlohmann::json& n) {
        root["nodes"].push_back(n);
        return static_cast<int>(root["nodes"].size()) - 1;
    }
    /// A channel of the one animation "move".
    void channel(int nodeIndex, const char* path, int input, int output, const char* interpolation) {
        if (!root.contains("animations")) {
            root["animations"] = {{{"name", "move"},
                                   {"channels", nlohmann::json::array()},
                                   {"samplers", nlohmann::json::array()}}};
        }
        auto& animation = root["animations"][0];
        animation["channels"].push_back(
            {{"sampler", animation["samplers"].size()}, {"target", {{"node", nodeIndex}, {"path", path}}}});
        animation["samplers"].push_back(
            {{"input", input}, {"output", output}, {"interpolation", interpolation}});
    }

    /// Writes NAME.gltf and NAME.bin; returns the .gltf.
    std::filesystem::path write(const std::filesystem::path& folder, const std::string& name) {
        root["buffers"] = {{{"uri", name + ".bin"}, {"byteLength", bin.size()}}};
        base::writeFile(folder / (name + ".bin"), bin);
        base::writeFile(folder / (name + ".gltf"), root.dump());
        return folder / (name + ".gltf");
    }
    std::filesystem::path writeGlb(const std::filesystem::path& folder, const std::string& name) {
        root["buffers"] = {{{"byteLength", bin.size()}}};
        std::string text = root.dump();
        text.resize((text.size() + 3) / 4 * 4, ' ');
        std::vector<std::byte> padded = bin;
        padded.resize((bin.size() + 3) / 4 * 4);
        std::vector<std::byte> out;
        const auto put = [&](std::uint32_t value) {
            const auto* b = reinterpret_cast<const std::byte*>(&value);
            out.insert(out.end(), b, b + 4);
        };
        put(0x46546C67);
        put(2);
        put(static_cast<std::uint32_t>(28 + text.size() + padded.size()));
        put(static_cast<std::uint32_t>(text.size()));
        put(0x4E4F534A);
        const auto bytes = base::asBytes(text);
        out.insert(out.end(), bytes.begin(), bytes.end());
        put(static_cast<std::uint32_t>(padded.size()));
        put(0x004E4942);
        out.insert(out.end(), padded.begin(), padded.end());
        base::writeFile(folder / (name + ".glb"), out);
        return folder / (name + ".glb");
    }

    /// One triangle in the XY plane.
    static std::vector<float> triangle() { return {0, 0, 0, 1, 0, 0, 0, 1, 0}; }
};

} // namespace ripple::tests
