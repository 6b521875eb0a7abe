#include "bake/reading_code.h"

#include "bake/frame_blend.h"
#include "bake/kind.h"

namespace ripple::bake {

using code::Base;
using code::Body;
using code::Value;

ReadingCode::ReadingCode(code::Module& module, const BakeFormat& set) : module_(module), set_(set) {
    addTurning();
    if (set.positionStore.usesRange) {
        addRanges();
    }
}

std::vector<code::Parameter> ReadingCode::parameters(std::vector<code::Parameter> more) const {
    std::vector<code::Parameter> all;
    for (const TextureFormat& texture : set_.textures) {
        all.push_back({Base::texture, texture.sampler()});
    }
    if (set_.joints.inUvs) {
        all.push_back({set_.joints.influences == 8 ? Base::vec4 : Base::vec2, "joint_pairs"});
        all.push_back({Base::vec4, "joint_weights"});
        if (set_.joints.influences == 8) {
            all.push_back({Base::vec4, "more_joint_weights"});
        }
    } else {
        all.push_back({Base::vec2, "lookup_uv"});
    }
    all.push_back({Base::vec3, "rest_position"});
    all.push_back({Base::vec3, "rest_normal"});
    if (set_.kind->hasPivots) {
        all.push_back({Base::vec3, "pivot"});
    }
    all.insert(all.end(), more.begin(), more.end());
    return all;
}

std::vector<Value> ReadingCode::arguments(const std::vector<Value>& more) const {
    std::vector<Value> all = code::valuesOf(parameters({}));
    all.insert(all.end(), more.begin(), more.end());
    return all;
}

Value ReadingCode::uvOf(const Value& frame) const {
    const Value given = code::named("lookup_uv", Base::vec2);
    const Value lookup = code::call(module_.own("from_top"), Base::vec2,
                                    {given, code::named(module_.own("v_from_below"), Base::boolean)});
    const Value height = code::named(module_.own("frame_height"), Base::scalar);
    return code::make(Base::vec2, {lookup.x(), lookup.y() + frame * height});
}

void ReadingCode::addTurning() {
    module_.add(code::Gap{});
    module_.add(code::Remark{
        {"True where the loader of images turns their rows; where the mesh's importer turns V into 1 - V.",
         "The bundle's test file says which is right: see IMPORT.md."}});
    module_.add(code::Constant{module_.own("rows_from_below"), code::truth(set_.rowsFromBelow).expression()});
    module_.add(code::Constant{module_.own("v_from_below"), code::truth(set_.vFromBelow).expression()});
    const std::vector<code::Parameter> parameters = {{Base::vec2, "uv"}, {Base::boolean, "turned"}};
    const auto p = code::valuesOf(parameters);
    Body body;
    body.giveBack(code::make(Base::vec2, {p[0].x(), code::choose(p[1], 1.0f - p[0].y(), p[0].y())}));
    module_.add(code::Function{
        {"v counted from the top row."}, Base::vec2, module_.own("from_top"), parameters, body.take()});
}

Value ReadingCode::pivot() const {
    const Value given = code::named("pivot", Base::vec3);
    const Value turned = code::named(module_.own("v_from_below"), Base::boolean);
    return code::make(Base::vec3, {given.x(), code::choose(turned, 1.0f - given.y(), given.y()), given.z()});
}

Value ReadingCode::numbersInUvs(const std::string& name, const code::Type& type) const {
    const Value given = code::named(name, type);
    const Value turned = code::named(module_.own("v_from_below"), Base::boolean);
    const auto pair = [&](const Value& uv) {
        return code::call(module_.own("from_top"), Base::vec2, {uv, turned});
    };
    if (type == code::Type(Base::vec2)) {
        return pair(given);
    }
    return code::make(Base::vec4, {pair(given.xy()), pair(given.components("zw"))});
}

Value ReadingCode::sampled(const Value& texture, const Value& uv) const {
    return code::sample(texture,
                        code::call(module_.own("from_top"), Base::vec2,
                                   {uv, code::named(module_.own("rows_from_below"), Base::boolean)}));
}

Value ReadingCode::fetched(const Value& texture, std::size_t height, const Value& column,
                           const Value& row) const {
    const Value turned = code::named(module_.own("rows_from_below"), Base::boolean);
    return code::fetch(texture, column, code::choose(turned, static_cast<int>(height) - 1 - row, row));
}

std::vector<Value> ReadingCode::texels(Body& body, const Quantity& quantity, const Value& uv) const {
    const auto read = [&](const char* name, std::size_t plane) {
        return body.fixed(name, sampled(texture(quantity, plane), uv));
    };
    if (set_.positionStore.planes == 1) {
        return {read("texel", 0)};
    }
    std::vector<Value> both = {read("high", 0)};
    both.push_back(read("low", 1));
    return both;
}

Value ReadingCode::decoded(const std::vector<Value>& texels, const Value& frame) {
    const Value value = set_.positionStore.shader(texels).xyz();
    if (!set_.positionStore.usesRange) {
        return value;
    }
    return code::call(module_.own("range_min"), Base::vec3, {frame}) +
           value * code::call(module_.own("range_size"), Base::vec3, {frame});
}

void ReadingCode::addFunction(std::vector<std::string> comment, code::Type result, const std::string& what,
                              const std::vector<code::Parameter>& more, Body& body) {
    module_.add(code::Function{std::move(comment), std::move(result), module_.own(what), parameters(more),
                               body.take()});
}

Value BlendedFrames::sum(const std::vector<Value>& values) const {
    if (along) {
        return code::mix(values[0], values[1], *along);
    }
    Value total = values.size() == 1 ? values[0] : values[0] * entries[0].weight;
    for (std::size_t i = 1; i < values.size(); ++i) {
        total = total + values[i] * entries[i].weight;
    }
    return total;
}

Value BlendedFrames::rate(const std::vector<Value>& values) const {
    if (along) {
        return values[1] - values[0];
    }
    Value total = values[0] * entries[0].rate;
    for (std::size_t i = 1; i < values.size(); ++i) {
        total = total + values[i] * entries[i].rate;
    }
    return total;
}

code::Type ReadingCode::framesType() const {
    return set_.blend == Blend::cubic ? code::Type::of(module_.own("frames")) : code::Type(Base::vec3);
}

BlendedFrames ReadingCode::taken(const Value& frames) const {
    BlendedFrames result;
    if (set_.blend == Blend::linear) {
        result.entries = {{frames.x(), 1.0f - frames.z(), -1.0f}, {frames.y(), frames.z(), 1.0f}};
        result.along = frames.z();
        return result;
    }
    const Value stored = frames.field("stored", Base::vec4);
    const Value weights = frames.field("weights", Base::vec4);
    const Value rates = frames.field("rates", Base::vec4);
    for (const char* which : {"x", "y", "z", "w"}) {
        result.entries.push_back({stored.components(which), weights.components(which),
                                  rates.components(which), kNearOnCurve[result.entries.size()]});
    }
    return result;
}

BlendedFrames ReadingCode::fading(bool withRates) const {
    const Value from = code::named("frames_from", framesType());
    const Value to = code::named("frames_to", framesType());
    const Value weight = code::named("weight", Base::scalar);
    const Value rates = code::named("rates", Base::vec3);
    BlendedFrames both;
    for (const BlendedFrames::Entry& own : taken(from).entries) {
        both.entries.push_back({own.frame, (1.0f - weight) * own.weight,
                                (1.0f - weight) * rates.x() * own.rate - rates.z() * own.weight, own.near});
    }
    const std::size_t first = both.entries.size();
    for (const BlendedFrames::Entry& own : taken(to).entries) {
        both.entries.push_back({own.frame, weight * own.weight,
                                weight * rates.y() * own.rate + rates.z() * own.weight,
                                nearInFade(both.entries.size() - first, own.near, first)});
    }
    both.parameters = {{framesType(), "frames_from"}, {framesType(), "frames_to"}, {Base::scalar, "weight"}};
    if (withRates) {
        both.parameters.push_back({Base::vec3, "rates"});
    }
    return both;
}

void ReadingCode::addBlends(const Blended& pose, const Blended& change) {
    const auto add = [&](const char* name, BlendedFrames frames, const Blended& write,
                         std::vector<std::string> comment) {
        frames.name = name;
        Body body;
        write(body, frames);
        addFunction(std::move(comment), &write == &pose ? this->pose() : code::Type(Base::vec3), name,
                    frames.parameters, body);
    };
    if (!module_.has(module_.own("stored_frame"))) {
        BlendedFrames only;
        only.entries = {{code::named("stored_frame", Base::scalar), 1.0f, 0.0f}};
        only.parameters = {{Base::scalar, "stored_frame"}};
        add("stored_frame", only, pose, {"A stored frame, counted over all clips."});
    }
    BlendedFrames beside = taken(code::named("frames", framesType()));
    beside.parameters = {{framesType(), "frames"}};
    add("blended", beside, pose,
        {set_.blend == Blend::linear
             ? "`frames`: two stored frames and how far it is from the one to the other."
             : "`frames`: four stored frames on a curve, each with its weight."});
    add("change", beside, change,
        {"How fast the position changes there: the way from one stored frame to the next."});
    add("faded", fading(false), pose,
        {"A cross-fade of two moments: `weight` is that of the second. What is stored is blended, not the "
         "two "
         "poses."});
    add("fading_change", fading(true), change,
        {"How fast the position changes in a cross-fade. `rates`: of the frames of both moments, and of the "
         "weight."});
}

void ReadingCode::addRanges() {
    const auto add = [&](const char* what, const auto& valueOf) {
        const Value frame = code::named("stored_frame", Base::scalar);
        Body body;
        for (std::size_t r = 0; r + 1 < set_.ranges.size(); ++r) {
            const BakedClip& clip = set_.clips[r];
            const double end = static_cast<double>(clip.firstFrame + clip.frames) - 0.5;
            body.when(frame < end, [&](Body& inner) { inner.giveBack(code::vec3(valueOf(set_.ranges[r]))); });
        }
        body.giveBack(code::vec3(valueOf(set_.ranges.back())));
        module_.add(
            code::Function{{}, Base::vec3, module_.own(what), {{Base::scalar, "stored_frame"}}, body.take()});
    };
    add("range_min", [](const Range& range) { return range.min; });
    add("range_size", [](const Range& range) { return range.max - range.min; });
}

} // namespace ripple::bake
