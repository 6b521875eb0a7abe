#include "app/shell/autosave.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QStandardPaths>

#include <csignal>

namespace ripple::app {

namespace {

const QString kEnding = ".unsaved";

QString copyOf(const QString& projectFile) {
    const QFileInfo info(projectFile);
    return info.absolutePath() + "/." + info.fileName() + kEnding;
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
        if (!written_.isEmpty() && written_ != copyPath()) {
            drop();
        }
    });
}

QString Autosave::folder() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/unsaved";
}

QString Autosave::copyPath() const {
    return session_.projectFile().isEmpty()
               ? folder() + QString("/%1.curly").arg(QCoreApplication::applicationPid()) + kEnding
               : copyOf(session_.projectFile());
}

void Autosave::keep() {
    timer_.stop();
    if (session_.undoStack().isClean()) {
        drop();
        return;
    }
    const QString path = copyPath();
    QDir().mkpath(QFileInfo(path).absolutePath());
    try {
        project::saveDocument(session_.document(), path.toStdString());
        written_ = path;
    } catch (const base::Failure&) {
        // A folder that can't be written to: saving will say so, where it can be answered.
    }
}

void Autosave::drop() {
    timer_.stop();
    if (!written_.isEmpty()) {
        QFile::remove(written_);
        written_.clear();
    }
}

std::optional<Autosave::Left> Autosave::leftOf(const QString& projectFile) {
    const QFileInfo copy(copyOf(projectFile));
    const QFileInfo project(projectFile);
    if (!copy.exists() || copy.lastModified() < project.lastModified()) {
        return std::nullopt;
    }
    return Left{copy.absoluteFilePath(), project.absoluteFilePath(), copy.lastModified()};
}

std::optional<Autosave::Left> Autosave::leftUntitled() {
    const QFileInfoList copies =
        QDir(folder()).entryInfoList({"*" + kEnding}, QDir::Files | QDir::Hidden, QDir::Time);
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
