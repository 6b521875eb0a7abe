#pragma once

#include "code/tree.h"

#include <string>
#include <vector>

namespace ripple::emit {

/// A complete vertex stage as an example of how a bundle's functions are called: what it is made of, whatever
/// the language. Dialect::vertexStage() prints it.
struct VertexStage {
    struct Attribute {
        code::Type type;
        std::string name; ///< "texcoord_1"
        std::string gltf; ///< "TEXCOORD_1"
    };
    std::string about;                 ///< a line for its head
    std::string code;                  ///< the functions, in the language
    std::vector<Attribute> attributes; ///< the position first
    std::vector<std::string> textures;
    std::string result;                 ///< the record that `call` gives: "heron_pose"
    std::string call;                   ///< "heron_at_seconds"
    std::string velocity;               ///< "heron_velocity_at_seconds"
    std::vector<std::string> arguments; ///< of both, as expressions in the language; the clock comes last
    std::string clock = "seconds";      ///< that `call` takes: or "turn"
    bool copies = false;                ///< arguments name copy_id, copy_origin, copy_axes or copy_scale
    bool clips = false;                 ///< arguments name clip_number
    std::string baseUv;                 ///< the attribute that the base texture lies on; empty: none
    bool shiftsUv = false;
};

} // namespace ripple::emit
