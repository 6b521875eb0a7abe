#pragma once

#include "bake/texture_set.h"
#include "code/value.h"

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace ripple::bake {

/// Stored frames that the code blends: each with its weight, and with how fast that weight changes where a
/// velocity is made of them.
struct BlendedFrames {
    struct Entry {
        code::Value frame;
        code::Value weight;
        code::Value rate;
        std::size_t near = 0; ///< of which entry before it its rotations lie near: FrameBlend::near
    };
    std::vector<Entry> entries;
    std::optional<code::Value> along;        ///< of two: the way from the first to the second
    std::string name;                        ///< of the function that blends: "blended"
    std::vector<code::Parameter> parameters; ///< by which the entries are named

    code::Value sum(const std::vector<code::Value>& values) const;  ///< each by its weight
    code::Value rate(const std::vector<code::Value>& values) const; ///< each by its rate
};

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
    /// Its y lies in a V, which an importer may turn.
    code::Value pivot() const;
    /// A vec2 or vec4 of UV sets that hold numbers, as they were before an importer turned V.
    code::Value numbersInUvs(const std::string& name, const code::Type& type) const;
    code::Value texture(const Quantity& quantity, std::size_t plane = 0) const {
        return code::named(set_.find(quantity, plane)->sampler(), code::Base::texture);
    }

    /// The texel of a texture at `uv`, whose v counts from the top row; and at a column and a row. Loaders
    /// and importers that turn rows or V are met here, by two constants that a person sets.
    code::Value sampled(const code::Value& texture, const code::Value& uv) const;
    code::Value fetched(const code::Value& texture, std::size_t height, const code::Value& column,
                        const code::Value& row) const;
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
    /// Adds what is called with stored frames: NAME_stored_frame (unless it is there), NAME_blended and
    /// NAME_change of the frames beside a moment, NAME_faded and NAME_fading_change of two such moments.
    /// `pose` writes the body that gives back a pose, `change` that which gives back how fast the position
    /// changes; `change` gets frames whose rates are of the caller's unit of time.
    using Blended = std::function<void(code::Body&, const BlendedFrames&)>;
    void addBlends(const Blended& pose, const Blended& change);

    /// What NAME_frames_at gives: two frames and the way between them, as a vec3; on cubic curves a record.
    code::Type framesType() const;
    /// The same taken apart.
    BlendedFrames taken(const code::Value& frames) const;

private:
    void addRanges();
    void addTurning();
    BlendedFrames fading(bool withRates) const;

    code::Module& module_;
    const BakeFormat& set_;
};

// The body of each kind: records and functions up to NAME_stored_frame and NAME_blended.

void addVertexCode(ReadingCode& code);
void addPieceCode(ReadingCode& code);
void addShapeCode(ReadingCode& code);
void addJointCode(ReadingCode& code);

} // namespace ripple::bake
