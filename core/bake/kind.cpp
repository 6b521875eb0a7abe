#include "bake/kind.h"

#include "base/problem.h"

#include <algorithm>

namespace ripple::bake {

namespace {

std::vector<const Kind*>& table() {
    static std::vector<const Kind*> rows = {&kVertices, &kPieces, &kShapes, &kJoints};
    return rows;
}

} // namespace

std::span<const Kind* const> kinds() {
    return table();
}

void addKind(const Kind& kind) {
    table().push_back(&kind);
}

const Kind* kindByName(const std::string& id) {
    const auto found =
        std::find_if(table().begin(), table().end(), [&](const Kind* kind) { return id == kind->id; });
    return found == table().end() ? nullptr : *found;
}

Recipe withKind(Recipe recipe, const Kind& kind) {
    recipe.kind = &kind;
    recipe.blend = kind.cubic ? recipe.blend : Blend::linear;
    kind.adapt(recipe);
    return recipe;
}

void addStored(std::vector<TextureFormat>& textures, const BakeFormat& format, const Quantity& quantity,
               std::size_t channels, const std::string& words) {
    for (std::size_t plane = 0; plane < format.positionStore.planes; ++plane) {
        TextureFormat& texture = textures.emplace_back();
        texture.quantity = &quantity;
        texture.plane = plane;
        texture.planes = format.positionStore.planes;
        texture.width = format.layout.width;
        texture.height = format.layout.height();
        texture.pixel = format.positionStore.pixel;
        texture.channels = channels;
        texture.channelsUsed = channels;
        texture.words = words;
        texture.words += texture.planes == 1 ? "" : plane == 0 ? "; the high bytes" : "; the low bytes";
    }
}

void addDirections(std::vector<TextureFormat>& textures, const BakeFormat& format, const Quantity& quantity,
                   const std::string& words) {
    TextureFormat& texture = textures.emplace_back();
    texture.quantity = &quantity;
    texture.width = format.layout.width;
    texture.height = format.layout.height();
    texture.pixel = format.normalStore.pixel;
    texture.channelsUsed = format.normalStore.channels;
    texture.words = words + " as " + format.normalStore.name;
}

void requireNoVertexChoices(const Recipe& recipe, const char* tangents) {
    const std::string kind = std::string("a bake of ") + recipe.kind->id;
    if (recipe.normalsInAlpha) {
        base::fail("normals in alpha", kind + " stores none beside each vertex's position",
                   "bake the vertices, or leave normals in alpha away");
    }
    if (recipe.tangents) {
        base::fail("tangents", kind + " " + tangents, "bake the vertices, or leave tangents away");
    }
}

} // namespace ripple::bake
