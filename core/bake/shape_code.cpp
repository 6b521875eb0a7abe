#include "bake/reading_code.h"

namespace ripple::bake {

using code::Base;
using code::Body;
using code::Value;

namespace {

/// What a shape's normal adds, as its texel holds it.
Value normalOf(ReadingCode& code, const Value& uv) {
    const BakeFormat& set = code.set();
    const Value texel = code::sample(code.texture(kNormal), uv).xyz();
    const Range& range = set.normalRange;
    return set.positionStore.usesRange ? code::vec3(range.min) + texel * code::vec3(range.max - range.min)
                                       : texel;
}

/// For each shape, with its weights in two stored frames: calls `use` with the place of the shape's texel and
/// `weight`, of the vec4 that `weights` makes of both frames' weights for four shapes.
template <typename Weights, typename Use>
void eachShape(ReadingCode& code, Body& body, const Weights& weights, const Use& use) {
    const Value frames = code::named("frames", Base::vec3);
    const auto shapes = static_cast<int>(code.set().layout.blocks);
    body.count(
        "s", 0, [&](const Value& s) { return s < shapes; }, 4,
        [&](Body& four, const Value& s) {
            const auto stored = [&](const Value& frame) {
                return code::fetch(code.texture(kWeight), s / 4, code::make(Base::whole, {frame}));
            };
            const Value w = four.fixed("w", weights(stored(frames.x()), stored(frames.y())));
            const auto remain = [&](const Value& i) { return i < 4 && s + i < shapes; };
            four.count("i", 0, remain, 1, [&](Body& one, const Value& i) {
                const Value uv = one.fixed("uv", code.uvOf(code::make(Base::scalar, {s + i})));
                use(one, uv, w[i]);
            });
        });
}

void addChange(ReadingCode& code) {
    Body body;
    const Value change = body.variable("change", Value(code::vec3({0.0f, 0.0f, 0.0f})));
    eachShape(
        code, body, [](const Value& first, const Value& second) { return second - first; },
        [&](Body& one, const Value& uv, const Value& weight) {
            one.increase(change, weight * code.callOf("shape", Base::vec3, {uv}));
        });
    body.giveBack(change);
    code.addChange(body);
}

} // namespace

void addShapeCode(ReadingCode& code) {
    const BakeFormat& set = code.set();
    Body shape;
    const auto texels = code.texels(shape, kPosition, code::named("uv", Base::vec2));
    shape.giveBack(code.decoded(texels, 0.0f));
    code.addFunction({}, Base::vec3, "shape", {{Base::vec2, "uv"}}, shape);

    const Value frames = code::named("frames", Base::vec3);
    Body body;
    const Value pose = body.variable("pose", code.pose());
    const Value position = pose.field("position", Base::vec3);
    const Value normal = pose.field("normal", Base::vec3);
    body.assign(position, code.restPosition());
    body.assign(normal, code.restNormal());
    eachShape(
        code, body,
        [&](const Value& first, const Value& second) { return code::mix(first, second, frames.z()); },
        [&](Body& one, const Value& uv, const Value& weight) {
            one.increase(position, weight * code.callOf("shape", Base::vec3, {uv}));
            if (set.hasNormals()) {
                one.increase(normal, weight * normalOf(code, uv));
            }
        });
    body.assign(normal, code::normalize(normal));
    body.giveBack(pose);
    code.addFunction(
        {"`frames`: two stored frames and how far it is from the one to the other. Adds up the shapes, "
         "each by its",
         "weight in that frame."},
        code.pose(), "blended", {{Base::vec3, "frames"}}, body);
    code.addStoredFrameOfBlended();
    addChange(code);
}

} // namespace ripple::bake
