#include "bundle/score_bundle.h"

#include "base/files.h"
#include "base/problem.h"
#include "base/progress.h"
#include "base/units.h"
#include "base/version.h"
#include "bundle/earlier_bundle.h"
#include "bundle/mesh_file.h"
#include "bundle/score_notes.h"
#include "bundle/stored_masks.h"
#include "bundle/test_moments.h"
#include "bundle/whole_folder.h"
#include "bundle/write_bundle.h"
#include "source/gltf_write.h"

#include <algorithm>

namespace ripple::bundle {

namespace {

/// "TEXCOORD_1" as a stage names it: "texcoord_1".
std::string attributeName(const std::string& gltf) {
    std::string name;
    for (const char c : gltf.substr(0, gltf.find('.'))) {
        name += static_cast<char>(c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c);
    }
    return name == "color_0" ? "vertex_colour" : name;
}

code::Type typeOfAttribute(const std::string& gltf) {
    return gltf.starts_with("TEXCOORD") ? code::Base::vec2
           : gltf == "COLOR_0"          ? code::Base::vec4
                                        : code::Base::vec3;
}

std::vector<ScoreParameter> parametersOf(const motion::Composition& composition) {
    std::vector<ScoreParameter> made;
    for (std::size_t i = 0; i < composition.parameters.size(); ++i) {
        const motion::LiveNumber& number = composition.graph.parameters()[i];
        const motion::CodeParameter& of = composition.parameters[i];
        made.push_back({emit::identifier(of.name), of.help, of.unit, of.whole,
                        static_cast<double>(number.value), static_cast<double>(number.least),
                        static_cast<double>(number.most)});
    }
    return made;
}

} // namespace

ScoreOnMesh scoreOnMesh(const motion::Score& score, const mesh::Mesh& mesh, const ScoreChoices& choices,
                        const base::Progress& progress) {
    ScoreOnMesh on;
    on.score = score;
    auto plain = std::make_shared<const motion::Performance>(score, mesh);
    mesh::Mesh stored = mesh;
    on.performance = plain;
    if (choices.storeMasks) {
        StoredMasks masks = storeMasks(score, mesh, *plain);
        stored = std::move(masks.mesh);
        on.performance = std::move(masks.performance);
        on.normalLossDeg = masks.normalLossDeg;
    }
    if (choices.halfWithin) {
        on.halfLoss = motion::halfLoss(*on.performance, progress);
        if (!(on.halfLoss->all.max <= *choices.halfWithin)) {
            base::fail("half precision",
                       "would lose up to " + base::lengthText(on.halfLoss->all.max) +
                           " of this motion, more than " + base::lengthText(*choices.halfWithin),
                       "write it in full precision, or allow a larger error");
        }
        on.performance = motion::inHalfPrecision(*on.performance);
    }
    // Which inputs there are does not depend on the language.
    const emit::ScoreCode code = emit::scoreCode(emit::glsl(), "score", on.performance->composition());
    on.mesh = placeInputs(stored, code.inputs, on.performance->fields());
    on.bounds = motion::boundsOfLoop(*on.performance, choices.copySizes, progress);
    return on;
}

emit::ScoreCode codeOf(const ScoreOnMesh& on, const emit::Dialect& dialect, const std::string& name,
                       const ScoreChoices& choices) {
    return emit::scoreCode(dialect, name, on.performance->composition(),
                           {.bounds = on.bounds,
                            .sine = choices.sine,
                            .loopSeconds = on.score.loopSeconds,
                            .space = choices.target.space(),
                            .vFromBelow = choices.target.vFromBelow});
}

std::string exampleOf(const ScoreOnMesh& on, const emit::Dialect& dialect, const std::string& name,
                      const ScoreChoices& choices) {
    return dialect.vertexStage(stageOf(on, dialect, name, choices));
}

emit::VertexStage stageOf(const ScoreOnMesh& on, const emit::Dialect& dialect, const std::string& name,
                          const ScoreChoices& choices) {
    const emit::ScoreCode code = codeOf(on, dialect, name, choices);
    const std::string id = emit::identifier(name);
    emit::VertexStage stage;
    stage.about = "A vertex stage that moves " + emit::identifier(name) + ", as an example. Written by " +
                  base::generatorName() + ".";
    stage.code = code.code;
    stage.result = id + "_moved";
    stage.clock = choices.target.bySeconds ? "seconds" : "turn";
    stage.call = id + "_at_" + stage.clock;
    stage.velocity = id + "_velocity_at_" + stage.clock;
    stage.shiftsUv = code.shiftsUv();
    const auto attribute = [&](const std::string& from) {
        const std::string own = attributeName(from);
        const bool known = std::any_of(stage.attributes.begin(), stage.attributes.end(),
                                       [&](const auto& each) { return each.name == own; });
        if (!known) {
            const std::string gltf = from.substr(0, from.find('.'));
            stage.attributes.push_back({typeOfAttribute(gltf), own, gltf});
        }
        const std::string part = from.find('.') == std::string::npos ? "" : from.substr(from.find('.'));
        // A number that lies in V is what it was before the importer turned it.
        return choices.target.vFromBelow && part == ".y" && from.starts_with("TEXCOORD")
                   ? "1.0 - " + own + part
                   : own + part;
    };
    for (const PlacedInput& input : on.mesh.inputs) {
        if (input.from[0] == "COPY") {
            stage.copies = true;
            stage.arguments.push_back(input.name);
        } else if (input.from.size() == 1) {
            stage.arguments.push_back(attribute(input.from[0]));
        } else {
            std::string parts;
            for (const std::string& from : input.from) {
                parts += (parts.empty() ? "" : ", ") + attribute(from);
            }
            stage.arguments.push_back(dialect.type(code::Base::vec3) + "(" + parts + ")");
        }
    }
    if (!on.performance->composition().parameters.empty()) {
        stage.arguments.push_back(id + "_defaults()");
    }
    if (!on.mesh.mesh.uvSets.empty()) {
        stage.baseUv = attribute("TEXCOORD_" + std::to_string(on.performance->model().baseUvSet));
    }
    return stage;
}

EncodedScore encodeScore(const ScoreOnMesh& on, const Origin& origin, const std::string& name,
                         const ScoreChoices& choices) {
    EncodedScore made;
    ScoreManifest& manifest = made.manifest;
    manifest.generator = base::generatorName();
    manifest.name = name;
    manifest.meshFile = name + ".glb";
    manifest.vertices = on.mesh.mesh.vertexCount();
    manifest.triangles = on.mesh.mesh.triangleCount();
    manifest.loopSeconds = on.score.loopSeconds;
    manifest.parameters = parametersOf(on.performance->composition());
    manifest.inputs = on.mesh.inputs;
    manifest.exactSine = choices.sine == emit::Sine::exact;
    manifest.storesMasks = choices.storeMasks;
    if (on.halfLoss) {
        manifest.halfLossMetres = on.halfLoss->all.max;
        manifest.halfLossDeg = on.halfLoss->normalMaxDegrees;
    }
    manifest.model = on.performance->model();
    manifest.normalLossDeg = on.normalLossDeg;
    manifest.bounds = choices.target.space().of(on.bounds.every);
    manifest.copySizes = choices.copySizes;
    manifest.unturnedBounds = choices.target.space().of(on.bounds.unturned);
    manifest.target = choices.target;
    manifest.page = choices.page;
    manifest.origin = origin;
    const auto add = [&](const std::string& file, base::Bytes bytes) {
        FileEntry entry;
        entry.file = file;
        entry.bytes = bytes.size();
        entry.sha256 = base::sha256(bytes);
        manifest.files.push_back(std::move(entry));
        made.files.push_back({file, std::move(bytes), false, {}});
    };
    const auto addText = [&](const std::string& file, const std::string& text) {
        const auto bytes = base::asBytes(text);
        add(file, base::Bytes(bytes.begin(), bytes.end()));
    };
    add(manifest.meshFile, source::glbBytes(source::gltfModel(on.mesh.mesh, name, {}), manifest.meshFile));
    const std::vector<const emit::Dialect*> read = dialectsOf(choices.target);
    for (const emit::Dialect* dialect : choices.languages) {
        if (std::find(read.begin(), read.end(), dialect) == read.end()) {
            continue;
        }
        manifest.languages.push_back(dialect->id());
        addText(name + "." + dialect->id(),
                dialect->asFile(emit::identifier(name), codeOf(on, *dialect, name, choices).code));
        addText(name + ".vertex." + dialect->id(), exampleOf(on, *dialect, name, choices));
    }
    const auto pose = [&](double turn, std::span<glm::vec3> positions, std::span<glm::vec3> normals) {
        on.performance->pose(turn, {}, positions, normals);
    };
    addText(testFileOf(name),
            testText(testOf(name, pose, on.score.loopSeconds, on.mesh.mesh.positions, choices.target)));
    addText("IMPORT.md", scoreNotes(manifest, on));
    if (choices.page != Page::none) {
        const emit::ScoreCode code = codeOf(on, emit::glsl(), name, choices);
        const PageContent content{true,
                                  stageOf(on, emit::glsl(), name, choices),
                                  emit::glsl().asFile(emit::identifier(name), code.code),
                                  code.cost,
                                  {},
                                  false,
                                  &on.mesh.mesh};
        addText(pageFileOf(name),
                pageText(manifest, content, choices.page, scoreManifestText(manifest), bytesIn(made.files)));
    }
    return made;
}

ScoreManifest writeScoreBundle(const source::FrameSource& source, const Origin& origin,
                               const std::filesystem::path& directory, const ScoreChoices& choices,
                               base::Progress& progress) {
    const std::string name = bundleName(directory);
    const auto replaced = [&name](const std::filesystem::path& there) { return filesToReplace(there, name); };
    replaced(base::resolved(directory)); // what speaks against it is said before there is work
    WholeFolder folder(directory, [&progress] { progress.cancel(); });
    progress.stage(0.0, 0.8);
    const ScoreOnMesh on = scoreOnMesh(*origin.score, source.mesh(), choices, progress);
    progress.stage(0.8, 1.0);
    EncodedScore made = encodeScore(on, origin, name, choices);
    for (const PlannedFile& file : made.files) {
        progress.checkpoint();
        base::writeFile(folder.path() / file.file, file.bytes);
    }
    base::writeFile(folder.path() / (name + ".bundle.json"), scoreManifestText(made.manifest));
    progress.checkpoint();
    folder.commit(replaced);
    progress.report(1.0);
    return std::move(made.manifest);
}

} // namespace ripple::bundle
