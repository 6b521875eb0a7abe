#include "cli/scatter.h"

#include "base/files.h"
#include "base/problem.h"
#include "base/text.h"
#include "base/unfinished.h"
#include "base/units.h"
#include "bundle/check_score.h"
#include "bundle/read_bundle.h"
#include "base/version.h"
#include "bundle/score_manifest.h"
#include "emit/dialect.h"
#include "emit/identifier.h"
#include "scatter/copy_code.h"
#include "scatter/merge_code.h"
#include "scatter/merged.h"
#include "source/gltf_write.h"
#include "scatter/copies_file.h"
#include "source/open.h"

#include <algorithm>
#include <charconv>
#include <filesystem>
#include <iostream>

#include <CLI/CLI.hpp>

namespace ripple::cli {

namespace {

/// Metres each way: one for all of the ground, two, or three with the height in the middle.
void readSize(const std::string& text, glm::vec3& size) {
    std::vector<float> numbers;
    const char* at = text.data();
    const char* const end = text.data() + text.size();
    while (at < end && numbers.size() < 3) {
        float number = 0.0f;
        const auto read = std::from_chars(at, end, number);
        if (read.ec != std::errc() || (read.ptr < end && *read.ptr != 'x')) {
            break;
        }
        numbers.push_back(number);
        at = read.ptr < end ? read.ptr + 1 : end;
    }
    if (at != end || numbers.empty()) {
        base::fail("--size " + text, "is no size in metres",
                   "write 12, 12x8, or 12x3x8 with the height in the middle");
    }
    size = numbers.size() == 3   ? glm::vec3(numbers[0], numbers[1], numbers[2])
           : numbers.size() == 2 ? glm::vec3(numbers[0], size.y, numbers[1])
                                 : glm::vec3(numbers[0], size.y, numbers[0]);
}

/// How often each clip of the bundle is chosen.
std::vector<float> weightsOf(const std::vector<std::string>& words, const std::vector<std::string>& clips) {
    std::vector<float> weights(clips.size(), words.empty() ? 1.0f : 0.0f);
    for (const std::string& word : words) {
        const std::size_t equals = word.rfind('=');
        const std::string name = word.substr(0, equals);
        float weight = 1.0f;
        const char* const end = word.data() + word.size();
        const bool read =
            equals == std::string::npos || std::from_chars(word.data() + equals + 1, end, weight).ptr == end;
        const auto found = std::find(clips.begin(), clips.end(), name);
        if (!read || !(weight >= 0.0f) || found == clips.end()) {
            base::fail("--clips " + word, "names no clip and how often it is chosen",
                       "write NAME or NAME=3, of: " + base::listed(clips));
        }
        weights[static_cast<std::size_t>(found - clips.begin())] = weight;
    }
    return weights;
}

std::unique_ptr<scatter::Ground> groundOf(const std::string& name) {
    return name == "flat"     ? scatter::flatGround()
           : name == "uneven" ? scatter::unevenGround()
                              : scatter::meshGround(source::open(name)->mesh());
}

/// What all copies are in one mesh, and what is kept of them.
base::Bytes mergedGlb(const mesh::Mesh& mesh, const std::string& name,
                      const std::vector<scatter::Copy>& copies, scatter::Keeps keeps) {
    const scatter::Merged merged = scatter::mergeCopies(mesh, copies, keeps);
    return source::glbBytes(source::gltfModel(merged.mesh, name, {}), name);
}

scatter::Keeps keepsNamed(const std::string& id) {
    for (const scatter::KeepsRow& row : scatter::keepsRows()) {
        if (id == row.id) {
            return row.keeps;
        }
    }
    return scatter::Keeps::nothing;
}

/// Says when copies are of sizes that the bundle's bounds do not hold.
void lookAtSizes(const bundle::ScoreManifest& manifest, const scatter::Differences& differences) {
    const auto sizes = manifest.copySizes.value_or(motion::CopySizes{1.0f, 1.0f});
    const float least = std::min(sizes[0], differences.leastSize);
    const float most = std::max(sizes[1], differences.mostSize);
    const bool matters = !manifest.copySizes || bundle::readsCopyScale(manifest);
    if (matters && motion::CopySizes{least, most} != sizes) {
        const auto words = [](float from, float to) {
            return base::numberText(static_cast<double>(from)) + " to " +
                   base::numberText(static_cast<double>(to));
        };
        std::cerr << "look: the bounds of " << manifest.name << " hold copies of "
                  << words(sizes[0], sizes[1]) << " times the size, and these are of "
                  << words(differences.leastSize, differences.mostSize)
                  << "; write the bundle with --copy-sizes " << least << " " << most << "\n";
    }
}

void writeCode(const ScatterCall& call, const std::string& name, const std::vector<scatter::Copy>& copies) {
    const scatter::Keeps keeps = keepsNamed(call.merge);
    for (const emit::Dialect* dialect : emit::dialects()) {
        code::Module module{emit::identifier(name) + "_crowd", {}};
        module.add(code::Remark{{emit::identifier(name) + ": what tells its copies apart.",
                                 std::string("Written by ") + base::generatorName() + "."}});
        scatter::addCopyCode(module, call.differences);
        if (keeps == scatter::Keeps::uvs || keeps == scatter::Keeps::colours) {
            scatter::addMergeCode(module, keeps, scatter::areTilted(copies), scatter::boxOf(copies));
        }
        std::filesystem::path file(call.out);
        file.replace_extension(dialect->id());
        base::replaceFile(file, dialect->print(module).text);
        std::cout << file.string() << ": functions " << module.own("copy_of") << " and what goes with it\n";
    }
}

} // namespace

void addScatterOptions(CLI::App& app, ScatterCall& call) {
    std::vector<std::string> names;
    for (const scatter::Pattern& row : scatter::patterns()) {
        names.push_back(row.id);
    }
    app.add_option("BUNDLE", call.bundle, "the bundle's folder")->required();
    app.add_option("--out", call.out, "the .glb file with all copies, by EXT_mesh_gpu_instancing")
        ->required();
    app.add_option("--copies", call.placement.count, "how many")
        ->check(CLI::Range(std::size_t{1}, scatter::kMostCopies))
        ->capture_default_str();
    app.add_option("--pattern", call.placement.pattern, "how they are spread")
        ->check(CLI::IsMember(names))
        ->capture_default_str();
    app.add_option("--size", call.size,
                   "metres that they are spread over: 12, 12x8, or 12x3x8 with the height")
        ->capture_default_str();
    app.add_option("--ground", call.ground, "flat, uneven, or a mesh file that they stand on")
        ->capture_default_str();
    app.add_flag("--along-surface", call.placement.alongSurface, "upright on the ground's own slope");
    app.add_option("--seed", call.differences.seed, "another seed is another crowd")->capture_default_str();
    app.add_option("--smallest", call.differences.leastSize, "factor of the smallest copy")
        ->check(CLI::Range(0.001, 1000.0))
        ->capture_default_str();
    app.add_option("--largest", call.differences.mostSize, "factor of the largest copy")
        ->check(CLI::Range(0.001, 1000.0))
        ->capture_default_str();
    app.add_option("--turn", call.differences.turnSpread,
                   "part of a whole turn that they are turned by, 0 to 1")
        ->check(CLI::Range(0.0, 1.0))
        ->capture_default_str();
    app.add_option("--start", call.differences.startSpread,
                   "part of the loop that their starts are spread over")
        ->check(CLI::Range(0.0, 1.0))
        ->capture_default_str();
    app.add_option("--rate", call.differences.rateSpread, "their rates lie within 1 plus or minus this")
        ->check(CLI::Range(0.0, 0.95))
        ->capture_default_str();
    app.add_option(
           "--merge", call.merge,
           "all copies in one mesh instead, which keeps this of their pivots: nothing, uvs or colours")
        ->check(CLI::IsMember({"nothing", "uvs", "colours"}));
    app.add_flag(
        "--code", call.code,
        "also write the functions that give each copy what it differs in, and merged ones their pivot, in "
        "every language");
    app.add_option("--clips", call.clips,
                   "NAME or NAME=3: a clip and how often it is chosen; may be repeated");
}

Status scatterBundle(ScatterCall call) {
    readSize(call.size, call.placement.size);
    call.placement.seed = call.differences.seed;
    std::string name;
    std::string meshFile;
    std::vector<std::string> clips;
    // Pivots of a merged mesh lie in numbers that no importer converts.
    const auto requireOwnAxes = [&](const bundle::Target& target) {
        if (!call.merge.empty() && target.space().changes()) {
            base::fail("--merge",
                       "keeps pivots in glTF's axes, and the bundle is for " + bundle::words(target),
                       "keep the copies apart, or write the bundle for glTF's axes");
        }
    };
    if (bundle::holdsScore(call.bundle)) {
        const auto manifest = bundle::readScoreManifest(call.bundle);
        requireOwnAxes(manifest.target);
        name = manifest.name;
        meshFile = manifest.meshFile;
        lookAtSizes(manifest, call.differences);
    } else {
        const bundle::Manifest manifest = bundle::readManifest(call.bundle);
        requireOwnAxes(manifest.target);
        name = manifest.name;
        meshFile = manifest.meshFile;
        for (const bake::BakedClip& clip : manifest.textures.clips) {
            clips.push_back(clip.name);
        }
    }
    call.differences.clipWeights = weightsOf(call.clips, clips);
    const auto copies = scatter::placeCopies(call.placement, call.differences, *groundOf(call.ground));
    const auto source = source::open(bundle::insideBundle(call.bundle, meshFile));
    const base::Bytes glb = call.merge.empty()
                                ? scatter::copiesGlb(source->mesh(), name, copies)
                                : mergedGlb(source->mesh(), name, copies, keepsNamed(call.merge));
    base::replaceFile(call.out, base::asText(glb));
    std::cout << call.out << ": " << base::plural(copies.size(), "copy") << " of " << name;
    if (copies.size() < call.placement.count) {
        std::cout << " (" << call.placement.count - copies.size() << " would lie beside the ground)";
    }
    std::cout << (call.merge.empty() ? "\n" : ", merged\n");
    if (call.code) {
        writeCode(call, name, copies);
    }
    return kDone;
}

} // namespace ripple::cli
