#include "cli/commands.h"

#include "base/units.h"
#include "bundle/rehearsal.h"

#include <iostream>

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

void print(const std::vector<const bundle::Fault*>& chosen, const bundle::Rehearsed& seen) {
    for (const bundle::Fault* fault : chosen) {
        std::cout << fault->id << ": " << fault->what << "\n  to be seen: " << fault->sign
                  << "\n  prevented: " << fault->prevention << "\n";
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

Status rehearse(const std::string& bundlePath, const std::vector<std::string>& ids, const std::string& out,
                bool json) {
    std::vector<std::vector<const bundle::Fault*>> rounds;
    if (ids.empty()) {
        for (const bundle::Fault& fault : bundle::faults()) {
            rounds.push_back({&fault});
        }
    } else {
        rounds.emplace_back();
        for (const std::string& id : ids) {
            rounds[0].push_back(&bundle::faultNamed(id));
        }
    }
    const bundle::Bundle bundle = bundle::readBundle(bundlePath);
    Json root;
    root["rehearsals"] = Json::array();
    for (const auto& chosen : rounds) {
        const bundle::Rehearsed seen = bundle::rehearse(bundle, chosen);
        if (json) {
            root["rehearsals"].push_back(rehearsedJson(chosen, seen));
        } else {
            print(chosen, seen);
        }
    }
    if (!out.empty()) {
        const std::size_t files = bundle::writeSpoilt(bundle, bundlePath, rounds[0], out);
        root["files"] = files;
        if (!json) {
            std::cout << out << ": " << base::plural(files, "spoilt file") << "\n";
        }
    }
    if (json) {
        printJson(root);
    }
    return kDone;
}

} // namespace ripple::cli
