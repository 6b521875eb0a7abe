#pragma once

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include <glm/vec2.hpp>
#include <glm/vec3.hpp>

namespace ripple::motion {

/// A length as a person gives it: metres, or a share of the model's size (the diagonal of its rest bounds).
struct Length {
    double value = 0.0; ///< metres, or 0.05 for 5 % of the size
    bool ofSize = false;

    double metres(double size) const { return ofSize ? value * size : value; }
    bool operator==(const Length&) const = default;
};

/// What a wave runs along.
enum class CourseKind {
    unison,    ///< nothing: the whole model at once
    direction, ///< a direction of the model
    world,     ///< a direction of the world
    uv,        ///< U or V
    point,     ///< the distance from a point
    line,      ///< the distance from a line
};

struct Course {
    CourseKind kind = CourseKind::direction;
    glm::vec3 direction{0.0f, 1.0f, 0.0f}; ///< of any length but 0; the line's, for line
    glm::vec3 point{0.0f};                 ///< metres; on the line, for line
    std::size_t uvSet = 0;
    int uvAxis = 0; ///< 0 U, 1 V
    bool operator==(const Course&) const = default;
};

/// How a voice swings in a turn. Every shape is centred: its mean is 0, and it reaches 1 in at least one
/// direction (drawn curves: as far as they are drawn).
enum class ShapeKind {
    sine,
    triangle,
    pulse,   ///< up for `duty` of the turn
    crested, ///< sharp crests, flat troughs
    noise,   ///< gradient noise, a tile of a wavelength
    curve,   ///< drawn
};

struct Shape {
    ShapeKind kind = ShapeKind::sine;
    double duty = 0.5; ///< of pulse: 0.05 to 0.95
    double softness =
        0.1;           ///< of pulse: how much of the turn each edge takes, 0.01 to the shorter of both parts
    int sharpness = 3; ///< of crested: 1 (a sine) to 8
    int detail = 4;    ///< of noise: lattice cells in a wavelength, 1 to 64
    std::uint32_t seed = 1; ///< of noise
    std::vector<float> curve = {0.0f, 0.8f,  0.3f,  0.6f,
                                0.0f, -0.7f, -0.4f, -0.6f}; ///< of curve: 3 to 32 values
    bool operator==(const Shape&) const = default;
};

/// What the swing does.
enum class PushKind {
    direction, ///< moves along a direction of the model
    world,     ///< along a direction of the world
    normal,    ///< along the surface's normal
    point,     ///< away from a point
    orbit,     ///< along a direction and, a quarter of a turn apart, up: water
    bend,      ///< bends a length about an axis; lengths are kept
    twist,     ///< twists a length about itself
    uvSlide,   ///< slides the base texture
    uvTurn,    ///< turns the base texture
    cutOut,    ///< eats the alpha, for ragged edges
    shove,     ///< moves away from a point of the world that the game moves: no wave
    aside,     ///< bends away from such a point; lengths are kept
};

struct Push {
    PushKind kind = PushKind::direction;
    glm::vec3 direction{0.0f, 0.0f, 1.0f}; ///< the way; of orbit: where the crests run; of bend: the hinge's
                                           ///< axis; of twist: the length that is twisted; of uvSlide: u, v
    glm::vec3 point{0.0f};                 ///< away from it; the pivot of bend and twist; of uvTurn: u, v
    glm::vec3 length{0.0f, 1.0f, 0.0f};    ///< of bend: where the length runs that is bent, from the pivot
    Length span{1.0, true};                ///< of bend, twist: over which the angle grows to its full size
    double rise = 1.0;                     ///< of orbit: how much it moves up for what it moves along
    // Of shove and aside: the point of the world that is made way for, metres, and how far it reaches.
    double moverX = 0.0;
    double moverY = 0.0;
    double moverZ = 0.0;
    double reach = 1.0; ///< above 0
    bool operator==(const Push&) const = default;
};

/// What a mask looks at.
enum class MaskKind {
    planes, ///< metres along a direction, from a point
    uv,     ///< U or V
    point,  ///< metres from a point
    line,   ///< metres from a line
    colour, ///< a channel of the vertex colours
    stored, ///< a value that is stored at the vertices
};

enum class Easing { linear, smooth, late, early };

/// One term: 0 at `low` and 1 at `high`, eased between them and clamped; flipped; then lifted to the floor.
/// low = high makes a step there.
struct MaskTerm {
    MaskKind kind = MaskKind::planes;
    glm::vec3 direction{0.0f, 1.0f, 0.0f};
    glm::vec3 point{0.0f};
    std::size_t uvSet = 0;
    int uvAxis = 0;
    int channel = 0;    ///< 0 red … 3 alpha
    std::string stored; ///< name of the value
    double low = 0.0;   ///< metres, UV units or the value's own; may lie above `high`
    double high = 1.0;
    Easing easing = Easing::smooth;
    bool flip = false;
    double floor = 0.0; ///< 0..1
    bool operator==(const MaskTerm&) const = default;
};

/// What sets a copy apart from the others.
enum class PhaseKind { none, id, world, stored };

struct CopyPhase {
    PhaseKind kind = PhaseKind::none;
    double turns = 1.0;                    ///< of id: between id 0 and 1; of stored: for a value of 1
    glm::vec3 direction{1.0f, 0.0f, 0.0f}; ///< of world
    double wavelength = 10.0;              ///< of world: metres for a turn
    std::string stored;
    bool operator==(const CopyPhase&) const = default;
};

/// One part of a score: mask · amplitude · push(shape(turns · φ − course / wavelength + phase)).
struct Voice {
    unsigned id = 0; ///< stays the same while a score is edited; 0: not given yet
    std::string name;
    bool muted = false;
    bool solo = false; ///< while any voice is solo, only those are heard
    Course course;
    Shape shape;
    Push push;
    Length amplitude{0.1, false}; ///< of pushes that move; uvSlide: in UV units
    double degrees = 20.0;        ///< of bend, twist, uvTurn
    double amount = 1.0;          ///< of cutOut: how much may be eaten, 0..1
    Length wavelength{1.0, true}; ///< uv: in UV units; no matter in unison
    int turns = 1;                ///< in a loop; any whole number, below 0 it runs the other way
    double wishedRate = 0.0;      ///< turns a second that a person asked for; 0: none
    double phase = 0.0;           ///< turns
    CopyPhase copyPhase;
    std::vector<MaskTerm> heldBy; ///< their product
    bool operator==(const Voice&) const = default;
};

/// What all voices follow.
struct Overall {
    double strength = 1.0; ///< every amplitude, angle and amount is multiplied with it: 0 to 10
    /// Degrees by which the wind has turned about the vertical, from Z towards X. Every direction of the
    /// world turns with it, and so do the hinges of bends whose length stands upright: where this is not 0,
    /// or a parameter, they are hinges of the world, so that copies lean one way however they are turned.
    double heading = 0.0;
    int rate = 1; ///< every voice's turns are multiplied with it: 1 to 16
    bool operator==(const Overall&) const = default;
};

/// A number of a score that an engine may change while it plays (docs/motion.md §9). Its value in the score
/// is the default.
struct Parameter {
    unsigned voice = 0; ///< its id; 0: a number of Overall
    std::string field;  ///< which number: "amplitude", "mask 2 low", "push direction heading"
    std::string name;   ///< in code
    std::string help;   ///< a line
    double least = 0.0; ///< in the unit of the number; of a length of the model's size a share, too
    double most = 1.0;
    bool operator==(const Parameter&) const = default;
};

struct Score {
    std::string name;
    std::string words;        ///< what it is, in a sentence
    double loopSeconds = 2.0; ///< above 0
    std::vector<Voice> voices;
    Overall overall;
    std::vector<Parameter> parameters; ///< in the order in which they are shown and written
    bool operator==(const Score&) const = default;
};

bool isHeard(const Score& score, const Voice& voice);
/// Gives every voice without an id, or with that of an earlier one, an id of its own.
void giveIds(Score& score);

/// A row for each easing: the name in files, and words. The kinds of everything else are in kinds.h.
struct EasingRow {
    Easing kind;
    const char* id;
    const char* words;
};
const std::vector<EasingRow>& easings();

/// Throws base::Failure naming the voice and the field for a value that means nothing: a wavelength of 0, an
/// axis without length, numbers out of their range or not finite.
void requireSound(const Score& score);

/// Whole turns of `turns`; throws base::Failure that names the nearest whole numbers if it is none.
int wholeTurns(double turns, const std::string& where);

} // namespace ripple::motion
