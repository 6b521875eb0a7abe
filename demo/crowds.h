#pragma once

#include <filesystem>

namespace ripple::demo {

/// Projects on the Scatter bench, of models that lie in the folder: herons that walk and stop to peck, crabs
/// in two gaits, bulrushes in a gust with a ball that is rolled through them, gulls in a swarm, bunting that
/// is merged into one mesh.
void writeCrowds(const std::filesystem::path& folder);

} // namespace ripple::demo
