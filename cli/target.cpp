#include "cli/target.h"

#include "base/problem.h"
#include "base/progress.h"
#include "base/units.h"
#include "bundle/axis_probe.h"
#include "bundle/target.h"

#include <iostream>
#include <sstream>

#include <CLI/CLI.hpp>

namespace ripple::cli {

namespace {

void print(const bundle::Target& target) {
    const auto letters = target.axes.letters();
    std::cout << bundle::titleOf(target) << "\n"
              << "  " << bundle::words(target) << "\n  its X is glTF's " << letters[0] << ", its Y is "
              << letters[1] << ", its Z is " << letters[2] << "\n";
}

std::array<std::string, 3> threeOf(const std::string& text) {
    std::array<std::string, 3> letters;
    std::istringstream words(text);
    std::string more;
    if (!(words >> letters[0] >> letters[1] >> letters[2]) || words >> more) {
        base::fail("--arrows", "must say where X, Y and Z point, as \"+X -Z +Y\"",
                   "look at the probe in the engine");
    }
    return letters;
}

} // namespace

bundle::Target targetOf(const std::string& text) {
    return text.empty() ? bundle::Target{} : bundle::targetCalled(text);
}

void addTargetOption(CLI::App& app, std::string& target, bundle::Page& page) {
    app.add_option_function<std::string>(
           "--page", [&page](const std::string& text) { page = *bundle::pageByName(text); },
           "a page that plays the bundle in a browser: beside (reads the bundle's files), inside (holds "
           "them, "
           "to be mailed) or none")
        ->check(CLI::IsMember({"none", "beside", "inside"}))
        ->default_str("beside");
    app.add_option(
        "--target", target,
        "whom it is written for: a ready target by its number or words (\"ripple target --list\"), "
        "or a file; default: Y up, right-handed, metres");
}

void addTargetOptions(CLI::App& app, TargetCall& call) {
    app.add_flag("--list", call.list, "the ready targets");
    app.add_option("--probe", call.probe,
                   "write a bundle of three arrows to this folder, by which an engine's axes are found");
    app.add_option("--target", call.target, "write the probe for this target, to see whether it is right");
    auto* arrows =
        app.add_option("--arrows", call.arrows,
                       "where the arrows X, Y and Z of the probe point in the engine: \"+X -Z +Y\"");
    app.add_option("--length", call.length, "of one arrow, in the engine's units")
        ->needs(arrows)
        ->check(CLI::PositiveNumber)
        ->capture_default_str();
    app.add_option("--out", call.out, "write the target that was found to this file")->needs(arrows);
    app.add_flag("--json", call.json, "print one JSON document");
}

Status target(const TargetCall& call) {
    if (!call.probe.empty()) {
        base::Progress progress(progressBar("probe"));
        bundle::writeAxisProbe(call.probe, targetOf(call.target), progress);
        if (!call.json) {
            std::cout << call.probe << ": three arrows of one metre\n"
                      << "  Import it and look where the arrows X, Y and Z point in the engine and how long "
                         "one is there,\n"
                      << "  then: ripple target --arrows \"+X +Y +Z\" --length 1 --out engine.target.json\n"
                      << "  With the right target each arrow grows along itself, X first, then Y, then Z.\n";
        }
    }
    if (!call.arrows.empty()) {
        const bundle::Target found = bundle::targetByArrows(threeOf(call.arrows), call.length);
        if (!call.out.empty()) {
            bundle::saveTarget(found, call.out);
        }
        if (call.json) {
            printJson(bundle::targetJson(found));
        } else {
            print(found);
        }
        return kDone;
    }
    if (call.probe.empty() || call.list) {
        nlohmann::ordered_json root = nlohmann::ordered_json::array();
        std::size_t number = 0;
        for (const bundle::Target& each : bundle::readyTargets()) {
            if (call.json) {
                root.push_back(bundle::targetJson(each));
            } else {
                std::cout << ++number << "  ";
                print(each);
            }
        }
        if (call.json) {
            printJson(root);
        }
    } else if (call.json) {
        printJson(bundle::targetJson(targetOf(call.target)));
    }
    return kDone;
}

} // namespace ripple::cli
