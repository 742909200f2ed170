// SPDX-License-Identifier: GPL-3.0-or-later
// From the report of a fit to what every place reads: quantities, curves, tables, a sentence.
#include "analyses/fit_telling.h"

#include "analyses/ingredients.h"
#include "analyses/residual_looks.h"
#include "analyses/scattering/fitted_sizes.h"
#include "base/text.h"
#include "numerics/spline.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace jointer::analyses {

namespace {

constexpr std::size_t kMostSlices = 8;

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
        std::vector<NamedCurve> common;
        for (std::size_t m = 0; m < report_.members.size(); ++m) common.push_back(commonOf(m));
        for (std::size_t m = 0; m < report_.members.size(); ++m) addCurves(m, common[m]);
        if (!held_) addResidualLooks(*detail_, common, out_);
        if (!held_) addTellTales(*detail_, task_, out_);
        if (!detail_->profiles.empty()) addProfiles();
        out_.sentence = sentence();
        out_.detail = fmt::format("{}{}; {}; {}, R² {:.4f}", taken_.model().formula(),
                                  taken_.time ? ", x in " + words(*taken_.time) : "", taken_.weightsNote,
                                  counted(static_cast<long long>(report_.n), "point"), report_.r2);
        return std::move(out_);
    }

private:
    bool several() const { return report_.members.size() > 1; }
    const AxisMeaning& x(std::size_t m) const { return taken_.members[m].curve->xMeaning; }
    const AxisMeaning& y(std::size_t m) const { return taken_.members[m].curve->yMeaning; }
    std::string unit(const std::string& pattern, std::size_t m) const {
        return models::unitText(pattern, taken_.xUnit(m), y(m).unit);
    }
    int componentOf(std::size_t parameter) const {
        int number = 0;
        for (const models::Component& c : taken_.model().components())
            if (parameter >= c.firstParameter) number = c.number;
        return number;
    }

    // What parameters and derived numbers have in common.
    Quantity quantityOf(std::size_t m, const auto& found, const std::string& unitPattern) const {
        const DatasetId dataset = taken_.members[m].dataset;
        const bool ofAll = found.shared || !several();
        return {.key = ofAll ? found.name : found.name + " of " + dataset.text(),
                .label = found.name,
                .unit = unit(unitPattern, m),
                .value = found.value,
                .se = found.se,
                .low = found.low,
                .high = found.high,
                .member = found.shared ? DatasetId{} : dataset};
    }

    void addQuantities(std::size_t m) {
        const fit::MemberReport& member = report_.members[m];
        const bool known = !held_ && !report_.provisional;
        for (std::size_t k = 0; k < member.parameters.size(); ++k) {
            const fit::ParameterResult& p = member.parameters[k];
            if (p.shared && !told_.insert(p.name).second) continue;
            const models::ParameterInfo& info = taken_.model().parameters()[k];
            Quantity q = quantityOf(m, p, info.unit);
            q.meaning = info.meaning;
            q.state = stateOf(p);
            q.good = !p.atLimit && p.determined;
            q.component = componentOf(k);
            out_.quantities.push_back(std::move(q));
            const auto row = static_cast<Eigen::Index>(k);
            addError(m,
                     member.root.size() > 0 ? Eigen::RowVectorXd(member.root.row(row)) : Eigen::RowVectorXd(),
                     std::isfinite(p.se));
        }
        if (!known) return;
        for (const fit::DerivedResult& d : member.derived) {
            if (d.shared && !told_.insert(d.name).second) continue;
            Quantity q = quantityOf(m, d, d.unit);
            q.state = "derived";
            out_.quantities.push_back(std::move(q));
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

    NamedCurve commonOf(std::size_t m) const {
        const MemberPoints& points = taken_.members[m];
        return {.label = nameOf(task_.spec),
                .member = points.dataset,
                .founded = foundation(points),
                .xMeaning = x(m),
                .yMeaning = y(m)};
    }

    void addCurves(std::size_t m, const NamedCurve& common) {
        NamedCurve fitted = common;
        fitted.role = "fit";
        if (taken_.problem.members[m].model->predictorCount() == 1)
            fitted.sample = sampledWith(m, {});
        else // there is no curve over several predictors: the fitted values of the points
            fitted.points = pointsOf(taken_, m, report_.members[m].fitted), fitted.surface = surfaceOf(m);
        out_.curves.push_back(std::move(fitted));
        addApart(m, common);
        addComponents(m, common);
        addFurtherPredictors(m, common);
        addLessened(m, common);
        addGhosts(detail_, task_, m, common, out_);
        addSizes(*detail_, task_, m, common, out_);
        NamedCurve residuals = common;
        residuals.role = "residuals";
        residuals.points = pointsOf(taken_, m, report_.members[m].residuals);
        residuals.yMeaning = {"residual", y(m).unit};
        out_.curves.push_back(std::move(residuals));
    }

    // Over two predictors; none over more.
    std::shared_ptr<const Surface> surfaceOf(std::size_t m) const {
        const auto& predictors = taken_.problem.members[m].predictors;
        if (predictors.size() != 2 || predictors[0].empty()) return nullptr;
        auto surface = std::make_shared<Surface>();
        const auto range = [](const std::vector<double>& values) {
            const auto [low, high] = std::ranges::minmax(values);
            return std::pair(low, high);
        };
        surface->x = range(predictors[0]);
        surface->y = range(predictors[1]);
        const auto& meanings = taken_.members[m].curve->moreMeanings;
        surface->yMeaning = meanings.empty() ? AxisMeaning{.name = "x2"} : meanings[0];
        surface->sample = [detail = detail_, m](const std::vector<double>& x, const std::vector<double>& y) {
            const std::array<std::span<const double>, 2> columns{x, y};
            const fit::Prediction p = fit::predict(detail->taken->problem, detail->report, columns, m);
            return Sampled{p.y, p.confidence, p.prediction};
        };
        return surface;
    }

    // What the member would be for itself, beside a fit that shares parameters.
    void addApart(std::size_t m, const NamedCurve& common) {
        if (report_.members[m].apart.empty() || taken_.problem.members[m].model->predictorCount() != 1) return;
        NamedCurve apart = common;
        apart.role = "apart";
        apart.label = "for itself";
        apart.sample = [detail = detail_, m](const std::vector<double>& xs) {
            const std::span<const double> column(xs);
            Sampled out{.y = std::vector<double>(xs.size())};
            detail->taken->problem.members[m].model->evaluate({&column, 1}, detail->report.members[m].apart, out.y);
            return out;
        };
        out_.curves.push_back(std::move(apart));
    }

    // A curve over one predictor with its bands, the others kept where they are told.
    std::function<Sampled(const std::vector<double>&)> sampledWith(std::size_t m,
                                                                   std::vector<double> others) const {
        return [detail = detail_, m, others = std::move(others)](const std::vector<double>& xs) {
            std::vector<std::vector<double>> columns = {xs};
            for (double other : others) columns.emplace_back(xs.size(), other);
            const std::vector<std::span<const double>> spans(columns.begin(), columns.end());
            const fit::Prediction p = fit::predict(detail->taken->problem, detail->report, spans, m);
            return Sampled{p.y, p.confidence, p.prediction};
        };
    }

    // Over several predictors: the curve over the first where the others are held, and the residuals over
    // each of the others.
    void addFurtherPredictors(std::size_t m, const NamedCurve& common) {
        const fit::FitMember& member = taken_.problem.members[m];
        for (std::size_t k = 1; k < member.predictors.size(); ++k) {
            NamedCurve residuals = common;
            residuals.role = "residuals-over";
            residuals.label = fmt::format("x{}", k + 1);
            auto points = pointsOf(taken_, m, report_.members[m].residuals);
            points->x = member.predictors[k];
            points->xMeaning = {residuals.label, ""};
            sortByX(*points);
            residuals.points = points;
            residuals.xMeaning = points->xMeaning;
            residuals.yMeaning = {"residual", y(m).unit};
            residuals.founded = {};
            out_.curves.push_back(std::move(residuals));
        }
        if (member.predictors.size() < 2) return;
        for (const std::vector<double>& others : slicesOf(member)) {
            NamedCurve slice = common;
            slice.role = "slice";
            std::vector<std::string> parts;
            for (std::size_t k = 0; k < others.size(); ++k)
                parts.push_back(fmt::format("x{} = {}", k + 2, readableNumber(others[k], 4)));
            slice.label = joined(parts, ", ");
            slice.sample = sampledWith(m, others);
            out_.curves.push_back(std::move(slice));
        }
    }

    // Where the predictors beyond the first are held: at each of their values where these are few, else at
    // some of the second, the others in their middle.
    static std::vector<std::vector<double>> slicesOf(const fit::FitMember& member) {
        std::set<std::vector<double>> all;
        for (std::size_t i = 0; i < member.y.size() && all.size() <= kMostSlices; ++i) {
            std::vector<double> others;
            for (std::size_t k = 1; k < member.predictors.size(); ++k)
                others.push_back(member.predictors[k][i]);
            all.insert(std::move(others));
        }
        if (all.size() <= kMostSlices) return {all.begin(), all.end()};
        std::vector<double> middle;
        for (std::size_t k = 1; k < member.predictors.size(); ++k)
            middle.push_back(quantile(member.predictors[k], 0.5));
        std::vector<std::vector<double>> out;
        for (const double share : {0.1, 0.3, 0.5, 0.7, 0.9}) {
            middle[0] = quantile(member.predictors[1], share);
            out.push_back(middle);
        }
        return out;
    }
    static double quantile(std::vector<double> values, double share) {
        const auto at =
            values.begin() + static_cast<std::ptrdiff_t>(share * static_cast<double>(values.size() - 1));
        std::ranges::nth_element(values, at);
        return *at;
    }

    // Points that a robust loss counts for less than a half, and for less than a tenth.
    void addLessened(std::size_t m, const NamedCurve& common) {
        const fit::MemberReport& member = report_.members[m];
        if (member.counts.empty()) return;
        const fit::FitMember& points = taken_.problem.members[m];
        for (const auto& [role, low, high] :
             {std::tuple("lessened", 0.1, 0.5), std::tuple("disregarded", -1.0, 0.1)}) {
            auto found = std::make_shared<Curve>();
            for (std::size_t i = 0; i < member.counts.size(); ++i)
                if (member.counts[i] >= low && member.counts[i] < high) {
                    found->x.push_back(points.predictors[0][i]);
                    found->y.push_back(points.y[i]);
                }
            NamedCurve curve = common;
            curve.role = role;
            curve.label = low < 0 ? "counts hardly" : "counts less than half";
            found->xMeaning = x(m);
            found->yMeaning = y(m);
            curve.points = std::move(found);
            out_.curves.push_back(std::move(curve));
        }
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
        for (const fit::ProfileCurve& c : detail_->profiles) addProfileCurve(c);
    }

    // How much the residual sum rises, in units of the variance, as one quantity is moved; and the height at
    // which its interval ends.
    void addProfileCurve(const fit::ProfileCurve& c) {
        if (c.values.size() < 2) return;
        const double variance = report_.absolute ? 1 : report_.residualSd * report_.residualSd;
        std::vector<double> rises;
        for (double rss : c.rss) rises.push_back((rss - report_.rss) / variance);
        NamedCurve curve{.role = "profile",
                         .label = c.name,
                         .member = taken_.members[c.member].dataset,
                         .founded = Span(c.values.front(), c.values.back()),
                         .xMeaning = {c.name, unitOfQuantity(c)},
                         .yMeaning = {"rise of the residual sum", "s²"}};
        curve.sample = [spline =
                            numerics::ShapePreservingSpline(c.values, rises)](const std::vector<double>& xs) {
            Sampled out;
            for (double x : xs) out.y.push_back(spline(x));
            return out;
        };
        out_.curves.push_back(curve);
        const double t = fit::tQuantile(report_);
        curve.role = "profile-level";
        curve.sample = [height = t * t](const std::vector<double>& xs) {
            return Sampled{.y = std::vector<double>(xs.size(), height)};
        };
        out_.curves.push_back(std::move(curve));
    }
    std::string unitOfQuantity(const fit::ProfileCurve& c) const {
        const DatasetId member = taken_.members[c.member].dataset;
        for (const Quantity& q : out_.quantities)
            if (q.label == c.name && (!q.member || q.member == member)) return q.unit;
        return {};
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
        const bool one = span.pieces.size() == 1 && !span.outside;
        if (!several() && one && (std::isfinite(span.low()) || std::isfinite(span.high())))
            where = fmt::format(", {} … {}", readableNumber(span.low()), readableNumber(span.high()));
        else if (!several() && !one && !span.isAll())
            where = ", " + spanText(span);
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

} // namespace

AnalysisResult toldOf(std::shared_ptr<const FitDetail> detail, const Task& task, bool held) {
    return Teller(std::move(detail), task, held).tell();
}

} // namespace jointer::analyses
