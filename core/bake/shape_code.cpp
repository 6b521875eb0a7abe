#include "bake/reading_code.h"

namespace ripple::bake {

using code::Base;
using code::Body;
using code::Value;

namespace {

/// What a shape's normal adds, as its texel holds it.
Value normalOf(ReadingCode& code, const Value& uv) {
    const BakeFormat& set = code.set();
    const Value texel = code.sampled(code.texture(kNormal), uv).xyz();
    const Range& range = set.normalRange;
    return set.positionStore.usesRange ? code::vec3(range.min) + texel * code::vec3(range.max - range.min)
                                       : texel;
}

/// Calls `use` for each shape with the place of its texel and `weight`: that which `summed` makes of the
/// weights that four shapes have in the stored frames.
template <typename Summed, typename Use>
void eachShape(ReadingCode& code, Body& body, const BlendedFrames& frames, const Summed& summed,
               const Use& use) {
    const auto shapes = static_cast<int>(code.set().layout.blocks);
    body.count(
        "s", 0, [&](const Value& s) { return s < shapes; }, 4,
        [&](Body& four, const Value& s) {
            std::vector<Value> stored;
            for (const BlendedFrames::Entry& entry : frames.entries) {
                stored.push_back(
                    code.fetched(code.texture(kWeight), code.set().frameCount(), s / 4,
                                 code::make(Base::whole, {entry.frame})));
            }
            const Value w = four.fixed("w", summed(stored));
            const auto remain = [&](const Value& i) { return i < 4 && s + i < shapes; };
            four.count("i", 0, remain, 1, [&](Body& one, const Value& i) {
                const Value uv = one.fixed("uv", code.uvOf(code::make(Base::scalar, {s + i})));
                use(one, uv, w[i]);
            });
        });
}

void writeChange(ReadingCode& code, Body& body, const BlendedFrames& frames) {
    const Value change = body.variable("change", Value(code::vec3({0.0f, 0.0f, 0.0f})));
    eachShape(
        code, body, frames, [&](const std::vector<Value>& stored) { return frames.rate(stored); },
        [&](Body& one, const Value& uv, const Value& weight) {
            one.increase(change, weight * code.callOf("shape", Base::vec3, {uv}));
        });
    body.giveBack(change);
}

void writePose(ReadingCode& code, Body& body, const BlendedFrames& frames) {
    const Value pose = body.variable("pose", code.pose());
    const Value position = pose.field("position", Base::vec3);
    const Value normal = pose.field("normal", Base::vec3);
    body.assign(position, code.restPosition());
    body.assign(normal, code.restNormal());
    eachShape(
        code, body, frames, [&](const std::vector<Value>& stored) { return frames.sum(stored); },
        [&](Body& one, const Value& uv, const Value& weight) {
            one.increase(position, weight * code.callOf("shape", Base::vec3, {uv}));
            if (code.set().hasNormals()) {
                one.increase(normal, weight * normalOf(code, uv));
            }
        });
    body.assign(normal, code::normalize(normal));
    body.giveBack(pose);
}

} // namespace

void addShapeCode(ReadingCode& code) {
    Body shape;
    const auto texels = code.texels(shape, kPosition, code::named("uv", Base::vec2));
    shape.giveBack(code.decoded(texels, 0.0f));
    code.addFunction({}, Base::vec3, "shape", {{Base::vec2, "uv"}}, shape);
    code.addBlends([&](Body& body, const BlendedFrames& frames) { writePose(code, body, frames); },
                   [&](Body& body, const BlendedFrames& frames) { writeChange(code, body, frames); });
}

} // namespace ripple::bake
