#include "source/imported_scene.h"

#include "base/parallel.h"
#include "source/scene_check.h"

#include <algorithm>
#include <bit>
#include <cerrno>
#include <cstring>
#include <functional>
#include <system_error>
#include <type_traits>

#include <unistd.h>

namespace ripple::source {

namespace {

static_assert(std::endian::native == std::endian::little, "both ends run on one machine; its order is sent");

constexpr std::uint32_t kSceneMark = 0x31435352;   // "RSC1"
constexpr std::uint32_t kProblemMark = 0x31505352; // "RSP1"

/// Sent as its bytes: no pointers, no padding that matters.
template <typename T>
constexpr bool kPlain =
    std::is_arithmetic_v<T> || std::is_enum_v<T> || std::is_same_v<T, glm::vec2> ||
    std::is_same_v<T, glm::vec3> || std::is_same_v<T, glm::vec4> || std::is_same_v<T, glm::dvec3> ||
    std::is_same_v<T, glm::dquat> || std::is_same_v<T, glm::dmat4> || std::is_same_v<T, std::byte>;

/// Arrays begin at multiples of this, so that they can be read where they lie.
constexpr std::size_t kAligned = 16;

std::size_t toAlign(std::size_t at) {
    return (kAligned - at % kAligned) % kAligned;
}

/// Writes values one behind another.
class Sender {
public:
    explicit Sender(int file) : file_(file) {}

    template <typename T>
    void operator()(const T& value) {
        if constexpr (kPlain<T>) {
            put(&value, sizeof value);
        } else {
            describe(*this, const_cast<T&>(value)); // one description serves both ways; nothing is changed
        }
    }
    template <typename T>
    void operator()(const std::vector<T>& values) {
        (*this)(static_cast<std::uint64_t>(values.size()));
        if constexpr (kPlain<T>) {
            constexpr std::byte kNothing[kAligned] = {};
            put(kNothing, toAlign(sent_));
            put(values.data(), values.size() * sizeof(T));
        } else {
            for (const T& value : values) {
                (*this)(value);
            }
        }
    }
    template <typename T>
    void later(const std::vector<T>& values) {
        (*this)(values);
    }
    void operator()(const std::string& text) {
        (*this)(static_cast<std::uint64_t>(text.size()));
        put(text.data(), text.size());
    }

    void flush() {
        write(held_);
        held_.clear();
    }

private:
    void put(const void* data, std::size_t size) {
        constexpr std::size_t kPiece = std::size_t{1} << 16;
        const auto* bytes = static_cast<const std::byte*>(data);
        sent_ += size;
        if (held_.size() + size < kPiece) {
            held_.insert(held_.end(), bytes, bytes + size);
            return;
        }
        flush();
        write({bytes, size}); // large arrays go as they are
    }
    void write(std::span<const std::byte> bytes) {
        while (!bytes.empty()) {
            const ssize_t count = ::write(file_, bytes.data(), bytes.size());
            if (count < 0 && errno == EINTR) {
                continue;
            }
            if (count <= 0) {
                base::fail("the import program", std::generic_category().message(errno), "try again");
            }
            bytes = bytes.subspan(static_cast<std::size_t>(count));
        }
    }

    int file_;
    std::size_t sent_ = 0;
    base::Bytes held_;
};

/// Reads them back, and believes no count that the bytes that are left cannot hold.
class Receiver {
public:
    /// `bytes` begin where any number may.
    Receiver(std::span<const std::byte> bytes, const std::string& where)
        : bytes_(bytes),
          size_(bytes.size()),
          where_(where) {}

    template <typename T>
    void operator()(T& value) {
        if constexpr (std::is_same_v<T, bool>) {
            std::uint8_t byte = 0;
            (*this)(byte);
            value = byte != 0;
        } else if constexpr (kPlain<T>) {
            get(&value, sizeof value);
        } else {
            describe(*this, value);
        }
    }
    template <typename T>
    void operator()(std::vector<T>& values) {
        if constexpr (kPlain<T>) {
            const std::span<const T> from = lying<T>();
            values.assign(from.begin(), from.end());
        } else {
            const std::size_t count = counted(1);
            // Grows as values come: a count alone takes no memory.
            for (std::size_t i = 0; i < count; ++i) {
                (*this)(values.emplace_back());
            }
        }
    }
    void operator()(std::string& text) {
        text.resize(counted(1));
        get(text.data(), text.size());
    }
    /// A large array whose place stays: it is copied by finish(), beside others.
    template <typename T>
    void later(std::vector<T>& values) {
        const std::span<const T> from = lying<T>();
        copies_.push_back([&values, from] { values.assign(from.begin(), from.end()); });
    }
    void finish() {
        base::parallelFor(copies_.size(), 1, [this](std::size_t begin, std::size_t end) {
            for (std::size_t c = begin; c < end; ++c) {
                copies_[c]();
            }
        });
    }
    bool atEnd() const { return bytes_.empty(); }

    [[noreturn]] void broken() const {
        base::fail(where_, "can't be read: what the import library makes of it is no sound scene",
                   "the file is likely damaged; export it again, or as .glb");
    }

private:
    /// An array as it lies in the answer, which begins at a page.
    template <typename T>
    std::span<const T> lying() {
        const std::size_t count = counted(sizeof(T));
        skip(toAlign(size_ - bytes_.size()));
        const auto* first = reinterpret_cast<const T*>(bytes_.data());
        skip(count * sizeof(T)); // which counted() made sure does not wrap
        return {first, count};
    }
    std::size_t counted(std::size_t each) {
        std::uint64_t count = 0;
        (*this)(count);
        if (count > bytes_.size() / each) {
            broken();
        }
        return static_cast<std::size_t>(count);
    }
    void skip(std::size_t size) {
        if (size > bytes_.size()) {
            broken();
        }
        bytes_ = bytes_.subspan(size);
    }
    void get(void* to, std::size_t size) {
        const std::byte* from = bytes_.data();
        skip(size);
        if (size > 0) {
            std::memcpy(to, from, size);
        }
    }

    std::span<const std::byte> bytes_;
    std::size_t size_ = 0;
    std::vector<std::function<void()>> copies_;
    const std::string& where_;
};

template <typename Wire, typename... Values>
void all(Wire& wire, Values&... values) {
    (wire(values), ...);
}

template <typename Wire>
void describe(Wire& wire, base::Problem& p) {
    all(wire, p.where, p.what, p.fix);
}
template <typename Wire>
void describe(Wire& wire, base::Finding& f) {
    all(wire, f.id, f.severity, f.problem);
}
template <typename Wire>
void describe(Wire& wire, SceneNode& n) {
    all(wire, n.name, n.parent, n.translation, n.rotation, n.scale, n.hasMatrix, n.matrix, n.weights);
}
template <typename Wire>
void describe(Wire& wire, MorphTarget& t) {
    all(wire, t.name, t.positions, t.normals);
}
template <typename Wire>
void describe(Wire& wire, SceneSkin& s) {
    std::vector<std::uint64_t> joints(s.joints.begin(), s.joints.end());
    all(wire, joints, s.inverseBind);
    s.joints.assign(joints.begin(), joints.end());
}
template <typename Wire, typename Count>
void number(Wire& wire, Count& count) {
    auto wide = static_cast<std::uint64_t>(count);
    wire(wide);
    count = static_cast<Count>(wide);
}
template <typename Wire>
void describe(Wire& wire, ScenePart& p) {
    number(wire, p.node);
    all(wire, p.skin, p.firstVertex, p.vertexCount, p.hasNormals);
    number(wire, p.weights.influences);
    all(wire, p.weights.joints, p.weights.weights, p.morphs, p.restMorphWeights);
}
template <typename Wire>
void describe(Wire& wire, MeshEntry& e) {
    wire(e.name);
    number(wire, e.vertices);
    number(wire, e.triangles);
    wire(e.included);
}
template <typename Wire>
void describe(Wire& wire, mesh::Part& p) {
    wire(p.name);
    number(wire, p.material);
    all(wire, p.firstVertex, p.vertexCount, p.firstIndex, p.indexCount);
}
/// Positions, normals, UV sets, colours, tangents, triangles and parts: all that imported meshes have.
template <typename Wire>
void describe(Wire& wire, mesh::Mesh& m) {
    wire.later(m.positions);
    wire.later(m.normals);
    wire.later(m.tangents);
    wire.later(m.colours);
    wire.later(m.indices);
    all(wire, m.uvSets, m.parts);
}
template <typename Wire>
void describe(Wire& wire, SceneGeometry& g) {
    all(wire, g.mesh, g.parts, g.skins, g.entries, g.madeNormals, g.findings);
}
template <typename Wire>
void describe(Wire& wire, SceneChannel& c) {
    number(wire, c.node);
    all(wire, c.path, c.interpolation);
    number(wire, c.width);
    all(wire, c.times, c.values);
}
template <typename Wire>
void describe(Wire& wire, SceneAnimation& a) {
    all(wire, a.name, a.start, a.end, a.channels);
}
template <typename Wire>
void describe(Wire& wire, ImportedTexture& t) {
    all(wire, t.slot, t.name, t.uvSet, t.inside);
}
template <typename Wire>
void describe(Wire& wire, ImportedMaterial& m) {
    all(wire, m.name, m.baseColour, m.alphaMode, m.doubleSided, m.metallic, m.roughness, m.emissive,
        m.textures);
}
template <typename Wire>
void describe(Wire& wire, ImportedScene& s) {
    Scene& scene = s.scene;
    all(wire, scene.space.metresPerUnit, scene.space.up, scene.space.stated, scene.nodes, scene.geometry,
        scene.animations, scene.findings, s.materials);
}

} // namespace

void sendScene(int file, const ImportedScene& scene) {
    Sender send(file);
    send(kSceneMark);
    send(scene);
    send.flush();
}

void sendProblem(int file, const base::Problem& problem) {
    Sender send(file);
    send(kProblemMark);
    send(problem);
    send.flush();
}

ImportedScene receiveScene(std::span<const std::byte> bytes, const std::string& where) {
    Receiver receive(bytes, where);
    std::uint32_t mark = 0;
    receive(mark);
    if (mark == kProblemMark) {
        base::Problem problem;
        receive(problem);
        if (problem.where.empty() || problem.what.empty() || problem.fix.empty()) {
            receive.broken();
        }
        throw base::Failure(std::move(problem));
    }
    ImportedScene scene;
    if (mark != kSceneMark) {
        receive.broken();
    }
    receive(scene);
    receive.finish();
    if (!receive.atEnd() || !isSound(scene)) {
        receive.broken();
    }
    return scene;
}

} // namespace ripple::source
