#include "scatter/copy_code.h"

#include "code/value.h"

namespace ripple::scatter {

using code::Base;
using code::Body;
using code::Function;
using code::natural;
using code::Parameter;
using code::Value;

namespace {

/// motion::latticeHash(), and its upper 24 bits as 0..1.
void addHash(code::Module& module) {
    const std::vector<Parameter> parameters = {
        {Base::natural, "seed"}, {Base::natural, "index"}, {Base::natural, "purpose"}};
    const auto p = code::valuesOf(parameters);
    Body body;
    const Value h = body.variable("h", p[1] * natural(0x8DA6B343u) + p[2] * natural(0xD8163841u) +
                                           p[0] * natural(0x9E3779B1u));
    body.assign(h, h ^ (h >> 16));
    body.assign(h, h * natural(0x7FEB352Du));
    body.assign(h, h ^ (h >> 15));
    body.assign(h, h * natural(0x846CA68Bu));
    body.assign(h, h ^ (h >> 16));
    body.giveBack(code::make(Base::scalar, {h >> 8}) * (1.0f / 16777216.0f));
    module.add(Function{{"A number in 0..1 for each copy and purpose, the same on every processor."},
                        Base::scalar,
                        module.own("copy_hash"),
                        parameters,
                        body.take()});
}

} // namespace

void addCopyCode(code::Module& module, const Differences& differences) {
    const code::Type copy = code::Type::of(module.own("copy"));
    module.add(code::Gap{});
    module.add(code::Record{copy.record,
                            {{Base::whole, "clip"},
                             {Base::scalar, "start"},
                             {Base::scalar, "rate"},
                             {Base::scalar, "turn"},
                             {Base::scalar, "size"},
                             {Base::scalar, "tint"},
                             {Base::scalar, "id"}}});
    addHash(module);
    const std::vector<Parameter> parameters = {{Base::natural, "seed"}, {Base::natural, "index"}};
    const auto p = code::valuesOf(parameters);
    const auto of = [&](Purpose purpose) {
        return code::call(module.own("copy_hash"), Base::scalar,
                          {p[0], p[1], natural(static_cast<std::uint32_t>(purpose))});
    };
    Body body;
    const Value made = body.variable("made", copy);
    const auto set = [&](const char* field, const Value& value) {
        body.assign(made.field(field, Base::scalar), value);
    };
    const Value chosen = body.fixed("chosen", of(Purpose::clip));
    const Value clip = made.field("clip", Base::whole);
    body.assign(clip, 0);
    const std::vector<float> limits = clipLimits(differences.clipWeights);
    for (std::size_t c = 0; c + 1 < limits.size(); ++c) {
        body.when(chosen >= limits[c], [&](Body& next) { next.assign(clip, static_cast<int>(c + 1)); });
    }
    set("start", differences.startSpread * of(Purpose::start));
    set("rate", 1.0f + differences.rateSpread * (2.0f * of(Purpose::rate) - 1.0f));
    set("turn", differences.turnSpread * of(Purpose::turn));
    set("size", differences.leastSize + (differences.mostSize - differences.leastSize) * of(Purpose::size));
    set("tint", of(Purpose::tint));
    set("id", of(Purpose::id));
    body.giveBack(made);
    module.add(
        Function{{"What a copy differs in: its clip; where on its way that begins (0..1); its rate, of the "
                  "clip's own; its turn",
                  "about the up direction (turns); its size; how far its tint goes from the first to the "
                  "second; its id."},
                 copy,
                 module.own("copy_of"),
                 parameters,
                 body.take()});
}

} // namespace ripple::scatter
