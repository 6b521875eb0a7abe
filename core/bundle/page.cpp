#include "bundle/page.h"

#include "bundle/manifest.h"
#include "bundle/page_picture.h"
#include "bundle/page_sources.h"
#include "bundle/test_moments.h"
#include "emit/dialect.h"
#include "emit/identifier.h"

#include <algorithm>
#include <array>
#include <map>

#include <nlohmann/json.hpp>

namespace ripple::bundle {

namespace {

using Json = nlohmann::ordered_json;

constexpr std::array<const char*, 3> kNames = {"none", "beside", "inside"};

/// As text of HTML, or of an attribute in double quotes.
std::string escaped(const std::string& text) {
    std::string safe;
    for (const char c : text) {
        switch (c) {
        case '&':
            safe += "&amp;";
            break;
        case '<':
            safe += "&lt;";
            break;
        case '>':
            safe += "&gt;";
            break;
        case '"':
            safe += "&quot;";
            break;
        default:
            safe += c;
        }
    }
    return safe;
}

/// JSON that can't end the element that it stands in.
std::string inElement(const Json& json) {
    std::string safe;
    for (const char c : json.dump(-1, ' ', false, Json::error_handler_t::replace)) {
        safe += c == '<' ? std::string("\\u003c") : std::string(1, c);
    }
    return safe;
}

/// Of a content security policy: the hash of what an element holds (CSP level 3, 2.3.1).
std::string hashOf(const std::string& text) {
    return "'sha256-" + base::base64(base::sha256Bytes(base::asBytes(text))) + "'";
}

std::string policyOf(Page page) {
    return "default-src 'none'; script-src " + hashOf(pageScript()) + "; style-src " + hashOf(pageStyle()) +
           "; img-src blob:; connect-src " + (page == Page::inside ? "'none'" : "'self'") +
           "; base-uri 'none'; form-action 'none'";
}

std::string embedded(const std::string& file, std::span<const std::byte> bytes) {
    return "<script type=\"application/octet-stream\" data-name=\"" + escaped(file) + "\">" +
           base::base64(bytes) + "</script>\n";
}

/// The frame with every {{hole}} filled. What fills one is not looked at again: a name may look like a hole.
std::string filled(const std::string& frame, const std::map<std::string, std::string>& holes) {
    std::string text;
    std::size_t from = 0;
    for (std::size_t at = frame.find("{{"); at != std::string::npos; at = frame.find("{{", from)) {
        const std::size_t end = frame.find("}}", at);
        text += frame.substr(from, at - from) + holes.at(frame.substr(at + 2, end - at - 2));
        from = end + 2;
    }
    return text + frame.substr(from);
}

Json planOf(const ManifestHead& head, const PageContent& content) {
    const emit::VertexStage& stage = content.stage;
    const std::string id = emit::identifier(head.name);
    Json attributes = Json::array();
    bool coloured = false;
    for (const emit::VertexStage::Attribute& each : stage.attributes) {
        attributes.push_back(
            {{"type", emit::glsl().type(each.type)}, {"name", each.name}, {"gltf", each.gltf}});
        coloured = coloured || each.gltf == "COLOR_0";
    }
    if (!content.score && !content.mesh->colours.empty()) { // shown, though the code does not ask for them
        attributes.push_back({{"type", "vec4"}, {"name", "vertex_colour"}, {"gltf", "COLOR_0"}});
        coloured = true;
    }
    std::vector<std::string> arguments = stage.arguments;
    std::erase(arguments, "clip_number");
    mesh::Bounds rest;
    rest.add(content.mesh->positions);
    const std::string code = head.name + ".glsl";
    const std::string manifest = head.name + ".bundle.json";
    std::vector<std::string> files = {head.meshFile, manifest, testFileOf(head.name)};
    files.insert(files.end(), content.textureFiles.begin(), content.textureFiles.end());
    return {{"kind", content.score ? "score" : "bake"},
            {"identifier", id},
            {"manifest", manifest},
            {"code", code},
            {"test", testFileOf(head.name)},
            {"files", files},
            {"textures", stage.textures},
            {"textureFiles", content.textureFiles},
            {"attributes", attributes},
            {"arguments", arguments},
            {"defaults", id + "_defaults()"},
            {"result", stage.result},
            {"baseUv", stage.baseUv},
            {"shiftsUv", stage.shiftsUv},
            {"testRow", content.testRow},
            {"coloured", coloured},
            {"cost", {{"instructions", content.cost.arithmetic}, {"fetches", content.cost.fetches}}},
            {"target", titleOf(head.target)},
            {"allowedMetres", allowedOfClient(static_cast<double>(rest.diagonal()))}};
}

} // namespace

const char* name(Page page) {
    return kNames[static_cast<std::size_t>(page)];
}

std::optional<Page> pageByName(const std::string& text) {
    const auto found = std::find(kNames.begin(), kNames.end(), text);
    return found == kNames.end() ? std::nullopt : std::optional(static_cast<Page>(found - kNames.begin()));
}

std::string pageFileOf(const std::string& name) {
    return name + ".html";
}

std::string pageText(const ManifestHead& head, const PageContent& content, Page page,
                     const std::string& manifest,
                     const std::function<base::Bytes(const std::string& file)>& fileBytes) {
    const Json plan = planOf(head, content);
    std::string files = embedded(plan["code"], base::asBytes(content.code));
    if (page == Page::inside) {
        files += embedded(plan["manifest"], base::asBytes(manifest));
        for (const std::string file : plan["files"]) {
            if (file != plan["manifest"]) {
                files += embedded(file, fileBytes(file));
            }
        }
    }
    const std::string name = escaped(head.name);
    return filled(pageFrame(), {{"policy", policyOf(page)},
                                {"style", pageStyle()},
                                {"picture", pictureOf(*content.mesh, name + " at rest")},
                                {"plan", inElement(plan)},
                                {"files", files},
                                {"script", pageScript()},
                                {"name", name}});
}

} // namespace ripple::bundle
