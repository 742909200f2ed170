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

std::unexpected<Issue> tooFew() {
    return failure("lines",
                   "These lines do not determine the lattice: name more of them, with other indices.");
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

Result<Lattice> latticeFrom(const std::vector<IndexedLine>& lines, double wavelength, CrystalSystem system,
                            ZeroRule zero) {
    const auto n = std::ssize(termsOf({1, 1, 1}, system)), all = n + (zero != ZeroRule::None);
    const auto m = std::ssize(lines);
    if (m < all) return tooFew();
    // From sin²θ, which is linear.
    MatrixXd a(m, n);
    VectorXd b(m), weights(m);
    for (Index i = 0; i < m; ++i) {
        const IndexedLine& line = lines[static_cast<std::size_t>(i)];
        const std::vector<double> terms = termsOf(line.hkl, system);
        for (Index k = 0; k < n; ++k) a(i, k) = terms[static_cast<std::size_t>(k)];
        b[i] = std::pow(2 * std::sin(0.5 * line.place) / wavelength, 2);
        weights[i] = line.error > 0 ? 1 / line.error : 1;
    }
    const Eigen::ColPivHouseholderQR<MatrixXd> first(a);
    if (first.rank() < n) return tooFew();
    VectorXd p = VectorXd::Zero(all);
    p.head(n) = first.solve(b);
    MatrixXd slopes(m, all);
    VectorXd rest(m);
    for (int round = 0; round < kRounds; ++round) {
        for (Index i = 0; i < m; ++i) {
            const IndexedLine& line = lines[static_cast<std::size_t>(i)];
            const Row row = rowOf(line, p, wavelength, system, zero);
            if (!std::isfinite(row.computed)) return tooFew();
            slopes.row(i) = weights[i] * row.slopes.transpose();
            rest[i] = weights[i] * (line.place - row.computed);
        }
        const Eigen::ColPivHouseholderQR<MatrixXd> qr(slopes);
        if (qr.rank() < all) return tooFew();
        const VectorXd step = qr.solve(rest);
        p += step;
        if (step.cwiseAbs().maxCoeff() <= 1e-15 * p.cwiseAbs().maxCoeff()) break;
    }
    if (!(p.head(n).minCoeff() > 0)) return tooFew();
    Lattice out;
    double sum = 0;
    const bool known = weights.maxCoeff() > 1;
    for (Index i = 0; i < m; ++i) {
        const IndexedLine& line = lines[static_cast<std::size_t>(i)];
        out.differences.push_back(line.place - rowOf(line, p, wavelength, system, zero).computed);
        sum += std::pow(weights[i] * out.differences.back(), 2);
    }
    out.free = static_cast<std::size_t>(m - all);
    out.scatter = out.free > 0 ? std::sqrt(sum / static_cast<double>(out.free)) : NAN;
    const double scale = out.free > 0 ? (known ? std::max(1.0, out.scatter) : out.scatter) : known ? 1 : NAN;
    const MatrixXd covariance = (slopes.transpose() * slopes).inverse() * scale * scale;
    const auto length = [&](Index k) { return 1 / std::sqrt(p[k]); };
    const auto error = [&](Index k) { return 0.5 * std::pow(p[k], -1.5) * std::sqrt(covariance(k, k)); };
    const Index ib = system == CrystalSystem::Orthorhombic ? 1 : 0;
    const Index ic = system == CrystalSystem::Cubic ? 0 : n - 1;
    out.a = length(0);
    out.b = length(ib);
    out.c = length(ic);
    out.errors = {error(0), error(ib), error(ic)};
    const double angle = system == CrystalSystem::Hexagonal ? std::sqrt(0.75) : 1;
    out.volume = angle * out.a * out.b * out.c;
    VectorXd byP = VectorXd::Zero(all); // each length is a power −½
    for (const Index k : {Index{0}, ib, ic}) byP[k] += -0.5 * out.volume / p[k];
    out.volumeError = std::sqrt(byP.dot(covariance * byP));
    if (zero != ZeroRule::None) {
        out.zero = p[n];
        out.zeroError = std::sqrt(covariance(n, n));
    }
    return out;
}

} // namespace jointer::analyses
