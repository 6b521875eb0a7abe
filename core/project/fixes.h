#pragma once

#include "inspect/inspection.h"
#include "project/document.h"

namespace ripple::project {

/// Makes the change that a fix names. One edit, so one undo step.
void applyFix(Document& document, const inspect::Fix& fix);

/// After a source changed on disk: drops choices that no longer apply (clips that are gone, windows and
/// ranges beyond the end, meshes that are gone) and says each in a line. `old` and `now` may have different
/// clips.
std::vector<std::string> dropStaleChoices(Document& document, const source::FrameSource& now);

/// What differs between two states of a source, in lines such as "120 frames, were 96"; empty if nothing that
/// shows.
std::vector<std::string> describeChange(const source::FrameSource& old, const source::FrameSource& now);

} // namespace ripple::project
