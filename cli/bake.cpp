#include "cli/commands.h"

#include "base/units.h"
#include "bundle/write_bundle.h"
#include "source/open.h"

#include <iostream>

#include <nlohmann/json.hpp>

namespace ripple::cli {

namespace {

void print(const bundle::Manifest& manifest, const std::string& out) {
    const bake::TextureSet& set = manifest.textures;
    std::size_t bytes = 0;
    for (const bundle::FileEntry& file : manifest.files) {
        bytes += file.bytes;
    }
    std::cout << out << ": " << base::plural(set.layout.frames, "frame") << " of "
              << base::countText(manifest.vertices) << " vertices in " << base::countText(set.layout.columns)
              << " columns, " << set.layout.width << " × " << set.layout.height() << " texels, "
              << bake::name(set.content) << " " << set.positionStore.name << ", normals "
              << set.normalStore.name << "\n"
              << "  " << base::sizeText(bytes) << " on disk, " << base::sizeText(set.textureMemory())
              << " texture memory\n"
              << "  off by at most " << base::lengthText(manifest.error.all.max) << " ("
              << base::lengthText(manifest.error.atFrames.max) << " at kept frames), normals "
              << base::degreesText(manifest.error.normalMaxDegrees) << "\n";
}

} // namespace

Status bakeSource(const BakeCall& call) {
    base::Progress reading(progressBar("reading"));
    const auto source = source::open(call.source, call.reading, reading);
    bake::Recipe recipe = call.recipe;
    if (call.window && recipe.clips.empty()) {
        for (const source::Clip& clip : source->clips()) {
            recipe.clips.push_back({clip.name, call.window});
        }
    }
    base::Progress baking(progressBar("baking "));
    const bundle::Manifest manifest = bundle::writeBundle(*source, recipe, call.reading, call.out, baking);
    if (call.json) {
        std::cout << bundle::manifestText(manifest);
    } else {
        print(manifest, call.out);
    }
    return kDone;
}

} // namespace ripple::cli
