#include "source/companions.h"

#include "base/files.h"
#include "base/text.h"
#include "base/units.h"
#include "source/material_detail.h"
#include "source/open.h"

#include <algorithm>
#include <system_error>

namespace ripple::source {

namespace {

namespace fs = std::filesystem;

/// Exporters of other systems write ".\\textures\\red.png".
std::string withSlashes(std::string name) {
    std::replace(name.begin(), name.end(), '\\', '/');
    return name;
}

/// "/home/…", "C:/…", "https://…"
bool isAbsolute(const std::string& name) {
    const auto letter = [](char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); };
    return name.starts_with('/') || name.find("://") != std::string::npos || name.starts_with("file:") ||
           (name.size() > 2 && letter(name[0]) && name[1] == ':' && name[2] == '/');
}

bool isBelow(const fs::path& path, const fs::path& folder) {
    const auto [a, b] = std::mismatch(folder.begin(), folder.end(), path.begin(), path.end());
    return a == folder.end();
}

std::string quoted(const std::set<std::string>& names) {
    constexpr std::size_t kMost = 3;
    std::string text;
    std::size_t said = 0;
    for (const std::string& name : names) {
        if (said == kMost) {
            return text + " and " + std::to_string(names.size() - kMost) + " more";
        }
        text += (said++ ? ", \"" : "\"") + name + "\"";
    }
    return text;
}

} // namespace

Companions::Companions(const fs::path& source, bool followOutside)
    : source_(source.filename()),
      followOutside_(followOutside) {
    std::error_code error;
    const fs::path absolute = fs::absolute(source, error);
    folder_ = fs::weakly_canonical(absolute.parent_path(), error);
}

std::optional<fs::path> Companions::find(const std::string& written) {
    const std::string name = withSlashes(written);
    std::error_code error;
    fs::path path = folder_ / name;
    if (isAbsolute(name)) {
        const fs::path beside = folder_ / fs::path(name).filename();
        if (fs::exists(beside, error)) {
            path = beside;
        } else if (!name.starts_with('/')) {
            outside_.insert(base::likelyUtf8(written)); // another machine's
            return std::nullopt;
        }
    }
    const fs::path real = fs::weakly_canonical(path, error);
    if (!error && isBelow(real, folder_)) {
        return path;
    }
    const std::string said = base::likelyUtf8(written);
    const fs::path above = folder_.parent_path();
    // The root of all folders is nobody's tree.
    if (!error && !isAbsolute(name) && above != above.root_path() && isBelow(real, above)) {
        above_.insert(said);
        return path;
    }
    if (followOutside_) {
        return path;
    }
    outside_.insert(said);
    return std::nullopt;
}

std::shared_ptr<const mesh::EncodedImage> Companions::image(const std::string& name, const std::string& what,
                                                            base::Findings& findings) {
    const auto path = find(name);
    if (!path) {
        return nullptr; // report() says so
    }
    try {
        return imageInside(base::readFile(*path), path->filename().string(), what, findings);
    } catch (const base::Failure& failure) {
        findings.push_back({"texture-missing",
                            base::Severity::look,
                            {base::likelyUtf8(source_.string()),
                             "the " + what + " image \"" + base::likelyUtf8(path->filename().string()) +
                                 "\" can't be read: " + failure.problem().what,
                             "put it beside the model; until then the material goes without"}});
        return nullptr;
    }
}

std::shared_ptr<const mesh::EncodedImage> Companions::imageInside(const base::Bytes& bytes,
                                                                  const std::string& name,
                                                                  const std::string& what,
                                                                  base::Findings& findings) const {
    auto encoded = std::make_shared<mesh::EncodedImage>();
    encoded->name = base::likelyUtf8(fs::path(withSlashes(name)).filename().string());
    encoded->mimeType = imageTypeOf(bytes);
    const bool known = encoded->mimeType == "image/png" || encoded->mimeType == "image/jpeg";
    const std::string fault = known ? imageFault(bytes) : "neither PNG nor JPEG";
    if (!fault.empty()) {
        findings.push_back(
            {"texture-missing",
             base::Severity::look,
             {base::likelyUtf8(source_.string()),
              "the " + what + " image \"" + encoded->name + "\" is " + fault,
              std::string(known ? "export" : "convert") + " it; until then the material goes without"}});
        return nullptr;
    }
    encoded->bytes = bytes;
    return encoded;
}

void Companions::report(base::Findings& findings) const {
    const std::string where = base::likelyUtf8(source_.string());
    if (!outside_.empty()) {
        findings.push_back(
            {"file-outside",
             base::Severity::look,
             {where,
              "names " + base::plural(outside_.size(), "file") + " outside its folder, which " +
                  (outside_.size() == 1 ? "is" : "are") + " not followed: " + quoted(outside_),
              kFollowOutsideFix}});
    }
    if (!above_.empty()) {
        findings.push_back({"file-above",
                            base::Severity::note,
                            {where,
                             "takes " + base::plural(above_.size(), "file") +
                                 " from below the folder above its own: " + quoted(above_),
                             "nothing to do, if that is where they belong"}});
    }
}

void Companions::failOutside(const std::string& name) const {
    base::fail(base::likelyUtf8(source_.string()),
               "needs \"" + base::likelyUtf8(name) + "\", which lies outside its folder and is not followed",
               kFollowOutsideFix);
}

} // namespace ripple::source
