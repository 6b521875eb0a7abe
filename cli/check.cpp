#include "cli/check.h"

#include "bundle/check.h"
#include "bundle/returned.h"
#include "bundle/test_vector.h"
#include "base/progress.h"
#include "base/units.h"
#include "source/open.h"

#include <iostream>

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

namespace ripple::cli {

namespace {

using Json = nlohmann::ordered_json;

Json distances(const bake::Distances& d) {
    return {{"max", d.max}, {"rms", d.rms}, {"p99", d.p99}};
}

Json problemsJson(const std::vector<base::Problem>& problems) {
    Json list = Json::array();
    for (const base::Problem& problem : problems) {
        list.push_back({{"where", problem.where}, {"what", problem.what}, {"fix", problem.fix}});
    }
    return list;
}

Json reportJson(const bundle::CheckReport& report) {
    Json root;
    root["ok"] = report.ok();
    root["problems"] = problemsJson(report.problems);
    if (report.error) {
        const bake::ErrorReport& error = *report.error;
        root["position_error_m"] = distances(error.all);
        root["position_error_at_frames_m"] = distances(error.atFrames);
        root["position_error_between_frames_m"] = distances(error.betweenFrames);
        root["position_error_max_percent"] =
            error.diagonal > 0.0 ? 100.0 * error.all.max / error.diagonal : 0.0;
        root["normal_error_deg"] = {{"max", error.normalMaxDegrees}, {"rms", error.normalRmsDegrees}};
        root["worst"] = {
            {"clip", error.worstClip}, {"frame", error.worstFrame}, {"vertex", error.worstVertex}};
    } else {
        // Not compared: the keys are there all the same, so that a pipeline can rely on them.
        root["position_error_m"] = {{"max", nullptr}, {"rms", nullptr}, {"p99", nullptr}};
        root["normal_error_deg"] = {{"max", nullptr}, {"rms", nullptr}};
    }
    root["clips"] = Json::array();
    for (const bundle::ClipCheck& clip : report.clips) {
        root["clips"].push_back({{"name", clip.name},
                                 {"frames", clip.frames},
                                 {"closed", clip.closed},
                                 {"seam_gap_m", clip.seamGap}});
    }
    root["bytes"] = report.fileBytes;
    root["texture_memory_bytes"] = report.textureMemory;
    return root;
}

void print(const bundle::CheckReport& report, const std::string& bundle) {
    std::cout << bundle << ": " << (report.ok() ? "sound" : "NOT SOUND") << "\n";
    for (const bundle::ClipCheck& clip : report.clips) {
        std::cout << "  clip \"" << clip.name << "\": " << base::plural(clip.frames, "frame") << ", "
                  << (clip.closed ? "closed" : "open") << ", seam gap " << base::lengthText(clip.seamGap)
                  << "\n";
    }
    if (report.error) {
        const bake::ErrorReport& error = *report.error;
        std::cout << "  positions: maximum error " << base::lengthText(error.all.max) << " ("
                  << base::lengthText(error.atFrames.max) << " at kept frames, "
                  << base::lengthText(error.betweenFrames.max) << " between them), 99 % within "
                  << base::lengthText(error.all.p99) << ", rms " << base::lengthText(error.all.rms) << "\n"
                  << "  normals: maximum error " << base::degreesText(error.normalMaxDegrees) << ", rms "
                  << base::degreesText(error.normalRmsDegrees) << "\n"
                  << "  worst: clip \"" << error.worstClip << "\", frame " << error.worstFrame << ", vertex "
                  << error.worstVertex << "\n";
    }
    std::cout << "  " << base::sizeText(report.fileBytes) << " on disk, "
              << base::sizeText(report.textureMemory) << " texture memory\n";
}

/// Prints problems, a line each.
Status said(const std::vector<base::Problem>& problems, bool ok) {
    for (const base::Problem& problem : problems) {
        std::cerr << "ripple: " << problem.line() << "\n";
    }
    return ok ? kDone : kBad;
}

Status checkFiles(const std::string& bundlePath, const std::string& against, const source::Trust& trust,
                  const ScoreCall& score, bool json) {
    std::shared_ptr<const source::FrameSource> source;
    if (!against.empty()) {
        base::Progress reading(progressBar("reading"));
        bundle::Origin origin = bundle::originOf(bundlePath);
        const auto opened = source::open(against, origin.reading, reading, source::kFrameCacheBytes, trust);
        readScore(score, opened->mesh(), origin); // instead of the one that the manifest holds
        source = moved(opened, origin);
    }
    base::Progress checking(progressBar("checking"));
    const bundle::CheckReport report = bundle::check(bundlePath, source.get(), checking);
    if (json) {
        printJson(reportJson(report));
    } else {
        print(report, bundlePath);
    }
    return said(report.problems, report.ok());
}

Status checkClient(const std::string& bundlePath, const std::string& client, bool json) {
    const bundle::ClientCheck report = bundle::checkClient(bundlePath, client);
    if (json) {
        Json root;
        root["ok"] = report.ok();
        root["problems"] = problemsJson(report.problems);
        root["moments"] = report.moments;
        root["vertices"] = report.vertices;
        root["position_max_m"] = report.worstMetres;
        root["normal_max_deg"] = report.worstDegrees;
        root["allowed_m"] = report.allowedMetres;
        printJson(root);
    } else {
        std::cout << client << ": "
                  << (report.ok() ? "reads the bundle right" : "DOES NOT READ THE BUNDLE RIGHT") << "\n  "
                  << base::plural(report.vertices, "vertex") << " at "
                  << base::plural(report.moments, "moment") << ": off by up to "
                  << base::lengthText(report.worstMetres) << ", normals by "
                  << base::degreesText(report.worstDegrees) << "\n";
    }
    return said(report.problems, report.ok());
}

Status checkReturned(const std::string& bundlePath, const std::string& returned, bool json) {
    const bundle::ReturnedReport report = bundle::checkReturned(bundlePath, returned);
    if (json) {
        Json root;
        root["ok"] = report.ok();
        root["problems"] = problemsJson(report.problems);
        root["files"] = Json::array();
        for (const bundle::ReturnedFile& file : report.files) {
            Json changes = Json::array();
            for (const bundle::Change& change : file.changes) {
                changes.push_back({{"id", change.id},
                                   {"what", change.what},
                                   {"fix", change.prevention},
                                   {"position_max_m", change.metres ? Json(*change.metres) : Json()},
                                   {"normal_max_deg", change.degrees}});
            }
            root["files"].push_back({{"file", file.file},
                                     {"changes", changes},
                                     {"position_max_m", file.metres},
                                     {"normal_max_deg", file.degrees}});
        }
        printJson(root);
    } else {
        for (const bundle::ReturnedFile& file : report.files) {
            std::cout << file.file << ": " << (file.changes.empty() ? "as it was written" : "CHANGED");
            if (file.metres > 0.0 || file.degrees > 0.0) {
                std::cout << ", off by up to " << base::lengthText(file.metres) << ", normals by "
                          << base::degreesText(file.degrees);
            }
            std::cout << "\n";
            for (const bundle::Change& change : file.changes) {
                std::cout << "  " << change.what;
                if (change.metres && file.changes.size() > 1) {
                    const bool ofNormals = *change.metres == 0.0 && change.degrees > 0.0;
                    std::cout << " (alone: "
                              << (ofNormals ? "normals by " + base::degreesText(change.degrees)
                                            : base::lengthText(*change.metres))
                              << ")";
                }
                std::cout << "; " << change.prevention << "\n";
            }
        }
    }
    return said(report.problems, report.ok());
}

} // namespace

void addCheckOptions(CLI::App& app, CheckCall& call) {
    app.add_option("BUNDLE", call.bundle, "the bundle's folder")->required();
    auto* against = app.add_option("--against", call.against, "the source that it was baked from");
    auto* client = app.add_option("--client", call.client,
                                  "a copy of the bundle's test file, with what your client makes of it");
    client->excludes(against);
    app.add_option("--returned", call.returned,
                   "a folder with the bundle's files as an importer wrote them again: says what it did")
        ->excludes(against)
        ->excludes(client);
    app.add_flag("--json", call.json, "print one JSON document");
}

Status check(const CheckCall& call, const source::Trust& trust, const ScoreCall& score) {
    return !call.returned.empty() ? checkReturned(call.bundle, call.returned, call.json)
           : !call.client.empty() ? checkClient(call.bundle, call.client, call.json)
                                  : checkFiles(call.bundle, call.against, trust, score, call.json);
}

} // namespace ripple::cli
