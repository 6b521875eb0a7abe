#include "bundle/manifest_text.h"

#include "base/files.h"
#include "base/version.h"
#include "bundle/clip_section.h"
#include "emit/identifier.h"

#include <cstring>

namespace ripple::bundle {

namespace {

using Json = nlohmann::ordered_json;

constexpr const char* kManifestFormat = "curly-ripple-bundle";

Json importJson(const ImportSettings& import) {
    return {{"colour_space", import.colourSpace}, {"mip_maps", import.mipMaps}, {"filter", import.filter},
            {"compression", import.compression},  {"address", import.address},  {"resize", import.resize},
            {"channels", import.channels}};
}

/// What textures, bounds and code hold: glTF's up and forward as the target has them. Files are always
/// written from the top left; where the target counts from below, the code meets it.
Json conventionOf(const Target& target) {
    const std::array<std::string, 3> there = target.axes.back().letters();
    return {{"up", there[1]},
            {"forward", there[2]},
            {"handedness", target.axes.mirrors() ? "left" : "right"},
            {"unit_metres", target.metresPerUnit},
            {"uv_origin", "top-left"}};
}

constexpr const char* kDigest = "\"digest\": \"";

/// False if the text is another than the one that was sealed. Line ends do not count: version control changes
/// them. Manifests of older versions have no digest.
bool asSealed(std::string text, const base::JsonSection& root) {
    if (!root.has("digest")) {
        return true;
    }
    const std::string digest = root.text("digest");
    std::erase(text, '\r');
    const std::size_t at = text.rfind(kDigest + digest + "\"");
    return at != std::string::npos &&
           base::sha256(base::asBytes(text.erase(at + std::strlen(kDigest), digest.size()))) == digest;
}

FileEntry parseFile(const base::JsonSection& from) {
    FileEntry file;
    file.file = from.text("file");
    file.sha256 = from.text("sha256");
    file.bytes = from.count("bytes", kMostCounted);
    if (from.has("import")) {
        const base::JsonSection import = from.object("import");
        file.isTexture = true;
        file.import = {import.text("colour_space"),
                       import.flag("mip_maps"),
                       import.text("filter"),
                       import.text("compression"),
                       import.text("address"),
                       import.flag("resize"),
                       import.has("channels") ? import.text("channels") : "RGB"};
    }
    return file;
}

/// What makes a manifest that can be read doubtful.
std::vector<base::Problem> doubtsOf(const std::string& text, const base::JsonSection& root,
                                    const Target& target) {
    std::vector<base::Problem> doubts;
    if (!asSealed(text, root)) {
        doubts.push_back({root.where(), "was changed after it was written",
                          "take the change back, or write the bundle again"});
    }
    if (const Json own = conventionOf(target); root.has("convention") && root.json()["convention"] != own) {
        doubts.push_back({root.where(),
                          "states another convention than the files are written in: axes, unit and "
                          "UV origin are " +
                              own.dump(),
                          "take the change back, or write the bundle again"});
    }
    return doubts;
}

} // namespace

void beginManifest(Json& root, int version, const ManifestHead& head) {
    root["format"] = kManifestFormat;
    root["version"] = version;
    root["generator"] = base::generatorName();
    root["name"] = head.name;
    root["identifier"] = emit::identifier(head.name); // what names in the code begin with
    root["convention"] = conventionOf(head.target);
    root["target"] = targetJson(head.target);
    if (head.page != Page::none) {
        root["page"] = name(head.page);
    }
    root["mesh"] = {{"file", head.meshFile}, {"vertices", head.vertices}, {"triangles", head.triangles}};
}

Json filesJson(const std::vector<FileEntry>& files) {
    Json list = Json::array();
    for (const FileEntry& file : files) {
        Json entry = {{"file", file.file}, {"sha256", file.sha256}, {"bytes", file.bytes}};
        if (file.isTexture) {
            entry["import"] = importJson(file.import);
        }
        list.push_back(entry);
    }
    return list;
}

std::string sealed(Json root) {
    root["digest"] = "";
    std::string text = root.dump(2) + "\n";
    const std::string digest = base::sha256(base::asBytes(text));
    return text.insert(text.rfind(kDigest) + std::strlen(kDigest), digest);
}

Json parsedJson(const std::string& text, const std::string& where) {
    try {
        return Json::parse(text);
    } catch (const Json::parse_error& error) {
        base::fail(where, "its JSON is damaged at byte " + std::to_string(error.byte),
                   "write the bundle again");
    } catch (const Json::exception&) {
        base::fail(where, "its JSON holds a number that is too large", "write the bundle again");
    }
}

void requireFormat(const base::JsonSection& root, std::size_t newest) {
    if (!root.has("format") || root.text("format") != kManifestFormat) {
        base::fail(root.where(), "is not the manifest of a bundle",
                   std::string("its format must be ") + kManifestFormat);
    }
    const std::size_t version = root.count("version", kMostCounted);
    if (version < 1 || version > newest) {
        base::fail(root.where(),
                   "is of version " + std::to_string(version) +
                       (version < 1 ? ", which there never was" : ", newer than this program"),
                   "update Curly Ripple, or write the bundle again");
    }
}

bool isScore(const base::JsonSection& root) {
    return root.text("kind") == "score";
}

void readHead(const std::string& text, const base::JsonSection& root, ManifestHead& head) {
    head.target = parseTarget(root.part("target"));
    if (root.has("page")) {
        const auto page = pageByName(root.text("page"));
        if (!page) {
            root.wrong("page", "is neither none, beside nor inside");
        }
        head.page = *page;
    }
    head.doubts = doubtsOf(text, root, head.target);
    head.generator = root.text("generator");
    head.name = root.text("name");
    const base::JsonSection mesh = root.object("mesh");
    head.meshFile = mesh.text("file");
    head.vertices = mesh.count("vertices", kMostCounted);
    head.triangles = mesh.count("triangles", kMostCounted);
    head.bounds = parseBounds(root.object("bounds"));
    for (const base::JsonSection& file : root.list("files")) {
        head.files.push_back(parseFile(file));
    }
}

} // namespace ripple::bundle
