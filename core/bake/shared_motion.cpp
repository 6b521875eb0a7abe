#include "bake/shared_motion.h"

#include "base/parallel.h"
#include "base/progress.h"

#include <algorithm>
#include <cmath>

#include <Eigen/Eigenvalues>

namespace ripple::bake {

namespace {

using Table = Eigen::Matrix<float, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;

/// Differences from rest, frames × 3·vertices.
Table differences(const Poses& poses, std::span<const glm::vec3> rest, bool ofNormals,
                  const base::Progress& progress) {
    Table table(static_cast<Eigen::Index>(poses.frames()), static_cast<Eigen::Index>(rest.size() * 3));
    base::parallelFor(poses.frames(), 1, [&](std::size_t begin, std::size_t end) {
        Poses::Scratch scratch;
        for (std::size_t f = begin; f < end; ++f) {
            const Poses::Pose pose =
                poses.at(f, ofNormals ? Poses::Want::both : Poses::Want::positions, scratch);
            const auto own = ofNormals ? pose.normals : pose.positions;
            auto* row = reinterpret_cast<glm::vec3*>(table.row(static_cast<Eigen::Index>(f)).data());
            for (std::size_t v = 0; v < own.size(); ++v) {
                row[v] = own[v] - rest[v];
            }
            progress.checkpoint();
        }
    });
    return table;
}

/// frames × frames inner products. In double precision throughout, unlike inspect::gramMatrix(), for the root
/// of what is lost here is lost of the smallest shapes. Blocks have a fixed width, so that threads do not
/// matter to the result.
Eigen::MatrixXd products(const Table& table, const base::Progress& progress) {
    constexpr Eigen::Index kBlock = 4096;
    const Eigen::Index blocks = (table.cols() + kBlock - 1) / kBlock;
    constexpr Eigen::Index kRound = 16; // sums kept at a time
    Eigen::MatrixXd sum = Eigen::MatrixXd::Zero(table.rows(), table.rows());
    for (Eigen::Index from = 0; from < blocks; from += kRound) {
        const auto count = static_cast<std::size_t>(std::min(kRound, blocks - from));
        std::vector<Eigen::MatrixXd> parts(count);
        progress.checkpoint();
        base::parallelFor(count, 1, [&](std::size_t begin, std::size_t end) {
            for (std::size_t b = begin; b < end; ++b) {
                const Eigen::Index first = (from + static_cast<Eigen::Index>(b)) * kBlock;
                const Eigen::Index width = std::min(kBlock, table.cols() - first);
                const Eigen::MatrixXd block = table.middleCols(first, width).cast<double>();
                parts[b] = Eigen::MatrixXd::Zero(table.rows(), table.rows());
                parts[b].selfadjointView<Eigen::Lower>().rankUpdate(block);
            }
        });
        for (const Eigen::MatrixXd& part : parts) {
            sum += part;
        }
    }
    return sum;
}

/// shapes × vertices: each is the frames' differences, weighed.
base::RawVector<glm::vec3> project(const Table& table, const Table& mixing) {
    const auto vertices = static_cast<std::size_t>(table.cols() / 3);
    base::RawVector<glm::vec3> shapes(static_cast<std::size_t>(mixing.rows()) * vertices);
    Eigen::Map<Table> out(reinterpret_cast<float*>(shapes.data()), mixing.rows(), table.cols());
    constexpr std::size_t kBlock = 3072;
    const auto columns = static_cast<std::size_t>(table.cols());
    base::parallelFor((columns + kBlock - 1) / kBlock, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t b = begin; b < end; ++b) {
            const auto first = static_cast<Eigen::Index>(b * kBlock);
            const auto width = static_cast<Eigen::Index>(std::min(kBlock, columns - b * kBlock));
            out.middleCols(first, width).noalias() = mixing * table.middleCols(first, width);
        }
    });
    return shapes;
}

/// Memory for all differences at once, beyond which they are gone through instead.
constexpr std::size_t kMostHeld = std::size_t{1} << 30;

std::size_t tableBytes(std::size_t vertices, std::size_t frames) {
    return frames * vertices * sizeof(glm::vec3);
}

bool isExact(std::size_t vertices, std::size_t frames) {
    return frames <= kExactFrames && tableBytes(vertices, frames) <= kMostHeld;
}

} // namespace

std::size_t sharingMemory(std::size_t vertices, std::size_t frames, std::size_t most, bool withNormals) {
    const std::size_t parts = withNormals ? 2 : 1;
    const std::size_t shapes = std::min(most, frames) * vertices * parts * sizeof(glm::vec3);
    if (isExact(vertices, frames)) {
        return shapes + tableBytes(vertices, frames) + 18 * frames * frames * sizeof(double);
    }
    constexpr std::size_t kFew = 32 + 8; // frames at a time, and dimensions beside those wanted
    return 2 * shapes + kFew * vertices * parts * sizeof(glm::vec3);
}

SharedMotion shareMotion(const mesh::Mesh& mesh, const Poses& poses, std::size_t most, bool withNormals,
                         const base::Progress& progress) {
    if (!isExact(mesh.vertexCount(), poses.frames())) {
        return sketchMotion(mesh, poses, most, withNormals, progress);
    }
    const auto frames = static_cast<Eigen::Index>(poses.frames());
    Eigen::MatrixXd gram;
    Table table;
    if (withNormals) {
        table = differences(poses, mesh.normals, true, progress);
        gram = products(table, progress);
    }
    table = differences(poses, mesh.positions, false, progress);
    const Eigen::MatrixXd own = products(table, progress);
    if (withNormals && gram.trace() > 0.0) {
        constexpr double kSay = 1e-6; // of the offsets' sum of squares
        const double scale = own.trace() > 0.0 ? kSay * own.trace() / gram.trace() : 1.0;
        gram = own + scale * gram;
    } else {
        gram = own;
    }
    const Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd> solver(gram);
    progress.checkpoint();
    // The solver's eigenvalues ascend: squares of the singular values.
    const double largest = std::max(solver.eigenvalues()[frames - 1], 0.0);
    SharedMotion shared;
    shared.frames = poses.frames();
    shared.vertices = poses.vertices();
    const auto wanted = std::min(most, poses.frames());
    constexpr double kNothing = 1e-13; // of the largest: less than single precision can tell
    while (
        shared.shapes < wanted &&
        (shared.shapes == 0 ||
         solver.eigenvalues()[frames - 1 - static_cast<Eigen::Index>(shared.shapes)] > kNothing * largest)) {
        ++shared.shapes;
    }
    const auto shapes = static_cast<Eigen::Index>(shared.shapes);
    Table mixing(shapes, frames);
    shared.weights.resize(poses.frames() * shared.shapes);
    for (Eigen::Index s = 0; s < shapes; ++s) {
        const Eigen::VectorXd way = solver.eigenvectors().col(frames - 1 - s);
        Eigen::Index at = 0;
        way.cwiseAbs().maxCoeff(&at);
        const double scale = way[at]; // with its sign, so that the largest weight is 1
        mixing.row(s) = (way * scale).cast<float>().transpose();
        for (Eigen::Index f = 0; f < frames; ++f) {
            shared.weights[static_cast<std::size_t>(f * shapes + s)] = static_cast<float>(way[f] / scale);
        }
    }
    shared.offsets = project(table, mixing);
    if (withNormals) {
        table = differences(poses, mesh.normals, true, progress);
        shared.normals = project(table, mixing);
    }
    return shared;
}

} // namespace ripple::bake
