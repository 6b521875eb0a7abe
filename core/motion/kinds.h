#pragma once

// What a voice may be made of, as rows: courses, shapes, pushes, masks and phases of copies. A row says all
// that the rest of the program needs to know of a kind: its fields, how it is checked, its words and what it
// begins as on a model, what it reaches, and the expressions that it becomes. One file holds the rows of one
// part.

#include "mesh/bounds.h"
#include "motion/field.h"

#include <array>
#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace ripple::motion {

struct Model;
struct BuildContext;
struct Along;
struct ShapePlace;
struct VoiceBuild;
struct Offset;
struct DeformStep;
struct Number;
struct Vec3;
struct Turn;

/// Words of a voice's sentence; %1 in them stands for `argument`. The window translates the words.
struct Phrase {
    const char* words = "";
    std::string argument;
};

/// Something that a part of a voice may become on a model, and how it is offered.
template <typename Part>
struct Start {
    Part part;
    Phrase words;
};
template <typename Part>
using StartsOn = std::vector<Start<Part>> (*)(const Model& model, const mesh::Bounds& rest);

/// What all rows have.
template <typename Kind, typename Part>
struct PartRow {
    Kind kind;
    const char* id;    ///< in files
    const char* words; ///< "a direction of the model"
    std::vector<Field<Part>> fields;
    const char* note = ""; ///< for a panel: what else is to be known, a sentence
    /// What it works out, for who wires the operations by hand (score_steps.h); `size`: of the model, metres.
    std::string (*formula)(const Part&, double size) = nullptr;
};

// Courses: courses.cpp

struct CourseRow : PartRow<CourseKind, Course> {
    Phrase (*phrase)(const Course&); ///< "along the height"
    StartsOn<Course> starts;
    /// Nothing where the wave has no length: in unison.
    std::optional<Field<Voice>> wavelength;
    /// The wave has a heading, which can be shown as an arrow.
    bool heads = false;
    Along (*build)(const BuildContext& at, const Course& course);
};

// Shapes: shapes.cpp

struct ShapeRow : PartRow<ShapeKind, Shape> {
    /// Least and most that it reaches: exact but for curves (a thousandth) and noise (a bound).
    std::array<double, 2> (*range)(const Shape&);
    /// Waves that one wavelength is worth where a mesh or a bend is to follow it: 1 for a sine.
    double (*detail)(const Shape&);
    Number (*build)(const BuildContext& at, const Shape& shape, const ShapePlace& place);
    /// Of fields that hang together: brings a shape in order after one of them was set. Or nullptr.
    void (*settle)(Shape&) = nullptr;
    /// What the fields' own checks do not see. Or nullptr.
    void (*check)(const std::string& where, const Shape&) = nullptr;
};

// Pushes: pushes.cpp

/// What is added to the surface.
using OffsetsOf = std::vector<Offset> (*)(const BuildContext& at, const VoiceBuild& build, Vec3 normal);
/// A bend or a twist of all that is there.
using DeformOf = DeformStep (*)(const BuildContext& at, const VoiceBuild& build, Vec3 position);
/// What is added to the base texture's UV, in x and y.
using UvShiftOf = Vec3 (*)(const BuildContext& at, const VoiceBuild& build);
/// What alpha is multiplied with, 0..1.
using AlphaOf = Number (*)(const BuildContext& at, const VoiceBuild& build);

struct PushRow : PartRow<PushKind, Push> {
    Phrase (*phrase)(const Push&); ///< "pushes sideways"
    StartsOn<Push> starts;
    /// How far it goes at the shape's 1: the amplitude, the angle or the amount.
    Field<Voice> size;
    std::variant<OffsetsOf, DeformOf, UvShiftOf, AlphaOf> build;
    void (*check)(const std::string& where, const Push&) = nullptr;
    /// It makes way for a point that the game moves, which its fields say and which always are parameters; it
    /// has no wave, so that course, shape and turns mean nothing to it.
    bool followsMover = false;

    bool deforms() const { return std::holds_alternative<DeformOf>(build); }
    /// Moves vertices; the others change UVs or alpha.
    bool moves() const { return deforms() || std::holds_alternative<OffsetsOf>(build); }
    bool cutsAlpha() const { return std::holds_alternative<AlphaOf>(build); }
};

// Masks: masks.cpp

struct MaskRow : PartRow<MaskKind, MaskTerm> {
    Phrase (*phrase)(const MaskTerm&); ///< "at the bottom", after "held"
    StartsOn<MaskTerm> starts;
    FieldUnit edges; ///< what `low` and `high` count: modelMetres or value
    Number (*build)(const BuildContext& at, const MaskTerm& term);
};
/// `low`, `high` and `floor` of a term; the names of the ends change places when it is flipped.
std::vector<Field<MaskTerm>> edgeFields(const MaskTerm& term);

// Phases of copies: phases.cpp

struct PhaseRow : PartRow<PhaseKind, CopyPhase> {
    Number (*build)(const BuildContext& at, const CopyPhase& phase);
};

const std::vector<CourseRow>& courseKinds();
const std::vector<ShapeRow>& shapeKinds();
const std::vector<PushRow>& pushKinds();
const std::vector<MaskRow>& maskKinds();
const std::vector<PhaseRow>& phaseKinds();

const CourseRow& rowOf(const Course& course);
const ShapeRow& rowOf(const Shape& shape);
const PushRow& rowOf(const Push& push);
const MaskRow& rowOf(const MaskTerm& term);
const PhaseRow& rowOf(const CopyPhase& phase);

/// The row of a kind; every kind has one.
template <typename Row, typename Kind>
const Row& rowIn(const std::vector<Row>& rows, Kind kind) {
    for (const Row& row : rows) {
        if (row.kind == kind) {
            return row;
        }
    }
    return rows.front();
}

// Numbers that every voice has.
const Field<Voice>& turnsField();
const Field<Voice>& wishedRateField();
const Field<Voice>& phaseField();

/// 0 X, 1 Y, 2 Z; 3: along none of them.
std::size_t axisOf(const glm::vec3& direction);
glm::vec3 unitAxis(std::size_t axis);
/// "X", "Y", "Z".
std::string axisLetter(std::size_t axis);

} // namespace ripple::motion
