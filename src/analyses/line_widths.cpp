// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/line_widths.h"

#include "models/peak_features.h"
#include "numerics/faddeeva.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace jointer::analyses {

WidthParts partsOfPseudoVoigt(double fwhm, double share) {
    const double square = 1 - 0.74417 * share - 0.24781 * share * share - 0.00810 * std::pow(share, 3);
    return {fwhm * std::sqrt(std::max(square, 0.0)),
            fwhm * (0.72928 * share + 0.19289 * share * share + 0.07783 * std::pow(share, 3))};
}

double fwhmOf(const WidthParts& p) {
    if (!(p.gauss > 0)) return p.lorentz;
    if (!(p.lorentz > 0)) return p.gauss;
    static const models::PeakShape voigt = *models::peakShape("voigt", {});
    const std::vector<double> at = {0, 1, p.gauss, p.lorentz};
    return models::PeakReading(*voigt.model, *voigt.traits, at).width(0.5).value;
}

double breadthOf(const WidthParts& p) {
    if (!(p.gauss > 0)) return p.lorentz * M_PI / 2;
    const double s = p.gauss / (2 * std::sqrt(std::log(2.0)));
    return s * std::sqrt(M_PI) / numerics::scaledErfc(p.lorentz / (2 * s));
}

std::optional<WidthParts> withoutInstrument(const WidthParts& line, const WidthParts& instrument,
                                            LineProfile profile) {
    const double squares = line.gauss * line.gauss - instrument.gauss * instrument.gauss,
                 difference = line.lorentz - instrument.lorentz;
    if (profile == LineProfile::Gaussian)
        return squares > 0 ? std::optional(WidthParts{std::sqrt(squares), 0}) : std::nullopt;
    if (profile == LineProfile::Lorentzian)
        return difference > 0 ? std::optional(WidthParts{0, difference}) : std::nullopt;
    if (squares <= 0 && difference <= 0) return std::nullopt;
    return WidthParts{std::sqrt(std::max(squares, 0.0)), std::max(difference, 0.0)};
}

double scherrerSize(double breadth, double theta, double wavelength, double shape) {
    return shape * wavelength / (breadth * std::cos(theta));
}

double strainOf(double breadth, double theta) {
    return breadth / (4 * std::tan(theta));
}

double SquareLaw::width(double theta) const {
    const double t = std::tan(theta);
    return std::sqrt(u * t * t + v * t + w);
}

SquareLaw squareLawThrough(const std::vector<std::pair<double, double>>& lines) {
    SquareLaw law;
    if (lines.size() < 3) {
        for (const auto& [theta, width] : lines) law.w += width * width / static_cast<double>(lines.size());
        return law;
    }
    Eigen::MatrixXd columns(std::ssize(lines), 3);
    Eigen::VectorXd squares(std::ssize(lines));
    for (Eigen::Index i = 0; i < columns.rows(); ++i) {
        const double t = std::tan(lines[static_cast<std::size_t>(i)].first);
        columns.row(i) << t * t, t, 1;
        squares[i] = std::pow(lines[static_cast<std::size_t>(i)].second, 2);
    }
    const Eigen::Vector3d found = columns.colPivHouseholderQr().solve(squares);
    return {found[0], found[1], found[2]};
}

std::optional<SizeAndStrain> sizeAndStrain(const std::vector<MeasuredBreadth>& lines, double wavelength,
                                           double shape, bool squares) {
    if (lines.size() < 3) return std::nullopt;
    const auto n = std::ssize(lines);
    Eigen::MatrixXd columns(n, 2);
    Eigen::VectorXd y(n), weight(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const MeasuredBreadth& line = lines[static_cast<std::size_t>(i)];
        double left = line.breadth * std::cos(line.theta), right = 4 * std::sin(line.theta),
               error = line.error * std::cos(line.theta);
        if (squares) {
            error *= 2 * left;
            left *= left;
            right *= right;
        }
        columns.row(i) << 1, right;
        y[i] = left;
        weight[i] = error > 0 && std::isfinite(error) ? 1 / error : 1;
    }
    const Eigen::MatrixXd weighted = weight.asDiagonal() * columns;
    const Eigen::VectorXd target = weight.cwiseProduct(y);
    const auto qr = weighted.colPivHouseholderQr();
    const Eigen::Vector2d found = qr.solve(target);
    if (!(found[0] > 0)) return std::nullopt;
    const double variance = (target - weighted * found).squaredNorm() / static_cast<double>(n - 2);
    const Eigen::Matrix2d covariance = variance * (weighted.transpose() * weighted).inverse();
    const double broad = squares ? std::sqrt(found[0]) : found[0];
    const double broadError = std::sqrt(covariance(0, 0)) / (squares ? 2 * broad : 1);
    SizeAndStrain out;
    out.size = shape * wavelength / broad;
    out.sizeError = out.size * broadError / broad;
    out.strain = squares ? std::copysign(std::sqrt(std::abs(found[1])), found[1]) : found[1];
    out.strainError =
        std::sqrt(covariance(1, 1)) / (squares ? std::max(2 * std::abs(out.strain), 1e-300) : 1);
    return out;
}

} // namespace jointer::analyses
