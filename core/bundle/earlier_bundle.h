#pragma once

#include <filesystem>
#include <set>
#include <string>

namespace ripple::bundle {

/// The files in `folder` that a bundle called `name` may replace when it is written there: the manifest that
/// lies there and what it lists. All others are somebody else's (importers put their settings beside assets)
/// and stay. Empty if there is no folder, or none of a bundle's files in it.
///
/// Throws base::Failure: the folder holds two bundles; it holds none, but other things than ones whose names
/// begin with the bundle's; or a name that every bundle needs is taken by a file that is not ours.
std::set<std::string> filesToReplace(const std::filesystem::path& folder, const std::string& name);

} // namespace ripple::bundle
