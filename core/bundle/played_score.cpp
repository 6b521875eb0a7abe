#include "bundle/played_score.h"

#include "bundle/attribute.h"
#include "bundle/imported_mesh.h"
#include "mesh/places.h"

#include <algorithm>
#include <cmath>

namespace ripple::bundle {

namespace {

const char* const kNoTextures = "a score has no textures";

} // namespace

StagedScore staged(const ScoreBundle& bundle) {
    return {bundle.mesh, bundle.manifest.inputs, bundle.composition, bundle.manifest.loopSeconds};
}

PlayedScore::PlayedScore(const StagedScore& staged, std::span<const Fault* const> chosen)
    : mesh_(staged.mesh),
      inputs_(staged.inputs) {
    source::Clip loop;
    loop.duration = staged.loopSeconds;
    clips_.push_back(loop);
    std::vector<const Fault*> had;
    for (const Fault* fault : chosen) {
        const Why why = whyNot(*fault);
        take(*fault, why);
        if (why.empty()) {
            had.push_back(fault);
        }
    }
    read_ = importedMesh(mesh_, had);
    if (has(Misreading::otherUvSet)) {
        readFromFirstSet();
    }
    if (has(Misreading::welded)) {
        weld();
    }
    reader_.emplace(read_, inputs_, staged.composition);
}

bool PlayedScore::reads(const std::string& attribute) const {
    return std::ranges::any_of(inputs_, [&](const PlacedInput& input) {
        return std::ranges::any_of(input.from,
                                   [&](const std::string& from) { return from.starts_with(attribute); });
    });
}

void PlayedScore::readFromFirstSet() {
    for (PlacedInput& input : inputs_) {
        for (std::string& from : input.from) {
            const std::size_t axis = from.find('.');
            if (uvSetOf(from)) {
                from = "TEXCOORD_0" + (axis == std::string::npos ? "" : from.substr(axis));
            }
        }
    }
}

void PlayedScore::weld() {
    const std::vector<std::uint32_t> first = mesh::firstInPlace(mesh_.positions);
    for (std::size_t v = 0; v < read_.vertexCount(); ++v) {
        read_.normals[v] = read_.normals[first[v]];
        for (std::vector<glm::vec2>& set : read_.uvSets) {
            set[v] = set[first[v]];
        }
        if (!read_.colours.empty()) {
            read_.colours[v] = read_.colours[first[v]];
        }
    }
}

Played::Why PlayedScore::whyNot(const Fault& fault) const {
    if (!spoilsData(fault)) {
        return whyNotRead(*fault.misreading, mesh_);
    }
    if (fault.bytes) {
        return !damagesColours(*fault.bytes) ? kNoTextures
               : reads("COLOR_0")            ? ""
                                             : "the score reads no vertex colours";
    }
    if (*fault.misreading == Misreading::otherUvSet) {
        const bool further = std::ranges::any_of(inputs_, [](const PlacedInput& input) {
            return std::ranges::any_of(input.from,
                                       [](const std::string& from) { return uvSetOf(from).value_or(0) > 0; });
        });
        return further ? "" : "it reads no further UV set";
    }
    if (*fault.misreading == Misreading::halfUvs || *fault.misreading == Misreading::vTurned) {
        return reads("TEXCOORD") ? "" : "the score reads no UVs";
    }
    return *fault.misreading == Misreading::welded ? "" : kNoTextures;
}

void PlayedScore::sample(std::size_t, double seconds, std::span<glm::vec3> positions,
                         std::span<glm::vec3> normals) const {
    const double loop = clips_[0].duration;
    const double turns = loop > 0.0 ? clock(seconds, loop, true) / loop : 0.0;
    reader_->pose(turns - std::floor(turns), positions, normals);
    handle(mesh_, positions, normals);
}

} // namespace ripple::bundle
