#include "cli/commands.h"

#include "demo/make_demo.h"

#include <iostream>

namespace ripple::cli {

Status demo(const std::string& out) {
    base::Progress progress(progressBar("making the demo"));
    demo::makeDemo(out, progress);
    std::cout << out << ": awning_####.obj, heron.glb, awning.curly, heron.curly\n";
    return kDone;
}

} // namespace ripple::cli
