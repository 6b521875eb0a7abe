#include "fuzz/fuzz_file.h"
#include "source/imported_scene.h"

/// What the import program answers: a scene that is taken for sound must play.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace ripple;
    return fuzz::inWords([&] {
        source::ImportedScene imported =
            source::receiveScene({reinterpret_cast<const std::byte*>(data), size}, "spoilt.x");
        imported.scene.file = "spoilt.x";
        imported.scene.geometry.mesh.materials.resize(imported.materials.size());
        fuzz::play(*source::playScene(std::move(imported.scene), {}));
    });
}
