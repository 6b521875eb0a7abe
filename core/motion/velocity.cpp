#include "motion/velocity.h"

#include "motion/derive.h"

namespace ripple::motion {

NodeId addVelocity(Composition& composition) {
    Graph& graph = composition.graph;
    composition.chapters.push_back({static_cast<NodeId>(graph.size()), "how fast it moves"});
    // What vertices have stays as it is while the turn goes on. A derivative has three columns, for three
    // variables: the turn is the first, and there are no others.
    Derivation byTurn(graph, Derivation::Vertex::still);
    byTurn.setDerivative(Number{&graph, graph.add(Op::turn)}, vec3(graph, {1.0f, 0.0f, 0.0f}));
    return byTurn.of(Vec3{&graph, composition.position})[0].id;
}

} // namespace ripple::motion
