#pragma once

#include <string>

#include <nlohmann/json_fwd.hpp>

namespace tinygltf {
class Model;
}

namespace ripple::source {

/// Buffers that only stand in for compressed data have no bytes; the library refuses such. Gives them one
/// byte, before the library reads `root`. True if there were any.
bool fillFallbackBuffers(nlohmann::json& root);

/// Unpacks all buffer views of EXT_meshopt_compression into buffers of their own, to which the views then
/// point. Throws base::Failure with `file`: damaged data, odd strides, ranges outside their buffer, sizes
/// that no data can unpack to.
void unpackMeshopt(tinygltf::Model& model, const std::string& file);

} // namespace ripple::source
