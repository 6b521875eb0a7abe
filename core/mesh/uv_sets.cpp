#include "mesh/uv_sets.h"

#include <algorithm>
#include <cmath>

#include <glm/common.hpp>

namespace ripple::mesh {

namespace {

constexpr int kRaster = 512;

double edge(const glm::dvec2& a, const glm::dvec2& b, const glm::dvec2& p) {
    return (b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x);
}

/// Adds 1 to every texel whose centre lies in the triangle; shared edges count for one side only.
void cover(std::vector<std::uint8_t>& raster, glm::dvec2 a, glm::dvec2 b, glm::dvec2 c) {
    if (edge(a, b, c) < 0.0) {
        std::swap(b, c);
    }
    const glm::dvec2 low = glm::min(glm::min(a, b), c);
    const glm::dvec2 high = glm::max(glm::max(a, b), c);
    const auto clampTexel = [](double x) { return static_cast<int>(std::clamp(x, 0.0, kRaster - 1.0)); };
    // A point on an edge belongs to the triangle for which the edge runs down, or left when level.
    const auto inside = [](double side, const glm::dvec2& from, const glm::dvec2& to) {
        return side > 0.0 || (side == 0.0 && (to.y > from.y || (to.y == from.y && to.x < from.x)));
    };
    for (int y = clampTexel(low.y); y <= clampTexel(high.y); ++y) {
        for (int x = clampTexel(low.x); x <= clampTexel(high.x); ++x) {
            const glm::dvec2 p(x + 0.5, y + 0.5);
            std::uint8_t& texel = raster[static_cast<std::size_t>(y * kRaster + x)];
            if (texel < 255 && inside(edge(a, b, p), a, b) && inside(edge(b, c, p), b, c) &&
                inside(edge(c, a, p), c, a)) {
                ++texel;
            }
        }
    }
}

double overlapOf(const Mesh& mesh, const std::vector<glm::vec2>& set) {
    std::vector<std::uint8_t> raster(static_cast<std::size_t>(kRaster) * kRaster, 0);
    for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
        glm::dvec2 corner[3];
        bool usable = true;
        for (std::size_t k = 0; k < 3; ++k) {
            const glm::vec2 uv = set[mesh.indices[i + k]];
            // Tiled layouts lie on top of themselves on purpose; only what is in 0..1 is looked at.
            usable = usable && uv.x >= 0.0f && uv.x <= 1.0f && uv.y >= 0.0f && uv.y <= 1.0f;
            corner[k] = glm::dvec2(uv) * static_cast<double>(kRaster);
        }
        if (usable && edge(corner[0], corner[1], corner[2]) != 0.0) {
            cover(raster, corner[0], corner[1], corner[2]);
        }
    }
    std::size_t covered = 0;
    std::size_t twice = 0;
    for (const std::uint8_t count : raster) {
        covered += count > 0;
        twice += count > 1;
    }
    return covered ? static_cast<double>(twice) / static_cast<double>(covered) : 0.0;
}

bool allSame(const std::vector<glm::vec2>& set) {
    return std::all_of(set.begin(), set.end(), [&](const glm::vec2& uv) { return uv == set.front(); });
}

/// By any texture of the material.
bool readsUvSet(const Material& material, std::size_t set) {
    return (material.baseColourImage && material.baseColourUvSet == set) ||
           std::find(material.uvSetsRead.begin(), material.uvSetsRead.end(), set) !=
               material.uvSetsRead.end();
}

} // namespace

std::vector<UvSetFacts> uvSetFacts(const Mesh& mesh) {
    std::vector<UvSetFacts> facts(mesh.uvSets.size());
    for (std::size_t s = 0; s < facts.size(); ++s) {
        facts[s].usedBy = uvSetReaders(mesh, s);
        const auto& set = mesh.uvSets[s];
        facts[s].empty = allSame(set);
        facts[s].outside =
            static_cast<std::size_t>(std::count_if(set.begin(), set.end(), [](const glm::vec2& uv) {
                return !(uv.x >= 0.0f && uv.x <= 1.0f && uv.y >= 0.0f && uv.y <= 1.0f);
            }));
        facts[s].overlap = facts[s].empty ? 0.0 : overlapOf(mesh, set);
    }
    return facts;
}

std::vector<std::string> uvSetReaders(const Mesh& mesh, std::size_t set) {
    std::vector<std::string> readers;
    for (const Material& material : mesh.materials) {
        if (readsUvSet(material, set)) {
            readers.push_back(material.name.empty() ? "a material" : material.name);
        }
    }
    return readers;
}

bool isUvSetRead(const Mesh& mesh, std::size_t set) {
    return std::any_of(mesh.materials.begin(), mesh.materials.end(),
                       [set](const Material& m) { return readsUvSet(m, set); });
}

std::size_t freeUvSet(const Mesh& mesh) {
    for (std::size_t s = 0; s < mesh.uvSets.size(); ++s) {
        if (!isUvSetRead(mesh, s) && allSame(mesh.uvSets[s])) {
            return s;
        }
    }
    return mesh.uvSets.size();
}

std::vector<std::size_t> firstSameUvSet(const Mesh& mesh) {
    std::vector<std::size_t> first;
    for (auto set = mesh.uvSets.begin(); set != mesh.uvSets.end(); ++set) {
        first.push_back(
            static_cast<std::size_t>(std::find(mesh.uvSets.begin(), set, *set) - mesh.uvSets.begin()));
    }
    return first;
}

void dropUvSets(Mesh& mesh, const std::vector<std::size_t>& into) {
    std::vector<std::size_t> now(into.size()); // where each old set lies afterwards
    std::vector<std::vector<glm::vec2>> kept;
    for (std::size_t s = 0; s < into.size(); ++s) {
        if (into[s] == s) {
            now[s] = kept.size();
            kept.push_back(std::move(mesh.uvSets[s]));
        } else {
            now[s] = now[into[s]];
        }
    }
    mesh.uvSets = std::move(kept);
    const auto place = [&](std::size_t set) { return set < now.size() ? now[set] : set; };
    for (Material& material : mesh.materials) {
        material.baseColourUvSet = place(material.baseColourUvSet);
        std::transform(material.uvSetsRead.begin(), material.uvSetsRead.end(), material.uvSetsRead.begin(),
                       place);
        std::sort(material.uvSetsRead.begin(), material.uvSetsRead.end());
        material.uvSetsRead.erase(std::unique(material.uvSetsRead.begin(), material.uvSetsRead.end()),
                                  material.uvSetsRead.end());
        if (material.uvSetNow.empty()) {
            material.uvSetNow = now;
        } else {
            std::transform(material.uvSetNow.begin(), material.uvSetNow.end(), material.uvSetNow.begin(),
                           place);
        }
    }
}

} // namespace ripple::mesh
