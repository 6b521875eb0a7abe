#include "app/window/project_lock.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

namespace ripple::app {

namespace {

const QString kLockEnding = ".open";

/// The lock beside the project, or its stand-in.
QString lockOf(const QString& projectFile) {
    const QFileInfo info(projectFile);
    return QFileInfo(info.absolutePath()).isWritable()
               ? info.absolutePath() + "/." + info.fileName() + kLockEnding
               : standIn(projectFile, kLockEnding);
}

} // namespace

QString standIn(const QString& file, const QString& ending) {
    const QFileInfo info(file);
    const QByteArray digest =
        QCryptographicHash::hash(info.absoluteFilePath().toUtf8(), QCryptographicHash::Sha256)
            .toHex()
            .left(16);
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/unsaved";
    QDir().mkpath(folder);
    return folder + "/" + QString::fromLatin1(digest) + "." + info.fileName() + ending;
}

bool ProjectLock::take(const QString& projectFile) {
    const QString project = projectFile.isEmpty() ? QString() : QFileInfo(projectFile).absoluteFilePath();
    if (project == project_) {
        return true;
    }
    std::unique_ptr<QLockFile> lock;
    if (!project.isEmpty()) {
        lock = std::make_unique<QLockFile>(lockOf(project));
        lock->setStaleLockTime(0); // not by age: only if its program is gone
        // Where no lock can be made at all, nobody else has one either.
        if (!lock->tryLock(0) && lock->error() == QLockFile::LockFailedError) {
            return false;
        }
    }
    lock_ = std::move(lock); // the one before is given up
    project_ = project;
    return true;
}

QString ProjectLock::owner(const QString& projectFile) {
    const QLockFile lock(lockOf(projectFile));
    qint64 process = 0;
    QString machine;
    QString program;
    lock.getLockInfo(&process, &machine, &program);
    return QString("process %1 on %2").arg(process).arg(machine);
}

} // namespace ripple::app
