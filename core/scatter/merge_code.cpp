#include "scatter/merge_code.h"

#include "code/library.h"
#include "code/value.h"

namespace ripple::scatter {

using code::Base;
using code::Body;
using code::Function;
using code::Parameter;
using code::Value;

namespace {

/// Pivot::rotation(): upright to the tilt by the shortest way, after the yaw.
Value rotationOf(code::Module& module, Body& body, const Value& yaw, const Value* tilt) {
    const Value s = body.fixed("s", code::exactSine(module, 0.5f * yaw));
    const Value c = body.fixed("c", code::exactSine(module, 0.5f * yaw + 0.25f));
    if (!tilt) {
        return code::make(Base::vec4, {Value(0.0f), s, Value(0.0f), c});
    }
    const Value square = body.fixed("square", code::dot(*tilt, *tilt));
    const Value up = body.fixed("up", 1.0f - square);
    const Value upright =
        body.fixed("upright", code::most(up, 1e-12f) * code::inverseRoot(code::most(up, 1e-12f)));
    const Value first =
        body.fixed("way", code::normalize(code::make(Base::vec3, {tilt->y(), -tilt->x(), 1.0f + upright})));
    return code::make(Base::vec4, {c * first.x() - s * first.y(), s * first.z(),
                                   c * first.y() + s * first.x(), c * first.z()});
}

class MergeCode {
public:
    MergeCode(code::Module& module, Keeps keeps, bool tilted, const mesh::Bounds& box)
        : module_(module),
          keeps_(keeps),
          tilted_(tilted),
          box_(box),
          pivot_(code::Type::of(module.own("pivot"))) {}

    void add() {
        module_.add(code::Gap{});
        module_.add(
            code::Remark{{"For copies that were merged into one mesh: the place of a vertex's own copy."}});
        module_.add(code::Record{pivot_.record,
                                 {{Base::vec3, "origin"},
                                  {Base::vec4, "rotation"},
                                  {Base::scalar, "scale"},
                                  {Base::scalar, "id"}}});
        keeps_ == Keeps::colours ? addOfColour() : addOfUvs();
        const auto rotated = [&](const Value& q, const Value& v) { return code::rotated(module_, q, v); };
        addWay("unmerged", "A place of the merged mesh, in the copy's own space.",
               [&](const Value& pivot, const Value& v) {
                   return rotated(turnedBack(pivot), v - origin(pivot)) / scale(pivot);
               });
        addWay("unmerged_direction", "A direction of the merged mesh, in the copy's own space.",
               [&](const Value& pivot, const Value& v) { return rotated(turnedBack(pivot), v); });
        addWay("merged", "A place of the copy's own space, in the merged mesh.",
               [&](const Value& pivot, const Value& v) {
                   return origin(pivot) + scale(pivot) * rotated(rotation(pivot), v);
               });
        addWay("merged_direction", "A direction of the copy's own space, in the merged mesh.",
               [&](const Value& pivot, const Value& v) { return rotated(rotation(pivot), v); });
        addAxes();
    }

private:
    static Value origin(const Value& pivot) { return pivot.field("origin", Base::vec3); }
    static Value rotation(const Value& pivot) { return pivot.field("rotation", Base::vec4); }
    static Value scale(const Value& pivot) { return pivot.field("scale", Base::scalar); }
    static Value turnedBack(const Value& pivot) {
        return code::make(Base::vec4, {-rotation(pivot).xyz(), rotation(pivot).w()});
    }

    void giveBack(Body& body, const Value& origin, const Value& turned, const Value& size, const Value& id) {
        const Value made = body.variable("made", pivot_);
        body.assign(made.field("origin", Base::vec3), origin);
        body.assign(made.field("rotation", Base::vec4), turned);
        body.assign(made.field("scale", Base::scalar), size);
        body.assign(made.field("id", Base::scalar), id);
        body.giveBack(made);
    }

    void addOfUvs() {
        std::vector<Parameter> parameters = {
            {Base::vec2, "first"}, {Base::vec2, "second"}, {Base::vec2, "third"}};
        if (tilted_) {
            parameters.push_back({Base::vec2, "fourth"});
        }
        const auto p = code::valuesOf(parameters);
        Body body;
        const Value turned = rotationOf(module_, body, p[1].y(), tilted_ ? &p[3] : nullptr);
        giveBack(body, code::make(Base::vec3, {p[0], p[1].x()}), turned, p[2].x(), p[2].y());
        module_.add(Function{{"Of the UV pairs that hold it, in their order."},
                             pivot_,
                             module_.own("pivot_of"),
                             parameters,
                             body.take()});
    }

    void addOfColour() {
        const std::vector<Parameter> parameters = {{Base::vec4, "colour"}};
        const auto p = code::valuesOf(parameters);
        Body body;
        const Value turned = rotationOf(module_, body, p[0].w() * (255.0f / 256.0f), nullptr);
        giveBack(body, code::vec3(box_.min) + p[0].xyz() * code::vec3(box_.size()), turned, 1.0f, 0.0f);
        module_.add(Function{{"Of the vertex colour that holds it: linear, 0 to 1."},
                             pivot_,
                             module_.own("pivot_of"),
                             parameters,
                             body.take()});
    }

    void addWay(const char* name, const char* comment,
                const std::function<Value(const Value& pivot, const Value& v)>& way) {
        const std::vector<Parameter> parameters = {{pivot_, "pivot"}, {Base::vec3, "v"}};
        const auto p = code::valuesOf(parameters);
        Body body;
        body.giveBack(way(p[0], p[1]));
        module_.add(Function{{comment}, Base::vec3, module_.own(name), parameters, body.take()});
    }

    void addAxes() {
        const std::vector<Parameter> parameters = {{pivot_, "pivot"}};
        const auto p = code::valuesOf(parameters);
        Body body;
        const auto axis = [&](const glm::vec3& of) {
            return code::rotated(module_, rotation(p[0]), code::vec3(of));
        };
        body.giveBack(code::make(
            Base::mat3, {axis({1.0f, 0.0f, 0.0f}), axis({0.0f, 1.0f, 0.0f}), axis({0.0f, 0.0f, 1.0f})}));
        module_.add(Function{{"The copy's axes, for functions that take copy_axes."},
                             Base::mat3,
                             module_.own("pivot_axes"),
                             parameters,
                             body.take()});
    }

    code::Module& module_;
    Keeps keeps_;
    bool tilted_;
    mesh::Bounds box_;
    code::Type pivot_;
};

} // namespace

void addMergeCode(code::Module& module, Keeps keeps, bool tilted, const mesh::Bounds& box) {
    MergeCode(module, keeps, tilted, box).add();
}

} // namespace ripple::scatter
