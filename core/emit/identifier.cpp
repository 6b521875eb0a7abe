#include "emit/identifier.h"

#include "base/problem.h"
#include "code/reserved.h"

#include <algorithm>

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

void requireParameterName(const std::string& name, const std::vector<std::string>& taken) {
    const std::string where = "parameter \"" + name + "\"";
    if (name.empty()) {
        base::fail(where, "has no name", "give it one");
    }
    const std::string spelled = identifier(name);
    if (const char* language = code::reservedIn(spelled)) {
        base::fail(where, std::string("has a name that means something else in ") + language,
                   "give it another one, of two words perhaps");
    }
    if (std::find(taken.begin(), taken.end(), spelled) != taken.end()) {
        base::fail(where, "is spelled " + spelled + " in code, as another one is", "give it another name");
    }
}

} // namespace ripple::emit
