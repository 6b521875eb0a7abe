#pragma once

#include "app/session/session.h"

#include <QDateTime>
#include <QObject>
#include <QTimer>

#include <optional>

namespace ripple::app {

/// Keeps a copy of a project that has unsaved changes: beside its file as ".NAME.curly.unsaved", or in the
/// user's data folder while it has none or its folder may not be written to. The copy goes when the project
/// is saved, undone to its saved state or left; what is found while nobody has the project open was left by a
/// crash.
class Autosave : public QObject {
    Q_OBJECT
public:
    explicit Autosave(Session& session, QObject* parent = nullptr);

    /// Writes the copy now, if there is something to keep.
    void keep();
    /// Removes the copy: the changes are saved or given up.
    void drop();

    /// What was left unsaved.
    struct Left {
        QString copy;    ///< the copy
        QString project; ///< its project; empty: it had no file yet
        QDateTime when;
    };
    /// A copy of this project that is newer than the project itself.
    static std::optional<Left> leftOf(const QString& projectFile);
    /// The newest copy of a project without a file, left by a program that no longer runs.
    static std::optional<Left> leftUntitled();
    /// Folder for copies of projects without a file.
    static QString folder();

    /// How long after a change the copy is written.
    static constexpr int kDelay = 1500; // milliseconds

Q_SIGNALS:
    /// The project's folder may not be written to: the copy is at `path`. Once for each project.
    void keptElsewhere(const QString& path);

private:
    QString copyPath() const;
    bool write(const QString& path);

    Session& session_;
    QTimer timer_;
    QString written_; ///< the copy that exists; empty: none
    QString saidFor_; ///< the project of which it was said that its copy is elsewhere
};

} // namespace ripple::app
