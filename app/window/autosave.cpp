#include "app/window/autosave.h"

#include "app/window/project_lock.h"
#include "app/session/words.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QStandardPaths>

#include <csignal>

namespace ripple::app {

namespace {

const QString kUnsavedEnding = ".unsaved";

QString copyOf(const QString& projectFile) {
    const QFileInfo info(projectFile);
    return info.absolutePath() + "/." + info.fileName() + kUnsavedEnding;
}

} // namespace

Autosave::Autosave(Session& session, QObject* parent) : QObject(parent), session_(session) {
    timer_.setSingleShot(true);
    timer_.setInterval(kDelay);
    connect(&timer_, &QTimer::timeout, this, &Autosave::keep);
    connect(&session_, &Session::documentChanged, this, [this] { timer_.start(); });
    connect(&session_.undoStack(), &QUndoStack::cleanChanged, this, [this](bool clean) {
        if (clean) {
            drop();
        }
    });
    // Another project, or another name for this one.
    connect(&session_, &Session::projectFileChanged, this, [this] {
        const QString project = session_.projectFile();
        if (!written_.isEmpty() && written_ != copyPath() &&
            (project.isEmpty() || written_ != standIn(project, kUnsavedEnding))) {
            drop();
        }
    });
}

QString Autosave::folder() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/unsaved";
}

QString Autosave::copyPath() const {
    return session_.projectFile().isEmpty()
               ? folder() + QString("/%1.curly").arg(QCoreApplication::applicationPid()) + kUnsavedEnding
               : copyOf(session_.projectFile());
}

void Autosave::keep() {
    timer_.stop();
    if (session_.undoStack().isClean()) {
        drop();
        return;
    }
    const QString project = session_.projectFile();
    if (write(copyPath()) || project.isEmpty()) {
        return;
    }
    const QString elsewhere = standIn(project, kUnsavedEnding);
    if (write(elsewhere) && saidFor_ != project) {
        saidFor_ = project;
        Q_EMIT keptElsewhere(elsewhere);
    }
}

bool Autosave::write(const QString& path) {
    QDir().mkpath(QFileInfo(path).absolutePath());
    try {
        project::saveDocument(session_.document(), pathBytes(path));
    } catch (const base::Failure&) {
        return false;
    }
    if (!written_.isEmpty() && written_ != path) {
        QFile::remove(written_);
    }
    written_ = path;
    return true;
}

void Autosave::drop() {
    timer_.stop();
    if (!written_.isEmpty()) {
        QFile::remove(written_);
        written_.clear();
    }
}

std::optional<Autosave::Left> Autosave::leftOf(const QString& projectFile) {
    const QFileInfo project(projectFile);
    for (const QString& path : {copyOf(projectFile), standIn(projectFile, kUnsavedEnding)}) {
        const QFileInfo copy(path);
        if (copy.exists() && copy.lastModified() >= project.lastModified()) {
            return Left{copy.absoluteFilePath(), project.absoluteFilePath(), copy.lastModified()};
        }
    }
    return std::nullopt;
}

std::optional<Autosave::Left> Autosave::leftUntitled() {
    const QFileInfoList copies =
        QDir(folder()).entryInfoList({"*" + kUnsavedEnding}, QDir::Files | QDir::Hidden, QDir::Time);
    for (const QFileInfo& copy : copies) {
        const auto owner = copy.fileName().section('.', 0, 0).toLongLong();
        // Signal 0 only asks whether the program runs.
        if (owner > 0 && owner != QCoreApplication::applicationPid() &&
            ::kill(static_cast<pid_t>(owner), 0) != 0) {
            return Left{copy.absoluteFilePath(), {}, copy.lastModified()};
        }
    }
    return std::nullopt;
}

} // namespace ripple::app
