#include "cli/code_options.h"

#include "emit/dialect.h"

#include <iostream>

namespace ripple::cli {

void addCodeOptions(CLI::App& score, CodeCall& call, std::string& half, bool& plainCode) {
    std::vector<std::string> languages;
    for (const emit::Dialect* dialect : emit::dialects()) {
        languages.push_back(dialect->id());
    }
    auto* language =
        score
            .add_option("--language", call.languages,
                        "shader code instead of the score's own text; in a bundle, once for each wanted; "
                        "default there: all")
            ->allow_extra_args(false)
            ->check(CLI::IsMember(languages));
    score.add_flag("--code", plainCode, "the same as --language glsl")->excludes(language);
    score.add_flag(
        "--exact-sine", call.exactSine,
        "in code: a sine that is good to 2e-7 everywhere, for 13 more operations; a graphics card's "
        "own may be off by 5e-4");
    score.add_flag(
        "--store-masks", call.storeMasks,
        "in a bundle: masks and courses as values at the vertices, for shorter code and for meshes "
        "that are merged");
    score
        .add_option(
            "--copy-sizes", call.copySizes,
            "in a bundle: the smallest and the largest factor of the copies that its bounds hold; 0.5 2")
        ->expected(2)
        ->check(CLI::Range(0.001, 1000.0));
    score.add_option(
        "--half", half,
        "in a bundle: half precision for masks, waves and normals, if the motion loses no more than "
        "this length or share of the size, as 0.5mm or 0.1%; else nothing is written");
}

bool takeHalf(const std::string& half, CodeCall& call) {
    call.halfWithin = bake::parseTolerance(half);
    if (half.empty() || call.halfWithin) {
        return true;
    }
    std::cerr << "ripple: --half " << half << ": write a length or a share, as 0.5mm or 0.1%\n";
    return false;
}

} // namespace ripple::cli
