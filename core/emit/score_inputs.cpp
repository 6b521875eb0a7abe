// What a score's code takes: its inputs with their names, in the target's axes and unit.

#include "emit/identifier.h"
#include "emit/score_expressions.h"

#include <algorithm>

namespace ripple::emit {

using code::Base;
using code::Value;
using motion::Node;
using motion::Op;

namespace {

/// Names of stored values may differ in signs only that no identifier has: each gets one of its own.
std::string storedName(const std::vector<std::string>& stored, std::size_t index) {
    std::vector<std::string> taken;
    const auto isTaken = [&](const std::string& name) {
        return std::find(taken.begin(), taken.end(), name) != taken.end();
    };
    for (std::size_t i = 0; i <= index; ++i) {
        const std::string plain = identifier(stored[i]);
        std::string own = plain;
        for (int n = 2; isTaken(own) || isTaken("slope_" + own); ++n) {
            own = plain + "_" + std::to_string(n);
        }
        taken.push_back(own);
        taken.push_back("slope_" + own);
    }
    return taken[taken.size() - 2];
}

} // namespace

Value turned(const mesh::AxisMap& map, const Value& direction) {
    if (!map.turns()) {
        return direction;
    }
    std::vector<Value> parts;
    for (std::size_t c = 0; c < 3; ++c) {
        const char from[] = {"xyz"[map.order[c]], '\0'};
        const Value part = direction.components(from);
        parts.push_back(map.negative[c] ? -part : part);
    }
    return code::make(Base::vec3, parts);
}

Value placed(const mesh::AxisMap& map, const Value& point) {
    const Value axes = turned(map, point);
    return map.unit == 1.0 ? axes : axes * static_cast<float>(map.unit);
}

InputRow inputOf(const Node& node, const std::vector<std::string>& stored) {
    const std::string set = std::to_string(node.whole / 2);
    const std::string channel(1, kChannels[node.whole & 3]);
    const auto name = [&] { return storedName(stored, static_cast<std::size_t>(node.whole)); };
    const char* slope = "how it changes along the surface, per metre";
    const auto row = [&](code::Type type, std::int32_t whole, std::string own, std::string words) {
        return InputRow{{node.op, whole, {}, std::move(own), std::move(words)}, std::move(type)};
    };
    switch (node.op) {
    case Op::position:
        return row(Base::vec3, 0, "rest_position", "the mesh as imported, in its own space");
    case Op::normal:
        return row(Base::vec3, 0, "rest_normal", "");
    case Op::uv:
        return row(Base::vec2, node.whole / 2, "uv_set_" + set, "UV set " + set + ", counted from 0");
    case Op::uvSlope:
        return row(Base::vec3, node.whole, std::string(node.whole % 2 ? "v" : "u") + "_slope_" + set, slope);
    case Op::colour:
        return row(Base::vec4, 0, "vertex_colour", "linear");
    case Op::colourSlope:
        return row(Base::vec3, node.whole, "colour_slope_" + channel, slope);
    case Op::stored:
        return row(Base::scalar, node.whole, "stored_" + name(), "the value stored at the vertex");
    case Op::storedSlope:
        return row(Base::vec3, node.whole, "stored_slope_" + name(), slope);
    case Op::copyId:
        return row(Base::scalar, 0, "copy_id", "0 to 1, another one for each copy");
    case Op::copyScale:
        return row(Base::scalar, 0, "copy_scale", "from the object to the world");
    case Op::copyOrigin:
        return row(Base::vec3, 0, "copy_origin", "where the copy stands in the world, in its unit");
    case Op::copyX:
    case Op::copyY:
    case Op::copyZ:
    // clang-format off
    case Op::turn: case Op::parameter: case Op::wholeParameter: case Op::numberOf: case Op::timesWhole:
    case Op::constant: case Op::constant3: case Op::add: case Op::subtract:
    case Op::multiply: case Op::divide: case Op::least: case Op::most: case Op::negate: case Op::absolute:
    case Op::root: case Op::smooth: case Op::select: case Op::half: case Op::half3: case Op::timesTurn:
    case Op::laterTurn:
    case Op::placeOnCircle: case Op::sine: case Op::cosine: case Op::sinc: case Op::fraction:
    case Op::add3: case Op::subtract3: case Op::negate3: case Op::scale3: case Op::dot: case Op::cross:
    case Op::compose: case Op::x: case Op::y: case Op::z: case Op::unit3: case Op::noise1: case Op::noise2:
    case Op::noise3: case Op::curve: case Op::valueOf: case Op::slopeOf:
        // clang-format on
        break; // the three axes are one matrix; all others are no inputs
    }
    InputRow axes =
        row(Base::mat3, 0, "copy_axes", "[0] [1] [2]: the object's axes in the world, unit length");
    axes.input.op = Op::copyX;
    return axes;
}

bool isInput(Op op) {
    return op <= Op::storedSlope || (op >= Op::copyId && op <= Op::copyZ);
}

std::string commentOf(const std::string& text) {
    std::string line;
    for (const char c : text) {
        line += static_cast<unsigned char>(c) < 0x20 || c == '\\' ? ' ' : c; // a backslash joins lines
    }
    return line;
}

void addBounds(code::Module& module, const std::string& what, const mesh::Bounds& bounds, const char* when) {
    module.add(code::Gap{});
    module.add(code::Remark{{std::string("The mesh stays in this box ") + when +
                             ", in its own space: what a renderer culls by."}});
    module.add(code::Constant{module.own(what + "_min"), code::vec3(bounds.min).expression()});
    module.add(code::Constant{module.own(what + "_max"), code::vec3(bounds.max).expression()});
}

} // namespace ripple::emit
