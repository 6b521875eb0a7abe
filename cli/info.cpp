#include "cli/commands.h"

#include "base/progress.h"
#include "base/units.h"
#include "inspect/inspection.h"
#include "source/open.h"

#include <cmath>
#include <iostream>

#include <nlohmann/json.hpp>

namespace ripple::cli {

namespace {

using Json = nlohmann::ordered_json;

Json vec3(const glm::vec3& v) {
    return Json::array({v.x, v.y, v.z});
}

Json boundsJson(const mesh::Bounds& bounds) {
    return {{"min", vec3(bounds.min)}, {"max", vec3(bounds.max)}};
}

Json clipJson(const source::Clip& clip, const inspect::ClipSurvey& survey) {
    Json json = {{"name", clip.name},
                 {"start_s", clip.start},
                 {"duration_s", clip.duration},
                 {"frames", survey.extent.frames},
                 {"fps", clip.fps},
                 {"key_rate", clip.keyRate},
                 {"stored_frames", clip.isSequence()},
                 {"closed", survey.extent.closed},
                 {"largest_step_m", survey.motion.largest},
                 {"median_step_m", survey.motion.medianMax},
                 {"seam_gap_m", survey.gap},
                 {"velocity_break_m_per_s", survey.velocityBreak},
                 {"bounds", boundsJson(survey.bounds)}};
    json["loop_windows"] = Json::array();
    for (const inspect::MeasuredWindow& one : survey.windows) {
        json["loop_windows"].push_back({{"first", one.window.first},
                                        {"last", one.window.last},
                                        {"frames", one.window.frames()},
                                        {"gap_m", one.gap}});
    }
    return json;
}

Json uvSetsJson(const mesh::Mesh& mesh, const inspect::MeshFacts& facts) {
    Json sets = Json::array();
    for (std::size_t s = 0; s < mesh.uvSets.size(); ++s) {
        const mesh::UvSetFacts& set = facts.uvSets[s];
        sets.push_back({{"set", s},
                        {"set_from_1", s + 1},
                        {"taken", !set.free()},
                        {"base_colour_of", set.usedBy},
                        {"empty", set.empty},
                        {"vertices_outside_0_1", set.outside},
                        {"overlap", set.overlap}});
    }
    return sets;
}

Json problemsJson(const std::vector<inspect::Observation>& found) {
    Json problems = Json::array();
    for (const inspect::Observation& one : found) {
        Json problem = {{"id", one.finding.id},
                        {"severity", base::name(one.finding.severity)},
                        {"where", one.finding.problem.where},
                        {"what", one.finding.problem.what},
                        {"fix", one.finding.problem.fix}};
        if (one.place) {
            problem["clip"] = one.place->clip;
            problem["frame"] = one.place->frame;
        }
        if (!one.vertices.empty()) {
            problem["vertices"] = one.vertices;
        }
        problem["fixes"] = Json::array();
        for (const inspect::Fix& fix : one.fixes) {
            problem["fixes"].push_back(fix.label);
        }
        problems.push_back(std::move(problem));
    }
    return problems;
}

Json describe(const source::FrameSource& source, const std::string& path, const source::Reading& reading,
              const inspect::Survey& survey) {
    const mesh::Mesh& mesh = source.mesh();
    const inspect::MeshFacts facts = inspect::meshFacts(mesh);
    Json root;
    root["source"] = path;
    root["format"] = source.format();
    root["vertices"] = mesh.vertexCount();
    root["triangles"] = mesh.triangleCount();
    const source::Space space = source.space();
    root["space"] = {
        {"metres_per_unit", space.metresPerUnit}, {"up", source::name(space.up)}, {"stated", space.stated}};
    mesh::Bounds bounds;
    bounds.add(mesh.positions);
    root["rest_bounds"] = boundsJson(bounds);
    root["motion_bounds"] = boundsJson(survey.bounds);
    root["vertices_that_never_move"] = survey.still;
    root["meshes"] = Json::array();
    for (const source::MeshEntry& entry : source.meshes()) {
        root["meshes"].push_back({{"name", entry.name},
                                  {"vertices", entry.vertices},
                                  {"triangles", entry.triangles},
                                  {"included", entry.included}});
    }
    root["clips"] = Json::array();
    for (std::size_t c = 0; c < source.clips().size(); ++c) {
        root["clips"].push_back(clipJson(source.clips()[c], survey.clips[c]));
    }
    root["joints"] = source.joints();
    root["influences"] = source.influences();
    root["morph_targets"] = source.morphs();
    root["uv_sets"] = uvSetsJson(mesh, facts);
    root["free_uv_set"] = mesh::freeUvSet(mesh);
    root["vertex_colours"] = !mesh.colours.empty();
    root["tangents"] = !mesh.tangents.empty();
    root["materials"] = Json::array();
    for (const mesh::Material& material : mesh.materials) {
        root["materials"].push_back(
            {{"name", material.name},
             {"base_colour_image", material.baseColourImage ? material.baseColourImage->name : ""},
             {"double_sided", material.doubleSided}});
    }
    const std::string name = std::filesystem::path(path).filename().string();
    root["problems"] = problemsJson(inspect::inspect({source, reading, {}, &survey, name}, facts));
    return root;
}

void printClips(const Json& root) {
    for (const Json& clip : root["clips"]) {
        std::cout << "  clip \"" << clip["name"].get<std::string>()
                  << "\": " << base::plural(clip["frames"], "frame") << " at "
                  << base::numberText(clip["fps"].get<double>()) << " per second, "
                  << base::secondsText(clip["duration_s"]) << ", "
                  << (clip["closed"].get<bool>() ? "closed" : "open") << ", steps up to "
                  << base::lengthText(clip["largest_step_m"]) << ", seam gap "
                  << base::lengthText(clip["seam_gap_m"]) << "\n";
        for (const Json& window : clip["loop_windows"]) {
            std::cout << "    would loop: frames " << window["first"] << " to " << window["last"] << " ("
                      << window["frames"] << "), gap " << base::lengthText(window["gap_m"]) << "\n";
        }
    }
}

void printUvSets(const Json& root) {
    for (const Json& set : root["uv_sets"]) {
        std::string facts = set["taken"].get<bool>() ? "taken" : "empty";
        for (const Json& material : set["base_colour_of"]) {
            facts += ", base colour of " + material.get<std::string>();
        }
        if (set["vertices_outside_0_1"].get<std::size_t>() > 0) {
            facts += ", " + base::plural(set["vertices_outside_0_1"], "vertex") + " outside 0..1";
        }
        if (set["overlap"].get<double>() > 0.001) {
            facts += ", " + base::numberText(std::round(1000.0 * set["overlap"].get<double>()) / 10.0) +
                     " % overlapping";
        }
        std::cout << "  UV set " << set["set"] << " (" << set["set_from_1"] << " counted from 1): " << facts
                  << "\n";
    }
    const std::size_t free = root["free_uv_set"];
    std::cout << "  the lookup goes to UV set " << free << " (" << free + 1 << " counted from 1)\n";
}

void print(const Json& root) {
    std::cout << root["source"].get<std::string>() << " (" << root["format"].get<std::string>() << ")\n"
              << "  " << base::plural(root["vertices"], "vertex") << ", "
              << base::plural(root["triangles"], "triangle") << "\n";
    const Json& low = root["rest_bounds"]["min"];
    const Json& high = root["rest_bounds"]["max"];
    std::cout << "  size";
    for (std::size_t a = 0; a < 3; ++a) {
        std::cout << (a ? " × " : " ") << base::lengthText(high[a].get<double>() - low[a].get<double>());
    }
    const Json& space = root["space"];
    std::cout << " at rest; 1 unit is " << base::lengthText(space["metres_per_unit"]) << ", "
              << space["up"].get<std::string>() << " up"
              << (space["stated"].get<bool>() ? "" : " (the file does not say)") << "\n";
    for (const Json& mesh : root["meshes"]) {
        std::cout << "  mesh \"" << mesh["name"].get<std::string>()
                  << "\": " << base::plural(mesh["vertices"], "vertex")
                  << (mesh["included"].get<bool>() ? "" : ", left out") << "\n";
    }
    printClips(root);
    if (!root["joints"].empty()) {
        std::cout << "  " << base::plural(root["joints"].size(), "joint") << ", up to " << root["influences"]
                  << " a vertex\n";
    }
    if (!root["morph_targets"].empty()) {
        std::cout << "  " << base::plural(root["morph_targets"].size(), "morph target") << "\n";
    }
    printUvSets(root);
    if (root["tangents"].get<bool>()) {
        std::cout << "  tangents\n";
    }
    if (root["vertex_colours"].get<bool>()) {
        std::cout << "  vertex colours\n";
    }
    for (const Json& problem : root["problems"]) {
        std::cout << "  " << problem["severity"].get<std::string>() << ": "
                  << problem["where"].get<std::string>() << ": " << problem["what"].get<std::string>() << "; "
                  << problem["fix"].get<std::string>() << "\n";
    }
}

} // namespace

void printJson(const Json& json) {
    std::cout << json.dump(2, ' ', false, Json::error_handler_t::replace) << "\n";
}

Status info(const std::string& path, const source::Reading& reading, const source::Trust& trust, bool json) {
    base::Progress progress(progressBar("reading"));
    const auto source = source::open(path, reading, progress, source::kFrameCacheBytes, trust);
    const auto survey = inspect::survey(*source, {}, progress);
    const Json root = describe(*source, path, reading, *survey);
    if (json) {
        printJson(root);
    } else {
        print(root);
    }
    return kDone;
}

} // namespace ripple::cli
