// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/lattice.h"

#include <Eigen/Dense>
#include <cctype>
#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;

constexpr int kRounds = 30;

// 1/d² is a sum of parameters (such as 1/a²), each times one of these.
std::vector<double> termsOf(const std::array<int, 3>& hkl, CrystalSystem system) {
    const double h = hkl[0], k = hkl[1], l = hkl[2];
    switch (system) {
    case CrystalSystem::Cubic:
        return {h * h + k * k + l * l};
    case CrystalSystem::Tetragonal:
        return {h * h + k * k, l * l};
    case CrystalSystem::Hexagonal:
        return {4.0 / 3 * (h * h + h * k + k * k), l * l};
    case CrystalSystem::Orthorhombic:
        return {h * h, k * k, l * l};
    }
    return {};
}

struct Row {
    double computed = NAN;
    VectorXd slopes;
};

Row rowOf(const IndexedLine& line, const VectorXd& p, double wavelength, CrystalSystem system,
          ZeroRule zero) {
    const std::vector<double> terms = termsOf(line.hkl, system);
    const auto n = std::ssize(terms);
    double q = 0;
    for (Index i = 0; i < n; ++i) q += p[i] * terms[static_cast<std::size_t>(i)];
    const double sine = 0.5 * wavelength * std::sqrt(q);
    Row row{NAN, VectorXd::Zero(p.size())};
    if (!(sine > 0 && sine < 1)) return row;
    const double theta = std::asin(sine);
    row.computed = 2 * theta;
    double along = 1; // of 2θ by θ, over two
    if (zero == ZeroRule::Shift) {
        row.computed += p[n];
        row.slopes[n] = 1;
    } else if (zero == ZeroRule::Displacement) {
        row.computed -= 2 * p[n] * std::cos(theta);
        row.slopes[n] = -2 * std::cos(theta);
        along += p[n] * std::sin(theta);
    }
    const double byQ = 2 * along * 0.25 * wavelength / (std::sqrt(q) * std::cos(theta));
    for (Index i = 0; i < n; ++i) row.slopes[i] = byQ * terms[static_cast<std::size_t>(i)];
    return row;
}

} // namespace

Result<std::array<int, 3>> indicesFrom(const std::string& text) {
    std::vector<int> found;
    bool negative = false, apart = text.find_first_of(" ,") != text.npos;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (c == '-') {
            negative = true;
        } else if (std::isdigit(static_cast<unsigned char>(c))) {
            int value = c - '0';
            while (apart && i + 1 < text.size() && std::isdigit(static_cast<unsigned char>(text[i + 1])) &&
                   value < 1000)
                value = 10 * value + (text[++i] - '0');
            found.push_back(negative ? -value : value);
            negative = false;
        } else if (c != ' ' && c != ',' && c != '(' && c != ')')
            found.push_back(1000000);
    }
    const bool good = found.size() == 3 && (found[0] != 0 || found[1] != 0 || found[2] != 0) &&
                      std::abs(found[0]) < 1000 && std::abs(found[1]) < 1000 && std::abs(found[2]) < 1000;
    if (!good)
        return failure("indices", fmt::format("“{}” are no indices of a line: write 1 0 4 or 104.", text));
    return std::array{found[0], found[1], found[2]};
}

namespace {

// The parameters of 1/d² and of the zero, by least squares on 2θ.
class LatticeFit {
public:
    LatticeFit(const std::vector<IndexedLine>& lines, double wavelength, CrystalSystem system, ZeroRule zero)
        : lines_(lines), wavelength_(wavelength), system_(system), zero_(zero),
          lengths_(std::ssize(termsOf({1, 1, 1}, system))), all_(lengths_ + (zero != ZeroRule::None)),
          weights_(std::ssize(lines)), slopes_(std::ssize(lines), all_) {
        for (Index i = 0; i < weights_.size(); ++i) weights_[i] = line(i).error > 0 ? 1 / line(i).error : 1;
    }

    // Whether the lines determine it.
    bool solve() {
        return weights_.size() >= all_ && begin() && refine() && p_.head(lengths_).minCoeff() > 0;
    }

    Lattice lattice() const {
        Lattice out;
        const MatrixXd covariance = covarianceWith(out);
        const auto length = [&](Index k) { return 1 / std::sqrt(p_[k]); };
        const auto error = [&](Index k) { return 0.5 * std::pow(p_[k], -1.5) * std::sqrt(covariance(k, k)); };
        const Index ib = system_ == CrystalSystem::Orthorhombic ? 1 : 0;
        const Index ic = system_ == CrystalSystem::Cubic ? 0 : lengths_ - 1;
        out.a = length(0);
        out.b = length(ib);
        out.c = length(ic);
        out.errors = {error(0), error(ib), error(ic)};
        const double angle = system_ == CrystalSystem::Hexagonal ? std::sqrt(0.75) : 1;
        out.volume = angle * out.a * out.b * out.c;
        VectorXd byP = VectorXd::Zero(all_); // each length is a power −½
        for (const Index k : {Index{0}, ib, ic}) byP[k] += -0.5 * out.volume / p_[k];
        out.volumeError = std::sqrt(byP.dot(covariance * byP));
        if (zero_ != ZeroRule::None) {
            out.zero = p_[lengths_];
            out.zeroError = std::sqrt(covariance(lengths_, lengths_));
        }
        return out;
    }

private:
    const IndexedLine& line(Index i) const { return lines_[static_cast<std::size_t>(i)]; }
    Row row(Index i) const { return rowOf(line(i), p_, wavelength_, system_, zero_); }

    // From sin²θ, which is linear.
    bool begin() {
        MatrixXd a(weights_.size(), lengths_);
        VectorXd b(weights_.size());
        for (Index i = 0; i < b.size(); ++i) {
            const std::vector<double> terms = termsOf(line(i).hkl, system_);
            for (Index k = 0; k < lengths_; ++k) a(i, k) = terms[static_cast<std::size_t>(k)];
            b[i] = std::pow(2 * std::sin(0.5 * line(i).place) / wavelength_, 2);
        }
        const Eigen::ColPivHouseholderQR<MatrixXd> qr(a);
        p_ = VectorXd::Zero(all_);
        p_.head(lengths_) = qr.solve(b);
        return qr.rank() == lengths_;
    }

    bool refine() {
        VectorXd rest(weights_.size());
        for (int round = 0; round < kRounds; ++round) {
            for (Index i = 0; i < rest.size(); ++i) {
                const Row now = row(i);
                if (!std::isfinite(now.computed)) return false;
                slopes_.row(i) = weights_[i] * now.slopes.transpose();
                rest[i] = weights_[i] * (line(i).place - now.computed);
            }
            const Eigen::ColPivHouseholderQR<MatrixXd> qr(slopes_);
            if (qr.rank() < all_) return false;
            const VectorXd step = qr.solve(rest);
            p_ += step;
            if (step.cwiseAbs().maxCoeff() <= 1e-15 * p_.cwiseAbs().maxCoeff()) break;
        }
        return true;
    }

    // Fills in what is left of each line; the scatter widens errors that are known, and stands for others.
    MatrixXd covarianceWith(Lattice& out) const {
        double sum = 0;
        for (Index i = 0; i < weights_.size(); ++i) {
            out.differences.push_back(line(i).place - row(i).computed);
            sum += std::pow(weights_[i] * out.differences.back(), 2);
        }
        const bool known = weights_.maxCoeff() > 1;
        out.free = static_cast<std::size_t>(weights_.size() - all_);
        out.scatter = out.free > 0 ? std::sqrt(sum / static_cast<double>(out.free)) : NAN;
        double scale = known ? 1 : NAN;
        if (out.free > 0) scale = known ? std::max(1.0, out.scatter) : out.scatter;
        return (slopes_.transpose() * slopes_).inverse() * scale * scale;
    }

    const std::vector<IndexedLine>& lines_;
    double wavelength_;
    CrystalSystem system_;
    ZeroRule zero_;
    Index lengths_, all_; // how many parameters
    VectorXd weights_, p_;
    MatrixXd slopes_; // weighted
};

} // namespace

Result<Lattice> latticeFrom(const std::vector<IndexedLine>& lines, double wavelength, CrystalSystem system,
                            ZeroRule zero) {
    LatticeFit fit(lines, wavelength, system, zero);
    if (!fit.solve())
        return failure("lines",
                       "These lines do not determine the lattice: name more of them, with other indices.");
    return fit.lattice();
}

} // namespace jointer::analyses
