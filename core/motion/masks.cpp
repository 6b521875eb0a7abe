// What voices are held by: the rows of masks.

#include "motion/kinds.h"
#include "motion/score_steps.h"
#include "motion/voice_build.h"

#include <algorithm>
#include <array>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

using Kind = MaskKind;
using Unit = FieldUnit;

constexpr Field<MaskTerm> kFrom{"mask point", "From",       Unit::point,         &MaskTerm::point, 0, 0, 0,
                                "",           "mask point", "centre of the mask"};
constexpr Field<MaskTerm> kPlanesFrom{"mask point", "From", Unit::point, &MaskTerm::point};
constexpr Field<MaskTerm> kAlong{
    "mask direction", "Along", Unit::direction, &MaskTerm::direction, 0, 0, 0, "", "", "", true};
constexpr Field<MaskTerm> kPlanesAlong{
    "mask direction",       "Along", Unit::direction, &MaskTerm::direction, 0, 0, 0, "", "mask way",
    "direction of the mask"};

MaskTerm ofKind(Kind kind) {
    MaskTerm term;
    term.kind = kind;
    return term;
}

/// "hold" and where.
Start<MaskTerm> startOf(const MaskTerm& term) {
    return {term, rowOf(term).phrase(term)};
}

std::string planesFormula(const MaskTerm& term, double) {
    const glm::vec3 way = glm::normalize(term.direction);
    const float from = glm::dot(term.point, way);
    return "dot(p, " + numbers(way) + ")" + (from == 0.0f ? "" : " − " + figure(static_cast<double>(from)));
}

std::string uvFormula(const MaskTerm& term, double) {
    return std::string(term.uvAxis == 0 ? "U" : "V") + " of UV set " + std::to_string(term.uvSet);
}

std::string pointFormula(const MaskTerm& term, double) {
    return "distance(p, " + numbers(term.point) + ")";
}

std::string lineFormula(const MaskTerm& term, double) {
    return lineDistance(term.point, term.direction);
}

std::string colourFormula(const MaskTerm& term, double) {
    constexpr std::array kChannels = {"red", "green", "blue", "alpha"};
    return std::string("vertex colour, ") +
           kChannels[static_cast<std::size_t>(std::clamp(term.channel, 0, 3))] + " (linear)";
}

std::string storedFormula(const MaskTerm& term, double) {
    return "the stored value \"" + term.stored + "\"";
}

// Between two planes

Phrase planesWords(const MaskTerm& term) {
    constexpr std::array<std::array<const char*, 2>, 3> kEnds = {
        {{"at the left", "at the right"}, {"at the bottom", "at the top"}, {"at the back", "at the front"}}};
    const std::size_t axis = axisOf(term.direction);
    if (axis > 2) {
        return {"at a slanted end", {}};
    }
    // What is held is the end where the mask is 0.
    const bool downward = term.direction[static_cast<int>(axis)] < 0.0f;
    const bool upper = downward != (term.low > term.high) ? !term.flip : term.flip;
    return {kEnds[axis][upper], {}};
}

std::vector<Start<MaskTerm>> planesStarts(const Model&, const mesh::Bounds& rest) {
    std::vector<Start<MaskTerm>> starts;
    for (const int axis : {0, 1, 2}) {
        for (const bool flip : {false, true}) {
            MaskTerm term;
            term.direction = unitAxis(static_cast<std::size_t>(axis));
            term.low = static_cast<double>(rest.min[axis]);
            term.high = static_cast<double>(rest.max[axis]);
            term.flip = flip;
            starts.push_back(startOf(term));
        }
    }
    return starts;
}

Number alongPlanes(const BuildContext& at, const MaskTerm& term) {
    const Vec3 direction = at.direction("mask direction", term.direction);
    const Vec3 point = at.constant(term.point);
    return dot(at.rest(), direction) - dot(point, direction);
}

// By distance from a point or a line

MaskTerm roundTerm(Kind kind, const mesh::Bounds& rest) {
    MaskTerm term = ofKind(kind);
    term.point = rest.centre();
    term.direction = unitAxis(2);
    term.high = 0.5 * static_cast<double>(std::max({rest.size().x, rest.size().y, rest.size().z}));
    return term;
}

Phrase pointWords(const MaskTerm& term) {
    return {term.flip ? "everywhere but in the middle" : "in the middle", {}};
}

std::vector<Start<MaskTerm>> pointStarts(const Model&, const mesh::Bounds& rest) {
    return {startOf(roundTerm(Kind::point, rest))};
}

Number fromPoint(const BuildContext& at, const MaskTerm& term) {
    const Vec3 away = at.rest() - at.constant(term.point);
    return root(dot(away, away));
}

Phrase lineWords(const MaskTerm& term) {
    return {term.flip ? "everywhere but along the spine" : "along the spine", {}};
}

std::vector<Start<MaskTerm>> lineStarts(const Model&, const mesh::Bounds& rest) {
    return {startOf(roundTerm(Kind::line, rest))};
}

Number fromLine(const BuildContext& at, const MaskTerm& term) {
    const Vec3 from = at.rest() - at.constant(term.point);
    const Vec3 line = at.constant(glm::normalize(term.direction));
    const Vec3 away = from - line * dot(from, line);
    return root(dot(away, away));
}

// By what is stored at the vertices

Phrase uvWords(const MaskTerm& term) {
    return {term.uvAxis == 0 ? "along U" : "along V", {}};
}

std::vector<Start<MaskTerm>> uvStarts(const Model& model, const mesh::Bounds&) {
    std::vector<Start<MaskTerm>> starts;
    for (int axis = 0; axis < 2 && model.uvSets > 0; ++axis) {
        MaskTerm term = ofKind(Kind::uv);
        term.uvAxis = axis;
        starts.push_back(startOf(term));
    }
    return starts;
}

Number byUv(const BuildContext& at, const MaskTerm& term) {
    return at.uv("mask", term.uvSet, term.uvAxis);
}

Phrase colourWords(const MaskTerm& term) {
    constexpr std::array kChannels = {"by painted red", "by painted green", "by painted blue",
                                      "by painted alpha"};
    return {kChannels[static_cast<std::size_t>(std::clamp(term.channel, 0, 3))], {}};
}

std::vector<Start<MaskTerm>> colourStarts(const Model& model, const mesh::Bounds&) {
    std::vector<Start<MaskTerm>> starts;
    for (int channel = 0; channel < 4 && model.colours; ++channel) {
        MaskTerm term = ofKind(Kind::colour);
        term.channel = channel;
        starts.push_back(startOf(term));
    }
    return starts;
}

Number byColour(const BuildContext& at, const MaskTerm& term) {
    return at.colour(term.channel);
}

Phrase storedWords(const MaskTerm& term) {
    return {"by “%1”", term.stored};
}

std::vector<Start<MaskTerm>> storedStarts(const Model& model, const mesh::Bounds&) {
    std::vector<Start<MaskTerm>> starts;
    for (const std::string& stored : model.stored) {
        MaskTerm term = ofKind(Kind::stored);
        term.stored = stored;
        starts.push_back(startOf(term));
    }
    return starts;
}

Number byStored(const BuildContext& at, const MaskTerm& term) {
    return at.stored("mask", term.stored);
}

/// 0 before `x` is 0, 1 after it is 1.
Number eased(Easing easing, Number x) {
    const Number t = between(x, 0.0f, 1.0f);
    switch (easing) {
    case Easing::linear:
        break;
    case Easing::smooth:
        return smooth(x);
    case Easing::late:
        return t * t;
    case Easing::early:
        return t * (2.0f - t);
    }
    return t;
}

Number termOf(const BuildContext& at, const MaskTerm& term) {
    const Number x = rowOf(term).build(at, term);
    const Setting low = at.setting("low", term.low);
    const Setting width = at.setting("high", term.high) - low;
    const Number zero = at.constant(0.0);
    const Number one = at.constant(1.0);
    // A difference that is lost in single precision is none.
    Number m = width.isKnown() && std::abs(width.known) < 1e-6
                   ? select(x, at.constant(term.low), zero, one)
                   : eased(term.easing, Setting(1.0) / width * (x - low));
    if (term.flip) {
        m = 1.0f - m;
    }
    const Setting floor = at.setting("floor", term.floor);
    if (!floor.is(0.0)) {
        m = (Setting(1.0) - floor) * m + floor;
    }
    return m;
}

} // namespace

const std::vector<MaskRow>& maskKinds() {
    static const std::vector<MaskRow> kRows = {
        {{Kind::planes, "planes", "two planes", {kPlanesFrom, kPlanesAlong}, "", planesFormula},
         planesWords,
         planesStarts,
         Unit::modelMetres,
         alongPlanes},
        {{Kind::uv, "uv", "U or V", {}, "", uvFormula}, uvWords, uvStarts, Unit::value, byUv},
        {{Kind::point, "point", "distance from a point", {kFrom}, "", pointFormula},
         pointWords,
         pointStarts,
         Unit::modelMetres,
         fromPoint},
        {{Kind::line, "line", "distance from a line", {kFrom, kAlong}, "", lineFormula},
         lineWords,
         lineStarts,
         Unit::modelMetres,
         fromLine},
        {{Kind::colour, "colour", "vertex colour", {}, "", colourFormula},
         colourWords,
         colourStarts,
         Unit::value,
         byColour},
        {{Kind::stored, "stored", "stored value", {}, "", storedFormula},
         storedWords,
         storedStarts,
         Unit::value,
         byStored},
    };
    return kRows;
}

std::vector<Field<MaskTerm>> edgeFields(const MaskTerm& term) {
    const FieldUnit unit = rowOf(term).edges;
    const char* none = "No motion at";
    const char* full = "Full motion at";
    return {{"low", term.flip ? full : none, unit, &MaskTerm::low, -1e6, 1e6, 0.0, "", "low",
             term.flip ? "full motion" : "no motion"},
            {"high", term.flip ? none : full, unit, &MaskTerm::high, -1e6, 1e6, 1.0, "", "high",
             term.flip ? "no motion" : "full motion"},
            {"floor", "Minimum", Unit::share, &MaskTerm::floor, 0.0, 1.0, 0.0,
             term.floor > 0.0 ? "always moves a little" : ""}};
}

const MaskRow& rowOf(const MaskTerm& term) {
    return rowIn(maskKinds(), term.kind);
}

Number maskOf(const BuildContext& at, const std::vector<MaskTerm>& terms) {
    Number mask = at.constant(1.0);
    BuildContext inside = at;
    for (std::size_t i = 0; i < terms.size(); ++i) {
        inside.part = "mask " + std::to_string(i + 1) + " ";
        mask = mask * termOf(inside, terms[i]);
    }
    return mask;
}

} // namespace ripple::motion
