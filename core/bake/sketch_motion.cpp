// The sketched decomposition of many frames: the source is gone through several times, a few frames at a
// time.

#include "bake/shared_motion.h"

#include "base/parallel.h"
#include "base/progress.h"

#include <algorithm>
#include <random>

#include <Eigen/Eigenvalues>
#include <Eigen/QR>

namespace ripple::bake {

namespace {

using Table = Eigen::Matrix<float, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;

constexpr std::size_t kMore = 8;      ///< dimensions beside those that are wanted
constexpr int kTurns = 3;             ///< through the motion and back
constexpr std::size_t kTogether = 32; ///< frames at a time
constexpr std::size_t kBlock = 3072;  ///< columns that one thread works on at a time

/// The motion as a matrix that is never held whole: a row for each frame, three columns for each vertex's
/// offset and, with normals, three more for what is added to its normal.
class SketchedMotion {
public:
    SketchedMotion(const mesh::Mesh& mesh, const Poses& poses, bool withNormals, const base::Progress& progress)
        : mesh_(mesh),
          poses_(poses),
          normals_(withNormals),
          progress_(progress) {}

    std::size_t rows() const { return poses_.frames(); }
    std::size_t columns() const { return poses_.vertices() * (normals_ ? 6 : 3); }
    /// What normals' differences are multiplied by, so that they count a thousandth of the offsets in all.
    void weighNormals(float factor) { factor_ = factor; }

    /// Calls use(first, rows) for every few frames; rows × columns.
    template <typename Use>
    void eachFew(const Use& use) const {
        Table few;
        for (std::size_t first = 0; first < rows(); first += kTogether) {
            progress_.checkpoint();
            const std::size_t count = std::min(kTogether, rows() - first);
            few.resize(static_cast<Eigen::Index>(count), static_cast<Eigen::Index>(columns()));
            base::parallelFor(count, 1, [&](std::size_t begin, std::size_t end) {
                Poses::Scratch scratch;
                for (std::size_t f = begin; f < end; ++f) {
                    read(first + f, few.row(static_cast<Eigen::Index>(f)).data(), scratch);
                    progress_.checkpoint();
                }
            });
            use(static_cast<Eigen::Index>(first), few);
        }
    }

    /// The motion's rows mixed: mixing (few × rows) · motion.
    Table mixed(const Table& mixing) const {
        Table out = Table::Zero(mixing.rows(), static_cast<Eigen::Index>(columns()));
        eachFew([&](Eigen::Index first, const Table& few) {
            eachBlock([&](Eigen::Index at, Eigen::Index width) {
                out.middleCols(at, width).noalias() +=
                    mixing.middleCols(first, few.rows()) * few.middleCols(at, width);
            });
        });
        return out;
    }

    /// The motion's rows seen from directions (few × columns): motion · directionsᵀ, in double precision.
    Eigen::MatrixXd seenFrom(const Table& directions) const {
        Eigen::MatrixXd out(static_cast<Eigen::Index>(rows()), directions.rows());
        const std::size_t blocks = (columns() + kBlock - 1) / kBlock;
        std::vector<Eigen::MatrixXd> parts(blocks);
        eachFew([&](Eigen::Index first, const Table& few) {
            eachBlock([&](Eigen::Index at, Eigen::Index width) {
                parts[static_cast<std::size_t>(at) / kBlock] =
                    (few.middleCols(at, width) * directions.middleCols(at, width).transpose()).cast<double>();
            });
            // In the order of the blocks, whichever thread was first.
            Eigen::MatrixXd sum = Eigen::MatrixXd::Zero(few.rows(), directions.rows());
            for (const Eigen::MatrixXd& part : parts) {
                sum += part;
            }
            out.middleRows(first, few.rows()) = sum;
        });
        return out;
    }

private:
    void read(std::size_t frame, float* row, Poses::Scratch& scratch) const {
        const Poses::Pose pose =
            poses_.at(frame, normals_ ? Poses::Want::both : Poses::Want::positions, scratch);
        auto* to = reinterpret_cast<glm::vec3*>(row);
        for (std::size_t v = 0; v < pose.positions.size(); ++v) {
            *to++ = pose.positions[v] - mesh_.positions[v];
        }
        for (std::size_t v = 0; normals_ && v < pose.normals.size(); ++v) {
            *to++ = factor_ * (pose.normals[v] - mesh_.normals[v]);
        }
    }

    template <typename Work>
    void eachBlock(const Work& work) const {
        const std::size_t blocks = (columns() + kBlock - 1) / kBlock;
        base::parallelFor(blocks, 1, [&](std::size_t begin, std::size_t end) {
            for (std::size_t b = begin; b < end; ++b) {
                work(static_cast<Eigen::Index>(b * kBlock),
                     static_cast<Eigen::Index>(std::min(kBlock, columns() - b * kBlock)));
            }
        });
    }

    const mesh::Mesh& mesh_;
    const Poses& poses_;
    bool normals_;
    const base::Progress& progress_;
    float factor_ = 1.0f;
};

/// An orthonormal basis of what the columns span.
Eigen::MatrixXd basisOf(const Eigen::MatrixXd& columns) {
    const Eigen::HouseholderQR<Eigen::MatrixXd> qr(columns);
    return qr.householderQ() * Eigen::MatrixXd::Identity(columns.rows(), columns.cols());
}

Table rowsOf(const Eigen::MatrixXd& columns) {
    return columns.transpose().cast<float>();
}

/// Sums of squares of the offsets and of the normals' differences.
std::pair<double, double> squares(const SketchedMotion& motion, std::size_t vertices) {
    double offsets = 0.0;
    double normals = 0.0;
    const auto split = static_cast<Eigen::Index>(3 * vertices);
    motion.eachFew([&](Eigen::Index, const Table& few) {
        offsets += few.leftCols(split).cast<double>().squaredNorm();
        normals += few.rightCols(few.cols() - split).cast<double>().squaredNorm();
    });
    return {offsets, normals};
}

} // namespace

SharedMotion sketchMotion(const mesh::Mesh& mesh, const Poses& poses, std::size_t most, bool withNormals,
                          const base::Progress& progress) {
    SketchedMotion motion(mesh, poses, withNormals, progress);
    float factor = 1.0f;
    if (withNormals) {
        const auto [offsets, normals] = squares(motion, poses.vertices());
        constexpr double kSay = 1e-6; // of the offsets' sum of squares, as in the exact way
        factor =
            offsets > 0.0 && normals > 0.0 ? static_cast<float>(std::sqrt(kSay * offsets / normals)) : 1.0f;
        motion.weighNormals(factor);
    }
    const std::size_t frames = poses.frames();
    const auto dimensions = static_cast<Eigen::Index>(std::min(most + kMore, frames));
    std::mt19937 random(1); // the same input gives the same bytes
    std::normal_distribution<double> bell;
    Eigen::MatrixXd start(static_cast<Eigen::Index>(frames), dimensions);
    for (Eigen::Index c = 0; c < start.cols(); ++c) {
        for (Eigen::Index r = 0; r < start.rows(); ++r) {
            start(r, c) = bell(random);
        }
    }
    Eigen::MatrixXd basis = basisOf(start);
    for (int turn = 0; turn < kTurns; ++turn) {
        basis = basisOf(motion.seenFrom(motion.mixed(rowsOf(basis))));
    }
    Table inside = motion.mixed(rowsOf(basis)); // dimensions × columns
    const Eigen::MatrixXd products = (inside * inside.transpose()).cast<double>();
    const Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd> solver(products);
    const double largest = std::max(solver.eigenvalues()[dimensions - 1], 0.0);
    SharedMotion shared;
    shared.frames = frames;
    shared.vertices = poses.vertices();
    constexpr double kNothing = 1e-13; // of the largest: less than single precision can tell
    const auto square = [&](std::size_t s) {
        return solver.eigenvalues()[dimensions - 1 - static_cast<Eigen::Index>(s)];
    };
    while (shared.shapes < std::min(most, frames) &&
           (shared.shapes == 0 || square(shared.shapes) > kNothing * largest)) {
        ++shared.shapes;
    }
    const auto shapes = static_cast<Eigen::Index>(shared.shapes);
    Table mixing(shapes, dimensions);
    shared.weights.resize(frames * shared.shapes);
    for (Eigen::Index s = 0; s < shapes; ++s) {
        const Eigen::VectorXd inBasis = solver.eigenvectors().col(dimensions - 1 - s);
        const Eigen::VectorXd way = basis * inBasis;
        Eigen::Index at = 0;
        way.cwiseAbs().maxCoeff(&at);
        const double scale = way[at]; // with its sign, so that the largest weight is 1
        mixing.row(s) = (inBasis * scale).cast<float>().transpose();
        for (Eigen::Index f = 0; f < static_cast<Eigen::Index>(frames); ++f) {
            shared.weights[static_cast<std::size_t>(f * shapes + s)] = static_cast<float>(way[f] / scale);
        }
    }
    const std::size_t vertices = shared.vertices;
    shared.offsets = base::RawVector<glm::vec3>(shared.shapes * vertices);
    shared.normals = base::RawVector<glm::vec3>(withNormals ? shared.shapes * vertices : 0);
    const auto width = static_cast<Eigen::Index>(3 * vertices);
    Eigen::Map<Table>(reinterpret_cast<float*>(shared.offsets.data()), shapes, width).noalias() =
        mixing * inside.leftCols(width);
    if (withNormals) {
        Eigen::Map<Table>(reinterpret_cast<float*>(shared.normals.data()), shapes, width).noalias() =
            mixing * inside.rightCols(width) / factor;
    }
    return shared;
}

} // namespace ripple::bake
