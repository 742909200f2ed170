// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/scattering/fitted_sizes.h"

#include "models/scattering/particles.h"
#include "models/scattering/seen_curve.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

using models::scattering::ParticleSizes;

// Where mean and standard deviation stand among the parameters of the whole, with their covariance.
struct Spread {
    double mean = 0, sd = 0;
    Eigen::Matrix2d covariance = Eigen::Matrix2d::Zero();
};

Spread spreadOf(const FitDetail& detail, std::size_t member, std::size_t mean, std::size_t sd) {
    const fit::MemberReport& report = detail.report.members[member];
    const std::vector<double> values = report.values();
    Spread out{.mean = values[mean], .sd = values[sd]};
    const Eigen::MatrixXd& root = report.root;
    if (root.rows() <= static_cast<Eigen::Index>(std::max(mean, sd))) return out;
    const Eigen::RowVectorXd a = root.row(static_cast<Eigen::Index>(mean)),
                             b = root.row(static_cast<Eigen::Index>(sd));
    out.covariance << a.dot(a), a.dot(b), a.dot(b), b.dot(b);
    if (!out.covariance.allFinite()) out.covariance.setZero();
    return out;
}

// A density over the radius with its band, by differences of the two parameters.
Sampled densityAt(const ParticleSizes& sizes, const Spread& spread, bool ofVolumes,
                  const std::vector<double>& radii) {
    const auto at = [&](double mean, double sd) {
        ParticleSizes moved = sizes;
        moved.mean = mean, moved.sd = sd;
        return models::scattering::radiusDensity(moved, radii, ofVolumes);
    };
    Sampled out{.y = at(spread.mean, spread.sd)};
    if (!(spread.covariance.trace() > 0)) return out;
    const double h = 1e-4;
    const auto upM = at(spread.mean * (1 + h), spread.sd), downM = at(spread.mean * (1 - h), spread.sd),
               upS = at(spread.mean, spread.sd * (1 + h)), downS = at(spread.mean, spread.sd * (1 - h));
    for (std::size_t i = 0; i < radii.size(); ++i) {
        const Eigen::Vector2d g((upM[i] - downM[i]) / (2 * h * spread.mean),
                                (upS[i] - downS[i]) / (2 * h * spread.sd));
        out.confidence.push_back(1.96 * std::sqrt(std::max(0.0, g.dot(spread.covariance * g))));
    }
    return out;
}

void addPopulation(const FitDetail& detail, std::size_t member, const models::Model& part, std::size_t first,
                   int number, const NamedCurve& common, const std::string& xUnit, AnalysisResult& out) {
    const models::scattering::BarePtr bare = models::scattering::bareOf(part);
    if (!bare) return;
    const std::vector<double> values = detail.report.members[member].values();
    const std::span<const double> own = std::span(values).subspan(first, bare->parameters().size());
    const auto sizes = models::scattering::particleSizes(*bare, own);
    if (!sizes || !(sizes->sd > 0) || !(sizes->mean > 0)) return;
    const auto place = [&](const char* name) {
        const auto& all = bare->parameters();
        return first + static_cast<std::size_t>(std::ranges::find(all, name, &models::ParameterInfo::name) -
                                                all.begin());
    };
    const Spread spread = spreadOf(detail, member, place("radius"), place("sd"));
    const std::string unit = models::unitText("1/x", xUnit, "");
    for (const bool ofVolumes : {true, false}) {
        NamedCurve curve = common;
        curve.role = "distribution";
        curve.component = number;
        curve.label = fmt::format("by {}{}", ofVolumes ? "volume" : "number",
                                  number > 0 ? fmt::format(", part {}", number) : "");
        const double low = std::max(0.0, sizes->mean - 4.5 * sizes->sd), high = sizes->mean + 6 * sizes->sd;
        curve.founded = Span(low, high);
        curve.xMeaning = {"radius", unit};
        curve.yMeaning = {ofVolumes ? "volume per radius" : "numbers per radius",
                          unit.empty() ? "" : "1/" + unit};
        curve.sample = [s = *sizes, spread, ofVolumes](const std::vector<double>& radii) {
            return densityAt(s, spread, ofVolumes, radii);
        };
        out.curves.push_back(std::move(curve));
    }
}

} // namespace

void addSizes(const FitDetail& detail, const Task&, std::size_t member, const NamedCurve& common,
              AnalysisResult& out) {
    const models::Model& model = *detail.taken->problem.members[member].model;
    const std::string& xUnit = detail.taken->xUnit(member);
    if (model.components().empty()) return addPopulation(detail, member, model, 0, 0, common, xUnit, out);
    for (const models::Component& c : model.components())
        addPopulation(detail, member, *c.model, c.firstParameter, c.number, common, xUnit, out);
}

} // namespace jointer::analyses
