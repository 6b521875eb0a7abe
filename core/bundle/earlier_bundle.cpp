#include "bundle/earlier_bundle.h"

#include "base/problem.h"
#include "bundle/check_score.h"
#include "bundle/page.h"
#include "bundle/read_bundle.h"
#include "bundle/test_moments.h"
#include "emit/dialect.h"

#include <algorithm>
#include <array>
#include <string_view>
#include <vector>

namespace ripple::bundle {

namespace {

constexpr std::string_view kManifest = ".bundle.json";
constexpr const char* kNotes = "IMPORT.md";
constexpr const char* kOther = "choose another folder; this one is left as it is";

/// What bundles write beside their notes; for a manifest that can't be read any more.
constexpr std::array kTextures = {"position",      "position-high", "position-low", "rotation",
                                  "rotation-high", "rotation-low",  "normal",       "tangent",
                                  "weights",       "joints",        "influences"};

std::set<std::string> allNamesOf(const std::string& name) {
    std::set<std::string> names = {kNotes, name + ".glb", testFileOf(name), pageFileOf(name),
                                   name + std::string(kManifest)};
    for (const emit::Dialect* dialect : emit::dialects()) {
        names.insert(name + "." + dialect->id());
        names.insert(name + ".vertex." + dialect->id());
    }
    for (const std::string texture : kTextures) {
        names.insert(name + "." + texture + ".exr");
        names.insert(name + "." + texture + ".png");
    }
    return names;
}

std::vector<FileEntry> filesOfManifest(const std::filesystem::path& folder) {
    return holdsScore(folder) ? readScoreManifest(folder).files : readManifest(folder).files;
}

/// What the manifest in the folder lists. A manifest from elsewhere could list anything, so names count only
/// if they are a bundle's.
std::set<std::string> listed(const std::filesystem::path& folder, const std::string& manifest) {
    const std::string name = manifest.substr(0, manifest.size() - kManifest.size());
    std::set<std::string> names = {manifest};
    try {
        for (const FileEntry& file : filesOfManifest(folder)) {
            const bool plain = file.file.find('/') == std::string::npos;
            if (plain && (file.file == kNotes || file.file.starts_with(name + "."))) {
                names.insert(file.file);
            }
        }
    } catch (const base::Failure&) {
        return allNamesOf(name); // damaged: no list, but the names that it can have had
    }
    return names;
}

} // namespace

std::set<std::string> filesToReplace(const std::filesystem::path& folder, const std::string& name) {
    std::vector<std::string> names;
    std::vector<std::string> manifests;
    std::error_code error;
    if (!std::filesystem::is_directory(folder, error)) {
        return {}; // nothing there; or a file, which WholeFolder says
    }
    for (std::filesystem::directory_iterator it(folder, error), end; !error && it != end;
         it.increment(error)) {
        names.push_back(it->path().filename().string());
        if (names.back().ends_with(kManifest)) {
            manifests.push_back(names.back());
        }
    }
    if (error) {
        base::fail(folder.string(), "cannot be read (" + error.message() + ")", kOther);
    }
    std::sort(names.begin(), names.end());
    std::sort(manifests.begin(), manifests.end());
    if (manifests.size() > 1) {
        base::fail(folder.string(), "holds two bundles: " + manifests[0] + " and " + manifests[1],
                   "keep one bundle in a folder; " + std::string(kOther));
    }
    const std::set<std::string> ours =
        manifests.empty() ? std::set<std::string>() : listed(folder, manifests[0]);
    for (const std::string& there : names) {
        if (manifests.empty() && !there.starts_with(name + ".")) {
            base::fail(folder.string(), "exists already, holds \"" + there + "\" and is no bundle", kOther);
        }
        const bool code =
            std::any_of(emit::dialects().begin(), emit::dialects().end(), [&](const auto* dialect) {
                return there == name + "." + dialect->id() || there == name + ".vertex." + dialect->id();
            });
        const bool needed = code || there == kNotes || there == name + ".glb";
        if (needed && !ours.contains(there)) {
            base::fail((folder / there).string(),
                       "is in the way: the bundle needs the name, and did not write it",
                       "move it elsewhere, or choose another folder; nothing was changed");
        }
    }
    return ours;
}

} // namespace ripple::bundle
