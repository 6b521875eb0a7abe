#include "cli/rehearse.h"

#include "base/units.h"
#include "bundle/check_score.h"
#include "bundle/rehearsal.h"
#include "emit/identifier.h"

#include <iostream>

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

namespace ripple::cli {

namespace {

using Json = nlohmann::ordered_json;

Json rehearsedJson(const std::vector<const bundle::Fault*>& chosen, const bundle::Rehearsed& seen) {
    Json ids = Json::array();
    for (const bundle::Fault* fault : chosen) {
        ids.push_back(fault->id);
    }
    return {{"faults", ids},
            {"position_max_m", seen.metres},
            {"normal_max_deg", seen.degrees},
            {"overhang_m", seen.overhang},
            {"worst", {{"clip", seen.worstClip}, {"frame", seen.worstFrame}}},
            {"idle", seen.idle}};
}

void print(const std::vector<const bundle::Fault*>& chosen, const bundle::Rehearsed& seen,
           const std::string& identifier) {
    for (const bundle::Fault* fault : chosen) {
        std::cout << fault->id << ": " << fault->what << "\n  to be seen: " << fault->sign
                  << "\n  prevented: " << bundle::withNames(fault->prevention, identifier) << "\n";
    }
    for (const std::string& idle : seen.idle) {
        std::cout << "  does nothing here: " << idle << "\n";
    }
    if (seen.idle.size() < chosen.size()) {
        std::cout << "  vertices off by up to " << base::lengthText(seen.metres) << ", normals by "
                  << base::degreesText(seen.degrees);
        if (seen.overhang > 0.0) {
            std::cout << "; " << base::lengthText(seen.overhang) << " outside the bounds";
        }
        std::cout << "\n";
    }
}

} // namespace

void addRehearseOptions(CLI::App& app, RehearseCall& call) {
    app.add_option("BUNDLE", call.bundle, "the bundle's folder")->required();
    auto* fault = app.add_option("--fault", call.faults, "one of them, may be repeated; default: each alone");
    app.add_option("--out", call.out, "a folder for the files as the faults leave them")->needs(fault);
    app.add_flag("--json", call.json, "print one JSON document");
}

Status rehearse(const RehearseCall& call) {
    std::vector<std::vector<const bundle::Fault*>> rounds;
    if (call.faults.empty()) {
        for (const bundle::Fault& fault : bundle::faults()) {
            rounds.push_back({&fault});
        }
    } else {
        rounds.emplace_back();
        for (const std::string& id : call.faults) {
            rounds[0].push_back(&bundle::faultNamed(id));
        }
    }
    Json root;
    root["rehearsals"] = Json::array();
    const auto rehearseAll = [&](const auto& staged, const std::string& name) {
        for (const auto& chosen : rounds) {
            const bundle::Rehearsed seen = bundle::rehearse(staged, chosen);
            if (call.json) {
                root["rehearsals"].push_back(rehearsedJson(chosen, seen));
            } else {
                print(chosen, seen, emit::identifier(name));
            }
        }
    };
    const auto write = [&](const auto& bundle) {
        if (call.out.empty()) {
            return;
        }
        const std::size_t files = bundle::writeSpoilt(bundle, call.bundle, rounds[0], call.out);
        root["files"] = files;
        if (!call.json) {
            std::cout << call.out << ": " << base::plural(files, "spoilt file") << "\n";
        }
    };
    if (bundle::holdsScore(call.bundle)) {
        const bundle::ScoreBundle bundle = bundle::readScoreBundle(call.bundle);
        rehearseAll(bundle::staged(bundle), bundle.manifest.name);
        write(bundle);
    } else {
        const bundle::Bundle bundle = bundle::readBundle(call.bundle);
        rehearseAll(bundle, bundle.manifest.name);
        write(bundle);
    }
    if (call.json) {
        printJson(root);
    }
    return kDone;
}

} // namespace ripple::cli
