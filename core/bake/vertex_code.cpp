#include "bake/reading_code.h"

#include <array>

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
        normal = code.direction(code.sampled(code.texture(kNormal), uv));
    }
    body.assign(pose.field("normal", Base::vec3), normal);
    if (set.tangents) {
        body.assign(pose.field("tangent", Base::vec3),
                    code.direction(code.sampled(code.texture(kTangent), uv)));
    }
    body.giveBack(pose);
    code.addFunction({"A stored frame, counted over all clips."}, code.pose(), "stored_frame",
                     {{Base::scalar, "stored_frame"}}, body);
}

void addStoredPlace(ReadingCode& code) {
    Body place;
    const Value frame = code::named("stored_frame", Base::scalar);
    const auto texels = code.texels(place, kPosition, code.uvOf(frame));
    place.giveBack(code.decoded(texels, frame));
    code.addFunction({}, Base::vec3, "stored_place", {{Base::scalar, "stored_frame"}}, place);
}

void addPose(ReadingCode& code, Body& body, const BlendedFrames& frames) {
    constexpr std::array kNames = {"a", "b", "c", "d", "e", "f", "g", "h"};
    std::vector<Value> stored;
    for (const BlendedFrames::Entry& entry : frames.entries) {
        stored.push_back(
            body.fixed(kNames[stored.size()], code.callOf("stored_frame", code.pose(), {entry.frame})));
    }
    const Value pose = body.variable("pose", code.pose());
    const auto blended = [&](const char* field) {
        std::vector<Value> values;
        for (const Value& own : stored) {
            values.push_back(own.field(field, Base::vec3));
        }
        return frames.sum(values);
    };
    body.assign(pose.field("position", Base::vec3), blended("position"));
    body.assign(pose.field("normal", Base::vec3), code::normalize(blended("normal")));
    if (code.set().tangents) {
        body.assign(pose.field("tangent", Base::vec3), code::normalize(blended("tangent")));
    }
    body.giveBack(pose);
}

} // namespace

void addVertexCode(ReadingCode& code) {
    addStoredFrame(code);
    addStoredPlace(code);
    code.addBlends([&](Body& body, const BlendedFrames& frames) { addPose(code, body, frames); },
                   [&](Body& body, const BlendedFrames& frames) {
                       std::vector<Value> places;
                       for (const BlendedFrames::Entry& entry : frames.entries) {
                           places.push_back(code.callOf("stored_place", Base::vec3, {entry.frame}));
                       }
                       body.giveBack(frames.rate(places));
                   });
}

} // namespace ripple::bake
