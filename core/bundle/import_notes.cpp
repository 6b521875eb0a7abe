#include "bundle/import_notes.h"

#include "bake/joint_texels.h"
#include "bake/kind.h"
#include "base/units.h"
#include "bundle/loader_notes.h"
#include "bundle/markdown.h"
#include "bundle/test_moments.h"
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

/// The UV sets behind the first that influences take: "2, 3".
std::string moreSets(const Manifest& manifest) {
    std::string text;
    for (std::size_t s = 1; s < bake::setsOf(manifest.textures.joints.influences); ++s) {
        text += (s > 1 ? ", " : "") + std::to_string(manifest.textures.pivotUvSet + s - 1);
    }
    return text;
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
    if (manifest.textures.joints.inUvs) {
        settings.push_back(
            {"UV sets " + moreSets(manifest) + " (counted from 0)", "keep", mesh,
             "They hold the other joints of each vertex and all weights. Without them the mesh "
             "falls to its first joint."});
    }
    settings.push_back(
        {"Scale and axes", words(manifest.target), mesh,
         manifest.target.space().changes()
             ? "So textures and code have it; the importer makes the same of the mesh, which is "
               "glTF. If its arrows differ in the axis probe, write for another target."
             : "Textures hold metres, +Y up. A mesh that is scaled on import must scale what is "
               "read as well."});
    settings.push_back({"Front faces", manifest.target.clockwise ? "clockwise" : "counterclockwise", mesh,
                        "Seen from outside once it is imported. Else the mesh looks turned inside out."});
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

/// How clips go over into each other.
std::string fadeNotes(const Manifest& manifest, const std::string& id, const std::string& arguments) {
    const bake::BakeFormat& set = manifest.textures;
    if (set.clips.size() < 2) {
        return "";
    }
    std::string text = "## From one clip to another\n\n";
    text += asCode(id + "_faded_at_seconds") +
            " takes two clips with the seconds since each began, and `progress`, which runs evenly from 0 to "
            "1 in "
            "the time of the fade; both clips play on meanwhile. It eases by itself, so that neither "
            "position nor "
            "velocity jumps:\n\n```glsl\n" +
            id + "_pose pose = " + id + "_faded_at_seconds(" + arguments +
            "clip_from, seconds_from, clip_to, seconds_to, progress);\n```\n\n";
    text += asCode(id + "_velocity_faded_at_seconds") +
            " takes the same and the length of the fade in seconds. Keep for each copy its clip, when that "
            "began, "
            "the clip before, when that began, and when the fade began.\n\n";
    text += "| clip | at its end | speed, metres a second |\n|---|---|---|\n";
    for (const bake::BakedClip& clip : set.clips) {
        const char* end = clip.ending == bake::Ending::loop   ? "plays round"
                          : clip.ending == bake::Ending::once ? "gives way to the clip before it"
                                                              : "stays at its last frame";
        const auto number = [](double value) { return base::floatLiteral(static_cast<float>(value)); };
        text += "| " + asText(clip.name) + " | " + end + " | " +
                (clip.speed ? number(clip.speed->least) + " to " + number(clip.speed->most)
                            : std::string("any")) +
                " |\n";
    }
    text += "\n| from | to | seconds |\n|---|---|---|\n";
    for (const bake::Transition& each : set.transitions) {
        if (each.seconds == bake::kUsualFade) {
            continue;
        }
        text += "| " + asText(each.from) + " | " + asText(each.to) + " | " +
                base::floatLiteral(static_cast<float>(each.seconds)) + " |\n";
    }
    text += "| any | any other | " + base::floatLiteral(static_cast<float>(bake::kUsualFade)) + " |\n";
    return text + "\n";
}

std::string levelNotes(const Manifest& manifest) {
    if (manifest.levels.empty()) {
        return "";
    }
    std::string text =
        "## Levels of detail\n\nThe GLB holds meshes that no node shows, over the same vertices: all "
        "levels read the same textures.\n\n| mesh | triangles | maximum error | from |\n|---|---|---|---|\n";
    for (std::size_t l = 0; l < manifest.levels.size(); ++l) {
        const LevelEntry& level = manifest.levels[l];
        text += "| level " + std::to_string(l + 1) + " | " + base::countText(level.triangles) + " | " +
                base::lengthText(level.error) + " | " + base::lengthText(level.distance) + " |\n";
    }
    return text +
           "\nThe distance is that from which the error covers less than a pixel, on a picture 1080 pixels "
           "high that shows 60 degrees from bottom to top.\n\n";
}

} // namespace

std::string importNotes(const Manifest& manifest) {
    const bake::BakeFormat& set = manifest.textures;
    const std::string id = emit::identifier(manifest.name);
    std::string text = "# " + asText(manifest.name) + ": what is here and how to import it\n\n";
    text += "| file | what it is |\n|---|---|\n";
    text += "| " + asCode(manifest.meshFile) + " | the mesh " +
            (set.kind->followsJoints ? "in the pose that its joints take it from" : "in its rest pose") +
            ", " + std::to_string(manifest.vertices) + " vertices, metres, +Y up; UV set " +
            std::to_string(manifest.lookupUvSet) + " (counted from 0) " +
            (set.joints.inUvs ? "begins what a vertex's joints are" : "is the lookup into the textures") +
            " |\n";
    for (std::size_t t = 0; t < manifest.textureFiles.size(); ++t) {
        text += "| " + asCode(manifest.textureFiles[t]) + " | " + set.textures[t].words + ", " +
                std::to_string(set.textures[t].width) + " × " + std::to_string(set.textures[t].height) +
                " |\n";
    }
    if (set.joints.inUvs) {
        text += "| UV sets " + std::to_string(manifest.lookupUvSet) + " and " + moreSets(manifest) +
                " (counted from 0) | the joints that a vertex follows, in pairs (`j₀ + 4096 · j₁`), then "
                "their weights in pairs |\n";
    }
    if (set.kind->hasPivots) {
        text +=
            "| UV sets " + std::to_string(manifest.textures.pivotUvSet) + " and " +
            std::to_string(manifest.textures.pivotUvSet + 1) +
            " (counted from 0) | the pivot of the vertex's piece: x and y in the first; z, and the number "
            "of the piece, in the second |\n";
    }
    for (const emit::Dialect* dialect : dialectsOf(manifest.target)) {
        text += "| " + asCode(manifest.name + "." + dialect->id()) +
                " | functions that read them, with their numbers filled in |\n";
        text += "| " + asCode(manifest.name + ".vertex." + dialect->id()) +
                " | a whole vertex stage that calls them, as an example |\n";
    }
    text += "| " + asCode(testFileOf(manifest.name)) +
            " | where some vertices are at some instants, to check a client by |\n";
    text += "| " + asCode(manifest.name + ".bundle.json") + " | the same numbers for programs |\n";
    text += pageLine(manifest);
    text += targetNotes(manifest.target, false);
    text += "\n## Import settings\n\n| setting | value | files | why |\n|---|---|---|---|\n";
    for (const ImportSetting& each : importSettings(manifest)) {
        text += "| " + each.setting + " | **" + each.value + "** | " + filesCell(manifest, each.files) +
                " | " + each.why + " |\n";
    }
    text += "\n" + loaderNotes(id, true);
    text += "## Clips\n\n| number | name | first frame | frames | frames per second | loop "
            "|\n|---|---|---|---|---|---|\n";
    for (std::size_t c = 0; c < set.clips.size(); ++c) {
        text += clipLine(set.clips[c], c);
    }
    text += "\n## Reading it\n\n";
    std::string samplers;
    for (const std::string& sampler : emit::readerSamplers(set)) {
        samplers += sampler + ", ";
    }
    const std::string vertex =
        (!set.joints.inUvs            ? std::string("lookup_uv")
         : set.joints.influences == 8 ? std::string("joint_pairs, joint_weights, more_joint_weights")
                                      : std::string("joint_pairs, joint_weights")) +
        ", rest_position, rest_normal" + (emit::readerWantsPivot(set) ? ", pivot" : "") + ", ";
    text += set.kind->readingNote(set);
    if (!set.kind->followsJoints) {
        text += "One frame is " + base::plural(set.layout.rowsPerBlock, "row") +
                " high; row 0 is the top. A vertex reads its texel in frame `f` at its lookup UV plus `f × " +
                std::to_string(set.layout.rowsPerBlock) + " / " + std::to_string(set.layout.height()) +
                "` in v. ";
    }
    if (set.positionStore.usesRange) {
        text +=
            "What is sampled (0..1) is scaled: `min + value × (max − min)` with the range in the manifest. ";
    }
    text += set.content == bake::Content::offset ? "The result is added to the rest position.\n\n"
                                                 : "The result is the position itself.\n\n";
    text += "In the vertex stage, after including " + asCode(manifest.name + ".glsl") + ":\n\n```glsl\n" +
            id + "_pose pose = " + id + "_at_seconds(" + samplers + vertex + "0, seconds);\n```\n\n";
    text += asCode(id + "_velocity_at_seconds") + " takes the same and gives " + unitWords(manifest.target) +
            " a second, for motion blur. Who does not call it pays nothing.\n\n";
    text += fadeNotes(manifest, id, samplers + vertex);
    text += levelNotes(manifest);
    text += copyNotes(manifest.name, id, false);
    if (set.layout.testRow || set.joints.layout.testRow) {
        const std::string textures = samplers.substr(0, samplers.size() - 2);
        text +=
            "The textures end in a row of known values: " + asCode(id + "_reads_right(" + textures + ")") +
            " is true where they are sampled as they were written. Show the mesh in a loud colour where it "
            "is "
            "not.\n\n";
    }
    text += testNotes(manifest.name, id + "_at_frame(…, clip, frame)");
    text += "Set the mesh's bounds to the bounds of all motion (" + asCode(id + "_bounds_min") + " and " +
            asCode(id + "_bounds_max") + " in the code), or it is culled too early: min " +
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
