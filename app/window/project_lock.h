#pragma once

#include <QLockFile>
#include <QString>

#include <memory>

namespace ripple::app {

/// That a project is open in this window, for other windows to see: a lock file beside it, or in the user's
/// data folder where its own may not be written to. A lock whose program is gone does not count.
class ProjectLock {
public:
    /// Takes the project's lock and gives up the one before; an empty name only gives up. False if another
    /// window has it: then nothing changes, and owner() says which.
    bool take(const QString& projectFile);
    /// "process 4711 on workstation"
    static QString owner(const QString& projectFile);
    const QString& project() const { return project_; }

private:
    QString project_;
    std::unique_ptr<QLockFile> lock_;
};

/// A file in the user's data folder that stands for one that belongs beside `file`, where that folder may not
/// be written to: "FOLDER/9f31….NAME.ending".
QString standIn(const QString& file, const QString& ending);

} // namespace ripple::app
