// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/peaks/further_numbers.h"

#include "describe/setting_makers.h"

#include <fmt/format.h>

namespace jointer::analyses {

std::vector<double> FurtherNumbers::parametersOf(const PlannedPeak& peak) const {
    const std::vector<double> all = peaks_.report.one().values();
    const auto first = all.begin() + static_cast<std::ptrdiff_t>(peak.firstParameter);
    return {first, first + std::ssize(peak.shape.model->parameters())};
}

NumberWithError FurtherNumbers::of(const PlannedPeak& peak,
                                   const std::function<double(std::span<const double>)>& f) const {
    std::vector<double> p = parametersOf(peak);
    const double value = f(p);
    const Eigen::MatrixXd& root = peaks_.report.one().root;
    if (root.size() == 0) return {value, std::nan("")};
    Eigen::RowVectorXd row = Eigen::RowVectorXd::Zero(root.cols());
    for (std::size_t k = 0; k < p.size(); ++k) {
        const double h = 1e-5 * std::max(std::abs(p[k]), 1e-6), before = p[k];
        p[k] = before + h;
        const double up = f(p);
        p[k] = before - h;
        const double down = f(p);
        p[k] = before;
        const double slope = (up - down) / (2 * h);
        if (std::isfinite(slope)) row += slope * root.row(static_cast<Eigen::Index>(peak.firstParameter + k));
    }
    return {value, row.norm()};
}

Quantity FurtherNumbers::quantity(const std::string& name, const char* label, std::string unit,
                                  NumberWithError n, const PlannedPeak* peak, bool good) const {
    const double t = fit::tQuantile(peaks_.report);
    return {.key = peak ? models::nameInWhole(name, peak->number) : name,
            .label = label,
            .unit = std::move(unit),
            .value = n.value,
            .se = n.error,
            .low = n.value - t * n.error,
            .high = n.value + t * n.error,
            .state = "derived",
            .good = good,
            .member = peaks_.taken->members.front().dataset,
            .component = peak ? peak->number : 0,
            .subject = peak ? peak->name : ""};
}

std::vector<InputSlot> slotsOfPeaks() {
    return {{.key = "dataset", .label = "Dataset", .of = "dataset"},
            {.key = "peaks", .label = "Peaks", .of = "analysis", .kinds = {"peaks"}}};
}

Setting angleSetting(std::string help) {
    return describe::choice(
        "unit", "x is",
        {{"deg2theta", "2θ in degrees"}, {"rad2theta", "2θ in radians"}, {"degtheta", "θ in degrees"}},
        std::move(help));
}

double radiansOfTwoTheta(const KindInfo& kind, const Settings& settings) {
    const std::string unit = kind.text(settings, "unit");
    return unit == "rad2theta" ? 1 : unit == "degtheta" ? M_PI / 90 : M_PI / 180;
}

Result<const PeaksDetail*> takenPeaks(const Task& task, const char* what) {
    if (!task.analyses.empty() && task.analyses[0])
        if (const PeaksDetail* peaks = peaksDetail(*task.analyses[0])) return peaks;
    return failure("no-peaks", fmt::format("{} needs a set of peaks: fit one, and choose it here.", what));
}

} // namespace jointer::analyses
