// SPDX-License-Identifier: GPL-3.0-or-later
// Relative potency of preparations by parallel curves: one curve, moved along the doses. Source: D. J.
// Finney, Statistical Method in Biological Assay (1978), ch. 4; parallelism by the extra sum of squares.
#include "analyses/answers.h"
#include "analyses/fit_analysis.h"
#include "base/text.h"
#include "data/column_names.h"
#include "describe/setting_makers.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

using namespace describe;

constexpr std::size_t kMostFits = 6;

const KindInfo& info() {
    static const KindInfo kind{
        .key = "potency",
        .name = "Relative potency",
        .purpose =
            "How many times more of a reference has the same effect, by parallel curves, with the test "
            "whether they are parallel",
        .group = "Analyses",
        .settings = {choice("doses", "x is",
                            {{"dose", "the dose"}, {"ln", "ln of the dose"}, {"log10", "log10 of the dose"}},
                            "A straight line needs a logarithm of the dose."),
                     word("parameter", "Place",
                          "The parameter that tells where the curve stands on x; empty: the first "
                          "that has its unit.",
                          {.whenEmpty = "automatic"})}};
    return kind;
}

// The place of each curve on x, as it hangs on its parameters.
struct Place {
    std::string moves;    // the parameter that each has for itself
    bool byLevel = false; // of a line: x = −intercept/slope moves with the intercept
    std::string slope{};
};

Result<Place> placeOf(const models::Model& model, const std::string& wanted) {
    std::vector<std::string> names;
    for (const models::ParameterInfo& p : model.parameters()) {
        names.push_back(p.name);
        if (wanted.empty() ? p.unit == "x" : p.name == wanted) return Place{p.name};
    }
    const auto has = [&](const char* name) { return std::ranges::find(names, name) != names.end(); };
    if (wanted.empty() && has("intercept") && has("slope")) return Place{"intercept", true, "slope"};
    return failure("no-place", "No parameter of this curve tells where it stands on x: there are " +
                                   joined(names, ", ") + ".");
}

// ln of the ratio reference : preparation, with its standard error.
struct Ratio {
    double ln = NAN, error = NAN;
};

class Potency {
public:
    Potency(const fit::FitReport& report, const Place& place, double base)
        : r_(report), place_(place), base_(base) {}

    Ratio of(std::size_t member) const {
        Eigen::VectorXd first = Eigen::VectorXd::Zero(size(0)), other = Eigen::VectorXd::Zero(size(member));
        Ratio out;
        const double a = at(0, place_.moves), b = at(member, place_.moves);
        if (place_.byLevel) { // (b − a)/slope along a logarithm
            const double slope = at(0, place_.slope);
            out.ln = base_ * (b - a) / slope;
            first[index(0, place_.moves)] = -base_ / slope;
            first[index(0, place_.slope)] = -out.ln / slope;
            other[index(member, place_.moves)] = base_ / slope;
        } else if (base_ > 0) {
            out.ln = base_ * (a - b);
            first[index(0, place_.moves)] = base_;
            other[index(member, place_.moves)] = -base_;
        } else {
            out.ln = std::log(a / b);
            first[index(0, place_.moves)] = 1 / a;
            other[index(member, place_.moves)] = -1 / b;
        }
        // Own directions are independent, those in common add up.
        const Eigen::RowVectorXd p = first.transpose() * r_.members[0].root,
                                 q = other.transpose() * r_.members[member].root;
        const Eigen::Index po = r_.members[0].own, qo = r_.members[member].own;
        const double common = (p.tail(p.size() - po) + q.tail(q.size() - qo)).squaredNorm();
        out.error = std::sqrt(p.head(po).squaredNorm() + q.head(qo).squaredNorm() + common);
        return out;
    }

private:
    Eigen::Index size(std::size_t m) const {
        return static_cast<Eigen::Index>(r_.members[m].parameters.size());
    }
    Eigen::Index index(std::size_t m, const std::string& name) const {
        return std::ranges::find(r_.members[m].parameters, name, &fit::ParameterResult::name) -
               r_.members[m].parameters.begin();
    }
    double at(std::size_t m, const std::string& name) const {
        return r_.members[m].parameters[static_cast<std::size_t>(index(m, name))].value;
    }

    const fit::FitReport& r_;
    const Place& place_;
    double base_; // ln of the base of the axis; 0: x is the dose itself
};

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    std::vector<const FitDetail*> fits;
    for (const ResultPtr& a : task.analyses)
        if (const FitDetail* f = a ? fitDetail(*a) : nullptr) fits.push_back(f);
    auto problem = fits.empty() ? std::nullopt : joinedProblem(fits);
    if (!problem || problem->members.size() < 2)
        return failure(
            "no-pairs",
            "Potency compares two datasets at least: fit the reference and each preparation with the "
            "same curve, and choose these fits.");
    const models::Model& model = *problem->members.front().model;
    for (const fit::FitMember& m : problem->members)
        if (m.model->formula() != model.formula())
            return failure("models-differ",
                           "These fits are of different curves: choose the same one for all.");
    const auto place = placeOf(model, info().text(task.spec.settings, "parameter"));
    if (!place) return std::unexpected(place.error());
    const std::string doses = info().text(task.spec.settings, "doses");
    const double base = doses == "log10" ? std::log(10.0) : doses == "ln" ? 1 : 0;
    if (place->byLevel && base == 0)
        return failure(
            "needs-logarithm",
            "A straight line tells potency over a logarithm of the dose: transform x, and say which "
            "logarithm it is.");
    problem->parameters.clear();
    problem->schedule.clear();
    for (fit::FitMember& m : problem->members) m.parameters.clear();
    for (const models::ParameterInfo& p : model.parameters())
        if (p.name != place->moves) problem->parameters.push_back({.name = p.name, .shared = true});
    const auto report = fit::fit(*problem, {}, task.stop);
    if (!report) return std::unexpected(report.error());

    AnalysisResult out{.state = std::string(fit::stateText(report->state)),
                       .good = report->state == fit::FitState::Converged};
    std::vector<std::string> names;
    for (const FitDetail* f : fits)
        for (const MemberPoints& m : f->taken->members) names.push_back(m.name);
    const std::size_t alike = sharedBeginning(names).size();
    for (std::string& n : names) n.erase(0, alike);
    const Potency potency(*report, *place, base);
    const double t = fit::tQuantile(*report);
    std::vector<std::string> told;
    for (std::size_t m = 1; m < report->members.size(); ++m) {
        const Ratio r = potency.of(m);
        Quantity q{.key = "potency of " + names[m],
                   .label = "relative potency",
                   .meaning = "dose of the reference " + names[0] + " over that of the same effect",
                   .value = std::exp(r.ln),
                   .se = std::exp(r.ln) * r.error,
                   .low = std::exp(r.ln - t * r.error),
                   .high = std::exp(r.ln + t * r.error),
                   .state = "summary",
                   .good = out.good,
                   .subject = names[m]};
        told.push_back(fmt::format("{} is {} times as potent as {} ({} … {})", names[m],
                                   readableNumber(q.value, 3), names[0], readableNumber(q.low, 3),
                                   readableNumber(q.high, 3)));
        out.quantities.push_back(std::move(q));
    }
    out.sentence = joined(told, "; ") + ".";
    out.detail = "parallel curves: " + model.formula() + ", each moved along x";
    if (const auto& c = report->comparison) {
        out.quantities.push_back({.key = "parallel",
                                  .label = "p of parallel",
                                  .meaning = "of parallel curves, against each for itself",
                                  .value = c->p,
                                  .state = "summary",
                                  .digits = 2});
        if (c->p < 0.05) {
            out.good = false;
            out.issues.push_back(
                {"not-parallel",
                 fmt::format("The curves are not parallel (p = {}): there is no single potency.",
                             readableNumber(c->p, 2)),
                 {}});
        }
    }
    return out;
}

} // namespace

AnalysisKind potencyAnalysis() {
    return {.info = info(),
            .slots = slotsOfFits({.most = kMostFits, .fewest = 1, .elsewhere = true}),
            .compute = compute};
}

} // namespace jointer::analyses
