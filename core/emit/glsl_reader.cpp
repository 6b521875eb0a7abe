#include "emit/glsl_reader.h"

#include "base/units.h"
#include "base/version.h"
#include "emit/fill.h"
#include "emit/glsl_printer.h"
#include "emit/glsl_templates.h"

#include <algorithm>
#include <functional>

namespace ripple::emit {

namespace {

using bake::Kind;
using bake::Role;
using bake::TextureSet;

std::string number(double value) {
    return base::floatLiteral(static_cast<float>(value));
}

std::string count(std::size_t value) {
    return number(static_cast<double>(value));
}

std::string vec3(const glm::vec3& v) {
    return "vec3(" + base::floatLiteral(v.x) + ", " + base::floatLiteral(v.y) + ", " +
           base::floatLiteral(v.z) + ")";
}

/// A function from the number of a clip to one of its values.
std::string clipTable(const std::string& id, const char* type, const char* what, const TextureSet& textures,
                      const std::function<std::string(std::size_t clip)>& value) {
    std::string text = std::string(type) + " " + id + "_clip_" + what + "(int clip)\n{\n";
    const std::size_t last = textures.clips.size() - 1;
    for (std::size_t c = 0; c <= last; ++c) {
        const std::string test = c < last ? "if (clip == " + std::to_string(c) + ") " : "";
        text += "    " + test + "return " + value(c) + "; // " + identifier(textures.clips[c].name) + "\n";
    }
    return text + "}\n";
}

/// What a person must know of each texture.
std::string describe(const TextureSet& set, const bake::Texture& texture) {
    const std::string size =
        std::to_string(texture.image.width) + " x " + std::to_string(texture.image.height) + " texels";
    std::string what;
    switch (texture.role) {
    case Role::position:
    case Role::positionLow:
        what = std::string(set.positionStore.name) + " " + bake::name(set.content) +
               (set.kind == Kind::shapes   ? " shapes"
                : set.kind == Kind::pieces ? " of pieces"
                                           : "") +
               (set.normalsInAlpha ? ", normals in alpha" : "");
        break;
    case Role::normal:
        what = set.kind == Kind::shapes ? std::string(set.positionStore.name) + " normals of the shapes"
                                        : std::string(set.normalStore.name) + " normals";
        break;
    case Role::tangent:
        what = std::string(set.normalStore.name) + " tangents";
        break;
    case Role::rotation:
    case Role::rotationLow:
        what = std::string(set.positionStore.name) + " turns of pieces, x y z w";
        break;
    case Role::weight:
        what = "float32 weights, four shapes to a texel, one row a frame";
        break;
    }
    std::string name = bake::samplerName(set, texture.role);
    name.resize(std::max<std::size_t>(name.size() + 1, 15), ' ');
    return "//   " + name + what + ", " + size + "\n";
}

/// Range of positions as an expression of `stored_frame`.
std::string rangeFunctions(const std::string& id, const TextureSet& set) {
    if (!set.positionStore.usesRange) {
        return {};
    }
    const auto function = [&](const char* what, const std::function<glm::vec3(const bake::Range&)>& value) {
        std::string text = "vec3 " + id + "_range_" + what + "(float stored_frame)\n{\n";
        for (std::size_t r = 0; r + 1 < set.ranges.size(); ++r) {
            const bake::BakedClip& clip = set.clips[r];
            text += "    if (stored_frame < " +
                    number(static_cast<double>(clip.firstFrame + clip.frames) - 0.5) + ") return " +
                    vec3(value(set.ranges[r])) + "; // " + identifier(clip.name) + "\n";
        }
        return text + "    return " + vec3(value(set.ranges.back())) + ";\n}\n";
    };
    return function("min", [](const bake::Range& range) { return range.min; }) +
           function("size", [](const bake::Range& range) { return range.max - range.min; });
}

/// When the stored frames are shown, for clips that leave some out; all clips in one table.
std::string timeTable(const std::string& id, const TextureSet& set) {
    std::string numbers;
    std::size_t entries = 0;
    for (const bake::BakedClip& clip : set.clips) {
        for (std::size_t f = 0; f < clip.frames; ++f) {
            numbers += (entries == 0        ? "\n    "
                        : entries % 12 == 0 ? ",\n    "
                                            : ", ") +
                       count(clip.times.empty() ? f : clip.times[f]);
            ++entries;
        }
    }
    const std::string type = "float[" + std::to_string(entries) + "]";
    return "// The frame of its clip that each stored frame is.\nconst float " + id + "_times[" +
           std::to_string(entries) + "] = " + type + "(" + numbers + ");\n";
}

bool thinned(const TextureSet& set) {
    return std::any_of(set.clips.begin(), set.clips.end(),
                       [](const bake::BakedClip& clip) { return !clip.times.empty(); });
}

std::string clipTables(const std::string& id, const TextureSet& set) {
    const auto& clips = set.clips;
    std::string text =
        clipTable(id, "float", "first_frame", set, [&](std::size_t c) { return count(clips[c].firstFrame); });
    text += clipTable(id, "float", "frames", set, [&](std::size_t c) { return count(clips[c].length()); });
    if (thinned(set)) {
        text += clipTable(id, "float", "stored", set, [&](std::size_t c) { return count(clips[c].frames); });
    }
    text += clipTable(id, "float", "fps", set, [&](std::size_t c) { return number(clips[c].fps); });
    text += clipTable(id, "bool", "closed", set,
                      [&](std::size_t c) { return std::string(clips[c].closed ? "true" : "false"); });
    return text + (thinned(set) ? timeTable(id, set) : std::string());
}

/// Reads `high` and `low`, or `texel`, of one quantity at `uv`.
std::string fetch(const TextureSet& set, Role high, Role low) {
    const auto line = [&](const char* name, Role role) {
        return std::string("    vec4 ") + name + " = textureLod(" + bake::samplerName(set, role) +
               ", uv, 0.0);\n";
    };
    return set.positionStore.planes == 2 ? line("high", high) + line("low", low) : line("texel", high);
}

std::string bodyOf(const TextureSet& set) {
    std::string body(set.kind == Kind::pieces   ? kPieceBody
                     : set.kind == Kind::shapes ? kShapeBody
                                                : kVertexBody);
    const bool octahedral = set.normalsInAlpha || set.normalStore.channels == 2;
    return (octahedral && set.kind == Kind::vertices ? std::string(kUnfold) : std::string()) +
           std::string(thinned(set) ? kUnevenFrames : kEvenFrames) + body + std::string(kTail);
}

Values kindValues(const TextureSet& set) {
    const bool range = set.positionStore.usesRange;
    const std::string value = "(" + std::string(set.positionStore.glsl) + ").xyz";
    const bool shapes = set.kind == Kind::shapes;
    const std::string at = shapes ? "0.0" : "stored_frame";
    const std::string decoded =
        range ? "@id@_range_min(" + at + ") + " + value + " * @id@_range_size(" + at + ")" : value;
    const bool offset = set.content == bake::Content::offset;
    Values values = {
        {"fetch_position", fetch(set, Role::position, Role::positionLow)},
        {"fetch_turn", fetch(set, Role::rotation, Role::rotationLow)},
        {"value", decoded},
        {"add_rest", offset ? "rest_position + " : ""},
        {"add_pivot", offset ? "pivot + " : ""},
        {"turn", range ? "(" + std::string(set.positionStore.glsl) + ") * 2.0 - 1.0"
                       : std::string(set.positionStore.glsl)},
        {"shapes", std::to_string(set.layout.frames)},
    };
    std::string normal = "    pose.normal = rest_normal;\n";
    std::string add;
    if (set.normalsInAlpha) {
        normal = "    pose.normal = @id@_unfold(" + std::string(set.positionStore.glslAlpha) + ");\n";
    } else if (set.hasNormals() && shapes) {
        add = "            pose.normal += w[i] * (" +
              (range ? vec3(set.normalRange.min) + " + textureLod(normals, uv, 0.0).xyz * " +
                           vec3(set.normalRange.max - set.normalRange.min)
                     : std::string("textureLod(normals, uv, 0.0).xyz")) +
              ");\n";
    } else if (set.hasNormals()) {
        normal = "    pose.normal = @id@_decode_normal(textureLod(normals, uv, 0.0));\n";
    }
    if (set.tangents) {
        normal += "    pose.tangent = @id@_decode_normal(textureLod(tangents, uv, 0.0));\n";
    }
    values.push_back({"normal", normal});
    values.push_back({"pose_tangent", set.tangents ? " vec3 tangent;" : ""});
    values.push_back(
        {"mix_tangent",
         set.tangents ? "    pose.tangent = normalize(mix(a.tangent, b.tangent, frames.z));\n" : ""});
    values.push_back({"add_normal", add});
    values.push_back({"decode_normal",
                      set.hasNormals() && set.kind == Kind::vertices && (!set.normalsInAlpha || set.tangents)
                          ? "vec3 @id@_decode_normal(vec4 texel)\n{\n    return " +
                                std::string(set.normalStore.glsl) + ";\n}\n\n"
                          : ""});
    return values;
}

} // namespace

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

std::vector<std::string> readerSamplers(const TextureSet& textures) {
    std::vector<std::string> samplers;
    for (const bake::Texture& texture : textures.textures) {
        samplers.push_back(bake::samplerName(textures, texture.role));
    }
    return samplers;
}

bool readerWantsPivot(const TextureSet& textures) {
    return textures.kind == Kind::pieces;
}

std::string glslReader(const std::string& name, const TextureSet& textures, const mesh::Bounds& bounds) {
    const std::string id = identifier(name);
    const bake::Layout& layout = textures.layout;
    std::string parameters;
    std::string arguments;
    std::string described;
    for (const bake::Texture& texture : textures.textures) {
        parameters += "highp sampler2D " + // ES 3.00 takes lowp unless told
                      bake::samplerName(textures, texture.role) + ", ";
        arguments += bake::samplerName(textures, texture.role) + ", ";
        described += describe(textures, texture);
    }
    parameters += "vec2 lookup_uv, vec3 rest_position, vec3 rest_normal";
    arguments += "lookup_uv, rest_position, rest_normal";
    if (readerWantsPivot(textures)) {
        parameters += ", vec3 pivot";
        arguments += ", pivot";
    }
    Values values = kindValues(textures);
    const Values common = {
        {"generator", base::generatorName()},
        {"textures", described},
        {"pivot_note",
         readerWantsPivot(textures)
             ? "//   pivot          of the vertex's piece: UV sets after the lookup, see IMPORT.md\n"
             : ""},
        {"rows", std::to_string(layout.rowsPerFrame)},
        {"one_frame", textures.kind == Kind::shapes ? "One shape" : "One frame"},
        {"bounds_min", vec3(bounds.min)},
        {"bounds_max", vec3(bounds.max)},
        {"clip_count", std::to_string(textures.clips.size())},
        {"frame_height",
         number(static_cast<double>(layout.rowsPerFrame) / static_cast<double>(layout.height()))},
        {"parameters", parameters},
        {"arguments", arguments},
        {"id", id},
        {"name", commentOf(name)}, // last: whatever it holds is not filled in any more
    };
    values.insert(values.end(), common.begin(), common.end());
    return fill(std::string(kHead) + clipTables(id, textures) + rangeFunctions(id, textures) +
                    bodyOf(textures),
                values);
}

} // namespace ripple::emit
