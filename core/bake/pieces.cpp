#include "bake/pieces.h"

#include "bake/tolerance.h"
#include "bake/texture_reader.h"
#include "base/parallel.h"
#include "base/progress.h"
#include "base/units.h"
#include "mesh/bounds.h"

#include <algorithm>
#include <numeric>

#include <Eigen/Geometry>
#include <Eigen/SVD>
#include <glm/geometric.hpp>

namespace ripple::bake {

namespace {

constexpr std::size_t kMostMoments = std::size_t{1} << 22; // parts × frames: 400 MB of sums

/// Sums over a part's vertices, of rest positions r and posed positions p. They add up when parts join.
struct Moments {
    Eigen::Matrix3d product = Eigen::Matrix3d::Zero(); ///< Σ r pᵀ
    Eigen::Vector3d posed = Eigen::Vector3d::Zero();   ///< Σ p

    void add(const Moments& other) {
        product += other.product;
        posed += other.posed;
    }
};

struct RestSum {
    Eigen::Vector3d sum = Eigen::Vector3d::Zero();
    double count = 0.0;

    Eigen::Vector3d middle() const { return sum / count; }
};

struct Rigid {
    Eigen::Vector3d place;
    Eigen::Quaterniond turn;

    Eigen::Vector3d carry(const Eigen::Vector3d& rest, const Eigen::Vector3d& pivot) const {
        return place + turn * (rest - pivot);
    }
};

Eigen::Vector3d wide(const glm::vec3& v) {
    return {static_cast<double>(v.x), static_cast<double>(v.y), static_cast<double>(v.z)};
}

glm::vec3 narrow(const Eigen::Vector3d& v) {
    return {static_cast<float>(v.x()), static_cast<float>(v.y()), static_cast<float>(v.z())};
}

/// The rotation that carries the rest positions nearest to the posed ones, in the sense of least squares.
Rigid kabsch(const RestSum& rest, const Moments& moments) {
    const Eigen::Vector3d posed = moments.posed / rest.count;
    const Eigen::Matrix3d spread = moments.product - rest.sum * posed.transpose();
    const Eigen::JacobiSVD<Eigen::Matrix3d> svd(spread, Eigen::ComputeFullU | Eigen::ComputeFullV);
    const double mirror = (svd.matrixV() * svd.matrixU().transpose()).determinant() < 0.0 ? -1.0 : 1.0;
    const Eigen::Matrix3d turn =
        svd.matrixV() * Eigen::Vector3d(1.0, 1.0, mirror).asDiagonal() * svd.matrixU().transpose();
    return {posed, Eigen::Quaterniond(turn).normalized()};
}

/// Connected parts by triangles, numbered by their first vertex.
std::vector<std::uint32_t> connectedParts(const mesh::Mesh& mesh, std::size_t& count) {
    std::vector<std::uint32_t> root(mesh.vertexCount());
    std::iota(root.begin(), root.end(), 0u);
    const auto find = [&](std::uint32_t v) {
        while (root[v] != v) {
            root[v] = root[root[v]];
            v = root[v];
        }
        return v;
    };
    for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
        for (std::size_t k = 1; k < 3; ++k) {
            const std::uint32_t a = find(mesh.indices[i]);
            const std::uint32_t b = find(mesh.indices[i + k]);
            root[std::max(a, b)] = std::min(a, b);
        }
    }
    std::vector<std::uint32_t> part(root.size());
    count = 0;
    for (std::uint32_t v = 0; v < root.size(); ++v) {
        part[v] = root[v] == v ? static_cast<std::uint32_t>(count++) : part[find(v)];
    }
    return part;
}

class PieceFinder {
public:
    PieceFinder(const mesh::Mesh& mesh, const Poses& poses, const base::Progress& progress)
        : mesh_(mesh),
          poses_(poses),
          progress_(progress),
          frames_(poses.frames()) {
        part_ = connectedParts(mesh, parts_);
        tolerance_ = kStiff * assetSize(mesh);
    }

    Pieces run() {
        if (parts_ * frames_ > kMostMoments) {
            base::fail("pieces",
                       "the mesh has " + base::countText(parts_) + " loose parts, too many for " +
                           base::plural(frames_, "frame"),
                       "bake vertices or shared shapes");
        }
        sumUp();
        join();
        std::vector<Rigid> motion(frames_ * pieces_);
        for (std::size_t f = 0; f < frames_; ++f) {
            for (std::size_t p = 0; p < pieces_; ++p) {
                Rigid rigid = kabsch(pieceRest_[p], pieceMoments_[f * pieces_ + p]);
                if (f > 0 && rigid.turn.dot(motion[(f - 1) * pieces_ + p].turn) < 0.0) {
                    rigid.turn.coeffs() = -rigid.turn.coeffs(); // the same turn, on the near side
                }
                motion[f * pieces_ + p] = rigid;
            }
        }
        return finish(motion);
    }

private:
    void sumUp() {
        rest_.resize(parts_);
        boxes_.resize(parts_);
        for (std::size_t v = 0; v < part_.size(); ++v) {
            rest_[part_[v]].sum += wide(mesh_.positions[v]);
            rest_[part_[v]].count += 1.0;
            boxes_[part_[v]].add(mesh_.positions[v]);
        }
        moments_.resize(frames_ * parts_);
        base::parallelFor(frames_, 1, [&](std::size_t begin, std::size_t end) {
            Poses::Scratch scratch;
            for (std::size_t f = begin; f < end; ++f) {
                const auto posed = poses_.at(f, Poses::Want::positions, scratch).positions;
                for (std::size_t v = 0; v < posed.size(); ++v) {
                    Moments& own = moments_[f * parts_ + part_[v]];
                    const Eigen::Vector3d p = wide(posed[v]);
                    own.product += wide(mesh_.positions[v]) * p.transpose();
                    own.posed += p;
                }
                progress_.checkpoint();
            }
        });
    }

    /// True if piece `p` carries the corners of the part's box where the part's own motion carries them.
    bool movesWith(std::size_t part, std::size_t piece, std::size_t frame, const Rigid& own) const {
        const Rigid& other = leader_[piece * frames_ + frame];
        const Eigen::Vector3d pivot = rest_[part].middle();
        const Eigen::Vector3d otherPivot = rest_[leaderPart_[piece]].middle();
        for (int corner = 0; corner < 8; ++corner) {
            const mesh::Bounds& box = boxes_[part];
            const Eigen::Vector3d at =
                wide({corner & 1 ? box.max.x : box.min.x, corner & 2 ? box.max.y : box.min.y,
                      corner & 4 ? box.max.z : box.min.z});
            if ((own.carry(at, pivot) - other.carry(at, otherPivot)).norm() > tolerance_) {
                return false;
            }
        }
        return true;
    }

    /// Parts that move alike become one piece, that of the first of them.
    void join() {
        pieceOf_.resize(parts_);
        std::vector<Rigid> own(frames_);
        for (std::size_t part = 0; part < parts_; ++part) {
            for (std::size_t f = 0; f < frames_; ++f) {
                own[f] = kabsch(rest_[part], moments_[f * parts_ + part]);
            }
            std::size_t piece = 0;
            for (; piece < leaderPart_.size(); ++piece) {
                bool with = movesWith(part, piece, frames_ - 1, own[frames_ - 1]);
                for (std::size_t f = 0; with && f + 1 < frames_; ++f) {
                    with = movesWith(part, piece, f, own[f]);
                }
                if (with) {
                    break;
                }
            }
            pieceOf_[part] = piece;
            if (piece == leaderPart_.size()) {
                leaderPart_.push_back(part);
                leader_.insert(leader_.end(), own.begin(), own.end());
            }
            progress_.checkpoint();
        }
        pieces_ = leaderPart_.size();
        pieceRest_.resize(pieces_);
        pieceMoments_.resize(frames_ * pieces_);
        for (std::size_t part = 0; part < parts_; ++part) {
            pieceRest_[pieceOf_[part]].sum += rest_[part].sum;
            pieceRest_[pieceOf_[part]].count += rest_[part].count;
            for (std::size_t f = 0; f < frames_; ++f) {
                pieceMoments_[f * pieces_ + pieceOf_[part]].add(moments_[f * parts_ + part]);
            }
        }
    }

    Pieces finish(const std::vector<Rigid>& motion) const {
        Pieces pieces;
        for (const RestSum& rest : pieceRest_) {
            pieces.pivots.push_back(narrow(rest.middle()));
        }
        for (std::size_t v = 0; v < part_.size(); ++v) {
            pieces.ofVertex.push_back(static_cast<std::uint32_t>(pieceOf_[part_[v]]));
        }
        for (std::size_t i = 0; i < motion.size(); ++i) {
            // The pivot is rounded to single precision; its place goes along with it.
            const std::size_t p = i % pieces_;
            pieces.places.push_back(narrow(motion[i].carry(wide(pieces.pivots[p]), pieceRest_[p].middle())));
            const Eigen::Vector4f q = motion[i].turn.coeffs().cast<float>();
            pieces.turns.push_back({q.x(), q.y(), q.z(), q.w()});
        }
        requireStiff(pieces);
        return pieces;
    }

    void requireStiff(Pieces& pieces) const {
        std::vector<float> worst(frames_, 0.0f);
        std::vector<std::size_t> worstVertex(frames_, 0);
        base::parallelFor(frames_, 1, [&](std::size_t begin, std::size_t end) {
            Poses::Scratch scratch;
            for (std::size_t f = begin; f < end; ++f) {
                const auto posed = poses_.at(f, Poses::Want::positions, scratch).positions;
                for (std::size_t v = 0; v < posed.size(); ++v) {
                    const std::size_t p = pieces.ofVertex[v];
                    const glm::vec3 carried =
                        pieces.places[f * pieces_ + p] +
                        turned(pieces.turns[f * pieces_ + p], mesh_.positions[v] - pieces.pivots[p]);
                    const float off = glm::distance(carried, posed[v]);
                    if (off > worst[f]) {
                        worst[f] = off;
                        worstVertex[f] = v;
                    }
                }
                progress_.checkpoint();
            }
        });
        const auto most = std::max_element(worst.begin(), worst.end());
        pieces.fit = static_cast<double>(*most);
        if (pieces.fit > tolerance_) {
            const auto f = static_cast<std::size_t>(most - worst.begin());
            base::fail("pieces",
                       "the mesh bends: at vertex " + std::to_string(worstVertex[f]) + " in frame " +
                           std::to_string(f) + " a part is " + base::lengthText(pieces.fit) +
                           " off from moving as one rigid piece (at most " + base::lengthText(tolerance_) +
                           " would pass)",
                       "bake vertices or shared shapes");
        }
    }

    const mesh::Mesh& mesh_;
    const Poses& poses_;
    const base::Progress& progress_;
    std::size_t frames_;
    double tolerance_ = 0.0;
    std::size_t parts_ = 0;
    std::vector<std::uint32_t> part_; ///< vertices
    std::vector<RestSum> rest_;       ///< parts
    std::vector<mesh::Bounds> boxes_; ///< parts
    std::vector<Moments> moments_;    ///< frames × parts
    std::size_t pieces_ = 0;
    std::vector<std::size_t> pieceOf_;    ///< parts
    std::vector<std::size_t> leaderPart_; ///< pieces: its first part
    std::vector<Rigid> leader_;           ///< pieces × frames: that part's motion
    std::vector<RestSum> pieceRest_;      ///< pieces
    std::vector<Moments> pieceMoments_;   ///< frames × pieces
};

} // namespace

Pieces findPieces(const mesh::Mesh& mesh, const Poses& poses, const base::Progress& progress) {
    return PieceFinder(mesh, poses, progress).run();
}

} // namespace ripple::bake
