#include "motion/compose_score.h"

#include "mesh/bounds.h"
#include "motion/derive.h"
#include "motion/evaluate.h"
#include "motion/voice_build.h"

namespace ripple::motion {

namespace {

VoiceBuild buildVoice(const Workplace& at, const Voice& voice) {
    const Along course = alongCourse(at, voice.course);
    const bool uv = voice.course.kind == CourseKind::uv;
    const double wavelength = uv ? voice.wavelength.value : voice.wavelength.metres(at.model.size);
    const auto over = static_cast<float>(1.0 / wavelength);
    const Turn swing = voice.turns == 0 ? placeOnCircle(at.constant(0.0)) : voice.turns * at.turn();
    const Number phase = phaseOf(at, voice);
    const bool unison = voice.course.kind == CourseKind::unison;
    const Turn place = swing + (unison ? phase : phase - over * course.along);
    std::array<Number, 2> across{};
    for (int i = 0; i < course.acrossCount; ++i) {
        across[static_cast<std::size_t>(i)] = over * course.across[static_cast<std::size_t>(i)];
    }
    return {voice, maskOf(at, voice.heldBy), place,
            [at, shape = voice.shape, across, count = course.acrossCount](Turn where) {
                const Number value = shapeAt(at, shape, where, across, count);
                const auto range = shapeRange(shape);
                at.ranges.push_back({value.id, static_cast<float>(range[0]), static_cast<float>(range[1])});
                return value;
            },
            [swing, phase, over](Number metres) { return swing + (phase - over * metres); }};
}

} // namespace

Model modelOf(const mesh::Mesh& mesh) {
    mesh::Bounds bounds;
    bounds.add(mesh.positions);
    Model model;
    // A model of one point has no size to take percents of.
    model.size = bounds.diagonal() > 0.0f ? static_cast<double>(bounds.diagonal()) : 1.0;
    model.uvSets = mesh.uvSets.size();
    model.colours = !mesh.colours.empty();
    for (const mesh::StoredValue& stored : mesh.stored) {
        model.stored.push_back(stored.name);
    }
    if (!mesh.materials.empty()) {
        model.baseUvSet = mesh.materials.front().baseColourUvSet;
    }
    return model;
}

std::vector<float> swingOf(const Shape& shape, std::size_t steps) {
    Graph graph;
    std::vector<KnownRange> ranges;
    const Model model;
    const Workplace at{graph, model, ranges, {}};
    const NodeId roots[] = {shapeAt(at, shape, at.turn(), {}, 0).id};
    const Evaluator evaluator(graph, roots);
    const glm::vec3 nowhere(0.0f);
    VertexFields fields;
    fields.positions = fields.normals = {&nowhere, 1};
    std::vector<float> values(steps);
    for (std::size_t i = 0; i < steps; ++i) {
        const Evaluator::Target target{std::span(values).subspan(i, 1), {}};
        evaluator.run(fields, {}, static_cast<float>(i) / static_cast<float>(steps), {&target, 1});
    }
    return values;
}

Composition composeScore(const Score& score, const Model& model) {
    requireSound(score);
    Composition made;
    made.stored = model.stored;
    Graph& g = made.graph;
    Workplace at{g, model, made.ranges, {}};
    std::vector<VoiceBuild> builds;
    for (const Voice& voice : score.voices) {
        at.voice = voice.name;
        builds.push_back(buildVoice(at, voice));
    }
    // Bends and twists first, in their order; then all that is added.
    Vec3 position = at.rest();
    bool turned = false;
    for (const VoiceBuild& build : builds) {
        at.voice = build.voice.name;
        const PushKind kind = build.voice.push.kind;
        if (isHeard(score, build.voice) && (kind == PushKind::bend || kind == PushKind::twist)) {
            position = kind == PushKind::bend ? bent(at, build, position) : twisted(at, build, position);
            turned = true;
        }
    }
    Derivation derivation(g);
    const Vec3 normal = turned ? movedNormal(derivation.of(position), at.restNormal()) : at.restNormal();
    for (const VoiceBuild& build : builds) {
        at.voice = build.voice.name;
        const PushKind kind = build.voice.push.kind;
        VoiceNodes nodes{build.mask.id, build.place.id, build.shape(build.place).id,
                         g.constant(glm::vec3(0.0f))};
        const bool heard = isHeard(score, build.voice);
        if (kind == PushKind::bend || kind == PushKind::twist) {
            const Vec3 alone =
                kind == PushKind::bend ? bent(at, build, at.rest()) : twisted(at, build, at.rest());
            nodes.push = (alone - at.rest()).id;
        } else if (moves(kind)) {
            nodes.push = offset(at, build, at.restNormal()).id;
            position = heard ? position + offset(at, build, normal) : position;
        } else if (kind == PushKind::cutOut) {
            const Number left = alphaLeft(at, build);
            made.alpha = !heard ? made.alpha : made.alpha ? (Number{&g, *made.alpha} * left).id : left.id;
        } else {
            const Vec3 shift = uvShift(at, build);
            made.uvShift = !heard         ? made.uvShift
                           : made.uvShift ? (Vec3{&g, *made.uvShift} + shift).id
                                          : shift.id;
        }
        made.voices.push_back(nodes);
    }
    made.position = position.id;
    made.normal = position.id == at.rest().id ? at.restNormal().id
                                              : movedNormal(derivation.of(position), at.restNormal()).id;
    return made;
}

} // namespace ripple::motion
