// What sets copies apart: the rows of phases.

#include "motion/kinds.h"
#include "motion/score_steps.h"
#include "motion/voice_build.h"

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

using Kind = PhaseKind;
using Unit = FieldUnit;

std::string nothing(const CopyPhase&, double) {
    return {};
}

std::string idFormula(const CopyPhase& phase, double) {
    return figure(phase.turns) + " · (a number from 0 to 1, another one for each copy)";
}

std::string placeFormula(const CopyPhase& phase, double) {
    return "− dot(where the copy stands, " + numbers(glm::normalize(phase.direction)) + ") / " +
           figure(phase.wavelength);
}

std::string storedFormula(const CopyPhase& phase, double) {
    return figure(phase.turns) + " · (the stored value \"" + phase.stored + "\")";
}

Number noPhase(const BuildContext& at, const CopyPhase&) {
    return at.constant(0.0);
}

Number phaseById(const BuildContext& at, const CopyPhase& phase) {
    return at.setting("copies turns", phase.turns) * Number{&at.graph, at.graph.add(Op::copyId)};
}

Number phaseByPlace(const BuildContext& at, const CopyPhase& phase) {
    return Setting(-1.0) / at.setting("copies wavelength", phase.wavelength) *
           dot(at.copyOrigin(), at.worldDirection("copies direction", phase.direction));
}

Number phaseByStored(const BuildContext& at, const CopyPhase& phase) {
    return at.setting("copies turns", phase.turns) * at.stored("phase per copy", phase.stored);
}

} // namespace

const std::vector<PhaseRow>& phaseKinds() {
    static const std::vector<PhaseRow> kRows = {
        {{Kind::none,
          "none",
          "in unison",
          {},
          "All copies move in unison. Give each a phase of its own by its number or by where it stands.",
          nothing},
         noPhase},
        {{Kind::id,
          "id",
          "by the copy's number",
          {{"copies turns", "Phase spread", Unit::turns, &CopyPhase::turns, -1e4, 1e4, 1.0}},
          "The phase grows by this from the copy with number 0 to the one with number 1.",
          idFormula},
         phaseById},
        {{Kind::world,
          "world",
          "by where the copy stands",
          {{"copies direction", "Gust direction", Unit::direction, &CopyPhase::direction},
           {"copies wavelength", "Gust wavelength", Unit::worldMetres, &CopyPhase::wavelength, 1e-3, 1e6,
            10.0}},
          "The phase runs over the ground from copy to copy, one turn in each wavelength.",
          placeFormula},
         phaseByPlace},
        {{Kind::stored,
          "stored",
          "by a stored value",
          {{"copies turns", "Phase at value 1", Unit::turns, &CopyPhase::turns, -1e4, 1e4, 1.0}},
          "Parts of one mesh move apart, as the stems of a clump do.",
          storedFormula},
         phaseByStored},
    };
    return kRows;
}

const PhaseRow& rowOf(const CopyPhase& phase) {
    return rowIn(phaseKinds(), phase.kind);
}

} // namespace ripple::motion
