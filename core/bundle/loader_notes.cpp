#include "bundle/loader_notes.h"

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
          "turn it back: 1 − V"},
    Habit{"vertices are welded, split or sorted", "the mesh tears along seams",
          "switch optimising off; the lookup goes by UVs, so splitting alone does no harm",
          "switch optimising off"},
    Habit{"normals are made anew", "light flickers over flat parts", "keep normals as they come", nullptr},
};

std::string rowOf(const char* what, const char* sign, const std::string& remedy) {
    return std::string("| ") + what + " | " + sign + " | " + remedy + " |\n";
}

} // namespace

std::string loaderNotes(const std::string& id, bool textures) {
    std::string text = "## What loaders change unless they are told\n\n| what | how it shows | what to do "
                       "|\n|---|---|---|\n";
    for (const Habit& habit : kHabits) {
        const bool own = !textures && habit.remedyOfScores;
        text += rowOf(habit.what, habit.sign, withNames(own ? habit.remedyOfScores : habit.remedy, id));
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

std::string testNotes(const std::string& name, const std::string& call) {
    const std::string file = testFileOf(name);
    return "## Is it read right?\n\n" + asCode(file) +
           " says where a few vertices are at a few instants, in metres in the mesh's own space: " +
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
