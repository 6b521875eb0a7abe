#include "bundle/played_bake.h"

#include "bundle/imported_mesh.h"
#include "bundle/missampling.h"
#include "mesh/places.h"

#include <algorithm>

namespace ripple::bundle {

namespace {

/// Textures, clips and lookups as faults leave them.
class Spoiler {
public:
    Spoiler(const bake::TextureSet& original, bake::TextureSet& set, std::vector<std::uint32_t>& columns,
            const mesh::Mesh& mesh)
        : original_(original),
          set_(set),
          columns_(columns),
          mesh_(mesh) {}

    /// Why it can't be; empty when it is done. Only for what spoilsData().
    std::string spoil(const Fault& fault) {
        return fault.bytes ? damage(*fault.bytes) : misread(*fault.misreading);
    }
    /// Once all faults are known: how they sample together.
    void sample() {
        if (sampling_.differs()) {
            sampleSo(sampling_, set_);
        }
    }

private:
    std::string damage(TextureDamage damage) {
        if (damage == TextureDamage::premultiplied &&
            std::ranges::none_of(set_.images, [](const auto& image) { return image.channels == 4; })) {
            return "no texture has an alpha channel";
        }
        for (std::size_t t = 0; t < set_.images.size(); ++t) {
            set_.images[t] =
                asSampled(damagedBy(damage, set_.images[t], rowsPerFrame(set_, t)), original_.images[t]);
        }
        return {};
    }

    /// Of faults that are about the lookup.
    std::string sampleBy(bool Sampling::*fault) {
        if (set_.joints.inUvs) {
            return "no texture is read by a lookup";
        }
        sampling_.*fault = true;
        return {};
    }

    std::string misread(Misreading misreading) {
        switch (misreading) {
        case Misreading::rangeUnset:
            if (!set_.positionStore.usesRange) {
                return "its store has no range";
            }
            std::ranges::fill(set_.ranges, bake::Range{glm::vec3(0.0f), glm::vec3(1.0f)});
            break;
        case Misreading::frameCountShort:
            for (bake::BakedClip& clip : set_.clips) {
                if (clip.times.empty()) {
                    clip.frames = std::max<std::size_t>(clip.frames, 3) - 1;
                } else {
                    clip.timesLength = std::max<std::size_t>(clip.timesLength, 3) - 1;
                }
            }
            break;
        case Misreading::clampedEnd:
            if (std::ranges::none_of(set_.clips, &bake::BakedClip::closed)) {
                return "no clip is closed";
            }
            for (bake::BakedClip& clip : set_.clips) {
                clip.closed = false;
            }
            break;
        case Misreading::otherUvSet:
            if (mesh_.uvSets.empty() || set_.joints.inUvs) {
                return "there is no other UV set, or no lookup";
            }
            for (std::size_t v = 0; v < columns_.size(); ++v) {
                columns_[v] = static_cast<std::uint32_t>(
                    std::min(set_.layout.columnAt(mesh_.uvSets[0][v]), set_.layout.columns - 1));
            }
            break;
        case Misreading::texelEdges:
            return sampleBy(&Sampling::atEdges);
        case Misreading::halfUvs:
            return sampleBy(&Sampling::halfUvs);
        case Misreading::vTurned:
            return sampleBy(&Sampling::vTurned);
        case Misreading::linearFilter:
            return sampleBy(&Sampling::linear);
        case Misreading::welded:
            weld();
            break;
        case Misreading::pivotsLost:
            if (set_.pivots.empty()) {
                return "it has no pieces with pivots";
            }
            std::ranges::fill(set_.pivots, glm::vec3(0.0f));
            break;
        case Misreading::tangentSpace:
        case Misreading::restBounds:
        case Misreading::rotationIgnored:
        case Misreading::longUptime:
        case Misreading::axesTurned:
        case Misreading::unitChanged:
        case Misreading::normalsNew:
        case Misreading::split:
        case Misreading::reordered:
            break; // of who reads
        }
        return {};
    }

    /// All vertices of one place follow the first of them.
    void weld() {
        const std::vector<std::uint32_t> first = mesh::firstInPlace(mesh_.positions);
        for (std::size_t v = 0; v < columns_.size(); ++v) {
            columns_[v] = columns_[first[v]];
        }
    }

    Sampling sampling_;
    const bake::TextureSet& original_;
    bake::TextureSet& set_;
    std::vector<std::uint32_t>& columns_;
    const mesh::Mesh& mesh_;
};

} // namespace

PlayedBake::PlayedBake(const Staged& staged, std::span<const Fault* const> chosen)
    : mesh_(staged.mesh),
      stored_(staged.textures.clips),
      textures_(staged.textures),
      columns_(staged.columnOfVertex.begin(), staged.columnOfVertex.end()) {
    for (const bake::BakedClip& clip : stored_) {
        source::Clip of;
        of.name = clip.name;
        of.duration = clip.seconds();
        of.fps = clip.fps > 0.0 ? clip.fps : 1.0;
        clips_.push_back(of);
    }
    Spoiler spoiler(staged.textures, textures_, columns_, mesh_);
    for (const Fault* fault : chosen) {
        take(*fault, spoilsData(*fault) ? spoiler.spoil(*fault) : whyNotRead(*fault->misreading, mesh_));
    }
    spoiler.sample();
    mesh::Mesh imported = importedMesh(mesh_, chosen);
    imported_ = std::move(imported.positions);
    importedNormals_ = std::move(imported.normals);
    reader_.emplace(textures_, columns_, imported_, importedNormals_);
}

void PlayedBake::sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                        std::span<glm::vec3> normals) const {
    const bake::BakedClip& stored = stored_[clip];
    const double loop = stored.fps > 0.0 ? std::max(stored.seconds(), 1.0 / stored.fps) : 0.0;
    const double frame = clock(seconds, loop, stored.closed) * rate(clip);
    reader_->at(textures_.clips[clip], static_cast<float>(frame), positions, normals);
    handle(mesh_, positions, normals);
}

bake::Baked spoiltBake(const bake::Baked& baked, const mesh::Mesh& mesh,
                       std::span<const Fault* const> chosen) {
    bake::Baked spoilt = baked;
    Spoiler spoiler(baked.textures, spoilt.textures, spoilt.columnOfVertex, mesh);
    for (const Fault* fault : chosen) {
        if (spoilsData(*fault)) {
            spoiler.spoil(*fault);
        }
    }
    spoiler.sample();
    return spoilt;
}

} // namespace ripple::bundle
