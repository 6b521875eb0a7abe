#pragma once

#include "inspect/inspection.h"

namespace ripple::inspect {

/// Looks at one aspect of a source and adds what it finds. To add a finding, write a finder and put it into
/// the table in inspection.cpp.
using Finder = void (*)(const Inspection& inspection, const MeshFacts& facts,
                        std::vector<Observation>& found);

void findReaderNotes(const Inspection&, const MeshFacts&, std::vector<Observation>&);
void findFrameFaults(const Inspection&, const MeshFacts&, std::vector<Observation>&);
void findStrays(const Inspection&, const MeshFacts&, std::vector<Observation>&);
void findStill(const Inspection&, const MeshFacts&, std::vector<Observation>&);
void findOpenEnds(const Inspection&, const MeshFacts&, std::vector<Observation>&);
void findRates(const Inspection&, const MeshFacts&, std::vector<Observation>&);
void findMeshFaults(const Inspection&, const MeshFacts&, std::vector<Observation>&);
void findUvFaults(const Inspection&, const MeshFacts&, std::vector<Observation>&);
void findInfluences(const Inspection&, const MeshFacts&, std::vector<Observation>&);
void findMaterials(const Inspection&, const MeshFacts&, std::vector<Observation>&);
void findUnit(const Inspection&, const MeshFacts&, std::vector<Observation>&);

} // namespace ripple::inspect
