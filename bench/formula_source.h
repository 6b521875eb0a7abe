#pragma once

#include "source/frame_source.h"

namespace ripple::bench {

/// A sheet of columns × rows vertices in one clip, moved by a formula: what is measured is not its source.
class FormulaSource : public source::FrameSource {
public:
    FormulaSource(std::size_t columns, std::size_t rows, float size, std::size_t frames)
        : clip_{"clip", 0.0, static_cast<double>(frames - 1) / 30.0, frames, 30.0} {
        for (std::size_t v = 0; v < columns * rows; ++v) {
            mesh_.positions.push_back({size * static_cast<float>(v % columns) / static_cast<float>(columns),
                                       0.0f,
                                       size * static_cast<float>(v / columns) / static_cast<float>(rows)});
            mesh_.normals.push_back({0.0f, 1.0f, 0.0f});
        }
        const auto row = static_cast<std::uint32_t>(columns);
        for (std::uint32_t v = 0; v + row + 1 < mesh_.positions.size(); ++v) {
            mesh_.indices.insert(mesh_.indices.end(), {v, v + row, v + 1});
        }
        mesh_.parts.push_back({"sheet", 0, 0, static_cast<std::uint32_t>(mesh_.positions.size()), 0,
                               static_cast<std::uint32_t>(mesh_.indices.size())});
        mesh_.materials.emplace_back();
    }
    const mesh::Mesh& mesh() const override { return mesh_; }
    std::span<const source::Clip> clips() const override { return {&clip_, 1}; }
    std::span<const source::MeshEntry> meshes() const override { return {}; }
    std::span<const base::Finding> findings() const override { return {}; }
    std::string format() const override { return "formula"; }

private:
    mesh::Mesh mesh_;
    source::Clip clip_;
};

} // namespace ripple::bench
