#include "source/gltf_document.h"

#include "base/files.h"
#include "base/text.h"
#include "source/gltf_files.h"
#include "source/gltf_library.h"
#include "source/gltf_meshopt.h"
#include "source/gltf_required.h"

#include <algorithm>
#include <array>
#include <cstring>

#include <nlohmann/json.hpp>

namespace ripple::source {

namespace {

using nlohmann::json;

struct GlbParts {
    std::string_view jsonText;
    std::span<const std::byte> rest; // chunks after the first
};

std::uint32_t littleEndian(std::span<const std::byte> bytes, std::size_t offset) {
    std::uint32_t value = 0;
    for (std::size_t i = 0; i < 4; ++i) {
        value |= std::to_integer<std::uint32_t>(bytes[offset + i]) << (8 * i);
    }
    return value;
}

void append(base::Bytes& out, std::uint32_t value) {
    for (int i = 0; i < 4; ++i) {
        out.push_back(static_cast<std::byte>(value >> (8 * i)));
    }
}

constexpr std::uint32_t kGlbMagic = 0x46546C67;
constexpr std::uint32_t kJsonChunk = 0x4E4F534A;

bool isGlb(std::span<const std::byte> bytes) {
    return bytes.size() >= 4 && littleEndian(bytes, 0) == kGlbMagic;
}

GlbParts splitGlb(std::span<const std::byte> bytes, const std::string& file) {
    const char* advice = "the file is damaged or was cut short; export it again";
    if (bytes.size() < 20) {
        base::fail(file, "is only " + std::to_string(bytes.size()) + " bytes long, too short for a GLB",
                   advice);
    }
    const std::size_t declared = littleEndian(bytes, 8);
    if (declared > bytes.size()) {
        base::fail(
            file, "declares " + std::to_string(declared) + " bytes but holds " + std::to_string(bytes.size()),
            advice);
    }
    const std::size_t length = littleEndian(bytes, 12);
    if (littleEndian(bytes, 16) != kJsonChunk || length > bytes.size() - 20) {
        base::fail(file, "its first chunk is not the JSON that a GLB starts with", advice);
    }
    return {base::asText(bytes.subspan(20, length)), bytes.subspan(20 + length)};
}

base::Bytes joinGlb(std::string text, std::span<const std::byte> rest) {
    text.resize((text.size() + 3) / 4 * 4, ' ');
    base::Bytes out;
    append(out, kGlbMagic);
    append(out, 2);
    append(out, static_cast<std::uint32_t>(20 + text.size() + rest.size()));
    append(out, static_cast<std::uint32_t>(text.size()));
    append(out, kJsonChunk);
    const auto bytes = base::asBytes(text);
    out.insert(out.end(), bytes.begin(), bytes.end());
    out.insert(out.end(), rest.begin(), rest.end());
    return out;
}

json parse(std::string_view text, const std::string& file) {
    try {
        return json::parse(text);
    } catch (const json::parse_error& error) {
        base::fail(file, "its JSON breaks off or is damaged at byte " + std::to_string(error.byte),
                   "export the file again");
    } catch (const json::exception&) {
        base::fail(file, "its JSON holds a number that is too large", "export the file again");
    }
}

/// Takes odd strides out of the JSON (they come back in `strides`); true if there were any.
bool takeOddStrides(json& root, std::vector<std::size_t>& strides) {
    const auto views = root.find("bufferViews");
    if (views == root.end() || !views->is_array()) {
        return false;
    }
    bool any = false;
    for (json& view : *views) {
        std::size_t stride = 0;
        if (view.is_object() && view.contains("byteStride") && view["byteStride"].is_number_unsigned()) {
            stride = view["byteStride"].get<std::size_t>();
            if (stride % 4 != 0 || stride < 4 || stride > 252) {
                view.erase("byteStride");
                any = true;
            }
        }
        strides.push_back(stride);
    }
    return any;
}

bool keepEncoded(tinygltf::Image* image, const int, std::string*, std::string*, int, int,
                 const unsigned char* bytes, int size, void*) {
    image->image.assign(bytes, bytes + size);
    image->as_is = true;
    if (image->mimeType.empty()) {
        image->mimeType = size > 3 && bytes[0] == 0xFF && bytes[1] == 0xD8 ? "image/jpeg" : "image/png";
    }
    return true;
}

/// Which property the library stumbled over, if its message names one: all of it that helps a person.
std::string propertyIn(const std::string& message) {
    constexpr const char* kQuotes = "'\"`";
    constexpr const char* kLetters = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ_";
    for (std::size_t at = message.find_first_of(kQuotes); at < message.size();
         at = message.find_first_of(kQuotes, at + 1)) {
        const std::size_t end = message.find_first_not_of(kLetters, at + 1);
        if (end != std::string::npos && end > at + 1 && message[end] == message[at]) {
            return ": its \"" + message.substr(at + 1, end - at - 1) + "\" is missing or of a wrong kind";
        }
    }
    return {};
}

template <typename T>
double numberAs(const std::byte* at) {
    T value;
    std::memcpy(&value, at, sizeof value);
    return static_cast<double>(value);
}

double component(const std::byte* at, int type, bool normalised) {
    switch (type) {
    case TINYGLTF_COMPONENT_TYPE_BYTE:
        return normalised ? std::max(numberAs<std::int8_t>(at) / 127.0, -1.0) : numberAs<std::int8_t>(at);
    case TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE:
        return normalised ? numberAs<std::uint8_t>(at) / 255.0 : numberAs<std::uint8_t>(at);
    case TINYGLTF_COMPONENT_TYPE_SHORT:
        return normalised ? std::max(numberAs<std::int16_t>(at) / 32767.0, -1.0) : numberAs<std::int16_t>(at);
    case TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT:
        return normalised ? numberAs<std::uint16_t>(at) / 65535.0 : numberAs<std::uint16_t>(at);
    case TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT:
        return numberAs<std::uint32_t>(at);
    default:
        return numberAs<float>(at);
    }
}

struct View {
    std::span<const std::byte> bytes;
    std::size_t stride = 0;
};

/// The bytes of `count` elements of `size` bytes, checked against view and buffer.
View viewOf(const GltfDocument& document, int viewIndex, std::size_t offset, std::size_t count,
            std::size_t size, const std::string& where) {
    const tinygltf::Model& model = *document.model;
    if (viewIndex < 0 || static_cast<std::size_t>(viewIndex) >= model.bufferViews.size()) {
        base::fail(where, "names buffer view " + std::to_string(viewIndex) + ", which does not exist",
                   kDamagedGltf);
    }
    const auto& view = model.bufferViews[static_cast<std::size_t>(viewIndex)];
    if (view.buffer < 0 || static_cast<std::size_t>(view.buffer) >= model.buffers.size()) {
        base::fail(document.at("buffer view", static_cast<std::size_t>(viewIndex)),
                   "names buffer " + std::to_string(view.buffer) + ", which does not exist", kDamagedGltf);
    }
    const auto& data = model.buffers[static_cast<std::size_t>(view.buffer)].data;
    if (view.byteOffset > data.size() || view.byteLength > data.size() - view.byteOffset) {
        base::fail(document.at("buffer view", static_cast<std::size_t>(viewIndex)),
                   "reaches past the end of its buffer of " + std::to_string(data.size()) + " bytes",
                   kDamagedGltf);
    }
    const std::size_t declared = document.strides[static_cast<std::size_t>(viewIndex)];
    const std::size_t stride = declared ? declared : size;
    const std::size_t room = view.byteLength;
    const bool fits = offset <= room && count > 0 && size <= room - offset &&
                      (count - 1) <= (room - offset - size) / std::max<std::size_t>(stride, 1);
    if (!fits) {
        base::fail(where,
                   "wants " + std::to_string(count) + " elements of " + std::to_string(size) +
                       " bytes, more than its buffer view's " + std::to_string(room) + " bytes hold",
                   kDamagedGltf);
    }
    const auto* base = reinterpret_cast<const std::byte*>(data.data()) + view.byteOffset + offset;
    return {{base, room - offset}, stride};
}

/// Largest element count that we believe when an accessor has no bytes to measure it by.
constexpr std::size_t kMostWithoutBytes = 1u << 24;

/// Calls put(element, component, value) for each number of an accessor, sparse ones last.
template <typename Put>
std::size_t readAccessor(const GltfDocument& document, int index, std::size_t components, const Put& put,
                         const std::function<void(std::size_t)>& resize) {
    const tinygltf::Model& model = *document.model;
    if (index < 0 || static_cast<std::size_t>(index) >= model.accessors.size()) {
        base::fail(document.file, "accessor " + std::to_string(index) + " is used but does not exist",
                   kDamagedGltf);
    }
    const auto& accessor = model.accessors[static_cast<std::size_t>(index)];
    const std::string where = document.at("accessor", static_cast<std::size_t>(index));
    const int has = tinygltf::GetNumComponentsInType(static_cast<std::uint32_t>(accessor.type));
    const int bytesEach =
        tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(accessor.componentType));
    if (has != static_cast<int>(components) || bytesEach <= 0) {
        base::fail(where,
                   "has " + std::to_string(has) + " numbers per element where " + std::to_string(components) +
                       " are wanted",
                   kDamagedGltf);
    }
    const auto width = static_cast<std::size_t>(bytesEach);
    const std::size_t size = width * components;
    if (accessor.count == 0) {
        resize(0);
        return 0;
    }
    const auto take = [&](const View& view, std::size_t from, std::size_t element) {
        const std::byte* at = view.bytes.data() + from * view.stride;
        for (std::size_t c = 0; c < components; ++c) {
            put(element, c, component(at + c * width, accessor.componentType, accessor.normalized));
        }
    };
    if (accessor.bufferView >= 0) {
        const View view =
            viewOf(document, accessor.bufferView, accessor.byteOffset, accessor.count, size, where);
        resize(accessor.count);
        for (std::size_t i = 0; i < accessor.count; ++i) {
            take(view, i, i);
        }
    } else {
        if (accessor.count > kMostWithoutBytes) {
            base::fail(where, "declares " + std::to_string(accessor.count) + " elements and no data",
                       kDamagedGltf);
        }
        resize(accessor.count); // zero, as the specification says
    }
    if (accessor.sparse.isSparse) {
        const auto& sparse = accessor.sparse;
        const auto count = static_cast<std::size_t>(std::max(sparse.count, 0));
        const auto indexWidth = static_cast<std::size_t>(std::max(
            tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(sparse.indices.componentType)), 1));
        const View indices = viewOf(document, sparse.indices.bufferView,
                                    static_cast<std::size_t>(std::max(sparse.indices.byteOffset, 0)), count,
                                    indexWidth, where + " (sparse indices)");
        const View values = viewOf(document, sparse.values.bufferView,
                                   static_cast<std::size_t>(std::max(sparse.values.byteOffset, 0)), count,
                                   size, where + " (sparse values)");
        for (std::size_t i = 0; i < count; ++i) {
            const double target =
                component(indices.bytes.data() + i * indices.stride, sparse.indices.componentType, false);
            if (target < 0.0 || target >= static_cast<double>(accessor.count)) {
                base::fail(where, "its sparse entry " + std::to_string(i) + " points outside it", kDamagedGltf);
            }
            take(values, i, static_cast<std::size_t>(target));
        }
    }
    return accessor.count;
}

} // namespace

std::string GltfDocument::at(const std::string& element, std::size_t index) const {
    return file + ": " + element + " " + std::to_string(index);
}

GltfDocument loadGltf(const std::filesystem::path& path, bool followOutside) {
    GltfDocument document;
    document.file = base::likelyUtf8(path.filename().string());
    base::Bytes bytes = base::readFile(path);
    if (bytes.empty()) {
        base::fail(path.string(), "the file is empty", "export it again");
    }
    const bool binary = isGlb(bytes);
    const GlbParts parts = binary ? splitGlb(bytes, document.file) : GlbParts{base::asText(bytes), {}};
    // Exporters of old systems write names in the encoding of their machine.
    const std::string jsonText = base::likelyUtf8(parts.jsonText);
    const bool recoded = jsonText != parts.jsonText;
    json root = parse(jsonText, document.file);
    requireVersion(root, document.file);
    requireReadableExtensions(root, document.file);
    const bool filled = fillFallbackBuffers(root);
    const bool odd = takeOddStrides(root, document.strides);
    if (odd) {
        document.findings.push_back({"gltf-stride",
                                     base::Severity::note,
                                     {document.file, "has buffer views whose stride is no multiple of 4",
                                      "read as written; other importers may refuse the file"}});
    }
    if (recoded) {
        document.findings.push_back(
            {"gltf-encoding",
             base::Severity::note,
             {document.file, "holds names that are not UTF-8",
              "they were taken for Windows-1252; other importers may refuse the file"}});
    }
    if (odd || filled || recoded) {
        const std::string text = root.dump();
        if (binary) {
            bytes = joinGlb(text, parts.rest);
        } else {
            const auto fresh = base::asBytes(text);
            bytes.assign(fresh.begin(), fresh.end());
        }
    }
    tinygltf::TinyGLTF loader;
    loader.SetImageLoader(&keepEncoded, nullptr);
    FilesBeside files(path, followOutside);
    loader.SetFsCallbacks(files.callbacks());
    document.model = std::make_shared<tinygltf::Model>();
    std::string error;
    std::string warning;
    const std::string folder = FilesBeside::kBeside;
    bool read = false;
    try {
        const auto length = static_cast<unsigned int>(bytes.size());
        read = binary
                   ? loader.LoadBinaryFromMemory(document.model.get(), &error, &warning,
                                                 reinterpret_cast<const unsigned char*>(bytes.data()), length,
                                                 folder)
                   : loader.LoadASCIIFromString(document.model.get(), &error, &warning,
                                                reinterpret_cast<const char*>(bytes.data()), length, folder);
    } catch (const std::bad_alloc&) {
        throw;
    } catch (const std::exception&) {
        error.clear(); // about the library's own code
    }
    if (!read) {
        files.failIfNeeded(*document.model, document.file);
        base::fail(path.string(), "is not valid glTF 2.0" + propertyIn(error), "export it again");
    }
    files.report(document.findings);
    document.strides.resize(document.model->bufferViews.size(), 0);
    unpackMeshopt(*document.model, document.file);
    for (std::size_t v = 0; v < document.strides.size(); ++v) {
        if (document.model->bufferViews[v].extensions.contains("EXT_meshopt_compression")) {
            document.strides[v] = document.model->bufferViews[v].byteStride;
        }
    }
    return document;
}

GltfNumbers readNumbers(const GltfDocument& document, int accessor, std::size_t components) {
    GltfNumbers numbers;
    numbers.components = components;
    numbers.count = readAccessor(
        document, accessor, components,
        [&](std::size_t element, std::size_t c, double value) {
            numbers.values[element * components + c] = static_cast<float>(value);
        },
        [&](std::size_t count) { numbers.values.assign(count * components, 0.0f); });
    return numbers;
}

std::vector<std::uint32_t> readIntegers(const GltfDocument& document, int accessor, std::size_t components) {
    std::vector<std::uint32_t> values;
    readAccessor(
        document, accessor, components,
        [&](std::size_t element, std::size_t c, double value) {
            values[element * components + c] =
                value < 0.0 || value > 4294967295.0 ? 0xFFFFFFFFu : static_cast<std::uint32_t>(value);
        },
        [&](std::size_t count) { values.assign(count * components, 0u); });
    return values;
}

} // namespace ripple::source
