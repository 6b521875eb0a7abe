// What is called from outside: a pose and a velocity of a clip by frame, by turn and by seconds, and of a
// cross-fade of two.

#include "emit/reader_calls.h"

#include <algorithm>

namespace ripple::emit {

namespace {

using code::Base;
using code::Body;
using code::Function;
using code::Module;
using code::Value;

/// The shader's side of bake::framePair(): the same steps, in the same order.
class FramesAt {
public:
    explicit FramesAt(bake::ReadingCode& reading) : reading_(reading), module_(reading.module()) {}

    void add(bool uneven) {
        const bool cubic = reading_.set().blend == bake::Blend::cubic;
        if (cubic) {
            module_.add(code::Gap{});
            module_.add(
                code::Record{module_.own("frames"),
                             {{Base::vec4, "stored"}, {Base::vec4, "weights"}, {Base::vec4, "rates"}}});
        }
        std::vector<std::string> comment = {"Stored frames before and after `frame` of a clip, and how far "
                                            "it is from the one to the other (0 to 1).",
                                            "A closed clip wraps from its last frame to its first, for any "
                                            "frame number; an open one stops at its "
                                            "ends."};
        if (uneven) {
            comment.push_back(
                "Frames lie at uneven times. The result is the same for all vertices: work it out once "
                "per instance on the");
            comment.push_back("processor and pass it to " + module_.own("blended") +
                              ", if that suits your engine.");
        }
        Body body;
        const Value count = body.fixed("count", table("frames"));
        const Value closed = body.fixed("closed", table("closed", Base::boolean));
        const Value frame = code::named("frame", Base::scalar);
        const Value inside = body.variable("inside", code::clamp(frame, 0.0f, count - 1.0f));
        body.when(closed, [&](Body& wrap) {
            wrap.assign(inside, frame - count * code::floor(frame / count));
            wrap.assign(inside, code::choose(inside >= count, 0.0f, code::most(inside, 0.0f)));
        });
        uneven  ? search(body, count, closed, inside)
        : cubic ? curve(body, count, closed, inside)
                : floorOf(body, count, closed, inside);
        module_.add(Function{comment,
                             reading_.framesType(),
                             module_.own("frames_at"),
                             {{Base::whole, "clip"}, {Base::scalar, "frame"}},
                             body.take()});
    }

private:
    Value table(const char* what, code::Type type = Base::scalar) const {
        return code::call(module_.own(std::string("clip_") + what), std::move(type),
                          {code::named("clip", Base::whole)});
    }

    void floorOf(Body& body, const Value& count, const Value& closed, const Value& inside) const {
        const Value last = body.fixed("last", count - 1.0f);
        const Value whole = body.fixed("whole", code::least(code::floor(inside), last));
        const Value next = body.variable("next", whole + 1.0f);
        body.when(next > last, [&](Body& end) { end.assign(next, code::choose(closed, 0.0f, last)); });
        const Value first = body.fixed("first", table("first_frame"));
        body.giveBack(code::make(Base::vec3, {first + whole, first + next, inside - whole}));
    }

    void search(Body& body, const Value& count, const Value& closed, const Value& inside) const {
        const auto whole = [](const Value& number) { return code::make(Base::whole, {number}); };
        const auto scalar = [](const Value& number) { return code::make(Base::scalar, {number}); };
        const Value times = code::named(module_.own("times"), Base::scalar);
        const Value first = body.fixed("first", whole(table("first_frame")));
        const Value last = body.fixed("last", whole(table("stored")) - 1);
        const Value low = body.variable("low", 0);
        const Value high = body.variable("high", last);
        body.repeat(low < high, [&](Body& halve) {
            const Value middle = halve.fixed("middle", (low + high + 1) / 2);
            halve.when(
                times[first + middle] <= inside, [&](Body& right) { right.assign(low, middle); },
                [&](Body& left) { left.assign(high, middle - 1); });
        });
        const Value start = body.fixed("start", times[first + low]);
        const Value end = body.variable("end", count);
        const Value next = body.variable("next", code::choose(closed, 0, last));
        body.when(low < last, [&](Body& between) {
            between.assign(next, low + 1);
            between.assign(end, times[first + next]);
        });
        body.giveBack(code::make(
            Base::vec3, {scalar(first + low), scalar(first + next), (inside - start) / (end - start)}));
    }

    /// The shader's side of bake::blendAt() where it is cubic.
    void curve(Body& body, const Value& count, const Value& closed, const Value& inside) const {
        const Value last = body.fixed("last", count - 1.0f);
        const Value whole = body.fixed("whole", code::least(code::floor(inside), last));
        const Value next = body.variable("next", whole + 1.0f);
        body.when(next > last, [&](Body& end) { end.assign(next, code::choose(closed, 0.0f, last)); });
        const Value first = body.fixed("first", table("first_frame"));
        const Value t = body.fixed("t", inside - whole);
        const Value made = body.variable("made", reading_.framesType());
        const Value stored = made.field("stored", Base::vec4);
        const Value weights = made.field("weights", Base::vec4);
        const Value rates = made.field("rates", Base::vec4);
        body.when(count < 4.0f, [&](Body& few) {
            few.comment("Too few for a curve: the two beside the moment.");
            few.assign(stored,
                       code::make(Base::vec4, {first + whole, first + next, first + whole, first + next}));
            few.assign(weights, code::make(Base::vec4, {1.0f - t, t, 0.0f, 0.0f}));
            few.assign(rates, code::make(Base::vec4, {-1.0f, 1.0f, 0.0f, 0.0f}));
            few.giveBack(made);
        });
        const Value before = body.fixed("before", code::choose(whole > 0.0f, whole - 1.0f, last));
        const Value after = body.fixed("after", code::choose(next < last, next + 1.0f, 0.0f));
        body.assign(stored,
                    code::make(Base::vec4, {first + whole, first + next, first + before, first + after}));
        body.comment(
            "The curve has at each of the first two the slope between its neighbours (Catmull and Rom "
            "1974).");
        body.assign(weights,
                    code::make(Base::vec4, {0.5f * (2.0f + t * t * (3.0f * t - 5.0f)),
                                            0.5f * t * (1.0f + t * (4.0f - 3.0f * t)),
                                            0.5f * t * (t * (2.0f - t) - 1.0f), 0.5f * t * t * (t - 1.0f)}));
        body.assign(rates, code::make(Base::vec4,
                                      {0.5f * t * (9.0f * t - 10.0f), 0.5f * (1.0f + t * (8.0f - 9.0f * t)),
                                       0.5f * (t * (4.0f - 3.0f * t) - 1.0f), 0.5f * t * (3.0f * t - 2.0f)}));
        body.comment("At an open clip's ends: the parabola through the three frames there.");
        const auto open = [&](const Value& end) { return closed == code::truth(false) && end; };
        body.when(open(whole == 0.0f), [&](Body& start) {
            const Value bend = code::make(Base::vec4, {3.0f, -3.0f, -1.0f, 1.0f});
            start.increase(weights, weights.z() * bend);
            start.increase(rates, rates.z() * bend);
        });
        body.when(open(next >= last), [&](Body& end) {
            const Value bend = code::make(Base::vec4, {-3.0f, 3.0f, 1.0f, -1.0f});
            end.increase(weights, weights.w() * bend);
            end.increase(rates, rates.w() * bend);
        });
        body.giveBack(made);
    }

    bake::ReadingCode& reading_;
    Module& module_;
};

/// bake::easedFade() of what is in 0..1 already.
Value eased(const Value& p) {
    return p * p * (3.0f - 2.0f * p);
}

class Calls {
public:
    Calls(bake::ReadingCode& reading, bool uneven)
        : reading_(reading),
          module_(reading.module()),
          uneven_(uneven) {}

    void add() {
        addRate();
        addVelocityAtFrame();
        addAtFrame();
        addTurns();
        addSeconds();
        addFades();
    }

private:
    Value table(const char* what, code::Type type, const Value& clip) const {
        return code::call(module_.own(std::string("clip_") + what), std::move(type), {clip});
    }
    Value framesAt(const Value& clip, const Value& frame) const {
        return code::call(module_.own("frames_at"), reading_.framesType(), {clip, frame});
    }
    Value rateAt(const Value& clip, const Value& frame, const Value& frames) const {
        return code::call(module_.own("rate_at"), Base::scalar, {clip, frame, frames});
    }

    /// How fast a clip goes through what lies between two stored frames.
    void addRate() {
        const Value frames = code::named("frames", reading_.framesType());
        Body body;
        const Value rate = body.variable("rate", table("fps", Base::scalar, clip_));
        if (uneven_) {
            const Value times = code::named(module_.own("times"), Base::scalar);
            const auto whole = [](const Value& number) { return code::make(Base::whole, {number}); };
            const Value end = body.variable("end", table("frames", Base::scalar, clip_));
            body.when(frames.y() > frames.x(),
                      [&](Body& inside) { inside.assign(end, times[whole(frames.y())]); });
            body.assign(rate, rate / (end - times[whole(frames.x())]));
        }
        const Value held = body.variable("held", frame_ < 0.0f);
        if (reading_.set().blend == bake::Blend::cubic) {
            body.when(frame_ >= table("frames", Base::scalar, clip_) - 1.0f,
                      [&](Body& behind) { behind.assign(held, code::truth(true)); });
        }
        const Value open = table("closed", Base::boolean, clip_) == code::truth(false);
        body.giveBack(code::choose(held && open, 0.0f, rate));
        module_.add(
            Function{{"Stored frames a second that the clip goes through there; none where it stands at "
                      "an end."},
                     Base::scalar,
                     module_.own("rate_at"),
                     {which_, {Base::scalar, "frame"}, {reading_.framesType(), "frames"}},
                     body.take()});
    }

    void addVelocityAtFrame() {
        Body body;
        const Value frames = body.fixed("frames", framesAt(clip_, frame_));
        body.giveBack(rateAt(clip_, frame_, frames) * reading_.callOf("change", Base::vec3, {frames}));
        reading_.addFunction(
            {"The velocity at a frame of the clip, when it plays at its own rate: a second's way in the "
             "mesh's own space and unit,",
             "for motion blur. A vertex that stands still at the end of an open clip has none."},
            Base::vec3, "velocity_at_frame", {which_, {Base::scalar, "frame"}}, body);
    }

    void addAtFrame() {
        Body body;
        body.giveBack(reading_.callOf("blended", reading_.pose(), {framesAt(clip_, frame_)}));
        reading_.addFunction({"`frame` counts frames of the clip and may lie between two: they are blended."},
                             reading_.pose(), "at_frame", {which_, {Base::scalar, "frame"}}, body);
    }

    void addTurns() {
        const Value turn = code::named("turn", Base::scalar);
        const auto frameOf = [&](Body& body) {
            const Value count = body.fixed("count", table("frames", Base::scalar, clip_));
            return body.fixed("frame", code::choose(table("closed", Base::boolean, clip_),
                                                    code::fraction(turn) * count, turn * (count - 1.0f)));
        };
        Body body;
        body.giveBack(reading_.callOf("at_frame", reading_.pose(), {clip_, frameOf(body)}));
        Body moving;
        moving.giveBack(reading_.callOf("velocity_at_frame", Base::vec3, {clip_, frameOf(moving)}));
        reading_.addFunction({}, Base::vec3, "velocity_at_turn", {which_, {Base::scalar, "turn"}}, moving);
        reading_.addFunction({"`turn` is one trip through the clip per whole number. A closed clip wraps it; "
                              "wrap it yourself as well (in",
                              "double precision, or by restarting it) if the game runs for hours: large "
                              "floats lose their fraction."},
                             reading_.pose(), "at_turn", {which_, {Base::scalar, "turn"}}, body);
    }

    void addSeconds() {
        const Value frame = code::named("seconds", Base::scalar) * table("fps", Base::scalar, clip_);
        Body body;
        body.giveBack(reading_.callOf("at_frame", reading_.pose(), {clip_, frame}));
        reading_.addFunction({"Seconds since the clip began, at its own rate."}, reading_.pose(),
                             "at_seconds", {which_, {Base::scalar, "seconds"}}, body);
        Body moving;
        moving.giveBack(reading_.callOf("velocity_at_frame", Base::vec3, {clip_, frame}));
        reading_.addFunction({}, Base::vec3, "velocity_at_seconds", {which_, {Base::scalar, "seconds"}},
                             moving);
    }

    /// From one clip to another. Times of both run on through the fade.
    void addFades() {
        const Value from = code::named("clip_from", Base::whole);
        const Value to = code::named("clip_to", Base::whole);
        const Value progress = code::named("progress", Base::scalar);
        const auto moments = [](const char* unit) {
            return std::vector<code::Parameter>{{Base::whole, "clip_from"},
                                                {Base::scalar, std::string(unit) + "_from"},
                                                {Base::whole, "clip_to"},
                                                {Base::scalar, std::string(unit) + "_to"},
                                                {Base::scalar, "progress"}};
        };
        const Value frameFrom = code::named("frame_from", Base::scalar);
        const Value frameTo = code::named("frame_to", Base::scalar);
        Body body;
        const Value p = body.fixed("p", code::clamp(progress, 0.0f, 1.0f));
        body.giveBack(reading_.callOf("faded", reading_.pose(),
                                      {framesAt(from, frameFrom), framesAt(to, frameTo), eased(p)}));
        reading_.addFunction({"A cross-fade from a frame of one clip to a frame of another: `progress` runs "
                              "evenly from 0 to 1. It "
                              "is eased, so",
                              "that neither the position nor its velocity jumps at either end."},
                             reading_.pose(), "faded_at_frames", moments("frame"), body);

        std::vector<code::Parameter> timed = moments("frame");
        timed.push_back({Base::scalar, "fade_seconds"});
        Body moving;
        const Value pm = moving.fixed("p", code::clamp(progress, 0.0f, 1.0f));
        const Value framesFrom = moving.fixed("frames_from", framesAt(from, frameFrom));
        const Value framesTo = moving.fixed("frames_to", framesAt(to, frameTo));
        const Value rates = moving.fixed(
            "rates",
            code::make(Base::vec3, {rateAt(from, frameFrom, framesFrom), rateAt(to, frameTo, framesTo),
                                    6.0f * pm * (1.0f - pm) /
                                        code::most(code::named("fade_seconds", Base::scalar), 1e-6f)}));
        moving.giveBack(
            reading_.callOf("fading_change", Base::vec3, {framesFrom, framesTo, eased(pm), rates}));
        reading_.addFunction({"Its velocity, as above; the whole fade takes `fade_seconds`."}, Base::vec3,
                             "velocity_faded_at_frames", timed, moving);

        const auto framed = [&](const char* seconds, const Value& clip) {
            return code::named(seconds, Base::scalar) * table("fps", Base::scalar, clip);
        };
        const std::vector<Value> arguments = {from, framed("seconds_from", from), to,
                                              framed("seconds_to", to), progress};
        Body inSeconds;
        inSeconds.giveBack(reading_.callOf("faded_at_frames", reading_.pose(), arguments));
        reading_.addFunction({"The same by the seconds since each clip began."}, reading_.pose(),
                             "faded_at_seconds", moments("seconds"), inSeconds);
        std::vector<Value> more = arguments;
        more.push_back(code::named("fade_seconds", Base::scalar));
        Body movingSeconds;
        movingSeconds.giveBack(reading_.callOf("velocity_faded_at_frames", Base::vec3, more));
        timed = moments("seconds");
        timed.push_back({Base::scalar, "fade_seconds"});
        reading_.addFunction({}, Base::vec3, "velocity_faded_at_seconds", timed, movingSeconds);
    }

    bake::ReadingCode& reading_;
    Module& module_;
    bool uneven_;
    const Value clip_ = code::named("clip", Base::whole);
    const Value frame_ = code::named("frame", Base::scalar);
    const code::Parameter which_ = {Base::whole, "clip"};
};

} // namespace

void addFramesAt(bake::ReadingCode& reading, bool uneven) {
    FramesAt(reading).add(uneven);
}

void addCalls(bake::ReadingCode& reading, bool uneven) {
    Calls(reading, uneven).add();
}

} // namespace ripple::emit
