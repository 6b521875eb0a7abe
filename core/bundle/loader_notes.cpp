#include "bundle/loader_notes.h"

#include "bundle/markdown.h"
#include "bundle/test_moments.h"

#include <array>

namespace ripple::bundle {

namespace {

struct Habit {
    bool ofTextures;
    const char* what;
    const char* sign; ///< how it shows
    const char* remedy;
};

constexpr std::array kHabits = {
    Habit{false, "UV sets are counted from 1, or have other names", "the mesh shrinks to a few points",
          "`TEXCOORD_1` is the second set, whatever it is called"},
    Habit{false, "attributes that begin with an underscore get lower case, or are left out",
          "masks and stored values read 0", "ask for them by the name that the loader gives"},
    Habit{false, "V becomes 1 − V", "the mesh bursts into spikes", "set `%_v_from_below` to true"},
    Habit{false, "vertices are welded, split or sorted", "the mesh tears along seams",
          "switch optimising off; the lookup goes by UVs, so splitting alone does no harm"},
    Habit{false, "normals are made anew", "light flickers over flat parts", "keep normals as they come"},
    Habit{true, "rows of images are turned (PNG and EXR loaders, not alike)", "the mesh bursts into spikes",
          "switch it off, or set `%_rows_from_below` to true"},
    Habit{true, "linear filtering", "vertices swim toward their neighbours in the texture", "nearest"},
    Habit{true, "colours are multiplied with alpha (premultiplied)", "positions shrink where alpha is small",
          "switch it off"},
    Habit{true, "images go through a canvas of 8 bits", "motion steps by millimetres",
          "decode 16-bit PNG and EXR as they are"},
    Habit{true, "gamma or colour profiles are applied", "positions bend toward one corner",
          "read as linear data"},
};

} // namespace

std::string loaderNotes(const std::string& id, bool textures) {
    std::string text = "## What loaders change unless they are told\n\n| what | how it shows | what to do "
                       "|\n|---|---|---|\n";
    for (const Habit& habit : kHabits) {
        if (habit.ofTextures && !textures) {
            continue;
        }
        std::string remedy = habit.remedy;
        if (const std::size_t at = remedy.find('%'); at != std::string::npos) {
            if (!textures) {
                remedy = "turn it back: 1 − V";
            } else {
                remedy.replace(at, 1, id);
            }
        }
        text += std::string("| ") + habit.what + " | " + habit.sign + " | " + remedy + " |\n";
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
