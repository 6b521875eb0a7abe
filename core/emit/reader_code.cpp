#include "emit/reader_code.h"

#include "bake/kind.h"
#include "bake/reading_code.h"
#include "base/units.h"
#include "base/version.h"
#include "emit/score_expressions.h"

#include <algorithm>
#include <functional>

namespace ripple::emit {

namespace {

using bake::BakeFormat;
using code::Base;
using code::Body;
using code::Function;
using code::Module;
using code::Value;

std::string numbers(const glm::vec3& v) {
    return base::floatLiteral(v.x) + " " + base::floatLiteral(v.y) + " " + base::floatLiteral(v.z);
}

/// What a person must know of each texture.
std::string describe(const bake::TextureFormat& texture) {
    std::string name = texture.sampler();
    name.resize(std::max<std::size_t>(name.size() + 1, 15), ' ');
    return "  " + name + texture.words + ", " + std::to_string(texture.width) + " x " +
           std::to_string(texture.height) + " texels";
}

bool thinned(const BakeFormat& set) {
    return std::any_of(set.clips.begin(), set.clips.end(),
                       [](const bake::BakedClip& clip) { return !clip.times.empty(); });
}

code::Remark headOf(const Dialect& dialect, const std::string& name, const BakeFormat& set,
                    const mesh::Bounds& bounds) {
    code::Remark head{{commentOf(name) + ": reads its vertex animation textures in the vertex stage.",
                       std::string("Written by ") + base::generatorName() + ". " + dialect.about() + ".",
                       "Every texture: nearest, clamp, linear colour, no mips, no compression.", ""}};
    for (const bake::TextureFormat& texture : set.textures) {
        head.lines.push_back(describe(texture));
    }
    head.lines.push_back("  lookup_uv      the mesh's lookup UV set, in full float precision");
    head.lines.push_back("  rest_*         position and normal of the mesh as imported, in its own space");
    if (readerWantsPivot(set)) {
        head.lines.push_back(
            "  pivot          of the vertex's piece: UV sets after the lookup, see IMPORT.md");
    }
    head.lines.push_back("");
    head.lines.push_back(std::string("One ") + set.kind->block + " is " +
                         base::plural(set.layout.rowsPerBlock, "row") +
                         " high, row 0 at the top (texture coordinate v = 0).");
    head.lines.push_back("Bounds of all motion: " + numbers(bounds.min) + " to " + numbers(bounds.max) + ".");
    return head;
}

/// A function from the number of a clip to one of its values.
void addClipTable(Module& module, const BakeFormat& set, code::Type type, const char* what,
                  const std::function<Value(const bake::BakedClip&)>& valueOf) {
    Body body;
    for (std::size_t c = 0; c < set.clips.size(); ++c) {
        const std::string name = identifier(set.clips[c].name);
        const Value value = valueOf(set.clips[c]);
        if (c + 1 < set.clips.size()) {
            body.when(code::named("clip", Base::whole) == static_cast<int>(c),
                      [&](Body& inner) { inner.giveBack(value, name); });
        } else {
            body.giveBack(value, name);
        }
    }
    module.add(
        Function{{}, type, module.own(std::string("clip_") + what), {{Base::whole, "clip"}}, body.take()});
}

void addClipTables(Module& module, const BakeFormat& set) {
    const auto count = [](std::size_t value) { return Value(static_cast<double>(value)); };
    using bake::BakedClip;
    addClipTable(module, set, Base::scalar, "first_frame",
                 [&](const BakedClip& clip) { return count(clip.firstFrame); });
    addClipTable(module, set, Base::scalar, "frames",
                 [&](const BakedClip& clip) { return count(clip.length()); });
    if (thinned(set)) {
        addClipTable(module, set, Base::scalar, "stored",
                     [&](const BakedClip& clip) { return count(clip.frames); });
    }
    addClipTable(module, set, Base::scalar, "fps", [](const BakedClip& clip) { return Value(clip.fps); });
    addClipTable(module, set, Base::boolean, "closed",
                 [](const BakedClip& clip) { return code::truth(clip.closed); });
    if (!thinned(set)) {
        return;
    }
    std::vector<float> times;
    for (const BakedClip& clip : set.clips) {
        for (std::size_t f = 0; f < clip.frames; ++f) {
            times.push_back(static_cast<float>(clip.times.empty() ? f : clip.times[f]));
        }
    }
    module.add(code::Gap{});
    module.add(code::Remark{{"The frame of its clip that each stored frame is."}});
    module.add(code::ConstantList{module.own("times"), std::move(times)});
}

/// The shader's side of bake::framePair(): the same steps, in the same order.
class FramesAt {
public:
    explicit FramesAt(Module& module) : module_(module) {}

    void add(bool uneven) {
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
        uneven ? search(body, count, closed, inside) : floorOf(body, count, closed, inside);
        module_.add(Function{comment,
                             Base::vec3,
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

    Module& module_;
};

/// The velocity: how the position changes from one stored frame to the next, by how long that takes.
void addVelocity(bake::ReadingCode& reading, bool uneven) {
    Module& module = reading.module();
    const Value frames = code::named("frames", Base::vec3);
    if (!module.has(module.own("change"))) {
        const auto stored = [&](const Value& frame) {
            return reading.callOf("stored_frame", reading.pose(), {frame}).field("position", Base::vec3);
        };
        Body body;
        body.giveBack(stored(frames.y()) - stored(frames.x()));
        reading.addChange(body);
    }
    const Value clip = code::named("clip", Base::whole);
    const Value frame = code::named("frame", Base::scalar);
    const auto table = [&](const char* what, code::Type type) {
        return code::call(module.own(std::string("clip_") + what), std::move(type), {clip});
    };
    Body body;
    const Value held =
        body.fixed("held", frame < 0.0f && table("closed", Base::boolean) == code::truth(false));
    const Value pair = body.fixed("frames", code::call(module.own("frames_at"), Base::vec3, {clip, frame}));
    Value rate = body.variable("rate", table("fps", Base::scalar));
    if (uneven) {
        const Value times = code::named(module.own("times"), Base::scalar);
        const auto whole = [](const Value& number) { return code::make(Base::whole, {number}); };
        const Value end = body.variable("end", table("frames", Base::scalar));
        body.when(pair.y() > pair.x(), [&](Body& inside) { inside.assign(end, times[whole(pair.y())]); });
        body.assign(rate, rate / (end - times[whole(pair.x())]));
    }
    const Value change = reading.callOf("change", Base::vec3, {pair});
    body.giveBack(code::choose(held, 0.0f, rate) * change);
    reading.addFunction(
        {"The velocity at a frame of the clip, when it plays at its own rate: metres a second in the "
         "mesh's own space,",
         "for motion blur. A vertex that stands still at the end of an open clip has none."},
        Base::vec3, "velocity_at_frame", {{Base::whole, "clip"}, {Base::scalar, "frame"}}, body);
}

/// What is called from outside: by frame, by turn, by seconds.
void addCalls(bake::ReadingCode& reading) {
    Module& module = reading.module();
    const Value clip = code::named("clip", Base::whole);
    const auto table = [&](const char* what, code::Type type) {
        return code::call(module.own(std::string("clip_") + what), std::move(type), {clip});
    };
    const code::Parameter which = {Base::whole, "clip"};
    {
        const Value frame = code::named("frame", Base::scalar);
        Body body;
        body.giveBack(reading.callOf("blended", reading.pose(),
                                     {code::call(module.own("frames_at"), Base::vec3, {clip, frame})}));
        reading.addFunction({"`frame` counts frames of the clip and may lie between two: they are blended."},
                            reading.pose(), "at_frame", {which, {Base::scalar, "frame"}}, body);
    }
    {
        const Value turn = code::named("turn", Base::scalar);
        const auto frameOf = [&](Body& body) {
            const Value count = body.fixed("count", table("frames", Base::scalar));
            return body.fixed("frame", code::choose(table("closed", Base::boolean),
                                                    code::fraction(turn) * count, turn * (count - 1.0f)));
        };
        Body body;
        body.giveBack(reading.callOf("at_frame", reading.pose(), {clip, frameOf(body)}));
        Body moving;
        moving.giveBack(reading.callOf("velocity_at_frame", Base::vec3, {clip, frameOf(moving)}));
        reading.addFunction({}, Base::vec3, "velocity_at_turn", {which, {Base::scalar, "turn"}}, moving);
        reading.addFunction({"`turn` is one trip through the clip per whole number. A closed clip wraps it; "
                             "wrap it yourself as well (in",
                             "double precision, or by restarting it) if the game runs for hours: large "
                             "floats lose their fraction."},
                            reading.pose(), "at_turn", {which, {Base::scalar, "turn"}}, body);
    }
    const Value frame = code::named("seconds", Base::scalar) * table("fps", Base::scalar);
    Body body;
    body.giveBack(reading.callOf("at_frame", reading.pose(), {clip, frame}));
    reading.addFunction({"Seconds since the clip began, at its own rate."}, reading.pose(), "at_seconds",
                        {which, {Base::scalar, "seconds"}}, body);
    Body moving;
    moving.giveBack(reading.callOf("velocity_at_frame", Base::vec3, {clip, frame}));
    reading.addFunction({}, Base::vec3, "velocity_at_seconds", {which, {Base::scalar, "seconds"}}, moving);
}

} // namespace

std::string readerExample(const Dialect& dialect, const std::string& name, const BakeFormat& textures,
                          const mesh::Bounds& bounds, const ReaderPlaces& places) {
    const std::string id = identifier(name);
    VertexStage stage;
    stage.about =
        "A vertex stage that plays " + id + ", as an example. Written by " + base::generatorName() + ".";
    stage.code = readerCode(dialect, name, textures, bounds);
    stage.result = id + "_pose";
    stage.call = id + "_at_seconds";
    stage.velocity = id + "_velocity_at_seconds";
    stage.textures = readerSamplers(textures);
    stage.clips = true;
    const auto uv = [&](std::size_t set) {
        const std::string own = "texcoord_" + std::to_string(set);
        const bool known = std::any_of(stage.attributes.begin(), stage.attributes.end(),
                                       [&](const auto& each) { return each.name == own; });
        if (!known) {
            stage.attributes.push_back({Base::vec2, own, "TEXCOORD_" + std::to_string(set)});
        }
        return own;
    };
    stage.attributes = {{Base::vec3, "position", "POSITION"}, {Base::vec3, "normal", "NORMAL"}};
    stage.arguments = stage.textures;
    stage.arguments.insert(stage.arguments.end(), {uv(places.lookupUvSet), "position", "normal"});
    if (readerWantsPivot(textures)) {
        const std::string first = uv(places.pivotUvSet);
        const std::string second = uv(places.pivotUvSet + 1);
        stage.arguments.push_back(dialect.type(Base::vec3) + "(" + first + ".x, " + first + ".y, " + second +
                                  ".x)");
    }
    stage.arguments.push_back("clip_number");
    if (places.baseUvSet) {
        stage.baseUv = uv(*places.baseUvSet);
    }
    return dialect.vertexStage(stage);
}

std::vector<std::string> readerSamplers(const BakeFormat& textures) {
    std::vector<std::string> samplers;
    for (const bake::TextureFormat& texture : textures.textures) {
        samplers.push_back(texture.sampler());
    }
    return samplers;
}

bool readerWantsPivot(const BakeFormat& textures) {
    return textures.kind->hasPivots;
}

namespace {

Module readerModule(const Dialect& dialect, const std::string& name, const BakeFormat& textures,
                    const mesh::Bounds& bounds) {
    const bake::Layout& layout = textures.layout;
    Module module{identifier(name), {}};
    module.add(headOf(dialect, name, textures, bounds));
    module.add(code::Gap{});
    code::Record pose{module.own("pose"), {{Base::vec3, "position"}, {Base::vec3, "normal"}}};
    if (textures.tangents) {
        pose.fields.push_back({Base::vec3, "tangent"});
    }
    module.add(pose);
    module.add(code::Gap{});
    module.add(code::Constant{module.own("clip_count"),
                              Value(static_cast<int>(textures.clips.size())).expression()});
    const double height = static_cast<double>(layout.rowsPerBlock) / static_cast<double>(layout.height());
    module.add(code::Constant{module.own("frame_height"), Value(height).expression()});
    addClipTables(module, textures);
    bake::ReadingCode reading(module, textures);
    FramesAt(module).add(thinned(textures));
    textures.kind->addCode(reading);
    addVelocity(reading, thinned(textures));
    addCalls(reading);
    return module;
}

} // namespace

std::string readerCode(const Dialect& dialect, const std::string& name, const BakeFormat& textures,
                       const mesh::Bounds& bounds) {
    return dialect.print(readerModule(dialect, name, textures, bounds)).text;
}

ReaderCost readerCost(const BakeFormat& textures, const mesh::Bounds& bounds) {
    const Module module = readerModule(glsl(), "bake", textures, bounds);
    return {code::costOf(module, module.own("at_seconds")),
            code::costOf(module, module.own("velocity_at_seconds"))};
}

} // namespace ripple::emit
