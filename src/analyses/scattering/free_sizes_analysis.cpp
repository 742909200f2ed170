// SPDX-License-Identifier: GPL-3.0-or-later
// A distribution of sizes without a formula, from scattering of spheres.
#include "analyses/scattering/inverse.h"
#include "base/text.h"
#include "describe/setting_makers.h"
#include "models/scattering/forms.h"
#include "models/scattering/smearing.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::analyses {

namespace {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "free-sizes",
        .name = "Free distribution of sizes",
        .purpose = "How many spheres of which radius scatter so, without a formula, with an error band",
        .settings = {priorSetting(),
                     interval("radii", "Radii",
                              "From which to which the spheres may be; open: what the range of q can see.",
                              {.whenEmpty = "by q"}),
                     wholeNumber("bins", "Radii tried", 60, "How many, evenly spread over ln(radius).",
                                 {.lowest = 10, .highest = 200}),
                     flag("background", "Background", true, "A flat background is found beside the sizes."),
                     flag("resolution", "Resolution", true,
                          "The column of the resolution is taken into account, where there is one."),
                     contrastSetting()}};
    return kind;
}

std::vector<double> radiiOf(const Task& task, const ScatteringPoints& p) {
    const auto range = task.spec.settings.numbers("radii");
    double low = 0.8 / p.q.back(), high = 2.8 / p.q.front();
    if (range.size() == 2 && range[0] > 0 && std::isfinite(range[0])) low = range[0];
    if (range.size() == 2 && std::isfinite(range[1]) && range[1] > low) high = range[1];
    const int count = info().integer(task.spec.settings, "bins");
    std::vector<double> radii;
    for (int k = 0; k < count; ++k)
        radii.push_back(low * std::pow(std::max(high / low, 1.01), double(k) / (count - 1)));
    return radii;
}

// I of spheres of that radius over their volume fraction times squared contrast, in 1/length⁻³.
VectorXd sphereColumn(const ScatteringPoints& p, double radius, bool smeared) {
    const auto form = models::scattering::sphereForm();
    const double parameters[] = {radius, 1};
    const double volume = form->volume(parameters).value;
    models::scattering::Moments moments;
    VectorXd out(std::ssize(p.q));
    if (!smeared || p.resolution.empty()) {
        form->moments(p.q, parameters, false, moments);
        for (Index i = 0; i < out.size(); ++i) out[i] = moments.square[static_cast<std::size_t>(i)] / volume;
        return out;
    }
    const auto sigma = [&](double q) {
        const auto above = std::ranges::lower_bound(p.q, q) - p.q.begin();
        return p.resolution[static_cast<std::size_t>(std::min<std::ptrdiff_t>(above, std::ssize(p.q) - 1))];
    };
    const auto layout = models::scattering::smearingLayout(p.q, {.sigma = sigma}, {.reach = radius});
    form->moments(layout.nodes, parameters, false, moments);
    for (Index i = 0; i < out.size(); ++i) {
        const auto& row = layout.rows[static_cast<std::size_t>(i)];
        double sum = 0;
        for (std::size_t k = 0; k < row.weights.size(); ++k)
            sum += row.weights[k] * moments.square[row.first + k];
        out[i] = sum / volume;
    }
    return out;
}

// A number of the distribution of volumes with its error, from amounts per bin: Σ a·f/Σ a·g.
struct Ratio {
    double value, se;
};
Ratio ratioOf(const fit::PositiveResult& found, const VectorXd& above, const VectorXd& below) {
    const double a = above.dot(found.amounts), b = below.dot(found.amounts), value = a / b;
    const VectorXd gradient = (above - value * below) / b;
    return {value, std::sqrt(std::max(0.0, gradient.dot(found.covariance * gradient)))};
}

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    const auto points = scatteringPoints(task, 8);
    if (!points) return std::unexpected(points.error());
    const Settings& s = task.spec.settings;
    const std::vector<double> radii = radiiOf(task, *points);
    const auto m = std::ssize(radii);
    const double contrast = s.number("contrast", 0);
    const bool absolute = contrast > 0;
    const double units = absolute ? 1e8 * std::pow(points->lengthInA, 3) * contrast * contrast : 1;
    fit::PositiveProblem problem{
        .kernel = MatrixXd(std::ssize(points->q), m),
        .y = Eigen::Map<const VectorXd>(points->intensity.data(), std::ssize(points->q)),
        .sigma = Eigen::Map<const VectorXd>(points->sigma.data(), std::ssize(points->q)),
        .sigmaIsAbsolute = points->sigmaIsKnown,
        .background = info().flag(s, "background"),
        .prior = priorOf(info().text(s, "prior"))};
    for (Index k = 0; k < m; ++k) {
        if (task.stop.stop_requested()) return failure("stopped", "Stopped.");
        problem.kernel.col(k) =
            units * sphereColumn(*points, radii[static_cast<std::size_t>(k)], info().flag(s, "resolution"));
    }
    const auto found = fit::positiveInversion(problem);
    if (!found) return std::unexpected(found.error());
    if (!(found->amounts.sum() > 0))
        return failure("nothing", "Nothing but a background is seen: there are no sizes.");

    AnalysisResult out{.state = "done"};
    const double step = std::log(radii.back() / radii.front()) / double(m - 1);
    VectorXd one = VectorXd::Ones(m), r(m), r2(m), byNumber(m), byNumberR(m);
    for (Index k = 0; k < m; ++k) {
        const double v = radii[static_cast<std::size_t>(k)];
        r[k] = v, r2[k] = v * v, byNumber[k] = 1 / (v * v * v), byNumberR[k] = 1 / (v * v);
    }
    const auto give = [&](const char* key, const char* label, const char* meaning, const std::string& unit,
                          double value, double se) {
        out.quantities.push_back(scatteringQuantity(task, key, label, meaning, unit, value, se));
    };
    const Ratio mean = ratioOf(*found, r, one), square = ratioOf(*found, r2, one),
                number = ratioOf(*found, byNumberR, byNumber);
    give("radius_by_volume", "mean radius by volume", "of the distribution of volumes", points->lengthUnit,
         mean.value, mean.se);
    // It rests on the smallest sizes, of which scattering may tell nothing.
    if (number.se < 0.5 * number.value)
        give("radius_by_number", "mean radius by number",
             "of the distribution of numbers; rests on the smallest sizes", points->lengthUnit, number.value,
             number.se);
    const double sd = std::sqrt(std::max(0.0, square.value - mean.value * mean.value));
    give("sd_by_volume", "SD by volume", "of the radius in the distribution of volumes", points->lengthUnit,
         sd, NAN);
    double sum = 0, median = radii.front();
    for (Index k = 0; k < m && sum < 0.5 * found->amounts.sum(); ++k)
        sum += found->amounts[k], median = radii[static_cast<std::size_t>(k)];
    Index top = 0;
    found->amounts.maxCoeff(&top);
    give("median_by_volume", "median radius by volume", "half of the volume is in smaller spheres",
         points->lengthUnit, median, NAN);
    give("mode_by_volume", "mode of ln radius", "where most volume is, over ln radius", points->lengthUnit,
         radii[static_cast<std::size_t>(top)], NAN);
    const double total = found->amounts.sum(),
                 totalSe = std::sqrt(std::max(0.0, one.dot(found->covariance * one)));
    if (absolute)
        give("volume_fraction", "volume fraction", "of all spheres; rests on the contrast and on I in cm⁻¹",
             "", total, totalSe);
    else
        give("scale", "scale", "volume fraction times squared contrast, in units of I per volume", "", total,
             totalSe);
    if (problem.background)
        give("background", "background", "the same at every q", points->curve->yMeaning.unit,
             found->background, found->backgroundError);

    // Densities over the radius: amounts per bin of ln r, over r.
    std::vector<double> volume, volumeError, numbers, numberError;
    double area = 0;
    for (Index k = 0; k < m; ++k) {
        const double v = radii[static_cast<std::size_t>(k)];
        volume.push_back(found->amounts[k] / (step * v));
        volumeError.push_back(found->errors[k] / (step * v));
        numbers.push_back(volume.back() / (v * v * v));
        numberError.push_back(volumeError.back() / (v * v * v));
        if (k > 0)
            area += 0.5 * (numbers.back() + numbers[static_cast<std::size_t>(k) - 1]) *
                    (v - radii[static_cast<std::size_t>(k) - 1]);
    }
    for (std::size_t k = 0; k < numbers.size(); ++k) numbers[k] /= area, numberError[k] /= area;
    const std::string per = "1/" + points->lengthUnit;
    out.curves.push_back(
        inverseCurve(task, "distribution", "by volume", *points, radii, volume, volumeError,
                     {absolute ? "volume fraction per radius" : "volume per radius", absolute ? per : ""}));
    out.curves.push_back(inverseCurve(task, "distribution", "by number", *points, radii, numbers, numberError,
                                      {"numbers per radius", per}));
    addInverseFit(task, *points, *found, out);
    Table table{.name = "Sizes of " + task.inputs.front().name};
    table.columns = {numberColumn("radius", points->lengthUnit, radii),
                     numberColumn("volume per radius", absolute ? per : "", volume),
                     numberColumn("± volume per radius", absolute ? per : "", volumeError),
                     numberColumn("numbers per radius", per, numbers)};
    out.tables.push_back({"sizes", "Sizes", std::move(table)});
    const double edge = std::max(found->amounts[m - 1], found->amounts[0]);
    if (edge > 0.2 * found->amounts.maxCoeff())
        out.issues.push_back({"sizes-cut",
                              "The distribution does not end within the radii that are tried: widen them "
                              "under “Radii”, if q reaches far enough.",
                              {}});
    out.sentence = fmt::format("Spheres of mean radius {} ± {} {} by volume, found without a formula.",
                               readableNumber(mean.value, 4), readableNumber(mean.se, 2), points->lengthUnit);
    out.detail =
        fmt::format("{}, {} radii, {:.1f} numbers measured",
                    problem.prior == fit::Prior::Smooth ? "smoothest" : "most entropy", m, found->measured);
    return out;
}

} // namespace

AnalysisKind freeSizesAnalysis() {
    return {.info = info(),
            .slots = {{.key = "dataset", .label = "Dataset", .of = "dataset"}},
            .compute = compute,
            .givesCurve = true};
}

} // namespace jointer::analyses
