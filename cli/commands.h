#pragma once

#include "bake/ladder.h"
#include "bake/recipe.h"
#include "bake/tolerance.h"
#include "base/progress.h"
#include "bundle/manifest.h"
#include "source/frame_source.h"
#include "source/open.h"
#include "source/reading.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <nlohmann/json_fwd.hpp>

namespace ripple::cli {

/// Exit status, as in the README: 0 done, 1 the input or the check is bad, 2 the call's words are off.
enum Status { kDone = 0, kBad = 1, kUsage = 2 };

/// A score that moves the source, as a person names it.
struct ScoreCall {
    std::string name;   ///< a .score file or the id of a ready-made one; empty: none
    bool onTop = false; ///< of the source's clips, instead of alone
};
/// Reads the score for a mesh, if one is named, into `origin`. Throws base::Failure.
void readScore(const ScoreCall& score, const mesh::Mesh& mesh, bundle::Origin& origin);
/// The source as the score of `origin` moves it; the source itself without one. Throws base::Failure.
std::shared_ptr<const source::FrameSource> moved(std::shared_ptr<const source::FrameSource> source,
                                                 const bundle::Origin& origin);

struct BakeCall {
    std::string source;
    std::string out;
    source::Reading reading;
    source::Trust trust;
    ScoreCall score;
    std::string target; ///< a ready one or a file; empty: glTF's own conventions
    bundle::Page page = bundle::Page::beside;
    std::size_t levels = 0; ///< of detail
    bake::Recipe recipe;
    std::optional<bake::FrameWindow> window; ///< for every clip; with no clips named: for all of the source's
    bool bestWindow = false; ///< of each clip the stretch that loops best, unless there is a window
    std::optional<bake::Tolerance> tolerance; ///< use the cheapest way to store that stays within it
    bake::LadderFreedom freedom;              ///< what that may choose; the rest is the recipe's
    bool json = false;
};

/// What main() does: parses the words and runs the command. The exit status.
int run(int argc, char** argv);

Status info(const std::string& source, const source::Reading& reading, const source::Trust& trust, bool json);
Status bakeSource(const BakeCall& call);
/// In which form a score is written.
struct CodeCall {
    std::vector<std::string>
        languages;          ///< of its code: dialects' ids; none: its own text, or all in a bundle
    bool exactSine = false; ///< by a polynomial, for graphics cards whose sine is coarse
    std::optional<bake::Tolerance> halfWithin; ///< in a bundle: half precision, if the motion loses no more
    std::string target;                        ///< in a bundle: a ready one or a file; empty: glTF's own
    bundle::Page page = bundle::Page::beside;  ///< in a bundle
    std::vector<float> copySizes; ///< in a bundle: from the smallest to the largest; none: as usual
    bool storeMasks = false;      ///< in a bundle: masks and courses as values at the vertices
};
/// Prints what a score is on a source, or writes it: to a file whose ending is .score or a language's, else
/// as a bundle to a folder.
Status score(const std::string& source, const source::Reading& reading, const source::Trust& trust,
             const ScoreCall& score, const CodeCall& code, const std::string& out);
Status demo(const std::string& out);

/// JSON on two-space steps; what is no UTF-8 (paths need not be) shows as U+FFFD.
void printJson(const nlohmann::ordered_json& json);

/// The status, or kBad if what was printed could not be: a pipeline must not take half a report for a whole
/// one.
int printed(int status);

/// Draws a bar on stderr where that is a terminal, and nothing elsewhere.
base::Progress::Listener progressBar(const char* what);

} // namespace ripple::cli
