#pragma once

#include "cli/commands.h"

#include <string>

namespace CLI {
class App;
}

namespace ripple::cli {

/// `ripple target`: ready targets, and finding the one of an engine.
struct TargetCall {
    bool list = false;
    std::string probe;   ///< a folder for the bundle of the axis probe
    std::string target;  ///< that the probe is for; a ready one or a file
    std::string arrows;  ///< where the probe's arrows point in the engine: "+X -Z +Y"
    double length = 1.0; ///< of one arrow, in the engine's units
    std::string out;     ///< a file for the target
    bool json = false;
};
/// What a person calls a target: a ready one or a file; empty: glTF's own conventions. Throws base::Failure.
bundle::Target targetOf(const std::string& text);
/// --target and --page, of commands that write bundles.
void addTargetOption(CLI::App& app, std::string& target, bundle::Page& page);
void addTargetOptions(CLI::App& app, TargetCall& call);
/// Throws base::Failure.
Status target(const TargetCall& call);

} // namespace ripple::cli
