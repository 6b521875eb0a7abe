#pragma once

#include <QProcess>
#include <QStringList>

namespace ripple::tests {

/// What the glTF standard's own validator says of files: one line for each error or warning, then how many
/// files were looked at.
inline QString saidByTheValidator(const QStringList& files) {
    QProcess node;
    node.start("node", QStringList{SOURCE_FOLDER "/tests/validate_gltf.cjs", TOOLS_FOLDER} + files);
    if (!node.waitForFinished(280000) || node.exitCode() != 0) {
        return "the validator did not run (./dev test installs it): " + node.readAllStandardError();
    }
    return node.readAllStandardOutput();
}

} // namespace ripple::tests
