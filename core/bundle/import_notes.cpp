#include "bundle/import_notes.h"

#include "base/units.h"
#include "emit/glsl_reader.h"

namespace ripple::bundle {

namespace {

std::string textureWords(const bake::TextureSet& set, const bake::Texture& texture) {
    const std::string size =
        std::to_string(texture.image.width) + " × " + std::to_string(texture.image.height);
    const std::string store = set.positionStore.name;
    switch (texture.role) {
    case bake::Role::position:
    case bake::Role::positionLow: {
        const char* of = set.kind == bake::Kind::shapes   ? " shapes, "
                         : set.kind == bake::Kind::pieces ? " positions of pieces, "
                                                          : " positions, ";
        const char* part = set.positionStore.planes == 1          ? ""
                           : texture.role == bake::Role::position ? ", the high bytes"
                                                                  : ", the low bytes";
        return bake::name(set.content) + std::string(of) + size + ", " + store + part +
               ", red green blue are x y z" +
               (set.normalsInAlpha ? "; alpha holds an octahedral normal" : "");
    }
    case bake::Role::normal:
        return set.kind == bake::Kind::shapes ? "normals of the shapes, " + size + ", " + store
                                              : "normals, " + size + ", " + set.normalStore.name;
    case bake::Role::tangent:
        return "tangents, " + size + ", " + set.normalStore.name +
               "; their sign is in the mesh's own tangents";
    case bake::Role::rotation:
    case bake::Role::rotationLow:
        return "turns of pieces as quaternions, " + size + ", " + store +
               ", red green blue alpha are x y z w";
    case bake::Role::weight:
        break;
    }
    return "weights of the shapes, " + size + ", float32: row f is frame f, four shapes to a texel";
}

/// A name out of a file as Markdown text: what would be markup, or leave a table's cell, is not.
std::string asText(const std::string& name) {
    constexpr std::string_view kMarkup = "\\`*_{}[]<>()#+-.!|~&:";
    std::string text;
    for (const char c : name) {
        const bool control = static_cast<unsigned char>(c) < 0x20 || c == 0x7F;
        text += control                                     ? std::string(" ")
                : kMarkup.find(c) != std::string_view::npos ? std::string("\\") + c
                                                            : std::string(1, c);
    }
    return text;
}

/// The same in a span of code, where only its fence and a cell's edge are markup.
std::string asCode(const std::string& name) {
    std::string text = "`";
    for (const char c : name) {
        text += c == '`' || static_cast<unsigned char>(c) < 0x20 ? "'" : c == '|' ? "\\|" : std::string(1, c);
    }
    return text + "`";
}

std::string clipLine(const bake::BakedClip& clip, std::size_t index) {
    return "| " + std::to_string(index) + " | " + asText(clip.name) + " | " +
           std::to_string(clip.firstFrame) + " | " + std::to_string(clip.length()) + " | " +
           base::floatLiteral(static_cast<float>(clip.fps)) + " | " +
           (clip.closed ? "closed: wraps from its last frame to its first" : "open: stops at its ends") +
           " |\n";
}

} // namespace

std::vector<ImporterDemand> importerDemands(const Manifest& manifest) {
    std::vector<ImporterDemand> demands;
    for (std::size_t t = 0; t < manifest.textureFiles.size(); ++t) {
        const std::string& file = manifest.textureFiles[t];
        demands.push_back({"keep it linear", file,
                           "Its numbers are lengths and directions. Read as sRGB they bend toward one corner "
                           "of their range."});
        demands.push_back(
            {"make no mips", file, "A mip mixes neighbouring vertices: the mesh melts with distance."});
        demands.push_back(
            {"not filter", file,
             "Neighbouring texels are unrelated vertices. Use nearest; the code blends frames itself."});
        demands.push_back(
            {"not compress", file, "Block compression moves vertices by centimetres, in blocks of four."});
        demands.push_back(
            {"not resize", file,
             "One texel is one vertex in one frame; a side that is no power of two is meant so."});
        if (manifest.textures.textures[t].channelsUsed == 2) {
            demands.push_back({"import red and green only, where it can", file,
                               "Blue is empty: two channels take half the memory of four."});
        }
        if (manifest.textures.textures[t].channelsUsed == 4) {
            demands.push_back({"keep alpha as it is", file,
                               "Alpha is a number like the others: not coverage, not to be multiplied in."});
        }
    }
    demands.push_back({"keep full UV precision", manifest.meshFile,
                       "Half-precision UVs cannot tell the columns of a wide texture apart."});
    demands.push_back({"keep UV set " + std::to_string(manifest.lookupUvSet), manifest.meshFile,
                       "It is the lookup (set " + std::to_string(manifest.lookupUvSet) +
                           " counted from 0, set " + std::to_string(manifest.lookupUvSet + 1) +
                           " counted from 1). Made anew for a light map, it points at the wrong vertices."});
    demands.push_back(
        {"keep its scale and axes", manifest.meshFile,
         "Textures hold metres, +Y up. A mesh scaled on import must scale what is read as well."});
    return demands;
}

std::string importNotes(const Manifest& manifest) {
    const bake::TextureSet& set = manifest.textures;
    const std::string id = emit::identifier(manifest.name);
    std::string text = "# " + asText(manifest.name) + ": what is here and how to import it\n\n";
    text += "| file | what it is |\n|---|---|\n";
    text += "| " + asCode(manifest.meshFile) + " | the mesh in its rest pose, " +
            std::to_string(manifest.vertices) + " vertices, metres, +Y up; UV set " +
            std::to_string(manifest.lookupUvSet) + " (counted from 0) is the lookup into the textures |\n";
    for (std::size_t t = 0; t < manifest.textureFiles.size(); ++t) {
        text += "| " + asCode(manifest.textureFiles[t]) + " | " + textureWords(set, set.textures[t]) + " |\n";
    }
    if (set.kind == bake::Kind::pieces) {
        text +=
            "| UV sets " + std::to_string(manifest.pivotUvSet) + " and " +
            std::to_string(manifest.pivotUvSet + 1) +
            " (counted from 0) | the pivot of the vertex's piece: x and y in the first; z, and the number "
            "of the piece, in the second |\n";
    }
    text += "| " + asCode(manifest.name + ".glsl") +
            " | functions that read them, with their numbers filled in |\n";
    text += "| " + asCode(manifest.name + ".bundle.json") + " | the same numbers for programs |\n";
    text += "\n## The importer must\n\n";
    for (const ImporterDemand& demand : importerDemands(manifest)) {
        text += "- **" + demand.demand + "** (" + asCode(demand.file) + "): " + demand.why + "\n";
    }
    text += "\n## Clips\n\n| number | name | first frame | frames | frames per second | loop "
            "|\n|---|---|---|---|---|---|\n";
    for (std::size_t c = 0; c < set.clips.size(); ++c) {
        text += clipLine(set.clips[c], c);
    }
    text += "\n## Reading it\n\n";
    std::string samplers;
    for (const std::string& sampler : emit::readerSamplers(set)) {
        samplers += sampler + ", ";
    }
    if (set.kind == bake::Kind::shapes) {
        text += "Every frame is the rest pose and " + base::plural(set.layout.frames, "shape") +
                ", each added by its weight in that frame; read `shape` for `frame` below. ";
    }
    text += "One frame is " + base::plural(set.layout.rowsPerFrame, "row") +
            " high; row 0 is the top. A vertex reads its texel in frame `f` at its lookup UV plus `f × " +
            std::to_string(set.layout.rowsPerFrame) + " / " + std::to_string(set.layout.height()) +
            "` in v. ";
    if (set.positionStore.usesRange) {
        text +=
            "What is sampled (0..1) is scaled: `min + value × (max − min)` with the range in the manifest. ";
    }
    text += set.content == bake::Content::offset ? "The result is added to the rest position.\n\n"
                                                 : "The result is the position itself.\n\n";
    text += "In the vertex stage, after including " + asCode(manifest.name + ".glsl") + ":\n\n```glsl\n" +
            id + "_pose pose = " + id + "_at_seconds(" + samplers + "lookup_uv, rest_position, rest_normal" +
            (emit::readerWantsPivot(set) ? ", pivot" : "") + ", 0, seconds);\n```\n\n";
    text += "Set the mesh's bounds to the bounds of all motion, or it is culled too early: min " +
            base::floatLiteral(manifest.bounds.min.x) + " " + base::floatLiteral(manifest.bounds.min.y) +
            " " + base::floatLiteral(manifest.bounds.min.z) + ", max " +
            base::floatLiteral(manifest.bounds.max.x) + " " + base::floatLiteral(manifest.bounds.max.y) +
            " " + base::floatLiteral(manifest.bounds.max.z) + ".\n\n";
    text += "Measured against the source: positions off by at most " +
            base::lengthText(manifest.error.all.max) + ", normals by at most " +
            base::degreesText(manifest.error.normalMaxDegrees) + ".\n";
    return text;
}

} // namespace ripple::bundle
