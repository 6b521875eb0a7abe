// Expression graphs at random: what the evaluator makes of them against plain arithmetic in double precision,
// and their derivatives against differences of that.

#include "motion/derive.h"
#include "motion/evaluate.h"
#include "motion/lower.h"
#include "suite.h"

#include <QTest>

#include <cmath>
#include <numbers>
#include <random>

#include <glm/geometric.hpp>

using namespace ripple;
using namespace ripple::motion;

namespace {

/// What one vertex has, in double precision.
struct Place {
    glm::dvec3 position{0.0};
    glm::dvec3 normal{0.0, 1.0, 0.0};
    double turn = 0.0;
};

/// Each node's value by the book, one after another; numbers in x.
class ByTheBook {
public:
    explicit ByTheBook(const Graph& graph) : graph_(graph) {}

    glm::dvec3 operator()(NodeId root, const Place& place) const {
        std::vector<glm::dvec3> at(graph_.size());
        const NodeId roots[] = {root};
        const std::vector<char> needed = graph_.needed(roots);
        for (NodeId i = 0; i <= root; ++i) {
            if (needed[i]) {
                at[i] = value(graph_[i], at, place);
            }
        }
        return at[root];
    }

private:
    static glm::dvec3 value(const Node& node, const std::vector<glm::dvec3>& at, const Place& place) {
        const glm::dvec3 a = at[node.in[0]];
        const glm::dvec3 b = at[node.in[1]];
        const auto number = [](double x) { return glm::dvec3(x, 0.0, 0.0); };
        switch (node.op) {
        case Op::position:
            return place.position;
        case Op::normal:
            return place.normal;
        case Op::turn:
            return number(place.turn);
        case Op::constant:
        case Op::constant3:
            return glm::dvec3(node.value);
        case Op::add:
        case Op::laterTurn:
            return number(a.x + b.x);
        case Op::subtract:
            return number(a.x - b.x);
        case Op::multiply:
            return number(a.x * b.x);
        case Op::divide:
            return number(a.x / b.x);
        case Op::least:
            return number(std::min(a.x, b.x));
        case Op::most:
            return number(std::max(a.x, b.x));
        case Op::negate:
            return number(-a.x);
        case Op::absolute:
            return number(std::abs(a.x));
        case Op::root:
            return number(std::sqrt(a.x));
        case Op::smooth: {
            const double t = std::clamp(a.x, 0.0, 1.0);
            return number(t * t * (3.0 - 2.0 * t));
        }
        case Op::select:
            return a.x < b.x ? at[node.in[2]] : at[node.in[3]];
        case Op::timesTurn:
            return number(node.whole * a.x);
        case Op::placeOnCircle:
            return a;
        case Op::sine:
            return number(std::sin(2.0 * std::numbers::pi * a.x));
        case Op::cosine:
            return number(std::cos(2.0 * std::numbers::pi * a.x));
        case Op::sinc: {
            const double angle = 2.0 * std::numbers::pi * a.x;
            return number(angle == 0.0 ? 1.0 : std::sin(angle) / angle);
        }
        case Op::fraction:
            return number(a.x - std::floor(a.x));
        case Op::add3:
            return a + b;
        case Op::subtract3:
            return a - b;
        case Op::negate3:
            return -a;
        case Op::scale3:
            return a * b.x;
        case Op::dot:
            return number(glm::dot(a, b));
        case Op::cross:
            return glm::cross(a, b);
        case Op::compose:
            return {a.x, b.x, at[node.in[2]].x};
        case Op::x:
            return number(a.x);
        case Op::y:
            return number(a.y);
        case Op::z:
            return number(a.z);
        case Op::unit3:
            return glm::length(a) > 0.0 ? glm::normalize(a) : glm::dvec3(0.0);
        default:
            qFatal("no rule for %s", opRow(node.op).name);
        }
    }
    const Graph& graph_;
};

/// Grows a graph by ops at random; values stay of ordinary size.
class Grower {
public:
    explicit Grower(unsigned seed) : random_(seed) {
        vectors_ = {{&g, g.add(Op::position)},
                    {&g, g.add(Op::normal)},
                    vec3(g, {0.5f, -1.0f, 0.25f}),
                    vec3(g, {0.0f, 1.0f, 0.0f})};
        numbers_ = {component(vectors_[0], 0), component(vectors_[0], 2), number(g, 0.75f), number(g, -0.5f)};
        turns_ = {{&g, g.add(Op::turn)}};
        for (int step = 0; step < 40; ++step) {
            grow();
        }
    }
    Vec3 result() const { return vectors_.back() + vectors_[vectors_.size() / 2]; }
    Number number1() const { return numbers_.back() + numbers_[numbers_.size() / 2]; }

    Graph g;

private:
    template <typename T>
    T any(const std::vector<T>& list) {
        return list[random_() % list.size()];
    }
    /// Squeezed into −1..1, so that products of products stay small.
    Number tame(Number x) { return between(0.5f * x, -1.0f, 1.0f); }
    void grow() {
        const Number a = any(numbers_);
        const Number b = any(numbers_);
        const Vec3 v = any(vectors_);
        const Vec3 w = any(vectors_);
        switch (random_() % 18) {
        case 0:
            return numbers_.push_back(tame(a + b));
        case 1:
            return numbers_.push_back(tame(a - b));
        case 2:
            return numbers_.push_back(tame(a * b));
        case 3:
            return numbers_.push_back(tame(a / (absolute(b) + 0.5f)));
        case 4:
            return numbers_.push_back(least(a, b));
        case 5:
            return numbers_.push_back(root(absolute(a) + 0.1f));
        case 6:
            return numbers_.push_back(select(a, b, b * b, a));
        case 7:
            return turns_.push_back(static_cast<int>(random_() % 3 + 1) * any(turns_) + tame(a));
        case 8:
            return numbers_.push_back(sine(any(turns_)));
        case 9:
            return numbers_.push_back(cosine(any(turns_)));
        case 10:
            return numbers_.push_back(sinc(tame(a)));
        case 11:
            return numbers_.push_back(tame(dot(v, w)));
        case 12:
            return vectors_.push_back(unit(cross(v, w) + vectors_[2]));
        case 13:
            return vectors_.push_back(compose(a, b, tame(a * b)));
        case 14:
            return vectors_.push_back((v - w) * tame(a));
        case 15:
            return vectors_.push_back(-(v * 0.5f) + w * 0.25f);
        case 16:
            return numbers_.push_back(smooth(0.5f * a + 0.5f));
        default:
            return numbers_.push_back(component(v, static_cast<int>(random_() % 3)));
        }
    }

    std::mt19937 random_;
    std::vector<Number> numbers_;
    std::vector<Vec3> vectors_;
    std::vector<Turn> turns_;
};

struct Vertices {
    std::vector<glm::vec3> positions;
    std::vector<glm::vec3> normals;
    VertexFields fields;
    explicit Vertices(std::size_t count) {
        std::mt19937 random(7);
        std::uniform_real_distribution<float> any(-1.0f, 1.0f);
        for (std::size_t v = 0; v < count; ++v) {
            positions.push_back({any(random), any(random), any(random)});
            normals.push_back(glm::normalize(glm::vec3(any(random), 1.2f, any(random))));
        }
        fields.positions = positions;
        fields.normals = normals;
    }
};

} // namespace

namespace {

/// Expressions with their values at one place, worked out beside the graph: whatever it makes simpler.
class Beside {
public:
    explicit Beside(unsigned seed) : random_(seed) {
        position_ = {0.4, -0.7, 0.3};
        normal_ = glm::normalize(glm::dvec3(0.2, 0.9, -0.3));
        vectors_ = {{{&g, g.add(Op::position)}, position_}, {{&g, g.add(Op::normal)}, normal_}};
        for (const float value : {0.0f, 1.0f, -1.0f, 2.0f, -0.5f}) {
            numbers_.push_back({number(g, value), static_cast<double>(value)});
        }
        for (const glm::vec3 value : {glm::vec3(0, 1, 0), glm::vec3(0, -2, 0), glm::vec3(0, 0, 1),
                                      glm::vec3(0), glm::vec3(0.5f, 1.0f, -1.5f), glm::vec3(1, 2, -3)}) {
            vectors_.push_back({vec3(g, value), glm::dvec3(value)});
        }
        for (int i = 0; i < 60; ++i) {
            grow();
        }
    }
    struct Of {
        Number n;
        double value;
    };
    struct OfVector {
        Vec3 n;
        glm::dvec3 value;
    };
    Graph g;
    const std::vector<Of>& numbers() const { return numbers_; }
    const std::vector<OfVector>& vectors() const { return vectors_; }
    Place place() const { return {position_, normal_, 0.0}; }

private:
    void keep(Number n, double value) {
        if (std::abs(value) < 100.0) {
            numbers_.push_back({n, value});
        }
    }
    void keep(Vec3 n, const glm::dvec3& value) {
        if (glm::length(value) < 100.0) {
            vectors_.push_back({n, value});
        }
    }
    void grow() {
        const auto any = [&](const auto& list) { return list[random_() % list.size()]; };
        const Of a = any(numbers_);
        const Of b = any(numbers_);
        const OfVector v = any(vectors_);
        const OfVector w = any(vectors_);
        const int axis = static_cast<int>(random_() % 3);
        switch (random_() % 14) {
        case 0:
            return keep(a.n + b.n, a.value + b.value);
        case 1:
            return keep(a.n - b.n, a.value - b.value);
        case 2:
        case 3:
            return keep(a.n * b.n, a.value * b.value);
        case 4:
            return keep(-a.n, -a.value);
        case 5:
            return keep(absolute(a.n), std::abs(a.value));
        case 6:
            return keep(dot(v.n, w.n), glm::dot(v.value, w.value));
        case 7:
            return keep(cross(v.n, w.n), glm::cross(v.value, w.value));
        case 8:
        case 9:
            return keep(v.n * a.n, v.value * a.value);
        case 10:
            return keep(v.n + w.n, v.value + w.value);
        case 11:
            return keep(v.n - w.n, v.value - w.value);
        case 12:
            return keep(-v.n, -v.value);
        default:
            return keep(component(v.n, axis), v.value[axis]);
        }
    }

    std::mt19937 random_;
    glm::dvec3 position_;
    glm::dvec3 normal_;
    std::vector<Of> numbers_;
    std::vector<OfVector> vectors_;
};

} // namespace

class TestGraph : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void makingItSimplerChangesNoValue() {
        std::size_t compared = 0;
        for (unsigned seed = 0; seed < 2000; ++seed) {
            const Beside grown(seed);
            const ByTheBook book(grown.g);
            for (const Beside::Of& one : grown.numbers()) {
                const double own = book(one.n.id, grown.place()).x;
                QVERIFY2(std::abs(own - one.value) < 1e-4 * (1.0 + std::abs(one.value)),
                         qPrintable(QString("seed %1: %2, not %3").arg(seed).arg(own).arg(one.value)));
                ++compared;
            }
            for (const Beside::OfVector& one : grown.vectors()) {
                const glm::dvec3 own = book(one.n.id, grown.place());
                QVERIFY2(glm::distance(own, one.value) < 1e-4 * (1.0 + glm::length(one.value)),
                         qPrintable(QString("seed %1: a vector is off by %2")
                                        .arg(seed)
                                        .arg(glm::distance(own, one.value))));
                ++compared;
            }
        }
        QVERIFY(compared > 100000);
    }
    void whatStandsAlongOneConstantIsGathered() {
        Graph g;
        const Vec3 p{&g, g.add(Op::position)};
        const Vec3 n{&g, g.add(Op::normal)};
        const Number x = component(p, 0);
        const Number y = component(p, 1);
        // (0, 2, 0) x + (0, 4, 0) y and (0, 2, 0) (x + 2 y) are one node
        QCOMPARE((vec3(g, {0, 2, 0}) * x + vec3(g, {0, 4, 0}) * y).id,
                 (vec3(g, {0, 2, 0}) * (x + 2.0f * y)).id);
        QCOMPARE(dot(n, n).id, g.constant(1.0f));
        QCOMPARE((1.0f + (x + 2.0f)).id, (x + 3.0f).id);
        QCOMPARE((x * (-y)).id, (-(x * y)).id);
        QCOMPARE(component(p + vec3(g, {0, 0, 5}), 2).id, (component(p, 2) + 5.0f).id);
    }
    void evaluatingIsArithmetic() {
        for (unsigned seed = 0; seed < 300; ++seed) {
            Grower grown(seed);
            const NodeId roots[] = {grown.result().id, grown.number1().id};
            const Evaluator evaluator(grown.g, roots);
            const ByTheBook book(grown.g);
            Vertices vertices(200); // two blocks, the second not full
            std::vector<glm::vec3> vectors(200);
            std::vector<float> numbers(200);
            const Evaluator::Target targets[] = {{{}, vectors}, {numbers, {}}};
            evaluator.run(vertices.fields, {}, 0.37f, targets);
            int off = 0;
            for (std::size_t v = 0; v < 200; ++v) {
                const Place place{glm::dvec3(vertices.positions[v]), glm::dvec3(vertices.normals[v]),
                                  static_cast<double>(0.37f)};
                const glm::dvec3 wanted = book(roots[0], place);
                const double number = book(roots[1], place).x;
                // Where a choice hangs on a difference of rounding either side is right; that is rare.
                off += glm::distance(glm::dvec3(vectors[v]), wanted) > 2e-4 * (1.0 + glm::length(wanted)) ||
                       std::abs(static_cast<double>(numbers[v]) - number) > 2e-4 * (1.0 + std::abs(number));
            }
            QVERIFY2(off <= 1, qPrintable(QString("seed %1: %2 of 200").arg(seed).arg(off)));
        }
    }
    void derivativesAreThoseOfDifferences() {
        std::size_t compared = 0;
        for (unsigned seed = 0; seed < 150; ++seed) {
            Grower grown(seed);
            const Number value = grown.number1();
            Derivation derivation(grown.g);
            const NodeId gradient = derivation.of(value).id;
            const ByTheBook book(grown.g);
            Vertices vertices(12);
            for (std::size_t v = 0; v < 12; ++v) {
                Place place{glm::dvec3(vertices.positions[v]), glm::dvec3(vertices.normals[v]), 0.21};
                const glm::dvec3 derived = book(gradient, place);
                for (int axis = 0; axis < 3; ++axis) {
                    constexpr double kH = 1e-6;
                    const auto at = [&](double way) {
                        Place moved = place;
                        moved.position[axis] += way;
                        return book(value.id, moved).x;
                    };
                    const double up = (at(kH) - at(0.0)) / kH;
                    const double down = (at(0.0) - at(-kH)) / kH;
                    if (std::abs(up - down) > 1e-3) {
                        continue; // a kink
                    }
                    ++compared;
                    QVERIFY2(
                        std::abs(derived[axis] - 0.5 * (up + down)) < 1e-3 * (1.0 + std::abs(up)),
                        qPrintable(QString("seed %1: %2 against %3").arg(seed).arg(derived[axis]).arg(up)));
                }
            }
        }
        QVERIFY(compared > 5000);
    }
    void takingVectorsApartChangesNothing() {
        for (unsigned seed = 0; seed < 100; ++seed) {
            Grower grown(seed);
            const NodeId root = grown.result().id;
            const NodeId roots[] = {root};
            const Lowered low = lowered(grown.g, roots);
            const ByTheBook whole(grown.g);
            const ByTheBook apart(low.graph);
            const Place place{{0.3, -0.6, 0.8}, {0.0, 1.0, 0.0}, 0.4};
            const glm::dvec3 wanted = whole(root, place);
            for (int c = 0; c < 3; ++c) {
                const double own = apart(low.roots[0][static_cast<std::size_t>(c)], place).x;
                QVERIFY(std::abs(own - wanted[c]) < 1e-5 * (1.0 + std::abs(wanted[c])));
            }
        }
    }
    void whatIsTheSameForAllIsWorkedOutOnce() {
        Graph g;
        const Turn turn{&g, g.add(Op::turn)};
        const Vec3 p{&g, g.add(Op::position)};
        const Number swing = sine(3 * turn + 0.25f) * sine(turn);
        const NodeId roots[] = {(p + vec3(g, {0, 1, 0}) * swing).id};
        const Evaluator evaluator(g, roots);
        QCOMPARE(evaluator.perVertex(), std::size_t(2)); // load the position, add to its Y
        QVERIFY(evaluator.once() >= 5);
    }
    void rangesOfVerticesAreThoseOfTheWhole() {
        Grower grown(11);
        const NodeId roots[] = {grown.result().id};
        const Evaluator evaluator(grown.g, roots);
        Vertices vertices(1000);
        std::vector<glm::vec3> all(1000);
        const Evaluator::Target whole{{}, all};
        evaluator.run(vertices.fields, {}, 0.5f, {&whole, 1});
        for (const auto& [first, count] : {std::pair(0u, 1u), std::pair(37u, 200u), std::pair(999u, 1u)}) {
            std::vector<glm::vec3> part(count);
            const Evaluator::Target target{{}, part};
            evaluator.runRange(vertices.fields, {}, 0.5f, first, count, {&target, 1});
            QVERIFY(std::equal(part.begin(), part.end(), all.begin() + first));
        }
    }
};

static const ripple::tests::SuiteOf<TestGraph> kSuite;
#include "test_graph.moc"
