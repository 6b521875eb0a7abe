#pragma once

#include "base/problem.h"

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace tinygltf {
class Model;
}

namespace ripple::source {

constexpr const char* kDamagedGltf = "the file is damaged; export it again";
constexpr const char* kExportAgain = "export the file again";

/// A parsed glTF file and what its reader needs beside the library's model.
struct GltfDocument {
    std::string file;
    std::shared_ptr<tinygltf::Model> model;
    /// byteStride of each buffer view as the file has it. The library refuses strides that are no multiple of
    /// 4, which exporters write; it gets none for those, and readers use this list.
    std::vector<std::size_t> strides;
    base::Findings findings;

    /// "robot.glb: accessor 4"
    std::string at(const std::string& element, std::size_t index) const;
};

/// Reads and parses; images stay encoded. Throws base::Failure: no such file, not glTF 2.0, cut short, absent
/// buffers, required extensions that are not read. Files that it names are found as Companions finds them.
GltfDocument loadGltf(const std::filesystem::path& path, bool followOutside = false);

/// Unpacks an accessor: count × components values, normalised integers as glTF 2.0 section 3.6.2.2, sparse
/// substitution applied. Throws base::Failure if it reaches outside its buffer or has another shape.
struct GltfNumbers {
    std::size_t count = 0;
    std::size_t components = 0;
    std::vector<float> values; ///< count × components
};
GltfNumbers readNumbers(const GltfDocument& document, int accessor, std::size_t components);

/// The same for whole numbers (indices, joints).
std::vector<std::uint32_t> readIntegers(const GltfDocument& document, int accessor, std::size_t components);

} // namespace ripple::source
