#include "app/stage/scored_side.h"

#include "emit/reader_code.h"

#include <algorithm>

namespace ripple::app {

namespace {

constexpr int kFirstInput = 7; ///< attribute locations before it are the scene's own
constexpr int kInputs = 9;     ///< sixteen are sure to be there

using motion::Op;

bool isUniform(Op op) {
    return op >= Op::copyId && op <= Op::copyZ;
}

/// What the copy that is drawn hands over.
std::string ofCopy(Op op, const VertexPlace& place) {
    return op == Op::copyId       ? place.id
           : op == Op::copyScale  ? place.scale
           : op == Op::copyOrigin ? place.origin
                                  : place.axes;
}

/// The numbers of one input for all vertices, `width` to a vertex.
std::vector<float> inputValues(const emit::ScoreInput& input, const motion::VertexFields& fields) {
    const auto which = static_cast<std::size_t>(input.whole);
    std::vector<float> values;
    const auto together = [&](const std::vector<std::span<const float>>& lists, std::size_t first,
                              std::size_t count) {
        for (std::size_t v = 0; v < fields.size(); ++v) {
            for (std::size_t k = first; k < first + count; ++k) {
                values.push_back(v < lists[k].size() ? lists[k][v]
                                                     : 0.0f); // what is not read may not be there
            }
        }
    };
    const auto vectors = [&](std::span<const glm::vec3> list) {
        for (const glm::vec3& v : list) {
            values.insert(values.end(), {v.x, v.y, v.z});
        }
    };
    switch (input.op) {
    case Op::uv:
        together(fields.uvs, 2 * which, 2);
        break;
    case Op::uvSlope:
        vectors(fields.uvSlopes[which]);
        break;
    case Op::colour:
        together(fields.colours, 0, 4);
        break;
    case Op::colourSlope:
        vectors(fields.colourSlopes[which]);
        break;
    case Op::stored:
        together(fields.stored, which, 1);
        break;
    default:
        vectors(fields.storedSlopes[which]);
        break;
    }
    return values;
}

} // namespace

bool ScoredSide::set(const emit::ScoreCode& score, const std::string& name,
                     const motion::VertexFields& fields, MeshOnGpu& onGpu, Finish finish) {
    if (fields.size() != onGpu.vertices()) {
        clear();
        return false;
    }
    numbers_ = score.numbers;
    if (score.code == code_ && placed_ == place_.before + place_.functions) {
        return true; // only numbers are new
    }
    clear();
    const std::string id = emit::identifier(name);
    std::string before = score.code;
    std::string arguments;
    const QOpenGLVertexArrayObject::Binder arrays(onGpu.arraysOf(Side::scored));
    onGpu.bindRest();
    for (const emit::ScoreInput& input : score.inputs) {
        if (input.op == Op::position || input.op == Op::normal) {
            arguments += (input.op == Op::position ? place_.position : place_.normal) + ", ";
            continue;
        }
        if (isUniform(input.op)) {
            arguments += ofCopy(input.op, place_) + ", ";
            continue;
        }
        const int slot = static_cast<int>(inputs_.size());
        if (slot == kInputs) {
            clear();
            return false;
        }
        const std::vector<float> values = inputValues(input, fields);
        auto buffer = std::make_unique<QOpenGLBuffer>(QOpenGLBuffer::VertexBuffer);
        buffer->create();
        buffer->bind();
        buffer->allocate(values.data(), static_cast<int>(values.size() * sizeof(float)));
        onGpu.bindAttribute(*buffer, kFirstInput + slot,
                            static_cast<int>(values.size() / std::max<std::size_t>(onGpu.vertices(), 1)));
        inputs_.push_back(std::move(buffer));
        before += "layout(location = " + std::to_string(kFirstInput + slot) + ") in " + input.type + " a_" +
                  input.name + ";\n";
        arguments += "a_" + input.name + ", ";
    }
    onGpu.indicesOf(Detail::whole).bind();
    programs_.setVertexStage([before, arguments, id, shifts = score.shiftsUv(), cuts = score.cutsOut(),
                              place = place_](Finish of) {
        return scoredVertexShader(of, before, id, arguments, shifts, cuts, place);
    });
    code_ = score.code;
    placed_ = place_.before + place_.functions;
    array_ = id + "_number";
    cuts_ = score.cutsOut();
    numbers_ = score.numbers;
    if (!programs_.surface(finish, onGpu.cutsOut() || cuts_)) {
        clear();
        return false;
    }
    return true;
}

void ScoredSide::setMerged(const std::optional<scatter::Keeps>& keeps, const mesh::Bounds& box) {
    place_ = placeOfVertex(keeps, box);
}

void ScoredSide::clear() {
    code_.clear();
    programs_.forget();
    inputs_.clear();
    cuts_ = false;
}

void ScoredSide::setUniforms(QOpenGLShaderProgram& program) const {
    if (!numbers_.empty()) {
        program.setUniformValueArray(array_.c_str(), numbers_.data(), static_cast<int>(numbers_.size()), 1);
    }
}

} // namespace ripple::app
