// SPDX-License-Identifier: GPL-3.0-or-later
// The distances between pairs of points of a particle, by the inverse of its scattering.
#include "analyses/scattering/inverse.h"
#include "base/text.h"
#include "describe/setting_makers.h"
#include "models/scattering/amplitudes.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::analyses {

namespace {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;

constexpr int kNodes = 50;

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "pair-distances",
        .name = "Pair distances",
        .purpose = "How often each distance occurs within a particle, p(r), with radius of gyration and I(0)",
        .settings = {
            openNumber("longest", "Longest",
                       "The longest distance within a particle; open: the most probable one.",
                       {.lowest = 1e-9, .whenEmpty = "most probable"}),
            priorSetting(),
            flag("background", "Background", false, "A flat background is found beside the distances.")}};
    return kind;
}

// I(q) = 4π·∫ p(r)·sin(qr)/(qr) dr over piecewise straight p with p = 0 at both ends.
fit::PositiveProblem problemFor(const ScatteringPoints& p, double longest, fit::Prior prior,
                                bool background) {
    fit::PositiveProblem out{.kernel = MatrixXd(std::ssize(p.q), kNodes),
                             .y = Eigen::Map<const VectorXd>(p.intensity.data(), std::ssize(p.q)),
                             .sigma = Eigen::Map<const VectorXd>(p.sigma.data(), std::ssize(p.q)),
                             .sigmaIsAbsolute = p.sigmaIsKnown,
                             .background = background,
                             .prior = prior};
    const double step = longest / (kNodes + 1);
    for (Index i = 0; i < out.kernel.rows(); ++i)
        for (Index k = 0; k < kNodes; ++k) {
            // The integral over a triangle, by five points on each side (Gauss and Legendre).
            static constexpr double at[] = {0.04691007703066802, 0.23076534494715845, 0.5, 0.7692346550528415,
                                            0.9530899229693319};
            static constexpr double weight[] = {0.11846344252809454, 0.23931433524968324, 0.28444444444444444,
                                                0.23931433524968324, 0.11846344252809454};
            const double r = step * double(k + 1), q = p.q[static_cast<std::size_t>(i)];
            double sum = 0;
            for (int g = 0; g < 5; ++g)
                sum += weight[g] * at[g] *
                       (models::scattering::sinc(q * (r - step * (1 - at[g]))).value +
                        models::scattering::sinc(q * (r + step * (1 - at[g]))).value);
            out.kernel(i, k) = 4 * std::numbers::pi * step * sum;
        }
    return out;
}

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    const auto points = scatteringPoints(task, 8);
    if (!points) return std::unexpected(points.error());
    const Settings& s = task.spec.settings;
    const fit::Prior prior = priorOf(info().text(s, "prior"));
    const bool background = info().flag(s, "background");
    const double asked = s.number("longest", 0);
    double longest = asked;
    if (!(longest > 0)) {
        double best = -INFINITY;
        const auto look = [&](double at) {
            fit::PositiveProblem problem = problemFor(*points, at, fit::Prior::Smooth, background);
            problem.wantsErrors = false;
            const auto tried = fit::positiveInversion(problem);
            if (tried && tried->logEvidence > best) best = tried->logEvidence, longest = at;
        };
        const double low = 3 / points->q.back(), high = 3.6 / points->q.front(),
                     ratio = std::pow(high / low, 1 / 15.0);
        for (int k = 0; k < 16; ++k) {
            if (task.stop.stop_requested()) return failure("stopped", "Stopped.");
            look(low * std::pow(ratio, k));
        }
        const double centre = longest;
        for (const double by : {-0.6, -0.3, 0.3, 0.6}) look(centre * std::pow(ratio, by));
    }
    if (!(longest > 0))
        return failure("no-distances", "No longest distance could be found: type one under “Longest”.");
    const fit::PositiveProblem problem = problemFor(*points, longest, prior, background);
    const auto found = fit::positiveInversion(problem);
    if (!found) return std::unexpected(found.error());
    const double step = longest / (kNodes + 1);
    std::vector<double> r = {0}, p = {0}, errors = {0};
    VectorXd one = VectorXd::Constant(kNodes, 4 * std::numbers::pi * step), squares(kNodes);
    for (Index k = 0; k < kNodes; ++k) {
        r.push_back(step * double(k + 1));
        p.push_back(found->amounts[k]);
        errors.push_back(found->errors[k]);
        squares[k] = one[k] * r.back() * r.back() / 2;
    }
    r.push_back(longest), p.push_back(0), errors.push_back(0);
    const double forward = one.dot(found->amounts);
    if (!(forward > 0)) return failure("nothing", "No distances are seen in these points.");
    const double rg2 = squares.dot(found->amounts) / forward, rg = std::sqrt(rg2);
    const VectorXd gradient = (squares - rg2 * one) / forward;
    AnalysisResult out{.state = "done"};
    const auto give = [&](const char* key, const char* label, const char* meaning, const std::string& unit,
                          double value, double se) {
        out.quantities.push_back(scatteringQuantity(task, key, label, meaning, unit, value, se));
    };
    give("rg", "Rg", "radius of gyration, from all distances", points->lengthUnit, rg,
         std::sqrt(std::max(0.0, gradient.dot(found->covariance * gradient))) / (2 * rg));
    give("forward", "I(0)", "4π·∫p(r) dr", points->curve->yMeaning.unit, forward,
         std::sqrt(std::max(0.0, one.dot(found->covariance * one))));
    give("longest", "longest distance", asked > 0 ? "as given" : "the most probable one", points->lengthUnit,
         longest, NAN);
    Index top = 0;
    found->amounts.maxCoeff(&top);
    give("mode", "most frequent distance", "where p(r) is highest", points->lengthUnit,
         step * double(top + 1), NAN);
    if (background)
        give("background", "background", "the same at every q", points->curve->yMeaning.unit,
             found->background, found->backgroundError);
    if (points->q.front() * longest > std::numbers::pi)
        out.issues.push_back(
            {"long-distances",
             fmt::format("The first q sees distances up to {} {} only: the longest ones are guessed.",
                         readableNumber(std::numbers::pi / points->q.front(), 3), points->lengthUnit),
             {}});
    NamedCurve curve = inverseCurve(task, "distances", "p(r)", *points, r, p, errors, {"p(r)", ""});
    curve.xMeaning.name = "distance";
    out.curves.push_back(std::move(curve));
    addInverseFit(task, *points, *found, out);
    Table table{.name = "Pair distances of " + task.inputs.front().name};
    table.columns = {numberColumn("distance", points->lengthUnit, r), numberColumn("p(r)", "", p),
                     numberColumn("± p(r)", "", errors)};
    out.tables.push_back({"distances", "Distances", std::move(table)});
    out.sentence = fmt::format("Distances up to {} {}; Rg = {} {}.", readableNumber(longest, 4),
                               points->lengthUnit, readableNumber(rg, 4), points->lengthUnit);
    out.detail = fmt::format("{:.1f} numbers measured", found->measured);
    return out;
}

} // namespace

AnalysisKind pairDistancesAnalysis() {
    return {.info = info(),
            .slots = {{.key = "dataset", .label = "Dataset", .of = "dataset"}},
            .compute = compute,
            .givesCurve = true};
}

} // namespace jointer::analyses
