#include "bake/store.h"

#include "code/value.h"

#include <cstring>
#include <limits>

namespace ripple::bake {

namespace {

void encode(std::span<const glm::vec3> values, const Range&, std::byte* const* planes) {
    std::memcpy(planes[0], values.data(), values.size_bytes());
}

void decode(const std::byte* const* planes, const Range&, std::span<glm::vec3> values) {
    std::memcpy(values.data(), planes[0], values.size_bytes());
}

glm::vec3 errorBound(const Range&) {
    return glm::vec3(0.0f);
}

code::Value shaderAlpha(std::span<const code::Value> planes) {
    return bytesOf(planes[0].w());
}

} // namespace

const PositionStore kFloat32Store = {
    "float32",
    "float",
    "Exact, at twice the memory of the others: for measuring, or where nothing else is precise enough.",
    image::Pixel::float32,
    1,
    false,
    std::numeric_limits<float>::max(),
    &encode,
    &decode,
    &errorBound,
    &asSampled,
    &shaderAlpha,
};

} // namespace ripple::bake
