#include "source/frame_source.h"

#include "base/problem.h"
#include "source/rig.h"

namespace ripple::source {

std::shared_ptr<const Rig> FrameSource::rig() const {
    base::fail(format(), "moves its vertices freely: no joints move the mesh",
               "bake the vertices, shared shapes or rigid pieces");
}

} // namespace ripple::source
