#pragma once

#include "app/shell/session.h"

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

/// The benches in the order of work; ids are what a project's view names.
struct BenchInfo {
    const char* id;
    const char* name;
};
extern const std::array<BenchInfo, 5> kBenches;
int benchIndex(const std::string& id);
/// As it is shown.
QString benchName(std::size_t index);

/// One bench's stop on the rail.
struct BenchState {
    Lamp lamp = Lamp::untouched;
    QString line; ///< "4 225 vertices\n120 frames"
    bool operator==(const BenchState&) const = default;
};

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
std::array<BenchState, 5> benchStates(Session& session);

} // namespace ripple::app
