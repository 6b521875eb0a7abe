#include "cli/commands.h"

#include "bake/sampling.h"
#include "base/units.h"
#include "bundle/mesh_file.h"
#include "mesh/bounds.h"
#include "source/open.h"

#include <iostream>

#include <nlohmann/json.hpp>

namespace ripple::cli {

namespace {

using Json = nlohmann::ordered_json;

Json describe(const source::FrameSource& source, const std::string& path) {
    const mesh::Mesh& mesh = source.mesh();
    Json root;
    root["source"] = path;
    root["format"] = source.format();
    root["vertices"] = mesh.vertexCount();
    root["triangles"] = mesh.triangleCount();
    mesh::Bounds bounds;
    bounds.add(mesh.positions);
    const auto vec3 = [](const glm::vec3& v) { return Json::array({v.x, v.y, v.z}); };
    root["rest_bounds"] = {{"min", vec3(bounds.min)}, {"max", vec3(bounds.max)}};
    root["meshes"] = Json::array();
    for (const source::MeshEntry& entry : source.meshes()) {
        root["meshes"].push_back(
            {{"name", entry.name}, {"vertices", entry.vertices}, {"triangles", entry.triangles}});
    }
    root["clips"] = Json::array();
    for (std::size_t c = 0; c < source.clips().size(); ++c) {
        const source::Clip& clip = source.clips()[c];
        const bake::ClipExtent extent = bake::measureClip(source, c, {});
        root["clips"].push_back({{"name", clip.name},
                                 {"start_s", clip.start},
                                 {"duration_s", clip.duration},
                                 {"frames", extent.frames},
                                 {"fps", clip.fps},
                                 {"stored_frames", clip.isSequence()},
                                 {"closed", extent.closed}});
    }
    root["joints"] = source.joints();
    root["uv_sets"] = Json::array();
    for (std::size_t set = 0; set < mesh.uvSets.size(); ++set) {
        root["uv_sets"].push_back({{"set", set}, {"taken", true}});
    }
    root["free_uv_set"] = bundle::freeUvSet(mesh);
    root["vertex_colours"] = !mesh.colours.empty();
    root["materials"] = Json::array();
    for (const mesh::Material& material : mesh.materials) {
        root["materials"].push_back(
            {{"name", material.name},
             {"base_colour_image", material.baseColourImage ? material.baseColourImage->name : ""},
             {"double_sided", material.doubleSided}});
    }
    root["problems"] = Json::array();
    for (const base::Finding& finding : source.findings()) {
        root["problems"].push_back({{"id", finding.id},
                                    {"severity", base::name(finding.severity)},
                                    {"where", finding.problem.where},
                                    {"what", finding.problem.what},
                                    {"fix", finding.problem.fix}});
    }
    return root;
}

void print(const Json& root) {
    std::cout << root["source"].get<std::string>() << " (" << root["format"].get<std::string>() << ")\n"
              << "  " << base::countText(root["vertices"]) << " vertices, "
              << base::countText(root["triangles"]) << " triangles\n";
    const Json& low = root["rest_bounds"]["min"];
    const Json& high = root["rest_bounds"]["max"];
    std::cout << "  size";
    for (std::size_t a = 0; a < 3; ++a) {
        std::cout << (a ? " × " : " ") << base::lengthText(high[a].get<double>() - low[a].get<double>());
    }
    std::cout << " at rest\n";
    for (const Json& mesh : root["meshes"]) {
        std::cout << "  mesh \"" << mesh["name"].get<std::string>()
                  << "\": " << base::countText(mesh["vertices"]) << " vertices\n";
    }
    for (const Json& clip : root["clips"]) {
        std::cout << "  clip \"" << clip["name"].get<std::string>()
                  << "\": " << base::plural(clip["frames"], "frame") << " at " << clip["fps"].get<double>()
                  << " per second, " << base::secondsText(clip["duration_s"]) << ", "
                  << (clip["closed"].get<bool>() ? "closed" : "open") << "\n";
    }
    if (!root["joints"].empty()) {
        std::cout << "  " << base::plural(root["joints"].size(), "joint") << "\n";
    }
    const std::size_t free = root["free_uv_set"];
    std::cout << "  " << base::plural(root["uv_sets"].size(), "UV set") << "; free: set " << free
              << " counted from 0, set " << free + 1 << " counted from 1\n";
    for (const Json& problem : root["problems"]) {
        std::cout << "  " << problem["severity"].get<std::string>() << ": "
                  << problem["where"].get<std::string>() << " " << problem["what"].get<std::string>() << "; "
                  << problem["fix"].get<std::string>() << "\n";
    }
}

} // namespace

Status info(const std::string& path, bool json) {
    const base::Progress progress(progressBar("reading"));
    const auto source = source::open(path, {}, progress);
    const Json root = describe(*source, path);
    if (json) {
        std::cout << root.dump(2) << "\n";
    } else {
        print(root);
    }
    return kDone;
}

} // namespace ripple::cli
