#include "bake/tolerance.h"

#include "base/quantity.h"
#include "base/units.h"
#include "mesh/bounds.h"

namespace ripple::bake {

double assetSize(const mesh::Mesh& mesh) {
    mesh::Bounds bounds;
    bounds.add(mesh.positions);
    return mesh.positions.empty() ? 0.0 : static_cast<double>(bounds.diagonal());
}

std::optional<Tolerance> parseTolerance(std::string_view text) {
    Tolerance tolerance;
    const auto read = base::parseQuantity(text);
    if (read && read->unit == "%") {
        tolerance.share = 0.01 * read->value;
    } else {
        tolerance.length = base::parseLength(text);
        if (!tolerance.length) {
            return std::nullopt;
        }
    }
    return tolerance.metres(1.0) > 0.0 ? std::optional(tolerance) : std::nullopt;
}

} // namespace ripple::bake
