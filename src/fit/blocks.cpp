// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/blocks.h"

#include "base/parallel.h"
#include "fit/householder.h"

#include <algorithm>
#include <cmath>

namespace jointer::fit {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;

VectorXd columnNorms(const FreeLayout& layout, const Matrices& jacobian) {
    VectorXd squares = VectorXd::Zero(layout.count);
    for (std::size_t b = 0; b < layout.blocks(); ++b)
        for (Index k = 0; k < layout.columns(b); ++k)
            squares[layout.place(b, k)] += jacobian[b].col(k).squaredNorm();
    return squares.cwiseSqrt();
}

VectorXd timesTransposed(const FreeLayout& layout, const Matrices& jacobian, const Vectors& residuals) {
    VectorXd out = VectorXd::Zero(layout.count);
    for (std::size_t b = 0; b < layout.blocks(); ++b)
        for (Index k = 0; k < layout.columns(b); ++k)
            out[layout.place(b, k)] += jacobian[b].col(k).dot(residuals[b]);
    return out;
}

double squaredNorm(const Vectors& residuals) {
    double sum = 0;
    for (const VectorXd& r : residuals) sum += r.squaredNorm();
    return sum;
}

namespace {

MatrixXd stacked(const Matrices& parts, Index columns) {
    Index rows = 0;
    for (const MatrixXd& m : parts) rows += m.rows();
    MatrixXd out(rows, columns);
    Index at = 0;
    for (const MatrixXd& m : parts) {
        out.middleRows(at, m.rows()) = m;
        at += m.rows();
    }
    return out;
}

// Below the triangle of the first columns nothing is defined after the reduction.
void clearBelow(MatrixXd& a, Index columns) {
    for (Index k = 0; k < std::min(columns, a.cols()); ++k)
        if (k + 1 < a.rows()) a.col(k).tail(a.rows() - k - 1).setZero();
}

constexpr Index kTall = 160; // rows that stay in the cache

// Of a tall matrix each stretch of rows is made a triangle by itself, and then all of these together.
MatrixXd shortened(const MatrixXd& tall) {
    const Index stretches = (tall.rows() + kTall - 1) / kTall, all = tall.cols();
    MatrixXd out = MatrixXd::Zero(stretches * all, all);
    parallelRanges(static_cast<std::size_t>(stretches), 2, [&](std::size_t begin, std::size_t end) {
        for (auto k = static_cast<Index>(begin); k < static_cast<Index>(end); ++k) {
            const Index rows = std::min(kTall, tall.rows() - k * kTall), left = std::min(rows, all);
            MatrixXd part = tall.middleRows(k * kTall, rows);
            triangularise(part, all);
            clearBelow(part, all);
            out.middleRows(k * all, left) = part.topRows(left); // the rest stays nought
        }
    });
    return out;
}

// The triangle of the first columns; what is left below it for the others goes to `rest`.
MatrixXd reduced(MatrixXd a, Index columns, Matrices& rest) {
    if (a.rows() > 4 * kTall && 3 * a.cols() < kTall) a = shortened(a);
    const Index rank = std::min(a.rows(), columns), others = a.cols() - columns;
    triangularise(a, columns);
    if (others > 1 && a.rows() > rank) {
        MatrixXd below = a.block(rank, columns, a.rows() - rank, others);
        if (below.rows() > others) { // shorter, and as good for what follows
            triangularise(below, others);
            clearBelow(below, others);
            below.conservativeResize(others, others);
        }
        rest.push_back(std::move(below));
    }
    clearBelow(a, columns);
    if (a.rows() > rank) a.conservativeResize(rank, a.cols());
    return a;
}

} // namespace

BlockTriangle::BlockTriangle(const FreeLayout& layout, const Matrices& jacobian, const Vectors& residuals,
                             const std::vector<std::uint8_t>& active, const VectorXd& scale, bool quick)
    : layout_(&layout), scale_(scale), parts_(layout.blocks()) {
    for (Index k = layout.first.back(); k < layout.count; ++k)
        if (active[static_cast<std::size_t>(k)]) shared_.active.push_back(k);
    Matrices rest;
    for (std::size_t b = 0; b < parts_.size(); ++b) reduce(b, jacobian[b], residuals[b], active, quick, rest);
    const auto shared = std::ssize(shared_.active);
    if (shared == 0) return;
    Matrices none;
    shared_.rows = reduced(stacked(rest, shared + 1), shared, none);
}

void BlockTriangle::reduce(std::size_t block, const MatrixXd& jacobian, const VectorXd& residuals,
                           const std::vector<std::uint8_t>& active, bool quick, Matrices& rest) {
    Part& part = parts_[block];
    for (Index k = layout_->first[block]; k < layout_->first[block + 1]; ++k)
        if (active[static_cast<std::size_t>(k)]) part.active.push_back(k);
    const auto own = std::ssize(part.active), shared = std::ssize(shared_.active);
    if (quick && shared == 0 && residuals.size() > 4 * own) {
        std::vector<const double*> columns;
        VectorXd scale(own);
        for (Index i = 0; i < own; ++i) {
            const Index place = part.active[static_cast<std::size_t>(i)];
            columns.push_back(jacobian.col(place - layout_->first[block]).data());
            scale[i] = scale_[place];
        }
        part.rows = quickTriangle(columns, residuals.size(), residuals.data(), scale);
        if (part.rows.size() > 0) return;
    }
    MatrixXd a(residuals.size(), own + shared + 1);
    for (Index i = 0; i < own; ++i) {
        const Index place = part.active[static_cast<std::size_t>(i)];
        a.col(i) = jacobian.col(place - layout_->first[block]) / scale_[place];
    }
    for (Index i = 0; i < shared; ++i) {
        const Index place = shared_.active[static_cast<std::size_t>(i)];
        a.col(own + i) = jacobian.col(place - layout_->first.back() + layout_->own(block)) / scale_[place];
    }
    a.col(own + shared) = residuals;
    part.rows = reduced(std::move(a), own, rest);
}

double BlockTriangle::alongSquared() const {
    double sum = 0;
    for (const Part& part : parts_)
        if (!part.active.empty()) sum += part.rows.rightCols<1>().squaredNorm();
    if (!shared_.active.empty()) sum += shared_.rows.rightCols<1>().squaredNorm();
    return sum;
}

std::vector<Index> BlockTriangle::dependent(double tolerance) const {
    std::vector<Index> out;
    auto look = [&](const Part& part) {
        const Index rank = std::min<Index>(part.rows.rows(), std::ssize(part.active));
        for (Index k = 0; k < rank; ++k)
            if (!(std::abs(part.rows(k, k)) > tolerance))
                return out.push_back(part.active[static_cast<std::size_t>(k)]);
    };
    for (const Part& part : parts_) look(part);
    look(shared_);
    return out;
}

VectorXd BlockTriangle::step(double damping) const {
    const double root = std::sqrt(damping);
    auto damped = [&](const MatrixXd& rows, Index own) {
        MatrixXd a = MatrixXd::Zero(rows.rows() + own, rows.cols());
        a.topRows(rows.rows()) = rows;
        a.bottomLeftCorner(own, own).diagonal().setConstant(root);
        return a;
    };
    Matrices reducedParts(parts_.size()), rest;
    for (std::size_t b = 0; b < parts_.size(); ++b) {
        const auto own = std::ssize(parts_[b].active);
        reducedParts[b] = reduced(damped(parts_[b].rows, own), own, rest);
    }
    VectorXd out = VectorXd::Zero(layout_->count);
    const auto shared = std::ssize(shared_.active);
    VectorXd common(shared);
    if (shared > 0) {
        rest.push_back(damped(shared_.rows, shared));
        Matrices none;
        common = backSubstituted(reduced(stacked(rest, shared + 1), shared, none), shared, shared);
    }
    for (Index i = 0; i < shared; ++i) {
        const Index place = shared_.active[static_cast<std::size_t>(i)];
        out[place] = common[i] / scale_[place];
    }
    for (std::size_t b = 0; b < parts_.size(); ++b) {
        MatrixXd& a = reducedParts[b];
        const auto own = std::ssize(parts_[b].active);
        if (shared > 0) a.col(own + shared) -= a.middleCols(own, shared) * common;
        const VectorXd mine = backSubstituted(a, own, own + shared);
        for (Index i = 0; i < own; ++i) {
            const Index place = parts_[b].active[static_cast<std::size_t>(i)];
            out[place] = mine[i] / scale_[place];
        }
    }
    return out;
}

double BlockTriangle::gain(const VectorXd& step) const {
    auto scaled = [&](const std::vector<Index>& places) {
        VectorXd s(std::ssize(places));
        for (Index i = 0; i < s.size(); ++i) {
            const Index place = places[static_cast<std::size_t>(i)];
            s[i] = step[place] * scale_[place];
        }
        return s;
    };
    const VectorXd common = scaled(shared_.active);
    double taken = 0;
    auto add = [&](const Part& part, const VectorXd& own, const VectorXd& others) {
        if (part.rows.rows() == 0) return;
        const VectorXd q = part.rows.rightCols<1>();
        VectorXd left = q - part.rows.leftCols(own.size()) * own;
        if (others.size() > 0) left -= part.rows.middleCols(own.size(), others.size()) * others;
        taken += q.squaredNorm() - left.squaredNorm();
    };
    for (const Part& part : parts_) add(part, scaled(part.active), common);
    if (common.size() > 0) add(shared_, common, {});
    return taken;
}

MatrixXd BlockTriangle::ownTriangle(std::size_t block) const {
    return parts_[block].rows.leftCols(std::ssize(parts_[block].active));
}

MatrixXd BlockTriangle::sharedTriangle() const {
    return shared_.rows.leftCols(std::ssize(shared_.active));
}

MatrixXd BlockTriangle::answer(std::size_t block) const {
    const auto own = std::ssize(parts_[block].active), shared = std::ssize(shared_.active);
    return -ownTriangle(block).triangularView<Eigen::Upper>().solve(
        parts_[block].rows.middleCols(own, shared));
}

MatrixXd BlockTriangle::root(std::size_t block) const {
    const auto own = std::ssize(parts_[block].active), shared = std::ssize(shared_.active);
    MatrixXd rows = MatrixXd::Zero(own + shared, own + shared);
    if (own > 0)
        rows.topLeftCorner(own, own) =
            ownTriangle(block).triangularView<Eigen::Upper>().solve(MatrixXd::Identity(own, own));
    if (shared > 0) {
        const MatrixXd inverse =
            sharedTriangle().triangularView<Eigen::Upper>().solve(MatrixXd::Identity(shared, shared));
        rows.bottomRightCorner(shared, shared) = inverse;
        if (own > 0) rows.topRightCorner(own, shared) = answer(block) * inverse;
    }
    MatrixXd out = MatrixXd::Zero(layout_->columns(block), own + shared);
    for (Index i = 0; i < own + shared; ++i) {
        const Index place = i < own ? parts_[block].active[static_cast<std::size_t>(i)]
                                    : shared_.active[static_cast<std::size_t>(i - own)];
        const Index column =
            i < own ? place - layout_->first[block] : place - layout_->first.back() + layout_->own(block);
        out.row(column) = rows.row(i) / scale_[place];
    }
    return out;
}

} // namespace jointer::fit
