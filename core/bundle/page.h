#pragma once

#include "base/files.h"
#include "code/cost.h"
#include "emit/vertex_stage.h"
#include "mesh/mesh.h"

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace ripple::bundle {

struct ManifestHead;

/// Whether a bundle has a page that plays it, NAME.html: one file that a browser opens, without network.
enum class Page {
    none,
    beside, ///< it reads the bundle's other files where they lie, or as a person hands them to it
    inside, ///< it holds them, so that it can be mailed
};

/// "none", "beside", "inside"
const char* name(Page page);
std::optional<Page> pageByName(const std::string& text);
std::string pageFileOf(const std::string& name);

/// What a page plays: the bundle's code in GLSL, as its example stage calls it.
struct PageContent {
    bool score = false;
    emit::VertexStage stage;               ///< in GLSL
    std::string code;                      ///< the functions
    code::Cost cost;                       ///< of a pose
    std::vector<std::string> textureFiles; ///< in the order of stage.textures
    bool testRow = false;                  ///< the code has NAME_reads_right()
    const mesh::Mesh* mesh = nullptr;      ///< at rest, metres: what is shown where there is no WebGL 2
};

/// The page's text. All names in it are text or JSON, never markup or script, and a content security policy
/// lets nothing run but its own script and nothing load but the bundle's files. With Page::inside `fileBytes`
/// is asked for each file of `head`; `manifest` is the manifest's text as it is without the page.
std::string pageText(const ManifestHead& head, const PageContent& content, Page page,
                     const std::string& manifest,
                     const std::function<base::Bytes(const std::string& file)>& fileBytes);

} // namespace ripple::bundle
