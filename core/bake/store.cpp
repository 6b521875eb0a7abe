#include "bake/store.h"

#include "code/value.h"

#include "base/problem.h"

#include <array>

namespace ripple::bake {

namespace {

template <typename Row>
const Row& byName(std::span<const Row> rows, const std::string& name, const char* kind) {
    std::string names;
    for (const Row& row : rows) {
        if (name == row.name) {
            return row;
        }
        names += (names.empty() ? "" : ", ") + std::string(row.name);
    }
    base::fail(std::string(kind) + " \"" + name + "\"", "there is no such way to store",
               "there are: " + names);
}

} // namespace

std::span<const PositionStore> positionStores() {
    static const std::array kRows = {kFloat32Store, kHalfStore, kUnorm16Store, kUnorm8x2Store};
    return kRows;
}

std::span<const NormalStore> normalStores() {
    static const std::array kRows = {kUnorm8Normals, kOct16Normals, kOct32Normals, kNoNormals};
    return kRows;
}

code::Value asSampled(std::span<const code::Value> planes) {
    return planes[0];
}

code::Value bytesOf(const code::Value& whole) {
    return code::make(code::Base::vec2, {code::floor(whole / 256.0f), code::modulo(whole, 256.0f)}) / 255.0f;
}

const PositionStore& positionStore(const std::string& name) {
    return byName(positionStores(), name, "position store");
}

const NormalStore& normalStore(const std::string& name) {
    return byName(normalStores(), name, "normal store");
}

} // namespace ripple::bake
