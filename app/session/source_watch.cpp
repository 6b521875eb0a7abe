#include "app/session/source_watch.h"

#include <QDateTime>
#include <QFileInfo>

#include <algorithm>

namespace ripple::app {

namespace {

constexpr int kRest = 350; // milliseconds without a change: whoever writes has finished

} // namespace

SourceWatch::SourceWatch(Session& session, QObject* parent) : QObject(parent), session_(session) {
    rest_.setSingleShot(true);
    rest_.setInterval(kRest);
    connect(&session_, &Session::sourceLoaded, this, &SourceWatch::follow);
    connect(&watcher_, &QFileSystemWatcher::fileChanged, this, [this] { rest_.start(); });
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, [this] { rest_.start(); });
    connect(&rest_, &QTimer::timeout, this, &SourceWatch::look);
}

std::vector<SourceWatch::Stamp> SourceWatch::stamps() const {
    std::vector<Stamp> all;
    for (const QString& file : files_) {
        const QFileInfo info(file);
        const bool there = info.exists();
        all.push_back({file, there ? info.size() : -1, there ? info.lastModified().toMSecsSinceEpoch() : 0});
    }
    return all;
}

void SourceWatch::follow() {
    if (!watcher_.files().isEmpty()) {
        watcher_.removePaths(watcher_.files());
    }
    if (!watcher_.directories().isEmpty()) {
        watcher_.removePaths(watcher_.directories());
    }
    files_.clear();
    const auto source = session_.source();
    if (!source) {
        return; // a file that could not be read may come right: F5 tries again
    }
    for (const std::filesystem::path& file : source->files()) {
        files_ << QString::fromStdString(std::filesystem::absolute(file).string());
    }
    known_ = seen_ = stamps();
    constexpr qsizetype kMostFiles = 32; // a folder tells of its files too, but not of writing in place
    QStringList paths = files_.mid(0, kMostFiles);
    for (const QString& file : files_) {
        const QString folder = QFileInfo(file).absolutePath();
        if (!paths.contains(folder)) {
            paths << folder;
        }
    }
    if (!paths.isEmpty()) {
        watcher_.addPaths(paths);
    }
}

void SourceWatch::look() {
    const std::vector<Stamp> now = stamps();
    if (now == known_) {
        return;
    }
    // Still being written: wait until two looks agree.
    if (now != seen_) {
        seen_ = now;
        rest_.start();
        return;
    }
    const bool gone = std::any_of(now.begin(), now.end(), [](const Stamp& s) { return s.bytes < 0; });
    known_ = now;
    if (gone && now.size() == 1) {
        // Many programs write anew by removing first; the file will be back.
        rest_.start();
    }
    session_.reloadSource();
}

} // namespace ripple::app
