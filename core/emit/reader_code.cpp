#include "emit/reader_code.h"

#include "bake/joint_texels.h"
#include "bake/kind.h"
#include "bake/reading_code.h"
#include "bake/test_row.h"
#include "base/units.h"
#include "base/version.h"
#include "emit/reader_calls.h"
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
    head.lines.push_back(
        set.joints.inUvs
            ? "  joint_*        the joints that a vertex follows, and their weights: UV sets, see IMPORT.md"
            : "  lookup_uv      the mesh's lookup UV set, in full float precision");
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

} // namespace

std::string readerExample(const Dialect& dialect, const std::string& name, const BakeFormat& textures,
                          const mesh::Bounds& bounds, const ReaderPlaces& places, bool bySeconds) {
    return dialect.vertexStage(readerStage(dialect, name, textures, bounds, places, bySeconds));
}

VertexStage readerStage(const Dialect& dialect, const std::string& name, const BakeFormat& textures,
                        const mesh::Bounds& bounds, const ReaderPlaces& places, bool bySeconds) {
    const std::string id = identifier(name);
    VertexStage stage;
    stage.about =
        "A vertex stage that plays " + id + ", as an example. Written by " + base::generatorName() + ".";
    stage.code = readerCode(dialect, name, textures, bounds);
    stage.result = id + "_pose";
    stage.clock = bySeconds ? "seconds" : "turn";
    stage.call = id + "_at_" + stage.clock;
    stage.velocity = id + "_velocity_at_" + stage.clock;
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
    if (textures.joints.inUvs) {
        // The first pair of joints lies in the lookup's set, what follows behind the other sets.
        std::vector<std::string> sets = {uv(places.lookupUvSet)};
        for (std::size_t s = 1; s < bake::setsOf(textures.joints.influences); ++s) {
            sets.push_back(uv(places.pivotUvSet + s - 1));
        }
        const auto four = [&](std::size_t s) {
            return dialect.type(Base::vec4) + "(" + sets[s] + ", " + sets[s + 1] + ")";
        };
        if (textures.joints.influences == 8) {
            stage.arguments.insert(stage.arguments.end(), {four(0), four(2), four(4)});
        } else {
            stage.arguments.insert(stage.arguments.end(), {sets[0], four(1)});
        }
    } else {
        stage.arguments.push_back(uv(places.lookupUvSet));
    }
    stage.arguments.insert(stage.arguments.end(), {"position", "normal"});
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
    return stage;
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
    addBounds(module, "bounds", bounds, "throughout all clips");
    bake::ReadingCode reading(module, textures);
    addFramesAt(reading, thinned(textures));
    textures.kind->addCode(reading);
    addCalls(reading, thinned(textures));
    if (layout.testRow) {
        bake::addTestRowCode(reading);
    }
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
