#include "bake/reading_code.h"

namespace ripple::bake {

using code::Base;
using code::Body;
using code::Value;

namespace {

void addStoredFrame(ReadingCode& code) {
    const BakeFormat& set = code.set();
    const Value frame = code::named("stored_frame", Base::scalar);
    Body body;
    const Value uv = body.fixed("uv", code.uvOf(frame));
    const auto texels = code.texels(body, kPosition, uv);
    const Value pose = body.variable("pose", code.pose());
    const Value place = code.decoded(texels, frame);
    body.assign(pose.field("position", Base::vec3),
                set.content == Content::offset ? code.restPosition() + place : place);
    Value normal = code.restNormal();
    if (set.normalsInAlpha) {
        normal = code.direction(set.positionStore.shaderAlpha(texels));
    } else if (set.hasNormals()) {
        normal = code.direction(code::sample(code.texture(kNormal), uv));
    }
    body.assign(pose.field("normal", Base::vec3), normal);
    if (set.tangents) {
        body.assign(pose.field("tangent", Base::vec3),
                    code.direction(code::sample(code.texture(kTangent), uv)));
    }
    body.giveBack(pose);
    code.addFunction({"A stored frame, counted over all clips."}, code.pose(), "stored_frame",
                     {{Base::scalar, "stored_frame"}}, body);
}

/// How far it moves from one stored frame to the next.
void addChange(ReadingCode& code) {
    const Value frames = code::named("frames", Base::vec3);
    Body place;
    const Value frame = code::named("stored_frame", Base::scalar);
    const auto texels = code.texels(place, kPosition, code.uvOf(frame));
    place.giveBack(code.decoded(texels, frame));
    code.addFunction({}, Base::vec3, "stored_place", {{Base::scalar, "stored_frame"}}, place);
    Body body;
    body.giveBack(code.callOf("stored_place", Base::vec3, {frames.y()}) -
                  code.callOf("stored_place", Base::vec3, {frames.x()}));
    code.addChange(body);
}

} // namespace

void addVertexCode(ReadingCode& code) {
    addStoredFrame(code);
    addChange(code);
    const Value frames = code::named("frames", Base::vec3);
    Body body;
    const Value a = body.fixed("a", code.callOf("stored_frame", code.pose(), {frames.x()}));
    const Value b = body.fixed("b", code.callOf("stored_frame", code.pose(), {frames.y()}));
    const Value pose = body.variable("pose", code.pose());
    const auto blended = [&](const char* field) {
        return code::mix(a.field(field, Base::vec3), b.field(field, Base::vec3), frames.z());
    };
    body.assign(pose.field("position", Base::vec3), blended("position"));
    body.assign(pose.field("normal", Base::vec3), code::normalize(blended("normal")));
    if (code.set().tangents) {
        body.assign(pose.field("tangent", Base::vec3), code::normalize(blended("tangent")));
    }
    body.giveBack(pose);
    code.addFunction({"`frames`: two stored frames and how far it is from the one to the other."},
                     code.pose(), "blended", {{Base::vec3, "frames"}}, body);
}

} // namespace ripple::bake
