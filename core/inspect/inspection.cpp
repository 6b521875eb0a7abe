#include "inspect/inspection.h"

#include "inspect/finders.h"

#include <algorithm>

namespace ripple::inspect {

namespace {

constexpr Finder kFinders[] = {&findFrameFaults, &findStrays, &findUnit,       &findReaderNotes,
                               &findOpenEnds,    &findRates,  &findMeshFaults, &findUvFaults,
                               &findInfluences,  &findStill,  &findMaterials};

} // namespace

MeshFacts meshFacts(const mesh::Mesh& mesh) {
    MeshFacts facts;
    facts.degenerate = mesh::degenerateTriangles(mesh);
    facts.unused = mesh::unusedVertices(mesh);
    const std::vector<std::uint32_t> first = mesh::firstAlike(mesh);
    for (std::size_t v = 0; v < first.size(); ++v) {
        if (first[v] != v) {
            facts.duplicate.push_back(static_cast<std::uint32_t>(v));
        }
    }
    facts.uvSets = mesh::uvSetFacts(mesh);
    return facts;
}

std::vector<Observation> inspect(const Inspection& inspection, const MeshFacts& facts) {
    std::vector<Observation> found;
    for (const Finder finder : kFinders) {
        finder(inspection, facts, found);
    }
    std::stable_sort(found.begin(), found.end(), [](const Observation& a, const Observation& b) {
        return a.finding.severity > b.finding.severity;
    });
    return found;
}

} // namespace ripple::inspect
