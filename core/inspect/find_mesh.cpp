// What the mesh at rest showed: reader's notes, triangles, vertices, UV sets, weights, unit.

#include "inspect/finders.h"

#include "base/units.h"

#include <algorithm>
#include <array>
#include <vector>
#include <cmath>

namespace ripple::inspect {

namespace {

constexpr std::size_t kMostMarked = 4096;

std::vector<std::uint32_t> firstFew(const std::vector<std::uint32_t>& all) {
    return {all.begin(), all.begin() + static_cast<std::ptrdiff_t>(std::min(all.size(), kMostMarked))};
}

Fix mendingFix(const Inspection& inspection, const std::string& label, void (*change)(source::Mending&)) {
    Fix fix;
    fix.label = label;
    fix.reading = inspection.reading;
    change(fix.reading->mending);
    return fix;
}

std::string setName(std::size_t set) {
    return "UV set " + std::to_string(set) + " (" + std::to_string(set + 1) + " counted from 1)";
}

} // namespace

void findReaderNotes(const Inspection& inspection, const MeshFacts&, std::vector<Observation>& found) {
    for (const base::Finding& finding : inspection.source.findings()) {
        Observation one;
        one.finding = finding;
        if (finding.id == "mirrored") {
            const bool kept = inspection.reading.mending.keepMirrored;
            one.fixes.push_back(kept ? mendingFix(inspection, "Flip its faces",
                                                  [](source::Mending& m) { m.keepMirrored = false; })
                                     : mendingFix(inspection, "Leave its faces as they are",
                                                  [](source::Mending& m) { m.keepMirrored = true; }));
        }
        if (finding.id == "file-outside") {
            Fix fix;
            fix.label = "Read them too";
            fix.followOutside = true;
            one.fixes.push_back(std::move(fix));
        }
        if (finding.id == "normals-missing" && !inspection.reading.mending.makeNormals) {
            one.fixes.push_back(mendingFix(inspection, "Compute them from the triangles",
                                           [](source::Mending& m) { m.makeNormals = true; }));
        }
        found.push_back(std::move(one));
    }
}

void findMeshFaults(const Inspection& inspection, const MeshFacts& facts, std::vector<Observation>& found) {
    const mesh::Mesh& mesh = inspection.source.mesh();
    if (!facts.degenerate.empty()) {
        Observation one;
        one.finding = {"degenerate-triangles",
                       base::Severity::look,
                       {inspection.where, base::plural(facts.degenerate.size(), "triangle") + " without area",
                        "importers drop such triangles and may renumber vertices; drop them here"}};
        for (const std::uint32_t t : firstFew(facts.degenerate)) {
            one.vertices.push_back(mesh.indices[3 * t]);
        }
        one.fixes.push_back(
            mendingFix(inspection, "Drop them", [](source::Mending& m) { m.dropDegenerate = true; }));
        found.push_back(std::move(one));
    }
    if (!facts.unused.empty()) {
        Observation one;
        one.finding = {"unused-vertices",
                       base::Severity::look,
                       {inspection.where, base::plural(facts.unused.size(), "vertex") + " of no triangle",
                        "importers drop them and renumber the rest; drop them here"}};
        one.vertices = firstFew(facts.unused);
        one.fixes.push_back(
            mendingFix(inspection, "Drop them", [](source::Mending& m) { m.dropUnused = true; }));
        found.push_back(std::move(one));
    }
    if (!facts.duplicate.empty()) {
        Observation one;
        one.finding = {"duplicate-vertices",
                       base::Severity::note,
                       {inspection.where,
                        base::plural(facts.duplicate.size(), "vertex") + " repeating another in everything",
                        "importers may weld them; the lookup survives that, as they share its UV"}};
        one.vertices = firstFew(facts.duplicate);
        one.fixes.push_back(
            mendingFix(inspection, "Merge them", [](source::Mending& m) { m.mergeDuplicates = true; }));
        found.push_back(std::move(one));
    }
}

namespace {

std::string setNames(const std::vector<std::size_t>& sets) {
    std::string names;
    for (const std::size_t set : sets) {
        names += (names.empty() ? "" : ", ") + std::to_string(set);
    }
    return names;
}

/// UV sets that say nothing new or that nothing reads: with them the lookup goes further back than importers
/// read.
void findSpareUvSets(const Inspection& inspection, std::vector<Observation>& found) {
    const mesh::Mesh& mesh = inspection.source.mesh();
    const std::size_t lookup = inspection.recipe.lookupUvSet.value_or(mesh::freeUvSet(mesh));
    const std::vector<std::size_t> first = mesh::firstSameUvSet(mesh);
    std::vector<std::size_t> repeats;
    std::vector<std::size_t> unread;
    for (std::size_t s = 1; s < first.size(); ++s) {
        if (first[s] != s) {
            repeats.push_back(s);
        } else if (!mesh::isUvSetRead(mesh, s) && s != lookup) {
            unread.push_back(s);
        }
    }
    const bool far = !inspection.recipe.lookupUvSet && lookup >= mesh::kMostUvSets;
    if (!far && repeats.empty()) {
        return;
    }
    Observation one;
    one.finding = {far ? "no-free-uv-set" : "uv-repeats",
                   far ? base::Severity::look : base::Severity::note,
                   {inspection.where,
                    far ? "all of its " + std::to_string(first.size()) +
                              " UV sets are in use; engines commonly read " +
                              std::to_string(mesh::kMostUvSets)
                        : base::plural(repeats.size(), "UV set") + " repeating an earlier one (" +
                              setNames(repeats) + ")",
                    far ? "the lookup goes to " + setName(lookup) +
                              "; choose another set for it, or drop sets that are not needed"
                        : "each costs memory at every vertex; drop them"}};
    if (!repeats.empty()) {
        one.fixes.push_back(mendingFix(inspection, "Drop repeated sets (" + setNames(repeats) + ")",
                                       [](source::Mending& m) { m.dropRepeatedUvs = true; }));
    }
    if (!unread.empty() && far) {
        one.fixes.push_back(mendingFix(inspection, "Drop unused sets (" + setNames(unread) + ")",
                                       [](source::Mending& m) { m.dropUnreadUvs = true; }));
    }
    found.push_back(std::move(one));
}

/// A chosen lookup set that a material reads, or that lies apart from the mesh's own.
void findLookupConflict(const Inspection& inspection, std::vector<Observation>& found) {
    const mesh::Mesh& mesh = inspection.source.mesh();
    if (!inspection.recipe.lookupUvSet) {
        return;
    }
    const std::size_t lookup = *inspection.recipe.lookupUvSet;
    std::string readers;
    for (const std::string& reader : mesh::uvSetReaders(mesh, lookup)) {
        readers += (readers.empty() ? "" : ", ") + reader;
    }
    const std::string taken = "the lookup takes " + setName(lookup);
    Observation one;
    if (!readers.empty()) {
        one.finding = {"lookup-conflict",
                       base::Severity::look,
                       {inspection.where, taken + ", which is read by " + readers,
                        "those textures would be laid out by the lookup; choose a free set"}};
    } else if (lookup >= mesh::kMostUvSets) {
        one.finding = {"lookup-far",
                       base::Severity::look,
                       {inspection.where,
                        taken + "; engines commonly read " + std::to_string(mesh::kMostUvSets),
                        "choose a lower set if the target does not read it"}};
    } else if (lookup > mesh.uvSets.size()) {
        one.finding = {"lookup-apart",
                       base::Severity::note,
                       {inspection.where,
                        taken + "; the mesh has " + base::plural(mesh.uvSets.size(), "UV set"),
                        "the sets between are filled with zeros"}};
    } else {
        return;
    }
    Fix fix;
    fix.label = "Choose the first free set";
    fix.lookupByItself = true;
    one.fixes.push_back(std::move(fix));
    found.push_back(std::move(one));
}

} // namespace

void findMaterials(const Inspection& inspection, const MeshFacts&, std::vector<Observation>& found) {
    const mesh::Mesh& mesh = inspection.source.mesh();
    for (const mesh::Material& material : mesh.materials) {
        if (!material.hasNormalMap || !mesh.tangents.empty()) {
            continue;
        }
        Observation one;
        one.finding = {
            "normal-map-tangents",
            base::Severity::note,
            {inspection.where,
             "material \"" + material.name + "\" has a normal map, and the mesh has no tangents",
             "the GLB of a bundle gets ones that are made from UVs and normals of the rest pose, as "
             "glTF 2.0 says; they are to be turned with the normals; or export the mesh with "
             "tangents of its own"}};
        found.push_back(std::move(one));
        break; // once for all of them
    }
}

void findUvFaults(const Inspection& inspection, const MeshFacts& facts, std::vector<Observation>& found) {
    const mesh::Mesh& mesh = inspection.source.mesh();
    const std::size_t sets = mesh.uvSets.size();
    if (sets == 0) {
        Observation one;
        one.finding = {"no-uvs",
                       base::Severity::look,
                       {inspection.where,
                        "has no UVs: the lookup would be its only set, and no texture can lie on it",
                        "lay UVs out where it was made, or take plain ones as seen along its thinnest side"}};
        one.fixes.push_back(
            mendingFix(inspection, "Make plain UVs", [](source::Mending& m) { m.makeUvs = true; }));
        found.push_back(std::move(one));
    }
    findSpareUvSets(inspection, found);
    findLookupConflict(inspection, found);
    for (std::size_t s = 0; s < facts.uvSets.size(); ++s) {
        const mesh::UvSetFacts& set = facts.uvSets[s];
        if (set.outside > 0 && !set.free()) {
            Observation one;
            one.finding = {"uv-outside",
                           base::Severity::note,
                           {inspection.where,
                            setName(s) + " leaves 0..1 at " + base::plural(set.outside, "vertex"),
                            "fine for tiling textures; not for light maps"}};
            found.push_back(std::move(one));
        }
    }
    constexpr std::size_t kHalfWidth = 1024; // half floats have 11 bits: a quarter of a texel's width is left
    const std::size_t width = std::min(inspection.recipe.maxWidth, mesh.vertexCount());
    if (width > kHalfWidth) {
        Observation one;
        one.finding = {"half-uv",
                       base::Severity::note,
                       {inspection.where,
                        "lookup UVs of a texture " + base::countText(width) +
                            " texels wide need more than the 11 bits of half-precision UVs",
                        "import the mesh with full-precision UVs, or keep textures within 1 024 texels"}};
        Fix fix;
        fix.label = "Keep within 1 024 texels";
        fix.maxWidth = kHalfWidth;
        one.fixes.push_back(std::move(fix));
        found.push_back(std::move(one));
    }
}

void findInfluences(const Inspection& inspection, const MeshFacts&, std::vector<Observation>& found) {
    const std::size_t most = inspection.source.influences();
    const std::size_t kept = inspection.reading.mending.maxInfluences;
    const std::size_t now = kept > 0 ? std::min(most, kept) : most;
    if (now <= 4) {
        return;
    }
    Observation one;
    one.finding = {now > 8 ? "influences-8" : "influences-4",
                   now > 8 ? base::Severity::look : base::Severity::note,
                   {inspection.where, "vertices follow up to " + std::to_string(now) + " joints each",
                    "all of them are baked; skinning in an engine takes 4, or 8 at most"}};
    if (now > 8) {
        one.fixes.push_back(
            mendingFix(inspection, "Keep the 8 strongest", [](source::Mending& m) { m.maxInfluences = 8; }));
    }
    one.fixes.push_back(
        mendingFix(inspection, "Keep the 4 strongest", [](source::Mending& m) { m.maxInfluences = 4; }));
    found.push_back(std::move(one));
}

std::optional<UnitDoubt> doubtUnit(const source::FrameSource& source, const mesh::Bounds& bounds) {
    constexpr double kSmall = 0.02; // metres: a coin
    constexpr double kUsual = 10.0; // a bus
    constexpr double kLarge = 40.0; // a house
    const glm::vec3 sides = bounds.size();
    const auto size = static_cast<double>(std::max({sides.x, sides.y, sides.z}));
    const source::Space space = source.space();
    // A unit that the file states is doubted as well: exporters state metres over other numbers.
    if (!(size > 0.0) || (size >= kSmall && size <= kLarge)) {
        return std::nullopt;
    }
    // First the units that people work in, then whatever power of ten makes a usual size.
    const double now = space.metresPerUnit;
    for (const auto& units : {std::vector<double>{0.01, 0.001, 0.0254, 1.0},
                              std::vector<double>{0.01 * now, 0.001 * now, 100.0 * now, 1000.0 * now}}) {
        for (const double large : {kUsual, kLarge}) {
            for (const double unit : units) {
                const double then = size * unit / now;
                if (then >= kSmall && then <= large) {
                    return UnitDoubt{size, unit};
                }
            }
        }
    }
    return UnitDoubt{size, space.metresPerUnit};
}

namespace {

/// "centimetres", or "units of 2.54 m"
std::string unitName(double metres) {
    struct Named {
        double metres;
        const char* name;
    };
    const std::array<Named, 4> units = {
        {{1.0, "metres"}, {0.01, "centimetres"}, {0.001, "millimetres"}, {0.0254, "inches"}}};
    for (const Named& unit : units) {
        if (std::abs(metres / unit.metres - 1.0) < 1e-6) {
            return unit.name;
        }
    }
    return "units of " + base::lengthText(metres);
}

} // namespace

void findUnit(const Inspection& inspection, const MeshFacts&, std::vector<Observation>& found) {
    mesh::Bounds bounds;
    bounds.add(inspection.source.mesh().positions);
    const auto doubt =
        inspection.reading.metresPerUnit > 0.0 ? std::nullopt : doubtUnit(inspection.source, bounds);
    if (!doubt) {
        return;
    }
    const double now = inspection.source.space().metresPerUnit;
    const double better = doubt->size * doubt->metresPerUnit / now;
    Observation one;
    one.finding = {"unit",
                   base::Severity::look,
                   {inspection.where,
                    "is " + base::lengthText(doubt->size) + (doubt->size > 1.0 ? " long" : " small") +
                        ", a size that no prop or character has",
                    std::string(inspection.source.space().stated
                                    ? "the file states its unit, but the numbers are likely of another one"
                                    : "the file states no unit; its numbers are likely of another one")}};
    if (doubt->metresPerUnit != now) {
        Fix fix;
        fix.label = "Read as " + unitName(doubt->metresPerUnit) + " (" + base::lengthText(better) + ")";
        fix.reading = inspection.reading;
        fix.reading->metresPerUnit = doubt->metresPerUnit;
        one.fixes.push_back(std::move(fix));
    }
    Fix keep;
    keep.label = "Keep " + base::lengthText(doubt->size);
    keep.reading = inspection.reading;
    keep.reading->metresPerUnit = now;
    one.fixes.push_back(std::move(keep));
    found.push_back(std::move(one));
}

} // namespace ripple::inspect
