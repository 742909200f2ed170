// SPDX-License-Identifier: GPL-3.0-or-later
// Least squares where most parameters act on one block of residuals only: each member of a fit has parameters
// of its own, and some are shared by all. Every block is reduced by itself, and what is left of it for the
// shared ones is collected, so that a thousand members cost a thousand times one. With a single block and
// nothing shared it is the usual triangle.
// Source: Å. Björck, Numerical Methods for Least Squares Problems (1996), section 6.3 (block angular form).
#pragma once

#include <Eigen/Dense>
#include <cstdint>
#include <vector>

namespace jointer::fit {

using Vectors = std::vector<Eigen::VectorXd>;
using Matrices = std::vector<Eigen::MatrixXd>;

// Where the free parameters stand: those of block 0, of block 1 …, then the shared ones.
struct FreeLayout {
    std::vector<Eigen::Index> first{0}; // of each block's own, and where the shared ones begin
    Eigen::Index count = 0;             // of all

    std::size_t blocks() const { return first.size() - 1; }
    Eigen::Index own(std::size_t block) const { return first[block + 1] - first[block]; }
    Eigen::Index shared() const { return count - first.back(); }
    // The columns of a block's matrix: its own, then the shared ones.
    Eigen::Index columns(std::size_t block) const { return own(block) + shared(); }
    Eigen::Index place(std::size_t block, Eigen::Index column) const {
        return column < own(block) ? first[block] + column : first.back() + column - own(block);
    }
};

// The Euclidean norm of each free parameter's column. Shape: layout.count.
Eigen::VectorXd columnNorms(const FreeLayout& layout, const Matrices& jacobian);
// Jᵀr. Shape: layout.count.
Eigen::VectorXd timesTransposed(const FreeLayout& layout, const Matrices& jacobian, const Vectors& residuals);
double squaredNorm(const Vectors& residuals);

// J with scaled columns as a triangle, the residuals reduced with it. Columns that are not `active` are left
// out.
class BlockTriangle {
public:
    // Quick: by products of the columns, where none are nearly dependent: good to eight digits or more.
    BlockTriangle(const FreeLayout& layout, const Matrices& jacobian, const Vectors& residuals,
                  const std::vector<std::uint8_t>& active, const Eigen::VectorXd& scale, bool quick = false);

    double alongSquared() const; // of the part of the residuals that lies along the columns
    // Columns whose pivot is below the tolerance: the first of each block, then the first of the shared ones.
    std::vector<Eigen::Index> dependent(double tolerance) const;
    // Least squares of the triangle above a diagonal √damping. Shape: layout.count; zero where not active.
    Eigen::VectorXd step(double damping) const;
    // What a step takes off the sum of squares of the linear problem.
    double gain(const Eigen::VectorXd& step) const;

    // (JᵀJ)⁻¹ = root·rootᵀ for the columns of one block. Shape: columns(block) rows; as many columns as it
    // has active ones, its own first: those of the shared ones are common to all blocks.
    Eigen::MatrixXd root(std::size_t block) const;

    // The triangle of one block's own columns, and of the shared ones once all of the others are taken out.
    Eigen::MatrixXd ownTriangle(std::size_t block) const;
    Eigen::MatrixXd sharedTriangle() const;
    // How the own parameters of a block answer to the shared ones: −R⁻¹C, in scaled units.
    Eigen::MatrixXd answer(std::size_t block) const;
    const std::vector<Eigen::Index>& ownActive(std::size_t block) const { return parts_[block].active; }
    const std::vector<Eigen::Index>& sharedActive() const { return shared_.active; }

private:
    struct Part {
        std::vector<Eigen::Index> active; // places among the free parameters
        Eigen::MatrixXd rows;             // [own triangle | shared columns | residuals]
    };
    void reduce(std::size_t block, const Eigen::MatrixXd& jacobian, const Eigen::VectorXd& residuals,
                const std::vector<std::uint8_t>& active, bool quick, Matrices& rest);

    const FreeLayout* layout_;
    Eigen::VectorXd scale_;
    std::vector<Part> parts_;
    Part shared_; // no own columns: [shared triangle | residuals]
};

} // namespace jointer::fit
