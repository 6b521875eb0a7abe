#include "source/ply_parse.h"

#include "base/problem.h"
#include "source/text_lines.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstring>
#include <optional>

namespace ripple::source {

namespace {

static_assert(std::endian::native == std::endian::little);


template <typename T>
double numberAs(const std::byte* at, bool swap) {
    std::array<std::byte, sizeof(T)> bytes;
    std::memcpy(bytes.data(), at, sizeof(T));
    if (swap) {
        std::reverse(bytes.begin(), bytes.end());
    }
    return static_cast<double>(std::bit_cast<T>(bytes));
}

double numberOf(const std::byte* at, PlyType type, bool swap) {
    switch (type) {
    case PlyType::int8:
        return numberAs<std::int8_t>(at, swap);
    case PlyType::uint8:
        return numberAs<std::uint8_t>(at, swap);
    case PlyType::int16:
        return numberAs<std::int16_t>(at, swap);
    case PlyType::uint16:
        return numberAs<std::uint16_t>(at, swap);
    case PlyType::int32:
        return numberAs<std::int32_t>(at, swap);
    case PlyType::uint32:
        return numberAs<std::uint32_t>(at, swap);
    case PlyType::float32:
        return numberAs<float>(at, swap);
    case PlyType::float64:
        break;
    }
    return numberAs<double>(at, swap);
}

/// The numbers of a body one after another, text or binary.
class Body {
public:
    Body(std::span<const std::byte> bytes, const PlyHeader& header, const std::string& where)
        : rest_(bytes.subspan(header.bodyOffset)),
          where_(where),
          ascii_(header.format == PlyFormat::ascii),
          swap_(header.format == PlyFormat::bigEndian),
          // Binary bytes are no lines, and may begin as a text of another encoding does.
          lines_(ascii_ ? rest_ : std::span<const std::byte>(), where) {}

    double number(PlyType type) {
        if (ascii_) {
            while (lines_.atLineEnd()) {
                if (!lines_.next()) {
                    base::fail(where_, "ends before all its elements were there", kDamagedPly);
                }
            }
            return static_cast<double>(lines_.number());
        }
        const std::size_t size = sizeOf(type);
        if (rest_.size() - at_ < size) {
            base::fail(where_, "ends before all its elements were there", kDamagedPly);
        }
        const double value = numberOf(rest_.data() + at_, type, swap_);
        at_ += size;
        return value;
    }

    /// Like number(), whole and at least 0.
    std::uint32_t whole(PlyType type) {
        if (ascii_) {
            while (lines_.atLineEnd()) {
                if (!lines_.next()) {
                    base::fail(where_, "ends before all its elements were there", kDamagedPly);
                }
            }
            const std::int64_t value = lines_.whole();
            lines_.skipBlanks();
            return value < 0 || value > 0xFFFFFFFFll ? 0xFFFFFFFFu : static_cast<std::uint32_t>(value);
        }
        const double value = number(type);
        return value >= 0.0 && value <= 4294967295.0 ? static_cast<std::uint32_t>(value) : 0xFFFFFFFFu;
    }

    /// A list's length; no more than the file can still hold.
    std::size_t length(const PlyProperty& property) {
        const std::size_t count = whole(property.countType);
        const std::size_t least = ascii_ ? 1 : sizeOf(property.type);
        const std::size_t room =
            ascii_ ? rest_.size() - lines_.offset() + lines_.line().size() : rest_.size() - at_;
        if (count > room / least) {
            base::fail(where_,
                       "a list says that it holds " + std::to_string(count) + " values; the file is shorter",
                       kDamagedPly);
        }
        return count;
    }

    void skip(const PlyProperty& property) {
        const std::size_t count = property.list ? length(property) : 1;
        for (std::size_t i = 0; i < count; ++i) {
            number(property.type);
        }
    }

    /// The bytes of `count` fixed-size elements of a binary file.
    std::span<const std::byte> block(std::size_t count, std::size_t stride) {
        if (stride > 0 && count > (rest_.size() - at_) / stride) {
            base::fail(where_, "ends before all its elements were there", kDamagedPly);
        }
        const auto bytes = rest_.subspan(at_, count * stride);
        at_ += count * stride;
        return bytes;
    }

    bool ascii() const { return ascii_; }
    bool swap() const { return swap_; }
    std::span<const std::byte> unread() const { return rest_.subspan(ascii_ ? lines_.offset() : at_); }

private:
    std::span<const std::byte> rest_;
    const std::string& where_;
    bool ascii_;
    bool swap_;
    std::size_t at_ = 0;
    TextLines lines_;
};

/// Which vertex property goes where.
enum Slot { kX, kY, kZ, kNx, kNy, kNz, kU, kV, kRed, kGreen, kBlue, kAlpha, kSlots };

std::optional<Slot> slotOf(const std::string& name) {
    struct Row {
        const char* name;
        Slot slot;
    };
    constexpr Row kRows[] = {{"x", kX},
                             {"y", kY},
                             {"z", kZ},
                             {"nx", kNx},
                             {"ny", kNy},
                             {"nz", kNz},
                             {"s", kU},
                             {"t", kV},
                             {"u", kU},
                             {"v", kV},
                             {"texture_u", kU},
                             {"texture_v", kV},
                             {"red", kRed},
                             {"green", kGreen},
                             {"blue", kBlue},
                             {"alpha", kAlpha},
                             {"diffuse_red", kRed},
                             {"diffuse_green", kGreen},
                             {"diffuse_blue", kBlue}};
    for (const Row& row : kRows) {
        if (name == row.name) {
            return row.slot;
        }
    }
    return std::nullopt;
}

/// Integer colours are parts of their type's largest value.
double colourScale(PlyType type) {
    return type == PlyType::uint8 ? 1.0 / 255.0 : type == PlyType::uint16 ? 1.0 / 65535.0 : 1.0;
}

struct Vertices {
    const PlyElement& element;
    std::array<const PlyProperty*, kSlots> property{};
    std::array<std::size_t, kSlots> offset{}; ///< bytes, when all properties have fixed sizes
    std::size_t stride = 0;                   ///< 0: there are lists among them
    std::vector<std::optional<Slot>> slots;   ///< properties

    explicit Vertices(const PlyElement& of) : element(of) {
        bool lists = false;
        for (const PlyProperty& p : of.properties) {
            slots.push_back(p.list ? std::nullopt : slotOf(p.name));
            if (slots.back()) {
                property[*slots.back()] = &p;
                offset[*slots.back()] = stride;
            }
            lists = lists || p.list;
            stride += sizeOf(p.type);
        }
        stride = lists ? 0 : stride;
    }
    bool has(std::initializer_list<Slot> wanted) const {
        return std::all_of(wanted.begin(), wanted.end(), [this](Slot s) { return property[s] != nullptr; });
    }
};

/// `values` per slot into the arrays that exist.
void put(const Vertices& vertices, std::size_t v, const std::array<double, kSlots>& values, PlyFile& out) {
    const auto f = [&](Slot slot) { return static_cast<float>(values[slot]); };
    out.positions[v] = {f(kX), f(kY), f(kZ)};
    if (!out.normals.empty()) {
        out.normals[v] = {f(kNx), f(kNy), f(kNz)};
    }
    if (!out.uvs.empty()) {
        out.uvs[v] = {f(kU), f(kV)};
    }
    if (!out.colours.empty()) {
        const auto colour = [&](Slot slot) {
            const PlyProperty* property = vertices.property[slot];
            return property ? static_cast<float>(values[slot] * colourScale(property->type)) : 1.0f;
        };
        out.colours[v] = {colour(kRed), colour(kGreen), colour(kBlue), colour(kAlpha)};
    }
}

/// Three neighbouring little-endian floats at `offset` of each element.
void copyVectors(std::span<const std::byte> bytes, std::size_t stride, std::size_t offset,
                 base::RawVector<glm::vec3>& out) {
    if (out.size() == 0) {
        return;
    }
    if (stride == sizeof(glm::vec3)) {
        std::memcpy(out.data(), bytes.data(), out.size() * sizeof(glm::vec3));
        return;
    }
    const std::byte* at = bytes.data() + offset;
    for (glm::vec3& value : out) {
        std::memcpy(&value, at, sizeof value);
        at += stride;
    }
}

bool areFloats(const Vertices& vertices, Slot first) {
    for (int k = 0; k < 3; ++k) {
        const PlyProperty* p = vertices.property[static_cast<std::size_t>(first + k)];
        if (!p || p->type != PlyType::float32 ||
            vertices.offset[static_cast<std::size_t>(first + k)] !=
                vertices.offset[first] + static_cast<std::size_t>(k) * 4) {
            return false;
        }
    }
    return true;
}

void requireFinite(const PlyFile& file, const std::string& where) {
    for (std::size_t v = 0; v < file.normals.size(); ++v) {
        const float sum = file.normals[v].x + file.normals[v].y + file.normals[v].z;
        if (!std::isfinite(sum)) {
            base::fail(where + ": vertex " + std::to_string(v), "has a normal that is not a number", kDamagedPly);
        }
    }
}

void readVertices(Body& body, const Vertices& vertices, const std::string& where, PlyFile& out,
                  bool posesOnly) {
    if (!vertices.has({kX, kY, kZ})) {
        base::fail(where, "its vertices have no x, y and z", "export it again");
    }
    const std::size_t count = vertices.element.count;
    out.positions.resize(count);
    out.normals.resize(vertices.has({kNx, kNy, kNz}) ? count : 0);
    out.uvs.resize(!posesOnly && vertices.has({kU, kV}) ? count : 0);
    out.colours.resize(!posesOnly && vertices.has({kRed, kGreen, kBlue}) ? count : 0);
    std::array<double, kSlots> values{};
    if (!body.ascii() && vertices.stride > 0) {
        const auto block = body.block(count, vertices.stride);
        const bool plainNormals = out.normals.empty() || areFloats(vertices, kNx);
        if (!body.swap() && areFloats(vertices, kX) && plainNormals && out.uvs.empty() &&
            out.colours.empty()) {
            copyVectors(block, vertices.stride, vertices.offset[kX], out.positions);
            if (!out.normals.empty()) {
                copyVectors(block, vertices.stride, vertices.offset[kNx], out.normals);
            }
        } else {
            for (std::size_t v = 0; v < count; ++v) {
                const std::byte* at = block.data() + v * vertices.stride;
                for (std::size_t s = 0; s < kSlots; ++s) {
                    if (const PlyProperty* p = vertices.property[s]) {
                        values[s] = numberOf(at + vertices.offset[s], p->type, body.swap());
                    }
                }
                put(vertices, v, values, out);
            }
        }
    } else {
        for (std::size_t v = 0; v < count; ++v) {
            for (std::size_t p = 0; p < vertices.slots.size(); ++p) {
                const PlyProperty& property = vertices.element.properties[p];
                if (vertices.slots[p]) {
                    values[*vertices.slots[p]] = body.number(property.type);
                } else {
                    body.skip(property);
                }
            }
            put(vertices, v, values, out);
        }
    }
    requireFinite(out, where);
}

void readFaces(Body& body, const PlyElement& element, std::size_t vertexCount, const std::string& where,
               PlyFile& out) {
    if (element.properties.empty()) {
        base::fail(where, "has faces without properties, so without corners", kDamagedPly);
    }
    for (std::size_t f = 0; f < element.count; ++f) {
        for (const PlyProperty& property : element.properties) {
            if (!property.list || (property.name != "vertex_indices" && property.name != "vertex_index")) {
                body.skip(property);
                continue;
            }
            const std::size_t count = body.length(property);
            if (count < 3) {
                base::fail(where + ": face " + std::to_string(f), "has fewer than three corners",
                           "remove it where the mesh was made");
            }
            for (std::size_t i = 0; i < count; ++i) {
                const std::uint32_t vertex = body.whole(property.type);
                if (vertex >= vertexCount) {
                    base::fail(where + ": face " + std::to_string(f),
                               "points to vertex " + std::to_string(vertex) + ", but there are " +
                                   std::to_string(vertexCount),
                               kDamagedPly);
                }
                out.corners.push_back(vertex);
            }
        }
        out.faceStart.push_back(static_cast<std::uint32_t>(out.corners.size()));
    }
}

void skipElement(Body& body, const PlyElement& element) {
    if (element.properties.empty()) {
        return; // takes no bytes, however many there are said to be
    }
    for (std::size_t i = 0; i < element.count; ++i) {
        for (const PlyProperty& property : element.properties) {
            body.skip(property);
        }
    }
}

} // namespace

PlyFile parsePly(std::span<const std::byte> bytes, const std::string& where) {
    const PlyHeader header = parsePlyHeader(bytes, where);
    PlyFile file;
    Body body(bytes, header, where);
    bool hasVertices = false;
    for (const PlyElement& element : header.elements) {
        if (element.name == "vertex") {
            readVertices(body, Vertices(element), where, file, false);
            hasVertices = true;
        } else if (element.name == "face" && hasVertices) {
            readFaces(body, element, file.positions.size(), where, file);
        } else {
            file.stripsLeftOut = file.stripsLeftOut || element.name == "tristrips";
            skipElement(body, element);
        }
    }
    return file;
}

bool parsePlyFrame(std::span<const std::byte> bytes, const std::string& where,
                   std::span<const std::byte> rest, PlyFile& out) {
    const PlyHeader header = parsePlyHeader(bytes, where);
    if (header.elements.empty() || header.elements[0].name != "vertex") {
        return false;
    }
    Body body(bytes, header, where);
    readVertices(body, Vertices(header.elements[0]), where, out, true);
    const auto own = body.unread();
    return own.size() == rest.size() && std::memcmp(own.data(), rest.data(), rest.size()) == 0;
}

std::span<const std::byte> plyRest(std::span<const std::byte> bytes, const std::string& where) {
    const PlyHeader header = parsePlyHeader(bytes, where);
    if (header.elements.empty() || header.elements[0].name != "vertex") {
        return {};
    }
    PlyFile ignored;
    Body body(bytes, header, where);
    readVertices(body, Vertices(header.elements[0]), where, ignored, true);
    return body.unread();
}

} // namespace ripple::source
