#include "bake/reading_code.h"

#include "bake/kind.h"

namespace ripple::bake {

using code::Base;
using code::Body;
using code::Value;

ReadingCode::ReadingCode(code::Module& module, const BakeFormat& set) : module_(module), set_(set) {
    if (set.positionStore.usesRange) {
        addRanges();
    }
}

std::vector<code::Parameter> ReadingCode::parameters(std::vector<code::Parameter> more) const {
    std::vector<code::Parameter> all;
    for (const TextureFormat& texture : set_.textures) {
        all.push_back({Base::texture, texture.sampler()});
    }
    all.push_back({Base::vec2, "lookup_uv"});
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
    const Value lookup = code::named("lookup_uv", Base::vec2);
    const Value height = code::named(module_.own("frame_height"), Base::scalar);
    return code::make(Base::vec2, {lookup.x(), lookup.y() + frame * height});
}

std::vector<Value> ReadingCode::texels(Body& body, const Quantity& quantity, const Value& uv) const {
    const auto read = [&](const char* name, std::size_t plane) {
        return body.fixed(name, code::sample(texture(quantity, plane), uv));
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

void ReadingCode::addChange(code::Body& body) {
    addFunction(
        {"How fast the position changes at a blend of two stored frames: metres from the one to the other."},
        code::Base::vec3, "change", {{code::Base::vec3, "frames"}}, body);
}

void ReadingCode::addStoredFrameOfBlended() {
    const Value frame = code::named("stored_frame", Base::scalar);
    Body body;
    body.giveBack(callOf("blended", pose(), {code::make(Base::vec3, {frame, frame, 0.0f})}));
    addFunction({"A stored frame, counted over all clips."}, pose(), "stored_frame",
                {{Base::scalar, "stored_frame"}}, body);
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
