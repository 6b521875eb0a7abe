#include "source/gltf_files.h"

#include "base/files.h"
#include "base/text.h"

#include <cstring>

namespace ripple::source {

tinygltf::FsCallbacks FilesBeside::callbacks() {
    tinygltf::FsCallbacks calls;
    calls.FileExists = [](const std::string& name, void*) {
        return name.starts_with(kBeside) && name.size() > std::strlen(kBeside) + 1;
    };
    calls.ExpandFilePath = [](const std::string& name, void*) { return name; };
    calls.ReadWholeFile = [](std::vector<unsigned char>* out, std::string*, const std::string& name,
                             void* self) {
        return static_cast<FilesBeside*>(self)->read(name.substr(std::strlen(kBeside) + 1), *out);
    };
    calls.WriteWholeFile = nullptr;
    calls.user_data = this;
    return calls;
}

void FilesBeside::failIfNeeded(const tinygltf::Model& model, const std::string& file) const {
    if (missing_.empty() || !model.images.empty()) {
        return;
    }
    const auto& [name, problem] = missing_.back();
    if (!problem) {
        companions_.failOutside(name);
    }
    base::fail(file, "needs \"" + base::likelyUtf8(name) + "\": " + problem->what,
               "put it beside the file, or export both again");
}

bool FilesBeside::read(const std::string& name, std::vector<unsigned char>& out) {
    const auto path = companions_.find(name);
    if (!path) {
        missing_.emplace_back(name, std::nullopt);
        return false;
    }
    try {
        const base::Bytes bytes = base::readFile(*path);
        const auto* begin = reinterpret_cast<const unsigned char*>(bytes.data());
        out.assign(begin, begin + bytes.size());
        return true;
    } catch (const base::Failure& failure) {
        missing_.emplace_back(name, failure.problem());
        return false;
    }
}

} // namespace ripple::source
