#include "motion/compose_score.h"

#include "bake/tolerance.h"
#include "motion/evaluate.h"
#include "motion/kinds.h"
#include "motion/surface.h"

#include <algorithm>
#include <optional>

namespace ripple::motion {

namespace {

/// What a shape may reach with its parameters anywhere in their ranges. What it reaches rises or falls with
/// each, so that the ends of the ranges tell.
std::array<double, 2> reachOf(const BuildContext& at, const Shape& shape) {
    std::array<double, 2> reach = shapeRange(shape);
    for (const auto& field : rowOf(shape).fields) {
        for (const double end : at.reach(field.id, numberOf(field, shape))) {
            Shape there = shape;
            setNumber(field, there, end);
            const auto range = shapeRange(there);
            reach = {std::min(reach[0], range[0]), std::max(reach[1], range[1])};
        }
    }
    return reach;
}

/// Puts the parameters into the graph, in its units.
Live liveOf(Graph& graph, const Score& score, const Model& model) {
    Live live;
    live.overall = score.overall;
    for (const Parameter& parameter : score.parameters) {
        const Adjustable number = *adjustableAt(score, parameter.voice, parameter.field);
        const double unit = number.ofSize ? model.size : 1.0;
        const LiveNumber made{static_cast<float>(number.value * unit),
                              static_cast<float>(parameter.least * unit),
                              static_cast<float>(parameter.most * unit)};
        live.numbers[{parameter.voice, parameter.field}] = {graph.addParameter(made), parameter.least * unit,
                                                            parameter.most * unit};
    }
    return live;
}

std::vector<CodeParameter> codeParametersOf(const Score& score) {
    std::vector<CodeParameter> made;
    for (const Parameter& parameter : score.parameters) {
        const Adjustable number = *adjustableAt(score, parameter.voice, parameter.field);
        made.push_back({parameter.name, parameter.help, unitName(number.unit), number.whole});
    }
    return made;
}

VoiceBuild buildVoice(const BuildContext& at, const Voice& voice) {
    const CourseRow& row = rowOf(voice.course);
    const StoredVoice kept =
        at.voiceIndex < at.model.storedVoices.size() ? at.model.storedVoices[at.voiceIndex] : StoredVoice();
    Along course = row.build(at, voice.course);
    if (kept.along) {
        course.along = at.storedAt(*kept.along);
    }
    for (std::size_t i = 0; i < course.across.size(); ++i) {
        if (kept.across[i]) {
            course.across[i] = at.storedAt(*kept.across[i]);
        }
    }
    const Turn swing = at.swing(voice.turns);
    const Number phase =
        at.constant(at.setting("phase", voice.phase)) + rowOf(voice.copyPhase).build(at, voice.copyPhase);
    // Waves in a metre, or in a UV unit; none in unison.
    const bool uv = row.wavelength && row.wavelength->unit == FieldUnit::uvLength;
    const Setting over = !row.wavelength
                             ? Setting(0.0)
                             : 1.0 / at.setting("wavelength", uv ? voice.wavelength.value
                                                                 : voice.wavelength.metres(at.model.size));
    const Turn place = swing + (row.wavelength ? phase - over * course.along : phase);
    ShapePlace shapePlace{place, {}, course.acrossCount};
    for (std::size_t i = 0; i < static_cast<std::size_t>(course.acrossCount); ++i) {
        shapePlace.across[i] = over * course.across[i];
    }
    return {voice,
            kept.mask ? at.storedAt(*kept.mask) : maskOf(at, voice.heldBy),
            place,
            course,
            [at, shape = voice.shape, shapePlace](Turn where) mutable {
                shapePlace.turn = where;
                const Number value = rowOf(shape).build(at, shape, shapePlace);
                const auto range = reachOf(at, shape);
                at.ranges.push_back({value.id, static_cast<float>(range[0]), static_cast<float>(range[1])});
                return value;
            },
            [swing, phase, over](Number metres) { return swing + (phase - over * metres); }};
}

/// What is shown of a voice by itself.
VoiceNodes nodesOf(const BuildContext& at, const VoiceBuild& build) {
    VoiceNodes nodes{build.mask.id,
                     build.place.id,
                     build.shape(build.place).id,
                     at.constant(glm::vec3(0.0f)).id,
                     build.course.along.id,
                     {}};
    for (std::size_t i = 0; i < static_cast<std::size_t>(build.course.acrossCount); ++i) {
        nodes.across.push_back(build.course.across[i].id);
    }
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
    const Live live = liveOf(g, score, model);
    BuildContext at{g, model, made.ranges, {}, &live};
    std::vector<std::optional<VoiceBuild>> builds(score.voices.size());
    const auto begin = [&](std::size_t i) -> const VoiceBuild& {
        at.voice = score.voices[i].name;
        at.voiceId = score.voices[i].id;
        at.voiceIndex = i;
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
    made.parameters = codeParametersOf(score);
    made.position = surface.position().id;
    made.normal = surface.normal().id;
    for (const std::optional<VoiceBuild>& build : builds) {
        at.voice = build->voice.name;
        at.voiceId = build->voice.id;
        made.voices.push_back(nodesOf(at, *build));
    }
    return made;
}

} // namespace ripple::motion
