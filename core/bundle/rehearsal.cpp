#include "bundle/rehearsal.h"

#include "bake/compare_poses.h"
#include "bake/texture_reader.h"
#include "bundle/instants.h"
#include "bundle/missampling.h"
#include "base/files.h"
#include "base/progress.h"
#include "image/exr.h"
#include "image/png.h"
#include "mesh/bounds.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <map>

#include <glm/geometric.hpp>

namespace ripple::bundle {

namespace {

/// Textures, clips and lookups as faults leave them.
class Spoiler {
public:
    Spoiler(bake::TextureSet& set, std::vector<std::uint32_t>& columns, const mesh::Mesh& mesh)
        : original_(set),
          set_(set),
          columns_(columns),
          mesh_(mesh) {}

    /// Why it can't be; empty when it is done.
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
        case Misreading::tangentSpace:
            return mesh_.tangents.size() == mesh_.vertexCount() ? std::string() : "the mesh has no tangents";
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
        case Misreading::restBounds:
        case Misreading::rotationIgnored:
        case Misreading::longUptime:
        case Misreading::axesTurned:
        case Misreading::unitChanged:
            break; // of who reads, not of what is read
        }
        return {};
    }

    /// All vertices of one place follow the first of them.
    void weld() {
        std::map<std::array<float, 3>, std::size_t> first;
        for (std::size_t v = 0; v < columns_.size(); ++v) {
            const glm::vec3& p = mesh_.positions[v];
            columns_[v] = columns_[first.try_emplace({p.x, p.y, p.z}, v).first->second];
        }
    }

    Sampling sampling_;
    const bake::TextureSet original_;
    bake::TextureSet& set_;
    std::vector<std::uint32_t>& columns_;
    const mesh::Mesh& mesh_;
};

/// A frame's number after ten hours, by a clock of single precision. A clip that loops has played since the
/// start; one that does not has just begun.
float afterHours(const bake::BakedClip& clip, float frame) {
    if (clip.fps <= 0.0) {
        return frame;
    }
    // Whole loops first, so that it would be the same instant if numbers were exact.
    constexpr double kUptime = 10.0 * 3600.0;
    const double loop = std::max(clip.seconds(), 1.0 / clip.fps);
    const double before = std::round(kUptime / loop) * loop;
    const auto seconds = static_cast<float>(before + static_cast<double>(frame) / clip.fps);
    const float since =
        clip.closed ? std::fmod(seconds, static_cast<float>(loop)) : seconds - static_cast<float>(before);
    return since * static_cast<float>(clip.fps);
}

void takeForTangentSpace(const mesh::Mesh& mesh, std::span<glm::vec3> normals) {
    for (std::size_t v = 0; v < normals.size(); ++v) {
        const glm::vec3 tangent(mesh.tangents[v]);
        const glm::vec3 bitangent = mesh.tangents[v].w * glm::cross(mesh.normals[v], tangent);
        const glm::vec3 n = normals[v];
        normals[v] = glm::normalize(tangent * n.x + bitangent * n.y + mesh.normals[v] * n.z);
    }
}

/// A quarter about Y.
glm::vec3 turnedQuarter(const glm::vec3& p) {
    return {p.z, p.y, -p.x};
}

/// +Y becomes +Z.
glm::vec3 toZUp(const glm::vec3& p) {
    return {p.x, -p.z, p.y};
}

} // namespace

bake::Baked spoiltBake(const bake::Baked& baked, const mesh::Mesh& mesh,
                       std::span<const Fault* const> chosen) {
    bake::Baked spoilt = baked;
    Spoiler spoiler(spoilt.textures, spoilt.columnOfVertex, mesh);
    for (const Fault* fault : chosen) {
        if (isDrawn(*fault)) {
            spoiler.spoil(*fault);
        }
    }
    spoiler.sample();
    return spoilt;
}

Rehearsed rehearse(const Bundle& bundle, std::span<const Fault* const> chosen,
                   const base::Progress& progress) {
    return rehearse({bundle.textures, bundle.columnOfVertex, bundle.mesh}, chosen, progress);
}

Rehearsed rehearse(const Staged& staged, std::span<const Fault* const> chosen,
                   const base::Progress& progress) {
    Rehearsed result;
    const mesh::Mesh& mesh = staged.mesh;
    bake::TextureSet set = staged.textures;
    std::vector<std::uint32_t> columns(staged.columnOfVertex.begin(), staged.columnOfVertex.end());
    Spoiler spoiler(set, columns, mesh);
    std::vector<Misreading> misread;
    for (const Fault* fault : chosen) {
        if (const std::string why = spoiler.spoil(*fault); !why.empty()) {
            result.idle.push_back(std::string(fault->id) + ": " + why);
        } else if (fault->misreading) {
            misread.push_back(*fault->misreading);
        }
    }
    spoiler.sample();
    const auto has = [&](Misreading one) { return std::ranges::find(misread, one) != misread.end(); };
    const bake::TextureReader right(staged.textures, staged.columnOfVertex, mesh.positions, mesh.normals);
    // The mesh as an importer made it, while the textures are as they were.
    std::vector<glm::vec3> imported(mesh.positions);
    std::vector<glm::vec3> normals(mesh.normals);
    for (std::size_t v = 0; v < imported.size(); ++v) {
        imported[v] *= has(Misreading::unitChanged) ? 100.0f : 1.0f;
        imported[v] = has(Misreading::axesTurned) ? toZUp(imported[v]) : imported[v];
        normals[v] = has(Misreading::axesTurned) ? toZUp(normals[v]) : normals[v];
    }
    const bake::TextureReader wrong(set, columns, imported, normals);
    const std::vector<Instant> instants = someInstants(staged.textures.clips);
    mesh::Bounds rest;
    rest.add(mesh.positions);
    const auto truth = [&](std::size_t i, std::span<glm::vec3> p, std::span<glm::vec3> n) {
        right.at(staged.textures.clips[instants[i].clip], instants[i].frame, p, n);
        for (std::size_t v = 0; v < p.size(); ++v) {
            if (has(Misreading::restBounds)) {
                const glm::vec3 outside = glm::max(glm::max(rest.min - p[v], p[v] - rest.max), 0.0f);
                result.overhang = std::max(result.overhang, static_cast<double>(glm::length(outside)));
            }
            p[v] = has(Misreading::rotationIgnored) ? turnedQuarter(p[v]) : p[v];
            p[v] = has(Misreading::axesTurned) ? toZUp(p[v]) : p[v];
        }
        for (std::size_t v = 0; v < n.size() && has(Misreading::axesTurned); ++v) {
            n[v] = toZUp(n[v]);
        }
    };
    const auto read = [&](std::size_t i, std::span<glm::vec3> p, std::span<glm::vec3> n) {
        const bake::BakedClip& clip = staged.textures.clips[instants[i].clip];
        const float frame = instants[i].frame;
        wrong.at(set.clips[instants[i].clip], has(Misreading::longUptime) ? afterHours(clip, frame) : frame,
                 p, n);
        if (has(Misreading::tangentSpace)) {
            takeForTangentSpace(mesh, n);
        }
        for (std::size_t v = 0; v < p.size(); ++v) {
            if (has(Misreading::rotationIgnored)) {
                p[v] += turnedQuarter(mesh.positions[v]) - mesh.positions[v];
            }
            p[v] *= has(Misreading::unitChanged) ? 0.01f : 1.0f; // back in metres
        }
    };
    const bake::ErrorReport report =
        bake::comparePoses(mesh.vertexCount(), instants.size(), truth, read, progress);
    result.metres = report.all.max;
    result.degrees = report.normalMaxDegrees;
    if (report.all.max > 0.0) {
        const Instant& worst = instants[static_cast<std::size_t>(report.worstFrame)];
        result.worstClip = staged.textures.clips[worst.clip].name;
        result.worstFrame = static_cast<double>(worst.frame);
    }
    return result;
}

std::size_t writeSpoilt(const Bundle& bundle, const std::filesystem::path& own,
                        std::span<const Fault* const> chosen, const std::filesystem::path& folder) {
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    if (std::filesystem::equivalent(folder, own, error)) {
        base::fail(folder.string(), "is the bundle's own folder", "name another; the bundle stays as it is");
    }
    std::size_t written = 0;
    for (std::size_t t = 0; t < bundle.textures.images.size(); ++t) {
        image::Image image = bundle.textures.images[t];
        for (const Fault* fault : chosen) {
            if (fault->bytes) {
                image = damagedBy(*fault->bytes, image, rowsPerFrame(bundle.textures, t));
            }
        }
        if (image == bundle.textures.images[t]) {
            continue;
        }
        const std::filesystem::path file = folder / bundle.manifest.textureFiles[t];
        base::extensionOf(file) == ".exr" ? image::writeExr(image, file) : image::writePng(image, file);
        ++written;
    }
    return written;
}

} // namespace ripple::bundle
