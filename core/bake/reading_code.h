#pragma once

#include "bake/texture_set.h"
#include "code/value.h"

#include <string>
#include <vector>

namespace ripple::bake {

/// What the reading code of all kinds is made of: the parameters that its functions share, and how what is
/// stored is fetched and decoded. Functions that it needs are added to the module.
class ReadingCode {
public:
    /// Both must outlive this.
    ReadingCode(code::Module& module, const BakeFormat& set);

    code::Module& module() { return module_; }
    const BakeFormat& set() const { return set_; }
    code::Type pose() const { return code::Type::of(module_.own("pose")); }

    /// The textures in their order, lookup_uv, rest_position, rest_normal and, if the kind wants it, the
    /// pivot; then `more`.
    std::vector<code::Parameter> parameters(std::vector<code::Parameter> more) const;
    /// The same as arguments of a call.
    std::vector<code::Value> arguments(const std::vector<code::Value>& more) const;

    code::Value restPosition() const { return code::named("rest_position", code::Base::vec3); }
    code::Value restNormal() const { return code::named("rest_normal", code::Base::vec3); }
    code::Value pivot() const { return code::named("pivot", code::Base::vec3); }
    code::Value texture(const Quantity& quantity, std::size_t plane = 0) const {
        return code::named(set_.find(quantity, plane)->sampler(), code::Base::texture);
    }

    /// Where the vertex's column lies in a stored frame, or shape.
    code::Value uvOf(const code::Value& frame) const;
    /// The texels of one quantity at `uv`, as locals: one, or two with the high and the low bytes.
    std::vector<code::Value> texels(code::Body& body, const Quantity& quantity, const code::Value& uv) const;
    /// What the position store holds, a vec3: 0..1 becomes the range's values.
    code::Value decoded(const std::vector<code::Value>& texels, const code::Value& frame);
    /// The unit vec3 that the store of normals holds.
    code::Value direction(const code::Value& texel) { return set_.normalStore.shader(module_, texel); }

    void addFunction(std::vector<std::string> comment, code::Type result, const std::string& what,
                     const std::vector<code::Parameter>& more, code::Body& body);
    code::Value callOf(const std::string& what, code::Type result,
                       const std::vector<code::Value>& more) const {
        return code::call(module_.own(what), std::move(result), arguments(more));
    }
    /// NAME_change(frames): how fast the position changes at a blend of two stored frames, in metres from the
    /// one to the other. Kinds without it get the difference of the two.
    void addChange(code::Body& body);
    /// stored_frame() by way of blended(): for kinds that blend what they read before they make a pose of it.
    void addStoredFrameOfBlended();

private:
    void addRanges();

    code::Module& module_;
    const BakeFormat& set_;
};

// The body of each kind: records and functions up to NAME_stored_frame and NAME_blended.

void addVertexCode(ReadingCode& code);
void addPieceCode(ReadingCode& code);
void addShapeCode(ReadingCode& code);

} // namespace ripple::bake
