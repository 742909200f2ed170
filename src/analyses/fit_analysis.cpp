// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/fit_analysis.h"

#include "analyses/fit_taking.h"
#include "base/text.h"
#include "fit/bootstrap.h"
#include "fit/profile.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace jointer::analyses {

namespace {

constexpr std::size_t kQuickPoints = 1000; // of a provisional fit

fit::FitOptions optionsOf(const Analysis& analysis) {
    return {.level = fitSettings().number(analysis.settings, "level"),
            .maxIterations = fitSettings().integer(analysis.settings, "iterations")};
}

bool isHeld(const Analysis& analysis) {
    return analysis.settings.flag("hold");
}

// Every so many observations, at most about `most`.
fit::FitMember thinned(const fit::FitMember& all, std::size_t most) {
    const std::size_t stride = std::max<std::size_t>(1, all.y.size() / most);
    auto some = [&](const std::vector<double>& list) {
        std::vector<double> out;
        for (std::size_t i = 0; i < list.size(); i += stride) out.push_back(list[i]);
        return out;
    };
    fit::FitMember few = all;
    for (auto& column : few.predictors) column = some(column);
    few.y = some(all.y);
    few.sigma = some(all.sigma);
    few.sigmaX = some(all.sigmaX);
    return few;
}

// The free parameters of each member begin where they last stood.
void startAt(const std::vector<double>& values, fit::FitProblem& problem) {
    const auto& infos = problem.members[0].model->parameters();
    if (values.size() != infos.size() * problem.members.size()) return;
    for (std::size_t m = 0; m < problem.members.size(); ++m)
        for (std::size_t k = 0; k < infos.size(); ++k) {
            auto named = [&](std::vector<fit::ParameterSpec>& list) {
                return std::ranges::find(list, infos[k].name, &fit::ParameterSpec::name);
            };
            auto& own = problem.members[m].parameters;
            auto at = named(own);
            if (at == own.end()) {
                const auto told = named(problem.parameters);
                at = own.insert(own.end(), told == problem.parameters.end()
                                               ? fit::ParameterSpec{.name = infos[k].name}
                                               : *told);
            }
            if (at->treatment == fit::Treatment::Free)
                at->start = std::clamp(values[m * infos.size() + k], at->lower, at->upper);
        }
}

// A picture while dragging: a few iterations on thinned points from where the last fit stood.
Result<fit::FitReport> quickly(const fit::FitProblem& problem, fit::FitOptions options,
                               const std::vector<double>& lastValues, const Cancellation& stop) {
    fit::FitProblem few = problem;
    const std::size_t each = std::max<std::size_t>(20, kQuickPoints / problem.members.size());
    for (fit::FitMember& member : few.members) member = thinned(member, each);
    startAt(lastValues, few);
    options.provisional = true;
    auto report = fit::fit(few, options, stop);
    if (!report) return report;
    for (std::size_t m = 0; m < problem.members.size(); ++m) {
        const fit::FitMember& member = problem.members[m];
        fit::MemberReport& of = report->members[m];
        const std::vector<std::span<const double>> xs(member.predictors.begin(), member.predictors.end());
        of.fitted = fit::curve(*member.model, of, xs);
        of.residuals.resize(member.y.size());
        for (std::size_t i = 0; i < member.y.size(); ++i) of.residuals[i] = member.y[i] - of.fitted[i];
    }
    return report;
}

// The values at which it begins, or after `iterations` from there.
Result<fit::FitReport> begun(const fit::FitProblem& problem, fit::FitOptions options, int iterations,
                             const Cancellation& stop) {
    options.maxIterations = iterations;
    options.provisional = true;
    return fit::fit(problem, options, stop);
}

// Intervals by profile or bootstrap, where asked for.
void addIntervals(const Task& task, const FitTaken& taken, FitDetail& detail) {
    const std::string interval = fitSettings().text(task.spec.settings, "interval");
    std::vector<Issue> said;
    if (interval == "profile") {
        fit::Profiled profiled = fit::profile(taken.problem, detail.report, true, task.stop);
        detail.profiles = std::move(profiled.curves);
        said = std::move(profiled.warnings);
    } else if (interval == "bootstrap") {
        const std::string how = fitSettings().text(task.spec.settings, "resampling");
        const fit::BootstrapOptions options{
            .resampling = how == "cases"        ? fit::Resampling::Cases
                          : how == "parametric" ? fit::Resampling::Parametric
                                                : fit::Resampling::Residuals,
            .count = fitSettings().integer(task.spec.settings, "repetitions"),
            .seed = static_cast<std::uint64_t>(fitSettings().integer(task.spec.settings, "seed"))};
        said = fit::bootstrap(taken.problem, detail.report, options, task.stop);
    }
    std::ranges::move(said, std::back_inserter(detail.report.warnings));
}

std::string stateOf(const fit::ParameterResult& p) {
    if (p.atLimit) return "on limit";
    if (!p.determined) return "undetermined";
    if (p.shared) return "shared";
    return std::string(fit::treatmentKey(p.treatment));
}

// Turns a report into what every place reads.
class Teller {
public:
    Teller(std::shared_ptr<const FitDetail> detail, const Task& task, bool held)
        : detail_(std::move(detail)), taken_(*detail_->taken), report_(detail_->report), task_(task),
          held_(held) {}

    AnalysisResult tell() {
        out_.state = std::string(fit::stateText(report_.state));
        out_.good = report_.state == fit::FitState::Converged;
        out_.whole = report_.state != fit::FitState::Stopped && !report_.provisional;
        out_.issues = report_.warnings;
        out_.kept = detail_;
        for (std::size_t m = 0; m < report_.members.size(); ++m) addQuantities(m);
        addQuality();
        for (std::size_t m = 0; m < report_.members.size(); ++m) addCurves(m);
        if (!detail_->profiles.empty()) addProfiles();
        out_.sentence = sentence();
        out_.detail = fmt::format("{}; {}; {}, R² {:.4f}", taken_.model().formula(), taken_.weightsNote,
                                  counted(static_cast<long long>(report_.n), "point"), report_.r2);
        return std::move(out_);
    }

private:
    bool several() const { return report_.members.size() > 1; }
    const AxisMeaning& x(std::size_t m) const { return taken_.members[m].curve->xMeaning; }
    const AxisMeaning& y(std::size_t m) const { return taken_.members[m].curve->yMeaning; }
    std::string unit(const std::string& pattern, std::size_t m) const {
        return models::unitText(pattern, x(m).unit, y(m).unit);
    }
    int componentOf(std::size_t parameter) const {
        int number = 0;
        for (const models::Component& c : taken_.model().components())
            if (parameter >= c.firstParameter) number = c.number;
        return number;
    }

    void addQuantities(std::size_t m) {
        const fit::MemberReport& member = report_.members[m];
        const DatasetId dataset = taken_.members[m].dataset;
        const std::string of = several() ? " of " + dataset.text() : "";
        const bool known = !held_ && !report_.provisional;
        for (std::size_t k = 0; k < member.parameters.size(); ++k) {
            const fit::ParameterResult& p = member.parameters[k];
            if (p.shared && !told_.insert(p.name).second) continue;
            const models::ParameterInfo& info = taken_.model().parameters()[k];
            out_.quantities.push_back({.key = p.shared ? p.name : p.name + of,
                                       .label = p.name,
                                       .meaning = info.meaning,
                                       .unit = unit(info.unit, m),
                                       .value = p.value,
                                       .se = p.se,
                                       .low = p.low,
                                       .high = p.high,
                                       .state = stateOf(p),
                                       .good = !p.atLimit && p.determined,
                                       .member = p.shared ? DatasetId{} : dataset,
                                       .component = componentOf(k)});
            const auto row = static_cast<Eigen::Index>(k);
            addError(m,
                     member.root.size() > 0 ? Eigen::RowVectorXd(member.root.row(row)) : Eigen::RowVectorXd(),
                     std::isfinite(p.se));
        }
        if (!known) return;
        for (const fit::DerivedResult& d : member.derived) {
            if (d.shared && !told_.insert(d.name).second) continue;
            out_.quantities.push_back({.key = d.shared ? d.name : d.name + of,
                                       .label = d.name,
                                       .unit = unit(d.unit, m),
                                       .value = d.value,
                                       .se = d.se,
                                       .low = d.low,
                                       .high = d.high,
                                       .state = "derived",
                                       .member = d.shared ? DatasetId{} : dataset});
            const Eigen::Map<const Eigen::RowVectorXd> gradient(d.gradient.data(), std::ssize(d.gradient));
            addError(
                m, member.root.size() > 0 ? Eigen::RowVectorXd(gradient * member.root) : Eigen::RowVectorXd(),
                std::isfinite(d.se));
        }
    }

    void addError(std::size_t m, const Eigen::RowVectorXd& row, bool known) {
        const Eigen::Index own = std::min(report_.members[m].own, row.size());
        out_.covariance.add({static_cast<int>(m), row.head(own), row.tail(row.size() - own), known});
    }

    void addQuality() {
        auto add = [&](const char* key, const char* label, double value) {
            out_.quality.push_back({.key = key, .label = label, .value = value, .state = "quality"});
        };
        add("n", "n", static_cast<double>(report_.n));
        add("dof", "dof", static_cast<double>(report_.dof));
        add("r2", "R²", report_.r2);
        add("adjusted_r2", "adjusted R²", report_.adjustedR2);
        add("rss", "residual sum", report_.rss);
        add("residual_sd", "residual SD", report_.residualSd);
        if (report_.reducedChi2) add("reduced_chi2", "χ²/dof", *report_.reducedChi2);
        add("aicc", "AICc", report_.aicc);
        add("bic", "BIC", report_.bic);
    }

    void addCurves(std::size_t m) {
        const MemberPoints& points = taken_.members[m];
        const NamedCurve common{.label = nameOf(task_.spec),
                                .member = points.dataset,
                                .founded = foundation(points),
                                .xMeaning = x(m),
                                .yMeaning = y(m)};
        NamedCurve fitted = common;
        fitted.role = "fit";
        if (taken_.problem.members[m].model->predictorCount() == 1)
            fitted.sample = [detail = detail_, m](const std::vector<double>& xs) {
                const std::span<const double> column(xs);
                const fit::Prediction p =
                    fit::predict(detail->taken->problem, detail->report, {&column, 1}, m);
                return Sampled{p.y, p.confidence, p.prediction};
            };
        else // there is no curve over several predictors: the fitted values of the points
            fitted.points = pointsOf(m, report_.members[m].fitted);
        out_.curves.push_back(std::move(fitted));
        addComponents(m, common);
        NamedCurve residuals = common;
        residuals.role = "residuals";
        residuals.points = pointsOf(m, report_.members[m].residuals);
        residuals.yMeaning = {"residual", y(m).unit};
        out_.curves.push_back(std::move(residuals));
    }

    void addComponents(std::size_t m, const NamedCurve& common) {
        for (const models::Component& c : taken_.problem.members[m].model->components()) {
            if (c.model->predictorCount() != 1) continue;
            NamedCurve curve = common;
            curve.role = "component";
            curve.label = fmt::format("{} {}", c.number, c.name);
            curve.component = c.number;
            curve.sample = [detail = detail_, m, c](const std::vector<double>& xs) {
                const std::vector<double> all = detail->report.members[m].values();
                const std::span<const double> column(xs);
                Sampled out{.y = std::vector<double>(xs.size())};
                c.model->evaluate({&column, 1},
                                  std::span(all).subspan(c.firstParameter, c.model->parameters().size()),
                                  out.y);
                return out;
            };
            out_.curves.push_back(std::move(curve));
        }
    }

    static Span foundation(const MemberPoints& points) {
        double low = INFINITY, high = -INFINITY;
        for (std::size_t i = 0; i < points.used.size(); ++i) {
            if (!points.used[i]) continue;
            low = std::min(low, points.curve->x[i]);
            high = std::max(high, points.curve->x[i]);
        }
        return low <= high ? Span(low, high) : Span();
    }

    // One value for each observation, at its x.
    std::shared_ptr<const Curve> pointsOf(std::size_t m, const std::vector<double>& values) const {
        auto curve = std::make_shared<Curve>();
        curve->x = taken_.problem.members[m].predictors[0];
        curve->y = values;
        curve->xMeaning = x(m);
        curve->yMeaning = y(m);
        return curve;
    }

    void addProfiles() {
        Table table{.name = "Profiles"};
        std::vector<std::string> names;
        std::vector<double> values, sums;
        for (const fit::ProfileCurve& c : detail_->profiles)
            for (std::size_t i = 0; i < c.values.size(); ++i) {
                names.push_back(several() ? c.name + " of " + report_.members[c.member].name : c.name);
                values.push_back(c.values[i]);
                sums.push_back(c.rss[i]);
            }
        table.columns = {textColumn("quantity", std::move(names)),
                         numberColumn("value", "", std::move(values)),
                         numberColumn("residual sum", "", std::move(sums))};
        out_.tables.push_back({"profiles", "Profiles", std::move(table)});
    }

    // An equation goes by the name that the user gave the fit.
    std::string whatWasFitted() const {
        const std::string& name = task_.spec.name;
        if (task_.spec.model.kind != "equation") return modelName(task_.spec.model);
        return name.empty() || name == "Equation" ? "an equation" : "“" + name + "”";
    }

    std::string sentence() const {
        const Span& span = task_.inputs.front().spec.span;
        std::string where;
        if (!several() && !span.isAll() && (std::isfinite(span.low()) || std::isfinite(span.high())))
            where = fmt::format(", {} … {}", readableNumber(span.low()), readableNumber(span.high()));
        else if (several())
            where = " to " + counted(std::ssize(report_.members), "dataset");
        return fmt::format("Fitted {}{}.", whatWasFitted(), where);
    }

    std::shared_ptr<const FitDetail> detail_;
    const FitTaken& taken_;
    const fit::FitReport& report_;
    const Task& task_;
    bool held_;
    std::set<std::string> told_;
    AnalysisResult out_;
};

AnalysisResult told(const Task& task, std::shared_ptr<FitDetail> detail) {
    return Teller(std::move(detail), task, isHeld(task.spec)).tell();
}

std::shared_ptr<const FitTaken> takenOf(const Taken& taken) {
    return std::static_pointer_cast<const FitTaken>(taken.value);
}

Result<AnalysisResult> compute(const Task& task, const Taken& given) {
    const auto taken = takenOf(given);
    const fit::FitOptions options = optionsOf(task.spec);
    const fit::FitProblem& problem = taken->problem;
    auto report = isHeld(task.spec)                     ? begun(problem, options, 0, task.stop)
                  : task.effort == Effort::OneIteration ? begun(problem, options, 1, task.stop)
                  : task.effort == Effort::Provisional ? quickly(problem, options, task.lastValues, task.stop)
                                                       : fit::fit(problem, options, task.stop);
    if (!report) return std::unexpected(report.error());
    auto detail = std::make_shared<FitDetail>();
    detail->taken = taken;
    detail->report = std::move(*report);
    if (task.effort == Effort::Full && !isHeld(task.spec)) addIntervals(task, *taken, *detail);
    auto result = told(task, std::move(detail));
    if (isHeld(task.spec)) result.whole = true; // it is what was asked for
    return result;
}

std::string text(const AnalysisResult& result) {
    const FitDetail* detail = fitDetail(result);
    // Curves of profiles are not kept: such a fit is computed again.
    return detail && detail->profiles.empty() ? reportText(detail->report) : std::string();
}

Result<AnalysisResult> fromText(const std::string& stored, const Task& task, const Taken& given) {
    const auto taken = takenOf(given);
    auto report = reportFromText(stored, taken->problem);
    if (!report) return std::unexpected(report.error());
    auto detail = std::make_shared<FitDetail>();
    detail->taken = taken;
    detail->report = std::move(*report);
    return told(task, std::move(detail));
}

std::vector<double> values(const AnalysisResult& result) {
    std::vector<double> all;
    if (const FitDetail* detail = fitDetail(result))
        for (const fit::MemberReport& member : detail->report.members)
            for (double v : member.values()) all.push_back(v);
    return all;
}

} // namespace

const FitDetail* fitDetail(const AnalysisResult& result) {
    return dynamic_cast<const FitDetail*>(result.kept.get());
}

AnalysisKind fitAnalysis() {
    return {.info = fitSettings(),
            .slots = {{.key = "datasets", .label = "Datasets", .of = "dataset", .most = 100000}},
            .take = takeFit,
            .compute = compute,
            .text = text,
            .fromText = fromText,
            .values = values,
            .name = [](const Analysis& spec) { return modelName(spec.model); }};
}

} // namespace jointer::analyses
