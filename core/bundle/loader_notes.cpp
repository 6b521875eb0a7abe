#include "bundle/loader_notes.h"

#include "base/units.h"
#include "bundle/markdown.h"
#include "bundle/test_moments.h"
#include "bundle/texture_damage.h"

#include <array>

namespace ripple::bundle {

namespace {

/// What is done to a mesh; what is done to textures: textureDamages().
struct Habit {
    const char* what;
    const char* sign; ///< how it shows
    const char* remedy;
    const char* remedyOfScores; ///< null: the same
};

constexpr std::array kHabits = {
    Habit{"UV sets are counted from 1, or have other names", "the mesh shrinks to a few points",
          "`TEXCOORD_1` is the second set, whatever it is called", nullptr},
    Habit{"attributes that begin with an underscore get lower case, or are left out",
          "masks and stored values read 0", "ask for them by the name that the loader gives", nullptr},
    Habit{"V becomes 1 − V", "the mesh bursts into spikes", "set NAME_v_from_below in the code to true",
          "write it for a target whose V counts from below"},
    Habit{"vertices are welded, split or sorted", "the mesh tears along seams",
          "switch optimising off; the lookup goes by UVs, so splitting alone does no harm",
          "switch optimising off"},
    Habit{"normals are made anew", "light flickers over flat parts", "keep normals as they come", nullptr},
};

std::string rowOf(const char* what, const char* sign, const std::string& remedy) {
    return std::string("| ") + what + " | " + sign + " | " + remedy + " |\n";
}

} // namespace

std::string loaderNotes(const std::string& id, bool textures, bool colours) {
    std::string text = "## What loaders change unless they are told\n\n| what | how it shows | what to do "
                       "|\n|---|---|---|\n";
    for (const Habit& habit : kHabits) {
        const bool own = !textures && habit.remedyOfScores;
        text += rowOf(habit.what, habit.sign, withNames(own ? habit.remedyOfScores : habit.remedy, id));
    }
    if (colours) {
        text += rowOf("vertex colours are taken for sRGB, rounded to 8 bits or multiplied with alpha",
                      "parts move too much or too little", "import them as linear numbers, as they are");
    }
    if (textures) {
        text += rowOf("textures are filtered linearly",
                      "vertices swim toward their neighbours in the texture", "nearest");
        for (const DamageWords& damage : textureDamages()) {
            text += rowOf(damage.what, damage.sign, withNames(damage.prevention, id));
        }
    }
    return text + "\n";
}

std::string pageLine(const ManifestHead& head) {
    return head.page == Page::none ? ""
                                   : "| " + asCode(pageFileOf(head.name)) +
                                         " | plays the bundle in a browser with WebGL 2, without network" +
                                         (head.page == Page::inside ? "; it holds all files" : "") +
                                         "; its script is a short client to read |\n";
}

std::string targetNotes(const Target& target, bool score) {
    const std::array<std::string, 3> letters = target.axes.letters();
    std::string text = "\n## Written for\n\n" + words(target) + ": its X is glTF's " + letters[0] +
                       ", its Y is " + letters[1] + ", its Z is " + letters[2] + "; one of its units is " +
                       base::numberText(target.metresPerUnit) +
                       " m. The mesh is glTF, which the importer converts; textures, bounds, pivots and code "
                       "hold these axes and this unit already.";
    if (target.firstUvSet == 1) {
        text += " It counts UV sets from 1: `TEXCOORD_0` is its set 1.";
    }
    if (target.vFromBelow || target.rowsFromBelow) {
        text += std::string(" The code expects ") +
                (target.vFromBelow ? "V turned into 1 − V on import" : "") +
                (target.vFromBelow && target.rowsFromBelow ? ", and " : "") +
                (target.rowsFromBelow ? "images whose lowest row is row 0" : "") + ".";
    }
    if (target.vFromBelow && score) {
        text +=
            " Numbers that lie in the `.y` of a UV set are handed in as 1 − V, as the example does; whole UV "
            "sets as they come.";
    }
    return text + "\n";
}

std::string copyNotes(const std::string& name, const std::string& id, bool score) {
    const std::string crowd = id + "_crowd";
    return "## Many copies\n\nAll copies share the mesh" + std::string(score ? "" : ", the textures") +
           " and the code. Each has its object transform and " +
           (score ? "what the inputs called `COPY` ask for" : "its own clip and seconds") +
           ". `ripple scatter " + name + " --out crowd.glb --code` writes copies, and beside them " +
           asCode(crowd + "_copy_of(seed, index)") +
           ", which gives a copy's clip, start, rate, turn, size, tint and id, the same on every "
           "processor:\n\n```glsl\n" +
           crowd + "_copy copy = " + crowd +
           "_copy_of(seed, index);\nfloat own_seconds = copy.rate * seconds + copy.start * " +
           (score ? id + "_loop_seconds" : std::string("clip_seconds")) +
           ";\n```\n\nCull each copy by the bounds in " + std::string(score ? "part 1" : "this file") +
           ", carried by its transform: the box that holds the eight corners, scaled, turned and moved "
           "as the copy is. Copies that an engine merges into one mesh lose their own origin, which "
           "`--merge` keeps for them.\n\n";
}

std::string testNotes(const std::string& name, const std::string& call) {
    const std::string file = testFileOf(name);
    return "## Is it read right?\n\n" + asCode(file) +
           " says where a few vertices are at a few instants, in the axes and the unit of the target: " +
           asCode("vertices") + " are their numbers in the mesh, " + asCode("rest") +
           " their places in it, and each of " + asCode("moments") +
           " has its instant, positions and normals. Ask " + asCode(call) +
           " for the same and compare. A copy of the file with your own positions and normals in it is "
           "compared by\n\n"
           "    ripple check " +
           name + " --client your-" + file +
           "\n\nwhich says by how many millimetres it is off, and where the numbers tell it, why: axes, "
           "unit, offsets, a frame too "
           "late.\n\n";
}

} // namespace ripple::bundle
