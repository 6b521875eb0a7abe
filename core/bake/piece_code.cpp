#include "bake/reading_code.h"

#include "code/library.h"

#include <array>

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

/// The vertex's piece in the stored frames: places and rotations, these near each other.
struct Stored {
    std::vector<Value> places;
    std::vector<Value> rotations;
};
Stored storedOf(ReadingCode& code, Body& body, const BlendedFrames& frames, const code::Type& piece) {
    constexpr std::array kNames = {"a", "b", "c", "d"};
    constexpr std::array kNear = {"", "near_b", "near_c", "near_d"};
    Stored stored;
    for (const BlendedFrames::Entry& entry : frames.entries) {
        const std::size_t i = stored.places.size();
        const Value own = body.fixed(kNames[i], code.callOf("stored_piece", piece, {entry.frame}));
        stored.places.push_back(own.field("place", Base::vec3));
        const Value rotation = own.field("rotation", Base::vec4);
        if (i == 0) {
            stored.rotations.push_back(rotation);
            continue;
        }
        if (i == 1) {
            body.comment("q and -q are the same rotation; the near one makes the short way.");
        }
        const Value away = code::dot(stored.rotations[entry.near], rotation) < 0.0f;
        stored.rotations.push_back(body.fixed(kNear[i], code::choose(away, -rotation, rotation)));
    }
    return stored;
}

void writePose(ReadingCode& code, Body& body, const BlendedFrames& frames, const code::Type& piece) {
    const Stored stored = storedOf(code, body, frames, piece);
    const Value whole = body.fixed("rotation", code::normalize(frames.sum(stored.rotations)));
    const Value pose = body.variable("pose", code.pose());
    body.assign(pose.field("position", Base::vec3),
                frames.sum(stored.places) +
                    code::rotated(code.module(), whole, code.restPosition() - code.pivot()));
    body.assign(pose.field("normal", Base::vec3), code::rotated(code.module(), whole, code.restNormal()));
    body.giveBack(pose);
}

/// The derivative of what writePose() makes: of the place, and of the rotation, which is a blend brought to
/// length 1.
void writeChange(ReadingCode& code, Body& body, const BlendedFrames& frames, const code::Type& piece) {
    const Stored stored = storedOf(code, body, frames, piece);
    const Value mixed = body.fixed("mixed", frames.sum(stored.rotations));
    const Value over = body.fixed("over", code::inverseRoot(code::dot(mixed, mixed)));
    const Value q = body.fixed("q", mixed * over);
    const Value way = body.fixed("way", frames.rate(stored.rotations));
    const Value dq = body.fixed("dq", (way - q * code::dot(q, way)) * over);
    const Value arm = body.fixed("arm", code.restPosition() - code.pivot());
    // Of arm + 2 w u × arm + 2 u × (u × arm), with u the first three of q and w its last.
    const Value across = body.fixed("across", code::cross(q.xyz(), arm));
    const Value dAcross = body.fixed("d_across", code::cross(dq.xyz(), arm));
    body.giveBack(frames.rate(stored.places) +
                  2.0f * (dq.w() * across + q.w() * dAcross + code::cross(dq.xyz(), across) +
                          code::cross(q.xyz(), dAcross)));
}

} // namespace

void addPieceCode(ReadingCode& code) {
    const code::Type piece = code::Type::of(code.module().own("piece"));
    code.module().add(code::Gap{});
    code.module().add(code::Record{piece.record, {{Base::vec3, "place"}, {Base::vec4, "rotation"}}});
    addStoredPiece(code, piece);
    code.addBlends([&](Body& body, const BlendedFrames& frames) { writePose(code, body, frames, piece); },
                   [&](Body& body, const BlendedFrames& frames) { writeChange(code, body, frames, piece); });
}

} // namespace ripple::bake
