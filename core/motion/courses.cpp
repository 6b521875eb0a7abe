// What voices run along: the rows of courses.

#include "motion/kinds.h"
#include "motion/score_steps.h"
#include "motion/voice_build.h"

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

using Kind = CourseKind;
using Unit = FieldUnit;

constexpr Field<Course> kRunsAlong{
    "course direction", "Runs along",    Unit::direction, &Course::direction, 0, 0, 0, "",
    "course",           "wave direction"};
constexpr Field<Course> kRunsFrom{"course point", "Runs from",       Unit::point, &Course::point, 0, 0, 0, "",
                                  "course point", "wave starts here"};
constexpr Field<Course> kLineAlong{
    "course direction", "Line along", Unit::direction, &Course::direction, 0, 0, 0, "", "", "", true};

/// An editor offers a ten-thousandth of the model's size and more.
constexpr Field<Voice> kWavelength{"wavelength", "Wavelength", Unit::length, &Voice::wavelength, 1e-4,
                                   1e4,          1.0,          "",           "wavelength"};
constexpr Field<Voice> kUvWavelength{"wavelength", "Wavelength", Unit::uvLength,   &Voice::wavelength, 1e-4,
                                     1e4,          1.0,          "of the UV range"};

Course ofKind(Kind kind, const glm::vec3& direction = {0.0f, 1.0f, 0.0f}, const glm::vec3& point = {}) {
    Course course;
    course.kind = kind;
    course.direction = direction;
    course.point = point;
    return course;
}

// In unison

std::string nothing(const Course&, double) {
    return {};
}

Phrase unisonWords(const Course&) {
    return {"in unison", {}};
}

std::vector<Start<Course>> unisonStarts(const Model&, const mesh::Bounds&) {
    return {{ofKind(Kind::unison), {"in unison", {}}}};
}

Along inUnison(const BuildContext& at, const Course&) {
    return {at.constant(0.0)};
}

std::string alongFormula(const Course& course, double) {
    return "dot(p, " + numbers(glm::normalize(course.direction)) + ")";
}

std::string alongWorldFormula(const Course& course, double) {
    return "dot(P, " + numbers(glm::normalize(course.direction)) +
           "), P being the rest position carried into the world by the copy";
}

std::string uvFormula(const Course& course, double) {
    return std::string(course.uvAxis == 0 ? "U" : "V") + " of UV set " + std::to_string(course.uvSet);
}

std::string pointFormula(const Course& course, double) {
    return "distance(p, " + numbers(course.point) + ")";
}

std::string lineFormula(const Course& course, double) {
    return lineDistance(course.point, course.direction);
}

// Along a direction of the model or the world. Noise takes both directions beside it, too.

template <typename PlaceAlong>
Along alongDirection(const std::array<Vec3, 3>& ways, const PlaceAlong& placeAlong) {
    return {placeAlong(ways[0]), {placeAlong(ways[1]), placeAlong(ways[2])}, 2};
}

Along alongModel(const BuildContext& at, const Course& course) {
    return alongDirection(at.frame("course direction", course.direction),
                          [&](Vec3 way) { return dot(at.rest(), way); });
}

Along alongWorld(const BuildContext& at, const Course& course) {
    return alongDirection(at.worldFrame("course direction", course.direction), [&](Vec3 way) {
        // way · (origin + scale · R · rest): the rest position, carried by the copy.
        return dot(at.copyOrigin(), way) + at.copyScale() * dot(at.rest(), at.inObject(way));
    });
}

Phrase directionWords(const Course& course) {
    constexpr std::array kWords = {"along the width", "along the height", "along the length",
                                   "along a custom direction"};
    return {kWords[axisOf(course.direction)], {}};
}

std::vector<Start<Course>> directionStarts(const Model&, const mesh::Bounds&) {
    std::vector<Start<Course>> starts;
    for (const std::size_t axis : {0, 1, 2}) {
        constexpr std::array kWords = {"along the width (X)", "along the height (Y)", "along the length (Z)"};
        starts.push_back({ofKind(Kind::direction, unitAxis(axis)), {kWords[axis], {}}});
    }
    return starts;
}

Phrase worldWords(const Course& course) {
    const std::size_t axis = axisOf(course.direction);
    return axis > 2 ? Phrase{"along a custom direction of the world", {}}
                    : Phrase{"along the world's %1", axisLetter(axis)};
}

std::vector<Start<Course>> worldStarts(const Model&, const mesh::Bounds&) {
    std::vector<Start<Course>> starts;
    for (const std::size_t axis : {0, 2}) {
        const Course course = ofKind(Kind::world, unitAxis(axis));
        starts.push_back({course, worldWords(course)});
    }
    return starts;
}

// U or V

Phrase uvWords(const Course& course) {
    return {course.uvAxis == 0 ? "along U of UV set %1" : "along V of UV set %1",
            std::to_string(course.uvSet)};
}

std::vector<Start<Course>> uvStarts(const Model& model, const mesh::Bounds&) {
    std::vector<Start<Course>> starts;
    for (std::size_t set = 0; set < model.uvSets; ++set) {
        for (const int axis : {0, 1}) {
            Course course;
            course.kind = Kind::uv;
            course.uvSet = set;
            course.uvAxis = axis;
            starts.push_back({course, uvWords(course)});
        }
    }
    return starts;
}

Along alongUv(const BuildContext& at, const Course& course) {
    return {
        at.uv("course", course.uvSet, course.uvAxis), {at.uv("course", course.uvSet, 1 - course.uvAxis)}, 1};
}

// Outward from a point or a line

Phrase pointWords(const Course&) {
    return {"outward from a point", {}};
}

std::vector<Start<Course>> pointStarts(const Model&, const mesh::Bounds& rest) {
    return {{ofKind(Kind::point, {0.0f, 1.0f, 0.0f}, rest.centre()), {"outward from the middle", {}}}};
}

Along fromPoint(const BuildContext& at, const Course& course) {
    const Vec3 away = at.rest() - at.constant(course.point);
    return {root(dot(away, away))};
}

Phrase lineWords(const Course&) {
    return {"outward from a line", {}};
}

std::vector<Start<Course>> lineStarts(const Model&, const mesh::Bounds& rest) {
    std::vector<Start<Course>> starts;
    for (const std::size_t axis : {0, 1, 2}) {
        starts.push_back({ofKind(Kind::line, unitAxis(axis), rest.centre()),
                          {"outward from the line along %1", axisLetter(axis)}});
    }
    return starts;
}

Along fromLine(const BuildContext& at, const Course& course) {
    const Vec3 from = at.rest() - at.constant(course.point);
    const Vec3 line = at.constant(glm::normalize(course.direction));
    const Number on = dot(from, line);
    const Vec3 away = from - line * on;
    return {root(dot(away, away)), {on}, 1};
}

} // namespace

const std::vector<CourseRow>& courseKinds() {
    static const std::vector<CourseRow> kRows = {
        {{Kind::unison,
          "unison",
          "nothing: all at once",
          {},
          "In unison the wave has no place: the whole mesh moves at the same time.",
          nothing},
         unisonWords,
         unisonStarts,
         std::nullopt,
         false,
         inUnison},
        {{Kind::direction, "direction", "a direction of the model", {kRunsAlong}, "", alongFormula},
         directionWords,
         directionStarts,
         kWavelength,
         true,
         alongModel},
        {{Kind::world, "world", "a direction of the world", {kRunsAlong}, "", alongWorldFormula},
         worldWords,
         worldStarts,
         kWavelength,
         true,
         alongWorld},
        {{Kind::uv, "uv", "U or V", {}, "The wave runs along the UVs and bends where they do.", uvFormula},
         uvWords,
         uvStarts,
         kUvWavelength,
         false,
         alongUv},
        {{Kind::point, "point", "the distance from a point", {kRunsFrom}, "", pointFormula},
         pointWords,
         pointStarts,
         kWavelength,
         false,
         fromPoint},
        {{Kind::line, "line", "the distance from a line", {kRunsFrom, kLineAlong}, "", lineFormula},
         lineWords,
         lineStarts,
         kWavelength,
         false,
         fromLine},
    };
    return kRows;
}

const CourseRow& rowOf(const Course& course) {
    return rowIn(courseKinds(), course.kind);
}

} // namespace ripple::motion
