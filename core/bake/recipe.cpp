#include "bake/recipe.h"

namespace ripple::bake {

const char* name(Content content) {
    return content == Content::absolute ? "absolute" : "offset";
}

std::optional<Content> contentByName(const std::string& text) {
    for (const Content content : {Content::absolute, Content::offset}) {
        if (text == name(content)) {
            return content;
        }
    }
    return std::nullopt;
}

} // namespace ripple::bake
