#pragma once

#include <QString>

#include <string>

namespace ripple::app {

/// The core's text (UTF-8) as Qt's.
inline QString text(const std::string& s) {
    return QString::fromStdString(s);
}

} // namespace ripple::app
