#include "source/gltf_meshopt.h"

#include "base/problem.h"
#include "source/gltf_document.h"
#include "source/gltf_library.h"

#include <meshoptimizer.h>
#include <nlohmann/json.hpp>

namespace ripple::source {

namespace {

constexpr const char* kName = "EXT_meshopt_compression";
// Repeating bytes pack to no less than two bits for a run of sixteen.
constexpr std::size_t kMostGrowth = 2048;

struct Packed {
    std::size_t buffer = 0;
    std::size_t offset = 0;
    std::size_t length = 0;
    std::size_t stride = 0;
    std::size_t count = 0;
    std::string mode;
    std::string filter;
};

std::size_t number(const tinygltf::Value& from, const char* key, const std::string& where) {
    if (!from.Has(key)) {
        return 0;
    }
    const tinygltf::Value& value = from.Get(key);
    const double n = value.IsNumber() ? value.GetNumberAsDouble() : -1.0;
    if (!(n >= 0.0 && n < 1e12)) {
        base::fail(where, std::string("\"") + key + "\" is not possible", kDamagedGltf);
    }
    return static_cast<std::size_t>(n);
}

std::string text(const tinygltf::Value& from, const char* key) {
    return from.Has(key) && from.Get(key).IsString() ? from.Get(key).Get<std::string>() : std::string();
}

Packed parse(const tinygltf::Value& from, const std::string& where) {
    return {number(from, "buffer", where),
            number(from, "byteOffset", where),
            number(from, "byteLength", where),
            number(from, "byteStride", where),
            number(from, "count", where),
            text(from, "mode"),
            text(from, "filter")};
}

void filter(const Packed& packed, std::vector<unsigned char>& out, const std::string& where) {
    if (packed.filter.empty() || packed.filter == "NONE") {
        return;
    }
    const bool four = packed.stride == 4;
    const bool eight = packed.stride == 8;
    if (packed.filter == "OCTAHEDRAL" && (four || eight)) {
        meshopt_decodeFilterOct(out.data(), packed.count, packed.stride);
    } else if (packed.filter == "QUATERNION" && eight) {
        meshopt_decodeFilterQuat(out.data(), packed.count, packed.stride);
    } else if (packed.filter == "EXPONENTIAL" && packed.stride % 4 == 0) {
        meshopt_decodeFilterExp(out.data(), packed.count, packed.stride);
    } else {
        base::fail(where,
                   "has the filter \"" + packed.filter + "\" with a stride of " +
                       std::to_string(packed.stride),
                   kDamagedGltf);
    }
}

std::vector<unsigned char> unpack(const tinygltf::Model& model, const Packed& packed,
                                  const std::string& where) {
    const std::size_t size =
        packed.buffer < model.buffers.size() ? model.buffers[packed.buffer].data.size() : 0;
    if (packed.offset > size || packed.length > size - packed.offset) {
        base::fail(where, "its packed data reaches past the end of its buffer", kDamagedGltf);
    }
    const bool vertices = packed.mode == "ATTRIBUTES";
    const bool strideFits = vertices ? packed.stride % 4 == 0 && packed.stride >= 4 && packed.stride <= 256
                                     : packed.stride == 2 || packed.stride == 4;
    if (!strideFits || packed.count == 0 ||
        packed.count > packed.length * kMostGrowth / packed.stride + kMostGrowth) {
        base::fail(where,
                   "says that it unpacks to " + std::to_string(packed.count) + " elements of " +
                       std::to_string(packed.stride) + " bytes",
                   kDamagedGltf);
    }
    std::vector<unsigned char> out(packed.count * packed.stride);
    const unsigned char* from = model.buffers[packed.buffer].data.data() + packed.offset;
    int result = -1;
    if (vertices) {
        result = meshopt_decodeVertexBuffer(out.data(), packed.count, packed.stride, from, packed.length);
    } else if (packed.mode == "TRIANGLES" && packed.count % 3 == 0) {
        result = meshopt_decodeIndexBuffer(out.data(), packed.count, packed.stride, from, packed.length);
    } else if (packed.mode == "INDICES") {
        result = meshopt_decodeIndexSequence(out.data(), packed.count, packed.stride, from, packed.length);
    }
    if (result != 0) {
        base::fail(where, "its packed data (\"" + packed.mode + "\") can't be unpacked", kDamagedGltf);
    }
    filter(packed, out, where);
    return out;
}

} // namespace

bool fillFallbackBuffers(nlohmann::json& root) {
    const auto buffers = root.find("buffers");
    if (buffers == root.end() || !buffers->is_array()) {
        return false;
    }
    bool any = false;
    for (nlohmann::json& buffer : *buffers) {
        if (!buffer.is_object() || buffer.contains("uri") || !buffer.contains("extensions") ||
            !buffer["extensions"].is_object() || !buffer["extensions"].contains(kName)) {
            continue;
        }
        buffer["byteLength"] = 1;
        buffer["uri"] = "data:application/octet-stream;base64,AA==";
        any = true;
    }
    return any;
}

void unpackMeshopt(tinygltf::Model& model, const std::string& file) {
    for (std::size_t v = 0; v < model.bufferViews.size(); ++v) {
        const auto extension = model.bufferViews[v].extensions.find(kName);
        if (extension == model.bufferViews[v].extensions.end()) {
            continue;
        }
        const std::string where = file + ": buffer view " + std::to_string(v);
        const Packed packed = parse(extension->second, where);
        tinygltf::Buffer buffer;
        buffer.data = unpack(model, packed, where);
        tinygltf::BufferView& view = model.bufferViews[v];
        view.buffer = static_cast<int>(model.buffers.size());
        view.byteOffset = 0;
        view.byteLength = buffer.data.size();
        view.byteStride = packed.mode == "ATTRIBUTES" ? packed.stride : 0;
        model.buffers.push_back(std::move(buffer));
    }
}

} // namespace ripple::source
