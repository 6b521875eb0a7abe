#include "bundle/score_notes.h"

#include "base/units.h"
#include "bundle/loader_notes.h"
#include "bundle/markdown.h"
#include "bundle/test_moments.h"
#include "emit/identifier.h"
#include "motion/kinds.h"
#include "motion/score_steps.h"
#include "motion/time_loss.h"

#include <algorithm>

namespace ripple::bundle {

namespace {

std::string literals(const glm::vec3& v) {
    return base::floatLiteral(v.x) + " " + base::floatLiteral(v.y) + " " + base::floatLiteral(v.z);
}

std::string listed(const std::vector<std::string>& all) {
    std::string text;
    for (const std::string& each : all) {
        text += (text.empty() ? "" : ", ") + asCode(each);
    }
    return text;
}

std::string files(const ScoreManifest& manifest) {
    std::string text = "| file | what it is |\n|---|---|\n| " + asCode(manifest.meshFile) +
                       " | the mesh in its rest pose, " + std::to_string(manifest.vertices) +
                       " vertices, metres, +Y up |\n";
    for (const std::string& language : manifest.languages) {
        text += "| " + asCode(manifest.name + "." + language) +
                " | functions that move it, with their numbers filled in |\n";
        text += "| " + asCode(manifest.name + ".vertex." + language) +
                " | a whole vertex stage that calls them, as an example |\n";
    }
    text += "| " + asCode(testFileOf(manifest.name)) +
            " | where some vertices are at some instants, to check a client by |\n";
    return text + "| " + asCode(manifest.name + ".bundle.json") + " | the same for programs |\n" +
           pageLine(manifest);
}

std::string boundsWords(const ScoreManifest& manifest) {
    const auto [least, most] = *manifest.copySizes;
    std::string words =
        "They hold the motion of every copy in its own space" +
        std::string(manifest.parameters.empty() ? "" : ", for every value of the parameters") +
        ", wherever it stands and however it is turned, of " +
        (readsCopyScale(manifest) ? base::numberText(static_cast<double>(least)) + " to " +
                                        base::numberText(static_cast<double>(most)) + " times the size. "
                                  : "any size. ");
    if (manifest.unturnedBounds != manifest.bounds) {
        words += "Copies that are neither turned nor scaled stay within min " +
                 literals(manifest.unturnedBounds.min) + ", max " + literals(manifest.unturnedBounds.max) +
                 ". ";
    }
    return words + "Those of the rest pose cull it too early.";
}

std::string importing(const ScoreManifest& manifest) {
    std::string text = "\n## 1. Import the mesh\n\n| setting | value | why |\n|---|---|---|\n";
    const bool further =
        std::any_of(manifest.inputs.begin(), manifest.inputs.end(),
                    [](const PlacedInput& input) { return input.from[0].starts_with("TEXCOORD"); });
    const bool colours = std::any_of(manifest.inputs.begin(), manifest.inputs.end(),
                                     [](const PlacedInput& input) { return input.from[0] == "COLOR_0"; });
    if (further) {
        text += "| UV sets | **keep all, in full float precision** | The code reads numbers from them. Half "
                "precision is good "
                "to a thousandth of a value only. |\n"
                "| V of UVs | **as it is** | An importer that turns V into 1 − V turns the numbers kept in V "
                "as well: turn "
                "them back, `v = 1 − v`, before they are used. |\n"
                "| light-map UVs | **do not make** | They would overwrite a set that the code reads. |\n";
    }
    if (colours) {
        text += "| vertex colours | **keep, linear** | Read as sRGB, masks bend. At 8 bits a mask is good to "
                "1/255. |\n";
    }
    return text +
           "| vertices | **do not weld or reorder by position** | Vertices that lie together may carry "
           "different values. |\n"
           "| scale and axes | **" +
           words(manifest.target) +
           "** | So the code takes and gives positions, in the mesh's own space; parameters are metres. |\n"
           "| bounds | min " +
           literals(manifest.bounds.min) + ", max " + literals(manifest.bounds.max) + " | " +
           boundsWords(manifest) + " |\n";
}

std::string reading(const ScoreManifest& manifest) {
    std::string text =
        "\n## 2. What the code reads\n\nAttributes are named as in the GLB, UV sets counted from 0. "
        "Importers that count from 1 call `TEXCOORD_1` the second set.\n\n| input | type | from "
        "|\n|---|---|---|\n";
    bool slopes = false;
    for (const PlacedInput& input : manifest.inputs) {
        slopes = slopes || input.name.find("slope") != std::string::npos;
        text += "| " + asCode(input.name) + " | " + input.type + " | " +
                (input.from[0] == "COPY" ? "the copy: the same for all its vertices" : listed(input.from)) +
                " |\n";
    }
    if (slopes) {
        text += "\nA slope says how a value changes along the surface, per metre, in the mesh's space: the "
                "gradient on each "
                "triangle, where the value is linear, and at a vertex the mean of its triangles' gradients, "
                "weighted by "
                "their areas. Normals need it.\n";
    }
    if (manifest.storesMasks) {
        text +=
            "\nMasks and courses are stored at the vertices. Copies that are merged into one mesh keep them.";
        if (manifest.normalLossDeg && *manifest.normalLossDeg > 0.01) {
            text += " Normals are off by up to " + base::degreesText(*manifest.normalLossDeg) +
                    " in the loop beside those of the plain code, as slopes are " +
                    (slopes ? "those between vertices" : "not stored") + ".";
        }
        text += "\n";
    }
    return text;
}

std::string calling(const ScoreManifest& manifest) {
    const std::string id = emit::identifier(manifest.name);
    std::string arguments;
    for (const PlacedInput& input : manifest.inputs) {
        arguments += input.name + ", ";
    }
    const std::string parameters = manifest.parameters.empty() ? "" : "parameters, ";
    std::string text =
        "\n## 3. Call it in the vertex stage\n\nAfter including the functions of your language:\n\n```\n" +
        id + "_moved moved = " + id + "_at_seconds(" + arguments + parameters + "seconds);\n" +
        "position = moved.position; normal = moved.normal;\n```\n\n" + asCode(id + "_at_turn") +
        " takes the turn in place of seconds: one trip round the loop of " +
        base::numberText(manifest.loopSeconds) + " s (" + asCode(id + "_loop_seconds") +
        ") for each whole number. " + asCode(id + "_velocity_at_seconds") + " takes the same and gives " +
        unitWords(manifest.target) +
        " a second, for motion blur; who does not call it pays nothing. "
        "A whole stage lies beside: " +
        asCode(manifest.name + ".vertex." + manifest.languages.front()) + ".\n";
    if (!manifest.parameters.empty()) {
        text += "\n## 4. Parameters\n\n" + asCode(id + "_defaults()") +
                " fills the structure in; the code holds each number within its range, and the loop closes "
                "for all of them.\n\n"
                "| name | default | range | unit | what it does |\n|---|---|---|---|---|\n";
        for (const ScoreParameter& each : manifest.parameters) {
            text += "| " + asCode(each.name) + " | " + base::numberText(each.usual) + " | " +
                    base::numberText(each.least) + " to " + base::numberText(each.most) +
                    (each.whole ? ", whole" : "") + " | " + each.unit + " | " + asText(each.help) + " |\n";
        }
    }
    return text;
}

std::string timing(const ScoreManifest& manifest, const ScoreOnMesh& on) {
    const auto losses = motion::timeLosses(manifest.loopSeconds, motion::fastest(*on.performance));
    std::string text =
        "\n## Time\n\nSeconds that are counted in 32-bit floats lose their fraction as they grow. On this "
        "model, at its fastest:\n\n| after | the turn is off by | a vertex is off by |\n|---|---|---|\n";
    for (const motion::TimeLoss& loss : losses) {
        text += "| " + base::numberText(loss.hours) + (loss.hours == 1.0 ? " hour" : " hours") + " | " +
                motion::figure(loss.turns) + " | " + base::lengthText(loss.metres) + " |\n";
    }
    return text + (losses.back().isEnough()
                       ? "\nThat is less than 0.1 mm after 100 hours: hand over the seconds as they are.\n"
                       : "\nHand over `seconds` that your program keeps in double precision and wraps to the "
                         "loop's " +
                             base::numberText(manifest.loopSeconds) +
                             " s (seconds − loop · floor(seconds / loop)) before it makes a float of them: "
                             "then it is " +
                             "less than 0.001 mm for ever.\n");
}

/// What a card's own sine may lose, and the way out.
std::string sines(const ScoreManifest& manifest) {
    if (manifest.exactSine) {
        return "\n## Sines\n\nThe code works its sines out by a polynomial that is good to two "
               "ten-millionths on every "
               "graphics card.\n";
    }
    return "\n## Sines\n\nThe code uses the graphics card's own sine, which the standards let be wrong by "
           "0.0002 to 0.0005: a "
           "reed 2 m high then moves 1 mm beside its place. Where that matters, write the bundle again with "
           "an exact sine "
           "(`--exact-sine`, or the tick on Ship): 13 more instructions for each sine.\n";
}

std::string halves(const ScoreManifest& manifest) {
    return manifest.halfLossMetres
               ? "\n## Half precision\n\nMasks, waves and normals are worked out in 16-bit floats where the "
                 "graphics card has them "
                 "(`mediump`, `min16float`, `f16`). Measured over the loop, no vertex is more than " +
                     base::lengthText(*manifest.halfLossMetres) +
                     " beside its place by that. The WGSL text begins with `enable f16;`, which must stand "
                     "before all "
                     "declarations, and wants the device's feature `shader-f16`.\n"
               : "";
}

std::string byHand(const ScoreManifest& manifest, const ScoreOnMesh& on) {
    std::string text = "\n## Wiring it by hand\n\nWhere code cannot be pasted, these are the operations, in "
                       "this order. p is the "
                       "rest position in metres, φ = fract(seconds / " +
                       base::numberText(manifest.loopSeconds) +
                       ") the turn, angles are in degrees. Bends and twists come first, each on what the one "
                       "before has made; "
                       "then all that is added.\n";
    if (!manifest.parameters.empty()) {
        text += "\nNumbers that are parameters stand here with their defaults.\n";
    }
    if (on.score.overall.heading != 0.0) {
        text += "\nBefore all: turn every direction of the world, and the hinges of bends whose length "
                "stands upright, by " +
                base::numberText(on.score.overall.heading) + "° about the vertical, from Z towards X.\n";
    }
    for (const motion::VoiceSteps& voice : motion::stepsOf(on.score, on.performance->model().size)) {
        text += "\n**" + asText(voice.voice) + "**\n\n";
        for (std::size_t i = 0; i < voice.steps.size(); ++i) {
            text += std::to_string(i + 1) + ". " + voice.steps[i] + "\n";
        }
    }
    return text + "\nThe normal follows by the cofactor of the Jacobian, which the code has worked out. By "
                  "hand: move the "
                  "vertex and two points a millimetre beside it along two tangents, and take the cross "
                  "product of their "
                  "differences.\n";
}

} // namespace

std::string scoreNotes(const ScoreManifest& manifest, const ScoreOnMesh& on) {
    const std::string id = emit::identifier(manifest.name);
    const bool colours = std::ranges::any_of(manifest.inputs, [](const PlacedInput& input) {
        return input.from == std::vector<std::string>{"COLOR_0"};
    });
    return "# " + asText(manifest.name) + ": what is here and how to import it\n\n" + files(manifest) +
           targetNotes(manifest.target, true) + importing(manifest) + "\n" + loaderNotes(id, false, colours) +
           copyNotes(manifest.name, id, true) + testNotes(manifest.name, id + "_at_turn(…, turn)") +
           reading(manifest) + calling(manifest) + timing(manifest, on) + sines(manifest) + halves(manifest) +
           byHand(manifest, on);
}

} // namespace ripple::bundle
