#pragma once

#include "app/session/session.h"

#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>

namespace ripple::app {

/// Watches the files of the open source and has the session read them again once they have been written and
/// rest. Of a long sequence it watches the folder, and asks what was written when.
class SourceWatch : public QObject {
    Q_OBJECT
public:
    explicit SourceWatch(Session& session, QObject* parent = nullptr);

private:
    struct Stamp {
        QString file;
        qint64 bytes = -1; ///< -1: not there
        qint64 written = 0;
        bool operator==(const Stamp&) const = default;
    };
    void follow();
    void look();
    std::vector<Stamp> stamps() const;

    Session& session_;
    QFileSystemWatcher watcher_;
    QTimer rest_; ///< runs out when nothing was written for a while
    QStringList files_;
    std::vector<Stamp> known_;
    std::vector<Stamp> seen_;
};

} // namespace ripple::app
