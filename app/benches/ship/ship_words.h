#pragma once

#include "app/session/words.h"

namespace ripple::app {

/// With a capital at its start: the core's words stand in the middle of sentences.
inline QString begun(const std::string& words) {
    const QString line = text(words);
    return line.left(1).toUpper() + line.mid(1);
}

} // namespace ripple::app
