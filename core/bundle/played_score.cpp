#include "bundle/played_score.h"

#include "base/srgb.h"
#include "bundle/missampling.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace ripple::bundle {

namespace {

const char* const kNoTextures = "a score has no textures";

} // namespace

bool damagesColours(TextureDamage damage) {
    constexpr std::array kOfColours = {TextureDamage::srgbApplied, TextureDamage::srgbRemoved,
                                       TextureDamage::channelsSwapped, TextureDamage::premultiplied,
                                       TextureDamage::eightBits};
    return std::ranges::find(kOfColours, damage) != kOfColours.end();
}

std::vector<glm::vec4> damagedColours(TextureDamage damage, std::span<const glm::vec4> colours) {
    std::vector<glm::vec4> damaged(colours.begin(), colours.end());
    for (glm::vec4& colour : damaged) {
        for (int c = 0; c < 4; ++c) {
            float& value = colour[c];
            const bool alpha = c == 3;
            if (damage == TextureDamage::eightBits) {
                value = std::round(std::clamp(value, 0.0f, 1.0f) * 255.0f) / 255.0f;
            } else if (damage == TextureDamage::srgbApplied && !alpha) {
                value = base::toSrgb(value);
            } else if (damage == TextureDamage::srgbRemoved && !alpha) {
                value = base::fromSrgb(value);
            } else if (damage == TextureDamage::premultiplied && !alpha) {
                value *= colour[3];
            }
        }
        if (damage == TextureDamage::channelsSwapped) {
            std::swap(colour.r, colour.b);
        }
    }
    return damaged;
}

StagedScore staged(const ScoreBundle& bundle) {
    return {bundle.mesh, bundle.manifest.inputs, bundle.composition, bundle.manifest.loopSeconds};
}

PlayedScore::PlayedScore(const StagedScore& staged, std::span<const Fault* const> chosen)
    : mesh_(staged.mesh),
      read_(staged.mesh),
      inputs_(staged.inputs) {
    source::Clip loop;
    loop.duration = staged.loopSeconds;
    clips_.push_back(loop);
    for (const Fault* fault : chosen) {
        take(*fault, spoilsData(*fault) ? spoil(*fault) : whyNotRead(*fault->misreading, mesh_));
    }
    import(read_.positions, read_.normals);
    reader_.emplace(read_, inputs_, staged.composition);
}

bool PlayedScore::reads(const std::string& attribute) const {
    return std::ranges::any_of(inputs_, [&](const PlacedInput& input) {
        return std::ranges::any_of(input.from,
                                   [&](const std::string& from) { return from.starts_with(attribute); });
    });
}

Played::Why PlayedScore::spoilColours(TextureDamage damage) {
    if (!reads("COLOR_0")) {
        return "the score reads no vertex colours";
    }
    read_.colours = damagedColours(damage, read_.colours);
    return {};
}

Played::Why PlayedScore::readFromFirstSet() {
    bool moved = false;
    for (PlacedInput& input : inputs_) {
        for (std::string& from : input.from) {
            const bool further = from.starts_with("TEXCOORD_") && !from.starts_with("TEXCOORD_0");
            const std::size_t axis = from.find('.');
            moved = moved || further;
            from = !further ? from : "TEXCOORD_0" + (axis == std::string::npos ? "" : from.substr(axis));
        }
    }
    return moved ? "" : "it reads no further UV set";
}

void PlayedScore::weld() {
    std::map<std::array<float, 3>, std::size_t> first;
    for (std::size_t v = 0; v < read_.vertexCount(); ++v) {
        const glm::vec3& p = mesh_.positions[v];
        const std::size_t one = first.try_emplace({p.x, p.y, p.z}, v).first->second;
        read_.normals[v] = read_.normals[one];
        for (std::vector<glm::vec2>& set : read_.uvSets) {
            set[v] = set[one];
        }
        if (!read_.colours.empty()) {
            read_.colours[v] = read_.colours[one];
        }
    }
}

Played::Why PlayedScore::spoil(const Fault& fault) {
    if (fault.bytes) {
        return damagesColours(*fault.bytes) ? spoilColours(*fault.bytes) : kNoTextures;
    }
    if (*fault.misreading == Misreading::otherUvSet) {
        return readFromFirstSet();
    }
    if (*fault.misreading == Misreading::welded) {
        weld();
        return {};
    }
    if (*fault.misreading == Misreading::halfUvs || *fault.misreading == Misreading::vTurned) {
        if (!reads("TEXCOORD")) {
            return "the score reads no UVs";
        }
        const bool half = *fault.misreading == Misreading::halfUvs;
        for (std::vector<glm::vec2>& set : read_.uvSets) {
            for (glm::vec2& uv : set) {
                uv = half ? asHalf(uv) : glm::vec2(uv.x, 1.0f - uv.y);
            }
        }
        return {};
    }
    return kNoTextures;
}

void PlayedScore::sample(std::size_t, double seconds, std::span<glm::vec3> positions,
                         std::span<glm::vec3> normals) const {
    const double loop = clips_[0].duration;
    const double turns = loop > 0.0 ? clock(seconds, loop, true) / loop : 0.0;
    reader_->pose(turns - std::floor(turns), positions, normals);
    handle(mesh_, positions, normals);
}

} // namespace ripple::bundle
