#include "cli/commands.h"

#include "base/progress.h"
#include "demo/make_demo.h"

#include <iostream>

namespace ripple::cli {

Status demo(const std::string& out) {
    base::Progress progress(progressBar("making the demo"));
    demo::makeDemo(out, progress);
    std::cout << out << ": awning_####.obj, crates.pc2, heron.glb, and a .curly project for each\n";
    return kDone;
}

} // namespace ripple::cli
