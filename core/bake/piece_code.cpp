#include "bake/reading_code.h"

#include "code/library.h"

namespace ripple::bake {

using code::Base;
using code::Body;
using code::Value;

namespace {

void addStoredPiece(ReadingCode& code, const code::Type& piece) {
    const BakeFormat& set = code.set();
    const Value uv = code::named("uv", Base::vec2);
    const Value frame = code::named("stored_frame", Base::scalar);
    Body place;
    const Value decoded = code.decoded(code.texels(place, kPosition, uv), frame);
    place.giveBack(set.content == Content::offset ? code.pivot() + decoded : decoded);
    code.addFunction({}, Base::vec3, "stored_place", {{Base::vec2, "uv"}, {Base::scalar, "stored_frame"}},
                     place);

    Body rotation;
    const Value stored = set.positionStore.shader(code.texels(rotation, kRotation, uv));
    rotation.giveBack(code::normalize(set.positionStore.usesRange ? stored * 2.0f - 1.0f : stored));
    code.addFunction({}, Base::vec4, "stored_rotation", {{Base::vec2, "uv"}}, rotation);

    Body body;
    const Value at = body.fixed("uv", code.uvOf(frame));
    const Value made = body.variable("piece", piece);
    body.assign(made.field("place", Base::vec3), code.callOf("stored_place", Base::vec3, {at, frame}));
    body.assign(made.field("rotation", Base::vec4), code.callOf("stored_rotation", Base::vec4, {at}));
    body.giveBack(made);
    code.addFunction({"The vertex's piece in a stored frame, counted over all clips."}, piece, "stored_piece",
                     {{Base::scalar, "stored_frame"}}, body);
}

/// The vertex's piece in the two stored frames of `frames`, the second rotation with the sign that is near
/// the first.
struct Pair {
    Value placeFrom;
    Value placeTo;
    Value from;
    Value to;
};
Pair pairOf(ReadingCode& code, Body& body, const code::Type& piece) {
    const Value frames = code::named("frames", Base::vec3);
    const Value a = body.fixed("a", code.callOf("stored_piece", piece, {frames.x()}));
    const Value b = body.fixed("b", code.callOf("stored_piece", piece, {frames.y()}));
    const Value first = a.field("rotation", Base::vec4);
    const Value second = b.field("rotation", Base::vec4);
    body.comment("q and -q are the same rotation; the near one makes the short way.");
    const Value near = body.fixed("near", code::choose(code::dot(first, second) < 0.0f, -second, second));
    return {a.field("place", Base::vec3), b.field("place", Base::vec3), first, near};
}

/// The derivative of what blended() makes: of the place, and of the rotation, which is a blend brought to
/// length 1.
void addChange(ReadingCode& code, const code::Type& piece) {
    const Value frames = code::named("frames", Base::vec3);
    Body body;
    const Pair pair = pairOf(code, body, piece);
    const Value mixed = body.fixed("mixed", code::mix(pair.from, pair.to, frames.z()));
    const Value over = body.fixed("over", code::inverseRoot(code::dot(mixed, mixed)));
    const Value q = body.fixed("q", mixed * over);
    const Value way = pair.to - pair.from;
    const Value dq = body.fixed("dq", (way - q * code::dot(q, way)) * over);
    const Value arm = body.fixed("arm", code.restPosition() - code.pivot());
    // Of arm + 2 w u × arm + 2 u × (u × arm), with u the first three of q and w its last.
    const Value across = body.fixed("across", code::cross(q.xyz(), arm));
    const Value dAcross = body.fixed("d_across", code::cross(dq.xyz(), arm));
    body.giveBack(pair.placeTo - pair.placeFrom +
                  2.0f * (dq.w() * across + q.w() * dAcross + code::cross(dq.xyz(), across) +
                          code::cross(q.xyz(), dAcross)));
    code.addChange(body);
}

} // namespace

void addPieceCode(ReadingCode& code) {
    const code::Type piece = code::Type::of(code.module().own("piece"));
    code.module().add(code::Gap{});
    code.module().add(code::Record{piece.record, {{Base::vec3, "place"}, {Base::vec4, "rotation"}}});
    addStoredPiece(code, piece);
    const Value frames = code::named("frames", Base::vec3);
    Body body;
    const Pair pair = pairOf(code, body, piece);
    const Value whole = body.fixed("rotation", code::normalize(code::mix(pair.from, pair.to, frames.z())));
    const Value pose = body.variable("pose", code.pose());
    const Value place = code::mix(pair.placeFrom, pair.placeTo, frames.z());
    body.assign(pose.field("position", Base::vec3),
                place + code::rotated(code.module(), whole, code.restPosition() - code.pivot()));
    body.assign(pose.field("normal", Base::vec3), code::rotated(code.module(), whole, code.restNormal()));
    body.giveBack(pose);
    code.addFunction({"`frames`: two stored frames and how far it is from the one to the other."},
                     code.pose(), "blended", {{Base::vec3, "frames"}}, body);
    code.addStoredFrameOfBlended();
    addChange(code, piece);
}

} // namespace ripple::bake
