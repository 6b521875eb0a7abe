#pragma once

// A surface while voices move it; not for use outside this folder.

#include "motion/derive.h"
#include "motion/voice_build.h"

#include <functional>
#include <vector>

namespace ripple::motion {

/// What a bend or a twist does to points of a surface, to tangents and to normals.
struct DeformStep {
    Vec3 position;
    /// Where a tangent goes that was `tangent` before it and `rest` at rest: J · rest.
    std::function<Vec3(Vec3 tangent, Vec3 rest)> tangent;
    /// Where a normal goes, not of unit length: cofactor(J) · rest normal. `carry` takes tangents at rest to
    /// where they were before it.
    std::function<Vec3(Vec3 normal, const std::function<Vec3(Vec3)>& carry)> normal;
};
DeformStep bent(const BuildContext& at, const VoiceBuild& build, Vec3 position);
/// The same about a hinge in the object's space that may turn while it plays, by `part` of the angle and
/// without a swing.
DeformStep bentAbout(const BuildContext& at, const VoiceBuild& build, Vec3 position, Vec3 hinge, Number part);
DeformStep twisted(const BuildContext& at, const VoiceBuild& build, Vec3 position);

/// Bends and twists in their order, then everything that is added. The normal goes along with each step in
/// closed form instead of through a general Jacobian, which makes a third of the operations.
///
/// With J the Jacobian so far and n the rest normal, adding (way · size), whose Jacobian is way ⊗ g for a way
/// that is the same all over and g the size's gradient, changes the normal by a cross product:
///     cofactor(J + way ⊗ g) · n = cofactor(J) · n + way × J · (n × g)
class Surface {
public:
    explicit Surface(const BuildContext& at);

    void deform(const DeformStep& step);
    /// After all deform steps.
    void add(Vec3 way, Number size);

    Vec3 position() const;
    Vec3 normal() const; ///< unit length
    /// Unit length: what pushes along the normal follow.
    Vec3 normalOfDeformed() const;

private:
    struct Push {
        Vec3 way;
        Number size;
    };
    Vec3 carry(Vec3 rest, std::size_t steps) const;
    Vec3 crossedPushes(Derivation& derivation) const;
    Vec3 crossedColumns(Derivation& derivation) const;
    Derivation derivation() const;

    const BuildContext& at_;
    std::vector<DeformStep> steps_;
    std::vector<Push> pushes_;
    Vec3 deformed_; ///< position after the steps
    Vec3 facing_;   ///< normal after them, not of unit length
};

} // namespace ripple::motion
