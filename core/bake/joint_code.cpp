#include "bake/joint_texels.h"
#include "bake/reading_code.h"

#include <array>

namespace ripple::bake {

using code::Base;
using code::Body;
using code::Type;
using code::Value;

namespace {

Value vec4Of(const Value& xyz, const Value& w) {
    return code::make(Base::vec4, {xyz, w});
}

/// What the vertex follows: its joints and their weights, through `use`. In loops, so that the transform of a
/// joint stands in the code once.
class Influences {
public:
    explicit Influences(ReadingCode& code) : code_(code) {}

    template <typename Use>
    void each(Body& body, const Use& use) const {
        const JointFormat& joints = code_.set().joints;
        if (joints.inUvs) {
            fourOfUvs(body, "i", 0, "joint_weights", use);
            if (joints.influences == 8) {
                fourOfUvs(body, "k", 2, "more_joint_weights", use);
            }
            return;
        }
        const auto pairs = static_cast<int>(joints.influences / 2);
        body.count(
            "pair", 0, [&](const Value& pair) { return pair < pairs; }, 1,
            [&](Body& inner, const Value& pair) {
                const Value uv = code_.uvOf(code::make(Base::scalar, {pair}));
                const Value two = inner.fixed("two", code_.sampled(code_.texture(kInfluence), uv));
                inner.count(
                    "i", 0, [](const Value& i) { return i < 4; }, 2,
                    [&](Body& one, const Value& i) { useOne(one, wholeOf(two[i]), two[i + 1], use); });
            });
    }

private:
    template <typename Use>
    static void useOne(Body& body, const Value& joint, const Value& weight, const Use& use) {
        const Value heft = body.fixed("heft", weight);
        body.when(heft > 0.0f, [&](Body& heavy) { use(heavy, joint, heft); });
    }

    /// A joint's number as the texture holds it.
    Value wholeOf(const Value& stored) const {
        const bool counts = code_.set().find(kInfluence)->pixel == image::Pixel::u16;
        return code::make(Base::whole, {counts ? stored * 65535.0f + 0.5f : stored + 0.5f});
    }

    /// Four of them, whose pairs begin at `firstPair` of joint_pairs.
    template <typename Use>
    void fourOfUvs(Body& body, const char* name, int firstPair, const char* weights, const Use& use) const {
        const bool eight = code_.set().joints.influences == 8;
        const Value pairs = body.fixed(
            name + std::string("_pairs"),
            code_.numbersInUvs("joint_pairs", eight ? code::Type(Base::vec4) : code::Type(Base::vec2)));
        const Value heavy =
            body.fixed(name + std::string("_weights"), code_.numbersInUvs(weights, Base::vec4));
        body.count(
            name, 0, [](const Value& i) { return i < 4; }, 1,
            [&](Body& one, const Value& i) {
                const Value pair = firstPair == 0 ? i / 2 : i / 2 + firstPair;
                const Value two = one.fixed("two", code::make(Base::whole, {pairs[pair] + 0.5f}));
                const auto most = static_cast<int>(kMostJointsInUvs);
                const Value joint = one.fixed("joint", code::choose(i % 2 == 0, two % most, two / most));
                useOne(one, joint, heavy[i], use);
            });
    }

    ReadingCode& code_;
};

/// The functions of one way to blend frames.
class JointCode {
public:
    JointCode(ReadingCode& code, Type rows) : code_(code), rows_(std::move(rows)) {}

    void addTexel() const {
        const JointFormat& joints = code_.set().joints;
        Body body;
        const auto each = static_cast<int>(joints.texels());
        const auto high = static_cast<int>(joints.layout.rowsPerBlock);
        const auto width = static_cast<int>(joints.layout.width);
        const Value column = code::named("joint", Base::whole) * each + code::named("part", Base::whole);
        const Value row = code::make(Base::whole, {code::named("stored_frame", Base::scalar) + 0.5f});
        const Value texture = code::named(kJoint.sampler, Base::texture);
        if (high == 1) {
            body.giveBack(code_.fetched(texture, joints.layout.height(), column, row));
        } else {
            const Value own = body.fixed("column", column);
            body.giveBack(
                code_.fetched(texture, joints.layout.height(), own % width, row * high + own / width));
        }
        code_.module().add(code::Function{{"One of the texels of a joint in a stored frame."},
                                          Base::vec4,
                                          name("joint_texel"),
                                          {{Base::texture, kJoint.sampler},
                                           {Base::whole, "joint"},
                                           {Base::whole, "part"},
                                           {Base::scalar, "stored_frame"}},
                                          body.take()});
    }

    void writePose(Body& body, const BlendedFrames& frames) {
        addJoint(frames);
        const auto row = [&](const char* which) {
            return body.variable(which, Value(code::make(Base::vec4, {0.0f})));
        };
        const std::array rows = {row("x"), row("y"), row("z")};
        Influences(code_).each(body, [&](Body& heavy, const Value& joint, const Value& weight) {
            const Value own = heavy.fixed("own", callOf("joint", rows_, joint, frames));
            constexpr std::array kRows = {"x", "y", "z"};
            for (std::size_t r = 0; r < 3; ++r) {
                heavy.increase(rows[r], weight * own.field(kRows[r], Base::vec4));
            }
        });
        const Value rest = body.fixed("rest", vec4Of(code_.restPosition(), 1.0f));
        const Value pose = body.variable("pose", code_.pose());
        const auto three = [&](const Value& a, const Value& b, const Value& c) {
            return code::make(Base::vec3, {a, b, c});
        };
        body.assign(pose.field("position", Base::vec3),
                    three(code::dot(rows[0], rest), code::dot(rows[1], rest), code::dot(rows[2], rest)));
        body.comment("By the cofactors of the matrix. Where it flattens all, the normal stays.");
        const Value n = code_.restNormal();
        const auto cofactor = [&](std::size_t a, std::size_t b) {
            return code::dot(code::cross(rows[a].xyz(), rows[b].xyz()), n);
        };
        const Value turned = body.fixed("turned", three(cofactor(1, 2), cofactor(2, 0), cofactor(0, 1)));
        const Value length2 = body.fixed("length2", code::dot(turned, turned));
        body.assign(pose.field("normal", Base::vec3), n);
        body.when(length2 > 1e-30f, [&](Body& there) {
            there.assign(pose.field("normal", Base::vec3), turned * code::inverseRoot(length2));
        });
        body.giveBack(pose);
    }

    void writeChange(Body& body, const BlendedFrames& frames) {
        addJointChange(frames);
        const Value change = body.variable("change", Value(code::vec3({0.0f, 0.0f, 0.0f})));
        Influences(code_).each(body, [&](Body& heavy, const Value& joint, const Value& weight) {
            std::vector<Value> arguments = {code_.texture(kJoint), joint, code_.restPosition()};
            append(arguments, frames);
            heavy.increase(change, weight * code::call(name("joint_" + frames.name), Base::vec3, arguments));
        });
        body.giveBack(change);
    }

private:
    std::string name(const std::string& what) const { return code_.module().own(what); }

    static void append(std::vector<Value>& arguments, const BlendedFrames& frames) {
        for (const code::Parameter& parameter : frames.parameters) {
            arguments.push_back(code::named(parameter.name, parameter.type));
        }
    }

    Value callOf(const char* what, const Type& type, const Value& joint, const BlendedFrames& frames) const {
        std::vector<Value> arguments = {code_.texture(kJoint), joint};
        append(arguments, frames);
        return code::call(name(std::string(what) + "_" + frames.name), type, arguments);
    }

    /// Texel `part` in a stored frame, its range undone.
    Value texel(int part, const Value& frame) const {
        const BakeFormat& set = code_.set();
        const Value stored = set.positionStore.shader(std::array<Value, 1>{
            code::call(name("joint_texel"), Base::vec4,
                       {code_.texture(kJoint), code::named("joint", Base::whole), part, frame})});
        if (!set.positionStore.usesRange) {
            return stored;
        }
        if (!set.joints.matrix && part == 1) {
            return stored * 2.0f - 1.0f;
        }
        const Range& place = set.ranges.front();
        const glm::vec2& others = set.joints.range;
        const auto four = [](const glm::vec3& xyz, float w) {
            return code::make(Base::vec4, {xyz.x, xyz.y, xyz.z, w});
        };
        if (set.joints.matrix) {
            return four(glm::vec3(others.x), place.min[part]) +
                   stored * four(glm::vec3(others.y - others.x), place.max[part] - place.min[part]);
        }
        return four(place.min, others.x) + stored * four(place.max - place.min, others.y - others.x);
    }

    std::vector<code::Parameter> parametersOf(const BlendedFrames& frames, bool withPoint) const {
        std::vector<code::Parameter> all = {{Base::texture, kJoint.sampler}, {Base::whole, "joint"}};
        if (withPoint) {
            all.push_back({Base::vec3, "spot"});
        }
        all.insert(all.end(), frames.parameters.begin(), frames.parameters.end());
        return all;
    }

    /// A rigid joint in the stored frames: scales, quaternions near each other, and place · quaternion.
    struct Rigid {
        std::vector<Value> scales;
        std::vector<Value> turns;
        std::vector<Value> duals;
    };

    /// place · quaternion, of a place without a real part.
    static Value dual(const Value& place, const Value& q) {
        return vec4Of(q.w() * place + code::cross(place, q.xyz()), -code::dot(place, q.xyz()));
    }

    Rigid rigidOf(Body& body, const BlendedFrames& frames) const {
        Rigid rigid;
        for (std::size_t i = 0; i < frames.entries.size(); ++i) {
            const std::string number = std::to_string(i);
            const Value place = body.fixed("place_" + number, texel(0, frames.entries[i].frame));
            Value turn = body.fixed("turn_" + number, texel(1, frames.entries[i].frame));
            if (i == 1) {
                body.comment("q and -q are the same rotation; the near one makes the short way.");
            }
            if (i > 0) {
                const Value& other = rigid.turns[frames.entries[i].near];
                turn = body.fixed("near_" + number, code::choose(code::dot(other, turn) < 0.0f, -turn, turn));
            }
            rigid.turns.push_back(turn);
            rigid.scales.push_back(place.w());
            rigid.duals.push_back(frames.entries.size() == 1 ? place : dual(place.xyz(), turn));
        }
        return rigid;
    }

    /// The rows of a joint's blended transform.
    void addJoint(const BlendedFrames& frames) const {
        Body body;
        const Value made = body.variable("made", rows_);
        const std::array rows = {made.field("x", Base::vec4), made.field("y", Base::vec4),
                                 made.field("z", Base::vec4)};
        if (code_.set().joints.matrix) {
            for (int r = 0; r < 3; ++r) {
                std::vector<Value> stored;
                for (const BlendedFrames::Entry& entry : frames.entries) {
                    stored.push_back(texel(r, entry.frame));
                }
                body.assign(rows[static_cast<std::size_t>(r)], frames.sum(stored));
            }
        } else {
            writeRigid(body, frames, rows);
        }
        body.giveBack(made);
        code_.module().add(code::Function{
            {}, rows_, name("joint_" + frames.name), parametersOf(frames, false), body.take()});
    }

    void writeRigid(Body& body, const BlendedFrames& frames, const std::array<Value, 3>& rows) const {
        const Rigid rigid = rigidOf(body, frames);
        const Value q = body.fixed("q", frames.sum(rigid.turns));
        const Value scale = body.fixed("scale", frames.sum(rigid.scales));
        const Value over = body.fixed("over", 1.0f / code::most(code::dot(q, q), 1e-12f));
        Value place = rigid.duals[0].xyz();
        if (frames.entries.size() > 1) {
            const Value d = body.fixed("d", frames.sum(rigid.duals));
            place = body.fixed("place",
                               (q.w() * d.xyz() - d.w() * q.xyz() + code::cross(q.xyz(), d.xyz())) * over);
        }
        const Value s = body.fixed("s", 2.0f * over * scale);
        const Value v = body.fixed("v", s * q.xyz());
        const Value w = body.fixed("w", v * q.w());
        const Value square = body.fixed("square", v * q.xyz());
        const Value xy = body.fixed("xy", v.x() * q.y());
        const Value xz = body.fixed("xz", v.x() * q.z());
        const Value yz = body.fixed("yz", v.y() * q.z());
        body.assign(rows[0], code::make(Base::vec4, {scale - square.y() - square.z(), xy - w.z(), xz + w.y(),
                                                     place.x()}));
        body.assign(rows[1], code::make(Base::vec4, {xy + w.z(), scale - square.x() - square.z(), yz - w.x(),
                                                     place.y()}));
        body.assign(rows[2], code::make(Base::vec4, {xz - w.y(), yz + w.x(), scale - square.x() - square.y(),
                                                     place.z()}));
    }

    /// How fast a joint moves a point of the mesh at rest.
    void addJointChange(const BlendedFrames& frames) const {
        Body body;
        const Value point = code::named("spot", Base::vec3);
        if (code_.set().joints.matrix) {
            const Value rest = body.fixed("rest", vec4Of(point, 1.0f));
            std::vector<Value> parts;
            for (int r = 0; r < 3; ++r) {
                std::vector<Value> stored;
                for (const BlendedFrames::Entry& entry : frames.entries) {
                    stored.push_back(texel(r, entry.frame));
                }
                parts.push_back(code::dot(frames.rate(stored), rest));
            }
            body.giveBack(code::make(Base::vec3, parts));
        } else {
            writeRigidChange(body, frames, point);
        }
        code_.module().add(code::Function{
            {}, Base::vec3, name("joint_" + frames.name), parametersOf(frames, true), body.take()});
    }

    /// The derivative of scale · rotated point + place.
    void writeRigidChange(Body& body, const BlendedFrames& frames, const Value& point) const {
        const Rigid rigid = rigidOf(body, frames);
        const Value q = body.fixed("q", frames.sum(rigid.turns));
        const Value d = body.fixed("d", frames.sum(rigid.duals));
        const Value scale = body.fixed("scale", frames.sum(rigid.scales));
        const Value rate = body.fixed("d_q", frames.rate(rigid.turns));
        const Value square = body.fixed("square", code::most(code::dot(q, q), 1e-12f));
        const Value over = body.fixed("over", 1.0f / square);
        const auto vectorPart = [&](const Value& of) { // of · q⁻¹ without its real part
            return (q.w() * of.xyz() - of.w() * q.xyz() + code::cross(q.xyz(), of.xyz())) * over;
        };
        const Value place = body.fixed("place", vectorPart(d));
        body.comment("Between frames d times the inverse of q has a real part, too.");
        const Value real = body.fixed("real", code::dot(d, q) * over);
        const Value moved = body.fixed("moved", frames.rate(rigid.duals) - dual(place, rate) - real * rate);
        const Value unit = body.fixed("unit", q * code::inverseRoot(square));
        const Value turning =
            body.fixed("turning", (rate - unit * code::dot(unit, rate)) * code::inverseRoot(square));
        const Value across = body.fixed("across", code::cross(unit.xyz(), point));
        const Value dAcross = body.fixed("d_across", code::cross(turning.xyz(), point));
        const Value turned =
            body.fixed("turned", point + 2.0f * (unit.w() * across + code::cross(unit.xyz(), across)));
        const Value dTurned = 2.0f * (turning.w() * across + unit.w() * dAcross +
                                      code::cross(turning.xyz(), across) + code::cross(unit.xyz(), dAcross));
        body.giveBack(frames.rate(rigid.scales) * turned + scale * dTurned + vectorPart(moved));
    }

    ReadingCode& code_;
    Type rows_;
};

} // namespace

void addJointCode(ReadingCode& code) {
    const Type rows = Type::of(code.module().own("rows"));
    code.module().add(code::Gap{});
    code.module().add(code::Record{rows.record, {{Base::vec4, "x"}, {Base::vec4, "y"}, {Base::vec4, "z"}}});
    JointCode joints(code, rows);
    joints.addTexel();
    code.addBlends([&](Body& body, const BlendedFrames& frames) { joints.writePose(body, frames); },
                   [&](Body& body, const BlendedFrames& frames) { joints.writeChange(body, frames); });
}

} // namespace ripple::bake
