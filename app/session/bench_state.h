#pragma once

#include "app/session/session.h"

#include <QCoreApplication>
#include <QString>

#include <array>
#include <functional>
#include <vector>

namespace ripple::app {

/// The words of the rail and of findings.
struct Findings {
    Q_DECLARE_TR_FUNCTIONS(Findings)
};

enum class Lamp { untouched, fine, look, broken };

/// What the curtain on the stage divides.
enum class Curtain {
    none,
    decoded, ///< the source and what its textures decode to
    compared ///< two frames of the source
};

/// One bench's stop on the rail.
struct BenchState {
    Lamp lamp = Lamp::untouched;
    QString line; ///< "4 225 vertices\n120 frames"
    bool operator==(const BenchState&) const = default;
};

/// The benches in the order of work: what the rest of the window needs to know of each.
struct BenchRow {
    const char* id; ///< what a project's view names
    const char* name;
    /// What the rail says of it, but for what is found open.
    BenchState (*state)(Session& session);
    Curtain curtain = Curtain::none;
    /// The score is worked on here: the dial, which is larger, shows its rings; the model has its handles and
    /// is drawn by its code; looks show its voices.
    bool voices = false;
    /// What is shipped is looked at here.
    bool ships = false;
    /// Copies are looked at here: the stage shows them, the dial where each is in its loop.
    bool copies = false;
};
constexpr std::size_t kBenchCount = 5;
extern const std::array<BenchRow, kBenchCount> kBenches;
/// The one that a view names; the first if there is no such.
const BenchRow& benchOf(const project::View& view);
int benchIndex(const std::string& id);
/// The bench that is shown has to do with the score's code, not with textures: it is worked on, or shipped.
bool showsCode(const project::Document& document);
/// As it is shown.
QString benchName(std::size_t index);

/// Something to press.
struct OpenFix {
    QString label;
    std::function<void()> run;
};

/// Something to show in words, with what fixes it.
struct OpenFinding {
    Lamp lamp = Lamp::fine;
    QString bench;
    QString title;
    QString words;
    std::vector<OpenFix> fixes; ///< the likeliest first
    std::function<void()> show; ///< goes to where it is; may be empty
};

/// All that is open in the session, worst first.
std::vector<OpenFinding> openFindings(Session& session);
std::array<BenchState, kBenchCount> benchStates(Session& session);

} // namespace ripple::app
