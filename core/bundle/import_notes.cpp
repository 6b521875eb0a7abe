#include "bundle/import_notes.h"

#include "bake/kind.h"
#include "base/units.h"
#include "bundle/markdown.h"
#include "emit/reader_code.h"

namespace ripple::bundle {

namespace {

std::string clipLine(const bake::BakedClip& clip, std::size_t index) {
    return "| " + std::to_string(index) + " | " + asText(clip.name) + " | " +
           std::to_string(clip.firstFrame) + " | " + std::to_string(clip.length()) + " | " +
           base::floatLiteral(static_cast<float>(clip.fps)) + " | " +
           (clip.closed ? "closed: wraps from its last frame to its first" : "open: stops at its ends") +
           " |\n";
}

} // namespace

std::vector<ImportSetting> importSettings(const Manifest& manifest) {
    const std::vector<std::string>& all = manifest.textureFiles;
    std::vector<std::string> twoChannels;
    std::vector<std::string> withAlpha;
    for (std::size_t t = 0; t < all.size(); ++t) {
        const std::size_t used = manifest.textures.textures[t].channelsUsed;
        if (used == 2) {
            twoChannels.push_back(all[t]);
        } else if (used == 4) {
            withAlpha.push_back(all[t]);
        }
    }
    std::vector<ImportSetting> settings = {
        {"Colour space", "linear data (no sRGB)", all,
         "The numbers are lengths and directions. Read as sRGB they bend toward one corner of their range."},
        {"Mipmaps", "off", all, "A mipmap mixes neighbouring vertices: the mesh melts with distance."},
        {"Filtering", "nearest", all,
         "Neighbouring texels are unrelated vertices. The code blends frames itself."},
        {"Compression", "none", all, "Block compression moves vertices by centimetres, in blocks of four."},
        {"Size", "keep", all,
         "One texel is one vertex in one frame. A side that is no power of two is meant to be so."}};
    if (!twoChannels.empty()) {
        settings.push_back({"Channels", "red and green, where possible", twoChannels,
                            "Blue is empty: two channels take half the memory of four."});
    }
    if (!withAlpha.empty()) {
        settings.push_back({"Alpha", "keep as data (not premultiplied)", withAlpha,
                            "Alpha is a number like the others. It is no coverage."});
    }
    const std::vector<std::string> mesh = {manifest.meshFile};
    settings.push_back({"UV precision", "full", mesh,
                        "Half-precision UVs cannot tell the columns of a wide texture apart."});
    const std::string set = std::to_string(manifest.lookupUvSet);
    const std::string fromOne = std::to_string(manifest.lookupUvSet + 1);
    settings.push_back({"UV set " + set + " (" + fromOne + " counted from 1)", "keep", mesh,
                        "It is the lookup. Made again for a light map, it points at the wrong vertices."});
    if (manifest.textures.kind->hasPivots) {
        settings.push_back({"UV sets " + std::to_string(manifest.textures.pivotUvSet) + " and " +
                                std::to_string(manifest.textures.pivotUvSet + 1) + " (counted from 0)",
                            "keep", mesh,
                            "They hold the pivot of each vertex's piece. Without them pieces rotate about "
                            "the wrong places."});
    }
    settings.push_back({"Scale and axes", "keep", mesh,
                        "Textures hold metres, +Y up. A mesh that is scaled on import must scale what is "
                        "read as well."});
    return settings;
}

namespace {

/// The files of a setting as a cell: one, or all textures, or each.
std::string filesCell(const Manifest& manifest, const std::vector<std::string>& files) {
    if (files.size() > 1 && files == manifest.textureFiles) {
        return "all textures";
    }
    std::string cell;
    for (const std::string& file : files) {
        cell += (cell.empty() ? "" : ", ") + asCode(file);
    }
    return cell;
}

} // namespace

std::string importNotes(const Manifest& manifest) {
    const bake::BakeFormat& set = manifest.textures;
    const std::string id = emit::identifier(manifest.name);
    std::string text = "# " + asText(manifest.name) + ": what is here and how to import it\n\n";
    text += "| file | what it is |\n|---|---|\n";
    text += "| " + asCode(manifest.meshFile) + " | the mesh in its rest pose, " +
            std::to_string(manifest.vertices) + " vertices, metres, +Y up; UV set " +
            std::to_string(manifest.lookupUvSet) + " (counted from 0) is the lookup into the textures |\n";
    for (std::size_t t = 0; t < manifest.textureFiles.size(); ++t) {
        text += "| " + asCode(manifest.textureFiles[t]) + " | " + set.textures[t].words + ", " +
                std::to_string(set.textures[t].width) + " × " + std::to_string(set.textures[t].height) +
                " |\n";
    }
    if (set.kind->hasPivots) {
        text +=
            "| UV sets " + std::to_string(manifest.textures.pivotUvSet) + " and " +
            std::to_string(manifest.textures.pivotUvSet + 1) +
            " (counted from 0) | the pivot of the vertex's piece: x and y in the first; z, and the number "
            "of the piece, in the second |\n";
    }
    for (const emit::Dialect* dialect : emit::dialects()) {
        text += "| " + asCode(manifest.name + "." + dialect->id()) +
                " | functions that read them, with their numbers filled in |\n";
        text += "| " + asCode(manifest.name + ".vertex." + dialect->id()) +
                " | a whole vertex stage that calls them, as an example |\n";
    }
    text += "| " + asCode(manifest.name + ".bundle.json") + " | the same numbers for programs |\n";
    text += "\n## Import settings\n\n| setting | value | files | why |\n|---|---|---|---|\n";
    for (const ImportSetting& each : importSettings(manifest)) {
        text += "| " + each.setting + " | **" + each.value + "** | " + filesCell(manifest, each.files) +
                " | " + each.why + " |\n";
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
    text += set.kind->readingNote(set);
    text += "One frame is " + base::plural(set.layout.rowsPerBlock, "row") +
            " high; row 0 is the top. A vertex reads its texel in frame `f` at its lookup UV plus `f × " +
            std::to_string(set.layout.rowsPerBlock) + " / " + std::to_string(set.layout.height()) +
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
    text +=
        asCode(id + "_velocity_at_seconds") +
        " takes the same and gives metres a second, for motion blur. Who does not call it pays nothing.\n\n";
    text += "Set the mesh's bounds to the bounds of all motion, or it is culled too early: min " +
            base::floatLiteral(manifest.bounds.min.x) + " " + base::floatLiteral(manifest.bounds.min.y) +
            " " + base::floatLiteral(manifest.bounds.min.z) + ", max " +
            base::floatLiteral(manifest.bounds.max.x) + " " + base::floatLiteral(manifest.bounds.max.y) +
            " " + base::floatLiteral(manifest.bounds.max.z) + ".\n\n";
    text += "Measured against the source: maximum error of positions " +
            base::lengthText(manifest.error.all.max) + ", of normals " +
            base::degreesText(manifest.error.normalMaxDegrees) + ".\n";
    return text;
}

} // namespace ripple::bundle
