#include "bundle/file_check.h"

#include "base/files.h"

namespace ripple::bundle {

void checkFiles(const std::filesystem::path& directory, const std::vector<FileEntry>& files,
                CheckReport& report) {
    for (const FileEntry& file : files) {
        try {
            const auto path = directory / std::filesystem::path(file.file).filename();
            const std::string digest = base::sha256OfFile(path);
            std::error_code error;
            const std::size_t bytes = std::filesystem::file_size(path, error);
            report.fileBytes += bytes;
            if (bytes != file.bytes || digest != file.sha256) {
                report.problems.push_back(
                    {file.file, "is no longer what was written: its bytes differ from the manifest",
                     "write the bundle again, and keep other programs from saving over it"});
            }
        } catch (const base::Failure& failure) {
            report.problems.push_back(failure.problem());
        }
    }
}

} // namespace ripple::bundle
