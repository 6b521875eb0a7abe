#pragma once

#include "source/frame_source.h"

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

#include <glm/mat3x3.hpp>

namespace ripple::source {

/// Frames first..last of a sequence, both kept, counted from 0.
struct FrameRange {
    std::size_t first = 0;
    std::size_t last = 0;
    bool operator==(const FrameRange&) const = default;
};

/// How a source's time runs.
struct TimeChoice {
    double rate = 0.0; ///< frames per second of a sequence as it was made; 0: what the file says, else 30
    std::optional<FrameRange> range{}; ///< of a sequence; none: all
    double speed = 1.0;                ///< above 0; 2 plays twice as fast
    bool reversed = false;
    bool operator==(const TimeChoice&) const = default;
};

/// What is put right in a mesh that has faults. Nothing is, unless a person asked for it.
struct Mending {
    bool dropDegenerate = false;   ///< triangles without area in the rest pose
    bool dropUnused = false;       ///< vertices of no triangle
    bool mergeDuplicates = false;  ///< vertices of one part that agree in everything
    bool holdStray = false;        ///< vertices that are not finite or far away follow their neighbours
    bool keepMirrored = false;     ///< faces of parts with a mirroring transform stay as the file has them
    bool makeNormals = false;      ///< normals come from the posed triangles, whatever the file has
    bool dropRepeatedUvs = false;  ///< UV sets that are the same as an earlier one; what read them reads that
    bool dropUnreadUvs = false;    ///< UV sets behind the first that no material of the file reads
    bool makeUvs = false;          ///< a UV set for a mesh that has none, as seen along its thinnest axis
    std::size_t maxInfluences = 0; ///< joints a vertex may follow, the strongest kept; 0: all
    bool operator==(const Mending&) const = default;
};

/// How a source is read: all that a person chose about it. A default Reading takes it as it is.
struct Reading {
    /// Further files whose clips are taken too, by their way from the folder of the source (clip_files.h).
    std::vector<std::string> clipFiles{};
    std::vector<std::string> meshes{}; ///< those to take, by name; empty: all, as one
    double metresPerUnit = 0.0;        ///< 0: as the file says, else 1
    std::optional<Axis> up{};          ///< none: as the file says, else +Y
    std::size_t subdivisions = 0;      ///< midpoint subdivisions, 0 to kMostSubdivisions
    TimeChoice time{};
    Mending mending{};
    bool operator==(const Reading&) const = default;
};

constexpr std::size_t kMostSubdivisions = 4;

/// Memory for frames that are read on demand, unless said otherwise.
constexpr std::size_t kFrameCacheBytes = std::size_t{1} << 30;

/// JSON object of the choices that differ from a default Reading: "{}" for none.
std::string readingText(const Reading& reading);
/// The other way. Throws base::Failure with `where` for values that are not possible.
Reading parseReading(const std::string& text, const std::string& where);

/// "x", "y", "z"
const char* name(Axis axis);
std::optional<Axis> axisByName(const std::string& text);
/// Turns a space with `up` as its up axis so that +Y is up; right-handed.
glm::mat3 toYUp(Axis up);

} // namespace ripple::source
