#pragma once

#include <string>

namespace ripple::bundle {

// The files of core/bundle/page as they are built in.

/// page.html: {{…}} is to be filled in.
const std::string& pageFrame();
const std::string& pageStyle();
/// files.js, player.js and view.js, one after another.
const std::string& pageScript();

} // namespace ripple::bundle
