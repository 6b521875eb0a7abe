#include "motion/compose_score.h"

#include "bake/tolerance.h"
#include "motion/evaluate.h"
#include "motion/kinds.h"
#include "motion/surface.h"

#include <optional>

namespace ripple::motion {

namespace {

VoiceBuild buildVoice(const BuildContext& at, const Voice& voice) {
    const CourseRow& row = rowOf(voice.course);
    const Along course = row.build(at, voice.course);
    const Turn swing = voice.turns == 0 ? placeOnCircle(at.constant(0.0)) : voice.turns * at.turn();
    const Number phase = at.constant(voice.phase) + rowOf(voice.copyPhase).build(at, voice.copyPhase);
    // Waves in a metre, or in a UV unit; none in unison.
    const double wavelength = !row.wavelength ? 0.0
                              : row.wavelength->unit == FieldUnit::uvLength
                                  ? voice.wavelength.value
                                  : voice.wavelength.metres(at.model.size);
    const auto over = static_cast<float>(row.wavelength ? 1.0 / wavelength : 0.0);
    const Turn place = swing + (row.wavelength ? phase - over * course.along : phase);
    ShapePlace shapePlace{place, {}, course.acrossCount};
    for (std::size_t i = 0; i < static_cast<std::size_t>(course.acrossCount); ++i) {
        shapePlace.across[i] = over * course.across[i];
    }
    return {voice, maskOf(at, voice.heldBy), place,
            [at, shape = voice.shape, shapePlace](Turn where) mutable {
                shapePlace.turn = where;
                const Number value = rowOf(shape).build(at, shape, shapePlace);
                const auto range = shapeRange(shape);
                at.ranges.push_back({value.id, static_cast<float>(range[0]), static_cast<float>(range[1])});
                return value;
            },
            [swing, phase, over](Number metres) { return swing + (phase - over * metres); }};
}

/// What is shown of a voice by itself.
VoiceNodes nodesOf(const BuildContext& at, const VoiceBuild& build) {
    VoiceNodes nodes{build.mask.id, build.place.id, build.shape(build.place).id,
                     at.constant(glm::vec3(0.0f)).id};
    const PushRow& row = rowOf(build.voice.push);
    if (const auto* deform = std::get_if<DeformOf>(&row.build)) {
        nodes.push = ((*deform)(at, build, at.rest()).position - at.rest()).id;
    } else if (const auto* offsets = std::get_if<OffsetsOf>(&row.build)) {
        Vec3 push = at.constant(glm::vec3(0.0f));
        for (const Offset& offset : (*offsets)(at, build, at.restNormal())) {
            push = push + offset.way * offset.size;
        }
        nodes.push = push.id;
    }
    return nodes;
}

} // namespace

Model modelOf(const mesh::Mesh& mesh) {
    Model model;
    // A model of one point has no size to take percents of.
    const double size = bake::assetSize(mesh);
    model.size = size > 0.0 ? size : 1.0;
    model.uvSets = mesh.uvSets.size();
    model.colours = !mesh.colours.empty();
    for (const mesh::StoredValue& stored : mesh.stored) {
        model.stored.push_back(stored.name);
        bool flat = true;
        for (std::size_t i = 0; flat && i + 2 < mesh.indices.size(); i += 3) {
            const float value = stored.values[mesh.indices[i]];
            flat = value == stored.values[mesh.indices[i + 1]] && value == stored.values[mesh.indices[i + 2]];
        }
        model.storedFlat.push_back(flat);
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
    const BuildContext at{graph, model, ranges, {}};
    const NodeId roots[] = {rowOf(shape).build(at, shape, {at.turn(), {}, 0}).id};
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
    BuildContext at{g, model, made.ranges, {}};
    std::vector<std::optional<VoiceBuild>> builds(score.voices.size());
    const auto begin = [&](std::size_t i) -> const VoiceBuild& {
        at.voice = score.voices[i].name;
        made.chapters.push_back({static_cast<NodeId>(g.size()), at.voice});
        return builds[i].emplace(buildVoice(at, score.voices[i]));
    };
    // Bends and twists first, in their order; then all that is added.
    Surface surface(at);
    for (std::size_t i = 0; i < builds.size(); ++i) {
        if (const auto* deform = std::get_if<DeformOf>(&rowOf(score.voices[i].push).build)) {
            const VoiceBuild& build = begin(i);
            if (isHeard(score, build.voice)) {
                surface.deform((*deform)(at, build, surface.position()));
            }
        }
    }
    const Vec3 normal = surface.normalOfDeformed();
    for (std::size_t i = 0; i < builds.size(); ++i) {
        const PushRow& row = rowOf(score.voices[i].push);
        if (row.deforms()) {
            continue;
        }
        const VoiceBuild& build = begin(i);
        if (!isHeard(score, build.voice)) {
            continue;
        }
        if (const auto* offsets = std::get_if<OffsetsOf>(&row.build)) {
            for (const Offset& offset : (*offsets)(at, build, normal)) {
                surface.add(offset.way, offset.size);
            }
        } else if (const auto* alpha = std::get_if<AlphaOf>(&row.build)) {
            const Number left = (*alpha)(at, build);
            made.alpha = made.alpha ? (Number{&g, *made.alpha} * left).id : left.id;
        } else if (const auto* slide = std::get_if<UvShiftOf>(&row.build)) {
            const Vec3 shift = (*slide)(at, build);
            made.uvShift = made.uvShift ? (Vec3{&g, *made.uvShift} + shift).id : shift.id;
        }
    }
    made.chapters.push_back({static_cast<NodeId>(g.size()), "all together, and the normal"});
    made.position = surface.position().id;
    made.normal = surface.normal().id;
    for (const std::optional<VoiceBuild>& build : builds) {
        at.voice = build->voice.name;
        made.voices.push_back(nodesOf(at, *build));
    }
    return made;
}

} // namespace ripple::motion
