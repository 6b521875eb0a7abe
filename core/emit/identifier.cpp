#include "emit/identifier.h"

namespace ripple::emit {

std::string identifier(const std::string& name) {
    std::string id;
    for (const char c : name) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9');
        if (plain) {
            id += c;
        } else if (!id.empty() && id.back() != '_') {
            id += '_'; // never two in a row: GLSL reserves those
        }
    }
    while (!id.empty() && id.back() == '_') {
        id.pop_back();
    }
    if (id.empty() || (id[0] >= '0' && id[0] <= '9') || id.rfind("gl", 0) == 0) {
        id.insert(0, id.empty() ? "bake" : "m");
    }
    return id;
}

} // namespace ripple::emit
