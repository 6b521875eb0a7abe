#include "app/stage/prepared_mesh.h"

#include "base/progress.h"

#include <QBuffer>
#include <QImageReader>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

/// For each vertex the UV at which its material's base colour is read: its set, and where that lies.
std::vector<glm::vec2> baseColourUvsOf(const mesh::Mesh& mesh) {
    std::vector<glm::vec2> uvs(mesh.vertexCount(), glm::vec2(0.0f));
    for (const mesh::Part& part : mesh.parts) {
        const mesh::Material& material = mesh.materials[part.material];
        if (material.baseColourUvSet >= mesh.uvSets.size()) {
            continue;
        }
        const auto& set = mesh.uvSets[material.baseColourUvSet];
        const mesh::UvTransform& t = material.baseColourTransform;
        const float c = std::cos(t.rotation);
        const float s = std::sin(t.rotation);
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
            const glm::vec2 scaled = t.scale * set[v];
            uvs[v] = t.offset + glm::vec2(c * scaled.x + s * scaled.y, c * scaled.y - s * scaled.x);
        }
    }
    return uvs;
}

/// Decoded as large as it is looked at here, however large it is shipped.
QImage shownImage(const base::Bytes& bytes, int largest) {
    // Sides were bounded when it was read (source::kLargestImageSide): four bytes for each pixel of the
    // largest.
    constexpr int kMegabytes = 1100;
    QImageReader::setAllocationLimit(kMegabytes);
    QByteArray data = QByteArray::fromRawData(reinterpret_cast<const char*>(bytes.data()),
                                              static_cast<qsizetype>(bytes.size()));
    QBuffer buffer(&data);
    QImageReader reader(&buffer);
    const QSize size = reader.size();
    if (size.width() > largest || size.height() > largest) {
        reader.setScaledSize(size.scaled(largest, largest, Qt::KeepAspectRatio));
    }
    return reader.read();
}

/// Half as large in each direction, down to one pixel.
std::vector<QImage> mipLevels(QImage image) {
    std::vector<QImage> levels;
    if (image.isNull()) {
        return levels;
    }
    levels.push_back(image.convertToFormat(QImage::Format_RGBA8888));
    while (levels.back().width() > 1 || levels.back().height() > 1) {
        const QImage& from = levels.back();
        levels.push_back(from.scaled(std::max(1, from.width() / 2), std::max(1, from.height() / 2),
                                     Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
                             .convertToFormat(QImage::Format_RGBA8888));
    }
    return levels;
}

} // namespace

std::shared_ptr<const PreparedMesh> prepareMesh(const mesh::Mesh& mesh, bool software,
                                                const base::Progress& progress) {
    // Of a mesh this dense most triangles are smaller than a few pixels.
    constexpr std::size_t kDraftTriangles = 14000;
    constexpr std::size_t kShadowTriangles = 4000;
    // A processor that draws shows no more than a window has pixels.
    const int largest = software ? 2048 : 4096;
    auto prepared = std::make_shared<PreparedMesh>();
    prepared->baseColourUvs = baseColourUvsOf(mesh);
    prepared->indices = mesh::drawingOrder(mesh);
    if (software && mesh.triangleCount() >= 3 * kDraftTriangles / 2) {
        progress.checkpoint();
        prepared->coarse = mesh::coarsen(mesh, kDraftTriangles);
        progress.checkpoint();
        prepared->coarseForShadows = mesh::coarsen(mesh, kShadowTriangles);
    }
    for (const mesh::Material& material : mesh.materials) {
        progress.checkpoint();
        prepared->images.push_back(material.baseColourImage
                                       ? mipLevels(shownImage(material.baseColourImage->bytes, largest))
                                       : std::vector<QImage>());
    }
    return prepared;
}

bool isPreparedAtOnce(const mesh::Mesh& mesh) {
    constexpr std::size_t kTriangles = 10000;
    constexpr std::size_t kImageBytes = 300000; // compressed, of all materials
    std::size_t bytes = 0;
    for (const mesh::Material& material : mesh.materials) {
        bytes += material.baseColourImage ? material.baseColourImage->bytes.size() : 0;
    }
    return mesh.triangleCount() <= kTriangles && bytes <= kImageBytes;
}

} // namespace ripple::app
